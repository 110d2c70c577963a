"""What programs read, as plain data: by the schemas that ship, and without health facts unless a key may have them."""

import datetime
import uuid
from collections.abc import Mapping
from typing import Any, Final

from django.db.models import Exists, OuterRef, Q

from studio.accounts.models import Person
from studio.cards.models import Formula, ZoneResult
from studio.cards.selectors import kept_formulas
from studio.clients.models import HEALTH_OF_CLIENT, Client
from studio.formats.card_json import formula_documents
from studio.formats.history_json import client_document
from studio.visits.models import HEALTH

PAGE_MOST: Final = 200
OVERLAP: Final = datetime.timedelta(minutes=5)  # longer than any change takes to be kept: nothing falls between asks
# What a card tells of health: whole members, and fields of the client and of each consult. Notes may tell of it, too.
TESTS: Final = ("skin_tests",)
OF_CLIENT: Final = (*HEALTH_OF_CLIENT, "notes")
OF_VISIT: Final = ("signatures", "incidents")
OF_CONSULT: Final = (*HEALTH, "scalp")


def without_health(card: Mapping[str, Any]) -> dict[str, Any]:
    """A card's document with nothing of health in it: what is left out is not there, rather than said to be no."""
    visits = []
    for visit in card["visits"]:
        kept = _without(visit, OF_VISIT)
        visits.append(kept | {"consult": _without(visit["consult"], OF_CONSULT)} if "consult" in visit else kept)
    return _without(card, TESTS) | {"client": _without(card["client"], OF_CLIENT), "visits": visits}


def clients_page(person: Person, *, after: uuid.UUID | None, most: int, health: bool) -> tuple[list[Any], str]:
    """Clients by their UUIDs, from the one after on, and after whom the next page begins: "" for none. One query."""
    found = Client.objects.visible_to(person).order_by("uid")
    rows = list((found.filter(uid__gt=after) if after else found)[: most + 1])
    told = [client_document(row) for row in rows[:most]]
    return [each if health else _without(each, OF_CLIENT) for each in told], _next(rows, most)


def formulas_page(
    person: Person, *, since: datetime.datetime | None, after: uuid.UUID | None, most: int
) -> tuple[list[Any], str]:
    """Formulas that were kept here since a moment, or whose zone was judged since, as they came; and the next page.

    They stand as on a card, each beside whose it is. after: the formula of this studio that the page before ended with;
    Formula.DoesNotExist for none. Five queries, however many there are.
    """
    found = Formula.objects.visible_to(person).order_by("kept_at", "pk")
    if since is not None:
        of_zone = Q(zone__visit=OuterRef("visit"), zone__name=OuterRef("zone_name"))
        judged = ZoneResult.objects.filter(of_zone, judged_at__gte=since - OVERLAP)
        found = found.filter(Q(kept_at__gte=since - OVERLAP) | Exists(judged))
    if after is not None:
        last = Formula.objects.visible_to(person).filter(uid=after).order_by("-kept_at", "-pk").first()
        if last is None:
            raise Formula.DoesNotExist
        found = found.filter(Q(kept_at__gt=last.kept_at) | Q(kept_at=last.kept_at, pk__gt=last.pk))
    rows = list(found.select_related("client")[: most + 1])
    shown = {row.pk: {"uid": str(row.client.uid), "name": row.client.name} for row in rows[:most]}
    # With all coats of their visits, for a result stands with the last of a zone.
    kept = kept_formulas(person, Q(visit__in={row.visit_id for row in rows[:most]}))
    mine = [each for each in kept if each.formula.pk in shown]
    told = dict(zip((each.formula.pk for each in mine), formula_documents(person, mine), strict=True))
    return [{"client": whose, "formula": told[pk]} for pk, whose in shown.items()], _next(rows, most)


def _next(rows: list[Any], most: int) -> str:
    return str(rows[most - 1].uid) if len(rows) > most else ""


def _without(told: Mapping[str, Any], names: tuple[str, ...]) -> dict[str, Any]:
    return {name: each for name, each in told.items() if name not in names}
