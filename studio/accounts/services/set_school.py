"""Set the school that a studio reads by."""

from studio.accounts.models import Person, Studio
from studio.ui.refusal import Refusal


def set_school(person: Person, *, school: str) -> None:
    """From now on the studio's ladder is that of a school; readings keep their numbers. Raises Refusal."""
    if school not in dict(person.studio.schools):
        raise Refusal("school_unknown", "school")
    Studio.objects.filter(pk=person.studio_id).update(school=school)
