"""The consult: what is asked, seen and known before anything is touched."""

import datetime
from collections.abc import Callable

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST
from django_htmx.http import retarget

from studio.clients.services.history import add_past, record_skin_test, remove_past
from studio.shelf.models import ShadeLine
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.forms import CHOICES, SWITCHES, ClientFactsForm, ConsultForm, PastForm, SkinTestForm
from studio.visits.gates import asked_of, gates_of
from studio.visits.selectors import visit_of
from studio.visits.services.consult import save_consult, sign_gate


@require_http_methods(["GET", "POST"])
def consult(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Ask and note; every change is kept at once."""
    if request.method != "POST":
        return show_consult(request, visit_id)
    asked = asked_of(signed_in(request), visit_of(signed_in(request), visit_id))
    form, facts = ConsultForm(request.POST, instance=asked.consult), ClientFactsForm(request.POST)
    if not (form.is_valid() and facts.is_valid()):
        return show_consult(request, visit_id, form=form, facts=facts)
    version = request.POST.get("version", "")

    def save() -> object:
        return save_consult(
            signed_in(request),
            visit_id=visit_id,
            version=int(version) if version.isascii() and version.isdigit() and len(version) < 10 else -1,
            consult=form.cleaned_data,
            client=facts.cleaned_data,
        )

    return _done(request, visit_id, save, in_pieces=True)


@require_POST
def past(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Note earlier work, or take it off the list."""
    person, visit = signed_in(request), visit_of(signed_in(request), visit_id)
    if "remove" in request.POST:
        return _done(
            request, visit_id, lambda: remove_past(person, past_id=whole_number(request.POST["remove"], "past"))
        )
    form = PastForm(request.POST)
    if not form.is_valid():
        return show_consult(request, visit_id, past=form)
    return _done(
        request,
        visit_id,
        lambda: add_past(person, client_id=visit.client_id, today=visit.day, **form.cleaned_data),
    )


@require_POST
def skin_test(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Record a sensitivity test; a day counts from its evening, so that 48 hours are never told too early."""
    person, visit = signed_in(request), visit_of(signed_in(request), visit_id)
    form = SkinTestForm(request.POST, lines=ShadeLine.objects.visible_to(person))
    if not form.is_valid():
        return show_consult(request, visit_id, skin=form)
    given = form.cleaned_data
    tested_at = datetime.datetime.combine(given["tested_on"], datetime.time(12), tzinfo=datetime.UTC)
    return _done(
        request,
        visit_id,
        lambda: record_skin_test(
            person,
            client_id=visit.client_id,
            line_id=given["line"].pk,
            tested_at=tested_at,
            clear=given["clear"],
            now=datetime.datetime.combine(timezone.localdate(), datetime.time.max, tzinfo=datetime.UTC),
        ),
    )


@require_POST
def sign(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Sign that a gate of the consult is passed."""
    person = signed_in(request)
    seen = gates_of(asked_of(person, visit_of(person, visit_id)))
    code = request.POST.get("gate", "")

    def change() -> object:
        found = next((each for each in seen if each.gate.code == code), None)
        if found is None:
            raise Refusal("gate_gone")
        return sign_gate(person, visit_id=visit_id, seen=found, reason=request.POST.get("reason", ""))

    return _done(request, visit_id, change)


def _done(
    request: HttpRequest, visit_id: int, change: Callable[[], object], *, in_pieces: bool = False
) -> HttpResponse:
    """Make a change. in_pieces: answer with what it alters, so that what is being typed is not swapped away."""
    try:
        change()
    except Refusal as refusal:
        return show_consult(request, visit_id, refusal=refusal)
    if wants_fragment(request):
        return show_consult(request, visit_id, in_pieces=in_pieces)
    return redirect("visits:consult", visit_id)


def show_consult(
    request: HttpRequest,
    visit_id: int,
    *,
    form: forms.BaseForm | None = None,
    facts: forms.BaseForm | None = None,
    past: PastForm | None = None,
    skin: SkinTestForm | None = None,
    refusal: Refusal | None = None,
    in_pieces: bool = False,
) -> HttpResponse:
    """The consult as a page or as its fragment; a form that was refused keeps what was typed."""
    person = signed_in(request)
    asked = asked_of(person, visit_of(person, visit_id))
    lines = ShadeLine.objects.visible_to(person)
    shown = form or ConsultForm(instance=asked.consult)
    context = {
        "asked": asked,
        "form": shown,
        "choices": [shown[name] for name in CHOICES],
        "switches": [shown[name] for name in SWITCHES],
        "facts": facts or ClientFactsForm(instance=asked.visit.client),
        "past": past or PastForm(initial={"done_on": ""}),
        "skin": skin or SkinTestForm(lines=lines),
        "gates": gates_of(asked),
        "sign_at": "visits:sign",
        "error_words": refusal_words(refusal) if refusal else "",
    }
    refused = refusal or any(each is not None for each in (form, facts, past, skin))
    fragment = "visits/_consult_changed.html" if in_pieces else "visits/_consult.html"
    template = fragment if wants_fragment(request) else "visits/consult.html"
    answer = render(request, template, context, status=422 if refused else 200)
    if not in_pieces:
        answer["HX-Reswap"] = "morph:outerHTML"
        retarget(answer, "#main")
    return answer
