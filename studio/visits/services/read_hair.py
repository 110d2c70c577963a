"""Set what was read of a zone's hair."""

from collections.abc import Mapping
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from studio.accounts.models import Person
from studio.shelf.models import Shade
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import lifted_hair, lock_undertone
from studio.visits.models import OLD_MOST, Reading, Zone
from studio.visits.signals import hair_first_read

LIMITS = {**RANGES, "old_k_s": (0, OLD_MOST)}
START_LEVEL: Final = 9.0  # of hair that nobody has read yet; chosen by the founders
WHITE_KINDS: Final = ("grey", "yellowed")  # kinds of natural hair, told by its white hair
WHITE_USUAL: Final = Decimal("0.5")  # share of white hair, and how yellow it is, until that is said
OLD_USUAL: Final = Decimal("0.3")  # how strong an old colour stands until that is said: "some"


@transaction.atomic
def read_hair(
    person: Person,
    *,
    zone_id: int,
    after: int,
    hair: Mapping[str, Decimal],
    family: str | None = None,
    old_shade: str | None = None,
    source: str = Reading.Source.EYE,
    after_lift: bool = False,
    by_ladder: bool = False,
    after_coats: int | None = None,
) -> Reading:
    """Add a reading to a zone: what is given, and what the reading before it says of the rest.

    hair: of level, warmth, lean, porosity, grey, and old_k_s of an old colour, those that were read.
    after: the number of the reading that the person saw, 0 for none. after_lift: it takes the place of a lift's
    forecast. after_coats: how many coats of the zone are on by then, as many as at the reading before unless it is
    said. by_ladder: the level is a lock of the school's ladder, which stands for its undertone too.
    Raises Refusal out_of_range with the field, Refusal stale_reading if there is a newer one, old_unknown,
    Zone.DoesNotExist for another studio's zone.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    for name, number in hair.items():
        within(number, name, *LIMITS[name])
    _check_kind(person, family or Family.LIGHTENED, old_shade or "")
    newest = zone.readings.first()
    if (newest.number if newest else 0) != after:
        raise Refusal("stale_reading", attempt=", ".join(f"{name} {number:g}" for name, number in hair.items()))
    before = newest or _unread(person)
    if newest and after_lift and not newest.after_lift:
        before = lifted_hair(newest)
    found: dict[str, object] = {name: getattr(before, name) for name in (*LIMITS, "family", "old_shade")}
    read = {name: round(number, 2) for name, number in hair.items()}
    changed = frozenset(name for name, number in read.items() if number != found[name])
    found |= read
    if by_ladder:
        found |= lock_undertone(person, before, hair["level"], but=changed)
    if family:
        found |= _of_kind(family, found, white_told="grey" in hair)
    if old_shade is not None:
        found["old_shade"] = old_shade
    if old_shade and "old_k_s" not in hair:
        found["old_k_s"] = found["old_k_s"] or OLD_USUAL
    found |= {
        "source": source if source in Reading.Source.values else Reading.Source.EYE,
        "after_lift": after_lift or bool(newest and newest.after_lift),
        "after_coats": (newest.after_coats if newest else 0) if after_coats is None else after_coats,
    }
    if newest and all(getattr(newest, name) == given for name, given in found.items()):
        return newest
    made = Reading.objects.create(zone=zone, number=after + 1, read_by=person, **found)
    if newest is None:
        hair_first_read.send(sender=Zone, person=person, zone=zone)
    return made


def _check_kind(person: Person, kind: str, old_shade: str) -> None:
    """Raises Refusal for no kind of hair, or an old colour neither of the engine's shelf nor of the studio's."""
    if kind not in {*Family, *WHITE_KINDS}:
        raise Refusal("kind_unknown", "family")
    if old_shade.isdecimal() and len(old_shade) < 10:
        known = Shade.objects.filter(line__studio=person.studio, pk=old_shade).exists()
    else:
        known = old_shade in {"", *demo_shelf()}
    if not known:
        raise Refusal("old_unknown", "old_shade")


def _of_kind(kind: str, found: Mapping[str, object], *, white_told: bool) -> dict[str, object]:
    """What a kind of hair means in numbers: lightened, natural, grey or yellowed grey.

    white_told: its share of white hair was sent along, and counts.
    """
    if kind == Family.LIGHTENED:
        return {"family": kind, "yellowing": Decimal(0)}
    if kind == Family.NATURAL:
        white = {} if white_told else {"grey": Decimal(0), "yellowing": Decimal(0)}
        return {"family": kind, **white}
    yellowing = found["yellowing"] or WHITE_USUAL if kind == "yellowed" else Decimal(0)
    return {"family": Family.NATURAL.value, "grey": found["grey"] or WHITE_USUAL, "yellowing": yellowing}


def _unread(person: Person) -> Reading:
    """What stands on the Read page before anything was read: the school's own lock of a usual level."""
    start = person.studio.ladder.canvas(START_LEVEL)
    return Reading(**{name: round(Decimal(getattr(start, name)), 2) for name in RANGES})


@transaction.atomic
def take_back_reading(person: Person, *, zone_id: int) -> None:
    """Go back to the reading before. Raises Refusal nothing_to_undo, Zone.DoesNotExist."""
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    last_two = list(zone.readings.all()[:2])
    if len(last_two) < 2:
        raise Refusal("nothing_to_undo")
    last_two[0].delete()
