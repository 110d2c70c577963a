"""The zones as tabs over the tresses, and as words beside them."""

from dataclasses import dataclass

from engine.language import decimals
from studio.head.engine_adapter import BenchForecast, ZoneSeen, length_of
from studio.head.selectors import Bench
from studio.visits.models import Zone

TRESS_TOP = 22.0  # where hair begins and ends in the drawing of a lock
TRESS_LENGTH = 356.0
TRESS_BOX = 400.0


@dataclass(frozen=True, kw_only=True)
class ZoneTab:
    """One zone: its colour now, how far off it is, which bowl serves it, and whether it is in hand."""

    zone: Zone
    hex: str
    off: str
    bowl: str
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class SeamLabel:
    """A zone's name and difference beside the tress. along: where it lies, in percent of the lock's height."""

    along: str
    name: str
    off: str
    chosen: bool


def zone_tabs(bench: Bench, seen: BenchForecast) -> list[ZoneTab]:
    """A tab for each zone. Bowls are lettered in the order in which zones first use them."""
    letters: dict[int, str] = {}
    for each in bench.zones:
        letters.setdefault(each.bowl.pk, chr(ord("A") + len(letters)))
    return [
        ZoneTab(
            zone=each.bench.zone,
            hex=each.forecast.hex,
            off="–" if each.bench.zone.left_alone else _short(_off(each)),
            bowl=letters[each.bench.bowl.pk] if len(bench.zones) > 1 else "",
            chosen=each.bench.zone.pk == bench.zone.pk,
        )
        for each in seen.zones
    ]


def tress_labels(bench: Bench, seen: BenchForecast) -> list[SeamLabel]:
    """Names beside the tress, root to end; none for a single zone."""
    ids = [each.zone.pk for each in bench.lengthwise]
    along = [each for each in seen.zones if each.bench.zone.pk in ids]
    if len(along) < 2:
        return []
    whole = sum(length_of(each) for each in along)
    labels, start = [], 0.0
    for each in along:
        middle = start + length_of(each) / 2
        labels.append(
            SeamLabel(
                along=f"{100 * (TRESS_TOP + TRESS_LENGTH * middle / whole) / TRESS_BOX:.1f}",
                name=each.bench.zone.name,
                off=_off(each),
                chosen=each.bench.zone.pk == bench.zone.pk,
            )
        )
        start += length_of(each)
    return labels


def _off(seen: ZoneSeen) -> str:
    aim = seen.forecast.aim
    return f"{aim.delta_e00:.1f}" if aim and seen.bench.pours else ""


def _short(off: str) -> str:
    """A difference as a narrow tab shows it: a tenth matters only below ten."""
    return decimals(off) if len(off) < 4 else f"{float(off):.0f}"
