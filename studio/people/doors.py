"""Which pages are for whom: one table for every address, asked before any view."""

from collections.abc import Callable
from typing import Final

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import reverse
from django_htmx.http import HttpResponseClientRedirect

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.ui.http import wants_fragment
from studio.ui.refusal import Refusal
from studio.ui.views import refused
from studio.ui.words import refusal_words

# What everybody may open who is signed in: the day, who the clients are, and what is their own.
FOR_ALL: Final = frozenset(
    {
        *("chairs:chairs", "chairs:clashes", "cards:list", "cards:card", "clients:new"),
        *("chairs:lock", "chairs:locked", "chairs:unlock", "chairs:come-off"),
        *(
            "sign-in",
            "sign-out",
            "password",
            "you",
            "you-act",
            "pulse",
            "tablet-worker",
            "app",
            "away",
            "people:join",
            "people:begin",
        ),
        *("formats:feed", "openapi"),
    }
)
OWN: Final = ("account_", "mfa_")  # the package's pages: a person's own mail, password and second factor
# How somebody signs in is seen to in the studio where they came first.
OF_FIRST: Final = frozenset(
    {
        *("password", "account_email", "account_reauthenticate", "mfa_reauthenticate", "mfa_index"),
        *("mfa_activate_totp", "mfa_deactivate_totp", "mfa_view_recovery_codes", "mfa_generate_recovery_codes"),
    }
)
HANDED_OUT: Final = frozenset({"formats:everything", "formats:erase"})
HIRING: Final = frozenset({"people:people", "people:act", "trace:house", "formats:calendar-page"})
PROGRAMS: Final = "api:"  # what is read by a key, whoever else may be signed in at that browser
OWNED: Final = ("archives:", "programs:")  # pages of everything that a studio has
WORDS: Final = {Act.WORK: "not_for_desk", Act.HAND_OUT: "not_for_apprentice", Act.HIRE: "not_owner"}


def asks_for(name: str) -> Act | None:
    """What one must be allowed to do to open the address of a name; None for everybody who is signed in."""
    if name in FOR_ALL or name.startswith((*OWN, PROGRAMS)):
        return None
    if name in HIRING or name.startswith(OWNED):
        return Act.HIRE
    return Act.HAND_OUT if name in HANDED_OUT else Act.WORK


class Doors:
    """Refuses, in words, what is not for who asks: a role counts from the next tap on."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on."""
        return self.get_response(request)

    def process_view(
        self,
        request: HttpRequest,
        view_func: Callable[..., HttpResponseBase],
        view_args: tuple[object, ...],
        view_kwargs: dict[str, object],
    ) -> HttpResponse | None:
        """The page of the refusal, or the view. A page that is open already is left, and says why where it leads."""
        met = request.resolver_match
        act = asks_for(met.view_name) if met else None
        if met and met.view_name in OF_FIRST and isinstance(request.user, Person) and request.user.same_as_id:
            return refused(request, Refusal("not_of_first", first=request.user.who.studio), status=403)
        if act is None or not isinstance(request.user, Person) or request.user.may(act):
            return None
        refusal = Refusal(WORDS[act])
        if wants_fragment(request):  # with another status its script would wait for a new sign-in
            messages.error(request, refusal_words(refusal))
            return HttpResponseClientRedirect(reverse("chairs:chairs"))
        return refused(request, refusal, status=403)
