"""What a page needs to know of the bench."""

from collections.abc import Iterator
from dataclasses import dataclass, fields, replace
from decimal import Decimal
from functools import cached_property
from typing import Final

import numpy as np
from django.db.models import F
from django.db.models.fields.json import KeyTransform

from engine.arrays import FloatArray
from engine.bowl import mix as bowls
from engine.bowl.mix import Process
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.head.models import BenchStep, Bowl, Coat, Portion, TargetFields, Worktop, WorktopRows
from studio.head.standing import bowl_process, hair_of
from studio.head.state import BowlState, rows_of
from studio.shelf.models import Shade
from studio.shelf.selectors import StockedLine, stocked_line
from studio.visits.models import Reading, Visit, Zone
from studio.visits.selectors import OpenZone

TRAIL_STEPS: Final = 8


def target_of(row: TargetFields) -> FloatArray | None:
    """A row's own aim in L*a*b* (3,), if it has one."""
    parts = [row.target_l, row.target_a, row.target_b]
    return None if None in parts else np.array([float(part) for part in parts if part is not None])


@dataclass(frozen=True, kw_only=True)
class ZoneBench:
    """One coat of a zone on the bench: the bowl that it comes from with pours by shade id, and the line in use.

    reading: the hair as it is when the coat goes on, by what the coats before have left. now: as it is when the next
    coat of the zone goes on that is not on yet. read: as it was read last.
    """

    zone: Zone
    reading: Reading
    now: Reading
    read: Reading
    coat: Coat
    bowl: Bowl
    pours: dict[int, Portion]
    stocked: StockedLine

    @property
    def grams(self) -> dict[int, Decimal]:
        """Grams by shade id."""
        return {shade_id: pour.grams for shade_id, pour in self.pours.items()}

    @property
    def target_lab(self) -> FloatArray | None:
        """The aim in L*a*b* (3,), if there is one: the coat's own, else the bowl's."""
        own = target_of(self.coat)
        return target_of(self.bowl) if own is None else own

    @property
    def aim_row(self) -> TargetFields:
        """The row that holds the aim."""
        return self.bowl if target_of(self.coat) is None else self.coat

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
        return self.total_g * self.bowl.parts

    @cached_property
    def poured(self) -> list[tuple[Shade, Decimal]]:
        """What is in the bowl, in shelf order."""
        return [(shade, self.pours[shade.pk].grams) for shade in self.stocked.shades if shade.pk in self.pours]

    @cached_property
    def mix(self) -> bowls.Bowl | None:
        """The bowl for the engine, or None when nothing has been poured, or nothing that colours."""
        if not self.pours or self.coat.lifts or self.zone.left_alone:
            return None
        return bowls.Bowl(grams={self.stocked.dyes[shade.pk]: float(grams) for shade, grams in self.poured})

    @property
    def plain_mix(self) -> bowls.Bowl | None:
        """The bowl as the shelf has its tubes, whatever results have taught of them: what stand-in devices find."""
        if self.mix is None:
            return None
        return bowls.Bowl(grams={self.stocked.plain[shade.pk]: float(grams) for shade, grams in self.poured})

    @property
    def process(self) -> Process:
        """How the bowl works at full time, on hair as the house has it, by its developer."""
        return bowl_process(self.bowl)

    @property
    def colours(self) -> bool:
        """Whether it puts colour on: all but lightener."""
        return not self.coat.lifts


