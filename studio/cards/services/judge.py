"""Record how a zone turned out, and what to change next time."""

from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.cards.models import Tweak, ZoneResult
from studio.head.state import set_target
from studio.visits.models import Visit, Zone


@transaction.atomic
def judge_zone(
    person: Person,
    *,
    zone_id: int,
    lab: FloatArray,
    forecast_lab: FloatArray,
    source: str,
    dry: bool,
    two_lights: bool,
) -> ZoneResult:
    """Note a zone's result L*a*b* (3,) beside its forecast (3,); judged again, it takes the earlier one's place.

    Raises Zone.DoesNotExist for another studio's zone.
    """
    zone = Zone.objects.visible_to(person).get(pk=zone_id)
    lightness, a, b, *forecast = (round(Decimal(float(part)), 3) for part in (*lab, *forecast_lab))
    result, _ = ZoneResult.objects.update_or_create(
        zone=zone,
        defaults={
            "source": source,
            "result_l": lightness,
            "result_a": a,
            "result_b": b,
            "forecast_l": forecast[0],
            "forecast_a": forecast[1],
            "forecast_b": forecast[2],
            "dry": dry,
            "two_lights": two_lights,
            "judged_by": person,
        },
    )
    return result


@transaction.atomic
def note_tweak(
    person: Person, *, visit_id: int, zone_name: str, words: str, aim_lab: FloatArray | None = None
) -> Tweak | None:
    """What to change next time on a zone, with what to aim at (3,) if that is known; no words take it back.

    Raises Visit.DoesNotExist for another studio's visit.
    """
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    words = words.strip()[:200]
    if not words:
        Tweak.objects.filter(visit=visit, zone_name=zone_name).delete()
        return None
    tweak = Tweak.objects.filter(visit=visit, zone_name=zone_name).first() or Tweak(
        visit=visit, client=visit.client, zone_name=zone_name
    )
    tweak.words, tweak.active, tweak.made_by = words, True, person
    set_target(tweak, None if aim_lab is None else [Decimal(float(part)) for part in aim_lab])
    tweak.save()
    return tweak


def use_tweak(person: Person, *, tweak_id: int) -> None:
    """The change was made: it is no longer called for. Raises Tweak.DoesNotExist for another studio's."""
    tweak = Tweak.objects.visible_to(person).get(pk=tweak_id)
    tweak.active = False
    tweak.save(update_fields=["active"])
