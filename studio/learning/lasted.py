"""What has become of last time's colour, held against its forecast: a page of a later visit."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.doses import Worked
from engine.bowl.taught import as_taught, looks
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.language import decimals, say
from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.models import Formula, LaterLook, ZoneResult
from studio.head.reader import read_worn
from studio.learning.lessons import PlainShelf, worked_by_zone
from studio.result.ladder import LadderLock, around, around_words, ladder_lab, ladder_locks
from studio.result.selectors import home_care_of, washes_since
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import stocked_line
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.visits.models import Visit, Zone


@dataclass(frozen=True, kw_only=True, eq=False)
class LastedZone:
    """A zone of the earlier visit: its colour as it was forecast for today, and as it was seen, if it was.

    error_words, typed: of a form that was refused.
    """

    zone: Zone
    worked: Worked
    lab: FloatArray
    lock: Lock
    look: LaterLook | None
    error_words: str = ""
    typed: str = ""

    @property
    def washes(self) -> str:
        """How many washes there were since then: as typed, else as noted, else as the client's habits make it."""
        return self.typed or decimals(f"{self.worked.washes:g}")

    @property
    def around(self) -> str:
        """What its ladder is drawn around, L*a*b*."""
        return around_words(self.lab)

    @property
    def ladder(self) -> tuple[tuple[LadderLock, ...], ...]:
        """Locks to judge by."""
        return ladder_locks(self.lab, None if self.look is None else np.array(self.look.lab))

    @property
    def seen(self) -> Lock | None:
        """How it looked."""
        return lock_of_colour(self.look.lab) if self.look else None

    @property
    def seen_words(self) -> str:
        """How that differs from the forecast."""
        if self.look is None:
            return ""
        seen = np.array(self.look.lab)
        words = against_forecast(self.lab, seen, alike=say("as forecast"))
        return say("{words}, {delta_e00:.1f} off", words=words, delta_e00=float(delta_e00(self.lab, seen)))


@dataclass(frozen=True, kw_only=True, eq=False)
class LastedPage:
    """The page as its template takes it. earlier: the visit that it asks after; none before a first card."""

    visit: Visit
    earlier: Visit | None
    zones: tuple[LastedZone, ...]


def lasted_page(person: Person, visit: Visit, washes: Mapping[int, Decimal] | None = None) -> LastedPage:
    """The newest earlier visit that something was kept of, zone by zone. washes: by zone, where they are told."""
    kept = Formula.objects.visible_to(person).filter(client=visit.client_id, visit__day__lt=visit.day)
    newest = kept.select_related("visit__client").order_by("-visit__day", "-saved_at").first()
    earlier = newest.visit if newest else None
    zones = () if earlier is None else tuple(_zones(person, visit, earlier, washes or {}))
    return LastedPage(visit=visit, earlier=earlier, zones=zones)


def _zones(person: Person, visit: Visit, earlier: Visit, washes: Mapping[int, Decimal]) -> list[LastedZone]:
    rows = {zone.pk: zone for zone in Zone.objects.visible_to(person).filter(visit=earlier, removed=False)}
    worked = worked_by_zone(rows, PlainShelf(person.studio_id))
    seen = {look.zone_id: look for look in LaterLook.objects.visible_to(person).filter(zone__in=rows, seen_in=visit)}
    care, usual = home_care_of(person, earlier), round(washes_since(person, earlier, visit.day))
    found = []
    for pk, zone in rows.items():
        if pk not in worked:
            continue
        look = seen.get(pk)
        count = washes.get(pk, look.washes if look else Decimal(usual))
        worn = Worked(
            canvas=worked[pk][0].canvas,
            coats=worked[pk][0].coats,
            washes=float(count),
            hot_water=look.hot_water if look else care.hot_water,
        )
        lab = _forecast(person, worn, str(earlier.client_id))
        lock = lock_of_colour(tuple(lab.tolist()))
        found.append(LastedZone(zone=zone, worked=worn, lab=lab, lock=lock, look=look))
    return found


def _forecast(person: Person, worn: Worked, client: str) -> FloatArray:
    """The look L*a*b* (3,) in daylight, as results have it."""
    line = ShadeLine.objects.visible_to(person).get(pk=_line_of(person, worn))
    taught = stocked_line(line).taught
    if taught is not None:
        worn = as_taught(worn, taught, client)
    lab: FloatArray = looks([worn], Light.DAYLIGHT, taught)[0]
    return lab


def _line_of(person: Person, worn: Worked) -> int:
    """The row of the line that the last coat is of."""
    shade = next(iter(worn.coats[-1][0].grams))
    return ShadeLine.objects.visible_to(person).filter(shades=int(shade.code)).values_list("pk", flat=True)[0]


def look_at(zone: LastedZone, form: Mapping[str, str], *, now: datetime.datetime) -> tuple[FloatArray, str]:
    """What a form says of a zone's colour, L*a*b* (3,), and how it was told: by the reader, or by eye from the ladder.

    Raises Refusal.
    """
    if "reader" in form:
        return read_worn(zone.worked, form, now=now), ZoneResult.Source.READER
    if "place" not in form:
        raise Refusal("ladder_place")
    return ladder_lab(around(form.get("around", ""), zone.lab), form["place"]), ZoneResult.Source.EYE
