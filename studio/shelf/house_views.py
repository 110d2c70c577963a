"""House rules: the studio's schools and stops, and what its lines' packs ask for."""

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from engine.language import say
from studio.shelf.effects import house_effects
from studio.shelf.forms import HouseForm, LineForm
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import lines_of
from studio.shelf.services.set_house import set_line, set_rules
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@page_and_change
def house(request: HttpRequest) -> HttpResponse:
    """The house's rules; changed by a licensed hand."""
    if request.method != "POST":
        return _show(request)
    form = HouseForm(request.POST, instance=signed_in(request).studio)
    if not form.is_valid():
        return _show(request, rules=form)
    try:
        set_rules(signed_in(request), rules=form.cleaned_data)
    except Refusal as refusal:
        return _show(request, refusal=refusal)
    messages.success(request, say("The house's rules are kept."))
    return redirect("shelf:house")


@require_POST
def line(request: HttpRequest, line_id: int) -> HttpResponse:
    """What one line's pack asks for."""
    person = signed_in(request)
    form = LineForm(request.POST, instance=ShadeLine.objects.visible_to(person).get(pk=line_id))
    if not form.is_valid():
        return _show(request, of_line=(line_id, form))
    try:
        set_line(person, line_id=line_id, says=form.cleaned_data)
    except Refusal as refusal:
        return _show(request, of_line=(line_id, form), refusal=refusal)
    messages.success(request, say("{name}: kept.", name=form.instance.name))
    return redirect("shelf:house")


def _show(
    request: HttpRequest,
    *,
    rules: forms.BaseForm | None = None,
    of_line: tuple[int, forms.BaseForm] | None = None,
    refusal: Refusal | None = None,
) -> HttpResponse:
    """The page; a form that was refused keeps what was typed in it."""
    person = signed_in(request)
    typed = dict([of_line]) if of_line else {}
    context = {
        "rules": rules or HouseForm(instance=person.studio),
        "effects": house_effects(person.studio),
        "lines": [
            (line, typed.get(line.pk) or LineForm(instance=line, auto_id=f"id_{line.pk}_%s"))
            for line in lines_of(person)
        ],
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/house.html", context, status=422 if rules or of_line or refusal else 200)
