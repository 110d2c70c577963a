"""Set right what a client's card says of them."""

from collections.abc import Mapping
from typing import Final

from django.db import IntegrityError, transaction

from studio.accounts.models import Person
from studio.clients.models import Client
from studio.ui.refusal import Refusal

FIELDS: Final = ("name", "about", "notes")


def edit_client(person: Person, *, client_id: int, seen: Mapping[str, str], given: Mapping[str, str]) -> Client:
    """The client with new FIELDS. seen: the same as they were shown to whoever changed them.

    Raises Refusal stale_client if another hand changed any of them meanwhile, name_taken; Client.DoesNotExist for
    another studio's client.
    """
    try:
        with transaction.atomic():
            client = Client.objects.visible_to(person).select_for_update(of=("self",)).get(pk=client_id)
            if stale := [name for name in FIELDS if getattr(client, name) != seen.get(name, "")]:
                raise Refusal("stale_client", stale[0], now=getattr(client, stale[0]) or "empty")
            for name in FIELDS:
                setattr(client, name, given[name])
            client.save(update_fields=FIELDS)
            return client
    except IntegrityError:
        raise Refusal("name_taken", "name") from None
