"""The page of keys for programs, and the description that programs are written by."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from studio.api.forms import KeyForm
from studio.api.models import ProgramKey
from studio.api.openapi import openapi
from studio.api.routes import api
from studio.api.services.keys import end_key, make_key
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words

MADE = "program key"  # in the session: the key that was made just now, shown once


@page_and_change
def programs(request: HttpRequest) -> HttpResponse:
    """Every key of the studio; a change makes one."""
    person, now, error_words = signed_in(request), timezone.now(), ""
    form = KeyForm(request.POST) if request.method == "POST" else KeyForm()
    if request.method == "POST" and form.is_valid():
        try:
            request.session[MADE] = make_key(person, now=now, **form.cleaned_data)
        except Refusal as refusal:
            error_words = refusal_words(refusal)
        else:
            return redirect("programs:programs")
    keys = ProgramKey.objects.visible_to(person).select_related("made_by__same_as", "ended_by__same_as")
    context = {
        "form": form,
        "keys": [(each, each.is_asleep(now.date())) for each in keys],
        "key": request.session.pop(MADE, ""),
        "base": request.build_absolute_uri("/api/1/"),
        "error_words": error_words,
    }
    return render(request, "api/programs.html", context, status=422 if form.errors or error_words else 200)


@require_POST
def end(request: HttpRequest, key_id: int) -> HttpResponse:
    """Nothing is read by a key any more."""
    end_key(signed_in(request), key_id=key_id, now=timezone.now())
    return redirect("programs:programs")


@login_not_required
@require_safe
def description(request: HttpRequest) -> JsonResponse:
    """What programs may ask for, as OpenAPI. It says nothing of any studio."""
    return JsonResponse(openapi(api), headers={"Cache-Control": "public, max-age=3600"})
