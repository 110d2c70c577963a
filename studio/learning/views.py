"""What we learned, and how last time's colour has lasted."""

from collections.abc import Callable
from dataclasses import replace

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.bowl.fade import WASHES_MOST
from engine.language import amid, begun, later, say
from studio.learning.lasted import lasted_page, look_at
from studio.learning.page import learned_page
from studio.learning.services.lasted import note_later
from studio.learning.services.queue import is_learning
from studio.learning.services.set import mend, set_client_teaches, set_learns, set_teaches, unmend
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import typed_number, whole_number, within
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.models import Visit
from studio.visits.selectors import visit_of

LEARNS_ANEW = later("It is learned anew in the background: forecasts follow in a moment.")


@require_safe
def learned(request: HttpRequest) -> HttpResponse:
    """How far forecasts lay off on the first day and now, record by record."""
    return render(request, "learning/learned.html", {"page": learned_page(signed_in(request))})


@require_safe
def learning(request: HttpRequest) -> HttpResponse:
    """Whether it is being learned: asked now and then; once it is done the page comes anew."""
    if is_learning(signed_in(request).studio_id):
        return HttpResponse(status=204)
    return HttpResponse(headers={"HX-Refresh": "true"})


@require_POST
def switch(request: HttpRequest) -> HttpResponse:
    """Whether results teach at all."""
    learns = request.POST.get("learns") == "1"
    set_learns(signed_in(request), learns=learns)
    messages.success(request, LEARNS_ANEW if learns else say("Forecasts are made by the engine's own physics again."))
    return redirect("learning:learned")


@require_POST
def record(request: HttpRequest, key: str) -> HttpResponse:
    """Whether one record teaches; or that it is what it most likely was, or as its card has it."""
    acts: dict[str, Callable[[], None]] = {
        "leave": lambda: set_teaches(signed_in(request), key=key, teaches=False),
        "take": lambda: set_teaches(signed_in(request), key=key, teaches=True),
        "mend": lambda: mend(signed_in(request), key=key),
        "unmend": lambda: unmend(signed_in(request), key=key),
    }
    try:
        act = acts.get(request.POST.get("act", ""))
        if act is None:
            raise Refusal("lesson_gone")
        act()
        messages.success(request, LEARNS_ANEW)
    except Refusal as refusal:
        messages.error(request, refusal_words(refusal))
    return redirect("learning:learned")


@require_POST
def client(request: HttpRequest, client_id: int) -> HttpResponse:
    """Whether what comes out on a client's hair teaches."""
    found = set_client_teaches(signed_in(request), client_id=client_id, teaches=request.POST.get("teaches") == "1")
    messages.success(request, f"{found}: {amid(LEARNS_ANEW)}")
    return redirect("cards:card", client_id)


@page_and_change
def lasted(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What has become of last time's colour, zone by zone."""
    person = signed_in(request)
    visit = visit_of(person, visit_id)
    if request.method != "POST":
        return _show_lasted(request, visit)
    try:
        washes = typed_number(request.POST.get("washes", ""), "washes", example="18")
        within(washes, "washes", 0, WASHES_MOST)
        zone_id = whole_number(request.POST.get("zone", ""), "zone")
        page = lasted_page(person, visit, {zone_id: washes})
        zone = next((each for each in page.zones if each.zone.pk == zone_id), None)
        if zone is None:
            raise Refusal("lesson_gone")
        if "washed" in request.POST:  # only looked at
            return render(request, "learning/lasted.html", {"page": page})
        lab, source = look_at(zone, request.POST, now=timezone.now())
        note_later(
            person,
            zone_id=zone_id,
            seen_in=visit,
            lab=lab,
            washes=washes,
            hot_water=zone.worked.hot_water,
            source=source,
        )
    except Refusal as refusal:
        return _show_lasted(request, visit, refusal)
    messages.success(request, say("{name}: noted, and it teaches.", name=begun(zone.zone.name)))
    return redirect("learning:lasted", visit_id)


def _show_lasted(request: HttpRequest, visit: Visit, refusal: Refusal | None = None) -> HttpResponse:
    page = lasted_page(signed_in(request), visit)
    if refusal is None:
        return render(request, "learning/lasted.html", {"page": page})
    words, named = refusal_words(refusal), request.POST.get("zone", "")
    zones = tuple(
        replace(each, error_words=words, typed=request.POST.get("washes", "")) if str(each.zone.pk) == named else each
        for each in page.zones
    )
    told = "" if any(each.error_words for each in zones) else words
    context = {"page": replace(page, zones=zones), "error_words": told}
    return render(request, "learning/lasted.html", context, status=422)
