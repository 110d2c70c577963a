"""Whose hands were at each visit of a client: who read, mixed, put on, signed and judged."""

import datetime
from dataclasses import dataclass
from typing import Final

from django.db.models import CharField, F, Value

from engine.language import later, listed, say
from studio.accounts.models import Person
from studio.cards.models import ZoneResult
from studio.clocks.models import ZoneClock
from studio.head.models import BenchStep
from studio.pour.models import Weighing
from studio.visits.models import Reading, Signature, Visit

# What was done, the rows that tell it, by which path they belong to a visit, and whose each is.
DONE: Final = (
    (later("read"), Reading, "zone__visit", "read_by"),
    (later("mixed"), BenchStep, "worktop__visit", "made_by"),
    (later("weighed"), Weighing, "batch__bowl__worktop__visit", "weighed_by"),
    (later("put on"), ZoneClock, "zone__visit", "started_by"),
    (later("signed"), Signature, "visit", "signed_by"),
    (later("judged"), ZoneResult, "zone__visit", "judged_by"),
)


@dataclass(frozen=True, kw_only=True)
class Hands:
    """A visit: its day, at whose chair it was, and what each hand did."""

    day: datetime.date
    colourist: str
    did: tuple[tuple[str, str], ...]


def hands_of(person: Person, client_id: int) -> list[Hands]:
    """The visits of a client, the newest first, with who did what. Three queries."""
    parts = []
    for words, model, path, by in DONE:
        rows = model._default_manager.filter(**{f"{path}__client": client_id}).order_by()
        told = rows.annotate(what=Value(words, CharField()), of=F(f"{path}_id"), who=F(f"{by}_id"))
        parts.append(told.values_list("of", "who", "what").distinct())
    names = {each.pk: str(each) for each in Person.objects.filter(studio=person.studio_id).select_related("same_as")}
    order = [words for words, *_ in DONE]
    did: dict[int, dict[int, list[str]]] = {}
    for visit_id, who, what in parts[0].union(*parts[1:]):
        did.setdefault(visit_id, {}).setdefault(who, []).append(what)
    visits = Visit.objects.visible_to(person).filter(client=client_id)
    return [
        Hands(
            day=visit.day,
            colourist=names.get(visit.colourist_id, ""),
            did=tuple(
                (names.get(who, ""), listed(say(each) for each in sorted(what, key=order.index)))
                for who, what in sorted(did.get(visit.pk, {}).items())
            ),
        )
        for visit in visits
    ]
