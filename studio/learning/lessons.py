"""What a studio's rows say came out, as the records that the engine learns from."""

import datetime
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np

from engine.bowl.doses import Worked
from engine.bowl.mix import MINUTES_LIMIT, Bowl, Process
from engine.dye.shade import Shade
from engine.errors import EngineError
from engine.hair.canvas import Canvas
from engine.hair.source import Source
from engine.language import say
from engine.learning.learn import RECORDS_MOST, Record
from studio.cards.models import Formula, LaterLook, ZoneResult
from studio.clients.models import Client, StrandTest
from studio.learning.mending import mended
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, stocked_line
from studio.taught.models import Teaches
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Reading, Zone

RESULT: Final = "result"
LATER: Final = "later"
STRAND: Final = "strand"


@dataclass(frozen=True, kw_only=True, eq=False)
class Lesson:
    """One row as a record. kind, pk: which; where: on the head; noted: what was worked, as the card has it; record: as
    it teaches.
    """

    kind: str
    pk: int
    client: Client
    visit_id: int | None
    where: str
    day: datetime.date
    teaches: bool
    is_mended: bool
    noted: Worked
    record: Record

    @property
    def key(self) -> str:
        """What tells it from all others of its studio."""
        return f"{self.kind}-{self.pk}"


@dataclass(frozen=True, kw_only=True)
class _Read:
    """How hair was read, by whom where that was by eye, and how many coats were on by then."""

    source: Source = Source.EYE
    reader: str = ""
    after_coats: int = 0


class PlainShelf:
    """A studio's lines by their rows, as the shelf has them: what results taught of them is what is learned anew."""

    def __init__(self, studio_id: int) -> None:
        self.lines = {line.pk: stocked_line(line) for line in ShadeLine.objects.filter(studio=studio_id)}
        self.dyes: dict[str, Shade] = {dye.code: dye for line in self.lines.values() for dye in line.plain.values()}

    def bowl(self, line_id: int, grams: Mapping[int, float]) -> Bowl | None:
        """A bowl of tubes of a line; None where one of them is not of it any more."""
        stocked: StockedLine | None = self.lines.get(line_id)
        if stocked is None or not grams or not set(grams) <= set(stocked.plain):
            return None
        return Bowl(grams={stocked.plain[shade]: weight for shade, weight in grams.items()})


def lessons_of(studio_id: int) -> list[Lesson]:
    """All that a studio's rows tell, the newest first; what can't be reckoned is left out, such as a card of no colour.

    A dozen queries, however many there are.
    """
    shelf = PlainShelf(studio_id)
    found = [*_of_visits(studio_id, shelf), *_of_strands(studio_id, shelf)]
    return sorted(found, key=lambda lesson: (lesson.day, lesson.pk), reverse=True)[:RECORDS_MOST]


def _of_visits(studio_id: int, shelf: PlainShelf) -> Iterator[Lesson]:
    here = {"zone__visit__client__studio": studio_id}
    results = list(ZoneResult.objects.filter(**here).select_related("zone__visit__client"))
    later = list(LaterLook.objects.filter(**here).select_related("zone__visit__client", "seen_in"))
    rows: list[ZoneResult | LaterLook] = [*results, *later]
    worked = worked_by_zone({row.zone_id: row.zone for row in rows}, shelf)
    for row in rows:
        if row.zone_id not in worked:
            continue
        noted, read = worked[row.zone_id]
        where, day = row.zone.name, row.zone.visit.day
        if isinstance(row, LaterLook):
            noted = replace(noted, washes=float(row.washes), hot_water=row.hot_water)
            where, day = say("{where}, after {washes:g} washes", where=where, washes=float(row.washes)), row.seen_in.day
        yield _lesson(
            row,
            LATER if isinstance(row, LaterLook) else RESULT,
            row.zone.visit.client,
            _record(row, noted, read, row.zone.visit.client, row.lab, Source(row.source), shelf),
            noted=noted,
            visit_id=row.zone.visit_id,
            where=where,
            day=day,
        )


def _record(
    row: Teaches, noted: Worked, read: _Read, client: Client, lab: Sequence[float], judged_by: Source, shelf: PlainShelf
) -> Record:
    return Record(
        worked=mended(noted, row.mended, shelf.dyes),
        actual_lab=np.array(lab),
        read_by=read.source,
        judged_by=judged_by,
        client=str(client.pk),
        reader=read.reader,
    )


def _lesson(row: Teaches, kind: str, client: Client, record: Record, **facts: Any) -> Lesson:
    return Lesson(
        kind=kind,
        pk=row.pk,
        client=client,
        teaches=row.teaches and client.teaches,
        is_mended=bool(row.mended),
        record=record,
        **facts,
    )


