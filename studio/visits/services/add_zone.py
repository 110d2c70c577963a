"""Add a zone while the hair is read."""

from django.db import transaction
from django.db.models import Max

from studio.accounts.models import Person
from studio.ui.refusal import Refusal
from studio.ui.texts import one_line
from studio.visits.models import ZONES_MOST, Reading, Zone

NAME_LONGEST = 40


@transaction.atomic
def add_zone(person: Person, *, like_zone_id: int, part: str, name: str) -> Zone:
    """A further zone of the head, to begin with with the hair of another; the Bench gives it a bowl when it opens.

    Raises Refusal zone_part_unknown, zone_name_taken, too_many_zones; Zone.DoesNotExist for another studio's zone.
    """
    like = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=like_zone_id, removed=False)
    if part not in Zone.Part.values or part == Zone.Part.WHOLE:
        raise Refusal("zone_part_unknown", "part")
    name = one_line(name, NAME_LONGEST) or Zone.Part(part).label
    zones = Zone.objects.filter(visit=like.visit_id, removed=False)
    if zones.count() >= ZONES_MOST:
        raise Refusal("too_many_zones", most=ZONES_MOST)
    if zones.filter(name=name).exists():
        raise Refusal("zone_name_taken", "zone_name")
    last = zones.aggregate(last=Max("position"))["last"] or 0
    made = Zone.objects.create(visit_id=like.visit_id, name=name, part=part, position=last + 1)
    newest = like.readings.first()
    if newest:
        fields = {field.name: getattr(newest, field.name) for field in Reading._meta.fields}
        for own in ("id", "zone", "number", "read_by", "read_at", "after_coats"):
            fields.pop(own)
        Reading.objects.create(zone=made, number=1, read_by=person, **fields)
    return made
