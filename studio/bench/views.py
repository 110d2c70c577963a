"""The Bench: one page, swapped in place as grams go in."""

from collections.abc import Callable
from decimal import Decimal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from studio.bench.answers import lift_words
from studio.bench.models import Bowl, WorktopRows
from studio.bench.page import PANELS, bench_page
from studio.bench.plane import dots_at
from studio.bench.quick_fixes import quick_fixes_of
from studio.bench.selectors import bench_of
from studio.bench.services.aim import aim, want
from studio.bench.services.change_line import change_line
from studio.bench.services.changing import was_made
from studio.bench.services.open_bowl import open_bowls
from studio.bench.services.pour import pour
from studio.bench.services.take_recipe import add_to_bowl, mark_mixed, scale_bowl, take_recipe
from studio.bench.services.undo import redo, undo
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal, Stale
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand

Change = Callable[[int, int], object]


@require_GET
def bench(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Bench of a visit; before the hair has been read, the way leads to Read."""
    opened, refusal = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect("visits:read", visit_id)
    open_bowls(signed_in(request), opened)
    return show_bench(request, opened, refusal=refusal, status=409 if refusal else 200)


@require_POST
def pour_shade(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One shade's amount, typed or by a step; or a tap on the wheel, which names both."""
    form = request.POST
    tapped, _, step = form.get("tap", "").partition(":")

    def change(zone_id: int, version: int) -> Bowl:
        by = step or form.get("by", "")
        return pour(
            signed_in(request),
            zone_id=zone_id,
            version=version,
            shade_id=whole_number(tapped or form.get("shade", ""), "shade"),
            typed=None if by else form.get("grams", ""),
            by=typed_number(by, "grams", example="2.5") if by else None,
            token=form.get("token", ""),
        )

    return act(request, visit_id, change)


@require_POST
def set_aim(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The colour aimed at, tapped or typed."""

    def change(zone_id: int, version: int) -> Bowl:
        parts = {name: typed_number(request.POST.get(name, ""), name) for name in ("lightness", "chroma", "hue")}
        nearest = bool(request.POST.get("tapped"))
        return aim(signed_in(request), zone_id=zone_id, version=version, nearest=nearest, **parts)

    return act(request, visit_id, change)


@require_POST
def set_wanted(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How much is wanted."""

    def change(zone_id: int, version: int) -> Bowl:
        total_g = typed_number(request.POST.get("total_grams", ""), "total_grams", example="60")
        return want(signed_in(request), zone_id=zone_id, version=version, total_g=total_g)

    return act(request, visit_id, change)


@require_POST
def take_answer(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One of the recipes that were offered."""

    def change(zone_id: int, version: int) -> Bowl:
        line = request.POST.get("of_line", "")
        return take_recipe(
            signed_in(request),
            zone_id=zone_id,
            version=version,
            grams=_weights(request),
            line_id=whole_number(line, "line") if line else None,
        )

    return act(request, visit_id, change)


@require_POST
def add(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Additions to the bowl, or to the part of it that is kept."""

    def change(zone_id: int, version: int) -> Bowl:
        keep = typed_number(request.POST.get("keep", "1"), "keep", example="0.5")
        return add_to_bowl(
            signed_in(request),
            zone_id=zone_id,
            version=version,
            additions=_weights(request),
            keep=keep,
            token=request.POST.get("token", ""),
        )

    return act(request, visit_id, change)


@require_POST
def mix(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Say that the bowl is mixed, or not after all; or scale it to what is wanted."""
    person, way = signed_in(request), request.POST.get("way", "")

    def change(zone_id: int, version: int) -> Bowl:
        if way == "scale":
            return scale_bowl(person, zone_id=zone_id, version=version)
        return mark_mixed(person, zone_id=zone_id, version=version, mixed=way == "mixed")

    return act(request, visit_id, change)


@require_POST
def set_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The line to mix from."""

    def change(zone_id: int, version: int) -> Bowl:
        line_id = whole_number(request.POST.get("line", ""), "line")
        return change_line(signed_in(request), zone_id=zone_id, version=version, line_id=line_id)

    return act(request, visit_id, change)


@require_POST
def walk(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Undo or redo."""
    step = redo if request.POST.get("way") == "redo" else undo

    def change(zone_id: int, version: int) -> Bowl:
        return step(signed_in(request), zone_id=zone_id, version=version)

    return act(request, visit_id, change, zones_change=True)


@require_GET
def fixes(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The quick corrections, asked for when the hand rests after a pour."""
    opened, _ = zone_in_hand(request, visit_id)
    page = quick_fixes_of(bench_of(signed_in(request), opened))
    return render(request, "bench/_fixes.html", {"page": page})


@require_GET
def needs(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What it would take to reach the aim, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    bench_now = bench_of(signed_in(request), opened)
    return render(request, "bench/_needs.html", {"needs": lift_words(bench_now)})


@require_GET
@cache_control(private=True, max_age=86_400, immutable=True)
def plane_dots(request: HttpRequest, depth: int) -> HttpResponse:
    """The plane's colours at one depth, as a picture that the browser keeps."""
    return render(request, "bench/plane.svg", {"dots": dots_at(min(max(depth, 0), 100))}, content_type="image/svg+xml")


def _weights(request: HttpRequest) -> dict[int, Decimal]:
    """Grams by shade id from a form's pairs."""
    pairs = zip(request.POST.getlist("shade_id"), request.POST.getlist("weight"), strict=False)
    return {whole_number(shade_id, "shade"): typed_number(weight, "grams") for shade_id, weight in pairs}


def act(
    request: HttpRequest, visit_id: int, change: Change, *, panel: str = "", zones_change: bool = False
) -> HttpResponse:
    """Make a change and show the bench; a refusal shows it too, with its reason and what was typed.

    panel: what lies over the middle afterwards. zones_change: whether zones may have come or gone by it.
    """
    opened, gone = zone_in_hand(request, visit_id)
    if gone:
        return show_bench(request, opened, refusal=gone, status=409)
    # htmx sends the version on the screen as `seen`; a form sent without script has only its own.
    version = request.POST.get("seen", request.POST.get("version", ""))
    rows = None
    try:
        changed = change(opened.zone.pk, int(version) if version.isascii() and version.isdigit() else -1)
        rows = changed.worktop.standing if isinstance(changed, Bowl) else None
    except Refusal as refusal:
        repeated = isinstance(refusal, Stale) and was_made(signed_in(request), visit_id, request.POST.get("token", ""))
        if not repeated:
            status = 409 if isinstance(refusal, Stale) else 422
            return show_bench(request, opened, refusal=refusal, status=status, panel=panel)
    if wants_fragment(request):
        if zones_change:
            opened, _ = zone_in_hand(request, visit_id)
        return show_bench(request, opened, panel=panel, rows=rows)
    chosen = {name: request.POST.get(name, "") for name in ("zone", "shade", "light", "washes", "mode")}
    query = "&".join(f"{name}={given}" for name, given in chosen.items() if given.isascii() and given.isalnum())
    return redirect(reverse("bench:bench", args=[visit_id]) + (f"?{query}" if query else ""))


def show_bench(
    request: HttpRequest,
    opened: OpenZone,
    *,
    refusal: Refusal | None = None,
    status: int = 200,
    panel: str = "",
    rows: WorktopRows | None = None,
) -> HttpResponse:
    """The Bench as a page, whole for htmx, or in pieces after a pour. rows: if a change has just read them."""
    asked = next((name for name in PANELS if name in request.GET), panel)
    sent = request.POST or request.GET
    # htmx asks for the whole Bench by naming it as the target; else a pour is sent in pieces.
    whole = request.headers.get("HX-Target") == "main"
    pieces = wants_fragment(request) and not whole
    page = bench_page(
        signed_in(request), opened, sent=sent, panel=asked, refusal=refusal, fixes_later=pieces, rows=rows
    )
    fragment = "bench/_bench.html" if whole else "bench/_changes.html"
    template = fragment if wants_fragment(request) else "bench/bench.html"
    return render(request, template, {"page": page}, status=page.status or status)
