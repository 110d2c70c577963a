"""The coats of a zone: add, order, copy, remove, and how each is worked."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Final

from django.db import transaction
from django.db.models import Max

from engine.arrays import FloatArray
from engine.errors import BadInput
from engine.language import say
from engine.service.purposes import MIXED_FROM, PLAIN, check_order, usual_place
from engine.service.schedule.work import Purpose
from studio.accounts.models import Person
from studio.head.models import COATS_MOST, PARTS_MOST, Bowl, Coat
from studio.head.services.changing import LockedCoat, locked_coat, remember
from studio.head.state import refill, set_target
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import all_lines
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Zone
from studio.visits.selectors import Hand

MINUTES_LIMITS: Final = (0.5, 240)
LEVELS: Final = (1, 11)
LIFT_BY: Final = Decimal(2)  # levels that a lift is set to until another end is chosen; the founders'
LIFT_MOST: Final = Decimal(10)
DEVELOPER_LIMITS_VOL: Final = (0, 40)  # what is sold for hair; the pack decides


@transaction.atomic
def add_coat(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, purpose: str) -> Hand:
    """A further coat on the zone in hand, in its usual place among those that are not on yet, with a bowl of its own.

    Raises Refusal purpose_unknown, too_many_coats, no_line_for; Stale; Bowl.DoesNotExist.
    """
    if purpose not in Coat.Purpose.values:
        raise Refusal("purpose_unknown", "purpose")
    label = Coat.Purpose(purpose).label
    held = locked_coat(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=version,
        attempt=say("add a coat to {label}", label=label),
        whole=True,
    )
    bowl = None if purpose in PLAIN else _bowl_for(person, held, purpose)
    made = _placed(held.coat.zone, bowl, purpose, _ahead_of(purpose, held.standing))
    remember(person, held.worktop, say("a coat to {label} on {name}", label=label, name=held.coat.zone.name))
    return Hand(zone_id=zone_id, coat_id=made.pk)


@transaction.atomic
def remove_coat(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Hand:
    """Take a coat off the plan of its zone; undo brings it back. What is left in hand.

    Raises Refusal coat_begun while or after it is on the hair, last_coat; Stale; Bowl.DoesNotExist.
    """
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("remove a coat"))
    coat = held.coat
    others = [each for each in held.standing if each.pk != coat.pk and each.bowl_id is not None]
    if coat.begun:
        raise Refusal("coat_begun")
    if not others:
        raise Refusal("last_coat")
    Coat.objects.filter(pk=coat.pk).update(removed=True)
    _renumber([each for each in held.standing if each.pk != coat.pk])
    remember(
        person,
        held.worktop,
        say("no coat to {purpose} on {name}", purpose=coat.get_purpose_display(), name=coat.zone.name),
    )
    return Hand(zone_id=zone_id, coat_id=others[-1].pk)


@transaction.atomic
def move_coat(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, by: int) -> Hand:
    """Move a coat one place towards the hair (-1) or the finish (1).

    Raises Refusal coat_begun where either is on the hair already, coat_at_end, lift_over_colour; Stale;
    Bowl.DoesNotExist.
    """
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("move a coat"))
    coat, standing = held.coat, held.standing
    at = next(place for place, each in enumerate(standing) if each.pk == coat.pk)
    to = at + (1 if by > 0 else -1)
    if not 0 <= to < len(standing):
        raise Refusal("coat_at_end")
    if standing[at].begun or standing[to].begun:
        raise Refusal("coat_begun")
    standing[at], standing[to] = standing[to], standing[at]
    _check_order(standing)
    _renumber(standing)
    remember(
        person, held.worktop, say("{purpose} moved on {name}", purpose=coat.get_purpose_display(), name=coat.zone.name)
    )
    return Hand(zone_id=zone_id, coat_id=in_hand_after(held))


@transaction.atomic
def copy_coat(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, to_zone_id: int) -> Hand:
    """Put the coat in hand on another zone, too, from the same bowl.

    Raises Refusal zone_gone, too_many_coats, coat_there; Stale; Bowl.DoesNotExist.
    """
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("copy a coat"))
    coat = held.coat
    zone = Zone.objects.filter(pk=to_zone_id, visit=coat.zone.visit_id, removed=False).exclude(pk=zone_id).first()
    if zone is None:
        raise Refusal("zone_gone")
    there = list(Coat.objects.filter(zone=zone, removed=False))
    if coat.bowl_id is not None and any(each.bowl_id == coat.bowl_id for each in there):
        raise Refusal("coat_there", zone=zone.name)
    made = _placed(zone, coat.bowl, coat.purpose, _ahead_of(coat.purpose, there), like=coat)
    remember(person, held.worktop, say("{purpose} on {name}, too", purpose=coat.get_purpose_display(), name=zone.name))
    return Hand(zone_id=zone.pk, coat_id=made.pk)


@transaction.atomic
def set_coat(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    to_level: Decimal | None = None,
    minutes: Decimal | None = None,
    apply_min: Decimal | None = None,
    vol: Decimal | None = None,
    parts: Decimal | None = None,
) -> Hand:
    """Say how a coat is worked: where its lift ends, its minutes on the hair and of the hands, its developer; what is
    given.

    Raises Refusal out_of_range with the field, coat_begun, not_a_lift; Stale; Bowl.DoesNotExist.
    """
    for number, name, limits, unit in (
        (to_level, "to_level", LEVELS, ""),
        (minutes, "minutes", MINUTES_LIMITS, " min"),
        (apply_min, "apply_min", (0, MINUTES_LIMITS[1]), " min"),
        (vol, "vol", DEVELOPER_LIMITS_VOL, " vol"),
        (parts, "parts", (0, PARTS_MOST), ""),
    ):
        if number is not None:
            within(number, name, limits[0], limits[1], unit)
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("how a coat is worked"))
    coat = held.coat
    if coat.begun:
        raise Refusal("coat_begun")
    is_mixed = coat.bowl is not None and (vol, parts) != (None, None)
    if is_mixed and Coat.objects.filter(bowl=coat.bowl, begun=True).exists():  # on other hair, as it was mixed
        raise Refusal("coat_begun")
    if to_level is not None and not coat.lifts:
        raise Refusal("not_a_lift", "to_level")
    coat.to_level = coat.to_level if to_level is None else round(to_level, 2)
    coat.minutes = coat.minutes if minutes is None else round(minutes, 1)
    coat.apply_min = coat.apply_min if apply_min is None else round(apply_min, 1)
    coat.save(update_fields=["to_level", "minutes", "apply_min"])
    if coat.bowl is not None:
        coat.bowl.own_vol = coat.bowl.own_vol if vol is None else round(vol, 1)
        coat.bowl.own_parts = coat.bowl.own_parts if parts is None else round(parts, 1)
        coat.bowl.save(update_fields=["own_vol", "own_parts"])
    remember(person, held.worktop, say("how {purpose} is worked", purpose=coat.get_purpose_display()))
    return Hand(zone_id=zone_id, coat_id=in_hand_after(held))


@dataclass(frozen=True, kw_only=True, eq=False)
class Preparation:
    """A coat that goes on before the colour. to_level, vol: of a lift. target_lab (3,), grams by shade: of a fill where
    the line that is named may be mixed for it.
    """

    purpose: str
    to_level: float | None = None
    vol: float | None = None
    target_lab: FloatArray | None = None
    line_id: int | None = None
    grams: Mapping[int, float] = field(default_factory=dict)


PREPARES: Final = (Coat.Purpose.REMOVE, Coat.Purpose.LIFT, Coat.Purpose.FILL)


@transaction.atomic
def prepare_zone(person: Person, *, zone_id: int, version: int, ahead: Sequence[Preparation], words: str) -> None:
    """Put what goes before the colour in place of what was planned there, as one step; what is on already stays.

    Nothing is remembered where nothing was planned and nothing is. Raises Refusal no_line_for, too_many_coats; Stale;
    Bowl.DoesNotExist.
    """
    held = locked_coat(person, zone_id=zone_id, version=version, attempt=words, whole=True)
    purposes = {*PREPARES, *(each.purpose for each in ahead)}  # what a hand has planned of another kind stays
    gone = [coat.pk for coat in held.standing if coat.purpose in purposes and not coat.begun]
    if not gone and not ahead:
        return
    Coat.objects.filter(pk__in=gone).update(removed=True)
    _renumber([coat for coat in held.standing if coat.pk not in gone])
    for each in ahead:
        standing = list(Coat.objects.filter(zone=zone_id, removed=False))
        bowl = None if each.purpose in PLAIN else _bowl_for(person, held, each.purpose, line_id=each.line_id)
        made = _placed(held.coat.zone, bowl, each.purpose, _ahead_of(each.purpose, standing))
        if each.to_level is not None:
            made.to_level = round(Decimal(each.to_level), 2)
            made.save(update_fields=["to_level"])
        if bowl is not None:
            _prepare_bowl(bowl, each)
    remember(person, held.worktop, words)


def _prepare_bowl(bowl: Bowl, plan: Preparation) -> None:
    bowl.own_vol = None if plan.vol is None else round(Decimal(plan.vol), 1)
    if plan.target_lab is not None:
        set_target(bowl, [Decimal(str(float(part))) for part in plan.target_lab])
    bowl.save()
    if plan.line_id == bowl.line_id:
        refill(bowl, {shade: round(Decimal(grams), 2) for shade, grams in plan.grams.items()})


def lines_for(person: Person, purpose: str) -> list[ShadeLine]:
    """The studio's lines that a coat for a purpose may be mixed from, in shelf order. One query."""
    kinds = MIXED_FROM.get(Purpose(purpose), frozenset())
    return [line for line in all_lines(person) if line.kind in kinds]


