"""The Result page: judge each zone, mend spots, note what to change, keep it on the card."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from engine.arrays import FloatArray
from studio.bench.models import Photo
from studio.bench.photo_taps import picking_of, taken_or_picked
from studio.bench.selectors import bench_of, photo_of
from studio.bench.services.open_bowl import open_bowls
from studio.cards.models import ZoneResult
from studio.cards.services.judge import judge_zone, note_tweak
from studio.cards.services.save_formula import save_formula
from studio.result.page import aim_next_time, fixes_shown, forecast_as_worked, ladder_lab, result_page
from studio.result.reader import read_file, read_result
from studio.result.selectors import tweaks_of
from studio.ui.http import signed_in, wants_fragment
from studio.ui.refusal import Refusal, Stale
from studio.ui.words import refusal_words
from studio.visits.acting import act_on
from studio.visits.selectors import OpenZone
from studio.visits.views import zone_in_hand


@require_GET
def result(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Result page; before the hair has been read, the way leads to Read."""
    opened, refusal = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
    open_bowls(signed_in(request), opened)
    return _show(request, opened, refusal)


@require_POST
def judge(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A zone's result: by eye, a lock of the ladder; or what the colour reader says."""

    def change(opened: OpenZone) -> None:
        person = signed_in(request)
        _, forecast = forecast_as_worked(person, bench_of(person, opened))
        if forecast.bowl is None:
            raise Refusal("empty_bowl", "grams")
        by_reader = "reader" in request.POST
        lab = (
            read_result(forecast, request.POST, now=timezone.now())
            if by_reader
            else ladder_lab(forecast.lab, request.POST.get("place", ""))
        )
        source = ZoneResult.Source.READER if by_reader else ZoneResult.Source.EYE
        _keep(request, opened, lab, forecast.lab, source)

    return act_on(request, visit_id, change, show=_show, page="result:result")


@require_http_methods(["GET", "POST"])
def photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A photo of the result with white paper in it: tap paper, tap hair, and that is the result."""
    opened, refusal = zone_in_hand(request, visit_id)
    if request.method == "POST" and not refusal:
        try:
            lab, source = _measured(request, visit_id)
            if lab is not None:
                _, forecast = forecast_as_worked(signed_in(request), bench_of(signed_in(request), opened))
                _keep(request, opened, lab, forecast.lab, source)
            page = "result:photo" if lab is None else "result:result"
            return redirect(f"{reverse(page, args=[visit_id])}?zone={opened.zone.pk}")
        except Refusal as refused:
            refusal = refused
    kept = photo_of(opened.visit.pk, Photo.Purpose.RESULT)
    context = {
        "opened": opened,
        "photo": kept,
        "picking": picking_of(request, kept),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "result/photo.html", context, status=422 if refusal else 200)


def _measured(request: HttpRequest, visit_id: int) -> tuple[FloatArray | None, str]:
    """What a file of readings or a tapped photo says, and which of them it was. Raises Refusal."""
    if "from_file" in request.POST:
        return read_file(request.FILES.get("readings")), ZoneResult.Source.READER
    picked = taken_or_picked(request, visit_id, Photo.Purpose.RESULT)
    return (picked.lab if picked else None), ZoneResult.Source.PHOTO


@require_POST
def tweak(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What to change next time on the zone in hand."""

    def change(opened: OpenZone) -> None:
        person = signed_in(request)
        page = result_page(person, opened)
        note_tweak(
            person,
            visit_id=visit_id,
            zone_name=opened.zone.name,
            words=request.POST.get("words", ""),
            aim_lab=aim_next_time(page.hand) if request.POST.get("aim") else None,
        )

    return act_on(request, visit_id, change, show=_show, page="result:result")


@require_GET
def fixes(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ways to mend a spot, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    return render(request, "result/_fixes.html", {"fixes": fixes_shown(signed_in(request), opened, timezone.now())})


@require_POST
def keep(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Keep the visit on the client's card, and go on to what they take home."""
    version = request.POST.get("version", "")

    def change(opened: OpenZone) -> None:
        noted = tweaks_of(signed_in(request), visit_id).get(opened.zone.name)
        save_formula(
            signed_in(request),
            visit_id=visit_id,
            version=int(version) if version.isascii() and version.isdigit() else -1,
            zone_id=opened.zone.pk,
            note=noted.words if noted else "",
            token=request.POST.get("token", ""),
        )

    return act_on(request, visit_id, change, show=_show, page="result:care")


def _keep(request: HttpRequest, opened: OpenZone, lab: FloatArray, forecast_lab: FloatArray, source: str) -> None:
    judge_zone(
        signed_in(request),
        zone_id=opened.zone.pk,
        lab=lab,
        forecast_lab=forecast_lab,
        source=source,
        dry=bool(request.POST.get("dry")),
        two_lights=bool(request.POST.get("two_lights")),
    )


def _show(request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None) -> HttpResponse:
    page = result_page(signed_in(request), opened, refusal)
    template = "result/_result.html" if wants_fragment(request) else "result/result.html"
    status = 200 if refusal is None else 409 if isinstance(refusal, Stale) else 422
    return render(request, template, {"page": page}, status=status)
