"""The plan of a visit, and changing it."""

import datetime

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from studio.head.opening import show_on_bench
from studio.head.services.aim import want
from studio.head.services.coat_times import AS_RECKONED, CoatTimes, time_coat, work_zone
from studio.head.services.take_recipe import scale_bowl
from studio.route.plan_page import plan_page
from studio.route.selectors import begin_of
from studio.route.services.agree import agree
from studio.route.services.edit_plan import set_begin, set_hands, set_turns
from studio.route.times import minutes_into
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, typed_time, typed_weight, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import InHand, Sent, act_on
from studio.visits.selectors import OpenZone, visits_before


@require_safe
def plan(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The plan of the visit, from the routes of all its zones."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def begin(request: HttpRequest, visit_id: int) -> HttpResponse:
    """When the visit begins."""

    def change(sent: Sent) -> None:
        set_begin(sent.person, visit_id=visit_id, begins_at=typed_time(sent.text("begins_at"), "begins_at"))

    return act_on(request, visit_id, change, show=_show, page="route:plan", same_zones=True)


@require_POST
def step(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A coat's minutes; or into how many sections its zone is parted, whether that is rinsed apart, and its turn."""

    def change(sent: Sent) -> None:
        zone_id = sent.zone_named("of_zone")
        if "turns" in sent.form:
            rows = [whole_number(row, "turns") for row in sent.text("turns").split(",") if row]
            set_turns(sent.person, visit_id=visit_id, zone_ids=rows)
        elif "sections" in sent.form:
            count = typed_number(sent.text("sections"), "sections")
            work_zone(sent.person, zone_id=zone_id, version=sent.version, sections=count)
        elif "rinsed_apart" in sent.form:
            is_apart = sent.text("rinsed_apart") == "1"
            work_zone(sent.person, zone_id=zone_id, version=sent.version, rinsed_apart=is_apart)
        else:
            hand = InHand(zone_id=zone_id, coat_id=whole_number(sent.text("of_coat"), "coat"), version=sent.version)
            time_coat(sent.person, **hand, times=_times(sent, begin_of(sent.person, visit_id)))

    return act_on(request, visit_id, change, show=_show, page="route:plan")


def _times(sent: Sent, begins_at: datetime.time | None) -> CoatTimes:
    """The times of a coat as they were typed; a time of day counts from when the visit begins."""
    if "forget" in sent.form:
        return AS_RECKONED
    own = {name: typed_number(text, name) for name in ("minutes", "apply_min") if (text := sent.text(name).strip())}
    row = sent.text("joins")
    if row and "apply_min" not in own and (seen := sent.text("reckoned_apply_min")):
        own["apply_min"] = typed_number(seen, "apply_min")  # when it is called for hangs on it: as it was shown
    return CoatTimes(
        **own,
        not_before_min=minutes_into(sent.text("not_before").strip(), begins_at, "not_before"),
        joins=whole_number(row, "joins") if row else None,
    )


@require_POST
def hands(request: HttpRequest, visit_id: int) -> HttpResponse:
    """How many pairs of hands there are, or let the plan find the order of the zones again."""

    def change(sent: Sent) -> None:
        if "turns" in sent.form:
            set_turns(sent.person, visit_id=visit_id, zone_ids=())
            return
        set_hands(sent.person, visit_id=visit_id, hands=typed_number(sent.text("hands"), "hands", example="2"))

    return act_on(request, visit_id, change, show=_show, page="route:plan", same_zones=True)


@require_POST
def agree_to(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The client agrees to the work as it is planned now, at a price."""

    def change(sent: Sent) -> None:
        typed = sent.text("price").strip()
        price = typed_number(typed, "price", example="85") if typed else None
        agree(sent.person, zone_id=sent.zone_id, version=sent.version, price=price)

    return act_on(request, visit_id, change, show=_show, page="route:plan", same_zones=True)


@require_POST
def fill_bowl(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Set a bowl to what its hair needs: what is wanted of it, and its recipe with it."""

    def change(sent: Sent) -> None:
        grams = typed_weight(sent.text("total_grams"), "total_grams")
        bowl = want(sent.person, **sent.hand, total_g=grams)
        if bowl.pours.exists():
            hand = InHand(zone_id=sent.zone_id, coat_id=sent.opened.coat_id, version=bowl.worktop.version)
            scale_bowl(sent.person, **hand)

    return act_on(request, visit_id, change, show=_show, page="route:plan", same_zones=True)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    person = signed_in(request)
    typed = request.POST.get("price", "") if refusal else ""
    before = visits_before(person, opened.visit)
    page = plan_page(person, opened, visits_before=before, refusal=refusal, price=typed)
    template = "route/_plan.html" if wants_fragment(request) else "route/plan.html"
    return render(request, template, {"page": page})
