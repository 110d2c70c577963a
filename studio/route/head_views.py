"""One aim on several heads."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from studio.head.opening import show_on_bench
from studio.route.heads import heads_page
from studio.route.services.aim_there import aim_there as aim_at
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Sent, act_on
from studio.visits.selectors import OpenZone


@require_safe
def heads(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The aim of the zone in hand on today's other heads; before there is one, the way leads to the Route."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def aim_there(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take the aim to another head, or to all of them that nothing stops."""

    def change(sent: Sent) -> None:
        named = sent.text("of_visit")
        only = None if named == "all" else whole_number(named, "of_visit")
        aim_at(sent.person, opened=sent.opened, only=only)

    return act_on(request, visit_id, change, show=_show, page="route:heads", same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    try:
        page = heads_page(signed_in(request), opened)
    except Refusal:  # no aim: the Route says what to do about it
        return redirect(reverse("route:route", args=[opened.visit.pk], query={"zone": opened.zone.pk}))
    template = "route/_heads.html" if wants_fragment(request) else "route/heads.html"
    return render(request, template, {"page": page, "error_words": refusal_words(refusal) if refusal else ""})
