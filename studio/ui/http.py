"""Small pieces of request and response that every view needs."""

from typing import Final

from django.http import HttpRequest
from django.views.decorators.http import require_http_methods

from studio.accounts.models import Person

# A page that is also changed at its own address. HEAD is a GET without its body.
page_and_change: Final = require_http_methods(["GET", "HEAD", "POST"])


def signed_in(request: HttpRequest) -> Person:
    """The person who asks; the middleware has turned everyone else away."""
    if not isinstance(request.user, Person):
        raise TypeError("a view that needs a person was reached without one")
    return request.user


def wants_fragment(request: HttpRequest) -> bool:
    """Whether htmx asks, and will swap a part of the page."""
    return request.headers.get("HX-Request") == "true"
