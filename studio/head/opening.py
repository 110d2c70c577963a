"""Pages over the bench: they want hair that was read, and something to mix with."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from engine.language import say
from studio.head.models import Bowl
from studio.shelf.selectors import colour_lines
from studio.ui.http import signed_in
from studio.ui.refusal import Refusal
from studio.visits.acting import Show, show_page
from studio.visits.selectors import OpenZone


def show_on_bench(request: HttpRequest, visit_id: int, show: Show) -> HttpResponse:
    """A page of a visit over its bowls; before the zone's hair has been read, the way leads to Read, and from an empty
    shelf to the Shelf.
    """

    def read_first(
        request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        if opened.reading is None:
            return redirect(reverse("visits:read", args=[visit_id], query={"zone": opened.zone.pk}))
        try:
            return show(request, opened, refusal, made=made)
        except Bowl.DoesNotExist:
            if colour_lines(signed_in(request)).exists():
                raise
            messages.info(request, say("There is nothing to mix with yet: put a line on the shelf first."))
            return redirect("shelf:shelf")

    return show_page(request, visit_id, read_first)
