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
from studio.formats.entry import Entry, Whose
from studio.formats.services.identity import clients_of
from studio.formats.services.telling import Told
from studio.head.state import set_target
from studio.shelf.selectors import StockedLine, usual_process
from studio.ui.locks import lock_of_colour
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Visit, Zone

Shelf = Mapping[str, StockedLine]
RESULT: tuple[str, ...] = ("result_l", "result_a", "result_b")
FORECAST: tuple[str, ...] = ("forecast_l", "forecast_a", "forecast_b")


def keep_formulas(person: Person, entries: Sequence[Entry], shelf: Shelf, told: Told) -> tuple[int, int]:
    """Put checked entries on the studio's cards: how many were taken, and how many were here already.

    Every line, shade and moment must be known to be sound. A dozen queries, however many entries.
    """
    clients = clients_of(person, {entry.whose: entry.about for entry in entries}, told)
    standing, uids = _standing(person, entries, clients)
    fresh: list[Entry] = []
    for entry in entries:
        recipes = standing[clients[entry.whose].pk, entry.zone, entry.saved_at]
        if entry.recipe not in recipes and (not entry.uid or entry.uid not in uids):
            fresh.append(entry)
        recipes.add(entry.recipe)
        uids.add(entry.uid)
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


def _standing(
    person: Person, entries: Sequence[Entry], clients: Mapping[Whose, Client]
) -> tuple[dict[tuple[int, str, object], set[object]], set[str]]:
    """The recipes that are here, by client, zone and moment, and what formulas that are here are known by."""
    found: dict[tuple[int, str, object], set[object]] = defaultdict(set)
    here = Formula.objects.visible_to(person)
    formulas = here.filter(client__in=clients.values(), saved_at__in={entry.saved_at for entry in entries})
    for formula in formulas.select_related("line").prefetch_related("pours"):
        recipe = (
            formula.coat_number,
            formula.line.name,
            frozenset((pour.shade_name, pour.grams) for pour in formula.pours.all()),
        )
        found[formula.client_id, formula.zone_name, formula.saved_at].add(recipe)
    known = here.filter(uid__in=[entry.uid for entry in entries if entry.uid]).values_list("uid", flat=True)
    return found, {str(uid) for uid in known}


def _zones(
    person: Person, entries: Sequence[Entry], clients: Mapping[Whose, Client]
) -> dict[tuple[int, datetime.date, str], Zone]:
    """The zones of the entries by client, day and name; what is not here yet is made, with its visit."""
    days = {(clients[entry.whose].pk, day_of_visit(entry)): entry.visit_uid for entry in entries}
    ids = {client for client, _ in days}
    visits_here = Visit.objects.visible_to(person).filter(client__in=ids)
    known = set(visits_here.values_list("client", "day"))
    taken = set(map(str, visits_here.values_list("uid", flat=True)))
    fresh = []
    for (client, day), uid in sorted(days.items()):
        if (client, day) not in known:
            known_by = {"uid": uid} if uid and uid not in taken else {}
            fresh.append(Visit(client_id=client, day=day, colourist=person, **known_by))
            taken.add(uid)
    Visit.objects.bulk_create(fresh, ignore_conflicts=True)
    visits = {(visit.client_id, visit.day): visit for visit in visits_here.filter(day__in={day for _, day in days})}
    zones_here = Zone.objects.filter(visit__in=visits.values(), removed=False).select_related("visit__client")
    names = {(zone.visit_id, zone.name) for zone in zones_here}
    wanted: dict[tuple[int, str], Entry] = {}
    for entry in entries:
        place = visits[clients[entry.whose].pk, day_of_visit(entry)].pk, entry.zone
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


def _zone(entry: Entry, zones: Mapping[tuple[int, datetime.date, str], Zone], clients: Mapping[Whose, Client]) -> Zone:
    return zones[clients[entry.whose].pk, day_of_visit(entry), entry.zone]


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
        saved_as=entry.saved_by,
        read_as=entry.read_by,
        saved_at=entry.saved_at,
        **({"uid": entry.uid} if entry.uid else {}),
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
            where = f"{entry.client}, {zone.visit.day}, {zone.name}"
            judged_here, judged_there = _judged(ours), _judged(theirs)
            if told.files_word_stands(
                f"{where}: result", where=where, title=say("what was judged"), here=judged_here, there=judged_there
            ):
                theirs.pk = ours.pk
                theirs.save()
    ZoneResult.objects.bulk_create(fresh.values())


def _judged(result: ZoneResult) -> str:
    """A result in words: its colour, how it was judged and by whom."""
    lock = lock_of_colour(result.lab)
    return say("{words}, {source}, {judge}", words=lock.words, source=result.get_source_display(), judge=result.judge)


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
        judged_as=result.judged_by,
        **dict(zip((*RESULT, *FORECAST), (*result.lab, *forecast), strict=True)),
    )
