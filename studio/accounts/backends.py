"""Who is signed in, with the studio in which they work: every page needs both."""

from typing import Any, Final

from django.contrib.auth import authenticate
from django.contrib.auth.backends import ModelBackend
from django.db.models import F
from django.http import HttpRequest

from studio.accounts.models import Person
from studio.accounts.prepared import Prepared

_PERSON: Final = Prepared(
    lambda person: Person.objects.select_related("studio", "same_as").filter(pk=person), person=int
)


class StudioBackend(ModelBackend):
    """Django's own, but a person comes with their studio. One query."""

    def get_user(self, user_id: int) -> Person | None:
        """The person of a session, if they may still sign in."""
        person = next(iter(_PERSON(person=user_id)), None)
        return person if person is not None and self.user_can_authenticate(person) else None

    def authenticate(
        self, request: HttpRequest | None, username: str | None = None, password: str | None = None, **more: Any
    ) -> Any:
        """Who signs in by a name and a password; whom the name is of in a further studio does not sign in by it."""
        found = super().authenticate(request, username, password, **more)
        return found if isinstance(found, Person) and found.same_as_id is None else None


def place_of(person: Person) -> Person:
    """Where somebody who signs in goes on: in the studio where they were last."""
    places = person.everywhere().filter(is_active=True)
    return places.order_by(F("last_login").desc(nulls_last=True), "pk").first() or person


def shows_password(request: HttpRequest, person: Person, password: str) -> bool:
    """Whether a password is a person's. Asked at the door, which counts wrong ones: not inside of a transaction."""
    return authenticate(request, username=person.sign_in_name, password=password) == person.who
