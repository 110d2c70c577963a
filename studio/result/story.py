"""A visit told on one page: what was wished and agreed, seen, mixed, for how long, what came out, what was told.

Everything is as it was noted; nothing is reckoned anew. A client who comes back unhappy is answered from this.
"""

import datetime
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from django.utils import timezone

from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.models import Formula, HomeCare, Tweak, ZoneResult
from studio.clients.models import StrandTest
from studio.clocks.models import ClockCheck, ClockCorrection, ZoneClock
from studio.pour.models import Batch
from studio.route.models import ChosenRoute
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Consult, Incident, Reading, Signature, Visit

SEEN = {
    ClockCheck.Depth.UNDER.value: "not there yet",
    ClockCheck.Depth.ON.value: "as wanted",
    ClockCheck.Depth.OVER.value: "past it",
    "": "stretch or curl going",
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
        price = "" if each.price is None else f" for {float(each.price):g}"
        yield f"Agreed at {timezone.localtime(each.agreed_at):%H:%M}{price}: {', '.join(each.work)}"


def _consulted(consult: Consult) -> list[str]:
    told = [f"Wished: {consult.wish}"] if consult.wish else []
    seen = {
        "setting": f"for {consult.get_setting_display()}",
        "upkeep": f"{consult.get_upkeep_display()} upkeep",
        "nerve": consult.get_nerve_display(),
        "scalp": f"scalp {consult.get_scalp_display()}",
    }
    if asked := ", ".join(words for name, words in seen.items() if consult.is_answered(name)):
        told.append(f"{asked[0].upper()}{asked[1:]}")
    if consult.resistant:
        told.append(f"Resistant: {consult.resistant}")
    return told


def _readings(visit: Visit) -> Iterator[Moment]:
    """How each zone was read before its coats and between them: the last word each time, not the way to it."""
    found = Reading.objects.filter(zone__visit=visit, zone__removed=False).select_related("zone", "read_by")
    for reading in found.order_by("zone_id", "after_coats", "-number").distinct("zone_id", "after_coats"):
        lock, coats = bare_lock(canvas_of(reading)), reading.after_coats
        after = f", after {coats} coat{'s' if coats > 1 else ''}" if coats else ""
        words = f"read {reading.get_source_display()} at level {float(reading.level):g}, {lock.words}{after}"
        yield Moment(at=reading.read_at, zone=reading.zone.name, words=words, by=str(reading.read_by), lock=lock)


def _routes(person: Person, visit: Visit) -> Iterator[Moment]:
    for route in ChosenRoute.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "chosen_by"):
        words = f"agreed on: {route.get_kind_display()}"
        yield Moment(at=route.chosen_at, zone=route.zone.name, words=words, by=str(route.chosen_by))


def _gates(person: Person, visit: Visit) -> Iterator[Moment]:
    for each in Signature.objects.visible_to(person).filter(visit=visit).select_related("signed_by"):
        words = f"signed past “{each.sentence}”: {each.reason}"
        yield Moment(at=each.signed_at, zone="", words=words, by=each.by, is_amiss=True)
    day = _day_of(visit)
    tests = StrandTest.objects.visible_to(person).filter(client=visit.client_id, tested_at__range=day)
    for test in tests.select_related("line", "recorded_by"):
        seen = f", {test.colour_seen}" if test.colour_seen else ""
        outcome = "passed" if test.passed else "failed"
        words = f"strand test of {test.of}, {float(test.minutes):g} min: {outcome}{seen}"
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
                name = each.shade.name if each.shade else "developer"
                weighed[name] = weighed.get(name, 0.0) + float(each.poured_g)
        grams = ", ".join(f"{weight:.1f} g {name}" for name, weight in weighed.items())
        strength = f", {float(batch.bowl.vol):g} vol" if batch.bowl.parts else ""
        served = ", ".join(zones[pk] for pk in batch.served if pk in zones)
        if batch.mixed_at is not None:
            yield Moment(at=batch.mixed_at, zone=served, words=f"mixed {batch.bowl.line}{strength}: {grams}")


