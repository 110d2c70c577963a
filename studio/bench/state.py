"""The bench as plain data: what a step remembers, and how it is put back."""

from collections.abc import Mapping
from decimal import Decimal
from typing import TypedDict

from studio.bench.models import Bowl, Pour


class BenchState(TypedDict):
    """Grams by shade id, the line's id, the grams wanted, and the aim, in types that JSON keeps exactly."""

    line: int
    wanted_g: str
    target: list[str] | None
    grams: dict[str, str]


def state_of(bowl: Bowl) -> BenchState:
    """The state of a bowl as it stands in the database. One query."""
    target = [bowl.target_l, bowl.target_a, bowl.target_b]
    return BenchState(
        line=bowl.line_id,
        wanted_g=str(bowl.wanted_g),
        target=None if None in target else [str(part) for part in target],
        grams={str(shade): str(grams) for shade, grams in bowl.pours.values_list("shade_id", "grams")},
    )


def restore(bowl: Bowl, state: BenchState) -> None:
    """Put a bowl back to a state; the bowl itself is left for the caller to save."""
    bowl.line_id = state["line"]
    bowl.wanted_g = Decimal(state["wanted_g"])
    set_target(bowl, None if state["target"] is None else [Decimal(part) for part in state["target"]])
    refill(bowl, {int(shade): Decimal(grams) for shade, grams in state["grams"].items()})


def set_target(bowl: Bowl, lab: list[Decimal] | None) -> None:
    """Set or clear the aim, L*a*b* to three decimals; the bowl is left for the caller to save."""
    parts = [None, None, None] if lab is None else [round(part, 3) for part in lab]
    bowl.target_l, bowl.target_a, bowl.target_b = parts


def refill(bowl: Bowl, grams: Mapping[int, Decimal]) -> None:
    """Empty a bowl and pour grams by shade id."""
    bowl.pours.all().delete()
    Pour.objects.bulk_create(Pour(bowl=bowl, shade_id=shade, grams=g) for shade, g in grams.items() if g > 0)
