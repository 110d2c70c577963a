"""A person's own sessions: which there are, and to end them."""

import datetime

from studio.accounts.models import Person, SignedIn
from studio.accounts.sessions import IDLE
from studio.ui.refusal import Refusal


def sign_ins_of(person: Person, now: datetime.datetime) -> list[SignedIn]:
    """The sessions by which a person is signed in, the one touched last first."""
    open_now = SignedIn.objects.filter(person__in=person.everywhere(), expire_date__gt=now, touched_at__gt=now - IDLE)
    return list(open_now.order_by("-touched_at"))


def end_sign_in(person: Person, *, mark: str, now: datetime.datetime) -> None:
    """One of a person's sessions ends, at its next request. Raises Refusal sign_in_over where there is none."""
    found = [each for each in sign_ins_of(person, now) if each.mark == mark]
    if not found:
        raise Refusal("sign_in_over")
    SignedIn.objects.filter(pk__in=[each.pk for each in found]).delete()


def end_others(person: Person, *, kept: str) -> int:
    """All of a person's sessions end but that of a key. Returns how many."""
    return SignedIn.objects.filter(person__in=person.everywhere()).exclude(session_key=kept).delete()[0]
