"""What a page needs to know of a visit."""

from collections.abc import Mapping
from dataclasses import dataclass
from operator import attrgetter
from typing import Final

from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.ui.refusal import Refusal
from studio.visits.models import Reading, Visit, Zone

_ZONES: Final = Prepared(
    lambda studio, visit: (
        Zone.objects.of_studio(studio)
        .filter(visit=visit, removed=False)
        .select_related("visit__client", "visit__consult")
        .order_by()
    ),
    studio=int,
    visit=int,
)
_NEWEST_READINGS: Final = Prepared(
    lambda visit: (
        Reading.objects.filter(zone__visit=visit, zone__removed=False)
        .order_by("zone_id", "after_coats", "-number")
        .distinct("zone_id", "after_coats")
    ),
    visit=int,
)


@dataclass(frozen=True, kw_only=True)
class OpenZone:
    """A visit with its zones, root to end first, the one in hand, and the readings in force by zone id.

    all_by_zone: the newest reading after each number of coats, in that order. coat_id: the row of the zone's coat in
    hand, if one is named; whether the zone has it is for the bench to say.
    """

    visit: Visit
    zone: Zone
    zones: tuple[Zone, ...]
    by_zone: Mapping[int, Reading]
    all_by_zone: Mapping[int, tuple[Reading, ...]]
    coat_id: int | None = None

    @property
    def reading(self) -> Reading | None:
        """The reading in force of the zone in hand, if any."""
        return self.by_zone.get(self.zone.pk)

    @property
    def readings(self) -> int:
        """How many readings the zone in hand has had; they are numbered without gaps."""
        return self.reading.number if self.reading else 0


def visit_of(person: Person, visit_id: int) -> Visit:
    """A visit with its client. Raises Visit.DoesNotExist for another studio's. One query."""
    return Visit.objects.visible_to(person).select_related("client").get(pk=visit_id)


def visits_before(person: Person, visit: Visit) -> int:
    """How many visits the client had before this one. One query."""
    return Visit.objects.visible_to(person).filter(client=visit.client_id, day__lt=visit.day).count()


@dataclass(frozen=True, kw_only=True)
class Hand:
    """What a change leaves in hand: a zone, and one of its coats."""

    zone_id: int
    coat_id: int


def open_zone(person: Person, visit_id: int, zone_id: int | None = None, coat_id: int | None = None) -> OpenZone:
    """A visit with one of its zones in hand, the first unless another is named. Two queries.

    Raises Zone.DoesNotExist for another studio's visit, Refusal zone_gone for a zone that the visit does not have
    or has no more.
    """
    found = _ZONES(studio=person.studio_id, visit=visit_id)
    zones = tuple(sorted(found, key=attrgetter("position", "pk")))
    if not zones:
        raise Zone.DoesNotExist
    zone = zones[0] if zone_id is None else next((each for each in zones if each.pk == zone_id), None)
    if zone is None:
        raise Refusal("zone_gone")
    for each in zones:  # one object for each row, so that a change of it is seen everywhere
        each.visit = zones[0].visit
    # A reading before a coat that was read again later is of no use any more, so that the newest of each stands.
    by_zone: dict[int, list[Reading]] = {}
    for reading in _NEWEST_READINGS(visit=visit_id):
        by_zone.setdefault(reading.zone_id, []).append(reading)
    return OpenZone(
        visit=zone.visit,
        zone=zone,
        zones=zones,
        by_zone={pk: max(readings, key=attrgetter("number")) for pk, readings in by_zone.items()},
        all_by_zone={pk: tuple(readings) for pk, readings in by_zone.items()},
        coat_id=coat_id,
    )
