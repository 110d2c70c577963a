"""Begin again on a zone: over what the bowl has left on its hair, or over what the last visit has."""

from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from engine.language import say
from studio.accounts.models import Person
from studio.head.models import Bowl, Coat
from studio.head.services.changing import locked_coat, remember
from studio.head.services.coats import place_after
from studio.head.state import TARGET_NAMES, refill, set_target
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
    hair: Mapping[str, object],
    target_lab: FloatArray,
    grams: Mapping[int, Decimal] | None = None,
    washed: bool = False,
) -> Hand:
    """A fresh bowl of the same line for a zone, aimed at L*a*b* (3,); what it leaves in hand.

    Over a bowl that is mixed it is a coat of its own. Where nothing was mixed yet it takes the bowl's place, on hair
    as it is by now. hair: that, as fields of a reading. washed: whether what was mixed is washed before, too, so that
    the hair between both is not what the first leaves. grams: by shade, what is in the bowl to begin with.
    Raises Refusal coat_plain, too_many_coats; Stale; Bowl.DoesNotExist, Reading.DoesNotExist.
    """
    coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("a further coat")).coat
    used = coat.bowl
    if used is None:
        raise Refusal("coat_plain")
    fresh = Bowl(worktop=used.worktop, line=used.line, wanted_g=used.wanted_g)
    set_target(fresh, [Decimal(str(float(part))) for part in target_lab])
    fresh.save()
    if grams:
        fresh.wanted_g = sum(grams.values(), Decimal(0))
        fresh.save(update_fields=["wanted_g"])
        refill(fresh, grams)
    if used.pours.filter(mixed_g__gt=0).exists():
        below, coat = coat, place_after(coat, fresh, Coat.Purpose.OVERLAY)
        if washed:
            _lay(person, coat.zone, hair, after_coats=below.order + 1)
    else:
        _lay(person, coat.zone, hair)
        Coat.objects.filter(pk=coat.pk).update(bowl=fresh, **dict.fromkeys(TARGET_NAMES))
    remember(person, used.worktop, say("a fresh bowl over what is on {name}", name=coat.zone.name))
    return Hand(zone_id=coat.zone_id, coat_id=coat.pk)


def _lay(person: Person, zone: Zone, hair: Mapping[str, object], *, after_coats: int = 0) -> None:
    """The hair as it is now: as it was read, with what was laid on it and washed out of it since."""
    newest = zone.readings.first()
    if newest is None:
        raise Reading.DoesNotExist
    found = {name: round(value, 2) if isinstance(value, Decimal) else value for name, value in hair.items()}
    if not after_coats and all(getattr(newest, name) == value for name, value in found.items()):
        return
    for name, value in found.items():
        setattr(newest, name, value)
    newest.pk, newest.number, newest.read_by = None, newest.number + 1, person
    newest.source, newest.after_coats = Reading.Source.FORECAST, after_coats or newest.after_coats
    newest._state.adding = True
    newest.save()
