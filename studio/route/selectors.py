"""What a page needs to know of the routes that were chosen."""

from studio.accounts.models import Person
from studio.route.models import ChosenRoute
from studio.visits.models import Visit


def chosen_by_zone(person: Person, visit: Visit) -> dict[int, ChosenRoute]:
    """The chosen routes of a visit by zone id. One query."""
    return {row.zone_id: row for row in ChosenRoute.objects.visible_to(person).filter(zone__visit=visit)}
