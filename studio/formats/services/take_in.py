"""Take formulas from a file onto cards, all or those that are sound, with what was wrong line by line."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

import numpy as np
from django.db import transaction
from django.utils import timezone

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from studio.accounts.models import Person
from studio.bench.state import set_target
from studio.cards.models import Formula, FormulaPour, HomeCare, Tweak, ZoneResult
from studio.clients.models import Client
from studio.formats.entry import Entry, EntryCard, Fault
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, stocked_line
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Visit, Zone

EARLIEST: Final = datetime.datetime(1950, 1, 1, tzinfo=datetime.UTC)


@dataclass(frozen=True, kw_only=True)
class Report:
    """What came of a file: formulas taken in, those that were here already, and what was wrong by line."""

    taken: int
    already: int
    faults: tuple[Fault, ...]


@transaction.atomic
def take_in(
    person: Person,
    *,
    entries: Sequence[Entry],
    faults: Sequence[Fault],
    leave_bad_out: bool,
    card: EntryCard | None = None,
) -> Report:
    """Put entries on the studio's cards. With any fault nothing is taken, unless bad lines are to be left out.

    A formula that is here already, by client, zone and moment, is not taken twice. card: what else a card holds.
    """
    lines = {line.name: stocked_line(line) for line in ShadeLine.objects.visible_to(person)}
    found = [*faults, *(fault for entry in entries if (fault := _unknown(entry, lines)))]
    found.sort(key=lambda fault: fault.line)
    bad = {fault.line for fault in found}
    if found and not leave_bad_out:
        return Report(taken=0, already=0, faults=tuple(found))
    standing = _standing(person, entries)
    clients: dict[str, Client] = {each.name: each for each in Client.objects.visible_to(person)}
    taken = already = 0
    for entry in entries:
        if entry.line_number in bad:
            continue
        if (entry.client, entry.zone, entry.saved_at) in standing:
            already += 1
            continue
        _keep(person, entry, lines[entry.line], clients)
        standing.add((entry.client, entry.zone, entry.saved_at))
        taken += 1
    if card and (taken or already):
        _keep_card(person, card, clients)
    return Report(taken=taken, already=already, faults=tuple(found))


def _unknown(entry: Entry, lines: dict[str, StockedLine]) -> Fault | None:
    """What this studio does not have."""
    if entry.line not in lines:
        return Fault(line=entry.line_number, words=f"this shelf has no line “{entry.line[:40]}”")
    names = {shade.name for shade in lines[entry.line].shades}
    missing = [pour.shade for pour in entry.pours if pour.shade not in names]
    if missing:
        return Fault(line=entry.line_number, words=f"{entry.line} has no shade “{missing[0][:40]}”")
    return _untimely(entry)


def _untimely(entry: Entry) -> Fault | None:
    """A moment that can't be."""
    moments = [entry.saved_at, *entry.moments.values()]
    if any(moment > timezone.now() for moment in moments):
        return Fault(line=entry.line_number, words="saved_at, or another moment, is still to come")
    if any(moment < EARLIEST for moment in moments):
        return Fault(line=entry.line_number, words=f"a moment in it is before {EARLIEST:%Y}")
    applied, rinsed = entry.moments.get("applied_at"), entry.moments.get("rinsed_at")
    if rinsed and (applied is None or rinsed < applied):
        return Fault(line=entry.line_number, words="it was rinsed before it was applied")
    return None


def _standing(person: Person, entries: Sequence[Entry]) -> set[tuple[str, str, object]]:
    names = {entry.client for entry in entries}
    rows = Formula.objects.visible_to(person).filter(client__name__in=names)
    return set(rows.values_list("client__name", "zone_name", "saved_at"))


