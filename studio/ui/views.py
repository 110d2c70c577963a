"""Pages for what went wrong."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """The page for an address that leads nowhere, or to another studio's records."""
    return render(request, "ui/not_found.html", status=404)


def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    """The page for a refusal that no page of its own has shown."""
    return render(request, "ui/refused.html", {"error_words": refusal_words(refusal)}, status=422)


def broken(request: HttpRequest) -> HttpResponse:
    """The page for a fault of ours."""
    return render(request, "ui/broken.html", status=500)
