"""The plan of a visit, and changing it."""

import datetime

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from studio.bench.services.open_bowl import open_bowls
from studio.route.plan_page import plan_page
from studio.route.services.edit_plan import forget_minutes, set_begin, set_first, set_minutes
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import act_on
from studio.visits.selectors import OpenZone, visits_before
from studio.visits.views import zone_in_hand


@require_GET
def plan(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The plan of the visit, from the routes of all its zones."""
    opened, _ = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    return _show(request, opened)


@require_POST
def begin(request: HttpRequest, visit_id: int) -> HttpResponse:
    """When the visit begins."""

    def change(_: OpenZone) -> None:
        set_begin(signed_in(request), visit_id=visit_id, begins_at=_time(request.POST.get("begins_at", "")))

    return act_on(request, visit_id, change, show=_show, page="route:plan")


@require_POST
def step(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A step's minutes, or which zone goes first."""
    form, person = request.POST, signed_in(request)

    def change(_: OpenZone) -> None:
        zone_id = whole_number(form.get("of_zone", ""), "zone")
        if "first" in form:
            set_first(person, zone_id=zone_id)
        elif "forget" in form:
            forget_minutes(person, zone_id=zone_id, kind=form.get("kind", ""))
        else:
            minutes = {name: typed_number(form.get(name, ""), name) for name in ("apply_min", "process_min")}
            set_minutes(person, zone_id=zone_id, kind=form.get("kind", ""), **minutes)

    return act_on(request, visit_id, change, show=_show, page="route:plan")


def _time(typed: str) -> datetime.time | None:
    """A time of day from a time field. Raises Refusal not_a_time."""
    if not typed.strip():
        return None
    try:
        return datetime.time.fromisoformat(typed.strip())
    except ValueError:
        raise Refusal("not_a_time", "begins_at") from None


def _show(request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None) -> HttpResponse:
    person = signed_in(request)
    page = plan_page(person, opened, visits_before=visits_before(person, opened.visit), refusal=refusal)
    template = "route/_plan.html" if wants_fragment(request) else "route/plan.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)
