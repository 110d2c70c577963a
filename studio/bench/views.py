"""The Bench: one page, swapped in place as grams go in."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_POST, require_safe

from engine.bowl.cautions import Severity
from studio.bench.answers import lift_words
from studio.bench.covered import covered, guess_on
from studio.bench.page import bench_page
from studio.bench.panels import PANELS
from studio.bench.plane import dots_at
from studio.bench.quick_fixes import quick_fixes_of
from studio.head.coats import bowl_coat
from studio.head.models import Bowl, WorktopRows
from studio.head.opening import show_on_bench
from studio.head.selectors import bench_of
from studio.head.services.aim import aim, clear_aim, want
from studio.head.services.change_line import change_line
from studio.head.services.pour import Poured, pour
from studio.head.services.pre_tone import take_with_pre_tone
from studio.head.services.take_recipe import add_to_bowl, mark_mixed, scale_bowl, take_recipe
from studio.head.services.undo import redo, undo
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, typed_weight, weights_in, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Change, Sent, act_on, zone_in_hand
from studio.visits.gates import asked_of, check
from studio.visits.selectors import Hand, OpenZone

CARRIED = ("shade", "light", "washes", "mode")  # what a redirect without script takes along


@require_safe
def bench(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Bench of a visit; before the hair has been read, the way leads to Read."""
    return show_on_bench(request, visit_id, show_bench)


