"""The steps of a visit in the masthead."""

from django import template

from studio.chairs.steps import Steps, steps_of
from studio.head.models import Coat
from studio.visits.models import Visit, Zone

register = template.Library()


@register.simple_tag(name="steps_of")
def steps_of_visit(visit: Visit, here: str, zone: Zone | str | None = None, coat: Coat | str | None = None) -> Steps:
    """The steps of a visit, each done, now or to come. here: the step that is shown; zone and coat: those in hand."""
    return steps_of(
        visit,
        here,
        zone_id=zone.pk if isinstance(zone, Zone) else None,
        coat_id=coat.pk if isinstance(coat, Coat) else None,
    )
