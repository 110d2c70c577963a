"""The practice room."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.service.roles import Act
from studio.practice.guesses import guesses_page
from studio.practice.models import Drill
from studio.practice.page import drill_page, learners_of, practice_page
from studio.practice.services.mentor import set_work, sign_off
from studio.practice.services.practise import LEFT, answer, begin, pour_in
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.views import refused
from studio.ui.words import refusal_words


@require_safe
def practice(request: HttpRequest) -> HttpResponse:
    """Where one stands in each skill."""
    page = practice_page(signed_in(request), timezone.localdate())
    return render(request, "practice/practice.html", {"page": page})


@require_safe
def guesses(request: HttpRequest) -> HttpResponse:
    """Who foresees best what comes out of a bowl."""
    return render(request, "practice/guesses.html", {"page": guesses_page(signed_in(request))})


@page_and_change
def mentor(request: HttpRequest) -> HttpResponse:
    """Where those stand who work here; set work to them and sign it off."""
    person, refusal = signed_in(request), None
    if not person.may(Act.SIGN):
        return refused(request, Refusal("not_mentor"))
    if request.method == "POST":
        way = sign_off if request.POST.get("way") == "sign" else set_work
        try:
            learner_id = whole_number(request.POST.get("of", ""), "of")
            way(person, person_id=learner_id, skill=request.POST.get("skill", ""), now=timezone.now())
        except Refusal as told:
            refusal = told
        else:
            return redirect("practice:mentor")
    page = {
        "learners": learners_of(person, timezone.localdate()),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "practice/mentor.html", page, status=422 if refusal else 200)


@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """Begin a drill of a skill, or go on with the one that was begun."""
    try:
        drill = begin(signed_in(request), skill=request.POST.get("skill", ""), now=timezone.now())
    except Refusal as refusal:
        return refused(request, refusal)
    return redirect("practice:drill", drill.pk)


@require_safe
def drill(request: HttpRequest, drill_id: int) -> HttpResponse:
    """A drill of one's own, or its answer."""
    return _show(request, drill_id)


@require_POST
def pour(request: HttpRequest, drill_id: int) -> HttpResponse:
    """One pour: shade and grams together, as its button has them."""
    shade, _, grams = request.POST.get("pour", "").partition(":")
    try:
        seen = whole_number(request.POST.get("seen", ""), "grams")
        pour_in(signed_in(request), drill_id=drill_id, shade=shade, typed=grams, seen=seen)
    except Refusal as refusal:
        return _show(request, drill_id, refusal)
    return redirect("practice:drill", drill_id)


@require_POST
def reply(request: HttpRequest, drill_id: int) -> HttpResponse:
    """The answer to a drill, or leave to see it."""
    given = LEFT if "leave" in request.POST else request.POST.get("given", "").strip()
    try:
        answer(signed_in(request), drill_id=drill_id, given=given, now=timezone.now())
    except Refusal as refusal:
        return _show(request, drill_id, refusal, given)
    return redirect("practice:drill", drill_id)


def _show(request: HttpRequest, drill_id: int, refusal: Refusal | None = None, typed: str = "") -> HttpResponse:
    person = signed_in(request)
    found = Drill.objects.visible_to(person).filter(person=person).get(pk=drill_id)
    page = drill_page(found, refusal, typed)
    return render(request, "practice/drill.html", {"page": page}, status=422 if refusal else 200)
