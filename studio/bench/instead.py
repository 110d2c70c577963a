"""What makes the bowl when a tube of it runs out."""

from dataclasses import dataclass
from decimal import Decimal

from engine.bowl.match import Recipe
from engine.bowl.substitute import substitutes
from engine.errors import BadInput, EmptyShelf
from engine.language import say
from studio.bench.answers import pours_of
from studio.head.engine_adapter import lock_of_bowl, scale_of, stocked_shelf
from studio.head.selectors import Bench, ZoneBench
from studio.head.stock import stock_of
from studio.shelf.models import Shade
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of


@dataclass(frozen=True, kw_only=True)
class ShortOf:
    """A shade of the bowl of which the shelf holds less than is still to go in."""

    shade: Shade
    takes_g: Decimal

    @property
    def words(self) -> str:
        """What of it is missing."""
        if self.shade.stock_g <= 0:
            return say("{shade} is out", shade=self.shade)
        return say(
            "{shade}: {takes:weight} go in, {left:weight} are left",
            shade=self.shade,
            takes=self.takes_g,
            left=self.shade.stock_g,
        )


@dataclass(frozen=True, kw_only=True, eq=False)
class Stand:
    """A recipe that stands in, ready to show and to take. off: from the look that the bowl was to give."""

    lock: Lock
    pours: tuple[tuple[int, str, Decimal], ...]
    off: float
    words: str
    within_90: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Instead:
    """What is short, how the bowl was to look, and what makes that."""

    short: tuple[ShortOf, ...]
    wanted: Lock
    stands: tuple[Stand, ...]


def shorts_in(bench: ZoneBench) -> tuple[ShortOf, ...]:
    """The shades of the bowl in hand that run out, in shelf order."""
    still = ((shade, grams - bench.pours[shade.pk].mixed_g) for shade, grams in bench.poured)
    return tuple(ShortOf(shade=shade, takes_g=grams) for shade, grams in still if grams > shade.stock_g)


def instead_of(bench: Bench) -> Instead:
    """What makes the bowl in hand from what the shelf holds. Raises Refusal empty_bowl, none_short, begun_short,
    stock_short."""
    bowl, short = bench.mix, shorts_in(bench)
    if bowl is None:
        raise Refusal("empty_bowl", "grams")
    if not short:
        raise Refusal("none_short", "bench")
    if bench.mixed_g:
        raise Refusal("begun_short", "bench", names=", ".join(str(each.shade) for each in short))
    canvas, scale = canvas_of(bench.reading), scale_of(float(bench.total_g))
    try:
        found = substitutes(
            canvas, bowl, stocked_shelf(bench), stock=stock_of(bench.stocked), scale=scale, process=bench.process
        )
    except (BadInput, EmptyShelf):
        raise Refusal("stock_short", "bench", line=bench.stocked.line) from None
    return Instead(
        short=short,
        wanted=lock_of_colour(tuple(found.wanted_lab.tolist())),
        stands=tuple(_stand(bench, recipe) for recipe in found.recipes),
    )


def _stand(bench: Bench, recipe: Recipe) -> Stand:
    aim = recipe.forecasts[0].aim
    return Stand(
        lock=lock_of_bowl(canvas_of(bench.reading), recipe.bowl, bench.process),
        pours=pours_of(recipe.bowl, bench.stocked),
        off=recipe.delta_e00,
        words=aim.words if aim else "",
        within_90=recipe.within_90,
    )
