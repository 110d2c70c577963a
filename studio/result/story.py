"""A visit told on one page: what was wished and agreed, seen, mixed, for how long, what came out, what was told.

Everything is as it was noted; nothing is reckoned anew. A client who comes back unhappy is answered from this.
"""

import datetime
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from django.utils import timezone

from engine.language import counted, later, listed, say
from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.models import Formula, HomeCare, Tweak, ZoneResult
from studio.clients.models import StrandTest
from studio.clocks.models import ClockCheck, ClockCorrection, ZoneClock
from studio.pour.models import Batch
from studio.route.models import ChosenRoute
from studio.ui.days import day_words
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.ui.numbers import brief_weight, shown_weight
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Consult, Incident, Reading, Signature, Visit

SEEN = {
    ClockCheck.Depth.UNDER.value: later("not there yet"),
    ClockCheck.Depth.ON.value: later("as wanted"),
    ClockCheck.Depth.OVER.value: later("past it"),
    "": later("stretch or curl going"),
}


@dataclass(frozen=True, kw_only=True)
class Moment:
    """Something that happened: when, on which zone, in words, by whom, and how the hair looked, if that is known."""

    at: datetime.datetime
    zone: str
    words: str
    by: str = ""
    lock: Lock | None = None
    is_amiss: bool = False


@dataclass(frozen=True, kw_only=True)
class Story:
    """A visit's story as its template takes it: what was agreed, the moments in their order, and what was told."""

    visit: Visit
    agreed: list[str]
    moments: list[Moment]
    outcomes: list[tuple[str, str, Lock, Lock]]
    told: list[str]


def story_of(person: Person, visit: Visit) -> Story:
    """Gather a visit's story. Some fifteen queries, however many zones."""
    moments = [
        *_readings(visit),
        *_routes(person, visit),
        *_gates(person, visit),
        *_mixed(person, visit),
        *_on_the_hair(person, visit),
        *_kept(person, visit),
    ]
    return Story(
        visit=visit,
        agreed=_agreed(visit),
        moments=sorted(moments, key=lambda moment: moment.at),
        outcomes=_outcomes(person, visit),
        told=_told(person, visit),
    )


def _agreed(visit: Visit) -> list[str]:
    consult = Consult.objects.filter(visit=visit).first()
    return [*(_consulted(consult) if consult else []), *_work_agreed(visit)]


def _work_agreed(visit: Visit) -> Iterator[str]:
    """Every agreement to the work, the first one first."""
    for each in visit.agreements.order_by("agreed_at", "pk"):
        price = "" if each.price is None else say(" for {price:g}", price=float(each.price))
        yield say(
            "Agreed at {localtime:%H:%M}{price}: {work}",
            localtime=timezone.localtime(each.agreed_at),
            price=price,
            work=listed(each.work),
        )


def _consulted(consult: Consult) -> list[str]:
    told = [say("Wished: {wish}", wish=consult.wish)] if consult.wish else []
    seen = {
        "setting": say("for {setting}", setting=consult.get_setting_display()),
        "upkeep": say("{upkeep} upkeep", upkeep=consult.get_upkeep_display()),
        "nerve": consult.get_nerve_display(),
        "scalp": say("scalp {scalp}", scalp=consult.get_scalp_display()),
    }
    if asked := listed(words for name, words in seen.items() if consult.is_answered(name)):
        told.append(f"{asked[0].upper()}{asked[1:]}")
    if consult.resistant:
        told.append(say("Resistant: {resistant}", resistant=consult.resistant))
    return told


def _readings(visit: Visit) -> Iterator[Moment]:
    """How each zone was read before its coats and between them: the last word each time, not the way to it."""
    found = Reading.objects.filter(zone__visit=visit, zone__removed=False).select_related("zone", "read_by")
    for reading in found.order_by("zone_id", "after_coats", "-number").distinct("zone_id", "after_coats"):
        lock, coats = bare_lock(canvas_of(reading)), reading.after_coats
        after = counted(", after {count} coat", ", after {count} coats", coats) if coats else ""
        words = say(
            "read {source} at level {level:g}, {words}{after}",
            source=reading.get_source_display(),
            level=float(reading.level),
            words=lock.words,
            after=after,
        )
        yield Moment(at=reading.read_at, zone=reading.zone.name, words=words, by=str(reading.read_by), lock=lock)


