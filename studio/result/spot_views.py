"""Marking on a photo what went wrong."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from studio.photos.models import Photo
from studio.photos.services.photo import forget_spot, mark_spot
from studio.photos.taps import taken_or_picked, tapped_in
from studio.result.spots import spots_of
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Sent, act_on, show_page
from studio.visits.selectors import OpenZone


@page_and_change
def spots(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A photo of what went wrong: tap its paper, a place that is right, and each spot that is not."""
    if request.method != "POST":
        return show_page(request, visit_id, _show)

    def change(sent: Sent) -> None:
        if "forget" in sent.form:
            forget_spot(sent.person, visit_id=visit_id)
        elif sent.text("picking") == "spot":
            x, y = tapped_in(sent.form)
            mark_spot(sent.person, visit_id=visit_id, x=x, y=y)
        else:
            taken_or_picked(request, visit_id, Photo.Purpose.WRONG)

    return act_on(request, visit_id, change, show=_show)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    if request.method == "POST" and refusal is None:
        return redirect(reverse("result:spots", args=[opened.visit.pk], query={"zone": opened.zone.pk}))
    photo = Photo.objects.visible_to(signed_in(request)).filter(visit=opened.visit, purpose=Photo.Purpose.WRONG).first()
    context = {
        "opened": opened,
        "photo": photo,
        "picking": _picking(request, photo),
        "found": spots_of(photo),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "result/spots.html", context)


def _picking(request: HttpRequest, photo: Photo | None) -> str:
    """What the next tap picks: the paper, a place that is right, or a spot."""
    if photo is None or photo.paper_x is None or request.GET.get("paper"):
        return "paper"
    return "hair" if photo.hair_x is None or request.GET.get("right") else "spot"
