"""Set what a person is here, and part from somebody who leaves; what they did stays theirs."""

import secrets

from allauth.account.models import EmailAddress
from allauth.mfa.models import Authenticator
from django.db import transaction

from engine.service.roles import Role
from studio.accounts.models import Person
from studio.people.services.hire import check_here_alone, check_owner, check_role
from studio.ui.refusal import Refusal


@transaction.atomic
def set_role(person: Person, *, of: int, role: str, licensed: bool) -> Person:
    """Set a colleague's role and licence, from their next tap on.

    Raises Refusal not_owner, role_unknown, licence_not_held, last_owner; Person.DoesNotExist.
    """
    check_owner(person)
    check_role(role, licensed=licensed)
    found = _held(person, of)
    if Role(role) is not Role.OWNER:
        _check_not_last(found)
    found.role, found.licensed = role, licensed
    found.save(update_fields=["role", "licensed"])
    return found


@transaction.atomic
def part(person: Person, *, of: int) -> Person:
    """Somebody leaves: they are signed out everywhere and can't sign in; their name stays on what they did.

    Raises Refusal not_owner, last_owner; Person.DoesNotExist.
    """
    check_owner(person)
    found = _held(person, of)
    _check_not_last(found)
    found.is_active = False
    found.save(update_fields=["is_active"])
    heir = found.everywhere().filter(is_active=True).order_by("pk").first()
    if found.same_as_id is None and heir is not None:
        _hand_on(found, heir)
    return found


def _hand_on(found: Person, heir: Person) -> None:
    """Who has left one studio signs in for the others as before: by the same name, password, mail and second factor."""
    name, found.username = found.username, heir.username
    heir.password, heir.email, heir.same_as = found.password, found.email, None
    Person.objects.filter(pk=heir.pk).update(username=secrets.token_hex(16), same_as=None)
    found.same_as = heir
    found.set_unusable_password()
    found.save(update_fields=["username", "same_as", "password"])
    heir.username = name
    heir.save(update_fields=["username", "password", "email", "same_as"])
    Person.objects.filter(same_as=found).update(same_as=heir)
    EmailAddress.objects.filter(user=found).update(user=heir)
    Authenticator.objects.filter(user=found).update(user=heir)


@transaction.atomic
def second_factor_off(person: Person, *, of: int) -> Person:
    """A colleague who lost their second factor signs in by the password alone, and sets up a new one.

    Raises Refusal not_owner, works_elsewhere; Person.DoesNotExist.
    """
    check_owner(person)
    found = Person.objects.get(pk=of, studio=person.studio_id, is_active=True)
    check_here_alone(found)
    Authenticator.objects.filter(user=found).delete()
    return found


@transaction.atomic
def take_back(person: Person, *, of: int) -> Person:
    """Somebody who left is back, as they were. Raises Refusal not_owner; Person.DoesNotExist."""
    check_owner(person)
    found = _held(person, of)
    found.is_active = True
    found.save(update_fields=["is_active"])
    return found


def _held(person: Person, of: int) -> Person:
    """A colleague, with all owners locked, so that two of them can't leave at once."""
    list(Person.objects.select_for_update().filter(studio=person.studio_id, role=Role.OWNER).order_by("pk"))
    return Person.objects.select_for_update().get(pk=of, studio=person.studio_id)


def _check_not_last(found: Person) -> None:
    owners = Person.objects.filter(studio=found.studio_id, role=Role.OWNER, is_active=True)
    if found.role == Role.OWNER and found.is_active and not owners.exclude(pk=found.pk).exists():
        raise Refusal("last_owner")
