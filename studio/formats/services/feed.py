"""The secret address of a studio's calendar: made, made anew, ended."""

import datetime
import hashlib
import secrets

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.formats.models import Feed
from studio.ui.refusal import Refusal


def renew_feed(person: Person, *, now: datetime.datetime) -> str:
    """A new key; who has the old one reads nothing more. Raises Refusal not_owner."""
    _check_owner(person)
    key = secrets.token_urlsafe(32)
    made = {"key_hash": hash_of(key), "made_by": person, "made_at": now, "read_at": None}
    Feed.objects.update_or_create(studio=person.studio, defaults=made)
    return key


def end_feed(person: Person) -> None:
    """Nobody reads it any more. Raises Refusal not_owner."""
    _check_owner(person)
    Feed.objects.visible_to(person).delete()


def hash_of(key: str) -> str:
    """What is kept of a key. Source: [FIPS180]; a key of 256 random bits needs no slow hash."""
    return hashlib.sha256(key.encode()).hexdigest()


def _check_owner(person: Person) -> None:
    if not person.may(Act.HIRE):
        raise Refusal("not_owner", "way")