@dataclass(frozen=True, kw_only=True)
class Bench(ZoneBench):
    """The bench of a visit with one coat of a zone in hand, and all its zones from root to end.

    zones: each with one coat: the one in hand, else the one that comes from the bowl in hand, else its last of a bowl.
    coats: all that come from bowls, zone by zone in their order. rows: those that nothing is mixed for, too.
    """

    visit: Visit
    worktop: Worktop
    zones: tuple[ZoneBench, ...]
    coats: tuple[ZoneBench, ...]
    rows: tuple[Coat, ...]

    @property
    def served(self) -> tuple[ZoneBench, ...]:
        """The zones that are coloured from the bowl in hand, the zone in hand first; none that is left alone."""
        others = (
            each
            for each in self.zones
            if each.bowl.pk == self.bowl.pk and each.zone.pk != self.zone.pk and not each.zone.left_alone
        )
        return (self, *others)

    @property
    def aimed(self) -> tuple[ZoneBench, ...]:
        """Of the zones that the bowl in hand serves those that have an aim, each with its own."""
        return tuple(each for each in self.served if each.target_lab is not None)

    @property
    def is_over_colour(self) -> bool:
        """Whether a coat of colour goes beneath the one in hand."""
        own = (each for each in self.coats if each.zone.pk == self.zone.pk)
        return any(each.colours and each.coat.order < self.coat.order for each in own)

    @property
    def coats_on(self) -> int:
        """Up to which of its coats the zone in hand has been worked; one that was passed over counts as past."""
        return max((coat.order + 1 for coat in self.zone_rows if coat.begun), default=0)

    @property
    def below(self) -> ZoneBench | None:
        """The zone that follows the one in hand along the hair, towards the ends."""
        along = self.lengthwise
        at = next((at for at, each in enumerate(along) if each.zone.pk == self.zone.pk), len(along))
        return along[at + 1] if at + 1 < len(along) else None

    @property
    def query(self) -> str:
        """The coat in hand as an address names it."""
        return f"zone={self.zone.pk}&coat_id={self.coat.pk}"

    @property
    def zone_rows(self) -> tuple[Coat, ...]:
        """All coats of the zone in hand, in their order."""
        return tuple(coat for coat in self.rows if coat.zone_id == self.zone.pk)

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
    pours = {bowl_id: {pour.shade_id: pour for pour in poured} for bowl_id, poured in rows.pours.items()}
    coats = tuple(each for zone in opened.zones for each in _coats_of(opened, zone, rows, pours))
    own = [each for each in coats if each.zone.pk == opened.zone.pk]
    if not own:
        raise Bowl.DoesNotExist
    hand = next((each for each in own if each.coat.pk == opened.coat_id), own[-1])
    by_zone: dict[int, ZoneBench] = {}
    for each in coats:
        shown = by_zone.get(each.zone.pk)
        if shown is None or shown.bowl.pk != hand.bowl.pk:
            by_zone[each.zone.pk] = each
    by_zone[hand.zone.pk] = hand
    return Bench(
        visit=opened.visit,
        worktop=hand.bowl.worktop,
        zones=tuple(by_zone.values()),
        coats=coats,
        rows=tuple(rows.coats),
        **{each.name: getattr(hand, each.name) for each in fields(ZoneBench)},
    )


def _coats_of(
    opened: OpenZone, zone: Zone, rows: WorktopRows, pours: dict[int, dict[int, Portion]]
) -> Iterator[ZoneBench]:
    """A zone's coats that come from bowls, each on the hair that those before it leave; none before it was read.

    What was passed over, so that a later coat is on already, has left nothing.
    """
    if zone.pk not in opened.by_zone:
        return
    hair, now = hair_of(opened, zone), None
    found = []
    own = [each for each in rows.coats if each.zone_id == zone.pk]
    worked = max((number for number, coat in enumerate(own) if coat.begun), default=-1)
    for number, coat in enumerate(own):
        reading, is_passed = hair.before(number), number < worked and not coat.begun
        if coat.bowl is None:
            if not is_passed:
                hair.on(coat, None)
            continue
        bowl = rows.bowls[coat.bowl.pk]
        each = ZoneBench(
            zone=zone,
            reading=reading,
            now=reading,
            read=opened.by_zone[zone.pk],
            coat=coat,
            bowl=bowl,
            pours=pours[bowl.pk],
            stocked=stocked_line(bowl.line, str(opened.visit.client_id)),
        )
        found.append(each)
        now = now or (None if coat.begun or is_passed else reading)
        if not is_passed:
            hair.on(coat, each.mix)
    yield from (replace(each, now=now or found[-1].reading) for each in found)


_TRAIL: Final = Prepared(
    lambda worktop: (
        BenchStep.objects.filter(worktop=worktop, number__lte=F("worktop__cursor"))
        .annotate(bowls=KeyTransform("bowls", "state"))
        .only("number")
        .order_by("-number")[:TRAIL_STEPS]
    ),
    worktop=int,
)


def trail_of(bench: Bench) -> list[BowlState]:
    """The bowl in hand after each of the last steps, the newest last. One query."""
    steps = _TRAIL(worktop=bench.worktop.pk)
    states = [(step.bowls or {}).get(str(bench.bowl.pk)) for step in reversed(steps)]  # type: ignore[attr-defined]
    return [state for state in states if state]
