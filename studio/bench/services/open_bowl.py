"""Set an empty bowl on the bench."""

from django.db import transaction

from studio.accounts.models import Person
from studio.bench.models import BenchStep, Bowl
from studio.bench.state import state_of
from studio.shelf.models import ShadeLine
from studio.visits.models import Zone


@transaction.atomic
def open_bowl(person: Person, *, zone_id: int) -> Bowl:
    """The zone's bowl, made empty with the shelf's first line if there is none yet.

    Raises Zone.DoesNotExist for another studio's zone, ShadeLine.DoesNotExist when the shelf has no line.
    """
    standing = Bowl.objects.visible_to(person).filter(zone_id=zone_id).first()
    if standing:
        return standing
    zone = Zone.objects.visible_to(person).get(pk=zone_id)
    first_line = ShadeLine.objects.visible_to(person).order_by("position", "id").first()
    if first_line is None:
        raise ShadeLine.DoesNotExist
    bowl, made = Bowl.objects.get_or_create(zone=zone, defaults={"line": first_line})
    if made:
        BenchStep.objects.create(bowl=bowl, number=0, words="an empty bowl", state=state_of(bowl), made_by=person)
    return bowl
