"""The Result page: judge each zone, mend spots, note what to change, keep it on the card."""

from decimal import Decimal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.arrays import FloatArray
from engine.language import listed
from studio.cards.models import ZoneResult
from studio.cards.services.judge import judge_zone, note_tweak
from studio.cards.services.save_formula import save_formula
from studio.clocks.selectors import running_clocks
from studio.head.opening import show_on_bench
from studio.head.selectors import bench_of
from studio.photos.models import Photo
from studio.photos.selectors import photo_of
from studio.photos.taps import picking_of, taken_or_picked
from studio.result.ladder import around, ladder_lab
from studio.result.page import aim_next_time, fixes_shown, forecast_to_judge, result_page
from studio.result.reader import read_file, read_result
from studio.result.story import story_of
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Sent, act_on, show_page, zone_in_hand
from studio.visits.selectors import OpenZone, visit_of


@require_safe
def result(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The Result page; before the hair has been read, the way leads to Read."""
    return show_on_bench(request, visit_id, _show)


@require_POST
def judge(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A zone's result: by eye, a lock of the ladder; or what the colour reader says."""

    def change(sent: Sent) -> None:
        bench = bench_of(sent.person, sent.opened)
        forecast = forecast_to_judge(sent.person, bench)
        if forecast.bowl is None:
            raise Refusal("empty_bowl", "grams")
        if "reader" in sent.form:
            lab = read_result(bench, forecast.process, sent.form, now=timezone.now())
            _keep(sent, lab, forecast.lab, ZoneResult.Source.READER)
        else:
            shown_lab = around(sent.text("around"), forecast.lab)
            _keep(sent, ladder_lab(shown_lab, sent.text("place")), forecast.lab, ZoneResult.Source.EYE)

    return act_on(request, visit_id, change, show=_show, page="result:result", same_zones=True)


@page_and_change
def photo(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A photo of the result with white paper in it: tap paper, tap hair, and that is the result."""
    if request.method != "POST":
        return show_page(request, visit_id, _show_photo)

    def change(sent: Sent) -> bool:
        lab, source = _measured(request, sent)
        if lab is not None:
            forecast = forecast_to_judge(sent.person, bench_of(sent.person, sent.opened))
            _keep(sent, lab, forecast.lab, source)
        return lab is not None

    return act_on(request, visit_id, change, show=_show_photo)


def _show_photo(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    if request.method == "POST" and refusal is None:
        page = "result:result" if made else "result:photo"
        return redirect(reverse(page, args=[opened.visit.pk], query={"zone": opened.zone.pk}))
    kept = photo_of(opened.visit.pk, Photo.Purpose.RESULT)
    context = {
        "opened": opened,
        "photo": kept,
        "picking": picking_of(request, kept),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "result/photo.html", context)


def _measured(request: HttpRequest, sent: Sent) -> tuple[FloatArray | None, str]:
    """What a file of readings or a tapped photo says, and which of them it was. Raises Refusal."""
    if "from_file" in sent.form:
        return read_file(request.FILES.get("readings")), ZoneResult.Source.READER
    picked = taken_or_picked(request, sent.visit_id, Photo.Purpose.RESULT)
    return (picked.lab if picked else None), ZoneResult.Source.PHOTO


@require_POST
def tweak(request: HttpRequest, visit_id: int) -> HttpResponse:
    """What to change next time on the zone in hand."""

    def change(sent: Sent) -> None:
        page = result_page(sent.person, sent.opened)
        note_tweak(
            sent.person,
            visit_id=visit_id,
            zone_name=sent.opened.zone.name,
            words=sent.text("words"),
            aim_lab=aim_next_time(page.hand) if sent.text("aim") else None,
            minutes_more=_number(sent, "minutes_more", "-5"),
            vol=_number(sent, "vol", "20"),
        )

    return act_on(request, visit_id, change, show=_show, page="result:result", same_zones=True)


def _number(sent: Sent, name: str, example: str) -> Decimal | None:
    """A number that may be left out. Raises Refusal not_a_number."""
    typed = sent.text(name).strip()
    return typed_number(typed, name, example=example) if typed else None


@require_safe
def story(request: HttpRequest, visit_id: int) -> HttpResponse:
    """A visit told on one page, as it was noted."""
    person = signed_in(request)
    return render(request, "result/story.html", {"story": story_of(person, visit_of(person, visit_id))})


@require_safe
def fixes(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ways to mend a spot, asked for when the rest is on the screen."""
    opened, _ = zone_in_hand(request, visit_id)
    return render(request, "result/_fixes.html", {"fixes": fixes_shown(signed_in(request), opened, timezone.now())})


@require_POST
def keep(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Keep the visit on the client's card, and go on to what they take home."""

    def change(sent: Sent) -> None:
        on = running_clocks(sent.person, [visit_id], timezone.now())
        if on and "anyway" not in sent.form:
            raise Refusal("still_on", zones=listed(each.clock.zone.name for each in on))
        save_formula(sent.person, visit_id=visit_id, version=sent.version, zone_id=sent.zone_id)

    return act_on(request, visit_id, change, show=_show, page="result:care", goes=True, same_zones=True)


def _keep(sent: Sent, lab: FloatArray, forecast_lab: FloatArray, source: str) -> None:
    judge_zone(
        sent.person,
        zone_id=sent.zone_id,
        lab=lab,
        forecast_lab=forecast_lab,
        source=source,
        dry=bool(sent.text("dry")),
        two_lights=bool(sent.text("two_lights")),
    )


def _show(
    request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
) -> HttpResponse:
    page = result_page(signed_in(request), opened, refusal, request.POST if refusal else None)
    template = "result/_result.html" if wants_fragment(request) else "result/result.html"
    return render(request, template, {"page": page})
