"""Finding cards: by words, by a colour near to this one, by level, and by date."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Final

import numpy as np
from django.db.models import Exists, ExpressionWrapper, F, FloatField, OuterRef, Q, QuerySet
from django.utils import timezone

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.language import decimals
from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour
from studio.cards.selectors import CardLine, kept_formulas
from studio.clients.models import Client
from studio.shelf.models import Shade
from studio.ui.numbers import typed_number, within
from studio.ui.refusal import Refusal

MOST_CARDS: Final = 60
NEAR_BOXES: Final = (8.0, 16.0, 40.0)  # L*, a* and b* either way: the first that holds enough is looked in
WALKED: Final = 400  # formulas, newest or nearest first, from which a page of cards is taken
DAYS: Final = (datetime.date(1950, 1, 1), datetime.date(2200, 1, 1))
FEW: Final = 2000  # rows that hold a word, up to which they are looked up one by one


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

    @property
    def parts(self) -> list[str]:
        """The words, one by one."""
        return self.words.split()[:8]


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
        day = datetime.date.fromisoformat(text.strip())
    except ValueError:
        raise Refusal("not_a_day", field) from None
    if not DAYS[0] <= day <= DAYS[1]:
        raise Refusal("not_a_day", field)
    return day


def find_cards(person: Person, sought: Sought) -> list[CardLine]:
    """Cards that fit, nearest colour or else newest work first; those without a formula last, by name.

    A few queries for each word, and none that reads all cards: rare words are looked up in indexes, frequent ones met
    on the way from the newest formula back.
    """
    formulas = _fitting(person, sought)
    if sought.near is None:
        rows = formulas.order_by("-saved_at", "-id").values_list("pk", "client")[:WALKED]
        chosen = _one_a_client([(pk, client, 0.0) for pk, client in rows])
    else:
        chosen = _one_a_client(_nearest(formulas, np.array(sought.near)))
    kept = {each.formula.pk: each for each in kept_formulas(person, Q(pk__in=[pk for pk, _, _ in chosen]))}
    clients = Client.objects.visible_to(person).in_bulk([client for _, client, _ in chosen])
    lines = [
        CardLine(client=clients[client], newest=kept[pk], off=decimals(f"{off:.1f}") if sought.near else "")
        for pk, client, off in chosen
    ]
    if len(lines) < MOST_CARDS and not sought.narrows_formulas:
        lines += [
            CardLine(client=client, newest=None) for client in _without_formula(person, sought, MOST_CARDS - len(lines))
        ]
    return lines


def _fitting(person: Person, sought: Sought) -> QuerySet[Formula]:
    formulas = Formula.objects.visible_to(person)
    for word in sought.parts:
        formulas = formulas.filter(_holds(person, word))
    if sought.level:
        formulas = formulas.filter(level__range=sought.level)
    if sought.since:
        formulas = formulas.filter(saved_at__gte=_midnight(sought.since))
    if sought.until:
        formulas = formulas.filter(saved_at__lt=_midnight(sought.until + datetime.timedelta(days=1)))
    return formulas


def _midnight(day: datetime.date) -> datetime.datetime:
    return timezone.make_aware(datetime.datetime.combine(day, datetime.time()))


def _holds(person: Person, word: str) -> Q | Exists:
    """That a formula, its shades or its client hold a word: by their ids where they are few, else by the word."""
    own = Formula.objects.visible_to(person)
    named = Q(name__icontains=word) | Q(about__icontains=word)
    clients = _few(Client.objects.visible_to(person).filter(named).values_list("pk", flat=True))
    noted = _few(own.filter(note__icontains=word).values_list("pk", flat=True))
    holds = (
        Q(client__name__icontains=word) | Q(client__about__icontains=word) if clients is None else Q(client__in=clients)
    )
    holds |= Q(note__icontains=word) if noted is None else Q(pk__in=noted)
    shades = list(Shade.objects.visible_to(person).filter(name__icontains=word).values_list("pk", flat=True))
    if shades:
        pours = FormulaPour.objects.filter(shade__in=shades)
        poured = _few(pours.values_list("formula", flat=True))
        holds |= Q(Exists(pours.filter(formula=OuterRef("pk")))) if poured is None else Q(pk__in=poured)
    return holds


def _few(ids: QuerySet[Any, int]) -> list[int] | None:
    """The ids, or None where they are more than a few."""
    found = list(ids[: FEW + 1])
    return None if len(found) > FEW else found


def _without_formula(person: Person, sought: Sought, most: int) -> list[Client]:
    """Clients of whom nothing has been kept yet, by name. One query."""
    clients = Client.objects.visible_to(person).filter(~Exists(Formula.objects.filter(client=OuterRef("pk"))))
    for word in sought.parts:
        clients = clients.filter(Q(name__icontains=word) | Q(about__icontains=word))
    return list(clients.order_by("name")[:most])


def _nearest(formulas: QuerySet[Formula], lab: FloatArray) -> list[tuple[int, int, float]]:
    """Formula and client ids with their differences, nearest first."""
    lightness, a, b = (Decimal(f"{part:.3f}") for part in lab)
    squared = (F("forecast_l") - lightness) ** 2 + (F("forecast_a") - a) ** 2 + (F("forecast_b") - b) ** 2
    apart = formulas.annotate(apart=ExpressionWrapper(squared, output_field=FloatField())).order_by("apart")
    rows: list[tuple[Any, ...]] = []
    for size in map(Decimal, NEAR_BOXES):
        box = {
            f"forecast_{name}__range": (part - size, part + size)
            for name, part in zip("lab", (lightness, a, b), strict=True)
        }
        rows = list(apart.filter(**box).values_list("pk", "client", "forecast_l", "forecast_a", "forecast_b")[:WALKED])
        if len(rows) >= 2 * MOST_CARDS:
            break
    if not rows:
        return []
    off = delta_e00(lab, np.array([[float(part) for part in row[2:]] for row in rows]))
    return sorted(((row[0], row[1], float(by)) for row, by in zip(rows, off, strict=True)), key=lambda each: each[2])


def _one_a_client(rows: list[tuple[int, int, float]]) -> list[tuple[int, int, float]]:
    first: dict[int, tuple[int, int, float]] = {}
    for row in rows:
        first.setdefault(row[1], row)
    return list(first.values())[:MOST_CARDS]
