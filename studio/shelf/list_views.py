"""A list of tubes: read, shown row by row, taken as one, and taken back as one."""

import secrets

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from engine.language import say
from studio.accounts.services.once import made_once
from studio.shelf.forms import ListForm
from studio.shelf.list_page import ListPage, line_of, list_page
from studio.shelf.selectors import lines_of
from studio.shelf.services.own_tubes import take_list, undo_list
from studio.shelf.views import show_shelf
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@page_and_change
def add(request: HttpRequest) -> HttpResponse:
    """Type or paste a list; see what it says; put it on the shelf."""
    person = signed_in(request)
    lines = lines_of(person)
    if request.method != "POST":
        return _show(request, ListForm(lines=lines, initial={"line": request.GET.get("line", "")}))
    form = ListForm(request.POST, lines=lines)
    if not form.is_valid():
        return _show(request, form, status=422)
    read = list_page(form.cleaned_data, form.lines)
    is_taken = "take" in request.POST and (not read.wrong or "leave_out" in request.POST)
    if not is_taken:
        return _show(request, form, read, status=422 if read.wrong else 200)
    try:
        line = line_of(form.cleaned_data, form.lines)
        made = made_once(
            person,
            request.POST.get("token", ""),
            lambda: take_list(person, line=line, tubes=read.read.tubes, tone_letters=form.cleaned_data["tone_letters"]),
        )
    except Refusal as refusal:
        return _show(request, form, read, refusal=refusal, status=422)
    if made is None:
        return redirect("shelf:shelf")
    return redirect(reverse("shelf:shelf", query={"taken": made.pk}))


@require_POST
def undo(request: HttpRequest, list_id: int) -> HttpResponse:
    """Take all tubes of a list off again; a second press finds it done."""
    person = signed_in(request)
    try:
        made_once(person, request.POST.get("token", ""), lambda: undo_list(person, list_id=list_id))
    except Refusal as refusal:
        return show_shelf(request, refusal)
    messages.success(request, say("The list is off the shelf again."))
    return redirect("shelf:shelf")


def _show(
    request: HttpRequest,
    form: ListForm,
    read: ListPage | None = None,
    *,
    refusal: Refusal | None = None,
    status: int = 200,
) -> HttpResponse:
    context = {
        "form": form,
        "page": read,
        "is_unsaid": "take" in request.POST,
        "token": secrets.token_hex(8),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/add.html", context, status=status)
