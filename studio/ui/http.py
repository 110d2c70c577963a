"""Small pieces of request and response that every view needs."""

from collections.abc import Callable
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from studio.accounts.models import Person
from studio.ui.refusal import Refusal
from studio.ui.views import not_found, refused


def signed_in(request: HttpRequest) -> Person:
    """The person who asks; LoginRequiredMiddleware has turned everyone else away."""
    if not isinstance(request.user, Person):
        raise TypeError("a view that needs a person was reached without one")
    return request.user


def wants_fragment(request: HttpRequest) -> bool:
    """Whether htmx asks, and will swap a part of the page."""
    return request.headers.get("HX-Request") == "true"


class StudioTime:
    """Days and hours on a page are those of the person's own studio; the database keeps moments in UTC."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer in the studio's time; a zone that this machine does not know is told in UTC."""
        name = request.user.studio.time_zone if isinstance(request.user, Person) else "UTC"
        try:
            zone = ZoneInfo(name)
        except (ZoneInfoNotFoundError, ValueError):
            zone = ZoneInfo("UTC")
        with timezone.override(zone):
            return self.get_response(request)


class MissingRowIsNotFound:
    """Selectors see only the person's own studio, so a row that is missing or a stranger's is a 404 alike."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on."""
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """The not-found page for a row that does not exist, and words for a refusal that no page has shown; None lets
        other faults go their way.
        """
        if isinstance(exception, Refusal):
            return refused(request, exception)
        return not_found(request, exception) if isinstance(exception, ObjectDoesNotExist) else None
