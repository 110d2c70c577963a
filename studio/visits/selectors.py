"""What a page needs to know of a visit."""

from dataclasses import dataclass

from studio.accounts.models import Person
from studio.visits.models import Reading, Visit, Zone


@dataclass(frozen=True, kw_only=True)
class OpenZone:
    """A visit with the zone in hand and the reading in force, if any, and whether there is an earlier one."""

    visit: Visit
    zone: Zone
    reading: Reading | None
    readings: int


def open_zone(person: Person, visit_id: int) -> OpenZone:
    """A visit's first zone. Two queries. Raises Zone.DoesNotExist for another studio's visit."""
    zones = Zone.objects.visible_to(person).select_related("visit__client").order_by("id")
    zone = zones.filter(visit_id=visit_id).first()
    if zone is None:
        raise Zone.DoesNotExist
    readings = list(zone.readings.all()[:2])
    return OpenZone(visit=zone.visit, zone=zone, reading=readings[0] if readings else None, readings=len(readings))
