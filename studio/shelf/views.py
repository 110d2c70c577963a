"""The shelf and its tubes."""

import secrets

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.shelf.forms import TubeForm
from studio.shelf.models import Shade, TubeList
from studio.shelf.page import CANVASES, SHOWING, SHOWN_ON, shelf_page
from studio.shelf.services.own_tubes import put_back, set_tube, take_off
from studio.shelf.stock_forms import CountForm, DeliveryForm, SpillForm
from studio.shelf.tube_page import tube_page
from studio.ui.http import page_and_change, signed_in, wants_fragment
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
def shelf(request: HttpRequest) -> HttpResponse:
    """All lines with their tubes, narrowed by words and by what is asked of them."""
    return show_shelf(request)


def show_shelf(request: HttpRequest, refusal: Refusal | None = None) -> HttpResponse:
    """The Shelf as a page, or its lines for htmx. taken in the address: a list that may be taken back."""
    person, asked = signed_in(request), request.GET
    level = next((each for each in CANVASES if str(each) == asked.get("on")), SHOWN_ON)
    showing = next((name for name, _ in SHOWING if name == asked.get("show")), "")
    taken = asked.get("taken", "")
    lists = TubeList.objects.visible_to(person).filter(pk=taken if taken.isdecimal() and len(taken) < 10 else 0)
    page = shelf_page(
        person,
        level=level,
        words=asked.get("q", "")[:80],
        showing=showing,
        taken=lists.select_related("line").first(),
        error_words=refusal_words(refusal) if refusal else "",
    )
    template = "shelf/_lines.html" if wants_fragment(request) else "shelf/shelf.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)


@page_and_change
def tube(request: HttpRequest, shade_id: int) -> HttpResponse:
    """One tube: how it looks, how well it is known, and what is written on it, which can be set."""
    person = signed_in(request)
    if request.method != "POST":
        return show_tube(request, shade_id)
    form = TubeForm(request.POST, instance=Shade.objects.visible_to(person).get(pk=shade_id))
    if not form.is_valid():
        return show_tube(request, shade_id, form=form)
    try:
        set_tube(person, shade_id=shade_id, says=form.cleaned_data)
    except Refusal as refusal:
        return show_tube(request, shade_id, form=form, refusal=refusal)
    messages.success(request, say("{cleaned_data}: kept.", cleaned_data=form.cleaned_data["name"]))
    return redirect("shelf:tube", shade_id)


@require_POST
def off(request: HttpRequest, shade_id: int) -> HttpResponse:
    """Take a tube off the shelf, or put it on again."""
    person = signed_in(request)
    if "back" in request.POST:
        shade = put_back(person, shade_id=shade_id)
        messages.success(request, say("{shade} is on the shelf again, and empty: count it.", shade=shade))
        return redirect("shelf:tube", shade_id)
    kept = take_off(person, shade_id=shade_id)
    said = (
        say("{kept} is off the shelf; bowls and cards keep it.", kept=kept)
        if kept
        else say("The tube is off the shelf.")
    )
    messages.success(request, said)
    return redirect(reverse("shelf:shelf"))


def show_tube(
    request: HttpRequest,
    shade_id: int,
    *,
    form: TubeForm | None = None,
    stock_form: forms.Form | None = None,
    refusal: Refusal | None = None,
) -> HttpResponse:
    """A tube's page; a form that was refused keeps what was typed in it."""
    page = tube_page(signed_in(request), shade_id)
    forms_of_stock = (DeliveryForm, CountForm, SpillForm)
    delivery, count, spill = (stock_form if isinstance(stock_form, each) else each() for each in forms_of_stock)
    context = {
        "page": page,
        "form": form or TubeForm(instance=page.shade),
        "delivery": delivery,
        "count": count,
        "spill": spill,
        "token": secrets.token_hex(8),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/tube.html", context, status=422 if form or stock_form else 200)
