"""Who is signed in, with the studio in which they work: every page needs both."""

from typing import Final

from django.contrib.auth.backends import ModelBackend

from studio.accounts.models import Person
from studio.accounts.prepared import Prepared

_PERSON: Final = Prepared(lambda person: Person.objects.select_related("studio").filter(pk=person), person=int)


class StudioBackend(ModelBackend):
    """Django's own, but a person comes with their studio. One query."""

    def get_user(self, user_id: int) -> Person | None:
        """The person of a session, if they may still sign in."""
        person = next(iter(_PERSON(person=user_id)), None)
        return person if person is not None and self.user_can_authenticate(person) else None
