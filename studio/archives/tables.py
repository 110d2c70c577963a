"""Which rows are a studio's, and which of what the database holds is left out of its archive, with the reason."""

from __future__ import annotations

from typing import Any, Final

from django.apps import apps
from django.db.models import Field, Model, Q, QuerySet

# Every table that goes along, in an order in which each can be put back, and the path from a row to its studio.
PATHS: Final[dict[str, str]] = {
    "accounts.Studio": "pk",
    "accounts.Person": "studio",
    "account.EmailAddress": "user__studio",
    "taught.KnowledgeVersion": "studio",
    "supplies.Supply": "studio",
    "supplies.SupplyMove": "supply__studio",
    "shelf.ShadeLine": "studio",
    "shelf.TubeList": "line__studio",
    "shelf.Shade": "line__studio",
    "shelf.ShadeVersion": "shade__line__studio",
    "shelf.ShadeBand": "shade__line__studio",
    "shelf.StockMove": "shade__line__studio",
    "shelf.StrandSheet": "shade__line__studio",
    "shelf.StrandReading": "shade__line__studio",
    "clients.Client": "studio",
    "clients.PastWork": "client__studio",
    "clients.SkinTest": "client__studio",
    "clients.Consent": "client__studio",
    "clients.StrandTest": "client__studio",
    "visits.Visit": "client__studio",
    "visits.Zone": "visit__client__studio",
    "visits.Reading": "zone__visit__client__studio",
    "visits.Consult": "visit__client__studio",
    "visits.Signature": "visit__client__studio",
    "visits.Incident": "visit__client__studio",
    "photos.Photo": "visit__client__studio",
    "bench.Worktop": "visit__client__studio",
    "bench.Bowl": "worktop__visit__client__studio",
    "bench.Coat": "zone__visit__client__studio",
    "bench.Portion": "bowl__worktop__visit__client__studio",
    "bench.BenchStep": "worktop__visit__client__studio",
    "pour.Batch": "bowl__worktop__visit__client__studio",
    "pour.Weighing": "batch__bowl__worktop__visit__client__studio",
    "clocks.ZoneClock": "zone__visit__client__studio",
    "clocks.ClockCheck": "clock__zone__visit__client__studio",
    "clocks.ClockCorrection": "clock__zone__visit__client__studio",
    "cards.Formula": "client__studio",
    "cards.FormulaPour": "formula__client__studio",
    "cards.ZoneResult": "zone__visit__client__studio",
    "cards.LaterLook": "zone__visit__client__studio",
    "cards.Tweak": "client__studio",
    "cards.HomeCare": "visit__client__studio",
    "cards.Leftover": "bowl__worktop__visit__client__studio",
    "cards.AmountTaken": "visit__client__studio",
    "guesses.Guess": "zone__visit__client__studio",
    "portrait.Portrait": "photo__visit__client__studio",
    "route.ChosenRoute": "zone__visit__client__studio",
    "route.VisitPlan": "visit__client__studio",
    "route.Agreement": "visit__client__studio",
    "practice.Drill": "person__studio",
    "practice.SetWork": "person__studio",
    "formats.Intake": "studio",
    "formats.IntakePart": "intake__studio",
    "accounts.StudioEvent": "pgh_obj",
    "accounts.PersonEvent": "studio",
    "shelf.ShadeLineEvent": "studio",
    "shelf.ShadeEvent": "line__studio",
    "clients.ClientEvent": "studio",
    "clients.PastWorkEvent": "client__studio",
    "clients.SkinTestEvent": "client__studio",
    "visits.VisitEvent": "client__studio",
    "visits.ConsultEvent": "visit__client__studio",
    "visits.SignatureEvent": "visit__client__studio",
    "photos.PhotoEvent": "visit__client__studio",
    "visits.ReadingEvent": "zone__visit__client__studio",
    "clocks.ZoneClockEvent": "zone__visit__client__studio",
    "cards.ZoneResultEvent": "zone__visit__client__studio",
}
CONTEXTS: Final = "pghistory.Context"  # of the traces: those that they name, in the order in which they name them
PEOPLE: Final = "accounts.Person"
HOUSE: Final = "accounts.Studio"
OF_THE_MACHINE: Final = "a program's own, made anew where it runs"
SECRET: Final = "opens a door: a copy of it would open the door to whoever holds the file"  # noqa: S105 - a reason
LEFT_OUT: Final[dict[str, str]] = {
    "auth.Permission": OF_THE_MACHINE,
    "auth.Group": OF_THE_MACHINE,
    "auth.Group_permissions": OF_THE_MACHINE,
    "accounts.Person_groups": "nobody is in a group: what one may do hangs on the role",
    "accounts.Person_user_permissions": "nobody has one: what one may do hangs on the role",
    "contenttypes.ContentType": OF_THE_MACHINE,
    "axes.AccessAttempt": "guesses at the doors of one server",
    "axes.AccessAttemptExpiration": "guesses at the doors of one server",
    "axes.AccessFailureLog": "guesses at the doors of one server",
    "axes.AccessLog": "who came in at one server",
    "accounts.SignedIn": SECRET,
    "accounts.SentOnce": "changes that a page may still send again to this server",
    "people.Invitation": SECRET,
    "formats.Feed": SECRET,
    "api.ProgramKey": SECRET,
    "account.EmailConfirmation": SECRET,
    "mfa.Authenticator": SECRET,
    "archives.Transfer": "an archive does not hold archives",
    "pghistory.Events": "a view of the traces, no table",
    "procrastinate.ProcrastinateWorker": OF_THE_MACHINE,
    "procrastinate.ProcrastinateJob": OF_THE_MACHINE,
    "procrastinate.ProcrastinateEvent": OF_THE_MACHINE,
    "procrastinate.ProcrastinatePeriodicDefer": OF_THE_MACHINE,
}
FIELDS_LEFT_OUT: Final[dict[str, dict[str, str]]] = {
    PEOPLE: {
        "password": SECRET,
        "pin": SECRET,
        "pin_wrong": "wrong guesses at a PIN of one server",
        "last_login": "when somebody came in at one server",
        "is_staff": "nobody is: there are no pages of administration",
        "is_superuser": "nobody is: there are no pages of administration",
    }
}


def fields_of(label: str) -> list[Field[Any, Any]]:
    """The columns of a table that go along, in their order."""
    left_out = FIELDS_LEFT_OUT.get(label, {})
    return [field for field in apps.get_model(label)._meta.concrete_fields if field.name not in left_out]


def pk_of(label: str) -> str:
    """What a table's own number is called."""
    field = apps.get_model(label)._meta.pk
    assert field is not None  # noqa: S101 - every model has one
    return str(field.name)


def tracked(label: str) -> str:
    """Of which table's rows a table holds traces; empty for one that holds none."""
    model: Any = getattr(apps.get_model(label), "pgh_tracked_model", None)
    return str(model._meta.label) if model else ""


def related(field: Field[Any, Any]) -> str:
    """Which table a column names rows of."""
    of: Any = field.related_model
    return str(of._meta.label)


def rows_of(label: str, studio_id: int) -> QuerySet[Model]:
    """A studio's rows of a table, the oldest first. Traces of visits that are gone go along: theirs tell who it was."""
    which = Q(**{PATHS[label]: studio_id})
    if PATHS[label].startswith("visit__") and tracked(label):
        seen = apps.get_model("visits.VisitEvent")._default_manager.filter(client__studio=studio_id)
        which |= Q(visit_id__in=seen.values("pgh_obj_id"))
    found: QuerySet[Model] = apps.get_model(label)._default_manager.filter(which)
    return found.order_by(pk_of(label))
