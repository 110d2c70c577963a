"""What stands beside the tubes."""

from decimal import Decimal
from typing import Final

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from engine.language import say
from studio.accounts.models import Person
from studio.accounts.services.once import made_once
from studio.supplies.forms import SupplyForm
from studio.supplies.models import Supply, SupplyMove
from studio.supplies.services.stock import add_supply, count, deliver, set_off, use
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words

MOVES_SHOWN: Final = 12


@page_and_change
def supplies(request: HttpRequest) -> HttpResponse:
    """All of it with what is left; something new is added here."""
    if request.method != "POST":
        return _show(request)
    person, form = signed_in(request), SupplyForm(request.POST)
    if not form.is_valid():
        return _show(request, form=form)
    given = {name: each for name, each in form.cleaned_data.items() if name != "token" and each not in (None, "")}
    try:
        made_once(person, form.cleaned_data["token"], lambda: add_supply(person, **given))
    except Refusal as refusal:
        return _show(request, form=form, refusal=refusal)
    messages.success(request, say("{given}: on the shelf.", given=given["name"]))
    return redirect("supplies:supplies")


@require_POST
def move(request: HttpRequest, supply_id: int) -> HttpResponse:
    """Packs came in, so much is there, so much was used; or it leaves the shelf."""
    person = signed_in(request)
    supply = Supply.objects.visible_to(person).get(pk=supply_id)
    try:
        made_once(person, request.POST.get("token", ""), lambda: _moved(person, supply_id, request))
    except Refusal as refusal:
        return _show(request, refusal=refusal, refused=supply_id)
    supply.refresh_from_db()
    messages.success(
        request, say("{supply}: {stock:g} {unit} left.", supply=supply, stock=float(supply.stock), unit=supply.unit)
    )
    return redirect("supplies:supplies")


def _moved(person: Person, supply_id: int, request: HttpRequest) -> object:
    """Raises Refusal not_a_number and those of the services."""
    act = request.POST.get("act", "")
    if act in ("off", "back"):
        return set_off(person, supply_id=supply_id, off=act == "off")
    amount = typed_number(request.POST.get("amount", ""), "amount", example="12")
    if act == "came":
        return deliver(person, supply_id=supply_id, packs=amount, paid=_paid(request))
    if act == "there":
        return count(person, supply_id=supply_id, there=amount)
    return use(person, supply_id=supply_id, amount=amount)


def _paid(request: HttpRequest) -> Decimal | None:
    typed = request.POST.get("paid", "").strip()
    return typed_number(typed, "paid", example="9.50") if typed else None


def _show(
    request: HttpRequest, *, form: SupplyForm | None = None, refusal: Refusal | None = None, refused: int | None = None
) -> HttpResponse:
    person = signed_in(request)
    context = {
        "supplies": Supply.objects.visible_to(person).order_by("off_shelf", "kind", "vol", "name"),
        "moves": SupplyMove.objects.visible_to(person).select_related("supply", "made_by")[:MOVES_SHOWN],
        "form": form or SupplyForm(),
        "error_words": refusal_words(refusal) if refusal else "",
        "refused": refused,
        "typed": request.POST.get("amount", ""),
    }
    return render(request, "supplies/supplies.html", context, status=422 if form or refusal else 200)