def _routes(person: Person, visit: Visit) -> Iterator[Moment]:
    for route in ChosenRoute.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "chosen_by"):
        words = say("agreed on: {route}", route=route.get_kind_display())
        yield Moment(at=route.chosen_at, zone=route.zone.name, words=words, by=str(route.chosen_by))


def _gates(person: Person, visit: Visit) -> Iterator[Moment]:
    for each in Signature.objects.visible_to(person).filter(visit=visit).select_related("signed_by"):
        words = say("signed past “{sentence}”: {reason}", sentence=each.sentence, reason=each.reason)
        yield Moment(at=each.signed_at, zone="", words=words, by=each.by, is_amiss=True)
    day = _day_of(visit)
    tests = StrandTest.objects.visible_to(person).filter(client=visit.client_id, tested_at__range=day)
    for test in tests.select_related("line", "recorded_by"):
        seen = f", {test.colour_seen}" if test.colour_seen else ""
        outcome = say("passed") if test.passed else say("failed")
        words = say(
            "strand test of {of_}, {minutes:g} min: {outcome}{seen}",
            of_=test.of,
            minutes=float(test.minutes),
            outcome=outcome,
            seen=seen,
        )
        yield Moment(
            at=test.tested_at,
            zone=test.get_part_display(),
            words=words,
            by=str(test.recorded_by),
            is_amiss=not test.passed,
        )


def _mixed(person: Person, visit: Visit) -> Iterator[Moment]:
    batches = Batch.objects.visible_to(person).filter(bowl__worktop__visit=visit, mixed_at__isnull=False)
    zones = dict(visit.zones.values_list("pk", "name"))
    for batch in batches.select_related("bowl__line").prefetch_related("weighings__shade"):
        weighed: dict[str, float] = {}
        for each in batch.weighings.all():
            if not each.taken_back:
                name = each.shade.name if each.shade else say("developer")
                weighed[name] = weighed.get(name, 0.0) + float(each.poured_g)
        grams = ", ".join(
            f"{shown_weight(weight, powder=batch.bowl.line.is_powder)} {name}" for name, weight in weighed.items()
        )
        strength = say(", {vol:g} vol", vol=float(batch.bowl.vol)) if batch.bowl.parts else ""
        served = listed(zones[pk] for pk in batch.served if pk in zones)
        if batch.mixed_at is not None:
            yield Moment(
                at=batch.mixed_at,
                zone=served,
                words=say("mixed {line}{strength}: {grams}", line=batch.bowl.line, strength=strength, grams=grams),
            )


def _on_the_hair(person: Person, visit: Visit) -> Iterator[Moment]:
    clocks = ZoneClock.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "started_by")
    for clock in clocks.prefetch_related("checks__seen_by", "corrections__corrected_by"):
        zone, what = clock.zone.name, clock.get_kind_display()
        how = (say(", damp") if clock.damp else "") + (say(", heat") if clock.heat else "")
        strength = (
            say(", {vol:g} vol to level {to_level:g}", vol=float(clock.vol), to_level=float(clock.to_level))
            if clock.vol and clock.to_level
            else ""
        )
        on = say(
            "{what} on{strength}{how}, for {planned_min:g} min",
            what=what,
            strength=strength,
            how=how,
            planned_min=float(clock.planned_min),
        )
        yield Moment(at=clock.applied_at, zone=zone, words=on, by=str(clock.started_by))
        for check in clock.checks.all():
            words = say(
                "looked at after {minute:g} min: {seen}",
                minute=float(check.minute),
                seen=SEEN["" if check.is_going else check.depth],
            )
            yield Moment(at=check.seen_at, zone=zone, words=words, by=str(check.seen_by), is_amiss=check.is_going)
        if clock.rinsed_at:
            minutes = (clock.rinsed_at - clock.section_applied_at).total_seconds() / 60
            last = say(", the last of {sections} sections", sections=clock.sections) if clock.sections_off else ""
            yield Moment(
                at=clock.rinsed_at,
                zone=zone,
                words=say("{what} rinsed after {minutes:.0f} min{last}", what=what, minutes=minutes, last=last),
            )
        for each in clock.corrections.all():
            yield Moment(at=each.corrected_at, zone=zone, words=_corrected(each), by=str(each.corrected_by))
    incidents = Incident.objects.visible_to(person).filter(visit=visit).select_related("zone", "noted_by")
    for incident in incidents:
        words = say(
            "{incident}, {what}, after {minute:g} min",
            incident=incident.get_kind_display(),
            what=incident.what,
            minute=float(incident.minute),
        )
        yield Moment(
            at=incident.noted_at, zone=incident.zone.name, words=words, by=str(incident.noted_by), is_amiss=True
        )


