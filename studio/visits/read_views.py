"""Reading by instrument, and adding zones, from the Read page."""

from decimal import Decimal
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.views.decorators.http import require_POST

from engine.hair.canvas import Canvas
from engine.hair.instrument import ReadingsUnusable, average_readings
from engine.language import counted
from engine.service.parting import SETS, parted_as
from studio.accounts.services.set_school import set_school
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, take_readings
from studio.ui.numbers import typed_number, whole_number, within
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on
from studio.visits.engine_adapter import canvas_of
from studio.visits.found import Found, found_in
from studio.visits.models import Reading, Zone
from studio.visits.page import PLACE_FIELDS
from studio.visits.services.place_zone import ZonePlace, place_zone
from studio.visits.services.zones import add_zone, set_zones, switch_part
from studio.visits.views import show_read

READINGS: Final = (3, 9)
LEVELS: Final = (1.0, 11.0)


@require_POST
def read_by_reader(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take readings with the colour reader and show what they say; nothing is kept until that is wanted."""
    return act_on(request, visit_id, _reading, show=show_read)


def _reading(sent: Sent) -> Found:
    """Raises Refusal when the reader fails, or what it sent gives no colour."""
    count = whole_number(sent.text("count") or "5", "count")
    within(Decimal(count), "count", *READINGS)
    level = within(typed_number(sent.text("held_level"), "held_level"), "held_level", *LEVELS)
    fault = sent.text("fault")
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
    reading = sent.opened.reading
    hair = canvas_of(reading) if reading else Canvas(level=9.0)
    return found_in(
        averaged.lab,
        stray=averaged.stray,
        source=Reading.Source.READER,
        porosity=hair.porosity,
        grey=hair.grey,
        ladder=sent.person.studio.ladder,
        told=counted(
            "{kept} readings, {count} refused as outlier",
            "{kept} readings, {count} refused as outliers",
            refused,
            kept=averaged.kept,
        ),
    )


@require_POST
def choose_school(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Say which school the studio reads by."""

    def change(sent: Sent) -> None:
        set_school(sent.person, school=sent.text("school"))

    return act_on(request, visit_id, change, show=show_read, page="visits:read")


@require_POST
def place(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Say where the zone in hand lies, and how long the hair is."""

    def number(sent: Sent, name: str) -> Decimal | None:
        typed = sent.text(name).strip()
        return typed_number(typed, name, example="12") if typed else None

    def change(sent: Sent) -> None:
        numbers = {name: number(sent, name) for name in PLACE_FIELDS}
        where = ZonePlace(**numbers, pattern=sent.text("pattern"), left_alone="left_alone" in sent.form)
        place_zone(sent.person, zone_id=sent.zone_id, place=where)

    return act_on(request, visit_id, change, show=show_read, page="visits:read")


@require_POST
def add(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Add a zone, and read it next."""

    def change(sent: Sent) -> Zone:
        return add_zone(sent.person, like_zone_id=sent.zone_id, part=sent.text("part"), name=sent.text("zone_name"))

    return act_on(request, visit_id, change, show=show_read, page="visits:read")


@require_POST
def zones(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Set the zones of a usual parting at once, or treat one part of the head on its own, or no longer."""

    def change(sent: Sent) -> Zone:
        parting = sent.text("parting")
        if parting in SETS:
            parts = parted_as(parting, [zone.part for zone in sent.opened.zones])
            return set_zones(sent.person, zone_id=sent.zone_id, parts=parts)
        return switch_part(sent.person, zone_id=sent.zone_id, part=sent.text("switch"))

    return act_on(request, visit_id, change, show=show_read, page="visits:read")
