"""The route from today's hair to the aim."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from studio.head.opening import show_on_bench
from studio.head.services.change_line import change_line
from studio.head.strands import bowl_tested
from studio.route.coats import ahead_of_colour, beneath_of, route_coats
from studio.route.lines import lines_shown
from studio.route.models import ChosenRoute
from studio.route.page import RoutePage, fill_page, route_page, toner_page
from studio.route.services.choose import choose_route
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on, zone_in_hand
from studio.visits.engine_adapter import canvas_of
from studio.visits.gate_acts import act_at_gate
from studio.visits.gates import check_many
from studio.visits.selectors import OpenZone


@require_safe
def route(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The routes of a zone; before its hair has been read, the way leads to Read."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def choose(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Settle on one of the routes that are shown."""

    def change(sent: Sent, page: RoutePage) -> None:
        named = sent.text("route")
        shown = [each for each in (page.proposed, *page.others) if each and each.route.kind.value == named]
        if page.hand.wrong and named == ChosenRoute.Kind.BY_HAND:
            raise page.hand.wrong
        if not shown:
            raise Refusal("no_target" if page.proposed is None else "route_unknown", "route")
        lift = shown[0].route.lift
        coats = route_coats(page.asked, page.bench, page.bench, lift, beneath_of(sent.person, page.bench))
        choose_route(
            sent.person,
            zone_id=page.bench.zone.pk,
            version=page.bench.worktop.version,
            kind=named,
            gates=check_many(page.asked, coats),
            ahead=ahead_of_colour(page.bench, shown[0].route),
        )

    return _act(request, visit_id, change)


@require_POST
def gate(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Sign a gate of the route, or record the strand test that it asks for."""

    def change(sent: Sent, page: RoutePage) -> None:
        beneath = beneath_of(sent.person, page.bench)
        coats = route_coats(page.asked, page.bench, page.bench, page.lift, beneath)
        act_at_gate(sent, page.asked, coats, bowl_tested(page.bench, page.bench.bowl.pk))

    return _act(request, visit_id, change)


@require_safe
def fill(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The fill, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    page = route_page(signed_in(request), opened, sent={})
    return render(request, "route/_fill.html", {"page": fill_page(page)})


@require_safe
def toner(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Toner levels, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    page = route_page(signed_in(request), opened, sent={})
    in_force = page.in_force.route if page.in_force else None
    return render(request, "route/_toner.html", {"page": toner_page(signed_in(request), page.bench, in_force)})


@require_safe
def lines(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The aim from each line of the shelf, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    person = signed_in(request)
    page = route_page(person, opened, sent={})
    canvas = page.in_force.route.canvas if page.in_force else canvas_of(page.bench.now)
    shown = lines_shown(person, page.bench, canvas)
    return render(request, "route/_lines.html", {"bench": page.bench, "lines": shown})


@require_POST
def take_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Work from another line: the bowl of the colour is emptied for it, and the routes are those of that line."""

    def change(sent: Sent) -> None:
        change_line(sent.person, **sent.hand, line_id=whole_number(sent.text("line"), "line"))

    return act_on(request, visit_id, change, show=_show, page="route:route", same_zones=True)


def _act(request: HttpRequest, visit_id: int, change: Callable[[Sent, RoutePage], None]) -> HttpResponse:
    def on_page(sent: Sent) -> None:
        change(sent, route_page(sent.person, sent.opened, sent=sent.form))

    return act_on(request, visit_id, on_page, show=_show, page="route:route", same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    sent = request.POST if request.method == "POST" else request.GET
    page = route_page(signed_in(request), opened, sent=sent, refusal=refusal)
    template = "route/_route.html" if wants_fragment(request) else "route/route.html"
    return render(request, template, {"page": page})
