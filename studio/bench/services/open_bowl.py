"""Set bowls on the bench."""

from django.db import transaction

from studio.accounts.models import Person
from studio.bench.models import BenchStep, Bowl, Serving, Worktop
from studio.bench.state import rows_of, state_of
from studio.shelf.models import ShadeLine
from studio.visits.models import Zone


@transaction.atomic
def open_bowl(person: Person, *, zone_id: int) -> Bowl:
    """The zone's bowl, made empty with the shelf's first line if there is none yet.

    Raises Zone.DoesNotExist for another studio's zone, ShadeLine.DoesNotExist when the shelf has no line.
    """
    standing = Bowl.objects.visible_to(person).filter(servings__zone=zone_id).select_related("worktop", "line").first()
    if standing:
        return standing
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    worktop, made = Worktop.objects.get_or_create(visit_id=zone.visit_id)
    first_line = ShadeLine.objects.visible_to(person).order_by("position", "id").first()
    if first_line is None:
        raise ShadeLine.DoesNotExist
    bowl = worktop.bowls.create(line=first_line)
    Serving.objects.create(zone=zone, bowl=bowl)
    if made:
        BenchStep.objects.create(
            worktop=worktop,
            number=0,
            words="an empty bowl",
            state=state_of(rows_of(person, zone.visit_id)),
            made_by=person,
        )
    return bowl
