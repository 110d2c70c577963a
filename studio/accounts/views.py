"""The door."""

from typing import Any

import numpy as np
from allauth.account.utils import perform_login
from allauth.mfa.base.views import authenticate as ask_code
from django.conf import settings
from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm
from django.contrib.auth.views import LoginView, PasswordChangeView
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.urls import reverse_lazy
from django.views.decorators.http import require_safe

from engine.colorimetry.lab import lab_from_lch
from engine.language import kept_by_language, say
from studio.accounts.devices import remember
from studio.accounts.forms import NewPassword
from studio.accounts.models import Person
from studio.accounts.services.pin import forget_guesses
from studio.ui.locks import Lock, lock_of_colour

DOOR_COLOURS = ((80, 24, 92), (66, 32, 2), (55, 30, 315))  # depth, strength, hue: bare hair, a pink, a violet


@kept_by_language(maxsize=8)
def door_locks() -> list[tuple[str, Lock]]:
    """The locks drawn beside the sign-in form."""
    labs = [lab_from_lch(np.array(colour, dtype=float)) for colour in DOOR_COLOURS]
    return [(f"door-{index}", lock_of_colour(tuple(lab.tolist()))) for index, lab in enumerate(labs)]


@require_safe
@login_not_required
def pulse(request: HttpRequest) -> HttpResponse:
    """Whether the server answers, and whom: asked by a page whose changes wait. A new sign-in has a new form token."""
    if not request.user.is_authenticated:
        return JsonResponse({"person": None}, status=401)
    return JsonResponse({"person": request.user.pk, "csrf": get_token(request)})


class ChangePassword(PasswordChangeView):
    """A new password; every other session of this person ends with the old one."""

    template_name = "accounts/password.html"
    form_class = NewPassword
    success_url = reverse_lazy("chairs:chairs")

    def get_form_kwargs(self) -> dict[str, Any]:
        """The form asks at the door, which counts."""
        return {**super().get_form_kwargs(), "request": self.request}

    def form_valid(self, form: PasswordChangeForm) -> HttpResponse:
        """Changed, and told."""
        messages.success(self.request, say("Your password is changed, and everywhere else you are signed out."))
        return super().form_valid(form)

    def form_invalid(self, form: PasswordChangeForm) -> HttpResponse:
        """Shown again with what is wrong, as a refusal."""
        return self.render_to_response(self.get_context_data(form=form), status=422)


@login_not_required
def second_factor(request: HttpRequest) -> HttpResponse:
    """A code of an app, or one of those that were kept for the day it is lost; then this machine knows the person."""
    answer: HttpResponse = ask_code(request)
    if isinstance(request.user, Person):
        _come_in(request, answer, request.user)
    return answer


def _come_in(request: HttpRequest, answer: HttpResponse, person: Person) -> None:
    remember(request, answer, person.who)
    forget_guesses(person)


class SignIn(LoginView):
    """Name and password, and a code for those who have a second factor."""

    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        """Signed in, at a machine that knows the person from now on, or led to where the code is asked for."""
        person = form.get_user()
        answer: HttpResponse = perform_login(self.request, person, redirect_url=self.get_success_url())
        if isinstance(self.request.user, Person):
            _come_in(self.request, answer, self.request.user)
        return answer

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """The form, hair to look at, and whether strangers may begin a studio."""
        return super().get_context_data(door_locks=door_locks(), new_studios=settings.NEW_STUDIOS, **kwargs)
