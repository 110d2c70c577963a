"""Small pieces of request and response that every view needs."""

from collections.abc import Callable

from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse

from studio.accounts.models import Person
from studio.ui.views import not_found


def signed_in(request: HttpRequest) -> Person:
    """The person who asks; LoginRequiredMiddleware has turned everyone else away."""
    if not isinstance(request.user, Person):
        raise TypeError("a view that needs a person was reached without one")
    return request.user


def wants_fragment(request: HttpRequest) -> bool:
    """Whether htmx asks, and will swap a part of the page."""
    return request.headers.get("HX-Request") == "true"


class MissingRowIsNotFound:
    """Selectors see only the person's own studio, so a row that is missing or a stranger's is a 404 alike."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on."""
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """The not-found page for a row that does not exist; None lets other faults go their way."""
        return not_found(request, exception) if isinstance(exception, ObjectDoesNotExist) else None
