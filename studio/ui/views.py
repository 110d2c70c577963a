"""Pages for what went wrong."""

import sys

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from studio.ui.places import near
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """The page for an address that leads nowhere, or to another studio's records."""
    return render(request, "ui/not_found.html", {"near": near(request)}, status=404)


def refused(request: HttpRequest, refusal: Refusal, status: int = 422) -> HttpResponse:
    """The page for a refusal that no page of its own has shown."""
    told = {"error_words": refusal_words(refusal), "near": near(request, visit_stands=True)}
    return render(request, "ui/refused.html", told, status=status)


def signed_out(request: HttpRequest) -> HttpResponse:
    """The answer to a part of a page whose person is signed out; the page's script leads to the door and back."""
    return render(request, "ui/signed_out.html", status=401)


def forged(request: HttpRequest, reason: str = "") -> HttpResponse:
    """The page for a form whose token is not this session's: signed in anew elsewhere, as a rule."""
    return render(request, "ui/forged.html", {"near": near(request, visit_stands=True)}, status=403)


def broken(request: HttpRequest) -> HttpResponse:
    """The page for a fault of ours, or while the database rests."""
    resting = isinstance(sys.exc_info()[1], OperationalError | InterfaceError)
    told = {"resting": resting, "near": near(request, visit_stands=True)}
    answer = render(request, "ui/broken.html", told, status=503 if resting else 500)
    if resting:
        answer["Retry-After"] = "5"
    return answer
