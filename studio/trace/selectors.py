"""What was changed of a client, and of the studio itself: read from the traces that triggers keep."""

import datetime
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Final

from django.apps import apps
from django.db.models import Model, Q, QuerySet

from engine.language import decimals, later, listed, say
from studio.accounts.models import Person
from studio.clients.models import Client
from studio.ui.days import day_words, moment_words
from studio.visits.models import Visit, Zone

MOST: Final = 300  # of a kind of row: what a page shows
DID: Final = {"insert": later("made"), "update": later("changed"), "delete": later("deleted")}
# The traces of a client's rows: their app and model, and by what a row is hers.
OF_CLIENT: Final = (
    ("clients.ClientEvent", "pgh_obj_id"),
    ("clients.PastWorkEvent", "client_id"),
    ("clients.SkinTestEvent", "client_id"),
    ("visits.VisitEvent", "client_id"),
    ("visits.ConsultEvent", "visit_id"),
    ("visits.SignatureEvent", "visit_id"),
    ("photos.PhotoEvent", "visit_id"),
    ("visits.ReadingEvent", "zone_id"),
    ("clocks.ZoneClockEvent", "zone_id"),
    ("cards.ZoneResultEvent", "zone_id"),
)
OF_HOUSE: Final = ("accounts.StudioEvent", "accounts.PersonEvent", "shelf.ShadeLineEvent", "shelf.ShadeEvent")
NAMED_BY: Final = ("name", "first_name", "work", "kind", "purpose", "code", "day", "level")


@dataclass(frozen=True, kw_only=True)
class Part:
    """A field that was changed, in words."""

    field: str
    before: str
    after: str


@dataclass(frozen=True, kw_only=True)
class Trace:
    """A change of one row. number: of its trace, to bring back by; parts: what an update changed."""

    at: datetime.datetime
    who: str
    label: str
    title: str
    did: str
    number: int
    parts: tuple[Part, ...]


def traces_of_client(person: Person, client_id: int, *, most: int | None = MOST) -> list[Trace]:
    """The changes of a client's rows, the newest first; most: how many at most, None for all of them.

    Raises Client.DoesNotExist for another studio's client.
    """
    client = Client.objects.visible_to(person).get(pk=client_id)
    return _newest(_rows_by(_ids_of_client(client.pk)), person, most)


def traces_of_house(person: Person) -> list[Trace]:
    """The changes of the studio's rules, people and shelf, the newest first."""
    by = {
        "accounts.StudioEvent": Q(pgh_obj_id=person.studio_id),
        "accounts.PersonEvent": Q(studio_id=person.studio_id),
        "shelf.ShadeLineEvent": Q(studio_id=person.studio_id),
        "shelf.ShadeEvent": Q(line_id__in=list(person.studio.lines.values_list("pk", flat=True))),
    }
    events = [(apps.get_model(name), by[name]) for name in OF_HOUSE]
    return _newest(((event, event._default_manager.filter(which)) for event, which in events), person, MOST)


def _newest(kinds: Iterable[tuple[type[Model], QuerySet[Any]]], person: Person, most: int | None) -> list[Trace]:
    names = {each.pk: str(each) for each in person.studio.people.select_related("same_as")}
    found = [each for event, rows in kinds for each in _told(event, rows.order_by("-pgh_id")[:most], names)]
    return sorted(found, key=lambda each: each.at, reverse=True)[:most]


def forget_of(client_id: int, *kinds: str) -> None:
    """Take the traces of some kinds away that tell of a client. Raises KeyError for a kind that is not a client's."""
    ids, by = _ids_of_client(client_id), dict(OF_CLIENT)
    for name in kinds:
        apps.get_model(name)._default_manager.filter(**{f"{by[name]}__in": ids[by[name]]}).delete()


class ForgetClient:
    """Takes every trace of a client away: made before her rows go, and called after, since their going leaves some."""

    def __init__(self, client_id: int) -> None:
        self._ids = _ids_of_client(client_id)

    def __call__(self) -> None:
        """Delete them."""
        for event, rows in _rows_by(self._ids):
            event._default_manager.filter(pk__in=rows.values("pk")).delete()


def _ids_of_client(client_id: int) -> dict[str, list[int]]:
    visits = list(Visit.objects.filter(client=client_id).values_list("pk", flat=True))
    gone = apps.get_model("visits.VisitEvent")._default_manager.filter(client_id=client_id)
    visits += list(gone.values_list("pgh_obj_id", flat=True).distinct())
    zones = list(Zone.objects.filter(visit__in=visits).values_list("pk", flat=True))
    return {"pgh_obj_id": [client_id], "client_id": [client_id], "visit_id": visits, "zone_id": zones}


def _rows_by(ids: Mapping[str, list[int]]) -> Iterable[tuple[type[Model], QuerySet[Any]]]:
    for name, by in OF_CLIENT:
        event = apps.get_model(name)
        yield event, event._default_manager.filter(**{f"{by}__in": ids[by]})


def _told(event: type[Model], rows: QuerySet[Any], names: Mapping[int, str]) -> list[Trace]:
    """Traces of one kind, in words. Rows come newest first; each is told beside what the same row was before it."""
    newest_first = list(rows.select_related("pgh_context"))
    label = say(str(event.pgh_tracked_model._meta.verbose_name))  # type: ignore[attr-defined]
    found: list[Trace] = []
    before: dict[int, Any] = {}
    for row in reversed(newest_first):
        parts = _parts(before.get(row.pgh_obj_id), row, names) if row.pgh_label == "update" else ()
        before[row.pgh_obj_id] = row
        context = row.pgh_context.metadata if row.pgh_context else {}
        found.append(
            Trace(
                at=row.pgh_created_at,
                who=names.get(context.get("person", 0), ""),
                label=label,
                title=_title(row),
                did=DID[row.pgh_label],
                number=row.pgh_id,
                parts=parts,
            )
        )
    return found[::-1]


def _title(row: Any) -> str:
    fields = {field.name for field in row._meta.concrete_fields}
    said = [_said(row, name) for name in NAMED_BY if name in fields]
    return listed(each for each in said if each != "–")


def _parts(old: Any, new: Any, names: Mapping[int, str]) -> tuple[Part, ...]:
    if old is None:
        return ()
    fields = [field for field in new._meta.concrete_fields if not field.name.startswith("pgh_") and field.name != "id"]
    changed = [field for field in fields if getattr(old, field.attname) != getattr(new, field.attname)]
    return tuple(
        Part(
            field=say(str(field.verbose_name)),
            before=_said(old, field.name, names),
            after=_said(new, field.name, names),
        )
        for field in changed
    )


def _said(row: Any, name: str, names: Mapping[int, str] | None = None) -> str:
    """A value in words."""
    field = row._meta.get_field(name)
    value = getattr(row, field.attname)
    if field.remote_field:
        whose = field.remote_field.model is Person and names
        return (
            names.get(value, say("somebody"))
            if whose and names
            else ("–" if value is None else say("no. {value}", value=value))
        )
    if value in (None, "", [], {}):
        return "–"
    if isinstance(value, bool):
        return say("yes") if value else say("no")
    if isinstance(value, datetime.datetime):
        return moment_words(value)
    if isinstance(value, datetime.date):
        return day_words(value)
    if field.choices:
        return str(getattr(row, f"get_{name}_display")())
    return decimals(str(value)) if isinstance(value, Decimal | float) else str(value)
