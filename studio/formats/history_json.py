"""What a card's document says of the client beside formulas: facts that safety hangs on, tests, and visits."""

from __future__ import annotations

from decimal import Decimal
from typing import Any, Final

from django.db import models

from studio.accounts.models import Person
from studio.cards.models import HomeCare
from studio.cards.selectors import used_of
from studio.clients.models import Client, SkinTest, StrandTest
from studio.visits.models import Consult, Incident, Signature, Visit, Zone

NAMED_BY: Final = ("uid", "day")  # a visit of which nothing else is known tells nothing
CARE_FIELDS: Final = ("washes_a_week", "hot_water", "pool", "sun", "weekly_mask", "given")
CONSULT_FIELDS: Final[dict[str, models.Field[Any, Any]]] = {
    field.name: field
    for field in Consult._meta.get_fields()
    if isinstance(field, models.Field) and field.name not in ("id", "visit", "version", "answered", "integrity_at")
}


def client_document(client: Client) -> dict[str, Any]:
    """Who it is, and what makes them react."""
    document: dict[str, Any] = {
        "uid": str(client.uid),
        "name": client.name,
        "about": client.about,
        "notes": client.notes,
        "sensitivities": client.sensitivities,
        "reacted": client.reacted,
        "black_henna_tattoo": client.black_henna_tattoo,
    }
    if client.born_on:
        document["born_on"] = client.born_on.isoformat()
    return document


def past_document(client: Client) -> list[dict[str, Any]]:
    """Earlier work, newest first. One query."""
    return [
        {"work": past.work, "part": past.part, "done_on": past.done_on.isoformat()}
        | ({"note": past.note} if past.note else {})
        for past in client.past.all()
    ]


def tests_document(client: Client) -> dict[str, Any]:
    """Sensitivity and strand tests, newest first. Two queries."""
    return {
        "skin_tests": [_skin_test(test) for test in client.skin_tests.select_related("line")],
        "strand_tests": [_strand_test(test) for test in client.strand_tests.select_related("line")],
    }


def _skin_test(test: SkinTest) -> dict[str, Any]:
    document = {"tested_at": test.tested_at.isoformat(), "clear": test.clear}
    return document | ({"line": test.line.name} if test.line else {})


def _strand_test(test: StrandTest) -> dict[str, Any]:
    document = {
        "part": test.part,
        "products": test.products,
        "vol": float(test.vol),
        "minutes": float(test.minutes),
        "colour_seen": test.colour_seen,
        "stretch_held": test.stretch_held,
        "passed": test.passed,
        "tested_at": test.tested_at.isoformat(),
    }
    known = {
        "grams": test.grams,
        "forecast_lab": test.forecast_lab,
        "seen_lab": test.seen_lab,
        "line": test.line.name if test.line else "",
    }
    return document | {name: value for name, value in known.items() if value}


def visits_document(person: Person, client: Client, *, only: int | None = None) -> list[dict[str, Any]]:
    """The visits of which something was written down, newest first. only: one visit's row. A few queries."""
    visits = Visit.objects.visible_to(person).filter(client=client)
    visits = visits.select_related("consult", "home_care", "amount_taken", "worktop")
    if only is not None:
        visits = visits.filter(pk=only)
    visits = visits.prefetch_related("signatures__signed_by", "incidents__zone", "zones", "worktop__bowls__leftover")
    return [document for visit in visits if len(document := _visit(visit)) > len(NAMED_BY)]


def _visit(visit: Visit) -> dict[str, Any]:
    document: dict[str, Any] = {"uid": str(visit.uid), "day": visit.day.isoformat()}
    if consult := getattr(visit, "consult", None):
        said = {name: getattr(consult, name) for name in CONSULT_FIELDS if name not in consult.unasked}
        document["consult"] = {
            name: float(value) if isinstance(value, Decimal) else value
            for name, value in said.items()
            if value is not None
        }
    if care := getattr(visit, "home_care", None):
        document["home_care"] = _care(care)
    if weighed := _weighed_back(visit):
        document["weighed_back"] = weighed
    zones = {zone.pk: zone for zone in visit.zones.all()}
    if signatures := [_signature(signature, zones) for signature in visit.signatures.all()]:
        document["signatures"] = signatures
    if incidents := [_incident(incident) for incident in visit.incidents.all()]:
        document["incidents"] = incidents
    return document


def _weighed_back(visit: Visit) -> dict[str, float]:
    """What the bowls that were weighed back took together, with developer, in g: weighed here, or told by a file."""
    bowls = visit.worktop.bowls.all() if hasattr(visit, "worktop") else ()
    left = [bowl.leftover for bowl in bowls if hasattr(bowl, "leftover")]
    used = [used_of(row) for row in left if row.left_g is not None]
    if not used and hasattr(visit, "amount_taken"):
        used = [used_of(visit.amount_taken)]
    grams = {name: round(sum(getattr(each, name) for each in used), 1) for name in ("needed_g", "poured_g", "left_g")}
    return grams if grams["needed_g"] else {}


def _care(care: HomeCare) -> dict[str, Any]:
    document = {name: getattr(care, name) for name in CARE_FIELDS} | {"washes_a_week": float(care.washes_a_week)}
    return document | ({"next_on": care.next_on.isoformat()} if care.next_on else {})


def _signature(signature: Signature, zones: dict[int, Zone]) -> dict[str, Any]:
    return {
        "gate": signature.gate,
        "kind": signature.kind,
        "line": signature.line,
        "zones": [zones[pk].name for pk in signature.zones if pk in zones],
        "given": signature.given,
        "sentence": signature.sentence,
        "reason": signature.reason,
        "signed_by": signature.by,
        "signed_at": signature.signed_at.isoformat(),
    }


def _incident(incident: Incident) -> dict[str, Any]:
    return {
        "zone": incident.zone.name,
        "kind": incident.kind,
        "what": incident.what,
        "minute": float(incident.minute),
        "noted_at": incident.noted_at.isoformat(),
    }
