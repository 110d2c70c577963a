"""Pour: the recipe one line at a time, by the scale or typed."""

from collections.abc import Callable
from decimal import Decimal
from functools import partial

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from studio.bench.services.changing import was_made
from studio.bench.services.open_bowl import open_bowls
from studio.bench.services.pour import typed_amount
from studio.pour.page import pour_page, scale_page
from studio.pour.selectors import tube_of
from studio.pour.services.mix import mix_batch, next_batch
from studio.pour.services.pan import put_on, set_fault, tare
from studio.pour.services.weigh import enough, keep_recipe, take_back, take_from_scale, weigh
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal, Stale
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand

Change = Callable[[int, int], object]


@require_GET
def pour(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Pour page of a zone's bowl; before the hair has been read, the way leads to Read."""
    opened, refusal = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    return _show(request, opened, refusal)


@require_GET
def scale(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What the scale shows, asked for again and again."""
    opened, _ = zone_in_hand(request, visit_id)
    page = scale_page(signed_in(request), opened, sent=request.GET, now=timezone.now())
    return render(request, "pour/_scale.html", {"page": page})


@require_POST
def weigh_line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Grams of one line, typed or as the scale has them; the scale is tared for the next."""
    form, person = request.POST, signed_in(request)

    def change(zone_id: int, version: int) -> None:
        shade_id, lot, token = _shade(form.get("line", "")), form.get("lot", ""), form.get("token", "")
        noted = partial(weigh, person, zone_id=zone_id, version=version, shade_id=shade_id, lot=lot, token=token)
        if "by_scale" in form:
            take_from_scale(person, noted, now=timezone.now())
            return
        amount = typed_amount(form.get("grams", ""), tube_g=tube_of(person, zone_id))
        noted(grams=Decimal(amount.grams), doubt_g=Decimal(amount.doubt_g))

    return _act(request, visit_id, change)


@require_POST
def line(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take a line's last note back, or call the line enough."""
    person = signed_in(request)

    def change(zone_id: int, version: int) -> None:
        shade_id = _shade(request.POST.get("line", ""))
        if "take_back" in request.POST:
            take_back(person, zone_id=zone_id, version=version, shade_id=shade_id)
        elif shade_id is not None:
            enough(person, zone_id=zone_id, version=version, shade_id=shade_id)

    return _act(request, visit_id, change)


@require_POST
def keep(request: HttpRequest, visit_id: int) -> HttpResponse:
    """After an over-pour: more of everything."""
    ids, weights = request.POST.getlist("shade_id"), request.POST.getlist("weight")

    def change(zone_id: int, version: int) -> None:
        pairs = zip(ids, weights, strict=False)
        grams = {whole_number(shade, "shade"): typed_number(weight, "grams") for shade, weight in pairs}
        factor = typed_number(request.POST.get("factor", ""), "factor")
        keep_recipe(signed_in(request), zone_id=zone_id, version=version, grams=grams, factor=factor)

    return _act(request, visit_id, change)


@require_POST
def mix(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The batch is mixed, or the next one begun."""
    token, person = request.POST.get("token", ""), signed_in(request)

    def change(zone_id: int, version: int) -> None:
        if "next" in request.POST:
            next_batch(person, zone_id=zone_id, version=version, token=token)
        else:
            mix_batch(person, zone_id=zone_id, version=version, at=timezone.now(), token=token)

    return _act(request, visit_id, change)


@require_POST
def pan(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The simulated scale: put something on, tare, or tell it what to do wrong."""
    form, person = request.POST, signed_in(request)

    def change(zone_id: int, version: int) -> None:
        if "fault" in form:
            set_fault(person, fault=form["fault"])
        elif "tare" in form:
            tare(person, now=timezone.now())
        else:
            put_on(person, grams=typed_number(form.get("put", ""), "grams"), now=timezone.now())

    return _act(request, visit_id, change)


def _shade(key: str) -> int | None:
    """A line's shade, None for developer."""
    return None if key == "developer" else whole_number(key, "shade")


def _act(request: HttpRequest, visit_id: int, change: Change) -> HttpResponse:
    opened, gone = zone_in_hand(request, visit_id)
    version = request.POST.get("version", "")
    try:
        if gone:
            raise gone
        change(opened.zone.pk, int(version) if version.isascii() and version.isdigit() else -1)
    except Refusal as refusal:
        token = request.POST.get("token", "")
        if not was_made(signed_in(request), visit_id, token):  # a double tap: the first one has done it
            return _show(request, opened, refusal)
    if wants_fragment(request):
        return _show(request, opened)
    return redirect(f"{reverse('pour:pour', args=[visit_id])}?zone={opened.zone.pk}")


def _show(request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None) -> HttpResponse:
    sent = request.POST or request.GET
    page = pour_page(signed_in(request), opened, sent=sent, now=timezone.now(), refusal=refusal)
    template = "pour/_pour.html" if wants_fragment(request) else "pour/pour.html"
    status = 200 if refusal is None else 409 if isinstance(refusal, Stale) else 422
    return render(request, template, {"page": page}, status=status)
