"""The talk: the wish as it would be worn, from only in the sun to the stage, to turn to the client."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Process
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.colorimetry.words import colour_word
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.language import decimals, kept_by_language, later, say
from engine.service.aftercare import Habits
from engine.service.root import RootLook
from engine.service.route import Route
from engine.service.taste import Eyes, Skin, taste_of
from engine.service.wear import OF_SETTING, WORN, Wear, Wearing, after_visits, bowl_for, wearing
from studio.accounts.models import Person
from studio.cards.selectors import last_care
from studio.head.engine_adapter import carrier_of, reckoned_shelf
from studio.head.selectors import Bench, bench_of
from studio.portrait.models import Portrait
from studio.portrait.picture import Seen
from studio.route.engine_adapter import routes_of
from studio.route.models import Agreement
from studio.route.worn_head import drawn, photographed
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked, asked_of
from studio.visits.head import HeadView
from studio.visits.models import Consult, Zone
from studio.visits.selectors import OpenZone

WORDS_OF_ROOT: Final = {
    RootLook.NATURAL: later("left as it is"),
    RootLook.SHADOW: later("two levels deeper"),
    RootLook.TAP: later("a tap, one level deeper"),
    RootLook.SOLID: later("as the lengths"),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class Had:
    """What can be had in so many visits: how it looks, and how far from the wish."""

    words: str
    lock: Lock
    off: str


@dataclass(frozen=True, kw_only=True, eq=False)
class TalkPage:
    """The talk as its template takes it.

    wear: the step that is shown. first: what comes before the colour. taste: sentences that are no rule. photo: of her
    head, if hair was found on one; photo_key: what changes when its picture does. drawn: whether the head is shown as a
    drawing all the same. stays: whether the head is parted already, so that where the colour goes is as it was set.
    """

    bench: Bench
    wish: str
    aim: Lock
    wear: Wear
    steps: tuple[tuple[int, str], ...]
    worn: Wearing
    lengths: Lock
    views: tuple[HeadView, ...]
    clear: str
    root: str
    where: str
    upkeep: tuple[str, ...]
    had: tuple[Had, ...]
    first: str
    skin: str
    eyes: str
    taste: tuple[str, ...]
    aim_fields: tuple[tuple[str, str], ...]
    photo: Portrait | None
    photo_key: str
    drawn: bool
    stays: bool
    error_words: str

    @property
    def query(self) -> str:
        """What else was chosen, as an address names it."""
        chosen = {"skin": self.skin, "eyes": self.eyes, "on": "drawn" if self.drawn and self.photo else ""}
        return "".join(f"&{name}={value}" for name, value in chosen.items() if value)

    skins = tuple((skin.value, skin.words) for skin in Skin)
    eye_choices = tuple((eyes.value, eyes.words) for eyes in Eyes)


@dataclass(frozen=True, kw_only=True, eq=False)
class Wished:
    """What a talk is about: the wish, the way to it, and how a step of daring wears it."""

    bench: Bench
    asked: Asked
    target: FloatArray
    way: Route
    wear: Wear
    shown: Wearing


def _wished(person: Person, opened: OpenZone, sent: Mapping[str, str]) -> Wished:
    """Raises Refusal no_target before there is an aim."""
    bench = bench_of(person, opened)
    target = bench.target_lab
    asked = asked_of(person, opened.visit)
    found = None if target is None else routes_of(bench, asked, None)
    if target is None or found is None:
        raise Refusal("no_target", "aim")
    wear = _wear(sent.get("wear", ""), asked.consult)
    shown = _worn(bench, target, found.proposed.canvas, wear, _habits(person, asked))
    return Wished(bench=bench, asked=asked, target=target, way=found.proposed, wear=wear, shown=shown)


def talk_page(person: Person, opened: OpenZone, sent: Mapping[str, str], refusal: Refusal | None = None) -> TalkPage:
    """Gather the talk. Raises Refusal no_target before there is an aim."""
    wished = _wished(person, opened, sent)
    bench, shown, target = wished.bench, wished.shown, wished.target
    on_photo = photographed(person, bench, shown)
    skin = next((each for each in Skin if each.value == sent.get("skin")), None)
    eyes = next((each for each in Eyes if each.value == sent.get("eyes")), None)
    return TalkPage(
        bench=bench,
        wish=wished.asked.consult.wish,
        aim=_lock(target),
        wear=wished.wear,
        steps=tuple((step.value, str(WORN[step].words)) for step in Wear),
        worn=shown,
        lengths=_lock(shown.lengths_lab),
        views=drawn(bench, shown),
        clear=decimals(
            say("1 part colour to {parts} of clear", parts=f"{shown.parts:.{0 if shown.parts >= 10 else 1}f}")
        ),
        root=str(WORDS_OF_ROOT[shown.worn.root]),
        where=_where(shown),
        upkeep=_upkeep(person, bench, shown),
        had=_had(bench, wished.way, target),
        first=_first(wished.way),
        skin=skin.value if skin else "",
        eyes=eyes.value if eyes else "",
        taste=taste_of(shown.lengths_lab, skin, eyes),
        aim_fields=_aim_fields(shown.lengths_lab),
        photo=on_photo.portrait if on_photo else None,
        photo_key=on_photo.etag if on_photo else "",
        drawn=sent.get("on") == "drawn" or on_photo is None,
        stays=[each.zone.part for each in bench.zones] != [Zone.Part.WHOLE],
        error_words=refusal_words(refusal) if refusal else "",
    )


def worn_on_photo(person: Person, opened: OpenZone, sent: Mapping[str, str]) -> Seen | None:
    """The wish on the photo of her head as it would be worn; None without one. Raises Refusal no_target."""
    wished = _wished(person, opened, sent)
    return photographed(person, wished.bench, wished.shown)


def wear_in(typed: str) -> Wear:
    """A step of daring as it is sent. Raises Refusal wear_unknown."""
    if typed.isdecimal() and int(typed) in {step.value for step in Wear}:
        return Wear(int(typed))
    raise Refusal("wear_unknown", "wear")


def _wear(asked: str, consult: Consult) -> Wear:
    """The step that is asked for, else the one that goes with where the colour will be seen."""
    try:
        return wear_in(asked)
    except Refusal:
        return OF_SETTING.get(consult.setting, Wear.DAILY)


def _habits(person: Person, asked: Asked) -> Habits:
    """The client's habits as they were told last, else by what upkeep they want."""
    last = last_care(person, asked.visit.client_id)
    if last is None:
        return Habits(weekly_mask=asked.consult.upkeep == Consult.Upkeep.WEEKLY)
    return last.habits


