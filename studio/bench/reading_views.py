"""Reading the hair from a photo: paper first, then the hair."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from engine.hair.ladder import School
from studio.bench.models import Photo
from studio.bench.photo_taps import picking_of, taken_or_picked
from studio.bench.selectors import photo_of
from studio.ui.refusal import Refusal
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
            found = _found(request, opened)
        except Refusal as refused:
            refusal = refused
        if not refusal and found is None:
            return redirect(f"{reverse('bench:read-photo', args=[visit_id])}?zone={opened.zone.pk}")
    kept = photo_of(opened.visit.pk)
    context = {
        "opened": opened,
        "photo": kept,
        "picking": picking_of(request, kept),
        "found": found,
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "bench/read_photo.html", context, status=422 if refusal else 200)


def _found(request: HttpRequest, opened: OpenZone) -> Found | None:
    """Raises Refusal for a photo, paper or patch that can't be used."""
    picked = taken_or_picked(request, opened.visit.pk, Photo.Purpose.AIM)
    if picked is None:
        return None
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
