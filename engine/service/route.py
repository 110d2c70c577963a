"""The route of a zone: what has to be done to its hair before a colour can be had, and what that costs.

Physics says what can be reached; which way is proposed is common practice with no published source.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final, NamedTuple

from engine.arrays import FloatArray, frozen
from engine.bowl.fill import FillFrom
from engine.bowl.ranking import JUST_VISIBLE
from engine.bowl.reach import within_reach
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, lightened
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.knowledge.knowledge import Knowledge
from engine.language import later, say
from engine.service.house import HowLight
from engine.service.lift import Lay, Lift, Strength, lift
from engine.service.steps import (
    MINUTES,
    USUAL,
    Finish,
    HairCost,
    Manner,
    Step,
    StepKind,
    finish_of,
    with_fill,
)

LIGHTEST_LEVEL: Final = 10.0  # the last at which lightener still stops by eye; chosen by the founders
CLOSE_ENOUGH: Final = 3.0  # delta E00 for which no hair is lifted any further; chosen by the founders
SPARED_SENTENCE: Final = later("White hair has little to lift, and roughens: colour alone comes first.")
DEEP_SENTENCE: Final = later(
    "The colour is no lighter than the hair: lightener for so little costs more than it brings."
)
MOSTLY_GREY: Final = 0.5  # share of white from which hair is spared lightener
SPARED_GAIN: Final = 5.0  # delta E00 that a lift must bring hair that is spared to be proposed; the founders'
DEEP_TO_LEVEL: Final = 6.5  # a colour this deep wants warmth beneath it; chosen by the founders
SPOT_LEVELS: Final = 1.0  # a lightened zone that lacks no more than this is re-lifted in spots
WARM_HUES_DEG: Final = (330.0, 110.0)  # through red to gold: over these, and under what is hardly a hue, a fill helps
MUTED_CHROMA: Final = 14.0
REMOVAL_LEAVES: Final = 0.3  # share of old direct dye that a remover or hard washing leaves; the founders' estimate
SAME_AIM: Final = 5.0  # delta E00 within which an aim is last time's
TONED_DOWN_BY: Final = 8.0  # C* by which a target is duller than the coloured hair


class RouteKind(StrEnum):
    """The trade's routes."""

    DEPOSIT = "deposit"
    LIFT = "lift"
    FILL = "fill"
    REMOVE = "remove"
    RELIFT = "relift"
    REFRESH = "refresh"
    TONE_DOWN = "tone_down"
    BY_HAND = "by_hand"


@dataclass(frozen=True, kw_only=True, eq=False)
class Route:
    """One way to a target: its steps, the hair before the last one, and how near the colour comes.

    lab: the nearest colour (3,) today. lift: the plan of the lift, if there is one. reasons: sentences.
    """

    kind: RouteKind
    steps: tuple[Step, ...]
    canvas: Canvas
    lab: FloatArray
    delta_e00: float
    cost: HairCost
    reasons: tuple[str, ...]
    lift: Lift | None = None

    @property
    def reaches(self) -> bool:
        """Whether the target is had today, near enough to leave the hair in peace."""
        return self.delta_e00 < CLOSE_ENOUGH

    @property
    def fills(self) -> bool:
        """Whether a fill goes beneath the colour."""
        return any(step.kind is StepKind.FILL for step in self.steps)

    @property
    def minutes(self) -> tuple[float, float]:
        """All steps, one after the other."""
        return sum(step.minutes[0] for step in self.steps), sum(step.minutes[1] for step in self.steps)


@dataclass(frozen=True, kw_only=True, eq=False)
class Routes:
    """The route that is proposed for a zone, and the others that can be walked, nearest colour first."""

    proposed: Route
    others: tuple[Route, ...]


def routes(
    canvas: Canvas,
    target_lab: FloatArray,
    shelf: Sequence[Shade],
    *,
    strength: Strength | None = None,
    lay: Lay = Lay.FOIL,
    on_scalp: bool = False,
    last_aim_lab: FloatArray | None = None,
    max_shades: int = 2,
    fill_from: FillFrom = FillFrom.TWO_LEVELS,
    taught: Knowledge | None = None,
    how_light: HowLight = HowLight.NEEDED,
    manner: Manner = USUAL,
) -> Routes:
    """The ways from a canvas to a target (3,) with a shelf. last_aim_lab: what this zone was aimed at last time.
    fill_from: from how far down the house fills; how_light: how far it lifts; manner: how else it works.

    taught: what the studio's results say, with the shelf as `Knowledge.taught` gives it. Raises EmptyShelf.
    """
    strength = strength or Strength()
    finish = finish_of(target_lab, shelf, max_shades=max_shades, taught=taught, manner=manner)
    lifts = _Lifts(strength, lay, on_scalp, how_light)
    deposit = _deposit(canvas, finish, last_aim_lab)
    filled = _filled(canvas, finish, fill_from)
    if filled:
        deposit = replace(
            deposit, reasons=(say("Colour alone, without warmth beneath: it goes hollow and fades early."),)
        )
    found = [deposit, *(route for route in (filled, _removed(canvas, finish, deposit)) if route)]
    if not deposit.reaches:
        found += [route for route in (_lifted(canvas, finish, deposit, lifts),) if route]
    proposed = _best(found, deposit.delta_e00, spared=_spares(canvas, finish.level, strength))
    others = sorted((route for route in found if route is not proposed), key=lambda route: route.delta_e00)
    return Routes(proposed=proposed, others=tuple(others))


