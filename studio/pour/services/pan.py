"""The simulated scale's pan: what a hand would do to a real one."""

import datetime
from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction

from studio.accounts.models import Person
from studio.devices.scale import Fault, ScaleFault, SimulatedScale, Weight
from studio.pour.models import SimulatedPan
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal

LOAD_MOST_G = Decimal(5000)


def pan_of(person: Person) -> SimulatedPan:
    """The studio's pan, made when it is first asked for."""
    pan, _ = SimulatedPan.objects.visible_to(person).get_or_create(studio_id=person.studio_id)
    return pan


def weight_on(pan: SimulatedPan, *, now: datetime.datetime) -> Weight:
    """What the scale says. Raises Refusal scale_not_there, scale_overload."""
    scale = SimulatedScale(
        load_g=float(pan.load_g),
        tare_g=float(pan.tare_g),
        rested_s=(now - pan.changed_at).total_seconds(),
        fault=Fault(pan.fault),
        seed=int(now.timestamp() * 1000) % 2**32,
    )
    try:
        return scale.weigh()
    except ScaleFault as fault:
        raise Refusal(f"scale_{fault.code}", "grams") from None


def settled_grams(person: Person, *, now: datetime.datetime) -> Decimal:
    """A weight that stands still, as Decimal. Raises Refusal scale_unsteady, scale_not_there, scale_overload."""
    weight = weight_on(pan_of(person), now=now)
    if not weight.stable:
        raise Refusal("scale_unsteady", "grams")
    return Decimal(str(weight.grams))


@transaction.atomic
def put_on(person: Person, *, grams: Decimal, now: datetime.datetime) -> SimulatedPan:
    """Put grams on the pan, or take some off. Raises Refusal out_of_range."""
    pan = SimulatedPan.objects.visible_to(person).select_for_update().get(pk=pan_of(person).pk)
    load = max(pan.load_g + grams, Decimal(0))
    if load > LOAD_MOST_G:
        raise Refusal("out_of_range", "grams", low=0, high=LOAD_MOST_G, given=load, unit=" g")
    pan.load_g, pan.changed_at = load, now
    pan.save()
    return pan


@transaction.atomic
def tare(person: Person, *, now: datetime.datetime) -> SimulatedPan:
    """Call what lies on the pan nothing."""
    pan = SimulatedPan.objects.visible_to(person).select_for_update().get(pk=pan_of(person).pk)
    pan.tare_g, pan.changed_at = pan.load_g, now
    pan.save()
    return pan


def set_fault(person: Person, *, fault: str) -> SimulatedPan:
    """Tell the simulated scale what to do wrong. Raises Refusal fault_unknown."""
    if fault not in SimulatedPan.FaultChoice.values:
        raise Refusal("fault_unknown")
    pan = pan_of(person)
    pan.fault = fault
    pan.save(update_fields=["fault"])
    return pan


def act_on_pan(person: Person, form: Mapping[str, str], *, now: datetime.datetime) -> None:
    """What a form of the simulated scale asks: a fault, a tare, or grams put on. Raises Refusal."""
    if "fault" in form:
        set_fault(person, fault=form["fault"])
    elif "tare" in form:
        tare(person, now=now)
    else:
        put_on(person, grams=typed_number(form.get("put", ""), "grams"), now=now)
