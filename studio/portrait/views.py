"""The head as it is seen: drawn, and on a photo of it."""

import json
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import condition, require_POST, require_safe

from studio.head.opening import show_on_bench
from studio.head.selectors import bench_of
from studio.head.sight import sight_of
from studio.head.whole import End
from studio.photos.models import Photo
from studio.portrait.models import Portrait
from studio.portrait.page import head_page, photo_page
from studio.portrait.picture import Seen, matte_picture, picture, seen
from studio.portrait.services.draw import Points, draw, set_seen, take_head, tell_light, undraw
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound
from studio.visits.acting import Sent, act_on, zone_in_hand
from studio.visits.selectors import OpenZone

KEEP = ("tool", "light", "washes", "end", "beside")
POINTS_MOST_LETTERS = 60_000


@require_safe
def head(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The head drawn from four sides."""
    return show_on_bench(request, visit_id, _show_head)


@require_safe
def photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The head on a photo of it, to draw on or to look at."""
    return show_on_bench(request, visit_id, _show_photo)


@require_POST
def take(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a photo of the head in, in place of the one before."""

    def change(sent: Sent) -> Portrait:
        if over_bound(request):
            raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
        return take_head(sent.person, visit_id=visit_id, upload=request.FILES.get("photo"))

    return _act(request, visit_id, change)


@require_POST
def stroke(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A stroke, or a tap, over the photo; or the last stroke, or all of them, away."""

    def change(sent: Sent) -> Portrait:
        if "undo" in sent.form or "clear" in sent.form:
            return undraw(sent.person, visit_id=visit_id, every="clear" in sent.form)
        points = points_in(sent)
        if sent.text("of") == "paper":
            return tell_light(sent.person, visit_id=visit_id, x=points[0][0], y=points[0][1])
        return draw(sent.person, visit_id=visit_id, of=sent.text("of"), points=points)

    return _act(request, visit_id, change)


@require_POST
def settle(request: HttpRequest, visit_id: int) -> HttpResponse:
    """From which side the photo was taken, and whether the hand-out shows it."""

    def change(sent: Sent) -> Portrait:
        flags = {name: name in sent.form for name in ("from_behind", "on_handout")}
        return set_seen(sent.person, visit_id=visit_id, **flags)

    return _act(request, visit_id, change)


def points_in(sent: Sent) -> Points:
    """The points of a stroke, shares of the photo; of a tap without script, its one. Raises Refusal strokes_outside."""
    try:
        if sent.text("points"):
            points = [(float(x), float(y)) for x, y in json.loads(sent.text("points")[:POINTS_MOST_LETTERS])]
        else:
            width, height = (max(whole_number(sent.text(name), name), 1) for name in ("wide", "high"))
            x, y = (whole_number(sent.text(name), "points") for name in ("at.x", "at.y"))
            points = [(x / width, y / height)]
    except (ValueError, TypeError, Refusal, RecursionError):
        raise Refusal("strokes_outside", "points") from None
    if not points or not all(0 <= share <= 1 for point in points for share in point):
        raise Refusal("strokes_outside", "points")
    return points


def _act(request: HttpRequest, visit_id: int, change: Callable[[Sent], Portrait]) -> HttpResponse:
    keep = KEEP[1:] if request.POST.get("of") == "paper" else KEEP  # a tap on paper is done with: hair comes next
    return act_on(request, visit_id, change, show=_show_photo, page="portrait:photo", keep=keep, same_zones=True)


def _show_head(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    page = head_page(signed_in(request), opened, request.GET)
    template = "portrait/_head.html" if wants_fragment(request) else "portrait/head.html"
    return render(request, template, {"page": page})


def _show_photo(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    sent = request.POST or request.GET
    tool = "" if made is not None and sent.get("of") == "paper" else sent.get("tool", "")
    page = photo_page(signed_in(request), opened, sent, refusal, tool=tool)
    template = "portrait/_photo.html" if wants_fragment(request) else "portrait/photo.html"
    return render(request, template, {"page": page})


def _portrait(request: HttpRequest, visit_id: int) -> Portrait:
    found = Portrait.objects.visible_to(signed_in(request)).select_related("photo")
    return found.get(photo__visit=visit_id)


def _seen(request: HttpRequest, visit_id: int) -> Seen:
    """What a picture is asked of. Raises Portrait.DoesNotExist where there is no hair to lay a forecast on."""
    opened, _ = zone_in_hand(request, visit_id)
    portrait = _portrait(request, visit_id)
    if not portrait.matte:
        raise Portrait.DoesNotExist
    sent, width = request.GET, request.GET.get("width", "")
    end = End(sent["end"]) if sent.get("end") in [each.value for each in End] else End.LIKELY
    bench = bench_of(signed_in(request), opened)
    return seen(bench, portrait, sight_of(sent), end, int(width) if width.isdecimal() and len(width) < 5 else None)


def _etag(request: HttpRequest, visit_id: int) -> str:
    request.asked = _seen(request, visit_id)  # type: ignore[attr-defined]
    return f'"{request.asked.etag}"'  # type: ignore[attr-defined]


@require_safe
@cache_control(private=True, no_cache=True)
@condition(etag_func=_etag)
def laid_on(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The photo with the forecast laid on; without loss where a PNG is asked for."""
    kind = "PNG" if request.path.endswith(".png") else "JPEG"
    made = picture(request.asked, kind)  # type: ignore[attr-defined] # by the tag of what is asked for
    answer = HttpResponse(made, content_type=f"image/{kind.lower()}")
    if kind == "PNG":
        answer["Content-Disposition"] = 'attachment; filename="forecast.png"'
    return answer


@require_safe
@cache_control(private=True, no_cache=True)
def as_taken(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The photo as it was taken."""
    kept = Photo.objects.visible_to(signed_in(request)).get(visit=visit_id, purpose=Photo.Purpose.HEAD)
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg")


@require_safe
@cache_control(private=True, no_cache=True)
def matte(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Where hair was found, to lay over the photo."""
    portrait = _portrait(request, visit_id)
    if not portrait.matte:
        raise Portrait.DoesNotExist
    return HttpResponse(matte_picture(portrait), content_type="image/png")
