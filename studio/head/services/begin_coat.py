"""Begin a further coat on a zone, over what the last one has left on its hair."""

from collections.abc import Mapping, Sequence
from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.head.models import Bowl, Serving
from studio.head.services.changing import locked_bowl, remember
from studio.head.state import set_target
from studio.visits.models import Reading, Zone


@transaction.atomic
def begin_coat(
    person: Person, *, zone_id: int, version: int, laid: Sequence[Mapping[str, object]], target_lab: FloatArray
) -> Bowl:
    """A fresh bowl of the same line for a zone, aimed at L*a*b* (3,), on hair with what was laid on it.

    The bowl that was used stays as it is, and is kept with the card. laid: what lies on the hair, shades with K/S.
    Raises Stale; Bowl.DoesNotExist, Reading.DoesNotExist.
    """
    used = locked_bowl(person, zone_id=zone_id, version=version, attempt="a further coat")
    zone = Zone.objects.get(pk=zone_id)
    _lay(person, zone, laid)
    fresh = Bowl(worktop=used.worktop, line=used.line, wanted_g=used.wanted_g)
    set_target(fresh, [Decimal(str(float(part))) for part in target_lab])
    fresh.save()
    Serving.objects.filter(zone=zone).update(bowl=fresh)
    remember(person, used.worktop, f"a fresh bowl over what is on {zone.name}")
    return fresh


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
