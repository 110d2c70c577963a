"""The route from today's hair to the aim."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from studio.bench.selectors import bench_of
from studio.bench.services.open_bowl import open_bowls
from studio.route.page import RoutePage, fill_page, planned_of, route_page, toner_page
from studio.route.services.choose import choose_route
from studio.ui.http import signed_in, wants_fragment
from studio.ui.refusal import Refusal
from studio.visits.acting import act_on
from studio.visits.gates import gates_of
from studio.visits.selectors import OpenZone
from studio.visits.services.consult import sign_gate
from studio.visits.views import zone_in_hand


@require_GET
def route(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The routes of a zone; before its hair has been read, the way leads to Read."""
    opened, refusal = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    return _show(request, opened, refusal)


@require_POST
def choose(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Settle on one of the routes that are shown."""

    def change(page: RoutePage) -> None:
        named = request.POST.get("route", "")
        shown = [each for each in (page.proposed, *page.others) if each and each.route.kind.value == named]
        if not shown:
            raise Refusal("no_target" if page.proposed is None else "route_unknown", "route")
        gates = gates_of(page.asked, planned_of(page.bench, shown[0].route.lift))
        choose_route(signed_in(request), zone_id=page.bench.zone.pk, kind=named, gates=gates)

    return _act(request, visit_id, change)


@require_POST
def sign(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Sign that a gate of the route is passed."""

    def change(page: RoutePage) -> None:
        seen = next((each for each in page.gates if each.gate.code == request.POST.get("gate", "")), None)
        if seen is None:
            raise Refusal("gate_gone")
        sign_gate(signed_in(request), visit_id=visit_id, seen=seen, reason=request.POST.get("reason", ""))

    return _act(request, visit_id, change)


@require_GET
def fill(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The fill, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    return render(request, "route/_fill.html", {"page": fill_page(bench_of(signed_in(request), opened))})


@require_GET
def toner(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Toner levels, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    page = route_page(signed_in(request), opened, sent={})
    in_force = page.in_force.route if page.in_force else None
    return render(request, "route/_toner.html", {"page": toner_page(signed_in(request), page.bench, in_force)})


def _act(request: HttpRequest, visit_id: int, change: Callable[[RoutePage], None]) -> HttpResponse:
    def on_page(opened: OpenZone) -> None:
        change(route_page(signed_in(request), opened, sent={}))

    return act_on(request, visit_id, on_page, show=_show, page="route:route")


def _show(request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None) -> HttpResponse:
    page = route_page(signed_in(request), opened, sent=request.GET, refusal=refusal)
    template = "route/_route.html" if wants_fragment(request) else "route/route.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)
