"""What we learned."""

from collections.abc import Callable

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from studio.learning.page import learned_page
from studio.learning.services.queue import is_learning
from studio.learning.services.set import mend, set_client_teaches, set_learns, set_teaches, unmend
from studio.ui.http import signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words

LEARNS_ANEW = "It is learned anew in the background: forecasts follow in a moment."


@require_safe
def learned(request: HttpRequest) -> HttpResponse:
    """How far forecasts lay off on the first day and now, record by record."""
    return render(request, "learning/learned.html", {"page": learned_page(signed_in(request))})


@require_safe
def learning(request: HttpRequest) -> HttpResponse:
    """Whether it is being learned: asked now and then; once it is done the page comes anew."""
    if is_learning(signed_in(request).studio_id):
        return HttpResponse(status=204)
    return HttpResponse(headers={"HX-Refresh": "true"})


@require_POST
def switch(request: HttpRequest) -> HttpResponse:
    """Whether results teach at all."""
    learns = request.POST.get("learns") == "1"
    set_learns(signed_in(request), learns=learns)
    messages.success(request, LEARNS_ANEW if learns else "Forecasts are made by the engine's own physics again.")
    return redirect("learning:learned")


@require_POST
def record(request: HttpRequest, key: str) -> HttpResponse:
    """Whether one record teaches; or that it is what it most likely was, or as its card has it."""
    acts: dict[str, Callable[[], None]] = {
        "leave": lambda: set_teaches(signed_in(request), key=key, teaches=False),
        "take": lambda: set_teaches(signed_in(request), key=key, teaches=True),
        "mend": lambda: mend(signed_in(request), key=key),
        "unmend": lambda: unmend(signed_in(request), key=key),
    }
    try:
        act = acts.get(request.POST.get("act", ""))
        if act is None:
            raise Refusal("lesson_gone")
        act()
        messages.success(request, LEARNS_ANEW)
    except Refusal as refusal:
        messages.error(request, refusal_words(refusal))
    return redirect("learning:learned")


@require_POST
def client(request: HttpRequest, client_id: int) -> HttpResponse:
    """Whether what comes out on a client's hair teaches."""
    found = set_client_teaches(signed_in(request), client_id=client_id, teaches=request.POST.get("teaches") == "1")
    messages.success(request, f"{found}: {LEARNS_ANEW[0].lower()}{LEARNS_ANEW[1:]}")
    return redirect("cards:card", client_id)
