"""Whose hand signs, where who is at the tablet holds no licence: a licensed colleague's, by their password."""

from django.http import HttpRequest

from engine.service.roles import Act
from studio.accounts.backends import shows_password
from studio.accounts.models import Person
from studio.ui.refusal import Refusal


def signing_hand(request: HttpRequest, person: Person) -> Person:
    """Who signs what a request asks for: the one who asks, or whom its form names and whose password it has.

    The password is asked at the door, which counts wrong ones: to be called outside of a transaction, or a guess would
    leave no trace. Raises Refusal hand_unknown, hand_wrong.
    """
    named = request.POST.get("hand", "")
    if person.may(Act.SIGN) or not named:
        return person
    hand = next((each for each in person.licensed_hands if str(each.pk) == named), None)
    if hand is None:
        raise Refusal("hand_unknown", "hand")
    if not shows_password(request, hand, request.POST.get("hand_password", "")):
        raise Refusal("hand_wrong", "hand_password")
    return hand
