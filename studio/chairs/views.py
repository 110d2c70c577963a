"""Chairs: all of today's heads at once."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_GET

from studio.chairs.selectors import chairs_of, clashes_of
from studio.ui.http import signed_in, wants_fragment


@require_GET
def chairs(request: HttpRequest) -> HttpResponse:
    """Today's heads; the page asks for them again by itself."""
    now = timezone.now()
    found = chairs_of(signed_in(request), timezone.localdate(now), now)
    context = {
        "chairs": found,
        "now_ms": int(now.timestamp() * 1000),
        "today": timezone.localdate(now),
        "calling": "alarm" if any(each.is_alarm for each in found) else "call",
        "is_calling": any(each.is_calling for each in found),
    }
    return render(request, "chairs/_chairs.html" if wants_fragment(request) else "chairs/chairs.html", context)


@require_GET
def clashes(request: HttpRequest) -> HttpResponse:
    """Where one pair of hands is wanted twice, reckoned when the rest is on the screen."""
    return render(request, "chairs/_clashes.html", {"clashes": clashes_of(signed_in(request), timezone.localdate())})
