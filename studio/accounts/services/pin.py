"""A PIN: a short word for gloved hands, at a machine that knows the person, while a session is open there."""

from itertools import pairwise
from typing import Final

from django.contrib.auth.hashers import check_password, make_password
from django.db import transaction
from django.db.models import F

from studio.accounts.models import Person
from studio.ui.refusal import Refusal

LEAST, MOST = 4, 8  # digits
WRONG_MOST: Final = 5  # guesses in a row, then only the password opens


def set_pin(person: Person, *, pin: str) -> None:
    """Keep a new PIN; an empty one is none.

    Raises Refusal pin_form: other than 4 to 8 digits; pin_easy: all alike, or digits one after another.
    """
    if pin:
        if not (LEAST <= len(pin) <= MOST and pin.isascii() and pin.isdigit()):
            raise Refusal("pin_form", "pin", least=LEAST, most=MOST)
        steps = {int(after) - int(before) for before, after in pairwise(pin)}
        if len(steps) == 1 and steps & {0, 1, -1}:
            raise Refusal("pin_easy", "pin")
    Person.objects.filter(pk=person.pk).update(pin=make_password(pin) if pin else "", pin_wrong=0)


@transaction.atomic
def _counted(person_id: int) -> Person:
    """The person, one guess further, before anybody knows whether it is right: two at once are two."""
    Person.objects.filter(pk=person_id).update(pin_wrong=F("pin_wrong") + 1)
    return Person.objects.get(pk=person_id)


def check_pin(person: Person, pin: str) -> None:
    """Raises Refusal pin_wrong for another PIN; pin_shut after five wrong ones, until the password has been typed.

    To be called outside of a transaction, or a wrong guess would leave no trace.
    """
    if not person.pin or person.pin_wrong >= WRONG_MOST:
        raise Refusal("pin_shut", "pin")
    found = _counted(person.pk)
    if found.pin_wrong > WRONG_MOST:
        raise Refusal("pin_shut", "pin")
    if not check_password(pin, found.pin):
        raise Refusal("pin_wrong" if found.pin_wrong < WRONG_MOST else "pin_shut", "pin")
    forget_guesses(found)


def forget_guesses(person: Person) -> None:
    """The person has shown who they are: wrong guesses count from nothing."""
    Person.objects.filter(pk=person.pk, pin_wrong__gt=0).update(pin_wrong=0)
