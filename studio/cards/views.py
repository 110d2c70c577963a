"""The logbook: find a card, read it, keep a formula, repeat one."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from studio.bench.page import bench_page
from studio.cards.selectors import card_of, find_cards, signatures_of, visit_on
from studio.cards.services.repeat_formula import repeat_formula
from studio.cards.services.save_formula import save_formula
from studio.ui.http import signed_in, wants_fragment
from studio.ui.refusal import Refusal, Stale
from studio.visits.selectors import open_zone, visit_of
from studio.visits.views import zone_in_hand

AIMS_SHOWN = 6


@require_GET
def cards(request: HttpRequest) -> HttpResponse:
    """All cards, or those that hold the words searched for."""
    words = request.GET.get("q", "")[:80]
    context = {"found": find_cards(signed_in(request), words), "words": words}
    return render(request, "cards/_list.html" if wants_fragment(request) else "cards/list.html", context)


@require_GET
def card(request: HttpRequest, client_id: int) -> HttpResponse:
    """One client's card."""
    person = signed_in(request)
    client, formulas = card_of(person, client_id)
    today = visit_on(person, client_id, timezone.localdate())
    return render(
        request,
        "cards/card.html",
        {"client": client, "formulas": formulas, "today": today, "signed": signatures_of(person, client_id)},
    )


@require_GET
def aims(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The client's earlier colours, for the Bench to aim at again."""
    person = signed_in(request)
    opened = open_zone(person, visit_id)
    _, formulas = card_of(person, opened.visit.client_id)
    return render(request, "cards/_aims.html", {"visit_id": visit_id, "formulas": formulas[:AIMS_SHOWN]})


@require_GET
def last(request: HttpRequest, visit_id: int) -> HttpResponse:
    """The client's newest formula, for the consult."""
    person = signed_in(request)
    _, formulas = card_of(person, visit_of(person, visit_id).client_id)
    return render(request, "cards/_last.html", {"kept": formulas[0] if formulas else None})


@require_POST
def save(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Keep the bench on the card and open the card."""
    person, version, zone = signed_in(request), request.POST.get("version", ""), request.POST.get("zone", "")
    try:
        formula = save_formula(
            person,
            visit_id=visit_id,
            version=int(version) if version.isascii() and version.isdigit() else -1,
            zone_id=int(zone) if zone.isascii() and zone.isdigit() and len(zone) < 19 else None,
            note=request.POST.get("note", "").strip(),
        )
    except Refusal as refusal:
        opened, _ = zone_in_hand(request, visit_id)
        page = bench_page(person, opened, sent=request.POST, refusal=refusal)
        status = 409 if isinstance(refusal, Stale) else 422
        return render(request, "bench/bench.html", {"page": page}, status=status)
    messages.success(request, "Saved to the card.")
    return redirect("cards:card", formula.client_id)


@require_POST
def repeat(request: HttpRequest, formula_id: int) -> HttpResponse:
    """Put a formula back on the bench for today."""
    visit = repeat_formula(signed_in(request), formula_id=formula_id, day=timezone.localdate())
    messages.info(request, "Repeated from the card. Read today's hair again: the forecast follows it.")
    return redirect("bench:bench", visit.pk)
