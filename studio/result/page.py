"""What the Result page shows: before, forecast, aim and actual of each zone, a ladder to judge by, spot fixes."""

import datetime
import secrets
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.predict import Forecast, predict, seen_as
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import difference_words
from engine.language import decimals, say
from engine.practice.guessing import AS_EXPECTED
from engine.service.amounts import litres_for
from engine.service.judge import FixKind, Verdict, judge, next_aim, spot_fixes
from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.cards.models import Tweak, ZoneResult
from studio.cards.worked import Worked, worked_on
from studio.guesses.selectors import as_guessed, held_against
from studio.head.coats import bowl_coat
from studio.head.engine_adapter import reckoned_shelf
from studio.head.selectors import Bench, ZoneBench, bench_of
from studio.head.stock import stock_of
from studio.result.ladder import LadderLock, around_words, ladder_locks
from studio.result.selectors import results_of, tweaks_of
from studio.route.planned import needed_of
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.ui.numbers import shown_weight
from studio.ui.refusal import Refusal
from studio.ui.templatetags.ui import plain
from studio.ui.words import refusal_words
from studio.visits.coats import How
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import GateSeen, asked_of, check
from studio.visits.selectors import OpenZone


@dataclass(frozen=True, kw_only=True, eq=False)
class ZoneJudged:
    """A zone with its forecast as it was worked, and its result if it was judged."""

    bench: ZoneBench
    worked: Worked
    forecast: Forecast
    result: ZoneResult | None
    verdict: Verdict | None

    @property
    def off(self) -> str:
        """How far the result is from the forecast."""
        return decimals(f"{self.verdict.forecast_delta_e00:.1f}") if self.verdict else ""


@dataclass(frozen=True, kw_only=True, eq=False)
class ResultPage:
    """The Result page as its template takes it."""

    bench: Bench
    zones: tuple[ZoneJudged, ...]
    hand: ZoneJudged
    before: Lock
    then: Lock
    aim: Lock | None
    actual: Lock | None
    ladder: tuple[tuple[LadderLock, ...], ...]
    tweak: Tweak | None
    next_time: Mapping[str, str]
    suggested: str
    token: str
    error_words: str
    asks_anyway: bool
    guessed: tuple[str, ...]

    @property
    def around(self) -> str:
        """What the ladder is drawn around, L*a*b*, for the form that sends a lock of it."""
        return around_words(self.hand.forecast.lab)

    @property
    def is_empty(self) -> bool:
        """Whether nothing was mixed for the zone in hand."""
        return self.hand.forecast.bowl is None


@dataclass(frozen=True, kw_only=True, eq=False)
class FixShown:
    """A spot fix, ready to show."""

    title: str
    how: str
    lock: Lock
    off: str
    cautions: tuple[tuple[str, str], ...] = ()


def result_page(
    person: Person, opened: OpenZone, refusal: Refusal | None = None, sent: Mapping[str, str] | None = None
) -> ResultPage:
    """Gather the Result page. sent: what a refused form held."""
    bench = bench_of(person, opened)
    results = results_of(person, opened.visit.pk)
    zones = tuple(_judged(person, each, results.get(each.zone.pk)) for each in bench.zones)
    hand = next(each for each in zones if each.bench.zone.pk == bench.zone.pk)
    target_lab, result = bench.target_lab, hand.result
    tweak = tweaks_of(person, opened.visit.pk).get(bench.zone.name)
    return ResultPage(
        bench=bench,
        zones=zones,
        hand=hand,
        before=bare_lock(canvas_of(bench.reading)),
        then=lock_of_colour(tuple(hand.forecast.lab.tolist())),
        aim=None if target_lab is None else lock_of_colour(tuple(target_lab.tolist())),
        actual=lock_of_colour(result.lab) if result else None,
        ladder=ladder_locks(hand.forecast.lab, np.array(result.lab) if result else None),
        tweak=tweak,
        next_time=_next_time(tweak, suggested_words(hand), sent or {}),
        suggested=suggested_words(hand),
        token=secrets.token_hex(16),
        error_words=refusal_words(refusal) if refusal else "",
        asks_anyway=refusal is not None and refusal.code == "still_on",
        guessed=_guessed(person, hand),
    )


def _guessed(person: Person, zone: ZoneJudged) -> tuple[str, ...]:
    """How near those came who guessed first what was judged now. One query, none before it is judged."""
    if zone.result is None:
        return ()
    found = [(guess, as_guessed(guess, zone.result)) for guess in held_against(person, zone.bench.zone.pk)]
    return tuple(
        say(
            "{name} expected it {words}: {off:.1f} off.",
            name=guess.person,
            words=difference_words(held.seen_lab, held.expected_lab, AS_EXPECTED),
            off=float(delta_e00(held.seen_lab, held.expected_lab)),
        )
        for guess, held in found
        if held.seen_lab is not None
    )


