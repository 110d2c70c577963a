"""Add a client to the studio's book."""

from django.db import IntegrityError, transaction

from studio.accounts.models import Person
from studio.clients.models import Client
from studio.ui.refusal import Refusal


def add_client(person: Person, *, name: str, about: str = "", notes: str = "") -> Client:
    """A new client with an empty card. Raises Refusal name_taken."""
    try:
        with transaction.atomic():
            return Client.objects.create(studio_id=person.studio_id, name=name, about=about, notes=notes)
    except IntegrityError:
        raise Refusal("name_taken", "name") from None
