"""Begin again on a zone: over what the bowl has left on its hair, or over what the last visit has."""

from collections.abc import Mapping, Sequence
from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.head.models import Bowl, Coat
from studio.head.services.changing import locked_coat, remember
from studio.head.services.coats import place_after
from studio.head.state import TARGET_NAMES, set_target
from studio.ui.refusal import Refusal
from studio.visits.models import Reading, Zone
from studio.visits.selectors import Hand


@transaction.atomic
def begin_coat(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    laid: Sequence[Mapping[str, object]],
    target_lab: FloatArray,
) -> Hand:
    """A fresh bowl of the same line for a zone, aimed at L*a*b* (3,); what it leaves in hand.

    Over a bowl that is mixed it is a coat of its own. Where nothing was mixed yet it takes the bowl's place, on hair
    with what the last visit has left. laid: that, shades with K/S. Raises Refusal coat_plain, too_many_coats; Stale;
    Bowl.DoesNotExist, Reading.DoesNotExist.
    """
    coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt="a further coat").coat
    used = coat.bowl
    if used is None:
        raise Refusal("coat_plain")
    fresh = Bowl(worktop=used.worktop, line=used.line, wanted_g=used.wanted_g)
    set_target(fresh, [Decimal(str(float(part))) for part in target_lab])
    fresh.save()
    if used.pours.filter(mixed_g__gt=0).exists():
        coat = place_after(coat, fresh, Coat.Purpose.OVERLAY)
    else:
        _lay(person, coat.zone, laid)
        Coat.objects.filter(pk=coat.pk).update(bowl=fresh, **dict.fromkeys(TARGET_NAMES))
    remember(person, used.worktop, f"a fresh bowl over what is on {coat.zone.name}")
    return Hand(zone_id=coat.zone_id, coat_id=coat.pk)


def _lay(person: Person, zone: Zone, laid: Sequence[Mapping[str, object]]) -> None:
    """The hair as it is now: as it was read, with what was laid on it since."""
    newest = zone.readings.first()
    if newest is None:
        raise Reading.DoesNotExist
    if newest.laid == list(laid):
        return
    newest.pk, newest.number, newest.read_by = None, newest.number + 1, person
    newest.laid, newest.source = list(laid), Reading.Source.FORECAST
    newest._state.adding = True
    newest.save()
