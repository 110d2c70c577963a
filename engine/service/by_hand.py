"""The way to a colour that a colourist lays out by hand, whatever is proposed."""

from collections.abc import Sequence
from dataclasses import dataclass

from engine.arrays import FloatArray, frozen
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.hair.residue import Family
from engine.knowledge.knowledge import Knowledge
from engine.language import say
from engine.service.lift import Lay, Strength, lift
from engine.service.route import Route, RouteKind
from engine.service.steps import USUAL, HairCost, Manner, Step, StepKind, finish_of, with_fill


@dataclass(frozen=True, kw_only=True)
class ByHand:
    """What a colourist wants done before the colour, whatever is proposed.

    lift_to: the level to lift to, in one visit; vol: with what, None for the usual. fill: warmth put back first.
    """

    lift_to: float | None = None
    vol: float | None = None
    fill: bool = False


def route_by_hand(
    canvas: Canvas,
    target_lab: FloatArray,
    shelf: Sequence[Shade],
    wanted: ByHand,
    *,
    strength: Strength | None = None,
    lay: Lay = Lay.FOIL,
    on_scalp: bool = False,
    max_shades: int = 2,
    taught: Knowledge | None = None,
    manner: Manner = USUAL,
) -> Route:
    """The way that a colourist lays out by hand to a target (3,), as far as it comes.

    manner: how the house works, whatever the hair.

    Raises OutOfRange for level and strength, BadInput for a lift to where the hair is already and for a fill of hair
    that has its warmth still; EmptyShelf.
    """
    strength = strength or Strength()
    finish = finish_of(target_lab, shelf, max_shades=max_shades, taught=taught, manner=manner)
    hair, steps, reasons, cost, plan = canvas, [], [], HairCost.NONE, None
    if wanted.lift_to is not None:
        plan = lift(canvas, wanted.lift_to, strength=strength, lay=lay, on_scalp=on_scalp, vol=wanted.vol, at_once=True)
        if plan is None:
            raise BadInput("lift_to", f"lift_to is {wanted.lift_to:g}: the hair is at {canvas.level:g} already")
        hair = plan.after
        steps += [Step(kind=StepKind.LIFT, minutes=plan.expected_min), finish.clean_up]
        cost = HairCost.MUCH if strength.gives_way or plan.levels > 2 else HairCost.SOME
        if plan.levels > strength.levels + 1e-9:
            reasons.append(
                say(
                    "{levels:g} levels in one visit: more than the {levels2:g} that this hair should bear.",
                    levels=plan.levels,
                    levels2=strength.levels,
                )
            )
    hair, ready = finish.readied(hair)
    steps += ready
    if wanted.fill:
        if hair.family is Family.NATURAL:
            raise BadInput("fill", "fill puts warmth back that lightener took: natural hair has its own")
        hair, step = with_fill(hair, finish)
        steps.append(step)
        cost = max(cost, HairCost.LITTLE)
    lab, off = finish.on(hair)
    return Route(
        kind=RouteKind.BY_HAND,
        steps=(*steps, finish.step),
        canvas=hair,
        lab=frozen(lab),
        delta_e00=off,
        cost=cost,
        reasons=tuple(reasons) or (say("As you lay it out."),),
        lift=plan,
    )