def _on_the_hair(person: Person, visit: Visit) -> Iterator[Moment]:
    clocks = ZoneClock.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "started_by")
    for clock in clocks.prefetch_related("checks__seen_by", "corrections__corrected_by"):
        zone, what = clock.zone.name, clock.get_kind_display()
        how = f"{', damp' if clock.damp else ''}{', heat' if clock.heat else ''}"
        strength = (
            f", {float(clock.vol):g} vol to level {float(clock.to_level):g}" if clock.vol and clock.to_level else ""
        )
        on = f"{what} on{strength}{how}, for {float(clock.planned_min):g} min"
        yield Moment(at=clock.applied_at, zone=zone, words=on, by=str(clock.started_by))
        for check in clock.checks.all():
            words = f"looked at after {float(check.minute):g} min: {SEEN['' if check.is_going else check.depth]}"
            yield Moment(at=check.seen_at, zone=zone, words=words, by=str(check.seen_by), is_amiss=check.is_going)
        if clock.rinsed_at:
            minutes = (clock.rinsed_at - clock.section_applied_at).total_seconds() / 60
            last = f", the last of {clock.sections} sections" if clock.sections_off else ""
            yield Moment(at=clock.rinsed_at, zone=zone, words=f"{what} rinsed after {minutes:.0f} min{last}")
        for each in clock.corrections.all():
            yield Moment(at=each.corrected_at, zone=zone, words=_corrected(each), by=str(each.corrected_by))
    incidents = Incident.objects.visible_to(person).filter(visit=visit).select_related("zone", "noted_by")
    for incident in incidents:
        words = f"{incident.get_kind_display()}, {incident.what}, after {float(incident.minute):g} min"
        yield Moment(
            at=incident.noted_at, zone=incident.zone.name, words=words, by=str(incident.noted_by), is_amiss=True
        )


def _corrected(each: ClockCorrection) -> str:
    def said(at: datetime.datetime | None) -> str:
        return f"{timezone.localtime(at):%H:%M}" if at else "not yet"

    return f"set right: {each.get_moment_display()} {said(each.became)}, not {said(each.was)}"


def _kept(person: Person, visit: Visit) -> Iterator[Moment]:
    formulas = Formula.objects.visible_to(person).filter(visit=visit).select_related("saved_by", "line")
    for formula in formulas.prefetch_related("pours").order_by("saved_at", "zone_position", "coat_number"):
        grams = ", ".join(f"{float(pour.grams):g} g {pour.shade_name}" for pour in formula.pours.all())
        coat = f"{formula.coat_words}: " if formula.coat_words else ""
        beside = "".join(f"; {words}" for words in formula.beside_words)
        yield Moment(
            at=formula.saved_at,
            zone=formula.zone_name,
            words=f"kept on the card: {coat}{grams}{beside}",
            by=str(formula.saved_by),
            lock=lock_of_colour((float(formula.forecast_l), float(formula.forecast_a), float(formula.forecast_b))),
        )


def _outcomes(person: Person, visit: Visit) -> list[tuple[str, str, Lock, Lock]]:
    """How each zone that was judged came out: its name, in words, what had been forecast, and what it is."""
    results = ZoneResult.objects.visible_to(person).filter(zone__visit=visit).select_related("zone", "judged_by")
    return [
        (
            each.zone.name,
            f"{against_forecast(np.array(each.forecast_lab), np.array(each.lab))}; judged {each.get_source_display()}"
            f"{', dry' if each.dry else ''}{', in two lights' if each.two_lights else ''} by {each.judged_by}",
            lock_of_colour(each.forecast_lab),
            lock_of_colour(each.lab),
        )
        for each in results
    ]


def _told(person: Person, visit: Visit) -> list[str]:
    told = []
    care = HomeCare.objects.visible_to(person).filter(visit=visit).first()
    if care is not None:
        told.append(f"Washes {float(care.washes_a_week):g} times a week{', hot' if care.hot_water else ''}")
        if care.given:
            told.append(f"Took home: {care.given}")
        if care.next_on:
            told.append(f"Next visit {care.next_on:%-d %b %Y}")
    for tweak in Tweak.objects.visible_to(person).filter(visit=visit).select_related("used_in"):
        used = f", made on {tweak.used_in.day:%-d %b %Y}" if tweak.used_in else ""
        told.append(f"Next time, {tweak.zone_name or 'all of it'}: {tweak.words}{used}")
    return told


def _day_of(visit: Visit) -> tuple[datetime.datetime, datetime.datetime]:
    """The first and the last moment of a visit's day, by the studio's clock."""
    begin = timezone.make_aware(datetime.datetime.combine(visit.day, datetime.time.min))
    return begin, begin + datetime.timedelta(days=1)