def _next_time(tweak: Tweak | None, suggested: str, sent: Mapping[str, str]) -> dict[str, str]:
    """What to do otherwise, as its fields: as sent, else as noted, else as it is suggested."""
    if "minutes_more" in sent:
        return {name: sent.get(name, "") for name in ("words", "minutes_more", "vol")}
    if tweak is None:
        return {"words": suggested, "minutes_more": "", "vol": ""}
    return {"words": tweak.words, "minutes_more": plain(tweak.minutes_more), "vol": plain(tweak.vol)}


def forecast_as_worked(person: Person, zone: ZoneBench) -> tuple[Worked, Forecast]:
    """The forecast of a zone with the minutes and the dampness that its clock noted."""
    worked = worked_on(person, zone)
    canvas, bowl = canvas_of(zone.reading), zone.mix
    return worked, predict(canvas, bowl, process=worked.process, target_lab=zone.target_lab)


def forecast_to_judge(person: Person, zone: ZoneBench) -> Forecast:
    """What a zone is judged against: once it was judged that stays, whatever its own result has taught since."""
    result = ZoneResult.objects.visible_to(person).filter(zone=zone.zone).first()
    return _judged(person, zone, result).forecast


def aim_next_time(zone: ZoneJudged) -> FloatArray | None:
    """What to aim at next time so that the same miss lands on the target; None before there are both."""
    target_lab = zone.bench.target_lab
    if zone.result is None or target_lab is None:
        return None
    return next_aim(np.array(zone.result.lab), np.array(zone.result.forecast_lab), target_lab)


def suggested_words(zone: ZoneJudged) -> str:
    """What to note for next time, from how it turned out; nothing where it came as forecast."""
    if zone.verdict is None or zone.verdict.is_as_forecast:
        return ""
    return say("Came out {forecast_words}: aim the other way.", forecast_words=zone.verdict.forecast_words)


def _judged(person: Person, zone: ZoneBench, result: ZoneResult | None) -> ZoneJudged:
    worked, forecast = forecast_as_worked(person, zone)
    if result is not None:
        forecast = seen_as(forecast, np.array(result.forecast_lab), zone.target_lab)
    verdict = judge(np.array(result.lab), np.array(result.forecast_lab), zone.target_lab) if result else None
    return ZoneJudged(bench=zone, worked=worked, forecast=forecast, result=result, verdict=verdict)


def _is_of_bath(seen: GateSeen) -> bool:
    return seen.gate.code == "bath"


def fixes_shown(person: Person, opened: OpenZone, now: datetime.datetime) -> tuple[FixShown, ...]:
    """Ways to mend a spot of the zone in hand, nearest to the aim first."""
    bench = bench_of(person, opened)
    bowl, target_lab = bench.mix, bench.target_lab
    if bowl is None or target_lab is None:
        return ()
    worked = worked_on(person, bench)
    process = worked.process_at(now)
    asked = asked_of(person, opened.visit)
    need = needed_of(person, bench, bench, asked)
    canvas, shelf = canvas_of(bench.reading), reckoned_shelf(bench)
    fixes = spot_fixes(
        canvas,
        bowl,
        target_lab,
        shelf,
        minutes=process.minutes,
        damp=process.damp,
        grams=need.grams,
        litres=litres_for(need),
        still_on=worked.is_on,
        stock=stock_of(bench.stocked),
    )
    bath = check(asked, bowl_coat(asked, bench, How(kind=WorkKind.BATH)))
    shown = []
    for fix in fixes:
        if fix.kind is FixKind.DYE_BATH and fix.bath is not None:
            dyes = ", ".join(f"{shown_weight(fix.bath.grams[dye])} {dye.name}" for dye in fix.bath.colours)
            title, how = (
                say("A dye bath"),
                say(
                    "{dyes} in {litres:g} l of water for all of it; for a spot, a part of both",
                    dyes=dyes,
                    litres=fix.litres,
                ),
            )
        elif fix.kind is FixKind.SECOND_COAT:
            title, how = say("A second coat"), say("the same bowl once more, its full time, on the spots alone")
        else:
            title, how = say("More minutes"), say("{minutes:g} minutes more of what is on", minutes=fix.minutes)
        lock = lock_of_colour(tuple(fix.lab.tolist()))
        told = bath if fix.kind is FixKind.DYE_BATH else []
        cautions = tuple((seen.gate.code, seen.gate.sentence) for seen in told if seen.is_shut or _is_of_bath(seen))
        shown.append(FixShown(title=title, how=how, lock=lock, off=decimals(f"{fix.delta_e00:.1f}"), cautions=cautions))
    return tuple(shown)
