"""A change is answered as ever and then undone, so that every button of a page can be pressed on the same state."""

from collections.abc import Callable

from django.db import transaction
from django.http import HttpRequest, HttpResponse

COOKIE = "rolled-back"


class RolledBack:
    """For a browser that asks for it by a cookie."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and undo."""
        if COOKIE not in request.COOKIES:
            return self.get_response(request)
        with transaction.atomic():
            answer = self.get_response(request)
            transaction.set_rollback(True)
        return answer
