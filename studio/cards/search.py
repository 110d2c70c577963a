"""Finding cards: by words, by a colour near to this one, by level, and by date."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

import numpy as np
from django.db.models import ExpressionWrapper, F, FloatField, OuterRef, Q, QuerySet, Subquery

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.cards.selectors import CardLine, kept_formulas
from studio.clients.models import Client
from studio.ui.numbers import typed_number, within
from studio.ui.refusal import Refusal

MOST_CARDS: Final = 60
NEAR_BOX: Final = 30.0  # a* and b* either way in which a near colour is looked for
NEAREST: Final = 400  # formulas nearest in L*a*b* that are ranked by CIEDE2000


@dataclass(frozen=True, kw_only=True)
class Sought:
    """What is looked for; what is left out does not narrow the search."""

    words: str = ""
    near: tuple[float, float, float] | None = None
    level: tuple[Decimal, Decimal] | None = None
    since: datetime.date | None = None
    until: datetime.date | None = None

    @property
    def narrows_formulas(self) -> bool:
        """Whether only cards with a formula can be found."""
        return bool(self.near or self.level or self.since or self.until)


def sought_in(form: Mapping[str, str]) -> Sought:
    """What a search form asks for. Raises Refusal not_a_number, out_of_range, not_a_day, colour_in_part."""
    parts = [form.get(name, "").strip() for name in ("lightness", "chroma", "hue")]
    if any(parts) and not all(parts):
        raise Refusal("colour_in_part", "hue")
    near = None
    if all(parts):
        lightness, chroma, hue = (
            within(typed_number(text, name), name, 0, most)
            for text, name, most in zip(parts, ("lightness", "chroma", "hue"), (100, 150, 360), strict=True)
        )
        lab = lab_from_lch(np.array([float(lightness), float(chroma), float(hue)]))
        near = (float(lab[0]), float(lab[1]), float(lab[2]))
    return Sought(
        words=form.get("q", "")[:80],
        near=near,
        level=_levels(form.get("level", "").strip()),
        since=_day(form.get("since", ""), "since"),
        until=_day(form.get("until", ""), "until"),
    )


def _levels(text: str) -> tuple[Decimal, Decimal] | None:
    """A level, to half a level either way."""
    if not text:
        return None
    level = within(typed_number(text, "level"), "level", 1, 11)
    return level - Decimal("0.5"), level + Decimal("0.5")


def _day(text: str, field: str) -> datetime.date | None:
    if not text.strip():
        return None
    try:
        return datetime.date.fromisoformat(text.strip())
    except ValueError:
        raise Refusal("not_a_day", field) from None


def find_cards(person: Person, sought: Sought) -> list[CardLine]:
    """Cards that fit, nearest colour or else newest work first. Three queries."""
    if sought.narrows_formulas:
        return _by_formula(person, sought)
    clients, formulas = _with_words(person, sought.words), Formula.objects.visible_to(person)
    newest = formulas.filter(client=OuterRef("pk")).order_by("-saved_at", "-id")
    found = list(
        clients.annotate(
            newest_id=Subquery(newest.values("pk")[:1]), newest_at=Subquery(newest.values("saved_at")[:1])
        ).order_by(F("newest_at").desc(nulls_last=True), "name")[:MOST_CARDS]
    )
    kept_by_id = {kept.formula.pk: kept for kept in kept_formulas(person, Q(pk__in=[each.newest_id for each in found]))}
    return [CardLine(client=client, newest=kept_by_id.get(client.newest_id)) for client in found]


def _with_words(person: Person, words: str) -> QuerySet[Client]:
    clients, formulas = Client.objects.visible_to(person), Formula.objects.visible_to(person)
    for word in words.split()[:8]:
        clients = clients.filter(
            Q(name__icontains=word)
            | Q(about__icontains=word)
            | Q(pk__in=formulas.filter(note__icontains=word).values("client"))
            | Q(pk__in=formulas.filter(pours__shade_name__icontains=word).values("client"))
        )
    return clients


def _by_formula(person: Person, sought: Sought) -> list[CardLine]:
    """Each client once, with the formula that fits best."""
    formulas = Formula.objects.visible_to(person)
    if sought.words.split():
        formulas = formulas.filter(client__in=_with_words(person, sought.words).values("pk"))
    if sought.level:
        formulas = formulas.filter(level__range=sought.level)
    if sought.since:
        formulas = formulas.filter(saved_at__date__gte=sought.since)
    if sought.until:
        formulas = formulas.filter(saved_at__date__lte=sought.until)
    if sought.near is None:
        ids = list(formulas.order_by("-saved_at", "-id").values_list("pk", "client")[:NEAREST])
        chosen = _one_a_client([(pk, client, 0.0) for pk, client in ids])
    else:
        chosen = _one_a_client(_nearest(formulas, np.array(sought.near)))
    kept = {each.formula.pk: each for each in kept_formulas(person, Q(pk__in=[pk for pk, _, _ in chosen]))}
    clients = Client.objects.visible_to(person).in_bulk([client for _, client, _ in chosen])
    return [
        CardLine(client=clients[client], newest=kept[pk], off=f"{off:.1f}" if sought.near else "")
        for pk, client, off in chosen
    ]


def _nearest(formulas: QuerySet[Formula], lab: FloatArray) -> list[tuple[int, int, float]]:
    """Formula and client ids with their differences, nearest first."""
    lightness, a, b = (Decimal(f"{part:.3f}") for part in lab)
    box = Decimal(NEAR_BOX)
    boxed = formulas.filter(forecast_a__range=(a - box, a + box), forecast_b__range=(b - box, b + box))
    squared = (F("forecast_l") - lightness) ** 2 + (F("forecast_a") - a) ** 2 + (F("forecast_b") - b) ** 2
    rows = list(
        boxed.annotate(apart=ExpressionWrapper(squared, output_field=FloatField()))
        .order_by("apart")
        .values_list("pk", "client", "forecast_l", "forecast_a", "forecast_b")[:NEAREST]
    )
    if not rows:
        return []
    off = delta_e00(lab, np.array([[float(part) for part in row[2:]] for row in rows]))
    return sorted(((row[0], row[1], float(by)) for row, by in zip(rows, off, strict=True)), key=lambda each: each[2])


def _one_a_client(rows: list[tuple[int, int, float]]) -> list[tuple[int, int, float]]:
    first: dict[int, tuple[int, int, float]] = {}
    for row in rows:
        first.setdefault(row[1], row)
    return list(first.values())[:MOST_CARDS]
