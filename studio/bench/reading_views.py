"""Reading the hair from a photo: paper first, then the hair."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from engine.language import say
from studio.photos.models import Photo
from studio.photos.selectors import photo_of
from studio.photos.taps import picking_of, taken_or_picked
from studio.ui.http import page_and_change
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Sent, act_on, show_page
from studio.visits.found import Found, found_in
from studio.visits.models import Reading
from studio.visits.selectors import OpenZone


@page_and_change
def read_photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a photo in, mark its paper, pick the hair, and show what that says; keeping it is the Read page's."""
    if request.method != "POST":
        return show_page(request, visit_id, _show)
    return act_on(request, visit_id, lambda sent: _found(request, sent), show=_show)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    if request.method == "POST" and refusal is None and made is None:
        return redirect(reverse("bench:read-photo", args=[opened.visit.pk], query={"zone": opened.zone.pk}))
    kept = photo_of(opened.visit.pk)
    context = {
        "opened": opened,
        "photo": kept,
        "picking": picking_of(request, kept),
        "found": made,
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "bench/read_photo.html", context)


def _found(request: HttpRequest, sent: Sent) -> Found | None:
    """Raises Refusal for a photo, paper or patch that can't be used."""
    opened = sent.opened
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
        ladder=sent.person.studio.ladder,
        told=say("by the paper's light"),
    )
