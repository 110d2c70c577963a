"""Finding the portrait of a visit."""

from studio.accounts.models import Person
from studio.portrait.models import Portrait


def portrait_of(person: Person, visit_id: int) -> Portrait | None:
    """The portrait of a visit without its pictures, if there is a photo of the head. One query."""
    found = Portrait.objects.visible_to(person).select_related("photo").defer("matte", "photo__jpeg")
    return found.filter(photo__visit=visit_id).first()


def has_hair(portrait: Portrait) -> bool:
    """Whether hair was found in it: only then is there something to lay a forecast on."""
    return any(stroke["of"] == "hair" for stroke in portrait.strokes)
