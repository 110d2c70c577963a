"""What stands in for tubes that run out: the look of a bowl made from what is there."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.match import Recipe, match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas

ANSWERS: Final = 3


@dataclass(frozen=True, kw_only=True, eq=False)
class Substitutes:
    """The look (3,) that a bowl was to give, and the recipes that come nearest to it from what is there."""

    wanted_lab: FloatArray
    recipes: tuple[Recipe, ...]


def substitutes(
    canvas: Canvas,
    bowl: Bowl,
    shelf: Sequence[Shade],
    *,
    stock: Stock = PLENTY,
    scale: Scale,
    max_shades: int = 3,
    process: Process = FULL_TIME_DRY,
    answers: int = ANSWERS,
) -> Substitutes:
    """Recipes for what a bowl looks like on a canvas, of no more of each shade than there is.

    It is the look on this hair that is to be the same, dry and in daylight: another light may part what matches here.
    Raises EmptyShelf, and BadInput where too little of everything is left.
    """
    wanted = predict(canvas, bowl, process=process).lab
    found = match(
        canvas,
        shelf,
        wanted,
        scale=scale,
        max_shades=max_shades,
        answers=answers,
        stock=stock,
        process=process,
    )
    return Substitutes(wanted_lab=wanted, recipes=found.recipes)
