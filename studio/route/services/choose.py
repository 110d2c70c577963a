"""Choose the route of a zone."""

from collections.abc import Sequence

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.head.services.coats import Preparation, prepare_zone
from studio.route.models import ChosenRoute
from studio.ui.refusal import Refusal
from studio.visits.gates import GateSeen
from studio.visits.models import Zone


@transaction.atomic
def choose_route(
    person: Person,
    *,
    zone_id: int,
    version: int,
    kind: str,
    gates: list[GateSeen],
    ahead: Sequence[Preparation] = (),
) -> ChosenRoute:
    """Settle on a route. gates: those that it raises, as they stand.

    ahead: what goes on before the colour, each as a coat of its own in place of what was planned there.
    Raises Refusal route_unknown, gate_shut, no_line_for, too_many_coats; Stale; Zone.DoesNotExist for another studio's
    zone.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    if kind not in ChosenRoute.Kind.values:
        raise Refusal("route_unknown", "route")
    shut = next((seen for seen in gates if seen.is_shut), None)
    if shut:
        raise Refusal("gate_shut", "route", sentence=shut.gate.sentence)
    prepare_zone(
        person, zone_id=zone_id, version=version, ahead=ahead, words=say("the route of {name}", name=zone.name)
    )
    chosen, _ = ChosenRoute.objects.update_or_create(zone=zone, defaults={"kind": kind, "chosen_by": person})
    return chosen
