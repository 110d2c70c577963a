"""Set bowls on the bench."""

from decimal import Decimal

from django.db import transaction

from engine.language import say
from engine.service.amounts import Density, Length, needed
from studio.accounts.models import Person
from studio.head.models import BenchStep, Bowl, Coat, Worktop
from studio.head.services.changing import copy_coats, remember
from studio.head.state import lock_worktop, rows_of, state_of
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import colour_lines
from studio.visits.models import Consult, Zone


@transaction.atomic
def open_bowl(person: Person, *, zone_id: int) -> Bowl:
    """The zone's bowl, made empty with the shelf's first line if there is none yet.

    A zone that was added while the hair was read shares the first zone's bowl, as a step that can be undone.
    Raises Zone.DoesNotExist for another studio's zone, ShadeLine.DoesNotExist when the shelf has no line.
    """
    bowls = Bowl.objects.visible_to(person).select_related("worktop", "line")
    standing = bowls.filter(coats__zone=zone_id, coats__removed=False).order_by("-coats__order").first()
    if standing:
        return standing
    first = Coat.objects.visible_to(person).filter(zone__visit__zones=zone_id, zone__removed=False, removed=False)
    neighbour = first.select_related("bowl").order_by("zone__position", "zone", "order").first()
    if neighbour:  # a zone that was added while the hair was read takes part in the first zone's bowls
        worktop = lock_worktop(person, zone_id)
        zone = Zone.objects.visible_to(person).get(pk=zone_id)
        if not zone.coats.filter(removed=False).exists():
            copy_coats(neighbour.zone_id, zone)
            remember(person, worktop, say("{name} taken onto the bench", name=zone.name))
        return bowls.filter(coats__zone=zone_id, coats__removed=False).order_by("-coats__order")[0]
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    worktop, made = Worktop.objects.get_or_create(visit_id=zone.visit_id)
    first_line = colour_lines(person).first()
    if first_line is None:
        raise ShadeLine.DoesNotExist
    bowl = worktop.bowls.create(line=first_line, **_wanted(zone))
    Coat.objects.create(zone=zone, bowl=bowl)
    if made:
        BenchStep.objects.create(
            worktop=worktop,
            number=0,
            words=say("an empty bowl"),
            state=state_of(rows_of(person, zone.visit_id)),
            made_by=person,
        )
    return bowl


def _wanted(zone: Zone) -> dict[str, Decimal]:
    """What a bowl for a whole head is to weigh, by the length and density that were noted; as usual for anything else.

    A part of a head comes later and joins a bowl, which is then asked for by what it serves.
    """
    consult = Consult.objects.filter(visit=zone.visit_id).first()
    if consult is None or zone.part != Zone.Part.WHOLE:
        return {}
    need = needed(Length(consult.length), Density(consult.density))
    return {"wanted_g": Decimal(round(need.grams))}
