"""Starting a visit and reading the hair."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from engine.hair.canvas import RANGES
from engine.language import say
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on, show_page
from studio.visits.found import Found
from studio.visits.page import read_page
from studio.visits.selectors import OpenZone
from studio.visits.services.hand_over import hand_over
from studio.visits.services.read_hair import read_hair, take_back_reading
from studio.visits.services.start_visit import start_visit


@require_POST
def start(request: HttpRequest, client_id: int) -> HttpResponse:
    """Start today's visit, or go on with it."""
    visit = start_visit(signed_in(request), client_id=client_id, day=timezone.localdate())
    return redirect("visits:consult", visit.pk)


@require_POST
def hand_on(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Hand the head over to a colleague."""
    visit = hand_over(signed_in(request), visit_id=visit_id, to=whole_number(request.POST.get("to") or "0", "to"))
    messages.success(
        request, say("{client} is at {colourist}'s chair now.", client=visit.client, colourist=visit.colourist)
    )
    return redirect("cards:card", visit.client_id)


@page_and_change
def read(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Read the hair of a zone: tap a lock or type a number; every change is kept at once."""
    if request.method != "POST":
        return show_page(request, visit_id, show_read)
    found = "found" in request.POST  # kept from a page that may be another
    return act_on(request, visit_id, _read_or_take_back, show=show_read, page="visits:read", goes=found)


def _read_or_take_back(sent: Sent) -> None:
    form = sent.form
    if "take_back" in form:
        take_back_reading(sent.person, zone_id=sent.zone_id)
        return
    # A tapped lock follows the typed field of its name in the form, so that the last counts. One of the level's ladder
    # has a name of its own.
    hair = {name: typed_number(sent.text(name), name) for name in (*RANGES, "old_k_s") if name in form}
    if "rung" in form:
        hair["level"] = typed_number(sent.text("rung"), "level")
    read_hair(
        sent.person,
        zone_id=sent.zone_id,
        after=whole_number(form.get("after") or "0", "after"),
        hair=hair,
        family=form.get("family"),
        old_shade=form.get("old_shade"),
        source=sent.text("source"),
        after_lift=bool(sent.text("after_lift")),
        by_ladder="rung" in form,
        after_coats=_coats_in(sent.text("after_coats")),
    )


def _coats_in(text: str) -> int | None:
    """After how many coats the hair is read, if that is said; more than a zone may have is as if it was not."""
    return int(text) if text.isascii() and text.isdigit() and len(text) < 3 else None


def show_read(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    """The Read page. made: what an instrument has just read."""
    page = read_page(
        opened,
        typed=request.POST if refusal else {},
        refusal=refusal,
        found=made if isinstance(made, Found) else None,
        part=request.GET.get("part", ""),
        sets_zones=bool({"parting", "switch"} & {*request.POST}),
        after_lift=bool(request.GET.get("after_lift") or request.POST.get("after_lift")),
        after_coats=_coats_in(request.POST.get("after_coats") or request.GET.get("after_coats") or ""),
    )
    template = "visits/_read.html" if wants_fragment(request) else "visits/read.html"
    return render(request, template, {"page": page})
