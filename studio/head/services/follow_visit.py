"""Keep the worktop with its visit: a bowl when hair is first read, coats for zones that are added."""

from django.dispatch import receiver

from studio.accounts.models import Person
from studio.head.models import Coat, Worktop
from studio.head.services.changing import copy_coats, remember
from studio.head.services.open_bowl import open_bowl
from studio.shelf.selectors import colour_lines
from studio.ui.refusal import Refusal
from studio.visits.models import Zone
from studio.visits.signals import ZonesSet, hair_first_read, zones_set


@receiver(hair_first_read, dispatch_uid="a bowl for hair that is read")
def open_for_read(*, person: Person, zone: Zone, **_: object) -> None:
    """A bowl for a zone whose hair has just been read; none before the shelf has a line."""
    if colour_lines(person).exists():
        open_bowl(person, zone_id=zone.pk)


@receiver(zones_set, dispatch_uid="coats for the zones that are set")
def follow_zones(*, person: Person, change: ZonesSet, **_: object) -> None:
    """Give new zones the coats of those that they were made like, as a step that undo takes back with the zones.

    Raises Refusal coat_on where something is on a zone that would go, zone_worked where what has been put on it would
    be forgotten with it.
    """
    worktop = Worktop.objects.select_for_update().filter(visit=change.visit_id).first()
    if worktop is None:
        return
    parted = {carved.like.pk for carved in change.made if carved.same_hair}
    worked = Coat.objects.filter(zone__in=[zone.pk for zone in change.gone], removed=False, begun=True)
    for coat in worked.select_related("zone"):
        if coat.worked_min is None:
            raise Refusal("coat_on", zone=coat.zone.name)
        if coat.zone_id not in parted:
            raise Refusal("zone_worked", zone=coat.zone.name)
    for carved in change.made:
        copy_coats(carved.like.pk, carved.zone, same_hair=carved.same_hair)
    remember(person, worktop, change.words)