def worked_by_zone(zones: Mapping[int, Zone], shelf: PlainShelf) -> dict[int, tuple[Worked, _Read]]:
    """What was on each zone's hair when its visit ended, as the newest card has it, and how the hair was read."""
    cards = _newest_cards({zone.visit_id for zone in zones.values()})
    readings: dict[int, Reading] = {}
    for reading in Reading.objects.filter(zone__in=zones).exclude(source=Reading.Source.FORECAST).order_by("-number"):
        readings.setdefault(reading.zone_id, reading)
    found = {}
    for zone in zones.values():
        read = _read(readings.get(zone.pk))
        try:
            noted = _worked(cards.get((zone.visit_id, zone.name), []), read, shelf)
        except EngineError:  # old colour of a file beyond what the engine reckons with
            continue
        if noted is not None:
            found[zone.pk] = noted, read
    return found


def _newest_cards(visits: Iterable[int]) -> dict[tuple[int, str], list[Formula]]:
    """The formulas of each zone of visits in the order of their coats; of a card that was kept twice, the later."""
    formulas = Formula.objects.filter(visit__in=visits).order_by("-saved_at", "coat_number", "pk")
    cards: dict[tuple[int, str], list[Formula]] = {}
    for formula in formulas.select_related("line").prefetch_related("pours"):
        kept = cards.setdefault((formula.visit_id, formula.zone_name), [])
        if not kept or kept[0].saved_at == formula.saved_at:
            kept.append(formula)
    return cards


def _read(reading: Reading | None) -> _Read:
    if reading is None:  # a card from a file
        return _Read()
    source = Source(reading.source)
    reader = str(reading.read_by_id) if source is Source.EYE else ""
    return _Read(source=source, reader=reader, after_coats=reading.after_coats)


def _worked(card: Sequence[Formula], read: _Read, shelf: PlainShelf) -> Worked | None:
    """The coats of colour that were on since the hair was last lifted or read; None where there were none."""
    last_lift = max((each.coat_number for each in card if each.to_level is not None), default=0)
    since = max(last_lift, read.after_coats)
    coats = [each for each in card if each.coat_number > since and each.to_level is None]
    laid = []
    for coat in coats:
        bowl = shelf.bowl(coat.line_id, {pour.shade_id: float(pour.grams) for pour in coat.pours.all()})
        if bowl is None:
            return None
        laid.append((bowl, _process(coat)))
    return Worked(canvas=canvas_of(coats[0]), coats=tuple(laid)) if laid else None


def _process(coat: Formula) -> Process:
    minutes, (vol, parts) = coat.process_min, coat.developer
    return Process(
        minutes=None if minutes is None else min(minutes, MINUTES_LIMIT),
        damp=coat.damp,
        developer_vol=float(vol) if parts else None,
        ratio=float(parts) or None,
    )


def _of_strands(studio_id: int, shelf: PlainShelf) -> Iterator[Lesson]:
    tests = StrandTest.objects.filter(client__studio=studio_id).exclude(seen_lab=[]).exclude(worked={})
    for test in tests.select_related("client"):
        told = test.worked
        try:
            noted = _strand_worked(told, shelf)
        except EngineError:
            continue
        if noted is None:
            continue
        read = _strand_read(told)
        record = _record(test, noted, read, test.client, test.seen_lab, Source.READER, shelf)
        yield _lesson(
            test,
            STRAND,
            test.client,
            record,
            noted=noted,
            visit_id=None,
            where=say("a strand, {part}", part=test.get_part_display()),
            day=test.tested_at.date(),
        )


def _strand_worked(told: Mapping[str, Any], shelf: PlainShelf) -> Worked | None:
    """The bowl on the hair of a strand; None where its tubes are not of the line any more."""
    bowl = shelf.bowl(told["line"], {int(shade): float(weight) for shade, weight in told["grams"].items()})
    if bowl is None:
        return None
    minutes = min(float(told["minutes"]), MINUTES_LIMIT)
    process = Process(minutes=minutes, developer_vol=told["vol"], ratio=told["ratio"])
    return Worked(canvas=_hair(told["hair"]), coats=((bowl, process),))


def _strand_read(told: Mapping[str, Any]) -> _Read:
    """How the hair of a strand was read; what was forecast is as sure as an eye, and nobody's."""
    if told["source"] not in set(Source):
        return _Read()
    source = Source(told["source"])
    return _Read(source=source, reader=str(told["reader"]) if source is Source.EYE else "")


def _hair(told: Mapping[str, Any]) -> Canvas:
    """The canvas of hair that was kept as numbers."""
    return canvas_of(Reading(**told))
