"""What lies over the middle of the Bench when it is asked for."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

from studio.accounts.models import Person
from studio.bench.answers import Answers, Limits, Mending, WarmthWay, answers_of, mending_of, warmth_ways
from studio.bench.instead import Instead, instead_of
from studio.bench.looks import LookMeanwhile, PastelRung, looks_meanwhile, pastel_ladder
from studio.bench.middle import AIM_FIELDS
from studio.head.selectors import Bench
from studio.head.services.coats import lines_for
from studio.head.sight import Sight
from studio.head.whole import whole_head
from studio.photos.models import Photo
from studio.photos.selectors import photo_of
from studio.shelf.selectors import StockedLine, stocked_line
from studio.ui.locks import Lock
from studio.ui.refusal import Refusal
from studio.visits.head import HeadView

PANELS: Final = ("answers", "adjust", "warmth", "photo", "heads", "pastels", "meanwhile", "zones", "coats", "instead")
PANEL_FIELDS: Final = {
    "photo": ("photo",),
    "zones": ("name", "part", "blend", "zone"),
    "coats": ("purpose", "to_level", "minutes", "vol", "parts", "zone", "plain_grams", "product"),
}
UNTOLD_PANELS: Final = ("zones", "coats")  # what may lie over the middle while the forecast is covered
LIFT_PANELS: Final = ("zones", "coats", "heads")  # what lightener has: nothing of it aims


@dataclass(frozen=True, kw_only=True, eq=False)
class Panel:
    """What lies over the middle of the Bench when asked for; at most one of these is there."""

    name: str = ""
    answers: Answers | None = None
    mending: Mending | None = None
    ways: tuple[WarmthWay, ...] = ()
    photo: Photo | None = None
    heads: tuple[tuple[str, tuple[HeadView, ...]], ...] = ()
    pastels: tuple[PastelRung, ...] = ()
    looks: tuple[LookMeanwhile, ...] = ()
    instead: Instead | None = None

    @property
    def fields(self) -> tuple[str, ...]:
        """Fields whose refusals are told on it."""
        return PANEL_FIELDS.get(self.name, ())


def panel_of(
    person: Person, bench: Bench, name: str, limits: Limits, *, sight: Sight, dry: Callable[[], Lock]
) -> Panel:
    """What is asked for over the middle. sight: how the head is looked at. dry: the bowl's own look.

    Raises Refusal when it can't be had.
    """
    if bench.coat.lifts and name not in LIFT_PANELS:
        return Panel()
    asked: dict[str, Callable[[], dict[str, Any]]] = {
        "answers": lambda: {"answers": answers_of(bench, limits, () if limits.one_line else _lines(person, bench))},
        "adjust": lambda: {"mending": mending_of(bench)},
        "warmth": lambda: {"ways": warmth_ways(bench)},
        "photo": lambda: {"photo": photo_of(bench.visit.pk)},
        "heads": lambda: {"heads": whole_head(bench, sight).drawn(bench.zone, taps=True)},
        "pastels": lambda: {"pastels": pastel_ladder(bench)},
        "meanwhile": lambda: {"looks": looks_meanwhile(bench, dry())},
        "instead": lambda: {"instead": instead_of(bench)},
        "zones": dict,
        "coats": dict,
    }
    return Panel(name=name, **asked[name]()) if name in asked else Panel()


def _lines(person: Person, bench: Bench) -> tuple[StockedLine, ...]:
    """The lines that the coat in hand may be mixed from, on the client's hair."""
    return tuple(stocked_line(line, bench.stocked.client) for line in lines_for(person, bench.coat.purpose))


def place_of_refusal(refusal: Refusal, over: Panel, *, steering: bool) -> str:
    """Beside which field a refusal is told; over the bowl when that field is not on the screen."""
    aiming = () if steering else ("aim", *(name for name, _ in AIM_FIELDS))
    placed = {"grams", "total_grams", *aiming, *over.fields}
    return refusal.field if refusal.field in placed else "bench"
