"""The Clock page: start at application, answer its calls, rinse."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from engine.service.timing import TIMINGS, ClockKind
from studio.clocks.models import ZoneClock
from studio.clocks.page import clock_page
from studio.clocks.services.run import answer_call, forget_start, give_time, rinse, start_clock
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import act_on
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand


@require_GET
def clock(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The clocks of a visit; the page asks for them again by itself."""
    opened, refusal = zone_in_hand(request, visit_id)
    return _show(request, opened, refusal)


@require_POST
def start(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Start a zone's clock."""
    form = request.POST

    def change(opened: OpenZone) -> None:
        kind = form.get("kind", "")
        usual = TIMINGS[ClockKind(kind)].planned_min if kind in ZoneClock.Kind.values else 0
        start_clock(
            signed_in(request),
            zone_id=opened.zone.pk,
            kind=kind,
            planned_min=typed_number(form.get("minutes") or str(usual), "minutes", example="25"),
            now=timezone.now(),
            batches=whole_number(form.get("batches") or "1", "batches"),
            damp=bool(form.get("damp")),
            heat=bool(form.get("heat")),
        )

    return act_on(request, visit_id, change, show=_show, page="clocks:clock")


@require_POST
def act(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Answer a running clock, give it time, rinse, or take its start back."""
    form, person = request.POST, signed_in(request)

    def change(opened: OpenZone) -> None:
        clock_id = whole_number(form.get("clock", ""), "clock")
        if "answer" in form:
            answer_call(person, clock_id=clock_id, to_min=typed_number(form["answer"], "minutes"))
        elif "more" in form:
            give_time(person, clock_id=clock_id, minutes=typed_number(form["more"], "minutes"))
        elif "forget" in form:
            forget_start(person, clock_id=clock_id)
        else:
            rinse(person, clock_id=clock_id, now=timezone.now())

    return act_on(request, visit_id, change, show=_show, page="clocks:clock")


def _show(request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None) -> HttpResponse:
    page = clock_page(signed_in(request), opened, now=timezone.now(), refusal=refusal)
    template = "clocks/_clock.html" if wants_fragment(request) else "clocks/clock.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)
