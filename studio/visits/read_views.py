"""Reading by instrument, and adding zones, from the Read page."""

from typing import Final

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from engine.hair.canvas import Canvas
from engine.hair.instrument import ReadingsUnusable, average_readings
from engine.hair.ladder import School
from studio.accounts.services.set_school import set_school
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, take_readings
from studio.ui.http import signed_in
from studio.ui.numbers import typed_number, whole_number, within
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.found import Found, found_in
from studio.visits.models import Reading
from studio.visits.page import read_page
from studio.visits.selectors import OpenZone
from studio.visits.services.add_zone import add_zone
from studio.visits.views import zone_in_hand

READINGS: Final = (3, 9)
LEVELS: Final = (1.0, 11.0)


@require_POST
def read_by_reader(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take readings with the colour reader and show what they say; nothing is kept until that is wanted."""
    opened, gone = zone_in_hand(request, visit_id)
    refusal, found = gone, None
    try:
        found = None if gone else _reading(request, opened)
    except Refusal as refused:
        refusal = refused
    page = read_page(opened, typed={}, refusal=refusal, found=found)
    return render(request, "visits/read.html", {"page": page}, status=422 if refusal else 200)


def _reading(request: HttpRequest, opened: OpenZone) -> Found:
    """Raises Refusal when the reader fails, or what it sent gives no colour."""
    form = request.POST
    count = whole_number(form.get("count", "5"), "count")
    within(typed_number(str(count), "count"), "count", *READINGS)
    level = within(typed_number(form.get("held_level", ""), "held_level"), "held_level", *LEVELS)
    fault = form.get("fault", Fault.NONE.value)
    reader = SimulatedReader(
        Canvas(level=float(level)),
        seed=int(timezone.now().timestamp()),
        fault=Fault(fault) if fault in set(Fault) else Fault.NONE,
    )
    try:
        averaged = average_readings(take_readings(reader, count))
    except ReaderFault as lost:
        raise Refusal(f"reader_{lost.code}", "reader") from None
    except ReadingsUnusable as unusable:
        raise Refusal(f"readings_{unusable.code}", "reader") from None
    refused = len(averaged.refused)
    hair = canvas_of(opened.reading) if opened.reading else Canvas(level=9.0)
    return found_in(
        averaged.lab,
        stray=averaged.stray,
        source=Reading.Source.READER,
        porosity=hair.porosity,
        grey=hair.grey,
        school=School(opened.visit.client.studio.school),
        told=f"{averaged.kept} readings, {refused} refused as outlier{'' if refused == 1 else 's'}",
    )


@require_POST
def choose_school(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Say which school the studio reads by."""
    opened, refusal = zone_in_hand(request, visit_id)
    try:
        set_school(signed_in(request), school=request.POST.get("school", ""))
    except Refusal as refused:
        refusal = refused
    if refusal:
        page = read_page(opened, typed={}, refusal=refusal)
        return render(request, "visits/read.html", {"page": page}, status=422)
    return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")


@require_POST
def add(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Add a zone, and read it next."""
    opened, refusal = zone_in_hand(request, visit_id)
    form = request.POST
    try:
        if refusal:
            raise refusal
        made = add_zone(
            signed_in(request),
            like_zone_id=opened.zone.pk,
            part=form.get("part", ""),
            name=form.get("zone_name", ""),
        )
    except Refusal as refused:
        page = read_page(opened, typed=form, refusal=refused)
        return render(request, "visits/read.html", {"page": page}, status=422)
    return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={made.pk}")
