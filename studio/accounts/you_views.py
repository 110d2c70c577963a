"""What is a person's own: their sign-ins, their PIN, and the ways to their password, mail and second factor."""

from allauth.account.models import EmailAddress
from allauth.mfa.utils import is_mfa_enabled
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.accounts.backends import shows_password
from studio.accounts.services.language import read_in
from studio.accounts.services.pin import LEAST, MOST, set_pin
from studio.accounts.services.sign_ins import end_others, end_sign_in, sign_ins_of
from studio.ui.http import signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
@never_cache
def you(request: HttpRequest) -> HttpResponse:
    """The page."""
    return _show(request)


@require_POST
def act(request: HttpRequest) -> HttpResponse:
    """Set or drop a PIN, read in another language, end sign-ins, or go to work in another studio."""
    person, form = signed_in(request), request.POST
    way = form.get("way", "")
    try:
        if way == "end":
            end_sign_in(person, mark=form.get("of", ""), now=timezone.now())
        elif way == "end_others":
            count = end_others(person, kept=request.session.session_key or "")
            messages.success(request, say("Ended: {count_told}.", count_told=count))
        elif way == "place":
            place = person.everywhere().get(pk=whole_number(form.get("of", ""), "of"), is_active=True)
            login(request, place, backend=settings.AUTHENTICATION_BACKENDS[-1])
            return redirect("chairs:chairs")
        elif way == "language":
            read_in(person, language=form.get("language", ""))
        elif way in ("pin", "no_pin"):
            _check_password(request)
            set_pin(person, pin=form.get("pin", "") if way == "pin" else "")
            messages.success(request, say("Your PIN is kept.") if way == "pin" else say("You have no PIN now."))
        else:
            raise Refusal("way_unknown")
    except Refusal as refusal:
        return _show(request, refusal)
    return redirect("you")


def _check_password(request: HttpRequest) -> None:
    """Asked at the door, which counts wrong ones. Raises Refusal not_your_password."""
    if not shows_password(request, signed_in(request), request.POST.get("password", "")):
        raise Refusal("not_your_password", "password")


def _show(request: HttpRequest, refusal: Refusal | None = None) -> HttpResponse:
    person = signed_in(request)
    told = {
        "sign_ins": sign_ins_of(person, timezone.now()),
        "own_key": request.session.session_key,
        "places": person.everywhere().filter(is_active=True).order_by("studio__name"),
        "mail": EmailAddress.objects.filter(user=person.who).order_by("-verified", "-pk").first(),
        "has_second": is_mfa_enabled(person.who),
        "languages": settings.LANGUAGES,
        "least": LEAST,
        "most": MOST,
        "error_words": refusal_words(refusal) if refusal else "",
        "wrong": refusal.field if refusal else "",
    }
    return render(request, "accounts/you.html", told, status=422 if refusal else 200)
