"""Pages for what went wrong."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """The page for an address that leads nowhere, or to another studio's records."""
    return render(request, "ui/not_found.html", status=404)


def broken(request: HttpRequest) -> HttpResponse:
    """The page for a fault of ours."""
    return render(request, "ui/broken.html", status=500)
