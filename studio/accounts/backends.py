"""Who is signed in, with the studio in which they work: every page needs both."""

from django.contrib.auth.backends import ModelBackend

from studio.accounts.models import Person


class StudioBackend(ModelBackend):
    """Django's own, but a person comes with their studio. One query."""

    def get_user(self, user_id: int) -> Person | None:
        """The person of a session, if they may still sign in."""
        person = Person.objects.select_related("studio").filter(pk=user_id).first()
        return person if person is not None and self.user_can_authenticate(person) else None