def _spares(canvas: Canvas, level: float, strength: Strength) -> float:
    """By how much, delta E00, a lift must bring a colour as deep as a level nearer to be what is proposed: it is
    offered in any case. What was lifted today has had its share.
    """
    if strength.lifted_today:
        return math.inf
    return SPARED_GAIN if spared_words(canvas, level, 0.0) else 0.0


def spared_words(canvas: Canvas, level: float, gain: float) -> str:
    """Why a lift that brings a colour as deep as a level so much nearer, delta E00, is not worth it; nothing if it is.

    White and grey hair has little to lift, and roughens; natural hair is not lightened for a deep colour that is no
    lighter than itself (common practice, no published source).
    """
    if gain >= SPARED_GAIN or canvas.family is not Family.NATURAL:
        return ""
    if _is_mostly_grey(canvas):
        return SPARED_SENTENCE
    return DEEP_SENTENCE if level <= min(canvas.level, DEEP_TO_LEVEL) else ""


def _is_mostly_grey(canvas: Canvas) -> bool:
    return canvas.family is Family.NATURAL and canvas.grey >= MOSTLY_GREY


def _best(found: Sequence[Route], alone: float, spared: float) -> Route:
    """A fill that is due comes first; then what reaches the target at the least cost; then what gets nearest.

    Nothing that lifts is proposed unless it comes nearer by `spared` than colour alone, which comes within `alone`.
    """
    filled = [route for route in found if route.kind is RouteKind.FILL]
    if filled and filled[0].delta_e00 < min(route.delta_e00 for route in found if not route.lift) + CLOSE_ENOUGH:
        return filled[0]
    worth = [route for route in found if route.lift is None or route.delta_e00 <= alone - spared]
    reaching = [route for route in worth if route.reaches]
    if reaching:
        return min(reaching, key=lambda route: (route.cost, route.delta_e00))
    lifted = [route for route in worth if route.lift and route.lift.visits > 1]
    return lifted[0] if lifted else min(worth, key=lambda route: route.delta_e00)


def _deposit(canvas: Canvas, finish: Finish, last_aim_lab: FloatArray | None) -> Route:
    hair, ready = finish.readied(canvas)
    lab, off = finish.on(hair)
    kind, reason = RouteKind.DEPOSIT, say("This hair reaches the colour as it is.")
    if off >= CLOSE_ENOUGH:
        reason = say("On this hair as it is, colour alone comes within {off:.1f}.", off=off)
    elif canvas.old and last_aim_lab is not None and float(delta_e00(last_aim_lab, finish.target_lab)) < SAME_AIM:
        kind, reason = RouteKind.REFRESH, say("Last time's colour, faded: the same again, no more than it takes.")
    elif canvas.old and _is_toned_down(canvas, finish.target_lab):
        kind, reason = (
            RouteKind.TONE_DOWN,
            say("Duller than what is there: a deeper or opposite mix over it, no lightener."),
        )
    return Route(
        kind=kind,
        steps=(*ready, finish.step),
        canvas=hair,
        lab=frozen(lab),
        delta_e00=off,
        cost=HairCost.NONE,
        reasons=(reason,),
    )


def _is_toned_down(canvas: Canvas, target_lab: FloatArray) -> bool:
    now, then = lch_of(canvas_lab(canvas)), lch_of(target_lab)
    return float(now[1] - then[1]) >= TONED_DOWN_BY


def _filled(canvas: Canvas, finish: Finish, fill_from: FillFrom) -> Route | None:
    """A deep warm or natural colour on light hair wants its warmth back first. Natural hair has never lost it.

    Under a deep blue, green or violet a warm fill would only turn it brown.
    """
    down = canvas.level - finish.level
    if canvas.family is Family.NATURAL or not fill_from.is_due(down) or finish.level > DEEP_TO_LEVEL:
        return None
    _, chroma, hue = (float(part) for part in lch_of(finish.target_lab))
    if chroma > MUTED_CHROMA and WARM_HUES_DEG[1] < hue % 360 < WARM_HUES_DEG[0]:
        return None
    hair, ready = finish.readied(canvas)
    filled, step = with_fill(hair, finish)
    lab, off = finish.on(filled)
    return Route(
        kind=RouteKind.FILL,
        steps=(*ready, step, finish.step),
        canvas=filled,
        lab=frozen(lab),
        delta_e00=off,
        cost=HairCost.LITTLE,
        reasons=(
            say(
                "{down:.1f} levels darker on light hair: without warm pigment beneath it goes hollow or green, and "
                "fades early.",
                down=down,
            ),
        ),
    )


