"""Hair that was read before there was anything to mix with gets its bowl when the shelf has its first line."""

from django.dispatch import receiver

from studio.accounts.models import Person
from studio.head.services.open_bowl import open_bowl
from studio.shelf.signals import first_line_stocked
from studio.visits.models import Zone


@receiver(first_line_stocked, dispatch_uid="bowls for hair that waits")
def open_for_waiting(*, person: Person, **_: object) -> None:
    """A bowl for each zone that was read and has none."""
    read = Zone.objects.visible_to(person).filter(removed=False, readings__isnull=False, coats=None)
    for zone_id in read.order_by("visit", "position", "pk").values_list("pk", flat=True).distinct():
        open_bowl(person, zone_id=zone_id)
