"""Mending a bowl that is already mixed: it can only be added to."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache
from typing import Final

from engine.arrays import FloatArray, within
from engine.bowl.additions import CLOSE_ENOUGH, Search, best_additions, search_for
from engine.bowl.goal import ZoneAim, shares_of
from engine.bowl.match import aim_of
from engine.bowl.mix import FULL_TIME_DRY, GRAMS_LIMIT, Bowl, Process
from engine.bowl.predict import Forecast, predict_zones
from engine.bowl.seek import REAIMED
from engine.bowl.taught import aimed_beside, is_beside
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import BadInput, EmptyBowl, EmptyShelf
from engine.hair.canvas import Canvas

KEEP_PARTS: Final = (0.75, 0.5, 0.25)
FREEST: Final = min(KEEP_PARTS)
HARDLY_MORE: Final = 0.5  # delta E00


class Mend(StrEnum):
    """What it takes to mend the bowl."""

    NOTHING = "nothing"
    ADD = "add"
    KEEP_PART = "keep_part"
    CANNOT = "cannot"


@dataclass(frozen=True, kw_only=True, eq=False)
class Adjustment:
    """How to mend a bowl, as far as it can be.

    keep_fraction: the part of the bowl that is built on; waste_g: what is thrown away. additions: grams by shade.
    surplus_g: how much more than wanted the mended bowl holds, 0 if the head needs it all. befores, afters: the
    forecasts of each zone. delta_e00: what is still missing after the additions, the mean over zones by weight.
    """

    way: Mend
    keep_fraction: float
    waste_g: float
    additions: Mapping[Shade, float]
    befores: tuple[Forecast, ...]
    afters: tuple[Forecast, ...]
    delta_e00: float
    total_g: float
    surplus_g: float

    @property
    def before(self) -> Forecast:
        """The first zone's forecast of the bowl as it is."""
        return self.befores[0]

    @property
    def after(self) -> Forecast:
        """The first zone's forecast of the mended bowl."""
        return self.afters[0]


def adjust(
    canvas: Canvas,
    bowl: Bowl,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    max_total_g: float,
    wanted_g: float | None = None,
    step_g: float = 0.1,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Adjustment:
    """`adjust_zones` for one zone and its target (3,)."""
    return adjust_zones(
        [ZoneAim(canvas=canvas, target_lab=target_lab)],
        bowl,
        shelf,
        max_total_g=max_total_g,
        wanted_g=wanted_g,
        step_g=step_g,
        process=process,
        light=light,
    )


def adjust_zones(
    zones: Sequence[ZoneAim],
    bowl: Bowl,
    shelf: Sequence[Shade],
    *,
    max_total_g: float,
    wanted_g: float | None = None,
    step_g: float = 0.1,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Adjustment:
    """The fewest and smallest additions, at most two shades and clear, that bring a bowl to the targets of its zones.

    If none does within max_total_g, a part of the bowl is kept and built on; if that fails too, the closest is given.
    wanted_g: what the head needs, the bowl's own total by default. Raises EmptyBowl, EmptyShelf, OutOfRange, and
    BadInput when the bowl is over max_total_g already.
    """
    within("max_total_grams", max_total_g, 1.0, GRAMS_LIMIT, "g")
    if bowl.total_g <= 0:
        raise EmptyBowl
    if bowl.total_g > max_total_g + 1e-9:
        raise BadInput(
            "max_total_grams", f"max_total_grams is {max_total_g:g} g: the bowl holds {bowl.total_g:g} g already"
        )
    if not [shade for shade in shelf if not shade.is_clear]:
        raise EmptyShelf
    targets = [zone.target_lab for zone in zones]

    def forecasts(mix: Bowl) -> tuple[Forecast, ...]:
        hair = [zone.canvas for zone in zones]
        return tuple(predict_zones(hair, mix, process=process, light=light, targets_lab=targets))

    befores, shares = forecasts(bowl), shares_of(zones)
    sought = [float(delta_e00(zone.sought_lab, each.lab)) for zone, each in zip(zones, befores, strict=True)]
    if float(shares @ sought) < CLOSE_ENOUGH:
        way, kept, mended = Mend.NOTHING, 1.0, bowl
    else:
        way, kept, mended = Mend.CANNOT, 1.0, bowl
        for _ in range(REAIMED if any(is_beside(zone.canvas, [*shelf, *bowl.grams], process) for zone in zones) else 1):
            aims = aimed_beside(zones, mended, process, light, [*shelf, *bowl.grams])
            way, kept, mended = _plan(search_for(aims, bowl, shelf, step_g, process, light), bowl, max_total_g)
    additions = {shade: round(grams - kept * bowl.grams.get(shade, 0.0), 6) for shade, grams in mended.grams.items()}
    afters = forecasts(mended)
    return Adjustment(
        way=way,
        keep_fraction=kept,
        waste_g=round((1 - kept) * bowl.total_g, 6),
        additions={shade: grams for shade, grams in additions.items() if grams > 1e-9},
        befores=befores,
        afters=afters,
        delta_e00=float(shares @ [aim_of(each) for each in afters]),
        total_g=mended.total_g,
        surplus_g=max(mended.total_g - (wanted_g or bowl.total_g), 0.0),
    )


def _plan(search: Search, bowl: Bowl, max_total_g: float) -> tuple[Mend, float, Bowl]:
    """Additions to the whole bowl, else to a part of it; else the closest of all.

    The less is kept, the more can be made of it: what the least part can't mend, none can.
    """

    @cache
    def tried(kept: float) -> tuple[float, FloatArray]:
        part = replace(search, held=kept * search.held, room_g=max_total_g - kept * bowl.total_g)
        additions = best_additions(part)
        return float(part.differences(additions)), part.held + additions

    enough = CLOSE_ENOUGH
    if tried(1.0)[0] >= enough and tried(FREEST)[0] >= enough:
        # Where nothing mends it, what brings hardly more is not worth throwing colour away.
        enough = tried(FREEST)[0] + HARDLY_MORE
    kept = next((part for part in (1.0, *KEEP_PARTS) if tried(part)[0] < enough), FREEST)
    difference, grams = tried(kept)
    way = Mend.CANNOT if difference >= CLOSE_ENOUGH else Mend.ADD if kept == 1 else Mend.KEEP_PART
    return way, kept, Bowl(grams={shade: float(g) for shade, g in zip(search.shades, grams, strict=True) if g > 0})
