"""The talk, to turn to the client."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_safe

from studio.head.opening import show_on_bench
from studio.route.talk import talk_page
from studio.ui.http import signed_in, wants_fragment
from studio.ui.refusal import Refusal
from studio.visits.selectors import OpenZone


@require_safe
def talk(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The wish as it would be worn; before there is one, the way leads to the Aim."""
    return show_on_bench(request, visit_id, _show)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    try:
        page = talk_page(signed_in(request), opened, request.GET)
    except Refusal as told:
        if told.code != "no_target":
            raise
        aim = {"mode": "aim", "zone": opened.zone.pk}
        return redirect(reverse("bench:bench", args=[opened.visit.pk], query=aim))
    template = "route/_talk.html" if wants_fragment(request) else "route/talk.html"
    return render(request, template, {"page": page})
