"""Take one head's aim to others of the day."""

from decimal import Decimal

from django.db import transaction

from engine.colorimetry.lab import lch_of
from studio.accounts.models import Person
from studio.head.services.aim import aim
from studio.route.heads import head_of_visit, heads_page
from studio.ui.refusal import Refusal
from studio.visits.selectors import OpenZone


@transaction.atomic
def aim_there(person: Person, *, opened: OpenZone, only: int | None) -> int:
    """Set the aim of the zone in hand on another head of the day, for all that its bowl serves; how many were aimed.

    only: the row of that visit; None for every one that no gate stops. Raises Refusal no_target, head_gone; Stale.
    """
    page = heads_page(person, opened)
    chosen = [each for each in page.heads if (not each.stops if only is None else each.visit.pk == only)]
    if not chosen:
        raise Refusal("head_gone", "of_visit")
    depth, strength, hue = (Decimal(f"{float(part):.2f}") for part in lch_of(page.target_lab))
    for each in chosen:
        other = head_of_visit(person, each.visit)
        if other is None:
            raise Refusal("head_gone", "of_visit")
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
    return len(chosen)