def _worn(bench: Bench, target: FloatArray, ready: Canvas, wear: Wear, habits: Habits) -> Wearing:
    """ready: the hair as the way to the wish leaves it for its colour."""
    carrier = carrier_of(bench)
    if carrier is None:
        raise Refusal("no_carrier", "grams", line=bench.stocked.line)
    return _worn_once(
        ready,
        canvas_of(bench.reading),
        tuple(target.tolist()),
        tuple(reckoned_shelf(bench)),
        bench.stocked.dyes[carrier.pk],
        wear,
        habits,
        bench.process,
    )


@kept_by_language(maxsize=64)
def _worn_once(
    ready: Canvas,
    left: Canvas,
    target: tuple[float, ...],
    shelf: tuple[Shade, ...],
    clear: Shade,
    wear: Wear,
    habits: Habits,
    process: Process,
) -> Wearing:
    bowl = bowl_for(ready, np.array(target), list(shelf), process)
    return wearing(ready, bowl, clear, wear, habits, left=left, process=process)


def _where(shown: Wearing) -> str:
    if shown.worn.beneath:
        return say("beneath, a veil of their own hair over it")
    return say("the ends alone") if shown.worn.ends_only else say("the lengths")


def _upkeep(person: Person, bench: Bench, shown: Wearing) -> tuple[str, ...]:
    """How often it wants to be done again, and what that comes to in a year by the price that was agreed last."""
    told = [
        say("Again after {weeks} weeks: {visits} visits a year.", weeks=shown.weeks, visits=shown.visits_a_year),
        say("It fades through {through}.", through=say(", then ").join(shown.keeps.through[1:]))
        if len(shown.keeps.through) > 1
        else say("It fades within its own colour."),
    ]
    prices = Agreement.objects.visible_to(person).filter(visit__client=bench.visit.client_id, price__isnull=False)
    price: Decimal | None = prices.values_list("price", flat=True).first()
    if price:
        told.insert(
            1,
            decimals(
                say(
                    "At {price:.2f} a visit, {year:.0f} {currency} a year.",
                    price=float(price),
                    year=float(price) * shown.visits_a_year,
                    currency=person.studio.currency,
                )
            ),
        )
    return tuple(told)


def _first(way: Route) -> str:
    """What comes before the colour, in words; nothing where it goes on as the hair is."""
    if way.lift is not None:
        return decimals(say("Lightened to level {level:g} first.", level=way.lift.stop_level))
    return say("Filled first.") if way.fills else ""


def _had(bench: Bench, way: Route, target: FloatArray) -> tuple[Had, ...]:
    """The wish as near as it comes today, and after the visits that the hair needs to bear it."""
    told = [Had(words=say("today"), lock=_lock(way.lab), off=_off(target, way.lab))]
    if way.lift is not None and way.lift.visits > 1:
        hair, shelf = canvas_of(bench.reading), reckoned_shelf(bench)
        later_lab = after_visits(hair, way.lift.wanted_level, target, shelf, bench.process)
        words = say("in {visits} visits", visits=way.lift.visits)
        told.append(Had(words=words, lock=_lock(later_lab), off=_off(target, later_lab)))
    return tuple(told)


def _off(target: FloatArray, lab: FloatArray) -> str:
    off = float(delta_e00(target, lab))
    return say("as wished") if off < 2 else decimals(say("{off:.0f} off: {words}", off=off, words=colour_word(lab)))


def _aim_fields(lab: FloatArray) -> tuple[tuple[str, str], ...]:
    names = ("lightness", "chroma", "hue")
    return tuple((name, f"{part:.2f}") for name, part in zip(names, lch_of(lab).tolist(), strict=True))


def _lock(lab: FloatArray) -> Lock:
    return lock_of_colour(tuple(lab.tolist()))
