"""Finding cards and what stands on them."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from django.db.models import Prefetch, Q
from django.utils import timezone

from engine.colorimetry.difference import delta_e00
from engine.language import say
from engine.service.amounts import Used, habit
from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.models import AmountTaken, Formula, FormulaPour, HomeCare, Leftover, Tweak, ZoneResult
from studio.clients.models import Client, StrandTest
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import brief_weight
from studio.visits.models import Signature, Visit, Zone


@dataclass(frozen=True, kw_only=True)
class KeptFormula:
    """A formula with its pours and a lock in its forecast colour."""

    formula: Formula
    pours: list[FormulaPour]
    lock: Lock
    result: ZoneResult | None = None
    result_lock: Lock | None = None
    turned_out: str = ""

    @property
    def story(self) -> list[str]:
        """What is known of its mixing, its time on the hair, and how it came out, part by part."""
        formula = self.formula
        parts = []
        if formula.mixed_at:
            batches = say(", {batches} batches", batches=formula.batches) if formula.batches > 1 else ""
            parts.append(
                say(
                    "mixed at {localtime:%H:%M}{batches}",
                    localtime=timezone.localtime(formula.mixed_at),
                    batches=batches,
                )
            )
        if formula.applied_at:
            until = (
                say(" to {localtime:%H:%M}", localtime=timezone.localtime(formula.rinsed_at))
                if formula.rinsed_at
                else ""
            )
            how = (say("damp") if formula.damp else say("dry")) + (say(", heat") if formula.heat else "")
            parts.append(
                say(
                    "on from {localtime:%H:%M}{until}, {how}",
                    localtime=timezone.localtime(formula.applied_at),
                    until=until,
                    how=how,
                )
            )
        if formula.cost:
            parts.append(say("cost {cost:.2f}", cost=float(formula.cost)))
        if self.result:
            parts.append(
                say(
                    "turned out {turned_out}, judged {source}",
                    turned_out=self.turned_out,
                    source=self.result.get_source_display(),
                )
            )
        return parts + [
            say("{shade_name} no. {lot}", shade_name=pour.shade_name, lot=pour.lot) for pour in self.pours if pour.lot
        ]


@dataclass(frozen=True, kw_only=True)
class CardLine:
    """One client in the list of cards, with the newest or the nearest formula, if any. off: how far from the colour
    that was looked for."""

    client: Client
    newest: KeptFormula | None
    off: str = ""


def card_of(person: Person, client_id: int) -> tuple[Client, list[KeptFormula]]:
    """A client and the formulas on the card, newest first. Three queries. Raises Client.DoesNotExist."""
    client = Client.objects.visible_to(person).get(pk=client_id)
    return client, kept_formulas(person, Q(client=client))


def signatures_of(person: Person, client_id: int) -> list[Signature]:
    """The safety gates that were signed for a client, newest first. One query."""
    found = Signature.objects.visible_to(person).filter(visit__client=client_id)
    return list(found.select_related("visit", "signed_by").order_by("-signed_at"))


def last_aims_of(person: Person, client_id: int) -> dict[str, tuple[float, float, float]]:
    """The L*a*b* that each part of a client's head was last aimed at, if it was; a whole head stands for every part.

    One query.
    """
    formulas = Formula.objects.visible_to(person).filter(client=client_id, target_l__isnull=False)
    newest = formulas.order_by("zone_part", "-saved_at", "-id").distinct("zone_part")
    found: dict[str, tuple[float, float, float]] = {}
    for each in sorted(newest, key=lambda one: (one.saved_at, one.pk)):
        if each.target_l is None or each.target_a is None or each.target_b is None:
            continue
        parts = Zone.Part.values if each.zone_part == Zone.Part.WHOLE else [each.zone_part]
        found.update(dict.fromkeys(parts, (float(each.target_l), float(each.target_a), float(each.target_b))))
    return found


def habit_of(person: Person, visit: Visit) -> float | None:
    """How many times what is reckoned a client's head took when its bowls were last weighed back. Two queries."""
    here = Leftover.objects.visible_to(person).filter(left_g__isnull=False).exclude(bowl__worktop__visit=visit)
    here = here.filter(bowl__worktop__visit__client=visit.client_id, bowl__worktop__visit__day__lte=visit.day)
    told = AmountTaken.objects.visible_to(person).filter(visit__client=visit.client_id, visit__day__lte=visit.day)
    days: dict[tuple[datetime.date, int], list[Used]] = {}
    for row in here.select_related("bowl__worktop__visit"):
        last = row.bowl.worktop.visit
        days.setdefault((last.day, last.pk), []).append(used_of(row))
    for each in told.exclude(visit=visit).select_related("visit"):
        days.setdefault((each.visit.day, each.visit_id), [used_of(each)])
    return habit(days[max(days)]) if days else None


