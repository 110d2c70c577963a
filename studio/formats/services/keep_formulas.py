"""Formulas of a file put on cards, many at once, with the visits and zones that they stand in."""

import datetime
from collections import defaultdict
from collections.abc import Mapping, Sequence
from decimal import Decimal

import numpy as np
from django.utils import timezone

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.hair.canvas import lightened
from engine.hair.reading import canvas_lab
from engine.language import say
from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour, ZoneResult
from studio.clients.models import Client
from studio.formats.entry import Entry
from studio.formats.services.telling import Told
from studio.head.state import set_target
from studio.shelf.selectors import StockedLine, usual_process
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Visit, Zone

Shelf = Mapping[str, StockedLine]
RESULT: tuple[str, ...] = ("result_l", "result_a", "result_b")
FORECAST: tuple[str, ...] = ("forecast_l", "forecast_a", "forecast_b")


def keep_formulas(person: Person, entries: Sequence[Entry], shelf: Shelf, told: Told) -> tuple[int, int]:
    """Put checked entries on the studio's cards: how many were taken, and how many were here already.

    Every line, shade and moment must be known to be sound. A dozen queries, however many entries.
    """
    clients = _clients(person, entries)
    standing = _standing(person, entries)
    fresh: list[Entry] = []
    for entry in entries:
        recipes = standing[entry.client, entry.zone, entry.saved_at]
        if entry.recipe not in recipes:
            fresh.append(entry)
            recipes.add(entry.recipe)
    zones = _zones(person, entries, clients)
    formulas = [_formula(person, entry, shelf, _zone(entry, zones, clients).visit) for entry in fresh]
    Formula.objects.bulk_create(formulas)
    FormulaPour.objects.bulk_create(
        pour for entry, formula in zip(fresh, formulas, strict=True) for pour in _pours(entry, formula, shelf)
    )
    _keep_results(person, [(entry, _zone(entry, zones, clients)) for entry in entries if entry.result], told)
    return len(fresh), len(entries) - len(fresh)


def day_of_visit(entry: Entry) -> datetime.date:
    """The studio's day of a formula."""
    return entry.day or timezone.localdate(entry.saved_at)


def _clients(person: Person, entries: Sequence[Entry]) -> dict[str, Client]:
    wanted = {entry.client: entry.about for entry in entries}
    here = set(Client.objects.visible_to(person).filter(name__in=wanted).values_list("name", flat=True))
    Client.objects.bulk_create(
        (Client(studio=person.studio, name=name, about=about) for name, about in wanted.items() if name not in here),
        ignore_conflicts=True,
    )
    return {client.name: client for client in Client.objects.visible_to(person).filter(name__in=wanted)}


def _standing(person: Person, entries: Sequence[Entry]) -> dict[tuple[str, str, object], set[object]]:
    """The recipes that are here, by client, zone and moment."""
    found: dict[tuple[str, str, object], set[object]] = defaultdict(set)
    formulas = Formula.objects.visible_to(person).filter(
        client__name__in={entry.client for entry in entries}, saved_at__in={entry.saved_at for entry in entries}
    )
    for formula in formulas.select_related("client", "line").prefetch_related("pours"):
        recipe = (
            formula.coat_number,
            formula.line.name,
            frozenset((pour.shade_name, pour.grams) for pour in formula.pours.all()),
        )
        found[formula.client.name, formula.zone_name, formula.saved_at].add(recipe)
    return found


def _zones(
    person: Person, entries: Sequence[Entry], clients: Mapping[str, Client]
) -> dict[tuple[int, datetime.date, str], Zone]:
    """The zones of the entries by client, day and name; what is not here yet is made, with its visit."""
    days = {(clients[entry.client].pk, day_of_visit(entry)) for entry in entries}
    ids = {client for client, _ in days}
    visits_here = Visit.objects.visible_to(person).filter(client__in=ids)
    known = set(visits_here.values_list("client", "day"))
    Visit.objects.bulk_create(
        (Visit(client_id=client, day=day, colourist=person) for client, day in sorted(days - known)),
        ignore_conflicts=True,
    )
    visits = {(visit.client_id, visit.day): visit for visit in visits_here.filter(day__in={day for _, day in days})}
    zones_here = Zone.objects.filter(visit__in=visits.values(), removed=False).select_related("visit__client")
    names = {(zone.visit_id, zone.name) for zone in zones_here}
    wanted: dict[tuple[int, str], Entry] = {}
    for entry in entries:
        place = visits[clients[entry.client].pk, day_of_visit(entry)].pk, entry.zone
        if place not in names:
            wanted.setdefault(place, entry)
    Zone.objects.bulk_create(
        (
            Zone(visit_id=visit, name=name, part=entry.part, position=entry.position)
            for (visit, name), entry in wanted.items()
        ),
        ignore_conflicts=True,
    )
    return {(zone.visit.client_id, zone.visit.day, zone.name): zone for zone in zones_here.all()}