def place_after(coat: Coat, bowl: Bowl, purpose: str) -> Coat:
    """A new coat of a bowl right after another. Raises Refusal too_many_coats."""
    return _placed(coat.zone, bowl, purpose, coat)


def _placed(zone: Zone, bowl: Bowl | None, purpose: str, after: Coat | None, *, like: Coat | None = None) -> Coat:
    """A coat behind another, or as the first; the zone's coats are numbered anew."""
    standing = list(Coat.objects.filter(zone=zone, removed=False))
    if len(standing) >= COATS_MOST:
        raise Refusal("too_many_coats", most=COATS_MOST)
    at = next((place + 1 for place, each in enumerate(standing) if after and each.pk == after.pk), 0)
    last = Coat.objects.filter(zone=zone).aggregate(last=Max("order"))["last"] or 0
    made = Coat(zone=zone, bowl=bowl, purpose=purpose, order=last + 1)
    if standing:
        made.blend_percent = standing[0].blend_percent
    if like is not None:
        for name in ("minutes", "to_level", "product", "grams", "own_vol"):
            setattr(made, name, getattr(like, name))
    elif purpose == Coat.Purpose.LIFT:
        made.to_level = _lift_end(zone)
    made.save()
    standing.insert(at, made)
    _check_order(standing)
    _renumber(standing)
    return made


