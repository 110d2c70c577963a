"""Reading the hair from a photo: paper first, then the hair."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from engine.hair.ladder import School
from studio.bench.models import Photo
from studio.bench.services.photo import mark_paper, picked_colour, take_photo
from studio.ui.http import signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound
from studio.ui.words import refusal_words
from studio.visits.found import Found, found_in
from studio.visits.models import Reading
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand


@require_http_methods(["GET", "POST"])
def read_photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a photo in, mark its paper, pick the hair, and show what that says; keeping it is the Read page's."""
    opened, refusal = zone_in_hand(request, visit_id)
    found = None
    if request.method == "POST" and not refusal:
        try:
            found = _taken(request, opened)
        except Refusal as refused:
            refusal = refused
        if not refusal and found is None:
            return redirect(f"{reverse('bench:read-photo', args=[visit_id])}?zone={opened.zone.pk}")
    kept = Photo.objects.visible_to(signed_in(request)).filter(visit=visit_id).defer("jpeg").first()
    context = {
        "opened": opened,
        "photo": kept,
        "picking": "paper" if kept and (kept.paper_x is None or request.GET.get("paper")) else "hair",
        "found": found,
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "bench/read_photo.html", context, status=422 if refusal else 200)


def _taken(request: HttpRequest, opened: OpenZone) -> Found | None:
    """Raises Refusal for a photo, paper or patch that can't be used."""
    person, visit_id = signed_in(request), opened.visit.pk
    if over_bound(request.META.get("CONTENT_LENGTH") or ""):
        raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
    if "at.x" not in request.POST:
        take_photo(person, visit_id=visit_id, upload=request.FILES.get("photo"))
        return None
    x, y = (whole_number(request.POST.get(f"at.{axis}", ""), "photo") for axis in "xy")
    if request.POST.get("picking") == "paper":
        mark_paper(person, visit_id=visit_id, x=x, y=y)
        return None
    if Photo.objects.visible_to(person).get(visit=visit_id).paper_x is None:
        raise Refusal("photo_no_paper", "photo")
    picked = picked_colour(person, visit_id=visit_id, x=x, y=y)
    reading = opened.reading
    return found_in(
        picked.lab,
        stray=picked.stray,
        source=Reading.Source.PHOTO,
        porosity=float(reading.porosity) if reading else 1.0,
        grey=float(reading.grey) if reading else 0.0,
        school=School(opened.visit.client.studio.school),
        told="by the paper's light",
    )
