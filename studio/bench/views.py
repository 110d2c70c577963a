"""The Bench: one page, swapped in place as grams go in."""

from collections.abc import Callable
from decimal import Decimal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from studio.bench.models import Bowl
from studio.bench.page import bench_page
from studio.bench.plane import dots_at
from studio.bench.services.aim import aim, want
from studio.bench.services.change_line import change_line
from studio.bench.services.open_bowl import open_bowl
from studio.bench.services.pour import pour
from studio.bench.services.take_recipe import take_recipe
from studio.bench.services.undo import redo, undo
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal, Stale
from studio.visits.selectors import OpenZone, open_zone

Change = Callable[[int, int], Bowl]


@require_GET
def bench(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Bench of a visit; before the hair has been read, the way leads to Read."""
    opened = open_zone(signed_in(request), visit_id)
    if opened.reading is None:
        return redirect("visits:read", visit_id)
    open_bowl(signed_in(request), zone_id=opened.zone.pk)
    return _show(request, opened)


@require_POST
def pour_shade(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One shade's grams, typed or by a step."""
    form = request.POST

    def change(zone_id: int, version: int) -> Bowl:
        shade_id = _whole(form.get("shade", ""), "shade")
        stepped = typed_number(form["by"], "grams", example="2.5") if form.get("by") else None
        typed = typed_number(form.get("grams", ""), "grams", example="2.5") if stepped is None else None
        return pour(signed_in(request), zone_id=zone_id, version=version, shade_id=shade_id, grams=typed, by=stepped)

    return _act(request, visit_id, change)


@require_POST
def set_aim(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The colour aimed at, tapped or typed."""

    def change(zone_id: int, version: int) -> Bowl:
        parts = {name: typed_number(request.POST.get(name, ""), name) for name in ("lightness", "chroma", "hue")}
        nearest = bool(request.POST.get("tapped"))
        return aim(signed_in(request), zone_id=zone_id, version=version, nearest=nearest, **parts)

    return _act(request, visit_id, change)


@require_POST
def set_wanted(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How much is wanted."""

    def change(zone_id: int, version: int) -> Bowl:
        total_g = typed_number(request.POST.get("total_grams", ""), "total_grams", example="60")
        return want(signed_in(request), zone_id=zone_id, version=version, total_g=total_g)

    return _act(request, visit_id, change)


@require_POST
def take_answer(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One of the recipes that were offered."""

    def change(zone_id: int, version: int) -> Bowl:
        grams: dict[int, Decimal] = {}
        for shade_id, weight in zip(request.POST.getlist("shade_id"), request.POST.getlist("weight"), strict=False):
            grams[_whole(shade_id, "shade")] = typed_number(weight, "grams")
        return take_recipe(signed_in(request), zone_id=zone_id, version=version, grams=grams)

    return _act(request, visit_id, change)


@require_POST
def set_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The line to mix from."""

    def change(zone_id: int, version: int) -> Bowl:
        line_id = _whole(request.POST.get("line", ""), "line")
        return change_line(signed_in(request), zone_id=zone_id, version=version, line_id=line_id)

    return _act(request, visit_id, change)


@require_POST
def walk(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Undo or redo."""
    step = redo if request.POST.get("way") == "redo" else undo
    return _act(request, visit_id, lambda zone_id, version: step(signed_in(request), zone_id=zone_id, version=version))


@require_GET
@cache_control(private=True, max_age=86_400, immutable=True)
def plane_dots(request: HttpRequest, depth: int) -> HttpResponse:
    """The plane's colours at one depth, as a picture that the browser keeps."""
    return render(request, "bench/plane.svg", {"dots": dots_at(min(max(depth, 0), 100))}, content_type="image/svg+xml")


def _whole(text: str, field: str) -> int:
    """A row's number from a form. Raises Refusal unknown_shade for anything else."""
    if not text.isascii() or not text.isdigit() or len(text) > 18:
        raise Refusal("unknown_shade", field)
    return int(text)


def _act(request: HttpRequest, visit_id: int, change: Change) -> HttpResponse:
    """Make a change and show the bench; a refusal shows it too, with its reason and what was typed."""
    opened = open_zone(signed_in(request), visit_id)
    # htmx sends the version on the screen as `seen`; a form sent without script has only its own.
    version = request.POST.get("seen", request.POST.get("version", ""))
    try:
        bowl = change(opened.zone.pk, int(version) if version.isascii() and version.isdigit() else -1)
    except Refusal as refusal:
        return _show(request, opened, refusal=refusal, status=409 if isinstance(refusal, Stale) else 422)
    if wants_fragment(request):
        return _show(request, opened, bowl=bowl)
    chosen = request.POST.get("shade", "")
    return redirect(reverse("bench:bench", args=[visit_id]) + (f"?shade={chosen}" if chosen.isdigit() else ""))


def _show(
    request: HttpRequest,
    opened: OpenZone,
    *,
    refusal: Refusal | None = None,
    bowl: Bowl | None = None,
    status: int = 200,
) -> HttpResponse:
    page = bench_page(
        signed_in(request),
        opened,
        sent=request.POST or request.GET,
        answers_wanted="answers" in request.GET,
        refusal=refusal,
        bowl=bowl,
    )
    # htmx asks for the whole Bench by naming it as the target; else a pour is sent in pieces.
    whole = request.headers.get("HX-Target") == "main"
    fragment = "bench/_bench.html" if whole else "bench/_changes.html"
    template = fragment if wants_fragment(request) else "bench/bench.html"
    return render(request, template, {"page": page}, status=page.status or status)
