"""What the Pour page shows: the recipe line by line, and the ways out of an over-pour."""

import datetime
import secrets
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Final

from django.utils import timezone

from engine.bowl.cautions import Severity
from engine.bowl.mix import Bowl
from engine.bowl.pour import after_pours
from engine.bowl.predict import Forecast
from engine.language import begun, listed, say
from engine.weights import weigh_powder
from studio.accounts.models import Person
from studio.head.coats import bowl_coat
from studio.head.engine_adapter import SCALE_STEP_G, forecast_of, lock_of_bowl
from studio.head.selectors import Bench, ZoneBench, bench_of
from studio.pour.models import Batch, Weighing
from studio.pour.selectors import Line, batch_of, lines_of_batch, weighings_of
from studio.pour.services.weigh import mixed_how
from studio.shelf.selectors import numbers_of
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import shown_weight
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import GateSeen, asked_of, check
from studio.visits.selectors import OpenZone

NUMBERS_SHOWN: Final = 6


@dataclass(frozen=True, kw_only=True, eq=False)
class OverWays:
    """The ways out of an over-pour: more of everything, or left as it is, with the colour that each gives."""

    more: tuple[tuple[int, str, str], ...]
    total_g: str
    factor: str
    kept: Lock
    kept_off: str
    left: Lock
    left_off: str


@dataclass(frozen=True, kw_only=True, eq=False)
class PourPage:
    """The Pour page as its template takes it. numbers: on tubes of what is in hand; past: those whose date is past.

    late: what a tablet without connection weighed by a plan that others had changed, and what they had changed.
    """

    bench: Bench
    batch: Batch | None
    lines: tuple[Line, ...]
    hand: Line | None
    then: Lock
    aim: Lock | None
    off: str
    over: OverWays | None
    token: str
    typed: str
    lot: str
    numbers: tuple[str, ...]
    past: tuple[tuple[str, datetime.date], ...]
    error_words: str
    gates: list[GateSeen]
    bowls: tuple[tuple[str, str, bool], ...]
    unmixed: tuple[str, str] | None
    late: tuple[tuple[str, str], ...]

    @property
    def is_mixed(self) -> bool:
        """Whether the batch in hand is mixed."""
        return self.batch is not None and self.batch.mixed_at is not None

    @property
    def is_shut(self) -> bool:
        """Whether a gate stops this bowl as things stand."""
        return any(seen.is_shut for seen in self.gates)

    @property
    def stop(self) -> str:
        """What shuts the first gate, in a few words; nothing where none is shut."""
        return next((seen.name for seen in self.gates if seen.is_shut), "")

    @property
    def number(self) -> int:
        """Which filling of the bowl this is."""
        return self.batch.number if self.batch else 1

    @property
    def total_g(self) -> Decimal:
        """Grams that are in, developer too."""
        return sum((line.poured_g for line in self.lines), Decimal(0))

    @property
    def version(self) -> int:
        """The worktop's version."""
        return self.bench.worktop.version


def _hand(lines: tuple[Line, ...], sent: Mapping[str, str]) -> Line | None:
    """The line that was asked for if it is still to pour, else the first that is."""
    left = [line for line in lines if not line.is_done]
    return next((line for line in left if line.key == sent.get("line")), left[0] if left else None)


def pour_page(
    person: Person,
    opened: OpenZone,
    *,
    sent: Mapping[str, str],
    now: datetime.datetime,
    refusal: Refusal | None = None,
) -> PourPage:
    """Gather the Pour page. sent: what the request brought: the line in hand, and after a refusal what was typed."""
    bench = _due(person, opened, bench_of(person, opened))
    if bench.coat.lifts:
        weigh_powder()
    batch = batch_of(person, bench.bowl.pk)
    weighings = weighings_of(batch)
    lines = lines_of_batch(bench, weighings, batch.factor if batch else Decimal(1))
    hand = _hand(lines, sent)
    seen = forecast_of(bench)
    target_lab = bench.target_lab
    numbers = numbers_of(person, hand.shade) if hand and hand.shade else []
    today = timezone.localdate(now)
    return PourPage(
        bench=bench,
        batch=batch,
        lines=lines,
        hand=hand,
        then=seen.then,
        aim=None if target_lab is None else lock_of_colour(tuple(target_lab.tolist())),
        off=_off(seen.forecast),
        over=None if batch is None or batch.mixed_at else _over(bench, lines),
        token=secrets.token_hex(16),
        typed=sent.get("grams", "") if refusal else "",
        lot=sent.get("lot", "") if refusal else "",
        numbers=tuple(each.lot for each in numbers if not each.is_past(today))[:NUMBERS_SHOWN],
        past=tuple((each.lot, each.expires_on) for each in numbers if each.expires_on and each.is_past(today)),
        error_words=refusal_words(refusal) if refusal else "",
        gates=[seen for seen in _gates(person, opened, bench, batch) if seen.gate.severity is not Severity.NOTE],
        bowls=_bowls(bench),
        unmixed=next(iter(_unmixed(bench)), None),
        late=_late(bench, weighings),
    )


