"""What the client takes home, corrections, and the hand-out."""

from decimal import Decimal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from studio.cards.services.home_care import keep_home_care, take_home, weigh_back
from studio.head.opening import show_on_bench
from studio.head.selectors import bench_of
from studio.head.services.begin_coat import begin_coat
from studio.result.care_page import care_page
from studio.result.correct_page import COLOURS_ONLY, correct_page
from studio.route.planned import usual_need_of_bowl
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.numbers import typed_day, typed_number, typed_weight, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on, zone_in_hand
from studio.visits.engine_adapter import hair_fields, laid_by
from studio.visits.gates import asked_of
from studio.visits.selectors import Hand, OpenZone
from studio.visits.services.consult import note_integrity


@page_and_change
def care(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Habits, the mask for home, the next visit; every change is kept at once."""
    if request.method != "POST":
        return show_on_bench(request, visit_id, _show)
    return act_on(request, visit_id, _keep, show=_show, page="result:care", same_zones=True)


def _keep(sent: Sent) -> None:
    keep_home_care(
        sent.person,
        visit_id=sent.visit_id,
        washes_a_week=typed_number(sent.text("washes_a_week"), "washes_a_week", example="3"),
        hot_water=bool(sent.text("hot_water")),
        pool=bool(sent.text("pool")),
        sun=bool(sent.text("sun")),
        weekly_mask=bool(sent.text("weekly_mask")),
        given=sent.text("given"),
        next_on=typed_day(sent.text("next_on"), "next_on"),
    )


@require_POST
def leftover(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What is left of a bowl is weighed back, goes home, or does not after all."""

    def change(sent: Sent) -> None:
        bowl_id = whole_number(sent.text("bowl"), "bowl")
        if "weigh" in sent.form:
            left_g = typed_weight(sent.text("left_g"), "left_g", example="12")
            bench, asked = bench_of(sent.person, sent.opened), asked_of(sent.person, sent.opened.visit)
            needed_g = Decimal(usual_need_of_bowl(bench, asked, bowl_id))
            weigh_back(sent.person, visit_id=visit_id, bowl_id=bowl_id, left_g=left_g, needed_g=needed_g)
            return
        take_home(sent.person, visit_id=visit_id, bowl_id=bowl_id, goes="goes" in sent.form)

    return act_on(request, visit_id, change, show=_show, page="result:care", same_zones=True)


@require_safe
def mask(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The mask for home, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    return render(request, "result/_mask.html", {"page": care_page(signed_in(request), opened)})


@require_safe
def handout(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The hand-out, to print or to read on the client's own screen."""
    return show_on_bench(request, visit_id, _show_handout)


@require_safe
def correct(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ways to put a head right."""
    return show_on_bench(request, visit_id, _show_correct)


@require_POST
def integrity(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How a wet strand took being stretched, before anything that costs the hair."""

    def change(sent: Sent) -> None:
        found = sent.text("integrity")
        if found not in ("held", "stretch", "curl"):
            raise Refusal("integrity_unknown", "integrity")
        note_integrity(sent.person, visit_id=visit_id, stretch_held=found != "stretch", curl_held=found != "curl")

    return act_on(request, visit_id, change, show=_show_correct, page="result:correct", same_zones=True)


@require_POST
def aim_at(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take one way of a correction: its colour with its grams to the Bench, on the hair as that way leaves it; one that
    needs more than colour to the Route, with the aim.
    """

    def change(sent: Sent) -> Hand:
        page = correct_page(sent.person, sent.opened, named=sent.text("trouble"))
        way = next((each for each in page.ways if each.remedy.way.value == sent.text("way")), None)
        if way is None:
            raise Refusal("way_gone", "way")
        colours = way.colours_only
        canvas = way.remedy.canvas if colours else page.canvas
        return begin_coat(
            sent.person,
            zone_id=sent.zone_id,
            coat_id=page.bench.coat.pk,
            version=page.bench.worktop.version,
            hair=hair_fields(canvas, page.bench.reading) | {"laid": laid_by(canvas, page.bench.reading)},
            target_lab=page.wanted.lab,
            grams=dict(way.grams) if colours else None,
            washed=colours and way.remedy.washes > 0,
        )

    leads = "bench:bench" if request.POST.get("way") in COLOURS_ONLY else "route:route"
    return act_on(request, visit_id, change, show=_show_correct, page=leads, goes=True, same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    page = care_page(signed_in(request), opened, refusal)
    template = "result/_care.html" if wants_fragment(request) else "result/care.html"
    return render(request, template, {"page": page})


def _show_handout(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    return render(request, "result/handout.html", {"page": care_page(signed_in(request), opened, refusal)})


def _show_correct(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    sent = request.POST or request.GET
    page = correct_page(signed_in(request), opened, named=sent.get("trouble", ""), refusal=refusal)
    template = "result/_correct.html" if wants_fragment(request) else "result/correct.html"
    return render(request, template, {"page": page})