def _corrected(each: ClockCorrection) -> str:
    def said(at: datetime.datetime | None) -> str:
        return f"{timezone.localtime(at):%H:%M}" if at else say("not yet")

    return say(
        "set right: {moment} {said}, not {said2}",
        moment=each.get_moment_display(),
        said=said(each.became),
        said2=said(each.was),
    )


def _kept(person: Person, visit: Visit) -> Iterator[Moment]:
    formulas = Formula.objects.visible_to(person).filter(visit=visit).select_related("saved_by", "line")
    for formula in formulas.prefetch_related("pours").order_by("saved_at", "zone_position", "coat_number"):
        grams = ", ".join(
            f"{brief_weight(pour.grams, powder=formula.is_powder)} {pour.shade_name}" for pour in formula.pours.all()
        )
        coat = f"{formula.coat_words}: " if formula.coat_words else ""
        beside = "".join(f"; {words}" for words in formula.beside_words)
        yield Moment(
            at=formula.saved_at,
            zone=formula.zone_name,
            words=say("kept on the card: {coat}{grams}{beside}", coat=coat, grams=grams, beside=beside),
            by=formula.author,
            lock=lock_of_colour((float(formula.forecast_l), float(formula.forecast_a), float(formula.forecast_b))),
        )


def _outcomes(person: Person, visit: Visit) -> list[tuple[str, str, Lock, Lock]]:
    """How each zone that was judged came out: its name, in words, what had been forecast, and what it is."""
    results = ZoneResult.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "judged_by")
    return [
        (
            each.zone.name,
            say(
                "{against_forecast}; judged {source}{told}{told2} by {judged_by}",
                against_forecast=against_forecast(np.array(each.forecast_lab), np.array(each.lab)),
                source=each.get_source_display(),
                told=say(", dry") if each.dry else "",
                told2=say(", in two lights") if each.two_lights else "",
                judged_by=each.judge,
            ),
            lock_of_colour(each.forecast_lab),
            lock_of_colour(each.lab),
        )
        for each in results
    ]


def _told(person: Person, visit: Visit) -> list[str]:
    told = []
    care = HomeCare.objects.visible_to(person).filter(visit=visit).first()
    if care is not None:
        told.append(
            say(
                "Washes {washes_a_week:g} times a week{told}",
                washes_a_week=float(care.washes_a_week),
                told=say(", hot") if care.hot_water else "",
            )
        )
        if care.given:
            told.append(say("Took home: {given}", given=care.given))
        if care.next_on:
            told.append(say("Next visit {day}", day=day_words(care.next_on)))
    for tweak in Tweak.objects.visible_to(person).filter(visit=visit).select_related("used_in"):
        used = say(", made on {day}", day=day_words(tweak.used_in.day)) if tweak.used_in else ""
        told.append(
            say(
                "Next time, {part}: {words}{used}",
                part=tweak.zone_name or say("all of it"),
                words=tweak.words,
                used=used,
            )
        )
    return told


def _day_of(visit: Visit) -> tuple[datetime.datetime, datetime.datetime]:
    """The first and the last moment of a visit's day, by the studio's clock."""
    begin = timezone.make_aware(datetime.datetime.combine(visit.day, datetime.time.min))
    return begin, begin + datetime.timedelta(days=1)
