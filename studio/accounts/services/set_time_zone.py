"""Set the time zone by which a studio's days and hours are told."""

from zoneinfo import available_timezones

from studio.accounts.models import Person, Studio
from studio.ui.refusal import Refusal


def set_time_zone(person: Person, *, time_zone: str) -> None:
    """From now on the studio's days and hours are told by this zone; moments that are kept stay as they are.

    Raises Refusal zone_unknown.
    """
    if time_zone not in available_timezones():
        raise Refusal("zone_unknown", "time_zone")
    Studio.objects.filter(pk=person.studio_id).update(time_zone=time_zone)
