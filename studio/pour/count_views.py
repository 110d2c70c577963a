"""Counting the shelf on the scale, tube by tube: the open tube lies on it, and what an empty one weighs comes off."""

from decimal import Decimal

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from studio.accounts.services.once import made_once
from studio.pour.count_page import count_page
from studio.pour.services.pan import act_on_pan, settled_grams
from studio.shelf.models import Shade
from studio.shelf.services.stock import count
from studio.shelf.stock_forms import CountForm
from studio.ui.http import page_and_change, signed_in
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
        open_g = settled_grams(person, now=timezone.now()) if "by_scale" in request.POST else Decimal(0)
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
        off = f", {move.grams:+g} g to the record" if move.grams else ", as the record says"
        messages.success(request, f"{move.shade}: {move.left_g:g} g{off}.")
    following = count_page(person, shade_id).following
    return redirect("count:counting", following.pk) if following else redirect("shelf:shelf")


@require_safe
def weight(request: HttpRequest, shade_id: int) -> HttpResponse:
    """The scale's weight alone, asked for again and again."""
    return render(request, "pour/_counted.html", {"page": count_page(signed_in(request), shade_id)})


@require_POST
def pan(request: HttpRequest, shade_id: int) -> HttpResponse:
    """The simulated scale: put something on, tare, or tell it what to do wrong."""
    person = signed_in(request)
    get_object_or_404(Shade.objects.visible_to(person), pk=shade_id)
    try:
        act_on_pan(person, request.POST, now=timezone.now())
    except Refusal as refusal:
        return _show(request, shade_id, refusal=refusal)
    return redirect("count:counting", shade_id)


def _show(
    request: HttpRequest, shade_id: int, *, form: CountForm | None = None, refusal: Refusal | None = None
) -> HttpResponse:
    page = count_page(signed_in(request), shade_id, refusal=refusal)
    context = {"page": page, "full_tubes": form.data.get("full_tubes", "") if form else "", "form": form}
    return render(request, "pour/count.html", context, status=422 if form or refusal else 200)
