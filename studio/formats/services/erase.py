"""What a client may ask for: to be forgotten, whole or but for what was mixed, which then belongs to nobody."""

import uuid

from django.db import transaction
from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.cards.models import Formula, HomeCare, Tweak
from studio.clients.models import Client, Consent, PastWork, SkinTest
from studio.clients.signals import client_forgotten
from studio.clocks.models import ZoneClock
from studio.formats.models import Intake
from studio.head.models import Coat
from studio.photos.models import Photo
from studio.taught.services.ask import ask_to_learn
from studio.trace.selectors import ForgetClient
from studio.ui.refusal import Refusal
from studio.visits.models import HEALTH, Consult, Incident, Signature


@transaction.atomic
def erase_client(person: Person, *, client_id: int, typed: str, keeps_mixes: bool) -> Client | None:
    """Forget a client: all of them, or all but hair, bowls, times and what came of it, under no name.

    typed: the client's name, as a hand that means it types it. What the studio has learned is learned anew without what
    goes. Of files that are being taken in only what is the client's goes; the studio's archives go whole. Answers the
    nameless card that stays.

    Raises Refusal name_not_typed, clock_still_runs; Client.DoesNotExist for another studio's client.
    """
    client = Client.objects.visible_to(person).select_for_update(of=("self",)).get(pk=client_id)
    if typed.strip() != client.name:
        raise Refusal("name_not_typed", "typed", name=client.name)
    if ZoneClock.objects.filter(zone__visit__client=client, rinsed_at=None).exists():
        raise Refusal("clock_still_runs", "typed", name=client.name)
    _forget_in_files(person, client.name)
    client_forgotten.send(Client, studio_id=person.studio_id)
    ask_to_learn(person.studio_id)
    forget_traces = ForgetClient(client.pk)
    if keeps_mixes:
        nameless = _without_a_name(client)
        forget_traces()
        return nameless
    Formula.objects.filter(client=client).delete()  # their visits and bowls stand under them
    Coat.objects.filter(zone__visit__client=client).delete()
    client.delete()
    forget_traces()
    return None


def _forget_in_files(person: Person, name: str) -> None:
    """What files held of a client, and what was told of them, goes; what they hold of others is taken in as before."""
    for intake in Intake.objects.visible_to(person).select_for_update().prefetch_related("parts"):
        for part in intake.parts.all():
            others = [row for row in part.rows if row["client"] != name]
            intake.total -= len(part.rows) - len(others)
            part.rows = others
            part.save(update_fields=["rows"])
        if intake.card and intake.card["client"]["name"] == name:
            intake.card = None
        intake.told = [words for words in intake.told if name not in words]
        intake.asked = [each for each in intake.asked if name not in each["where"]]
        intake.faults = [fault for fault in intake.faults if name not in fault["words"]]
        intake.save()


def _without_a_name(client: Client) -> Client:
    """The client's row with nothing in it that tells who it was."""
    of_visits = {"visit__client": client}
    Photo.objects.filter(**of_visits).delete()
    Incident.objects.filter(**of_visits).delete()
    Consent.objects.filter(client=client).delete()
    if not client.studio.signed_years:  # else they stay as long as the house's rule says, without a name
        Signature.objects.filter(**of_visits).delete()
        SkinTest.objects.filter(client=client).delete()
    PastWork.objects.filter(client=client).update(note="")
    Tweak.objects.filter(client=client).delete()
    HomeCare.objects.filter(**of_visits).update(given="", next_on=None)
    Consult.objects.filter(**of_visits).update(wish="", resistant="", **dict.fromkeys(HEALTH, False))
    Formula.objects.filter(client=client).update(note="")
    client.name, client.about, client.notes = say("No name {pk}", pk=client.pk), "", ""
    client.born_on, client.sensitivities, client.reacted, client.black_henna_tattoo = None, "", False, False
    client.forgotten_at = timezone.now()
    client.uid, client.other_uids = uuid.uuid4(), []  # no file tells of it any more
    client.save()
    return client
