"""Take one head's aim to others of the day."""

from decimal import Decimal

from django.db import transaction

from engine.colorimetry.lab import lch_of
from studio.accounts.models import Person
from studio.head.selectors import bench_of
from studio.head.services.aim import aim
from studio.route.heads import busy_with, head_of_visit, heads_page, others_today
from studio.ui.refusal import Refusal
from studio.visits.selectors import OpenZone


@transaction.atomic
def aim_there(person: Person, *, opened: OpenZone, only: int | None) -> int:
    """Set the aim of the zone in hand on another head of the day, for all that its bowl serves; how many were aimed.

    only: the row of that visit, whose own aim gives way; None for every head that is free of one and that nothing
    stops. Raises Refusal no_target, head_gone, head_busy; Stale.
    """
    target_lab = bench_of(person, opened).target_lab
    if target_lab is None:
        raise Refusal("no_target", "route")
    if only is None:
        visits = [each.visit for each in heads_page(person, opened).heads if each.takes]
    else:
        visits = [each for each in others_today(person, opened.visit) if each.pk == only]
    if not visits:
        raise Refusal("head_gone", "of_visit")
    depth, strength, hue = (Decimal(f"{float(part):.2f}") for part in lch_of(target_lab))
    for visit in visits:
        other = head_of_visit(person, visit)
        if other is None:
            raise Refusal("head_gone", "of_visit")
        if words := busy_with(other):
            raise Refusal("head_busy", "of_visit", head=visit.client.name, why=words)
        aim(
            person,
            zone_id=other.zone.pk,
            coat_id=other.coat.pk,
            version=other.worktop.version,
            lightness=depth,
            chroma=strength,
            hue=hue % 360,
            nearest=True,
            everywhere=True,
        )
    return len(visits)
