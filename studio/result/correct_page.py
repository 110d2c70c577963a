"""What the corrections page shows: the hair as it turned out, and ways to put it right."""

import datetime
from dataclasses import dataclass
from typing import Final

from django.utils import timezone
from django.utils.formats import date_format

from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl
from engine.hair.canvas import Canvas
from engine.service.remedy import Remedies as Found
from engine.service.remedy import Remedy, Trouble, Way, remedies
from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.cards.selectors import newest_formula
from studio.cards.worked import worked_on
from studio.head.engine_adapter import stocked_shelf
from studio.head.selectors import Bench, bench_of
from studio.result.selectors import home_care_of
from studio.shelf.selectors import stocked_line
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import asked_of, strength_of
from studio.visits.selectors import OpenZone

TROUBLES: Final = (
    (Trouble.TOO_BRIGHT, "too bright"),
    (Trouble.TOO_DARK, "too dark"),
    (Trouble.TOO_WARM, "too warm"),
    (Trouble.GREEN, "green"),
    (Trouble.UNEVEN, "uneven"),
    (Trouble.PALE_ROOT, "pale root"),
    (Trouble.TONE_DOWN, "tone it down for work"),
)
WAY_WORDS: Final = {
    Way.WASH: "Wash it out",
    Way.COLOUR: "Colour over it",
    Way.WASH_THEN_COLOUR: "Wash, then colour over it",
    Way.REMOVE: "Take colour out, then colour",
    Way.LIFT: "Lift, then colour",
    Way.FILL: "Put warmth in, then colour",
}


@dataclass(frozen=True, kw_only=True, eq=False)
class RemedyShown:
    """One way, ready to show; lab: what it leads to, as a form's text."""

    remedy: Remedy
    title: str
    how: str
    lock: Lock
    cost: str


@dataclass(frozen=True, kw_only=True, eq=False)
class CorrectPage:
    """The corrections page as its template takes it. on_hair: what lies on the hair, in words."""

    bench: Bench
    trouble: Trouble
    troubles: tuple[tuple[str, str, bool], ...]
    on_hair: str
    canvas: Canvas
    now: Lock
    wanted: Lock
    ways: tuple[RemedyShown, ...]
    dont: str
    error_words: str


def correct_page(person: Person, opened: OpenZone, *, named: str, refusal: Refusal | None = None) -> CorrectPage:
    """Gather the page for a trouble by name, too bright unless another is known."""
    bench = bench_of(person, opened)
    trouble = Trouble(named) if named in set(Trouble) else Trouble.TOO_BRIGHT
    canvas, on_hair = _hair(person, bench)
    found = _found(person, bench, opened, trouble, canvas)
    return CorrectPage(
        bench=bench,
        trouble=trouble,
        troubles=tuple((each.value, words, each is trouble) for each, words in TROUBLES),
        on_hair=on_hair,
        canvas=canvas,
        now=lock_of_colour(tuple(found.now_lab.tolist())),
        wanted=lock_of_colour(tuple(found.wanted_lab.tolist())),
        ways=tuple(_shown(each) for each in found.ways),
        dont=found.dont,
        error_words=refusal_words(refusal) if refusal else "",
    )


def _found(person: Person, bench: Bench, opened: OpenZone, trouble: Trouble, canvas: Canvas) -> Found:
    asked = asked_of(person, opened.visit)
    return remedies(trouble, canvas, stocked_shelf(bench), strength=strength_of(asked, bench.zone, bench.reading))


def _hair(person: Person, bench: Bench) -> tuple[Canvas, str]:
    """The hair with today's bowl on it once it was poured, else with what is left of the last card's, else as read."""
    canvas, bowl = canvas_of(bench.reading), bench.mix
    if bowl is not None and bench.mixed_g:
        worked = worked_on(person, bench)
        return faded_canvas(canvas, bowl, 0, process=worked.process), "today's bowl, as it was poured"
    last = newest_formula(person, bench.visit.client_id, bench.zone.part)
    if last is not None and last.visit_id != bench.visit.pk:
        washes = _washes_since(person, last, bench.visit.day)
        return faded_canvas(canvas_of(last), _bowl_of(last), washes), (
            f"the colour of {date_format(timezone.localtime(last.saved_at), 'j M Y')}, after about {_washes(washes)}"
        )
    return canvas, "the hair as it was read"


def _washes(count: float) -> str:
    return f"{count:.0f} wash{'' if round(count) == 1 else 'es'}"


def _washes_since(person: Person, last: Formula, day: datetime.date) -> float:
    care = home_care_of(person, last.visit)
    weeks = max((day - last.visit.day).days, 0) / 7
    return min(weeks * float(care.washes_a_week), 60.0)


def _bowl_of(formula: Formula) -> Bowl:
    dyes = stocked_line(formula.line).dyes
    return Bowl(grams={dyes[pour.shade_id]: float(pour.grams) for pour in formula.pours.all() if pour.shade_id in dyes})


def _shown(remedy: Remedy) -> RemedyShown:
    least, most = remedy.minutes
    parts = [
        f"{remedy.washes} washes first" if remedy.washes and remedy.way is not Way.WASH else "",
        f"{remedy.washes} washes" if remedy.way is Way.WASH else "",
        f"{least:.0f} to {most:.0f} min in the chair" if most else "",
        "no way back" if remedy.way in (Way.REMOVE, Way.LIFT) else "",
    ]
    return RemedyShown(
        remedy=remedy,
        title=WAY_WORDS[remedy.way],
        how=", ".join(part for part in parts if part),
        lock=lock_of_colour(tuple(remedy.lab.tolist())),
        cost=remedy.cost.words,
    )
