"""For an only owner who lost the second factor and its codes: the password alone lets in again."""

from typing import Any

from allauth.mfa.models import Authenticator
from django.core.management import BaseCommand, CommandError, CommandParser

from studio.accounts.models import Person


class Command(BaseCommand):
    """Turn a person's second factor off."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """NAME: what they sign in by."""
        parser.add_argument("name", help="the name that they sign in by")

    def handle(self, *args: Any, **options: Any) -> None:
        """Turned off, or told that there is nobody of that name or nothing to turn off."""
        person = Person.objects.filter(username=options["name"], same_as=None).first()
        if person is None:
            raise CommandError(f"Nobody signs in as {options['name']}.")
        gone, _ = Authenticator.objects.filter(user=person).delete()
        if not gone:
            raise CommandError(f"{person} has no second factor.")
        self.stdout.write(f"{person} signs in by the password alone now.")