def _late(bench: ZoneBench, weighings: list[Weighing]) -> tuple[tuple[str, str], ...]:
    found = [each for each in weighings if each.meanwhile]
    names = {shade.pk: shade.name for shade in bench.stocked.shades}
    return tuple(
        (f"{shown_weight(each.poured_g)} {names.get(each.shade_id or 0, say('Developer'))}", each.meanwhile)
        for each in found
    )


def _gates(person: Person, opened: OpenZone, bench: Bench, batch: Batch | None) -> list[GateSeen]:
    """The gates of the bowl in hand on all that it colours; none before there is a colour in it."""
    if not bench.pours:
        return []
    asked = asked_of(person, opened.visit)
    return check(asked, bowl_coat(asked, bench, mixed_how(batch)))


def _over(bench: ZoneBench, lines: tuple[Line, ...]) -> OverWays | None:
    """The ways out while a shade is over what the recipe has of it; None when none is."""
    dyes = bench.stocked.dyes
    coloured = [(line.shade, line) for line in lines if line.shade]
    if not any(line.over_g for _, line in coloured):
        return None
    planned = Bowl(grams={dyes[shade.pk]: float(line.fair_g) for shade, line in coloured})
    poured = {dyes[shade.pk]: float(line.poured_g) for shade, line in coloured}
    canvas = canvas_of(bench.reading)
    ways = after_pours(canvas, planned, poured, step_g=SCALE_STEP_G, target_lab=bench.target_lab, process=bench.process)
    scaled = {dye: poured[dye] + ways.still_to_pour.get(dye, 0.0) for dye in planned.grams}
    assert ways.kept.bowl is not None and ways.left.bowl is not None  # noqa: S101 - both were forecast with a bowl
    return OverWays(
        more=tuple((shade.pk, shade.name, f"{scaled[dyes[shade.pk]]:.2f}") for shade, _ in coloured),
        total_g=shown_weight(ways.total_g),
        factor=f"{ways.factor:.4f}",
        kept=lock_of_bowl(canvas, ways.kept.bowl, bench.process),
        kept_off=_off(ways.kept),
        left=lock_of_bowl(canvas, ways.left.bowl, bench.process),
        left_off=_off(ways.left),
    )


def _off(forecast: Forecast) -> str:
    return (
        ""
        if forecast.aim is None
        else say("{delta_e00:.1f} off: {words}", delta_e00=forecast.aim.delta_e00, words=forecast.aim.words)
    )


def _due(person: Person, opened: OpenZone, bench: Bench) -> Bench:
    """The bench with the coat in hand that is named; else with the first of the zone that is to be weighed yet."""
    own = [each for each in bench.coats if each.zone.pk == bench.zone.pk]
    if opened.coat_id is not None or len(own) < 2:
        return bench
    due = next((each for each in own if not each.coat.begun and each.pours and each.mixed_g < each.total_g), None)
    return bench_of(person, replace(opened, coat_id=due.coat.pk)) if due else bench


def _bowls(bench: Bench) -> tuple[tuple[str, str, bool], ...]:
    """Each bowl of the head once: a coat of it as an address names it, what it is for where, and whether it is in hand.

    What a bowl is for is said where a zone has several coats.
    """
    served = _by_bowl(bench)
    several = len(bench.coats) > len(bench.zones)
    return tuple(
        (
            _address(coats),
            _bowl_words(bench, coats) if several else listed(dict.fromkeys(each.zone.name for each in coats)),
            bowl == bench.bowl.pk,
        )
        for bowl, coats in served.items()
    )


def _by_bowl(bench: Bench) -> dict[int, list[ZoneBench]]:
    """The coats of each bowl of the head, in their order."""
    served: dict[int, list[ZoneBench]] = {}
    for each in sorted(bench.coats, key=lambda coat: coat.coat.order):
        served.setdefault(each.bowl.pk, []).append(each)
    return served


def _address(coats: Sequence[ZoneBench]) -> str:
    return f"zone={coats[0].zone.pk}&coat_id={coats[0].coat.pk}"


def _unmixed(bench: Bench) -> Iterator[tuple[str, str]]:
    """The other bowls that have something in them and wait to be mixed for a first coat: address, and where it goes.

    What goes over something else is mixed when that is off.
    """
    for bowl, coats in _by_bowl(bench).items():
        is_next = all(each.coat.order == 0 and not each.coat.begun for each in coats)
        if bowl != bench.bowl.pk and is_next and coats[0].pours and coats[0].mixed_g < coats[0].total_g:
            yield _address(coats), listed(dict.fromkeys(each.zone.name for each in coats))


def _bowl_words(bench: Bench, coats: list[ZoneBench]) -> str:
    """What a bowl is for: its place among the coats, its purpose, and where, if the head has several zones."""
    first = coats[0].coat
    words = f"{first.order + 1} {begun(first.get_purpose_display())}"
    names = dict.fromkeys(each.zone.name for each in coats)
    return f"{words}: {listed(names)}" if len(bench.zones) > 1 else words
