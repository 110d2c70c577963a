"""What coats are for, as rules: what each is mixed from, what goes before what, and which order can't be.

Common practice, no published source; the pack decides.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.dye.kind import Kind
from engine.errors import BadInput
from engine.service.schedule.work import Purpose

LIGHTENER: Final = "lightener"  # the kind of a line of powder or clay, whose shades have no colour of their own
UNFIXED: Final = frozenset({Kind.DIRECT.value, Kind.BOOSTER.value, Kind.MASK.value})
ALL_DYES: Final = frozenset(kind.value for kind in Kind)
PLAIN: Final = frozenset({Purpose.REMOVE, Purpose.EQUALISE, Purpose.SEAL})  # a product as it is, neither mix nor aim
# Which kinds of line a purpose may be mixed from.
MIXED_FROM: Final[Mapping[Purpose, frozenset[str]]] = {
    Purpose.LIFT: frozenset({LIGHTENER}),
    Purpose.FILL: UNFIXED | {Kind.DEMI.value},
    Purpose.PRE_TONE: ALL_DYES,
    Purpose.COLOUR: ALL_DYES,
    Purpose.OVERLAY: ALL_DYES,
    Purpose.GLAZE: UNFIXED | {Kind.DEMI.value},
    Purpose.MASK: UNFIXED,
}
RANK: Final[Mapping[Purpose, int]] = {purpose: rank for rank, purpose in enumerate(Purpose)}


@dataclass(frozen=True, kw_only=True)
class Laid:
    """A coat in its place. begun: whether it has been put on already."""

    purpose: Purpose
    begun: bool = False


def may_be_mixed(purpose: Purpose, line_kind: str) -> bool:
    """Whether a coat for a purpose may come from a line of a kind."""
    return line_kind in MIXED_FROM.get(purpose, frozenset())


def usual_place(purpose: Purpose, coats: Sequence[Laid]) -> int:
    """The index among a zone's coats at which a further one usually goes on; never before one that is on already."""
    ahead = [at for at, coat in enumerate(coats) if coat.begun or RANK[coat.purpose] <= RANK[purpose]]
    return ahead[-1] + 1 if ahead else 0


def check_order(coats: Sequence[Laid]) -> None:
    """Raises BadInput for an order that can't be: lightener takes out again what was to be put on before it."""
    coloured = False
    for index, coat in enumerate(coats):
        if coat.purpose is Purpose.LIFT and coloured:
            raise BadInput(f"coats.{index}", f"coats.{index} would lift out again what goes on before it")
        coloured = coloured or (coat.purpose not in PLAIN and coat.purpose is not Purpose.LIFT and not coat.begun)
