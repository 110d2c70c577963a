"""Keys for programs: made, shown once, ended; and opened, which counts how often."""

import datetime
import secrets
from collections.abc import Collection
from typing import Final

from django.db import transaction
from django.db.models import Case, F, Value, When

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.api.models import KEYS_MOST, NAME_LONGEST, RATES, ProgramKey
from studio.formats.services.feed import hash_of
from studio.ui.refusal import Refusal

BEGINS: Final = "rainshade_"  # so that a key is known for one wherever it turns up: in an address, in a log
MINUTE_S: Final = 60


@transaction.atomic
def make_key(
    person: Person,
    *,
    name: str,
    may: Collection[str],
    per_minute: int,
    ends_on: datetime.date | None,
    now: datetime.datetime,
) -> str:
    """A new key, which is told this once.

    Raises Refusal not_owner, key_name, key_name_taken, key_reads_nothing, key_health_alone, key_rate, key_over,
    keys_too_many.
    """
    _check_owner(person)
    here = ProgramKey.objects.visible_to(person).filter(ended_at=None)
    _check(name.strip(), may, per_minute, ends_on, now)
    if here.filter(name=name.strip()).exists():
        raise Refusal("key_name_taken", "name", name=name.strip())
    if here.count() >= KEYS_MOST:
        raise Refusal("keys_too_many", "name", most=KEYS_MOST)
    key = BEGINS + secrets.token_urlsafe(32)
    ProgramKey.objects.create(
        studio=person.studio,
        name=name.strip(),
        may=[each for each in ProgramKey.May.values if each in may],
        key_hash=hash_of(key),
        tail=key[-4:],
        per_minute=per_minute,
        ends_on=ends_on,
        made_by=person,
        made_at=now,
    )
    return key


def _check(
    name: str, may: Collection[str], per_minute: int, ends_on: datetime.date | None, now: datetime.datetime
) -> None:
    """Raises Refusal for what no key can be."""
    if not 0 < len(name) <= NAME_LONGEST:
        raise Refusal("key_name", "name", most=NAME_LONGEST)
    if not may or not set(may) <= set(ProgramKey.May.values):
        raise Refusal("key_reads_nothing", "may")
    if ProgramKey.May.HEALTH in may and not {ProgramKey.May.CLIENTS, ProgramKey.May.CARDS} & set(may):
        raise Refusal("key_health_alone", "may")
    if per_minute not in RATES:
        raise Refusal("key_rate", "per_minute")
    if ends_on is not None and ends_on < now.date():
        raise Refusal("key_over", "ends_on")


def end_key(person: Person, *, key_id: int, now: datetime.datetime) -> None:
    """Nothing is read by it any more. Raises Refusal not_owner; ProgramKey.DoesNotExist for another studio's."""
    _check_owner(person)
    found = ProgramKey.objects.visible_to(person).get(pk=key_id)
    ProgramKey.objects.filter(pk=found.pk, ended_at=None).update(ended_at=now, ended_by=person)


def opened(key: str, *, now: datetime.datetime) -> ProgramKey | None:
    """What a key opens, with this request counted in its minute; None for one that opens nothing. Two queries."""
    minute = now.replace(second=0, microsecond=0)
    found = ProgramKey.objects.open_at(now).filter(key_hash=hash_of(key))
    asked = Case(When(minute=minute, then=F("asked") + 1), default=Value(1))
    if not found.update(asked=asked, minute=minute, read_at=now):
        return None
    return found.select_related("studio", "made_by__studio").first()


def seconds_to_wait(key: ProgramKey, *, now: datetime.datetime) -> int:
    """How long a key that has asked too often in its minute waits, in s; 0 for one that has not."""
    return 0 if key.asked <= key.per_minute else max(1, MINUTE_S - now.second)


def _check_owner(person: Person) -> None:
    if not person.may(Act.HIRE):
        raise Refusal("not_owner", "way")