def _keep(person: Person, entry: Entry, stocked: StockedLine, clients: dict[str, Client]) -> None:
    client = clients.get(entry.client)
    if client is None:
        client = Client.objects.create(studio=person.studio, name=entry.client, about=entry.about)
        clients[entry.client] = client
    day = timezone.localdate(entry.saved_at)
    visit, _ = Visit.objects.get_or_create(client=client, day=day, defaults={"colourist": person})
    zone, _ = Zone.objects.get_or_create(
        visit=visit, name=entry.zone, removed=False, defaults={"part": entry.part, "position": entry.position}
    )
    formula = _formula(person, entry, stocked, visit)
    ids = {shade.name: shade.pk for shade in stocked.shades}
    FormulaPour.objects.bulk_create(
        FormulaPour(
            formula=formula,
            shade_id=ids[pour.shade],
            shade_name=pour.shade,
            grams=pour.grams,
            planned_g=pour.planned_g,
            lot=pour.lot,
        )
        for pour in entry.pours
    )
    if entry.result:
        lab, forecast = entry.result.lab, (formula.forecast_l, formula.forecast_a, formula.forecast_b)
        names = ("result_l", "result_a", "result_b", "forecast_l", "forecast_a", "forecast_b")
        ZoneResult.objects.update_or_create(
            zone=zone,
            defaults={
                "source": entry.result.source,
                "dry": entry.result.dry,
                "two_lights": entry.result.two_lights,
                "judged_by": person,
                **dict(zip(names, (*lab, *forecast), strict=True)),
            },
        )


def _formula(person: Person, entry: Entry, stocked: StockedLine, visit: Visit) -> Formula:
    formula = Formula(
        client=visit.client,
        visit=visit,
        zone_name=entry.zone,
        zone_part=entry.part,
        zone_position=entry.position,
        bowl_number=entry.bowl,
        line=stocked.line,
        wanted_g=entry.wanted_g,
        family=entry.family,
        old_shade=entry.old_shade,
        developer_g=entry.developer_g,
        batches=entry.batches,
        damp=entry.damp,
        heat=entry.heat,
        note=entry.note,
        saved_by=person,
        saved_at=entry.saved_at,
        **entry.hair,
        **entry.moments,
    )
    set_target(formula, None if entry.target_lab is None else list(entry.target_lab))
    forecast = entry.forecast_lab or _forecast(entry, stocked, formula)
    formula.forecast_l, formula.forecast_a, formula.forecast_b = forecast
    if entry.target_lab is not None:
        off = delta_e00(*(np.array([float(part) for part in lab]) for lab in (entry.target_lab, forecast)))
        formula.delta_e00 = round(Decimal(float(off)), 3)
    formula.save()
    return formula


def _forecast(entry: Entry, stocked: StockedLine, formula: Formula) -> tuple[Decimal, ...]:
    """What the engine forecasts, for a file that does not say."""
    dyes = {shade.name: stocked.dyes[shade.pk] for shade in stocked.shades}
    bowl = Bowl(grams={dyes[pour.shade]: float(pour.grams) for pour in entry.pours})
    return tuple(round(Decimal(float(part)), 3) for part in predict(canvas_of(formula), bowl).lab)


def _keep_card(person: Person, card: EntryCard, clients: dict[str, Client]) -> None:
    """The rest of a card: notes where there are none yet, what to change next time, and the home care."""
    client = clients[card.client]
    client.about, client.notes = client.about or card.about, client.notes or card.notes
    client.save(update_fields=["about", "notes"])
    visit = Visit.objects.visible_to(person).filter(client=client).order_by("-day").first()
    if visit is None:
        return
    for each in card.tweaks:
        tweak = Tweak(client=client, visit=visit, zone_name=each.zone, words=each.words, made_by=person)
        set_target(tweak, None if each.aim_lab is None else list(each.aim_lab))
        if not Tweak.objects.filter(visit=visit, zone_name=each.zone).exists():
            tweak.save()
    if card.care:
        HomeCare.objects.get_or_create(visit=visit, defaults=dict(card.care))
