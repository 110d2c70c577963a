"""Finding the portrait of a visit."""

from studio.accounts.models import Person
from studio.portrait.models import HAIR, Portrait


def portrait_of(person: Person, visit_id: int) -> Portrait | None:
    """The portrait of a visit without its pictures, if there is a photo of the head. One query."""
    found = Portrait.objects.visible_to(person).select_related("photo").defer("matte", "photo__jpeg")
    return found.filter(photo__visit=visit_id).first()


def portrait_on_handout(person: Person, visit_id: int) -> Portrait | None:
    """The portrait that the visit's hand-out is to show, if hair was found in it. One query."""
    portrait = portrait_of(person, visit_id)
    return portrait if portrait and portrait.on_handout and portrait.drawn(HAIR) else None
