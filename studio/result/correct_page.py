"""What the corrections page shows: the hair as it turned out, and ways to put it right."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Final

import numpy as np
from django.utils import timezone

from engine.arrays import FloatArray
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl
from engine.bowl.pot import POT_MOST_G
from engine.hair.canvas import Canvas
from engine.language import counted, later, say
from engine.service.remedy import BLEACH_PARTS, Remedy, Way, remedies
from engine.service.steps import HairCost
from engine.service.trouble import AGAINST_THE_REST, Readiness, Trouble, readiness
from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.cards.selectors import newest_formula
from studio.cards.worked import worked_on
from studio.head.engine_adapter import finish_lab, reckoned_shelf, scale_of
from studio.head.selectors import Bench, bench_of
from studio.head.stock import stock_of
from studio.photos.models import Photo
from studio.result.selectors import washes_since
from studio.result.spots import Spots, spots_of
from studio.route.planned import needed_of
from studio.shelf.selectors import stocked_line
from studio.ui.days import day_words
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked, asked_of, known_of, place_of, strength_of
from studio.visits.selectors import OpenZone

TROUBLES: Final = (
    (Trouble.TOO_BRIGHT, later("too bright")),
    (Trouble.TOO_DARK, later("too dark")),
    (Trouble.TOO_WARM, later("too warm")),
    (Trouble.GREEN, later("green")),
    (Trouble.PURPLE_CAST, later("purple cast")),
    (Trouble.FADED, later("faded")),
    (Trouble.UNEVEN, later("uneven")),
    (Trouble.PATCHY, later("patchy")),
    (Trouble.BANDED, later("banded")),
    (Trouble.PALE_ROOT, later("pale root")),
    (Trouble.HOT_ROOT, later("hot root")),
    (Trouble.TONE_DOWN, later("tone it down")),
)
WAY_WORDS: Final = {
    Way.WASH: later("Wash it out"),
    Way.COLOUR: later("Colour over it"),
    Way.WASH_THEN_COLOUR: later("Wash, then colour over it"),
    Way.BLEACH_WASH: later("Bleach wash, then colour"),
    Way.REMOVE: later("Take colour out, then colour"),
    Way.LIFT: later("Lift, then colour"),
    Way.FILL: later("Put warmth in, then colour"),
}
# What goes on before the colour, of which the hair takes as much as it does of colour.
FIRST: Final = {
    Way.REMOVE: later("remover, as its pack says"),
    Way.LIFT: later("lightener, and its developer"),
    Way.FILL: later("a warm filler: Route has its recipe"),
}
COLOURS_ONLY: Final = frozenset({Way.COLOUR, Way.WASH_THEN_COLOUR})  # the rest asks for coats before the colour
LEAST_G: Final = 5.0


@dataclass(frozen=True, kw_only=True, eq=False)
class RemedyShown:
    """One way, ready to show. first: what goes on before its colour, in grams. pours, grams: the colour, by name and by
    row. before: what stands before it, in words."""

    remedy: Remedy
    title: str
    how: str
    lock: Lock
    cost: str
    first: str
    pours: tuple[tuple[str, Decimal], ...]
    grams: tuple[tuple[int, Decimal], ...]
    before: str

    @property
    def colours_only(self) -> bool:
        """Whether nothing but colour goes on."""
        return self.remedy.way in COLOURS_ONLY

    @property
    def is_taken_up(self) -> bool:
        """Whether there is anything to do here: washing is done at home."""
        return self.remedy.way is not Way.WASH


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
    tested: str
    wanted_is: str
    spots: Spots
    error_words: str


def correct_page(person: Person, opened: OpenZone, *, named: str, refusal: Refusal | None = None) -> CorrectPage:
    """Gather the page for a trouble by name, too bright unless another is known."""
    bench = bench_of(person, opened)
    trouble = Trouble(named) if named in set(Trouble) else Trouble.TOO_BRIGHT
    asked = asked_of(person, opened.visit)
    canvas, on_hair = _hair(person, bench)
    rest = _rest_lab(bench) if trouble in AGAINST_THE_REST else None
    grams = min(max(round(needed_of(person, bench, bench, asked).grams), LEAST_G), POT_MOST_G)
    found = remedies(
        trouble,
        canvas,
        reckoned_shelf(bench),
        wanted_lab=rest,
        strength=strength_of(asked, bench.zone, bench.reading),
        scale=scale_of(grams),
        stock=stock_of(bench.stocked),
    )
    ready = readiness(known_of(asked, bench.zone), place_of(bench.zone, bench.reading), tested=_is_tested(asked))
    return CorrectPage(
        bench=bench,
        trouble=trouble,
        troubles=tuple((each.value, words, each is trouble) for each, words in TROUBLES),
        on_hair=on_hair,
        canvas=canvas,
        now=lock_of_colour(tuple(found.now_lab.tolist())),
        wanted=lock_of_colour(tuple(found.wanted_lab.tolist())),
        ways=tuple(_shown(each, bench, grams, ready) for each in found.ways),
        dont=found.dont,
        tested=_tested_words(asked),
        wanted_is=say("wanted, as the rest of the head") if rest is not None else say("wanted"),
        spots=spots_of(Photo.objects.visible_to(person).filter(visit=bench.visit, purpose=Photo.Purpose.WRONG).first()),
        error_words=refusal_words(refusal) if refusal else "",
    )


def _rest_lab(bench: Bench) -> FloatArray | None:
    """How the rest of the head looks, L*a*b* (3,), with what is in its bowls; None for a head of one zone."""
    others = [finish_lab(each) for each in bench.zones if each.zone.pk != bench.zone.pk]
    return np.mean(others, axis=0) if others else None


def _is_tested(asked: Asked) -> bool:
    """Whether stretch and curl were tried today."""
    at = asked.consult.integrity_at
    return at is not None and timezone.localdate(at) == timezone.localdate(asked.now)


def _tested_words(asked: Asked) -> str:
    at, consult = asked.consult.integrity_at, asked.consult
    if at is None or not _is_tested(asked):
        return ""
    failed = [
        words
        for words, is_so in ((say("stretch"), consult.stretch_failed), (say("curl"), consult.curl_loosened))
        if is_so
    ]
    how = say("{failed} gave way", failed=say(" and ").join(failed)) if failed else say("stretch and curl held")
    return say("{how} at {hour:%H:%M}", how=how, hour=timezone.localtime(at))


def _hair(person: Person, bench: Bench) -> tuple[Canvas, str]:
    """The hair with today's bowl on it once it was poured, else with what is left of the last card's, else as read."""
    canvas, bowl = canvas_of(bench.reading), bench.mix
    if bowl is not None and bench.mixed_g:
        worked = worked_on(person, bench)
        return faded_canvas(canvas, bowl, 0, process=worked.process), say("today's bowl, as it was poured")
    last = newest_formula(person, bench.visit.client_id, bench.zone.part)
    if last is not None and last.visit_id != bench.visit.pk:
        washes = washes_since(person, last.visit, bench.visit.day)
        return faded_canvas(canvas_of(last), _bowl_of(last), washes), (
            say(
                "the colour of {day}, after about {washes}",
                day=day_words(last.saved_at),
                washes=_washes(washes),
            )
        )
    return canvas, say("the hair as it was read")


def _washes(count: float) -> str:
    return counted("{count} wash", "{count} washes", round(count))


def _bowl_of(formula: Formula) -> Bowl:
    dyes = stocked_line(formula.line, str(formula.client_id)).dyes
    return Bowl(grams={dyes[pour.shade_id]: float(pour.grams) for pour in formula.pours.all() if pour.shade_id in dyes})


def _shown(remedy: Remedy, bench: Bench, grams: float, ready: Readiness) -> RemedyShown:
    least, most = remedy.minutes
    parts = [
        say("{washes} washes first", washes=remedy.washes) if remedy.washes and remedy.way is not Way.WASH else "",
        say("{washes} washes", washes=remedy.washes) if remedy.way is Way.WASH else "",
        say("{least:.0f} to {most:.0f} min in the chair", least=least, most=most) if most else "",
        say("counts as a lift") if remedy.is_lift else "",
        say("no way back") if remedy.way in (Way.REMOVE, Way.LIFT) else "",
    ]
    names = {shade.pk: shade.name for shade in bench.stocked.shades}
    recipe = remedy.recipe.grams if remedy.recipe else {}
    grams_by = {int(shade.code): round(Decimal(each), 2) for shade, each in recipe.items() if each > 0}
    return RemedyShown(
        remedy=remedy,
        title=WAY_WORDS[remedy.way],
        how=", ".join(part for part in parts if part),
        lock=lock_of_colour(tuple(remedy.lab.tolist())),
        cost=remedy.cost.words,
        first=_first(remedy.way, grams),
        pours=tuple((names[pk], weight) for pk, weight in grams_by.items()),
        grams=tuple(grams_by.items()),
        before="" if remedy.cost is HairCost.NONE else ready.words,
    )


def _first(way: Way, grams: float) -> str:
    """What goes on before the colour, in grams."""
    if way is Way.BLEACH_WASH:
        lightener = round(grams / (1 + BLEACH_PARTS))
        rest = round(grams) - lightener
        return say(
            "first a bleach wash: {lightener:weight} lightener in {rest:weight} shampoo and water, watched all along",
            lightener=lightener,
            rest=rest,
        )
    return say("first {grams:weight} of {first}", grams=grams, first=FIRST[way]) if way in FIRST else ""
