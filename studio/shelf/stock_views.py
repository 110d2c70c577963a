"""What comes to the shelf and goes from it, and what is to be ordered."""

from collections.abc import Callable
from decimal import Decimal

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.accounts.models import Person
from studio.accounts.services.once import made_once
from studio.shelf.models import StockMove
from studio.shelf.order import order_list
from studio.shelf.services.stock import count, deliver, spill
from studio.shelf.stock_forms import CountForm, DeliveryForm, SpillForm
from studio.shelf.views import show_tube
from studio.supplies.order import supplies_to_order
from studio.ui.http import csv_answer, signed_in
from studio.ui.refusal import Refusal

Act = Callable[[Person, forms.Form], StockMove]


@require_POST
def delivery(request: HttpRequest, shade_id: int) -> HttpResponse:
    """Book tubes in."""

    def act(person: Person, form: forms.Form) -> StockMove:
        return deliver(person, shade_id=shade_id, today=timezone.localdate(), **form.cleaned_data)

    return _act(request, shade_id, DeliveryForm(request.POST), act)


@require_POST
def counting(request: HttpRequest, shade_id: int) -> HttpResponse:
    """Say what is there."""

    def act(person: Person, form: forms.Form) -> StockMove:
        given = form.cleaned_data
        return count(
            person,
            shade_id=shade_id,
            full_tubes=given["full_tubes"] or Decimal(0),
            open_g=given["open_g"] or Decimal(0),
            with_tube=given["with_tube"],
        )

    return _act(request, shade_id, CountForm(request.POST), act)


@require_POST
def spilling(request: HttpRequest, shade_id: int) -> HttpResponse:
    """Say what is gone and was in no bowl."""

    def act(person: Person, form: forms.Form) -> StockMove:
        return spill(person, shade_id=shade_id, grams=form.cleaned_data["spilt_g"])

    return _act(request, shade_id, SpillForm(request.POST), act)


@require_safe
def order(request: HttpRequest) -> HttpResponse:
    """What runs out, and how much of it to order."""
    person = signed_in(request)
    return render(request, "shelf/order.html", {"lines": order_list(person), "supplies": supplies_to_order(person)})


@require_safe
def order_csv(request: HttpRequest) -> HttpResponse:
    """The same as CSV."""
    head = ["line", "code", "name", "left_g", "tubes", "cost"]
    rows = [
        [each.line.name, row.shade.code, row.shade.name, row.shade.stock_g, row.tubes, row.cost]
        for each in order_list(signed_in(request))
        for row in each.rows
    ]
    rows += [
        [each.supply.get_kind_display(), "", each.supply.name, each.supply.stock, each.packs, each.cost]
        for each in supplies_to_order(signed_in(request))
    ]
    return csv_answer("to-order", [head, *rows])


def _act(request: HttpRequest, shade_id: int, form: forms.Form, act: Act) -> HttpResponse:
    """Make a move once, however often it is sent; what was typed stays when it is refused."""
    person = signed_in(request)
    if not form.is_valid():
        return show_tube(request, shade_id, stock_form=form)
    try:
        move = made_once(person, request.POST.get("token", ""), lambda: act(person, form))
    except Refusal as refusal:
        return show_tube(request, shade_id, stock_form=form, refusal=refusal)
    if move is not None:
        messages.success(request, say("{shade}: {left_g:weight} left.", shade=move.shade, left_g=move.left_g))
    return redirect("shelf:tube", shade_id)
