"""The talk, to turn to the client."""

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import condition, require_POST, require_safe

from studio.head.opening import show_on_bench
from studio.portrait.picture import picture
from studio.route.services.wear import wear_as
from studio.route.talk import talk_page, wear_in, worn_on_photo
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on, zone_in_hand
from studio.visits.models import Zone
from studio.visits.selectors import OpenZone

PARTS = ("lightness", "chroma", "hue")


@require_safe
def talk(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The wish as it would be worn; before there is one, the way leads to the Aim."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def wear(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take it to the Bench as it is worn: colour, root and place."""

    def change(sent: Sent) -> Zone:
        parts = {name: typed_number(sent.text(name), name) for name in PARTS}
        return wear_as(sent.person, **sent.hand, wear=wear_in(sent.text("wear")), **parts)

    return act_on(request, visit_id, change, show=_show, page="bench:bench", goes=True)


def _etag(request: HttpRequest, visit_id: int) -> str:
    opened, _ = zone_in_hand(request, visit_id)
    try:
        asked = worn_on_photo(signed_in(request), opened, request.GET)
    except Refusal:
        asked = None
    if asked is None:
        raise Http404
    request.asked = asked  # type: ignore[attr-defined]
    return f'"{asked.etag}"'


@require_safe
@cache_control(private=True, no_cache=True)
@condition(etag_func=_etag)
def on_photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The photo of her head with the wish laid on as it would be worn."""
    made = picture(request.asked)  # type: ignore[attr-defined] # by the tag of what is asked for
    return HttpResponse(made, content_type="image/jpeg")


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    try:
        page = talk_page(signed_in(request), opened, request.POST or request.GET, refusal)
    except Refusal as told:
        if told.code != "no_target":
            raise
        aim = {"mode": "aim", "zone": opened.zone.pk}
        return redirect(reverse("bench:bench", args=[opened.visit.pk], query=aim))
    template = "route/_talk.html" if wants_fragment(request) else "route/talk.html"
    return render(request, template, {"page": page})
