"""The Clock page: start at application, answer its calls, rinse."""

import datetime
from collections.abc import Mapping

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.service.timing import ClockKind
from studio.clocks.coats import Start, coat_for, head_of, start_coat
from studio.clocks.models import ZoneClock
from studio.clocks.page import clock_page
from studio.clocks.services.note import it_stings, note_check, set_moment, take_rinse_back
from studio.clocks.services.run import (
    answer_call,
    begin_section,
    check_start,
    forget_start,
    give_time,
    rinse,
    rinse_all,
    rinse_section,
    start_all,
    start_clock,
)
from studio.head.strands import bowl_tested
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, typed_time, whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Change, Sent, act_on, show_page, zone_in_hand
from studio.visits.gate_acts import act_at_gate
from studio.visits.gates import asked_of
from studio.visits.selectors import OpenZone

# What a start form holds.
STARTED = (
    *("kind", "minutes", "lift_min", "batches", "damp", "heat"),
    *("vol", "to_level", "in_metal", "guard_asked", "guarded"),
)


@require_safe
def clock(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The clocks of a visit; the page asks for them again by itself."""
    return show_page(request, visit_id, _show)


@require_POST
def start(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Start a zone's clock, or those of all zones that are due for one kind of work."""

    def change(sent: Sent) -> None:
        if all_of := sent.text("all"):
            start_all(sent.person, visit_id=visit_id, kind=all_of, now=sent.tapped_at)
        else:
            start_clock(sent.person, zone_id=sent.zone_id, start=started(sent.form), now=sent.tapped_at)

    return _act(request, visit_id, change)


@require_safe
def gates(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The gates of what a start form would put on, asked for while it is filled in."""
    opened, _ = zone_in_hand(request, visit_id)
    person = signed_in(request)
    try:
        tried, ticked_for = started(request.GET), request.GET.get("ticked_for", "")
    except Refusal as refusal:
        return render(request, "clocks/_gates.html", {"refused": refusal_words(refusal)})
    page = clock_page(person, opened, now=timezone.now(), tried=tried, ticked_for=ticked_for)
    timed = next(each for each in page.zones if each.zone.pk == opened.zone.pk)
    return render(request, "clocks/_gates.html", {"page": page, "timed": timed, "is_told": True})


@require_POST
def act(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Answer a running clock, note what was seen, give it time, rinse all or a section, or take its start back."""

    def change(sent: Sent) -> None:
        form, person, now = sent.form, sent.person, sent.tapped_at
        if "rinse_all" in form:
            rinse_all(person, visit_id=visit_id, now=now)
            return
        clock_id = clock_in(sent)
        if "stings" in form:
            it_stings(person, clock_id=clock_id, now=now)
        elif "seen" in form:
            is_going = sent.text("seen") == "going"
            depth = "" if is_going else sent.text("seen")
            note_check(person, clock_id=clock_id, depth=depth, is_going=is_going, now=now)
        elif "answer" in form:
            answer_call(person, clock_id=clock_id, to_min=typed_number(sent.text("answer"), "minutes"))
        elif "more" in form:
            give_time(person, clock_id=clock_id, minutes=typed_number(sent.text("more"), "minutes"))
        elif "section_on" in form:
            begin_section(person, clock_id=clock_id, now=now)
        elif "section_off" in form:
            rinse_section(person, clock_id=clock_id)
        elif "forget" in form:
            forget_start(person, clock_id=clock_id)
        else:
            rinse(person, clock_id=clock_id, now=now)

    return _act(request, visit_id, change)


@require_POST
def correct(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Set a moment right that was noted wrongly: not rinsed yet, or put on or rinsed at another time."""

    def change(sent: Sent) -> None:
        clock_id = clock_in(sent)
        if "not_rinsed" in sent.form:
            take_rinse_back(sent.person, clock_id=clock_id)
            return
        typed = typed_time(sent.text("at"), "at")
        if typed is None:
            raise Refusal("not_a_time", "at")
        now = timezone.now()
        at = newest_moment(typed, now)
        set_moment(sent.person, clock_id=clock_id, moment=sent.text("moment"), at=at, now=now)

    return _act(request, visit_id, change)


@require_POST
def gate(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Sign a gate of what is about to be put on, or record the strand test that it asks for."""

    def change(sent: Sent) -> None:
        asked, head = asked_of(sent.person, sent.opened.visit), head_of(sent.person, sent.opened)
        start, zone = started(sent.form), sent.opened.zone
        served = coat_for(head, zone, start.kind)
        mixed = bowl_tested(head.bench, served.bowl.pk if served else None)
        act_at_gate(sent, asked, [start_coat(asked, head, zone, start)], mixed)

    return _act(request, visit_id, change, keep=STARTED)


def started(form: Mapping[str, str]) -> Start:
    """What a form puts on a zone.

    Raises Refusal clock_kind_unknown, not_a_number, out_of_range.
    """
    kind = form.get("kind", "")
    if kind not in ZoneClock.Kind.values:
        raise Refusal("clock_kind_unknown")
    shown = form.get("lift_min") if kind == ZoneClock.Kind.LIGHTENER else None  # what was due when the form was made
    minutes = form.get("minutes") or shown
    vol, to_level = form.get("vol", ""), form.get("to_level", "")
    start = Start(
        kind=ClockKind(kind),
        planned_min=typed_number(minutes, "minutes", example="25") if minutes else None,
        batches=whole_number(form.get("batches") or "1", "batches"),
        damp=bool(form.get("damp")),
        heat=bool(form.get("heat")),
        vol=typed_number(vol, "vol", example="20") if vol else None,
        to_level=typed_number(to_level, "to_level", example="9") if to_level else None,
        in_metal=bool(form.get("in_metal")),
        unguarded="guard_asked" in form and not form.get("guarded"),
    )
    check_start(start)
    return start


def clock_in(sent: Sent) -> int:
    """The clock that a form names, one of this visit's own. Raises Refusal not_a_number; ZoneClock.DoesNotExist."""
    clock_id = whole_number(sent.text("clock"), "clock")
    return ZoneClock.objects.visible_to(sent.person).get(pk=clock_id, zone__visit=sent.visit_id).pk


def newest_moment(typed: datetime.time, now: datetime.datetime) -> datetime.datetime:
    """The newest moment at that time of day, in the studio's time: today, or yesterday for a visit past midnight."""
    local = timezone.localtime(now)
    at = timezone.make_aware(datetime.datetime.combine(local.date(), typed))
    return at if at <= now else at - datetime.timedelta(days=1)


def _act(request: HttpRequest, visit_id: int, change: Change, *, keep: tuple[str, ...] = ()) -> HttpResponse:
    return act_on(request, visit_id, change, show=_show, page="clocks:clock", same_zones=True, keep=keep)


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    person = signed_in(request)
    page = clock_page(person, opened, now=timezone.now(), refusal=refusal, tried=_tried(request))
    template = "clocks/_clock.html" if wants_fragment(request) else "clocks/clock.html"
    return render(request, template, {"page": page})


def _tried(request: HttpRequest) -> Start | None:
    """The start that a form has tried, so that its gates are shown with it; once one is signed, the address has it."""
    form = request.POST or request.GET
    try:
        return started(form) if "kind" in form else None
    except Refusal:
        return None
