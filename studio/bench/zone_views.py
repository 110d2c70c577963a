"""Zones on the Bench, and aiming by a photo."""

from collections.abc import Callable
from decimal import Decimal
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_POST, require_safe

from engine.colorimetry.lab import lch_of
from studio.bench.views import act, show_bench
from studio.head.engine_adapter import forecast_of
from studio.head.selectors import bench_of
from studio.head.services.aim import aim
from studio.head.services.root import set_root
from studio.head.services.zones import (
    add_to_head,
    bowl_for_each,
    copy_bowl,
    own_bowl,
    remove_zone,
    rename_zone,
    set_blend,
    share_bowl,
    split_head,
)
from studio.photos.models import Photo
from studio.photos.services.photo import mark_paper, picked_colour, take_photo
from studio.photos.taps import tapped_in
from studio.ui.http import signed_in
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound
from studio.visits.acting import Sent, act_on
from studio.visits.models import Zone
from studio.visits.selectors import OpenZone

Way = Callable[[Sent], object]


def _blend(sent: Sent) -> object:
    percent = typed_number(sent.text("blend"), "blend", example="10")
    return set_blend(sent.person, **sent.hand, percent=percent)


def _other(sent: Sent) -> int:
    return whole_number(sent.text("other"), "zone")


WAYS: Final[dict[str, Way]] = {
    "add": lambda sent: add_to_head(sent.person, **sent.hand, name=sent.text("name"), part=sent.text("part")),
    "two": lambda sent: split_head(sent.person, **sent.hand, into="two"),
    "three": lambda sent: split_head(sent.person, **sent.hand, into="three"),
    "remove": lambda sent: remove_zone(sent.person, **sent.hand),
    "rename": lambda sent: rename_zone(sent.person, **sent.hand, name=sent.text("name")),
    "own": lambda sent: own_bowl(sent.person, **sent.hand),
    "each": lambda sent: bowl_for_each(sent.person, **sent.hand),
    "share": lambda sent: share_bowl(sent.person, **sent.hand, with_zone_id=_other(sent)),
    "copy": lambda sent: copy_bowl(sent.person, **sent.hand, to_zone_id=_other(sent)),
    "blend": _blend,
}


@require_POST
def change_zones(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Add, split, name or remove zones, and say which bowl serves which."""

    def change(sent: Sent) -> object:
        name = sent.text("way")
        if name in ON_ANOTHER:
            return ON_ANOTHER[name](sent)
        return WAYS.get(name, _blend)(sent)

    return act(request, visit_id, change, panel="zones", zones_change=True)


def _even(sent: Sent) -> object:
    """A bowl of its own for the zone in hand, aimed at what another zone will look like."""
    other = whole_number(sent.text("other"), "zone")
    seen = forecast_of(bench_of(sent.person, sent.opened))
    found = next((each for each in seen.zones if each.bench.zone.pk == other and other != sent.zone_id), None)
    if found is None:
        raise Refusal("no_neighbour")
    return own_bowl(sent.person, **sent.hand, target_lab=found.forecast.lab)


def _root(sent: Sent) -> object:
    """The root in hand as a shadow of what follows it, as that is, or left natural."""
    bench = bench_of(sent.person, sent.opened)
    below = bench.below
    if below is None or bench.zone.part != Zone.Part.ROOTS:
        raise Refusal("root_alone", "root")
    return set_root(
        sent.person,
        **sent.hand,
        look=sent.text("root"),
        lengths_id=below.zone.pk,
        lengths_lab=below.target_lab,
    )


ON_ANOTHER: Final[dict[str, Way]] = {"even": _even, "root": _root}


@require_POST
def send_photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a photo in, or a tap on it: first on white paper, then on the hair, which becomes the aim."""
    if "at.x" in request.POST and request.POST.get("picking") != "paper":
        return act(request, visit_id, _aim_by_photo, panel="photo")
    upload = None if over_bound(request) else request.FILES.get("photo")

    def change(sent: Sent) -> None:
        if over_bound(request):
            raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
        if "at.x" not in sent.form:
            take_photo(sent.person, visit_id=visit_id, upload=upload)
        else:
            x, y = tapped_in(sent.form)
            mark_paper(sent.person, visit_id=visit_id, x=x, y=y)

    def show(
        request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        if refusal is None:
            picking = "hair" if "at.x" in request.POST else "paper"
            asked = {
                "photo": 1,
                "zone": opened.zone.pk,
                "coat_id": opened.coat_id or "",
                "mode": "aim",
                "picking": picking,
            }
            return redirect(reverse("bench:bench", args=[visit_id], query=asked))
        return show_bench(request, opened, refusal, panel="photo")

    return act_on(request, visit_id, change, show=show)


def _aim_by_photo(sent: Sent) -> object:
    x, y = tapped_in(sent.form)
    picked = picked_colour(sent.person, visit_id=sent.visit_id, x=x, y=y)
    lightness, chroma, hue = (float(part) for part in lch_of(picked.lab))
    numbers = (Decimal(f"{part:.2f}") for part in (lightness, min(chroma, 150.0), hue % 360))
    depth, strength, angle = numbers
    return aim(sent.person, **sent.hand, nearest=True, lightness=depth, chroma=strength, hue=angle)


@require_safe
@cache_control(private=True, no_cache=True)
def photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The photo itself, for people of its studio."""
    of = request.GET.get("of", "")
    purpose = of if of in Photo.Purpose.values else Photo.Purpose.AIM
    kept = Photo.objects.visible_to(signed_in(request)).get(visit=visit_id, purpose=purpose)
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg")
