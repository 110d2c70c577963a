"""Chairs: all of today's heads at once."""

from functools import cache
from zoneinfo import available_timezones

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.html import format_html_join
from django.views.decorators.http import require_POST, require_safe

from studio.accounts.services.set_time_zone import set_time_zone
from studio.chairs.selectors import chairs_of, clashes_of
from studio.chairs.wall import hours_of
from studio.ui.http import signed_in, wants_fragment
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
def chairs(request: HttpRequest) -> HttpResponse:
    """Today's heads; the page asks for them again by itself."""
    now = timezone.now()
    found = chairs_of(signed_in(request), timezone.localdate(now), now)
    context = {
        "chairs": found,
        "now_ms": int(now.timestamp() * 1000),
        "today": timezone.localdate(now),
        "hours": hours_of(timezone.localtime(now)),
        "calling": "alarm" if any(each.is_alarm for each in found) else "call",
        "is_calling": any(each.is_calling for each in found),
    }
    if wants_fragment(request):
        return render(request, "chairs/_chairs.html", context)
    return render(request, "chairs/chairs.html", context | {"time_zones": _time_zones()})


@cache
def _time_zones() -> str:
    """Every time zone as an option: six hundred, written once."""
    return format_html_join("", '<option value="{}"></option>', ((name,) for name in sorted(available_timezones())))


@require_safe
def clashes(request: HttpRequest) -> HttpResponse:
    """Where one pair of hands is wanted twice, reckoned when the rest is on the screen."""
    return render(request, "chairs/_clashes.html", {"clashes": clashes_of(signed_in(request), timezone.localdate())})


@require_POST
def time_zone(request: HttpRequest) -> HttpResponse:
    """By which time zone the studio's days and hours are told."""
    try:
        set_time_zone(signed_in(request), time_zone=request.POST.get("time_zone", "").strip())
    except Refusal as refusal:
        messages.error(request, refusal_words(refusal))
    return redirect("chairs:chairs")
