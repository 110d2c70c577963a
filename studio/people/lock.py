"""A tablet that nobody has touched for a while shows the lock screen, and nothing else."""

import datetime
from collections.abc import Callable
from typing import Final
from urllib.parse import urlencode, urlsplit

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person
from studio.ui.http import wants_fragment
from studio.ui.views import signed_out

OPEN_WHILE_LOCKED: Final = frozenset(
    {"chairs:locked", "chairs:unlock", "chairs:come-off", "chairs:lock", "sign-out", "tablet-worker", "app", "away"}
)


class Lock:
    """Leads to the lock screen while a session is locked; a page that is open already is told it is signed out."""

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
        """The lock screen, or the view. Its script waits for a new sign-in as after a session that ended."""
        if not isinstance(request.user, Person) or not _is_locked(request, request.user):
            return None
        met = request.resolver_match
        if met and met.view_name in OPEN_WHILE_LOCKED:
            return None
        if wants_fragment(request) or (met and met.view_name == "pulse"):
            return signed_out(request)
        is_page = request.method in ("GET", "HEAD")
        back = request.get_full_path() if is_page else urlsplit(request.headers.get("Referer", "")).path or "/"
        return redirect(f"{reverse('chairs:locked')}?{urlencode({'next': back})}")


def _is_locked(request: HttpRequest, person: Person) -> bool:
    session, now = request.session, timezone.now()
    alone = datetime.timedelta(minutes=person.lock_min)
    if alone and session.left_alone_for(now) > alone:  # type: ignore[attr-defined]
        session.lock(now)  # type: ignore[attr-defined]
    return bool(session.is_locked)  # type: ignore[attr-defined]
