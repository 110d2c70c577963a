"""What a card says to do otherwise next time, and how it gets into the next visit by itself."""

from dataclasses import dataclass
from decimal import Decimal

from django.dispatch import receiver

from engine.service.timing import usual_min
from studio.accounts.models import Person
from studio.cards.models import Formula, Tweak
from studio.clocks.coats import kind_of
from studio.head.models import Bowl, Coat
from studio.head.services.coats import set_coat
from studio.visits.models import Visit, Zone
from studio.visits.signals import hair_first_read

MINUTES_LEAST = Decimal("0.5")


@dataclass(frozen=True, kw_only=True)
class NextTime:
    """How a coat is to be worked otherwise; None for what stays. minutes: on the hair. vol: of its developer."""

    minutes: Decimal | None = None
    vol: Decimal | None = None


def otherwise(formula: Formula, tweak: Tweak | None) -> NextTime:
    """What a change says of a formula: minutes from those that it was on, else from those that packs usually ask."""
    if tweak is None or not tweak.acts:
        return NextTime()
    minutes = None
    if tweak.minutes_more is not None:
        minutes = max(round(_minutes_of(formula) + tweak.minutes_more, 1), MINUTES_LEAST)
    return NextTime(minutes=minutes, vol=tweak.vol if formula.developer[1] else None)


def _minutes_of(formula: Formula) -> Decimal:
    if formula.process_min is not None:
        return Decimal(str(round(formula.process_min)))
    kind = kind_of(Coat(purpose=formula.purpose, bowl=Bowl(line=formula.line)))
    if kind is None:
        return Decimal(0)
    return Decimal(str(usual_min(kind, pack=formula.line.pack)))


def acting_tweaks(person: Person, client_id: int, visit: Visit) -> dict[str, Tweak]:
    """The changes that act by themselves, by the zone's name: those that are called for, or that a visit has taken up.

    One query.
    """
    tweaks = Tweak.objects.visible_to(person).filter(client=client_id).exclude(visit=visit)
    found = [each for each in tweaks if each.acts and (each.active or each.used_in_id == visit.pk)]
    return {each.zone_name: each for each in reversed(found)}


def take_up(tweak: Tweak, visit: Visit) -> None:
    """A change is made in a visit, and called for no more."""
    tweak.active, tweak.used_in = False, visit
    tweak.save(update_fields=["active", "used_in"])


@receiver(hair_first_read, dispatch_uid="what the card says to change")
def change_for_read(*, person: Person, zone: Zone, **_: object) -> None:
    """Work the zone's colour as its card says, from its first reading on."""
    visit = zone.visit
    tweak = acting_tweaks(person, visit.client_id, visit).get(zone.name)
    if tweak is None:
        return
    coat = Coat.objects.filter(zone=zone, removed=False, bowl__isnull=False).select_related("bowl__worktop").last()
    formulas = Formula.objects.visible_to(person).filter(client=visit.client_id, zone_name=zone.name)
    formula = formulas.exclude(purpose=Coat.Purpose.LIFT).select_related("line").order_by("-saved_at", "pk").first()
    if coat is None or coat.bowl is None or formula is None:
        return
    change = otherwise(formula, tweak)
    is_own = coat.bowl.coats.filter(removed=False).count() == 1 and bool(coat.bowl.parts)
    set_coat(
        person,
        zone_id=zone.pk,
        coat_id=coat.pk,
        version=coat.bowl.worktop.version,
        minutes=change.minutes,
        vol=change.vol if is_own else None,
    )
    if change.vol is None or is_own:  # a strength that other zones would share is still to be set by hand
        take_up(tweak, visit)
