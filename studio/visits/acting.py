"""The way of every change on a page of a visit: make it, show the page again, or show why it was refused."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from studio.ui.http import wants_fragment
from studio.ui.refusal import Refusal
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand

Show = Callable[[HttpRequest, OpenZone, Refusal | None], HttpResponse]


def act_on(
    request: HttpRequest, visit_id: int, change: Callable[[OpenZone], None], *, show: Show, page: str
) -> HttpResponse:
    """Change something of the zone in hand. With script the page is shown anew; without, a redirect leads back to it.

    show: how the page is shown. page: the name of its address, which takes the visit's id.
    """
    opened, gone = zone_in_hand(request, visit_id)
    try:
        if gone:
            raise gone
        change(opened)
    except Refusal as refusal:
        return show(request, opened, refusal)
    if wants_fragment(request):
        return show(request, opened, None)
    return redirect(f"{reverse(page, args=[visit_id])}?zone={opened.zone.pk}")