def _zone(entry: Entry, zones: Mapping[tuple[int, datetime.date, str], Zone], clients: Mapping[str, Client]) -> Zone:
    return zones[clients[entry.client].pk, day_of_visit(entry), entry.zone]


def _formula(person: Person, entry: Entry, shelf: Shelf, visit: Visit) -> Formula:
    formula = Formula(
        client=visit.client,
        visit=visit,
        zone_name=entry.zone,
        zone_part=entry.part,
        zone_position=entry.position,
        blend_percent=entry.blend_percent,
        bowl_number=entry.bowl,
        line=shelf[entry.line].line,
        light=entry.light,
        wanted_g=round(entry.wanted_g, 1),
        family=entry.family,
        old_shade=entry.old_shade,
        laid=[{"shade": _shade_ids(shelf[layer.line])[layer.shade], "k_s": float(layer.k_s)} for layer in entry.laid],
        developer_g=round(entry.developer_g, 1),
        batches=entry.batches,
        damp=entry.damp,
        heat=entry.heat,
        note=entry.note,
        coat_number=entry.coat,
        purpose=entry.purpose,
        beside=[dict(each) for each in entry.beside],
        pattern=entry.pattern,
        sections=entry.sections,
        rinsed_apart=entry.rinsed_apart,
        **entry.numbers,
        saved_by=person,
        saved_at=entry.saved_at,
        **{name: round(value, 2) for name, value in entry.hair.items()},
        **entry.moments,
    )
    set_target(formula, None if entry.target_lab is None else list(entry.target_lab))
    forecast = entry.forecast_lab or _forecast(entry, shelf[entry.line], formula)
    formula.forecast_l, formula.forecast_a, formula.forecast_b = forecast
    if entry.target_lab is not None:
        off = delta_e00(*(np.array([float(part) for part in lab]) for lab in (entry.target_lab, forecast)))
        formula.delta_e00 = round(Decimal(float(off)), 3)
    return formula


def _shade_ids(stocked: StockedLine) -> dict[str, int]:
    return {shade.name: shade.pk for shade in stocked.shades}


def _forecast(entry: Entry, stocked: StockedLine, formula: Formula) -> tuple[Decimal, ...]:
    """What the engine forecasts, for a file that does not say."""
    if formula.to_level is not None:
        canvas = canvas_of(formula)
        ended = lightened(canvas, max(float(formula.to_level), canvas.level))
        return tuple(round(Decimal(float(part)), 3) for part in canvas_lab(ended))
    dyes = {shade.name: stocked.dyes[shade.pk] for shade in stocked.shades}
    bowl = Bowl(grams={dyes[pour.shade]: float(pour.grams) for pour in entry.pours})
    forecast = predict(canvas_of(formula), bowl, process=usual_process(stocked.line))
    return tuple(round(Decimal(float(part)), 3) for part in forecast.lab)


def _pours(entry: Entry, formula: Formula, shelf: Shelf) -> list[FormulaPour]:
    ids = _shade_ids(shelf[entry.line])
    return [
        FormulaPour(
            formula=formula,
            shade_id=ids[pour.shade],
            shade_name=pour.shade,
            grams=pour.grams,
            planned_g=pour.planned_g,
            lot=pour.lot,
        )
        for pour in entry.pours
    ]


def _keep_results(person: Person, judged: Sequence[tuple[Entry, Zone]], told: Told) -> None:
    """How zones turned out: kept where nobody judged them here; where somebody did, one word stands."""
    here = {result.zone_id: result for result in ZoneResult.objects.filter(zone__in=[zone for _, zone in judged])}
    fresh: dict[int, ZoneResult] = {}
    for entry, zone in judged:
        theirs = _result(person, entry, zone)
        ours = here.get(zone.pk)
        if ours is None:
            fresh.setdefault(zone.pk, theirs)
        elif ours.lab != theirs.lab:
            stands = say("the file's") if told.prefers_file else say("what was judged here")
            told.tell(
                say(
                    "{client}, {day}, {name}: judged otherwise in the file; {stands} stands.",
                    client=entry.client,
                    day=zone.visit.day,
                    name=zone.name,
                    stands=stands,
                )
            )
            if told.prefers_file:
                theirs.pk = ours.pk
                theirs.save()
    ZoneResult.objects.bulk_create(fresh.values())


def _result(person: Person, entry: Entry, zone: Zone) -> ZoneResult:
    result = entry.result
    if result is None:
        raise ValueError(say("an entry without a result was to be judged"))
    forecast = entry.forecast_lab or result.lab
    return ZoneResult(
        zone=zone,
        source=result.source,
        dry=result.dry,
        two_lights=result.two_lights,
        judged_by=person,
        **dict(zip((*RESULT, *FORECAST), (*result.lab, *forecast), strict=True)),
    )
