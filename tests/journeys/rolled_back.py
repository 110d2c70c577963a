"""A change is answered as ever and then undone, or held back, so that every button is pressed on the same state."""

from collections.abc import Callable
from dataclasses import dataclass

from django.db import transaction
from django.http import HttpRequest, HttpResponse

from studio.shelf.selectors import forget_lines

COOKIE = "rolled-back"


@dataclass
class Holding:
    """What is held back now: nothing, what would lead to another page, or everything. The page stays as it is."""

    pages: bool = False
    changes: bool = False
    leads_to: str = ""  # where a change that was answered leads

    def begin(self, *, changes: bool) -> None:
        """From now on."""
        self.pages, self.changes, self.leads_to = True, changes, ""

    def end(self) -> None:
        """Everything is answered again."""
        self.pages = self.changes = False

    def takes(self, request: HttpRequest) -> bool:
        """Whether a request is answered by nothing."""
        if request.headers.get("Sec-Fetch-Dest") == "image":
            return False
        is_led = request.get_full_path() == self.leads_to
        return self.changes or (self.pages and request.method == "GET" and not is_led)


HOLDING = Holding()  # the live server is a thread of the test's own process


class RolledBack:
    """Undoes for a browser that asks for it by a cookie; holds back what the census says."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and undo."""
        if HOLDING.takes(request):
            return HttpResponse(status=204)
        if COOKIE not in request.COOKIES:
            return self.get_response(request)
        with transaction.atomic():
            answer = self.get_response(request)
            transaction.set_rollback(True)
        if request.method == "POST":
            forget_lines()  # what was kept under a version that is no more
        HOLDING.leads_to = answer.headers.get("Location", "")
        return answer
