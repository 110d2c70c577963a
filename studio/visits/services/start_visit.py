"""Start a client's visit, or go on with today's."""

import datetime

from django.db import transaction

from studio.accounts.models import Person
from studio.clients.models import Client
from studio.visits.models import Visit, Zone


@transaction.atomic
def start_visit(person: Person, *, client_id: int, day: datetime.date) -> Visit:
    """The client's visit on a day, made with one zone if there is none; a double tap makes no second one.

    Raises Client.DoesNotExist for another studio's client.
    """
    client = Client.objects.visible_to(person).get(pk=client_id)
    visit, _ = Visit.objects.get_or_create(client=client, day=day, defaults={"colourist": person})
    Zone.objects.get_or_create(visit=visit, name=Zone._meta.get_field("name").get_default())
    return visit