def _ahead_of(purpose: str, standing: list[Coat]) -> Coat | None:
    """The coat that one for a purpose usually goes behind; nothing goes in front of what is on already."""
    at = usual_place(Purpose(purpose), [coat.laid for coat in standing])
    return standing[at - 1] if at else None


def _lift_end(zone: Zone) -> Decimal:
    """Where a lift is to stop until that is chosen."""
    reading = zone.readings.first()
    level = reading.level if reading else LIFT_MOST - LIFT_BY
    return max(level, min(level + LIFT_BY, LIFT_MOST))


def _bowl_for(person: Person, held: LockedCoat, purpose: str, *, line_id: int | None = None) -> Bowl:
    """An empty bowl of a line that the purpose may be mixed from: the one that is named, else the one in hand, else the
    shelf's first.
    """
    lines = lines_for(person, purpose)
    if not lines:
        raise Refusal("no_line_for", "purpose", purpose=Coat.Purpose(purpose).label)
    bowls = [coat.bowl for coat in (held.coat, *held.standing) if coat.bowl is not None]
    own = [line for line in lines if line.pk == line_id] + [bowl.line for bowl in bowls if bowl.line in lines]
    line = next(iter(own), lines[0])
    return Bowl.objects.create(worktop=held.worktop, line=line, wanted_g=bowls[0].wanted_g)


def _check_order(standing: list[Coat]) -> None:
    """Raises Refusal for an order that can't be: lightener would take out again what was just put on."""
    try:
        check_order([coat.laid for coat in standing])
    except BadInput:
        raise Refusal("lift_over_colour", "purpose") from None


def in_hand_after(held: LockedCoat) -> int:
    """The row of the coat in hand after a change of one: itself, or the zone's last where nothing is mixed for it."""
    mixed = [coat for coat in held.standing if coat.bowl_id is not None]
    return mixed[-1].pk if held.coat.is_plain else held.coat.pk


def _renumber(standing: list[Coat]) -> None:
    for place, coat in enumerate(standing):
        if coat.order != place:
            coat.order = place
            coat.save(update_fields=["order"])
