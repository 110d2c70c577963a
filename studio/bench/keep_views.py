"""Keeping what is in the bowl on the client's card."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from engine.language import say
from studio.bench.page import bench_page
from studio.cards.models import Formula
from studio.cards.services.save_formula import save_formula
from studio.ui.http import signed_in
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent, act_on
from studio.visits.selectors import OpenZone


@require_POST
def save(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Keep the bench on the card and open the card."""

    def change(sent: Sent) -> Formula:
        note = sent.text("note").strip()
        formula = save_formula(sent.person, visit_id=visit_id, version=sent.version, zone_id=sent.zone_id, note=note)
        messages.success(request, say("Kept on the card {localtime:%H:%M}.", localtime=timezone.localtime()))
        return formula

    def show(
        request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        if refusal is None:
            return redirect("cards:card", opened.visit.client_id)
        page = bench_page(signed_in(request), opened, sent=request.POST, refusal=refusal)
        return render(request, "bench/bench.html", {"page": page})

    return act_on(request, visit_id, change, show=show, same_zones=True)
