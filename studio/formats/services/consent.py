"""A client agrees to what is kept of her, or does not any more: then it goes."""

import datetime

from django.db import transaction

from studio.accounts.models import Person
from studio.clients.models import HEALTH_OF_CLIENT, Client, Consent
from studio.photos.models import Photo
from studio.trace.selectors import forget_of
from studio.ui.refusal import Refusal
from studio.visits.models import HEALTH, Consult


@transaction.atomic
def give_consent(person: Person, *, client_id: int, of: str, now: datetime.datetime) -> Consent:
    """Note that a client agrees. Said twice, the first counts.

    Raises Refusal consent_of_what; Client.DoesNotExist for another studio's client.
    """
    client = _held(person, client_id, of)
    standing = Consent.objects.filter(client=client, of=of, withdrawn_at=None).first()
    return standing or Consent.objects.create(client=client, of=of, given_at=now, noted_by=person)


@transaction.atomic
def withdraw_consent(person: Person, *, client_id: int, of: str, now: datetime.datetime) -> Consent:
    """A client does not agree any more, or never did: what is kept of that kind goes, with its traces.

    Raises Refusal consent_of_what; Client.DoesNotExist for another studio's client.
    """
    client = _held(person, client_id, of)
    standing = Consent.objects.filter(client=client, of=of, withdrawn_at=None).first()
    standing = standing or Consent(client=client, of=of, given_at=now, noted_by=person)
    standing.withdrawn_at, standing.withdrawal_noted_by = now, person
    standing.save()
    if of == Consent.Of.PHOTOS:
        Photo.objects.filter(visit__client=client).delete()
        forget_of(client.pk, "photos.PhotoEvent")
    else:
        Client.objects.filter(pk=client.pk).update(**HEALTH_OF_CLIENT)
        Consult.objects.filter(visit__client=client).update(**dict.fromkeys(HEALTH, False))
        forget_of(client.pk, "clients.ClientEvent", "visits.ConsultEvent")
    return standing


def _held(person: Person, client_id: int, of: str) -> Client:
    client = Client.objects.visible_to(person).select_for_update(of=("self",)).get(pk=client_id)
    if of not in Consent.Of.values:
        raise Refusal("consent_of_what", "of")
    return client
