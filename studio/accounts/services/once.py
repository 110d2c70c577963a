"""Make a change once, however often it is sent."""

import datetime
from collections.abc import Callable
from typing import Final, TypeVar

from django.db import connection, transaction
from django.utils import timezone

from studio.accounts.models import SENT_LONGEST, Person, SentOnce

KEPT_FOR: Final = datetime.timedelta(days=7)  # longer than any tablet waits for its connection
Made = TypeVar("Made")


def made_once(person: Person, token: str, change: Callable[[], Made]) -> Made | None:
    """Make a change in one transaction with a note of the token that names it; None when it was made before.

    A change that is refused leaves no note, so that it may be sent again. A second hand with the same token waits for
    the first. An empty token names nothing: the change is made. Raises what the change raises.
    """
    with transaction.atomic():
        if token and not _is_new(person, token[:SENT_LONGEST]):
            return None
        return change()


def forget_sent(person: Person) -> None:
    """Drop the notes of a person that nobody can send again."""
    SentOnce.objects.filter(person=person, made_at__lt=timezone.now() - KEPT_FOR).delete()


def _is_new(person: Person, token: str) -> bool:
    with connection.cursor() as cursor:  # the ORM can't tell whether a row that may be there already was added
        cursor.execute(
            "INSERT INTO accounts_sentonce (person_id, token, made_at) VALUES (%s, %s, %s) ON CONFLICT DO NOTHING",
            [person.pk, token, timezone.now()],
        )
        return bool(cursor.rowcount == 1)
