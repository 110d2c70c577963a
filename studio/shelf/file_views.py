"""A line as a file: sent out, looked at, and taken in."""

import json
import secrets
from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_safe

from engine.language import counted
from studio.accounts.services.once import made_once
from studio.shelf.forms import LineFileForm
from studio.shelf.ladders import ladders_of
from studio.shelf.line_file import LineFile, line_document, read_line
from studio.shelf.list_in import COLUMNS, WrongRow
from studio.shelf.list_page import SEEN_ON
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, colour_lines, stocked_line
from studio.shelf.services.line_files import take_line, take_shelf
from studio.shelf.shelf_file import NEW, shelf_document, shelf_in, told_shelf
from studio.ui.files import a_file
from studio.ui.http import csv_answer, page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
def line_json(request: HttpRequest, line_id: int) -> HttpResponse:
    """A line with all that is known of its tubes, for another studio."""
    stocked = _own(request, line_id)
    answer = JsonResponse(line_document(stocked), json_dumps_params={"indent": 2, "ensure_ascii": False})
    answer.headers["Content-Disposition"] = f'attachment; filename="{_file_name(stocked.line)}.json"'
    return answer


@require_safe
def line_csv(request: HttpRequest, line_id: int) -> HttpResponse:
    """A line as a list that can be pasted back: what is written on its tubes, and what they cost."""
    stocked = _own(request, line_id)
    line = stocked.line
    rows = [
        [
            shade.name,
            shade.code,
            "" if shade.level is None else f"{float(shade.level):g}",
            shade.tones.replace(",", ""),
            f"{float(line.tube_g):g}",
            shade.tube_price,
        ]
        for shade in stocked.shades
        if not shade.off_shelf
    ]
    return csv_answer(_file_name(line), [COLUMNS, *rows])


@page_and_change
def take(request: HttpRequest) -> HttpResponse:
    """Choose a line's file; see what it says; put it on the shelf."""
    if request.method != "POST":
        return _show(request, LineFileForm())
    form = LineFileForm(request.POST, request.FILES)
    if not form.is_valid():
        return _show(request, form, status=422)
    if (document := shelf_in(form.cleaned_data["text"])) is not None:
        return _take_shelf(request, form, document)
    told, wrong = read_line(form.cleaned_data["text"])
    if told is None or "take" not in request.POST:
        return _show(request, form, told=told, wrong=wrong, status=422 if wrong else 200)
    person, given = signed_in(request), form.cleaned_data
    try:
        made = made_once(
            person,
            request.POST.get("token", ""),
            lambda: take_line(person, told, name=given["line_name"], is_here=given["is_here"]),
        )
    except Refusal as refusal:
        return _show(request, form, told=told, refusal=refusal, status=422)
    if made is None:
        return redirect("shelf:shelf")
    return redirect(reverse("shelf:shelf", query={"taken": made.pk}))


@require_safe
def shelf_json(request: HttpRequest) -> HttpResponse:
    """Every line of colour as one file, for another studio, or to be compared with."""
    text = json.dumps(shelf_document(signed_in(request)), indent=1, ensure_ascii=False)
    return a_file(text, "application/json", "shelf.json")


def _take_shelf(request: HttpRequest, form: LineFileForm, document: Mapping[str, Any]) -> HttpResponse:
    """What a shelf's file says, and once that was seen, the lines that are not here."""
    person = signed_in(request)
    lines, wrong = told_shelf(person, document)
    new = [each.file for each in lines if each.stands == NEW]
    refusal = None
    if new and "take" in request.POST:
        try:
            made_once(
                person,
                request.POST.get("token", ""),
                lambda: take_shelf(person, new, is_here=form.cleaned_data["is_here"]),
            )
        except Refusal as refused:
            refusal = refused
        else:
            messages.success(
                request, counted("{count} line is on the shelf.", "{count} lines are on the shelf.", len(new))
            )
            return redirect("shelf:shelf")
    context = {
        "form": form,
        "text": form.cleaned_data["text"],
        "lines": lines,
        "new": len(new),
        "is_here": "take" not in request.POST or "is_here" in request.POST,
        "wrong": wrong,
        "token": secrets.token_hex(8),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/take_shelf.html", context, status=422 if wrong or refusal else 200)


def _own(request: HttpRequest, line_id: int) -> StockedLine:
    """Raises ShadeLine.DoesNotExist for another studio's line, and for lightener, which colours nothing."""
    return stocked_line(colour_lines(signed_in(request)).get(pk=line_id))


def _file_name(line: ShadeLine) -> str:
    return slugify(line.name) or f"line-{line.pk}"


def _show(
    request: HttpRequest,
    form: LineFileForm,
    *,
    told: LineFile | None = None,
    wrong: tuple[WrongRow, ...] = (),
    refusal: Refusal | None = None,
    status: int = 200,
) -> HttpResponse:
    ladders = ladders_of(SEEN_ON, tuple(tube.shade for tube in told.tubes)) if told else []
    typed = request.POST.get("line_name", "") if "take" in request.POST else told.name if told else ""
    context = {
        "form": form,
        "told": told,
        "text": form.cleaned_data.get("text", "") if told else "",
        "rows": list(zip(told.tubes, ladders, strict=True)) if told else [],
        "line_name": typed,
        "is_here": "take" not in request.POST or "is_here" in request.POST,
        "wrong": wrong,
        "token": secrets.token_hex(8),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/take.html", context, status=status)
