"""What a page needs to know of the bench."""

from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

import numpy as np

from engine.arrays import FloatArray
from engine.bowl import mix as bowls
from studio.accounts.models import Person
from studio.head.models import BenchStep, Bowl, Photo, Pour, Serving, Worktop, WorktopRows
from studio.head.state import BowlState, rows_of
from studio.shelf.models import Shade
from studio.shelf.selectors import StockedLine, stocked_line
from studio.visits.models import Reading, Visit, Zone
from studio.visits.selectors import OpenZone

TRAIL_STEPS = 8


def target_of(bowl: Bowl) -> FloatArray | None:
    """A bowl's aim in L*a*b* (3,), if it has one."""
    parts = [bowl.target_l, bowl.target_a, bowl.target_b]
    return None if None in parts else np.array([float(part) for part in parts if part is not None])


@dataclass(frozen=True, kw_only=True)
class ZoneBench:
    """One zone on the bench: its hair, the bowl that serves it with pours by shade id, and the line in use."""

    zone: Zone
    reading: Reading
    serving: Serving
    bowl: Bowl
    pours: dict[int, Pour]
    stocked: StockedLine

    @property
    def grams(self) -> dict[int, Decimal]:
        """Grams by shade id."""
        return {shade_id: pour.grams for shade_id, pour in self.pours.items()}

    @property
    def target_lab(self) -> FloatArray | None:
        """The aim in L*a*b* (3,), if there is one."""
        return target_of(self.bowl)

    @property
    def total_g(self) -> Decimal:
        """Grams of colour and clear in the bowl."""
        return sum(self.grams.values(), Decimal(0))

    @property
    def mixed_g(self) -> Decimal:
        """Grams that are mixed in already."""
        return sum((pour.mixed_g for pour in self.pours.values()), Decimal(0))

    @property
    def developer_g(self) -> Decimal:
        """Grams of developer that the line's ratio asks for."""
        return self.total_g * self.stocked.line.developer_parts

    @cached_property
    def poured(self) -> list[tuple[Shade, Decimal]]:
        """What is in the bowl, in shelf order."""
        return [(shade, self.pours[shade.pk].grams) for shade in self.stocked.shades if shade.pk in self.pours]

    @cached_property
    def mix(self) -> bowls.Bowl | None:
        """The bowl for the engine, or None when nothing has been poured."""
        if not self.pours:
            return None
        return bowls.Bowl(grams={self.stocked.dyes[shade.pk]: float(grams) for shade, grams in self.poured})


@dataclass(frozen=True, kw_only=True)
class Bench(ZoneBench):
    """The bench of a visit with one zone in hand, and all its zones from root to end."""

    visit: Visit
    worktop: Worktop
    zones: tuple[ZoneBench, ...]

    @property
    def served(self) -> tuple[ZoneBench, ...]:
        """The zones that are coloured from the bowl in hand, the zone in hand first."""
        others = (each for each in self.zones if each.bowl.pk == self.bowl.pk and each.zone.pk != self.zone.pk)
        return (self, *others)

    @property
    def lengthwise(self) -> tuple[ZoneBench, ...]:
        """The zones that follow one another along the hair, if the one in hand is among them; else it alone."""
        if not self.zone.is_lengthwise:
            return (self,)
        return tuple(each for each in self.zones if each.zone.is_lengthwise)


def bench_of(person: Person, opened: OpenZone, rows: WorktopRows | None = None) -> Bench:
    """The bench of an open zone that has been read and has a bowl. Two queries, or none with the rows at hand.

    Raises Bowl.DoesNotExist when there is no bowl or it is another studio's, Reading.DoesNotExist before a reading.
    """
    if opened.reading is None:
        raise Reading.DoesNotExist
    rows = rows or rows_of(person, opened.visit.pk)
    servings = {serving.zone_id: serving for serving in rows.servings}
    if opened.zone.pk not in servings:
        raise Bowl.DoesNotExist
    pours = {bowl_id: {pour.shade_id: pour for pour in poured} for bowl_id, poured in rows.pours.items()}
    zones = tuple(
        ZoneBench(
            zone=zone,
            reading=opened.by_zone[zone.pk],
            serving=servings[zone.pk],
            bowl=rows.bowls[servings[zone.pk].bowl_id],
            pours=pours[servings[zone.pk].bowl_id],
            stocked=stocked_line(rows.bowls[servings[zone.pk].bowl_id].line),
        )
        for zone in opened.zones
        if zone.pk in servings and zone.pk in opened.by_zone
    )
    hand = next(each for each in zones if each.zone.pk == opened.zone.pk)
    return Bench(visit=opened.visit, worktop=hand.bowl.worktop, zones=zones, **vars(hand))


def trail_of(bench: Bench) -> list[BowlState]:
    """The bowl in hand after each of the last steps, the newest last. One query."""
    steps = BenchStep.objects.filter(worktop=bench.worktop, number__lte=bench.worktop.cursor).order_by("-number")
    states = list(steps.values_list(f"state__bowls__{bench.bowl.pk}", flat=True)[:TRAIL_STEPS])
    return [state for state in reversed(states) if state]


def photo_of(visit_id: int, purpose: str = Photo.Purpose.AIM) -> Photo | None:
    """A visit's photo without its picture, if there is one; the visit is the person's own. One query."""
    return Photo.objects.filter(visit=visit_id, purpose=purpose).defer("jpeg").first()