def used_of(row: Leftover | AmountTaken) -> Used:
    """What a row tells of an amount."""
    return Used(needed_g=float(row.needed_g), poured_g=float(row.poured_g), left_g=float(row.left_g or 0))


def newest_formula(person: Person, client_id: int, part: str) -> Formula | None:
    """The newest formula of a client's zone, if there is one; a whole head stands for every part. Two queries."""
    formulas = Formula.objects.visible_to(person).filter(client=client_id, zone_part__in=(part, Zone.Part.WHOLE))
    found = formulas.select_related("line", "visit").prefetch_related("pours").order_by("-saved_at", "-id")
    return found.first()


@dataclass(frozen=True, kw_only=True)
class StrandSeen:
    """A strand test with what was in its mix, and locks as it was forecast and as it was read, if that is known.

    off: how far the one is from the other, delta E00 in words.
    """

    test: StrandTest
    mix: str
    lock: Lock | None
    seen: Lock | None
    off: str


def strand_tests_of(person: Person, client_id: int) -> list[StrandSeen]:
    """The strand tests of a client, newest first. One query."""
    found = StrandTest.objects.visible_to(person).filter(client=client_id).select_related("line")
    return [
        StrandSeen(
            test=test,
            mix=_mix_words(test.grams) or ", ".join(test.products),
            lock=lock_of_colour(tuple(test.forecast_lab)) if test.forecast_lab else None,
            seen=lock_of_colour(tuple(test.seen_lab)) if test.seen_lab else None,
            off=_off_words(test),
        )
        for test in found
    ]


def _off_words(test: StrandTest) -> str:
    if not (test.seen_lab and test.forecast_lab):
        return ""
    return say("{delta_e00:.1f} off", delta_e00=float(delta_e00(np.array(test.forecast_lab), np.array(test.seen_lab))))


def _mix_words(grams: Mapping[str, float]) -> str:
    """Grams of a mix with their shades, the carrier, of which there is most, last: the database keeps no order."""
    return ", ".join(
        f"{brief_weight(weight)} {name}" for name, weight in sorted(grams.items(), key=lambda each: each[1])
    )


def active_tweaks(person: Person, client_id: int) -> list[Tweak]:
    """What to change next time, newest first. One query."""
    return list(Tweak.objects.visible_to(person).filter(client=client_id, active=True))


def tweaks_of(person: Person, client_id: int) -> list[Tweak]:
    """Everything that was to be changed at some next time, used or not, newest first. One query."""
    return list(Tweak.objects.visible_to(person).filter(client=client_id).select_related("visit"))


def last_care(person: Person, client_id: int) -> HomeCare | None:
    """What the client was last given and told, if anything. One query."""
    return HomeCare.objects.visible_to(person).filter(visit__client=client_id).order_by("-visit__day").first()


def visit_on(person: Person, client_id: int, day: datetime.date) -> Visit | None:
    """The client's visit on a day, if it has begun."""
    return Visit.objects.visible_to(person).filter(client_id=client_id, day=day).first()


def kept_formulas(person: Person, which: Q) -> list[KeptFormula]:
    """Formulas with what was noted of them, newest first. Four queries."""
    formulas = (
        Formula.objects.visible_to(person)
        .filter(which)
        .select_related("line", "saved_by__same_as", "visit__consult")
        .order_by("-saved_at", "zone_position", "pk")
        .prefetch_related(Prefetch("pours", FormulaPour.objects.order_by("id")))
    )
    found = list(formulas)
    results = {
        (row.zone.visit_id, row.zone.name): row
        for row in ZoneResult.objects.visible_to(person)
        .filter(zone__visit__in={formula.visit_id for formula in found})
        .select_related("zone", "judged_by__same_as")
    }
    last: dict[tuple[int, str, object], int] = {}  # a zone is judged once all its coats are on
    for formula in found:
        day = (formula.visit_id, formula.zone_name, formula.saved_at)
        last[day] = max(last.get(day, 0), formula.coat_number)

    def result_of(formula: Formula) -> ZoneResult | None:
        is_last = formula.coat_number == last[formula.visit_id, formula.zone_name, formula.saved_at]
        return results.get((formula.visit_id, formula.zone_name)) if is_last else None

    return [_kept(formula, result_of(formula)) for formula in found]


def _kept(formula: Formula, result: ZoneResult | None) -> KeptFormula:
    return KeptFormula(
        formula=formula,
        pours=list(formula.pours.all()),
        lock=_lock(formula),
        result=result,
        result_lock=lock_of_colour(result.lab) if result else None,
        turned_out=against_forecast(np.array(result.forecast_lab), np.array(result.lab)) if result else "",
    )


def _lock(formula: Formula) -> Lock:
    return lock_of_colour((float(formula.forecast_l), float(formula.forecast_a), float(formula.forecast_b)))
