"""Files out and in: cards, the logbook, hand-outs, calendars, palettes, readings."""

import json

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.cards.again import formula_of
from studio.cards.selectors import active_tweaks, card_of
from studio.clients.models import Client
from studio.formats.calendar import next_visit
from studio.formats.card_json import card_document, card_schema
from studio.formats.entry import FAULTS_MOST
from studio.formats.job_json import jobs_document
from studio.formats.logbook_csv import logbook_lines
from studio.formats.models import Intake
from studio.formats.palette import palette_text
from studio.formats.paper import card_pdf, handout_pdf, labels_pdf, next_colourist_pdf, skin_test_pdf
from studio.formats.questions import questions_of
from studio.formats.reading_in import read_upload
from studio.formats.readings import card_readings, card_spectra
from studio.formats.services.take_in import begin_intake, decide, drop, go_on
from studio.result.care_page import care_page
from studio.result.selectors import home_care_of
from studio.ui.files import a_file, named
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import zone_in_hand
from studio.visits.selectors import visit_of


@require_safe
def card(request: HttpRequest, client_id: int, kind: str) -> HttpResponse:
    """A card as JSON, PDF, palette, CGATS, spectra, or jobs of the engine."""
    person = signed_in(request)
    client, formulas = card_of(person, client_id)
    name = named(client.name)
    if kind == "json":
        text = json.dumps(card_document(person, client_id), indent=1, ensure_ascii=False)
        return a_file(text, "application/json", f"{name}.json")
    if kind == "pdf":
        return a_file(
            card_pdf(person, client, formulas, active_tweaks(person, client_id)), "application/pdf", f"{name}.pdf"
        )
    if kind == "gpl":
        return a_file(palette_text(client.name, formulas), "text/plain; charset=utf-8", f"{name}.gpl")
    if kind == "jobs":
        return a_file(json.dumps(jobs_document(person, formulas)), "application/json", f"{name}.jobs.json")
    if kind == "spectra":
        body = card_spectra(client, formulas, created=timezone.now())
        return a_file(body, "application/zip", f"{name}.spectra.zip")
    text = card_readings(str(person.studio), f"{timezone.localdate():%Y-%m-%d}", formulas)
    return a_file(text, "text/plain; charset=utf-8", f"{name}.cgats.txt")


@require_safe
def formula(request: HttpRequest, formula_id: int) -> HttpResponse:
    """One formula as JSON, as a card that holds it alone."""
    person = signed_in(request)
    kept = formula_of(person, formula_id)
    text = json.dumps(card_document(person, kept.client_id, only=kept.pk), indent=1, ensure_ascii=False)
    return a_file(text, "application/json", f"{named(kept.client.name)}-{kept.visit.day:%Y-%m-%d}.json")


@require_safe
def schema(request: HttpRequest) -> HttpResponse:
    """The schema of a card's JSON."""
    return a_file(json.dumps(card_schema(), indent=1), "application/schema+json", "card.schema.json")


@require_safe
def logbook(request: HttpRequest) -> StreamingHttpResponse:
    """The whole logbook as CSV, line by line."""
    lines = logbook_lines(signed_in(request))
    headers = {"Content-Disposition": 'attachment; filename="logbook.csv"'}
    return StreamingHttpResponse(lines, content_type="text/csv; charset=utf-8", headers=headers)


@require_safe
def handout(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The hand-out as PDF."""
    opened, _ = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect("visits:read", visit_id)
    page = care_page(signed_in(request), opened)
    return a_file(handout_pdf(page), "application/pdf", f"hand-out-{named(opened.visit.client.name)}.pdf")


@require_safe
def labels(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Labels of what was left, as PDF."""
    opened, _ = zone_in_hand(request, visit_id)
    if opened.reading is None:
        return redirect("visits:read", visit_id)
    body = labels_pdf(care_page(signed_in(request), opened))
    return a_file(body, "application/pdf", f"labels-{named(opened.visit.client.name)}.pdf")


@require_safe
def next_colourist(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The sheet for whoever colours this head next, as PDF."""
    person = signed_in(request)
    visit = visit_of(person, visit_id)
    formulas = [kept for kept in card_of(person, visit.client_id)[1] if kept.formula.visit_id == visit.pk]
    body = next_colourist_pdf(person, visit, formulas, active_tweaks(person, visit.client_id))
    return a_file(body, "application/pdf", f"next-colourist-{named(visit.client.name)}.pdf")


@require_safe
def skin_test(request: HttpRequest, client_id: int) -> HttpResponse:
    """The card for the client's skin test, as PDF."""
    client = Client.objects.visible_to(signed_in(request)).select_related("studio").get(pk=client_id)
    return a_file(skin_test_pdf(client), "application/pdf", f"skin-test-{named(client.name)}.pdf")


@require_safe
def calendar(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The next visit for a calendar; before a day is set, the way leads to Care."""
    care = home_care_of(signed_in(request), visit_of(signed_in(request), visit_id))
    if care.next_on is None:
        messages.error(request, say("Choose the day of the next visit first."))
        return redirect("result:care", visit_id)
    return a_file(next_visit(care, now=timezone.now()), "text/calendar; charset=utf-8", "next-visit.ics")


@page_and_change
def take(request: HttpRequest) -> HttpResponse:
    """Take in a card or a logbook; what is wrong is told line by line, and nothing of such a file is taken."""
    person, intake, refusal = signed_in(request), None, None
    if request.method == "POST":
        try:
            intake = begin_intake(
                person,
                upload=read_upload(request),
                leave_bad_out=bool(request.POST.get("leave_out")),
                prefers_file=bool(request.POST.get("prefers_file")),
            )
        except Refusal as refused:
            refusal = refused
        if intake and intake.pk:
            return redirect("formats:intake", intake.pk)
    context = {
        "intake": intake,
        "faults_most": FAULTS_MOST,
        "unfinished": Intake.objects.visible_to(person).filter(finished_at=None),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "formats/take.html", context, status=422 if intake or refusal else 200)


@page_and_change
def intake(request: HttpRequest, intake_id: int) -> HttpResponse:
    """How far a file is, and what came of it. A change takes its next piece."""
    person = signed_in(request)
    row, error_words = get_object_or_404(Intake.objects.visible_to(person), pk=intake_id), ""
    if request.method == "POST":
        try:
            if row.waits_for_answers:
                said = {each["key"]: request.POST.get(f"answer{place}", "") for place, each in enumerate(row.asked)}
                row = decide(person, intake_id=intake_id, said=said)
            else:
                row = go_on(person, intake_id=intake_id)
        except Refusal as refusal:
            error_words = refusal_words(refusal)
        else:
            if not wants_fragment(request):
                return redirect("formats:intake", intake_id)
    part = "formats/_intake.html" if wants_fragment(request) else "formats/intake.html"
    context = {"intake": row, "questions": questions_of(row, request.POST), "error_words": error_words}
    return render(request, part, context, status=422 if error_words else 200)


@require_POST
def drop_intake(request: HttpRequest, intake_id: int) -> HttpResponse:
    """Let a file go of which nothing was taken yet."""
    drop(signed_in(request), intake_id=intake_id)
    return redirect("formats:take")
