"""The door."""

from functools import cache
from typing import Any

import numpy as np
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.views import LoginView
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.views.decorators.http import require_safe

from engine.colorimetry.lab import lab_from_lch
from studio.accounts.devices import remember
from studio.accounts.models import Person
from studio.ui.locks import Lock, lock_of_colour

DOOR_COLOURS = ((80, 24, 92), (66, 32, 2), (55, 30, 315))  # depth, strength, hue: bare hair, a pink, a violet


@cache
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


class SignIn(LoginView):
    """Name and password."""

    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        """Signed in, at a machine that knows the person from now on."""
        answer = super().form_valid(form)
        person = form.get_user()
        if isinstance(person, Person):
            remember(self.request, answer, person)
        return answer

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """The form, and hair to look at."""
        return super().get_context_data(door_locks=door_locks(), **kwargs)
