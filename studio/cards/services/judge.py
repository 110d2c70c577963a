"""Record how a zone turned out, and what to change next time."""

from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.cards.models import MINUTES_MORE_MOST, Tweak, ZoneResult
from studio.cards.services.next_time import take_up
from studio.head.state import set_target
from studio.taught.services.ask import ask_to_learn
from studio.ui.numbers import within
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

    The forecast stays that of the first time: what was learned since may have been learned from this very result.

    Raises Zone.DoesNotExist for another studio's zone.
    """
    zone = Zone.objects.visible_to(person).get(pk=zone_id)
    lightness, a, b, *forecast = (round(Decimal(float(part)), 3) for part in (*lab, *forecast_lab))
    judged = {
        "source": source,
        "result_l": lightness,
        "result_a": a,
        "result_b": b,
        "dry": dry,
        "two_lights": two_lights,
        "judged_by": person,
        "judged_as": "",
    }
    first = {**judged, "forecast_l": forecast[0], "forecast_a": forecast[1], "forecast_b": forecast[2]}
    result, _ = ZoneResult.objects.update_or_create(zone=zone, defaults=judged, create_defaults=first)
    ask_to_learn(person.studio_id)
    return result


@transaction.atomic
def note_tweak(
    person: Person,
    *,
    visit_id: int,
    zone_name: str,
    words: str,
    aim_lab: FloatArray | None = None,
    minutes_more: Decimal | None = None,
    vol: Decimal | None = None,
) -> Tweak | None:
    """What to change next time on a zone, with what to aim at (3,) if that is known; with nothing it is taken back.

    minutes_more, vol: what the next visit does otherwise by itself; without words they are the words.
    Raises Refusal out_of_range; Visit.DoesNotExist for another studio's visit.
    """
    if minutes_more is not None:
        within(minutes_more, "minutes_more", -MINUTES_MORE_MOST, MINUTES_MORE_MOST, " min")
    if vol is not None:
        within(vol, "vol", 1, 40, " vol")
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    acts = Tweak(minutes_more=minutes_more or None, vol=vol)
    words = words.strip()[:200] or acts.acts_words
    if not words:
        Tweak.objects.filter(visit=visit, zone_name=zone_name).delete()
        return None
    tweak = Tweak.objects.filter(visit=visit, zone_name=zone_name).first() or Tweak(
        visit=visit, client=visit.client, zone_name=zone_name
    )
    tweak.words, tweak.active, tweak.made_by, tweak.used_in = words, True, person, None
    tweak.minutes_more, tweak.vol = acts.minutes_more, acts.vol
    set_target(tweak, None if aim_lab is None else [Decimal(float(part)) for part in aim_lab])
    tweak.save()
    return tweak


def use_tweak(person: Person, *, tweak_id: int, visit: Visit) -> None:
    """The change was made in a visit: it is no longer called for. Raises Tweak.DoesNotExist for another studio's."""
    take_up(Tweak.objects.visible_to(person).get(pk=tweak_id), visit)
