"""The Clock page: start at application, answer its calls, rinse."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.service.timing import TIMINGS, ClockKind
from studio.clocks.models import ZoneClock
from studio.clocks.page import clock_page
from studio.clocks.services.run import answer_call, forget_start, give_time, rinse, start_clock
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Change, Sent, act_on, show_page
from studio.visits.selectors import OpenZone


@require_safe
def clock(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The clocks of a visit; the page asks for them again by itself."""
    return show_page(request, visit_id, _show)


@require_POST
def start(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Start a zone's clock."""

    def change(sent: Sent) -> None:
        kind = sent.text("kind")
        usual = TIMINGS[ClockKind(kind)].planned_min if kind in ZoneClock.Kind.values else 0
        start_clock(
            sent.person,
            zone_id=sent.zone_id,
            kind=kind,
            planned_min=typed_number(sent.text("minutes") or str(usual), "minutes", example="25"),
            now=timezone.now(),
            batches=whole_number(sent.text("batches") or "1", "batches"),
            damp=bool(sent.text("damp")),
            heat=bool(sent.text("heat")),
        )

    return _act(request, visit_id, change)


@require_POST
def act(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Answer a running clock, give it time, rinse, or take its start back."""

    def change(sent: Sent) -> None:
        form, person = sent.form, sent.person
        clock_id = whole_number(sent.text("clock"), "clock")
        if "answer" in form:
            answer_call(person, clock_id=clock_id, to_min=typed_number(sent.text("answer"), "minutes"))
        elif "more" in form:
            give_time(person, clock_id=clock_id, minutes=typed_number(sent.text("more"), "minutes"))
        elif "forget" in form:
            forget_start(person, clock_id=clock_id)
        else:
            rinse(person, clock_id=clock_id, now=timezone.now())

    return _act(request, visit_id, change)


def _act(request: HttpRequest, visit_id: int, change: Change) -> HttpResponse:
    return act_on(request, visit_id, change, show=_show, page="clocks:clock", same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    page = clock_page(signed_in(request), opened, now=timezone.now(), refusal=refusal)
    template = "clocks/_clock.html" if wants_fragment(request) else "clocks/clock.html"
    return render(request, template, {"page": page})
