"""Pages over the bench: they want hair that was read, and a bowl for each zone."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from studio.head.services.open_bowl import open_bowls
from studio.ui.http import signed_in
from studio.ui.refusal import Refusal
from studio.visits.acting import Show, show_page
from studio.visits.selectors import OpenZone


def show_on_bench(request: HttpRequest, visit_id: int, show: Show) -> HttpResponse:
    """A page of a visit with its bowls opened; before the zone's hair has been read, the way leads to Read."""

    def opened_first(
        request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        if opened.reading is None:
            return redirect(reverse("visits:read", args=[visit_id], query={"zone": opened.zone.pk}))
        open_bowls(signed_in(request), opened)
        return show(request, opened, refusal, made=made)

    return show_page(request, visit_id, opened_first)
