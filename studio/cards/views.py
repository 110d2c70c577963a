"""The logbook: find a card, read it, keep a formula, repeat one."""

from decimal import Decimal

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.cards.again import again_page
from studio.cards.comparing import compare_page
from studio.cards.hands import hands_of
from studio.cards.heads import last_head
from studio.cards.search import Sought, find_cards, sought_in
from studio.cards.selectors import active_tweaks, card_of, last_care, signatures_of, strand_tests_of, visit_on
from studio.cards.services.repeat_formula import Changed, repeat_formula
from studio.clients.consents import consents_of
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.selectors import open_zone, visit_of

AIMS_SHOWN = 6


@require_safe
def cards(request: HttpRequest) -> HttpResponse:
    """All cards, or those that are searched for: by words, a colour, a level, dates."""
    refusal = None
    try:
        sought = sought_in(request.GET)
    except Refusal as refused:
        sought, refusal = Sought(words=request.GET.get("q", "")[:80]), refused
    context = {
        "found": find_cards(signed_in(request), sought),
        "words": sought.words,
        "narrowed": sought.narrows_formulas,
        "typed": request.GET,
        "error_words": refusal_words(refusal) if refusal else "",
    }
    template = "cards/_list.html" if wants_fragment(request) else "cards/list.html"
    return render(request, template, context, status=422 if refusal else 200)


@require_safe
def card(request: HttpRequest, client_id: int) -> HttpResponse:
    """One client's card."""
    person = signed_in(request)
    client, formulas = card_of(person, client_id)
    today = visit_on(person, client_id, timezone.localdate())
    return render(
        request,
        "cards/card.html",
        {
            "client": client,
            "formulas": formulas,
            "heads": last_head(formulas) if person.works else (),
            "today": today,
            "signed": signatures_of(person, client_id),
            "strand_tests": strand_tests_of(person, client_id),
            "tweaks": active_tweaks(person, client_id),
            "care": last_care(person, client_id),
            "consents": consents_of(person, client_id),
            "hands": hands_of(person, client_id),
            "colleagues": person.colleagues if today else [],
        },
    )


@require_safe
def aims(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The client's earlier colours, for the Bench to aim at again."""
    person = signed_in(request)
    opened = open_zone(person, visit_id)
    _, formulas = card_of(person, opened.visit.client_id)
    return render(request, "cards/_aims.html", {"visit_id": visit_id, "formulas": formulas[:AIMS_SHOWN]})


@require_safe
def last(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The client's newest formula, for the consult."""
    person = signed_in(request)
    _, formulas = card_of(person, visit_of(person, visit_id).client_id)
    visit = visit_of(person, visit_id)
    tweaks = active_tweaks(person, visit.client_id)
    context = {"visit_id": visit_id, "kept": formulas[0] if formulas else None, "tweaks": tweaks}
    return render(request, "cards/_last.html", context)


@require_POST
def repeat(request: HttpRequest, formula_id: int) -> HttpResponse:
    """Put a formula back on the bench for today: as it was, or as one of the options for today's hair."""
    person, today, code = signed_in(request), timezone.localdate(), request.POST.get("option", "")
    changed, tweak_id = None, None
    if code and code != "grams":
        page = again_page(person, formula_id, today)
        option = next((each for each in page.options if each.code == code), None)
        if option is None:
            return redirect("cards:again", formula_id)
        changed = Changed(
            grams={shade: Decimal(f"{weight:.2f}") for shade, weight in option.grams.items()},
            aim_lab=None if option.aim_lab is None else tuple(Decimal(f"{part:.3f}") for part in option.aim_lab),
        )
        tweak_id = page.tweak.pk if code == "tweak" and page.tweak else None
    visit = repeat_formula(person, formula_id=formula_id, day=today, changed=changed, tweak_id=tweak_id)
    messages.info(request, say("Repeated from the card. Read today's hair again: the forecast follows it."))
    return redirect("bench:bench", visit.pk)


@require_safe
def again(request: HttpRequest, formula_id: int) -> HttpResponse:
    """A formula on today's hair: the same grams, the same result, branches of it."""
    page = again_page(signed_in(request), formula_id, timezone.localdate())
    return render(request, "cards/again.html", {"page": page})


@require_safe
def compare(request: HttpRequest) -> HttpResponse:
    """Two formulas side by side."""
    chosen = [whole_number(text, "formula") for text in request.GET.getlist("formula")[:2]]
    client_id = whole_number(request.GET.get("client") or "0", "client")
    page = compare_page(signed_in(request), chosen)
    if page is None:
        messages.error(request, say("Choose two formulas to compare."))
        return redirect("cards:card", client_id) if client_id else redirect("cards:list")
    return render(request, "cards/compare.html", {"page": page})
