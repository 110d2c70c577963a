"""Set what a person is here, and part from somebody who leaves; what they did stays theirs."""

from django.db import transaction

from engine.service.roles import Role
from studio.accounts.models import Person
from studio.people.services.hire import check_owner, check_role
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
