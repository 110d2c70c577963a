"""One aim from one line or another: how near each comes, how long it keeps, how it shines, what it costs the hair.

That direct dye and mild colour lay themselves on the hair and give it shine, and that permanent colour opens it, is
common practice, no published source; how much each costs the hair is the founders' ranking of it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.fade import WASHES_MOST, fade
from engine.bowl.match import Recipe, match
from engine.bowl.mix import FULL_TIME_DRY, Process
from engine.bowl.ranking import ALIKE, CHANCE
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.dye.kind import Kind
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.language import later
from engine.service.steps import HairCost


class Shine(StrEnum):
    """What a kind of colour does to the shine."""

    MORE = later("more shine")
    OWN = later("the hair's own shine")


SHINES: Final[Mapping[Kind, Shine]] = dict.fromkeys(Kind, Shine.MORE) | {Kind.PERMANENT: Shine.OWN}
COSTS: Final[Mapping[Kind, HairCost]] = dict.fromkeys(Kind, HairCost.NONE) | {
    Kind.DEMI: HairCost.LITTLE,
    Kind.PERMANENT: HairCost.SOME,
}


@dataclass(frozen=True, kw_only=True, eq=False)
class LineWay:
    """The nearest recipe of one line to an aim.

    keeps_washes: the first wash after which it is visibly off its own first day; None where it keeps longer than
    WASHES_MOST. minutes: the least and most that packs usually ask for.
    """

    recipe: Recipe
    keeps_washes: int | None
    minutes: tuple[float, float]
    shine: Shine
    cost: HairCost


def ranked_across(found: Sequence[Sequence[Recipe]], answers: int) -> tuple[tuple[int, Recipe], ...]:
    """The best few of several lines' recipes, best first, each with the place of its line in `found`.

    Ordered as one line's are, but for spread and cost, which say nothing between lines; the best of each line comes
    before a second of any, so that a choice of lines is one.
    """
    every = [(line, recipe) for line, recipes in enumerate(found) for recipe in recipes]
    ranked = sorted(every, key=lambda each: _rank(each[1]))
    best = sorted({line: place for place, (line, _) in reversed(list(enumerate(ranked)))}.values())
    others = [place for place in range(len(ranked)) if place not in best]
    chosen = [*best, *others][:answers]
    return tuple(ranked[place] for place in sorted(chosen))


def _rank(recipe: Recipe) -> tuple[float, ...]:
    return -round(recipe.chance / CHANCE), recipe.delta_e00 // ALIKE, recipe.shade_count, recipe.delta_e00


def line_way(
    canvas: Canvas,
    target_lab: FloatArray,
    shelf: Sequence[Shade],
    *,
    scale: Scale,
    max_shades: int = 3,
    stock: Stock = PLENTY,
    process: Process = FULL_TIME_DRY,
) -> LineWay:
    """The nearest recipe of a line to a target (3,) on a canvas, with how it is to live with. Raises EmptyShelf.

    What a mixed line does is what its strongest kind does.
    """
    found = match(
        canvas, shelf, target_lab, scale=scale, max_shades=max_shades, answers=1, stock=stock, process=process
    )
    recipe = found.recipes[0]
    kinds = [shade.kind for shade in recipe.bowl.colours] or [shade.kind for shade in shelf if not shade.is_clear]
    strongest = max(kinds, key=COSTS.__getitem__)
    return LineWay(
        recipe=recipe,
        keeps_washes=fade(canvas, recipe.bowl, washes=WASHES_MOST, process=process).off_after,
        minutes=strongest.habits.usual_min,
        shine=SHINES[strongest],
        cost=COSTS[strongest],
    )
