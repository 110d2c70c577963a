"""Bring back what was deleted by mistake."""

from django.apps import apps
from django.db import transaction

from studio.accounts.models import Person
from studio.clients.models import Client, PastWork
from studio.ui.refusal import Refusal


@transaction.atomic
def bring_back(person: Person, *, client_id: int, number: int) -> PastWork:
    """Earlier work that was taken off a card is on it again, as it was. number: of the trace of its deletion.

    Raises Refusal nothing_to_bring_back; Client.DoesNotExist for another studio's client.
    """
    client = Client.objects.visible_to(person).select_for_update(of=("self",)).get(pk=client_id)
    events = apps.get_model("clients.PastWorkEvent")._default_manager
    found = events.filter(pgh_id=number, pgh_label="delete", client_id=client.pk).first()
    if found is None or PastWork.objects.filter(pk=found.pgh_obj_id).exists():
        raise Refusal("nothing_to_bring_back")
    return PastWork.objects.create(
        pk=found.pgh_obj_id, client=client, work=found.work, part=found.part, done_on=found.done_on, note=found.note
    )