def _removed(canvas: Canvas, finish: Finish, deposit: Route) -> Route | None:
    """Getting old colour out first, where that brings the target visibly nearer."""
    if not canvas.old:
        return None
    left = tuple(replace(layer, k_s=layer.k_s * REMOVAL_LEAVES) for layer in canvas.old)
    hair, ready = finish.readied(replace(canvas, old=left))
    lab, off = finish.on(hair)
    if off > deposit.delta_e00 - JUST_VISIBLE:
        return None
    return Route(
        kind=RouteKind.REMOVE,
        steps=(
            Step(kind=StepKind.REMOVE, minutes=MINUTES["remove"]),
            finish.clean_up,
            *ready,
            finish.step,
        ),
        canvas=hair,
        lab=frozen(lab),
        delta_e00=off,
        cost=HairCost.LITTLE,
        reasons=(say("Old colour lies under the new one: washed or drawn out first, it no longer shows through."),),
    )


class _Lifts(NamedTuple):
    """How hair is lifted."""

    strength: Strength
    lay: Lay
    on_scalp: bool
    how_light: HowLight

    def to(self, canvas: Canvas, need: float) -> Lift | None:
        """The lift to a level that a colour needs; by a house that goes as light as it goes, all that today allows."""
        strength, lay, on_scalp, how_light = self
        if how_light is HowLight.LIGHTEST:
            all_of_it = lift(canvas, LIGHTEST_LEVEL, strength=strength, lay=lay, on_scalp=on_scalp)
            if all_of_it is not None and all_of_it.stop_level > need:
                need = all_of_it.stop_level
        return lift(canvas, max(need, canvas.level), strength=strength, lay=lay, on_scalp=on_scalp)


def _lifted(canvas: Canvas, finish: Finish, deposit: Route, lifts: _Lifts) -> Route | None:
    strength = lifts.strength
    bare = lightened(canvas, canvas.level)
    reach = within_reach(
        bare,
        finish.shelf,
        finish.target_lab,
        max_shades=finish.max_shades,
        near=CLOSE_ENOUGH,
        process=finish.process,
    )
    need = reach.best_level if reach.lowest_level is None else reach.lowest_level
    if reach.lowest_level is None and reach.best_delta_e00 > deposit.delta_e00 - JUST_VISIBLE:
        return None
    plan = lifts.to(canvas, need)
    if plan is None:  # light enough, once what lies on it is out
        return None
    hair, ready = finish.readied(plan.after)
    lab, off = finish.on(hair)
    spot = canvas.family is Family.LIGHTENED and not canvas.old and plan.levels <= SPOT_LEVELS
    if reach.lowest_level is None:
        reasons = [
            say(
                "Lifted to level {need:g}, colour comes within {best_delta_e00:.1f}; on the hair as it is, within "
                "{delta_e00:.1f}.",
                need=need,
                best_delta_e00=reach.best_delta_e00,
                delta_e00=deposit.delta_e00,
            )
        ]
    else:
        reasons = [say("This colour needs level {need:g}; the hair is at {level:g}.", need=need, level=canvas.level)]
    if plan.stop_level > need:
        reasons.append(say("The house lifts as light as it goes: today to level {level:g}.", level=plan.stop_level))
    if spared := spared_words(canvas, finish.level, deposit.delta_e00 - off):
        reasons.append(spared)
    if strength.lifted_today:
        reasons.append(
            say("It has been lifted today: another lift waits for another day, unless its strength is tested.")
        )
    if plan.visits > 1:
        reasons.append(
            say(
                "Today to level {stop_level:g} at most, {visits} visits in all: more at once is more than this hair "
                "should be asked.",
                stop_level=plan.stop_level,
                visits=plan.visits,
            )
        )
    if spot:
        reasons.append(say("Only the places that lag behind: keep lightener off what is light already."))
    return Route(
        kind=RouteKind.RELIFT if spot else RouteKind.LIFT,
        steps=(
            Step(kind=StepKind.LIFT, minutes=plan.expected_min),
            finish.clean_up,
            *ready,
            finish.step,
        ),
        canvas=hair,
        lab=frozen(lab),
        delta_e00=off,
        cost=HairCost.MUCH if strength.gives_way or plan.levels > 2 else HairCost.SOME,
        reasons=tuple(reasons),
        lift=plan,
    )