@require_POST
def pour_shade(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One shade's amount, typed or by a step; or a tap on the wheel, which names both."""

    def change(sent: Sent) -> Poured:
        tapped, _, step = sent.text("tap").partition(":")
        by = step or sent.text("by")
        return pour(
            sent.person,
            **sent.hand,
            shade_id=whole_number(tapped or sent.text("shade"), "shade"),
            typed=None if by else sent.text("grams"),
            by=typed_weight(by, "grams", example="2.5") if by else None,
        )

    return act(request, visit_id, change)


@require_POST
def set_aim(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The colour aimed at, tapped or typed; or no aim any more."""

    def change(sent: Sent) -> Bowl:
        if "clear" in sent.form:
            return clear_aim(sent.person, **sent.hand)
        parts = {name: typed_number(sent.text(name), name) for name in ("lightness", "chroma", "hue")}
        nearest, everywhere = bool(sent.text("tapped")), bool(sent.text("everywhere"))
        return aim(sent.person, **sent.hand, nearest=nearest, everywhere=everywhere, **parts)

    return act(request, visit_id, change)


@require_POST
def set_guess(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What is expected of the bowl while its forecast is covered; or that forecast, held against it."""
    carried = CARRIED if "show" not in request.POST else tuple(name for name in CARRIED if name != "mode")
    return act(request, visit_id, guess_on, carried=carried)


@require_POST
def set_wanted(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How much is wanted."""

    def change(sent: Sent) -> Bowl:
        total_g = typed_weight(sent.text("total_grams"), "total_grams")
        return want(sent.person, **sent.hand, total_g=total_g)

    return act(request, visit_id, change)


@require_POST
def take_answer(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One of the recipes that were offered, with the toner that goes on before it, if it has one."""

    def change(sent: Sent) -> Bowl | Hand:
        line = sent.text("of_line")
        if toner := weights_in(sent.form.getlist("toner_id"), sent.form.getlist("toner_weight")):
            grams = weights_in(sent.form.getlist("shade_id"), sent.form.getlist("weight"))
            return take_with_pre_tone(sent.person, **sent.hand, grams=grams, toner=toner)
        return take_recipe(
            sent.person,
            **sent.hand,
            grams=weights_in(sent.form.getlist("shade_id"), sent.form.getlist("weight")),
            line_id=whole_number(line, "line") if line else None,
        )

    return act(request, visit_id, change)


@require_POST
def add(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Additions to the bowl, or to the part of it that is kept."""

    def change(sent: Sent) -> Bowl:
        return add_to_bowl(
            sent.person,
            **sent.hand,
            additions=weights_in(sent.form.getlist("shade_id"), sent.form.getlist("weight")),
            keep=typed_number(sent.text("keep") or "1", "keep", example="0.5"),
        )

    return act(request, visit_id, change)


@require_POST
def mix(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Say that the bowl is mixed, or not after all; or scale it to what is wanted."""

    def change(sent: Sent) -> Bowl:
        way = sent.text("way")
        if way == "scale":
            return scale_bowl(sent.person, **sent.hand)
        return mark_mixed(sent.person, **sent.hand, mixed=way == "mixed")

    return act(request, visit_id, change)


@require_POST
def set_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The line to mix from."""

    def change(sent: Sent) -> Bowl:
        line_id = whole_number(sent.text("line"), "line")
        return change_line(sent.person, **sent.hand, line_id=line_id)

    return act(request, visit_id, change)


@require_POST
def walk(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Undo or redo."""

    def change(sent: Sent) -> Bowl:
        step = redo if sent.text("way") == "redo" else undo
        return step(sent.person, **sent.hand)

    return act(request, visit_id, change, zones_change=True)


@require_safe
def fixes(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The quick corrections, asked for when the hand rests after a pour."""
    opened, _ = zone_in_hand(request, visit_id)
    page = quick_fixes_of(bench_of(signed_in(request), opened))
    return render(request, "bench/_fixes.html", {"page": page})


@require_safe
def needs(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What it would take to reach the aim, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    bench_now = bench_of(signed_in(request), opened)
    return render(request, "bench/_needs.html", {"needs": lift_words(bench_now)})


@require_safe
def gates(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The gates of the bowl in hand, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    bench_now = bench_of(signed_in(request), opened)
    asked = asked_of(signed_in(request), opened.visit)
    found = check(asked, bowl_coat(asked, bench_now))
    told = [seen for seen in found if seen.gate.severity is not Severity.NOTE and not seen.signature]
    stop = next((seen for seen in told if seen.is_shut), None)
    next_too = (bench_now.pours or bench_now.coat.lifts) and request.GET.get("mode") != "guess"
    told_of = {"gates": told, "stop": stop, "bench": bench_now, "next_too": next_too}
    return render(request, "bench/_gates.html", told_of)


@require_safe
@cache_control(private=True, max_age=86_400, immutable=True)
def plane_dots(request: HttpRequest, depth: int) -> HttpResponse:
    """The plane's colours at one depth, as a picture that the browser keeps."""
    return render(request, "bench/plane.svg", {"dots": dots_at(min(max(depth, 0), 100))}, content_type="image/svg+xml")


def act(
    request: HttpRequest,
    visit_id: int,
    change: Change,
    *,
    panel: str = "",
    zones_change: bool = False,
    carried: tuple[str, ...] = CARRIED,
) -> HttpResponse:
    """Make a change and show the Bench. panel: what lies over the middle afterwards. zones_change: by it zones may come
    or go. carried: what of the way it is looked at stays.
    """

    def show(
        request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        rows = made.rows if isinstance(made, Poured) else None
        return show_bench(request, opened, refusal, panel=panel, rows=rows)

    return act_on(request, visit_id, change, show=show, page="bench:bench", keep=carried, same_zones=not zones_change)


def show_bench(
    request: HttpRequest,
    opened: OpenZone,
    refusal: Refusal | None = None,
    *,
    made: object = None,
    panel: str = "",
    rows: WorktopRows | None = None,
) -> HttpResponse:
    """The Bench as a page, whole for htmx, or in pieces after a pour. rows: if a change has just read them."""
    asked = next((name for name in PANELS if name in request.GET), panel)
    sent = (request.POST or request.GET).dict()
    if "show" in sent and refusal is None:
        sent["mode"] = ""  # the forecast was asked for: it is covered no more
    # htmx asks for the whole Bench by naming it as the target; else a pour is sent in pieces.
    whole = request.headers.get("HX-Target") == "main"
    pieces = wants_fragment(request) and not whole
    page = bench_page(
        signed_in(request),
        opened,
        sent=sent,
        panel=asked,
        refusal=refusal,
        fixes_later=pieces,
        rows=rows,
        by_list=request.COOKIES.get("steer") == "list",
    )
    page = covered(page) if page.mode == "guess" else page
    fragment = "bench/_bench.html" if whole else "bench/_changes.html"
    template = fragment if wants_fragment(request) else "bench/bench.html"
    return render(request, template, {"page": page}, status=page.status)
