"""What the client takes home, corrections, and the hand-out."""

import datetime

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from studio.bench.selectors import bench_of
from studio.bench.services.aim import aim
from studio.bench.services.open_bowl import open_bowls
from studio.cards.services.home_care import keep_home_care
from studio.result.care_page import care_page
from studio.result.correct_page import correct_page
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand


@require_http_methods(["GET", "POST"])
def care(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Habits, the mask for home, the next visit; every change is kept at once."""
    opened, refusal = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    if request.method == "POST" and not refusal:
        try:
            _keep(request, opened)
        except Refusal as refused:
            refusal = refused
        if not refusal and not wants_fragment(request):
            return redirect(f"{reverse('result:care', args=[visit_id])}?zone={opened.zone.pk}")
    page = care_page(signed_in(request), opened, refusal)
    template = "result/_care.html" if wants_fragment(request) else "result/care.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)


def _keep(request: HttpRequest, opened: OpenZone) -> None:
    form = request.POST
    keep_home_care(
        signed_in(request),
        visit_id=opened.visit.pk,
        washes_a_week=typed_number(form.get("washes_a_week", ""), "washes_a_week", example="3"),
        hot_water=bool(form.get("hot_water")),
        pool=bool(form.get("pool")),
        sun=bool(form.get("sun")),
        given=form.get("given", ""),
        next_on=_day(form.get("next_on", "")),
    )


def _day(typed: str) -> datetime.date | None:
    """A day from a date field. Raises Refusal not_a_day."""
    if not typed.strip():
        return None
    try:
        return datetime.date.fromisoformat(typed.strip())
    except ValueError:
        raise Refusal("not_a_day", "next_on") from None


@require_GET
def handout(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The hand-out, to print or to read on the client's own screen."""
    opened, _ = zone_in_hand(request, visit_id)
    return render(request, "result/handout.html", {"page": care_page(signed_in(request), opened)})


@require_GET
def correct(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ways to put a head right."""
    opened, _ = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    page = correct_page(signed_in(request), opened, named=request.GET.get("trouble", ""))
    return render(request, "result/correct.html", {"page": page})


@require_POST
def aim_at(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Take what a correction aims at to the Bench."""
    opened, _ = zone_in_hand(request, visit_id)
    person = signed_in(request)
    page = correct_page(person, opened, named=request.POST.get("trouble", ""))
    parts = {"lightness": page.wanted.lightness, "chroma": page.wanted.chroma, "hue": page.wanted.hue_deg}
    numbers = {name: typed_number(f"{part:.2f}", name) for name, part in parts.items()}
    version = bench_of(person, opened).worktop.version
    aim(person, zone_id=opened.zone.pk, version=version, nearest=True, **numbers)
    return redirect(f"{reverse('bench:bench', args=[visit_id])}?zone={opened.zone.pk}")
