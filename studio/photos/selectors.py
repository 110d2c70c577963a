"""Finding a visit's photographs."""

from studio.photos.models import Photo


def photo_of(visit_id: int, purpose: str = Photo.Purpose.AIM) -> Photo | None:
    """A visit's photo without its picture, if there is one; the visit is the person's own. One query."""
    return Photo.objects.filter(visit=visit_id, purpose=purpose).defer("jpeg").first()
