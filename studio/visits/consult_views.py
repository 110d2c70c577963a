"""The consult: what is asked, seen and known before anything is touched."""

import datetime
from functools import partial
from typing import cast

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST
from django_htmx.http import retarget

from engine.language import amid
from studio.clients.services.history import add_past, record_skin_test, remove_past
from studio.shelf.selectors import colour_lines, lines_of
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.acting import Change, Sent, act_on, show_page
from studio.visits.ahead import ahead_of
from studio.visits.forms import HEALTH, SWITCHES, ClientFactsForm, ConsultForm, PastForm, SkinTestForm
from studio.visits.gates import asked_of
from studio.visits.selectors import OpenZone
from studio.visits.services.consult import save_consult


class Unfilled(Refusal):
    """A form that can't be used as it was filled in; it is shown again with its own words."""

    def __init__(self, **form: forms.BaseForm) -> None:
        super().__init__("form_unfilled")
        self.forms = form


@page_and_change
def consult(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ask and note; every change is kept at once."""
    if request.method != "POST":
        return show_page(request, visit_id, show_consult)

    def change(sent: Sent) -> None:
        asked = asked_of(sent.person, sent.opened.visit)
        form, facts = ConsultForm(sent.form, instance=asked.consult), ClientFactsForm(sent.form)
        if not (form.is_valid() and facts.is_valid()):
            raise Unfilled(form=form, facts=facts)
        save_consult(
            sent.person,
            visit_id=visit_id,
            version=sent.version,
            consult=form.cleaned_data,
            client=facts.cleaned_data,
        )

    return act_on(request, visit_id, change, show=partial(show_consult, in_pieces=True), page="visits:consult")


@require_POST
def past(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Note earlier work, or take it off the list."""

    def change(sent: Sent) -> None:
        if "remove" in sent.form:
            past_id = whole_number(sent.text("remove"), "past")
            remove_past(sent.person, client_id=sent.opened.visit.client_id, past_id=past_id)
            return
        form = PastForm(sent.form)
        if not form.is_valid():
            raise Unfilled(past=form)
        visit = sent.opened.visit
        add_past(sent.person, client_id=visit.client_id, today=visit.day, **form.cleaned_data)

    return _act(request, visit_id, change)


@require_POST
def skin_test(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Record a sensitivity test. Without its hour a day counts from its end, so that 48 hours are never told early."""

    def change(sent: Sent) -> None:
        form = SkinTestForm(sent.form, lines=colour_lines(sent.person))
        if not form.is_valid():
            raise Unfilled(skin=form)
        given = form.cleaned_data
        hour = given["tested_at"] or datetime.time(23, 59)
        now = timezone.now()
        is_today = given["tested_on"] == timezone.localdate() and not given["tested_at"]
        counts_from = timezone.make_aware(datetime.datetime.combine(given["tested_on"], hour))
        record_skin_test(
            sent.person,
            client_id=sent.opened.visit.client_id,
            line_id=given["line"].pk if given["line"] else None,
            tested_at=counts_from,
            clear=given["clear"],
            now=max(now, counts_from) if is_today else now,
        )

    return _act(request, visit_id, change)


def _act(request: HttpRequest, visit_id: int, change: Change) -> HttpResponse:
    return act_on(request, visit_id, change, show=show_consult, page="visits:consult", same_zones=True)


def show_consult(
    request: HttpRequest,
    opened: OpenZone,
    refusal: Refusal | None = None,
    *,
    made: object = None,
    in_pieces: bool = False,
) -> HttpResponse:
    """The consult as a page or as its fragment; a form that was refused keeps what was typed.

    in_pieces: answer with what a kept change alters, so that what is being typed is not swapped away.
    """
    person = signed_in(request)
    asked = asked_of(person, opened.visit)
    lines = lines_of(person)
    typed = refusal.forms if isinstance(refusal, Unfilled) else {}
    form = cast("ConsultForm", typed.get("form") or ConsultForm(instance=asked.consult))
    context = {
        "asked": asked,
        "form": form,
        "choices": form.choices,
        "switches": [form[name] for name in SWITCHES],
        "health": [form[name] for name in HEALTH],
        "facts": typed.get("facts") or ClientFactsForm(instance=asked.visit.client),
        "past": typed.get("past") or PastForm(initial={"done_on": ""}),
        "skin": typed.get("skin") or SkinTestForm(),
        "lines": lines,
        "ahead": ahead_of(asked, opened, lines),
        "unasked": [amid(str(form[name].label)) for name in asked.consult.unasked],
        "error_words": refusal_words(refusal) if refusal and not typed else "",
    }
    kept_in_pieces = in_pieces and refusal is None
    fragment = "visits/_consult_changed.html" if kept_in_pieces else "visits/_consult.html"
    template = fragment if wants_fragment(request) else "visits/consult.html"
    answer = render(request, template, context)
    if not kept_in_pieces:
        answer["HX-Reswap"] = "morph:outerHTML"
        retarget(answer, "#main")
    return answer
