"""Pour: the recipe one line at a time, by the scale or typed."""

from decimal import Decimal
from functools import partial

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from studio.head.coats import bowl_coat
from studio.head.opening import show_on_bench
from studio.head.selectors import bench_of
from studio.head.services.pour import typed_amount
from studio.head.strands import bowl_tested
from studio.pour.models import Weighing
from studio.pour.page import pour_page
from studio.pour.selectors import batch_of, tube_of
from studio.pour.services.mix import mix_batch, next_batch
from studio.pour.services.weigh import (
    enough,
    keep_recipe,
    mixed_how,
    set_mixing,
    take_back,
    weigh,
)
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, weights_in, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Change, Sent, act_on
from studio.visits.gate_acts import act_at_gate
from studio.visits.gates import asked_of
from studio.visits.selectors import OpenZone


@require_safe
def pour(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Pour page of a zone's bowl; before the hair has been read, the way leads to Read."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def weigh_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Grams of one line, typed or as the scale at the tablet has weighed them."""

    def change(sent: Sent) -> None:
        noted = partial(
            weigh,
            sent.person,
            **sent.hand,
            shade_id=_shade(sent.text("line")),
            lot=sent.text("lot"),
            late_from=sent.tapped_at if sent.is_late else None,
        )
        if "by_scale" in sent.form:
            noted(grams=typed_number(sent.text("weighed"), "grams"), source=Weighing.Source.SCALE)
            return
        typed = sent.text("as_asked") or sent.text("grams")  # one press for just what the line asks for
        amount = typed_amount(typed, tube_g=tube_of(sent.person, sent.zone_id, sent.opened.coat_id))
        noted(grams=Decimal(amount.grams), doubt_g=Decimal(amount.doubt_g))

    return _act(request, visit_id, change)


@require_POST
def line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a line's last note back, or call the line enough."""

    def change(sent: Sent) -> None:
        shade_id = _shade(sent.text("line"))
        if "take_back" in sent.form:
            take_back(sent.person, **sent.hand, shade_id=shade_id, late=sent.is_late)
        elif shade_id is not None:
            enough(sent.person, **sent.hand, shade_id=shade_id, late=sent.is_late)

    return _act(request, visit_id, change)


@require_POST
def keep(request: HttpRequest, visit_id: int) -> HttpResponse:
    """After an over-pour: more of everything."""

    def change(sent: Sent) -> None:
        keep_recipe(
            sent.person,
            **sent.hand,
            grams=weights_in(sent.form.getlist("shade_id"), sent.form.getlist("weight")),
            factor=typed_number(sent.text("factor"), "factor"),
        )

    return _act(request, visit_id, change)


@require_POST
def mix(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The batch is mixed, or the next one begun."""

    def change(sent: Sent) -> None:
        if "next" in sent.form:
            next_batch(sent.person, **sent.hand)
        else:
            mix_batch(sent.person, **sent.hand, at=sent.tapped_at, late=sent.is_late)

    return _act(request, visit_id, change)


@require_POST
def mixing(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How the bowl is mixed: in metal, with another line's developer."""

    def change(sent: Sent) -> None:
        set_mixing(
            sent.person,
            **sent.hand,
            in_metal="in_metal" in sent.form,
            other_developer="other_developer" in sent.form,
        )

    return _act(request, visit_id, change)


@require_POST
def gate(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Sign a gate of the bowl, or record the strand test that it asks for."""

    def change(sent: Sent) -> None:
        bench = bench_of(sent.person, sent.opened)
        asked = asked_of(sent.person, sent.opened.visit)
        coat = bowl_coat(asked, bench, mixed_how(batch_of(sent.person, bench.bowl.pk)))
        act_at_gate(sent, asked, [coat], bowl_tested(bench, bench.bowl.pk))

    return _act(request, visit_id, change)


def _shade(key: str) -> int | None:
    """A line's shade, None for developer."""
    return None if key == "developer" else whole_number(key, "shade")


def _act(request: HttpRequest, visit_id: int, change: Change) -> HttpResponse:
    return act_on(request, visit_id, change, show=_show, page="pour:pour", same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    sent = request.POST or request.GET
    page = pour_page(signed_in(request), opened, sent=sent, now=timezone.now(), refusal=refusal)
    template = "pour/_pour.html" if wants_fragment(request) else "pour/pour.html"
    return render(request, template, {"page": page})
