"""What the Care page and the hand-out show: how the colour keeps, the mask for home, and the next visit."""

import datetime
from base64 import b64encode
from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property, lru_cache, partial
from typing import Final

from engine.bowl.match import Recipe
from engine.bowl.mix import Bowl
from engine.bowl.spread import spread
from engine.colorimetry.words import colour_word
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.language import listed, say
from engine.service.aftercare import (
    GOOD_FOR_WEEKS,
    KEEPS,
    KEEPS_COOL,
    STAINS,
    Habits,
    Keeping,
    MixedWithDeveloper,
    has_taken,
    jar_g,
    keeping,
    weekly_mask,
)
from engine.service.house import Water
from studio.accounts.models import Person
from studio.cards.models import HomeCare, Leftover
from studio.cards.services.home_care import HOME
from studio.head.coats import bowl_coat
from studio.head.engine_adapter import stocked_shelf
from studio.head.selectors import Bench, ZoneBench, bench_of
from studio.head.sight import Sight
from studio.head.whole import whole_head
from studio.portrait.models import Portrait
from studio.portrait.picture import picture, seen, taken
from studio.portrait.selectors import portrait_on_handout
from studio.result.page import forecast_as_worked
from studio.result.selectors import home_care_of
from studio.route.planned import needed_of
from studio.shelf.selectors import StockedLine, lines_of, stocked_line
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import brief_number, brief_weight, shown_weight
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.gates import asked_of, check
from studio.visits.head import HeadView
from studio.visits.selectors import OpenZone

WEEKS_SHOWN: Final = 8


@dataclass(frozen=True, kw_only=True)
class Week:
    """The colour at the end of a week."""

    number: int
    lock: Lock
    off: str
    is_off: bool


@dataclass(frozen=True, kw_only=True)
class Mask:
    """What goes home: its shades with grams, the day it is made and the day it is good until."""

    pours: tuple[tuple[str, str], ...]
    total_g: str
    made_on: datetime.date
    good_until: datetime.date


@dataclass(frozen=True, kw_only=True)
class LeftoverSeen:
    """What is left of one bowl: of which zones, its grams as the label has them, whether it goes home, or why never.

    left_g: as it was weighed back, with developer, of poured_g; used: what its hair took against what was reckoned.
    """

    bowl_id: int
    zones: str
    line: str
    pours: tuple[tuple[str, str], ...]
    goes_home: bool
    never: str
    good_until: datetime.date
    left_g: str
    poured_g: str
    used: str


@dataclass(frozen=True, kw_only=True, eq=False)
class CarePage:
    """The Care page as its template takes it; the mask, a search of its own, is reckoned when it is asked for."""

    bench: Bench
    weekly: Callable[[], tuple["Mask | None", str]]
    care: HomeCare
    weeks: tuple[Week, ...]
    keeps: Keeping | None
    leftovers: tuple[LeftoverSeen, ...]
    is_bare: bool
    range_locks: tuple[Lock, ...]
    lock: Lock | None
    come_on: datetime.date | None
    cautions: tuple[str, ...]
    error_words: str
    photographed: Callable[[], Portrait | None]

    @cached_property
    def heads(self) -> tuple[tuple[str, tuple[HeadView, ...]], ...]:
        """The head from four sides, before and after every coat."""
        return whole_head(self.bench).drawn(self.bench.zone)

    @cached_property
    def portrait(self) -> Portrait | None:
        """The photo of the head that the hand-out shows, if it is to show one and hair was found in it."""
        return self.photographed()

    @property
    def pictures(self) -> tuple[tuple[str, str], ...]:
        """That photo before and with the forecast, for paper: each with its title, as an address that holds it."""
        if self.portrait is None:
            return ()
        asked = seen(self.bench, self.portrait, Sight(), width=720)
        told = ((say("Before"), taken(asked)), (say("After every coat"), picture(asked)))
        return tuple((title, f"data:image/jpeg;base64,{b64encode(made).decode()}") for title, made in told)

    @cached_property
    def mask(self) -> Mask | None:
        """The mask for home, if there is one."""
        return self._weekly[0]

    @property
    def no_mask(self) -> str:
        """Why there is none."""
        return self._weekly[1]

    @cached_property
    def _weekly(self) -> tuple[Mask | None, str]:
        return self.weekly()

    @property
    def mask_key(self) -> str:
        """What the mask follows from, so that a new one is asked for when it changes."""
        care = self.care
        habits = f"{care.washes_a_week:g}-{care.hot_water:d}{care.pool:d}{care.sun:d}"
        return f"{self.bench.zone.pk}-{self.bench.worktop.version}-{habits}"

    @property
    def words(self) -> str:
        """The colour of the day, in words."""
        return self.lock.words if self.lock else ""

    @property
    def through(self) -> str:
        """What it fades through, in words."""
        return say(", then ").join(self.keeps.through[1:]) if self.keeps else ""


def care_page(person: Person, opened: OpenZone, refusal: Refusal | None = None) -> CarePage:
    """Gather the Care page for the zone in hand."""
    bench = bench_of(person, opened)
    care = home_care_of(person, opened.visit)
    worked, forecast = forecast_as_worked(person, bench)
    bowl, day = bench.mix, opened.visit.day
    is_bare = bowl is not None and not has_taken(forecast.canvas, bowl, worked.process)
    bowl = None if is_bare else bowl
    keeps = keeping(forecast.canvas, bowl, care.habits, process=worked.process) if bowl else None
    around = spread(forecast.canvas, bowl, process=worked.process) if bowl else None
    return CarePage(
        bench=bench,
        weekly=partial(_mask, person, bench, care, forecast.canvas, bowl),
        care=care,
        weeks=_weeks(keeps) if keeps else (),
        keeps=keeps,
        leftovers=_leftovers(person, bench),
        is_bare=is_bare,
        range_locks=tuple(lock_of_colour(tuple(lab.tolist())) for lab in around.shown) if around else (),
        lock=lock_of_colour(tuple(forecast.lab.tolist())) if bowl else None,
        come_on=day + datetime.timedelta(weeks=keeps.come_again_weeks) if keeps else None,
        cautions=_cautions(person, bench),
        error_words=refusal_words(refusal) if refusal else "",
        photographed=partial(portrait_on_handout, person, opened.visit.pk),
    )


