"""Zones on the Bench, and aiming by a photo."""

from collections.abc import Callable
from typing import Final

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from engine.colorimetry.lab import lch_of
from studio.accounts.models import Person
from studio.bench.engine_adapter import forecast_of
from studio.bench.models import Photo
from studio.bench.selectors import bench_of
from studio.bench.services.aim import aim
from studio.bench.services.photo import mark_paper, picked_colour, take_photo
from studio.bench.services.zones import (
    add_zone,
    copy_bowl,
    own_bowl,
    remove_zone,
    rename_zone,
    set_blend,
    share_bowl,
    split_head,
)
from studio.bench.views import act, show_bench
from studio.ui.http import signed_in
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound
from studio.visits.views import zone_in_hand

Way = Callable[[Person, int, int, QueryDict], object]


def _blend(person: Person, zone_id: int, version: int, form: QueryDict) -> object:
    percent = typed_number(form.get("blend", ""), "blend", example="10")
    return set_blend(person, zone_id=zone_id, version=version, percent=percent)


WAYS: Final[dict[str, Way]] = {
    "add": lambda person, zone, version, form: add_zone(
        person, zone_id=zone, version=version, name=form.get("name", ""), part=form.get("part", "")
    ),
    "two": lambda person, zone, version, form: split_head(person, zone_id=zone, version=version, into="two"),
    "three": lambda person, zone, version, form: split_head(person, zone_id=zone, version=version, into="three"),
    "remove": lambda person, zone, version, form: remove_zone(person, zone_id=zone, version=version),
    "rename": lambda person, zone, version, form: rename_zone(
        person, zone_id=zone, version=version, name=form.get("name", "")
    ),
    "own": lambda person, zone, version, form: own_bowl(person, zone_id=zone, version=version),
    "share": lambda person, zone, version, form: share_bowl(
        person, zone_id=zone, version=version, with_zone_id=whole_number(form.get("other", ""), "zone")
    ),
    "copy": lambda person, zone, version, form: copy_bowl(
        person, zone_id=zone, version=version, to_zone_id=whole_number(form.get("other", ""), "zone")
    ),
    "blend": _blend,
}


@require_POST
def change_zones(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Add, split, name or remove zones, and say which bowl serves which."""
    form = request.POST
    name = form.get("way", "")

    def change(zone_id: int, version: int) -> object:
        if name == "even":
            return _even(request, visit_id, zone_id, version)
        return WAYS.get(name, _blend)(signed_in(request), zone_id, version, form)

    return act(request, visit_id, change, panel="zones", zones_change=True)


def _even(request: HttpRequest, visit_id: int, zone_id: int, version: int) -> object:
    """A bowl of its own for the zone in hand, aimed at what another zone will look like."""
    person = signed_in(request)
    other = whole_number(request.POST.get("other", ""), "zone")
    opened, _ = zone_in_hand(request, visit_id)
    seen = forecast_of(bench_of(person, opened))
    found = next((each for each in seen.zones if each.bench.zone.pk == other and other != zone_id), None)
    if found is None:
        raise Refusal("no_neighbour")
    return own_bowl(person, zone_id=zone_id, version=version, target_lab=found.forecast.lab)


@require_POST
def send_photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a photo in, or a tap on it: first on white paper, then on the hair, which becomes the aim."""
    person, form = signed_in(request), request.POST
    opened, _gone = zone_in_hand(request, visit_id)
    try:
        if over_bound(request.META.get("CONTENT_LENGTH") or ""):
            raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
        if "at.x" not in form:
            take_photo(person, visit_id=visit_id, upload=request.FILES.get("photo"))
        else:
            x, y = (whole_number(form.get(f"at.{axis}", ""), "photo") for axis in "xy")
            if form.get("picking") == "paper":
                mark_paper(person, visit_id=visit_id, x=x, y=y)
            else:
                return _aim_by_photo(request, visit_id, x, y)
    except Refusal as refusal:
        return show_bench(request, opened, refusal=refusal, status=422, panel="photo")
    picking = "hair" if "at.x" in form else "paper"
    query = f"?photo=1&zone={opened.zone.pk}&mode=aim&picking={picking}"
    return redirect(reverse("bench:bench", args=[visit_id]) + query)


def _aim_by_photo(request: HttpRequest, visit_id: int, x: int, y: int) -> HttpResponse:
    person = signed_in(request)
    lightness, chroma, hue = (float(part) for part in lch_of(picked_colour(person, visit_id=visit_id, x=x, y=y).lab))

    def change(zone_id: int, version: int) -> object:
        parts = zip(("lightness", "chroma", "hue"), (lightness, min(chroma, 150.0), hue % 360), strict=True)
        numbers = {name: typed_number(f"{part:.2f}", name) for name, part in parts}
        return aim(person, zone_id=zone_id, version=version, nearest=True, **numbers)

    return act(request, visit_id, change)


@require_GET
@cache_control(private=True, no_cache=True)
def photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The photo itself, for people of its studio."""
    purpose = Photo.Purpose.RESULT if request.GET.get("of") == "result" else Photo.Purpose.AIM
    kept = Photo.objects.visible_to(signed_in(request)).get(visit=visit_id, purpose=purpose)
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg")
