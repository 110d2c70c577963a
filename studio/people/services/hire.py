"""Let people in, by a link that works once, and let somebody make their password anew."""

import datetime
import hashlib
import secrets
from collections.abc import Mapping
from typing import Any, NamedTuple

from django.conf import settings
from django.db import IntegrityError, transaction

from engine.service.roles import LICENSABLE, Act, Role
from engine.weights import Measure
from studio.accounts.models import Person, Studio
from studio.people.models import Invitation
from studio.ui.refusal import Refusal


class Invited(NamedTuple):
    """An invitation and the key of its link, which is told this once."""

    invitation: Invitation
    key: str


def check_owner(person: Person) -> None:
    """Raises Refusal not_owner for one who does not hire."""
    if not person.may(Act.HIRE):
        raise Refusal("not_owner")


def check_role(role: str, *, licensed: bool) -> None:
    """Raises Refusal role_unknown; licence_not_held for a role that holds no licence."""
    if role not in set(Role):
        raise Refusal("role_unknown", "role")
    if licensed and Role(role) not in LICENSABLE:
        raise Refusal("licence_not_held", "licensed")


def invite(person: Person, *, role: str, licensed: bool, now: datetime.datetime) -> Invited:
    """A link for somebody who is to work here. Raises Refusal not_owner, role_unknown, licence_not_held."""
    check_owner(person)
    check_role(role, licensed=licensed)
    return _linked(person, now, role=role, licensed=licensed)


def renew_password(person: Person, *, of: int, now: datetime.datetime) -> Invited:
    """A link by which a colleague who forgot their password makes a new one.

    Raises Refusal not_owner; works_elsewhere: it would open another studio, too; Person.DoesNotExist.
    """
    check_owner(person)
    found = Person.objects.get(pk=of, studio=person.studio_id, is_active=True)
    check_here_alone(found)
    return _linked(person, now, role=found.role, licensed=found.licensed, person=found)


def check_here_alone(found: Person) -> None:
    """Raises Refusal works_elsewhere where somebody has a place in another studio: how they sign in is theirs alone."""
    if found.everywhere().filter(is_active=True).count() > 1:
        raise Refusal("works_elsewhere")


def _linked(by: Person, now: datetime.datetime, **of: object) -> Invited:
    key = secrets.token_urlsafe(32)
    made = Invitation.objects.create(studio_id=by.studio_id, made_by=by, made_at=now, key_hash=_hash(key), **of)
    return Invited(made, key)


def withdraw(person: Person, *, invitation_id: int, now: datetime.datetime) -> None:
    """An open link lets nobody in from now on. Raises Refusal not_owner, invitation_over; Invitation.DoesNotExist."""
    check_owner(person)
    found = Invitation.objects.visible_to(person).get(pk=invitation_id)
    ended = Invitation.objects.filter(pk=found.pk, used_at=None, withdrawn_at=None).update(withdrawn_at=now)
    if not ended:
        raise Refusal("invitation_over")


def invitation_of(key: str, now: datetime.datetime, *, held: bool = False) -> Invitation:
    """The invitation of a link. held: locked until the transaction ends. Raises Refusal invitation_unknown,
    invitation_over: used, withdrawn, too old, for one who has left since, or of one who hires no more.
    """
    rows = Invitation.objects.select_related("studio", "person", "made_by")
    rows = rows.select_for_update(of=("self",)) if held else rows
    found = rows.filter(key_hash=_hash(key)).first()
    if found is None:
        raise Refusal("invitation_unknown")
    gone = found.person is not None and not found.person.is_active
    stands = found.made_by.is_active and found.made_by.may(Act.HIRE)
    if found.used_at or found.withdrawn_at or gone or now >= found.ends_at or not stands:
        raise Refusal("invitation_over")
    return found


@transaction.atomic
def join(key: str, *, username: str, name: str, password: str, now: datetime.datetime) -> Person:
    """The person that a link lets in, made, or with a new password; the link is used up. The password was looked at.

    Raises Refusal invitation_unknown, invitation_over, works_elsewhere, sign_in_taken.
    """
    found = invitation_of(key, now, held=True)
    found.used_at = now
    found.save(update_fields=["used_at"])
    if found.person is not None:
        check_here_alone(found.person)  # they may have come to another studio since
        found.person.set_password(password)
        found.person.save(update_fields=["password"])
        return found.person
    person = Person(studio=found.studio, role=found.role, licensed=found.licensed)
    return _made(person, username=username, name=name, password=password)


@transaction.atomic
def join_as(person: Person, key: str, *, now: datetime.datetime) -> Person:
    """Somebody who works elsewhere comes here, too, and signs in as before; the link is used up.

    Raises Refusal invitation_unknown, invitation_over, is_here, invitation_for_another.
    """
    found = invitation_of(key, now, held=True)
    if found.person is not None:
        raise Refusal("invitation_for_another")
    if person.everywhere().filter(studio=found.studio).exists():
        raise Refusal("is_here")
    found.used_at = now
    found.save(update_fields=["used_at"])
    made = Person(studio=found.studio, role=found.role, licensed=found.licensed, same_as=person.who)
    made.username, made.first_name, made.last_name = secrets.token_hex(16), person.first_name, person.last_name
    made.set_unusable_password()
    made.save()
    return made


@transaction.atomic
def begin_studio(
    *,
    studio: str,
    town: str,
    time_zone: str,
    currency: str = "",
    unit: str = Measure.GRAM.value,
    language: str = settings.LANGUAGE_CODE,
    house: Mapping[str, Any] | None = None,
    username: str,
    name: str,
    password: str,
) -> Person:
    """A new studio with nothing on its shelf, and its owner. house: its schools by name.

    Raises Refusal studio_taken, sign_in_taken.
    """
    if Studio.objects.filter(name__iexact=studio).exists():
        raise Refusal("studio_taken", "studio")
    try:
        with transaction.atomic():
            made = Studio.objects.create(
                name=studio,
                town=town,
                time_zone=time_zone,
                currency=currency,
                unit=unit,
                language=language,
                **(house or {}),
            )
    except IntegrityError:  # another hand took it in this moment
        raise Refusal("studio_taken", "studio") from None
    return _made(Person(studio=made, role=Role.OWNER), username=username, name=name, password=password)


def _made(person: Person, *, username: str, name: str, password: str) -> Person:
    """A new person saved. Two spellings of one name are one name."""
    if Person.objects.filter(username__iexact=username).exists():
        raise Refusal("sign_in_taken", "username")
    person.username = username
    person.first_name, _, person.last_name = name.partition(" ")
    person.set_password(password)
    try:
        with transaction.atomic():
            person.save()
    except IntegrityError:  # another hand took it in this moment
        raise Refusal("sign_in_taken", "username") from None
    return person


def _hash(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()
