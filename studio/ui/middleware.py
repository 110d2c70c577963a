"""What happens to every request before and after its view."""

from collections.abc import Callable
from urllib.parse import urlsplit
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.contrib.auth.views import redirect_to_login
from django.contrib.sessions.middleware import SessionMiddleware
from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.utils.cache import patch_vary_headers

from studio.accounts.devices import machine_of
from studio.accounts.models import Person
from studio.ui.health import PAGES
from studio.ui.http import wants_fragment
from studio.ui.refusal import Refusal
from studio.ui.views import not_found, refused, signed_out

Answer = Callable[[HttpRequest], HttpResponse]
NUL = "\x00"


class Health:
    """Answers those who watch the server before anything that asks for a session, a person or a known host."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """A page of health, or the request's own way."""
        page = PAGES.get(request.path_info)
        return page(request) if page and request.method in ("GET", "HEAD") else self.get_response(request)


class KeepsCookie(SessionMiddleware):
    """Sessions, whose cookie goes when she signs out, and not when a session was found dead.

    A page that waits for a new sign-in asks again and again. Were each answer to take the cookie away, one that is late
    would take the cookie that another tab has just been given. What a page asks by itself is no touch of a hand.
    """

    def process_request(self, request: HttpRequest) -> None:
        """The session, which knows what kind of machine it is at."""
        super().process_request(request)
        request.session.machine = machine_of(request.headers.get("User-Agent", ""))  # type: ignore[attr-defined]

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """With the session's cookie if it changes, and without if it was emptied now."""
        session = request.session
        if request.method == "POST" or not wants_fragment(request):
            session.touch(timezone.now())  # type: ignore[attr-defined]
        if session.is_empty() and not session.modified:
            patch_vary_headers(response, ("Cookie",))
            return response
        return super().process_response(request, response)


class KeptByNobody:
    """No browser and no front keeps a page unless its view says so: "back" shows nothing after a sign-out or a lock."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, with a rule for those who would keep it."""
        answer = self.get_response(request)
        if "Cache-Control" not in answer:
            answer["Cache-Control"] = "private, no-store"
        return answer


class SignInFirst(LoginRequiredMiddleware):
    """Strangers are led to the door and back. A page that is open already is told, and keeps what it could not send."""

    def process_view(
        self,
        request: HttpRequest,
        view_func: Callable[..., HttpResponseBase],
        view_args: tuple[object, ...],
        view_kwargs: dict[str, object],
    ) -> HttpResponseBase | None:
        """The door for a page, 401 for a part of one: a door that is swapped into a page looks like an answer."""
        to_the_door = super().process_view(request, view_func, view_args, view_kwargs)
        if to_the_door is None:
            return None
        if wants_fragment(request):
            return signed_out(request)
        if request.method not in ("GET", "HEAD"):  # what was posted to shows nothing by itself: back to its page
            return redirect_to_login(urlsplit(request.headers.get("Referer", "")).path or "/")
        return to_the_door


class StudioTime:
    """Days and hours on a page are those of the person's own studio; the database keeps moments in UTC."""

    def __init__(self, get_response: Answer) -> None:
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


class NoNul:
    """No text that a person types holds the character NUL, and no text of the database can: it is refused at once."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Refuse a request whose address, query or form holds a NUL; files are for those who read them."""
        if NUL in request.path_info or _holds_nul(request.GET.lists()) or _holds_nul(request.POST.lists()):
            return refused(request, Refusal("nul"), status=400)
        return self.get_response(request)


class RefusalHasWords:
    """A row that is missing or another studio's is a 404 alike, and a refusal that no page has shown has its words."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on."""
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """The page of a refusal, or of a row that does not exist; None lets other faults go their way."""
        if isinstance(exception, Refusal):
            return refused(request, exception)
        return not_found(request, exception) if isinstance(exception, ObjectDoesNotExist) else None


def _holds_nul(lists: object) -> bool:
    return any(NUL in name or any(NUL in each for each in given) for name, given in lists)  # type: ignore[attr-defined]
