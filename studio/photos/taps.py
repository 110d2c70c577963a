"""A photo taken in, its paper marked, and the hair in it picked, as the pages that read by photo need it."""

from collections.abc import Mapping

from django.http import HttpRequest

from engine.colorimetry.photo import PhotoColour
from studio.photos.models import Photo
from studio.photos.services.photo import mark_paper, picked_colour, take_photo
from studio.ui.http import signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound


def tapped_in(form: Mapping[str, str]) -> tuple[int, int]:
    """The pixel of a photo that was tapped, from left and top. Raises Refusal photo_outside."""
    try:
        return whole_number(form.get("at.x", ""), "photo"), whole_number(form.get("at.y", ""), "photo")
    except Refusal:
        raise Refusal("photo_outside", "photo") from None


def taken_or_picked(request: HttpRequest, visit_id: int, purpose: str) -> PhotoColour | None:
    """Take the photo or the tap that a request brings; the hair's colour once it is picked by the paper's light.

    Raises Refusal for a photo, paper or patch that can't be used.
    """
    person = signed_in(request)
    if over_bound(request):
        raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
    if "at.x" not in request.POST:
        take_photo(person, visit_id=visit_id, upload=request.FILES.get("photo"), purpose=purpose)
        return None
    x, y = tapped_in(request.POST)
    if request.POST.get("picking") == "paper":
        mark_paper(person, visit_id=visit_id, x=x, y=y, purpose=purpose)
        return None
    if Photo.objects.visible_to(person).get(visit=visit_id, purpose=purpose).paper_x is None:
        raise Refusal("photo_no_paper", "photo")
    return picked_colour(person, visit_id=visit_id, x=x, y=y, purpose=purpose)


def picking_of(request: HttpRequest, photo: Photo | None) -> str:
    """What the next tap picks."""
    return "paper" if photo and (photo.paper_x is None or request.GET.get("paper")) else "hair"
