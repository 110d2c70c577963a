"""What lies over the middle of the Bench when it is asked for."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from studio.accounts.models import Person
from studio.bench.answers import Answers, Limits, Mending, WarmthWay, answers_of, mending_of, warmth_ways
from studio.bench.looks import LookMeanwhile, PastelRung, heads_of, looks_meanwhile, pastel_ladder
from studio.bench.middle import AIM_FIELDS
from studio.head.selectors import Bench
from studio.head.services.coats import lines_for
from studio.photos.models import Photo
from studio.photos.selectors import photo_of
from studio.shelf.selectors import StockedLine, stocked_line
from studio.ui.locks import Lock
from studio.ui.refusal import Refusal
from studio.visits.head import HeadView

PANELS: Final = ("answers", "adjust", "warmth", "photo", "heads", "pastels", "meanwhile", "zones", "coats")
PANEL_FIELDS: Final = {
    "photo": ("photo",),
    "zones": ("name", "part", "blend", "zone"),
    "coats": ("purpose", "to_level", "minutes", "vol", "parts", "zone", "plain_grams", "product"),
}
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

    @property
    def fields(self) -> tuple[str, ...]:
        """Fields whose refusals are told on it."""
        return PANEL_FIELDS.get(self.name, ())


def panel_of(person: Person, bench: Bench, name: str, limits: Limits, dry: Callable[[], Lock]) -> Panel:
    """What is asked for over the middle. dry: the bowl's own look. Raises Refusal when it can't be had."""
    if bench.coat.lifts and name not in LIFT_PANELS:
        return Panel()
    match name:
        case "answers":
            lines = () if limits.one_line else _lines(person, bench)
            return Panel(name=name, answers=answers_of(bench, limits, lines))
        case "adjust":
            return Panel(name=name, mending=mending_of(bench))
        case "warmth":
            return Panel(name=name, ways=warmth_ways(bench))
        case "photo":
            return Panel(name=name, photo=photo_of(bench.visit.pk))
        case "heads":
            return Panel(name=name, heads=heads_of(bench))
        case "pastels":
            return Panel(name=name, pastels=pastel_ladder(bench))
        case "meanwhile":
            return Panel(name=name, looks=looks_meanwhile(bench, dry()))
        case "zones" | "coats":
            return Panel(name=name)
        case _:
            return Panel()


def _lines(person: Person, bench: Bench) -> tuple[StockedLine, ...]:
    """The lines that the coat in hand may be mixed from, on the client's hair."""
    return tuple(stocked_line(line, bench.stocked.client) for line in lines_for(person, bench.coat.purpose))


def place_of_refusal(refusal: Refusal, over: Panel, *, steering: bool) -> str:
    """Beside which field a refusal is told; over the bowl when that field is not on the screen."""
    aiming = () if steering else ("aim", *(name for name, _ in AIM_FIELDS))
    placed = {"grams", "total_grams", *aiming, *over.fields}
    return refusal.field if refusal.field in placed else "bench"
