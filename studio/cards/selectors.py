"""Finding cards and what stands on them."""

import datetime
from dataclasses import dataclass

from django.db.models import F, OuterRef, Prefetch, Q, Subquery

from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour
from studio.clients.models import Client
from studio.ui.locks import Lock, lock_of_colour
from studio.visits.models import Signature, Visit, Zone

MOST_CARDS = 60


@dataclass(frozen=True, kw_only=True)
class KeptFormula:
    """A formula with its pours and a lock in its forecast colour."""

    formula: Formula
    pours: list[FormulaPour]
    lock: Lock


@dataclass(frozen=True, kw_only=True)
class CardLine:
    """One client in the list of cards, with the newest formula, if any."""

    client: Client
    newest: KeptFormula | None


def find_cards(person: Person, words: str) -> list[CardLine]:
    """Cards whose client, description, formula note or shades hold every word; newest work first. Three queries."""
    clients, formulas = Client.objects.visible_to(person), Formula.objects.visible_to(person)
    for word in words.split()[:8]:
        clients = clients.filter(
            Q(name__icontains=word)
            | Q(about__icontains=word)
            | Q(pk__in=formulas.filter(note__icontains=word).values("client"))
            | Q(pk__in=formulas.filter(pours__shade_name__icontains=word).values("client"))
        )
    newest = formulas.filter(client=OuterRef("pk")).order_by("-saved_at", "-id")
    found = list(
        clients.annotate(
            newest_id=Subquery(newest.values("pk")[:1]), newest_at=Subquery(newest.values("saved_at")[:1])
        ).order_by(F("newest_at").desc(nulls_last=True), "name")[:MOST_CARDS]
    )
    kept_by_id = {kept.formula.pk: kept for kept in _kept(person, Q(pk__in=[client.newest_id for client in found]))}
    return [CardLine(client=client, newest=kept_by_id.get(client.newest_id)) for client in found]


def card_of(person: Person, client_id: int) -> tuple[Client, list[KeptFormula]]:
    """A client and the formulas on the card, newest first. Three queries. Raises Client.DoesNotExist."""
    client = Client.objects.visible_to(person).get(pk=client_id)
    return client, _kept(person, Q(client=client))


def signatures_of(person: Person, client_id: int) -> list[Signature]:
    """The safety gates that were signed for a client, newest first. One query."""
    found = Signature.objects.visible_to(person).filter(visit__client=client_id)
    return list(found.select_related("visit", "signed_by").order_by("-signed_at"))


def last_aim_of(person: Person, client_id: int, part: str) -> tuple[float, float, float] | None:
    """The L*a*b* that a client's zone was last aimed at, if it was; a whole head stands for every part. One query."""
    formulas = Formula.objects.visible_to(person).filter(client=client_id, target_l__isnull=False)
    found = formulas.filter(zone_part__in=(part, Zone.Part.WHOLE)).order_by("-saved_at", "-id").first()
    if found is None or found.target_l is None or found.target_a is None or found.target_b is None:
        return None
    return float(found.target_l), float(found.target_a), float(found.target_b)


def newest_formula(person: Person, client_id: int, part: str) -> Formula | None:
    """The newest formula of a client's zone, if there is one; a whole head stands for every part. Two queries."""
    formulas = Formula.objects.visible_to(person).filter(client=client_id, zone_part__in=(part, Zone.Part.WHOLE))
    found = formulas.select_related("line", "visit").prefetch_related("pours").order_by("-saved_at", "-id")
    return found.first()


def visit_on(person: Person, client_id: int, day: datetime.date) -> Visit | None:
    """The client's visit on a day, if it has begun."""
    return Visit.objects.visible_to(person).filter(client_id=client_id, day=day).first()


def _kept(person: Person, which: Q) -> list[KeptFormula]:
    formulas = (
        Formula.objects.visible_to(person)
        .filter(which)
        .select_related("line", "saved_by")
        .order_by("-saved_at", "zone_position", "pk")
        .prefetch_related(Prefetch("pours", FormulaPour.objects.order_by("id")))
    )
    return [KeptFormula(formula=formula, pours=list(formula.pours.all()), lock=_lock(formula)) for formula in formulas]


def _lock(formula: Formula) -> Lock:
    return lock_of_colour((float(formula.forecast_l), float(formula.forecast_a), float(formula.forecast_b)))
