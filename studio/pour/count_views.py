"""Counting the shelf on the scale, tube by tube: the open tube lies on it, and what an empty one weighs comes off."""

from decimal import Decimal

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from engine.language import say
from studio.accounts.services.once import made_once
from studio.pour.count_page import count_page
from studio.shelf.services.stock import count
from studio.shelf.stock_forms import CountForm
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal


@page_and_change
def counting(request: HttpRequest, shade_id: int) -> HttpResponse:
    """One tube: full ones typed, the open one weighed; then the next of its line."""
    if request.method != "POST":
        return _show(request, shade_id)
    person, form = signed_in(request), CountForm(request.POST)
    if not form.is_valid():
        return _show(request, shade_id, form=form)
    try:
        open_g = typed_number(request.POST.get("weighed", ""), "grams") if "by_scale" in request.POST else Decimal(0)
        if open_g < 0:
            raise Refusal("scale_below_nothing", "grams")
        move = made_once(
            person,
            request.POST.get("token", ""),
            lambda: count(
                person,
                shade_id=shade_id,
                full_tubes=form.cleaned_data["full_tubes"] or Decimal(0),
                open_g=open_g,
                with_tube=True,
            ),
        )
    except Refusal as refusal:
        return _show(request, shade_id, form=form, refusal=refusal)
    if move is not None:
        off = say(", {grams:+weight} to the record", grams=move.grams) if move.grams else say(", as the record says")
        messages.success(request, say("{shade}: {left_g:weight}{off}.", shade=move.shade, left_g=move.left_g, off=off))
    following = count_page(person, shade_id).following
    return redirect("count:counting", following.pk) if following else redirect("shelf:shelf")


def _show(
    request: HttpRequest, shade_id: int, *, form: CountForm | None = None, refusal: Refusal | None = None
) -> HttpResponse:
    page = count_page(signed_in(request), shade_id, refusal=refusal)
    context = {"page": page, "full_tubes": form.data.get("full_tubes", "") if form else "", "form": form}
    return render(request, "pour/count.html", context, status=422 if form or refusal else 200)