def _cautions(person: Person, bench: Bench) -> tuple[str, ...]:
    """What is to be minded at home: of direct dye, and of what keeps any colour, as the house has it."""
    is_direct = any(not dye.kind.is_oxidative for dye in bench.stocked.dyes.values())
    is_cool = person.studio.water == Water.COOL
    return (*(STAINS if is_direct else ()), KEEPS_COOL if is_cool else KEEPS)


def _leftovers(person: Person, bench: Bench) -> tuple[LeftoverSeen, ...]:
    """What may become of what is left of each bowl of the head, judged over everything that is in it."""
    asked = asked_of(person, bench.visit)
    bowls = {each.bowl.pk: each for each in bench.coats if each.pours and each.colours}
    kept = {each.bowl_id: each for each in Leftover.objects.visible_to(person).filter(bowl__in=bowls)}
    found = []
    for pk, each in bowls.items():
        gates = check(asked, bowl_coat(asked, bench, HOME, of=each))
        stop = next((seen.gate.sentence for seen in gates if seen.is_shut), "")
        left = kept.get(pk)
        is_weighed = left is not None and left.left_g is not None
        share = left.left_g / left.poured_g if left and left.left_g is not None and left.poured_g else Decimal(1)
        found.append(
            LeftoverSeen(
                bowl_id=pk,
                zones=listed(dict.fromkeys(coat.zone.name for coat in bench.coats if coat.bowl.pk == pk)),
                line=each.bowl.line.name,
                pours=tuple((shade.name, shown_weight(round(grams * share, 1))) for shade, grams in each.poured),
                goes_home=left is not None and left.goes_home,
                never=stop,
                good_until=bench.visit.day + datetime.timedelta(weeks=GOOD_FOR_WEEKS),
                left_g=brief_number(left.left_g or 0) if left and is_weighed else "",
                poured_g=shown_weight(left.poured_g) if left and is_weighed else "",
                used=_used(left) if left and is_weighed else "",
            )
        )
    return tuple(found)


def _used(left: Leftover) -> str:
    used_g = left.poured_g - (left.left_g or 0)
    return say(
        "{used_g:weight} of {poured_g:weight} were used, where {needed_g:weight} were reckoned",
        used_g=round(used_g),
        poured_g=round(left.poured_g),
        needed_g=round(left.needed_g),
    )


def _weeks(keeps: Keeping) -> tuple[Week, ...]:
    return tuple(
        Week(
            number=number,
            lock=lock_of_colour(tuple(keeps.lab[number].tolist())),
            off=colour_word(keeps.lab[number]),
            is_off=keeps.off_after_weeks is not None and number >= keeps.off_after_weeks,
        )
        for number in range(WEEKS_SHOWN + 1)
    )


def _mask(person: Person, bench: Bench, care: HomeCare, canvas: Canvas, bowl: Bowl | None) -> tuple[Mask | None, str]:
    """The weekly mask from the line in use if it is direct, else from the shelf's first direct line."""
    if bowl is None:
        return None, ""
    line = _direct_line(person, bench)
    shelf = home_shelf(line) if line else stocked_shelf(bench)
    total_g = jar_g(needed_of(person, bench, bench, asked_of(person, bench.visit)).grams)
    try:
        recipe = _mask_once(canvas, bowl, tuple(shelf), care.habits, total_g)
    except MixedWithDeveloper:
        return None, refusal_words(Refusal("no_direct_dye"))
    return _labelled(recipe, line or bench.stocked, bench.visit.day), ""


@lru_cache(maxsize=128)
def _mask_once(canvas: Canvas, bowl: Bowl, shelf: tuple[Shade, ...], habits: Habits, total_g: float) -> Recipe:
    return weekly_mask(canvas, bowl, shelf, habits, total_g=total_g)


def home_shelf(line: StockedLine) -> list[Shade]:
    """A line for a jar at home: its colours, and what thins them most, its conditioner if it has one."""
    carriers = [dye for dye in line.dyes.values() if dye.is_clear]
    carrier = max(carriers, key=lambda dye: dye.thins, default=None)
    return [dye for dye in line.dyes.values() if dye is carrier or not dye.is_clear]


def _direct_line(person: Person, bench: ZoneBench) -> StockedLine | None:
    stocked = [bench.stocked, *(stocked_line(line) for line in lines_of(person))]
    return next((each for each in stocked if not any(dye.kind.is_oxidative for dye in each.dyes.values())), None)


def _labelled(recipe: Recipe, line: StockedLine, day: datetime.date) -> Mask:
    pours = tuple(
        (dye.name if dye.code else say("Conditioner"), brief_weight(grams))
        for dye, grams in recipe.bowl.grams.items()
        if grams > 0
    )
    return Mask(
        pours=pours,
        total_g=brief_weight(recipe.bowl.total_g),
        made_on=day,
        good_until=day + datetime.timedelta(weeks=GOOD_FOR_WEEKS),
    )
