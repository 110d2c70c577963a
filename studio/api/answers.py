"""How programs are answered: JSON with an ETag, or a problem."""

import hashlib
import json
from typing import Any, Final

from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.utils.cache import get_conditional_response
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, Throttled, ValidationError
from ninja.security import HttpBearer
from ninja.throttling import BaseThrottle

from studio.accounts.models import Person
from studio.api.models import ProgramKey
from studio.api.problems import problem
from studio.api.services.keys import opened, seconds_to_wait

KEPT: Final = "private, no-cache"  # by the program itself, which asks each time whether it is still so


class Key(HttpBearer):
    """A key in the header. Source: [RFC6750], section 2.1."""

    def authenticate(self, request: HttpRequest, token: str) -> ProgramKey | None:
        """The key's row, with this request counted; None for one that opens nothing."""
        return opened(token, now=timezone.now())


class PerMinute(BaseThrottle):
    """As often a minute as the key's owner lets it ask, counted in the database: for all servers together."""

    def allow_request(self, request: HttpRequest) -> bool:
        """Whether it may ask now."""
        return seconds_to_wait(key_of(request), now=timezone.now()) == 0

    def wait(self) -> float:
        """Seconds until its next minute begins."""
        return 60 - timezone.now().second


def key_of(request: HttpRequest) -> ProgramKey:
    """The key that a request has shown. Raises TypeError where no key was asked for."""
    found = getattr(request, "auth", None)
    if not isinstance(found, ProgramKey):
        raise TypeError("a program was answered without a key")
    return found


def reader(request: HttpRequest, may: str) -> Person:
    """In whose place a program reads: who made its key. Raises HttpError 403 for what the key may not read."""
    key = key_of(request)
    if not key.allows(may):
        raise HttpError(403, f"this key reads {', '.join(key.may)}: {may} is none of it")
    return key.made_by


def answered(request: HttpRequest, told: Any) -> HttpResponseBase:
    """As JSON, or 304 for a program that has just that already. Source: [RFC9110], section 13."""
    body = json.dumps(told, ensure_ascii=False, separators=(",", ":"), allow_nan=False).encode()
    etag = f'"{hashlib.sha256(body).hexdigest()[:32]}"'
    headers = {"ETag": etag, "Cache-Control": KEPT}
    answer = HttpResponse(body, content_type="application/json", headers=headers)
    return get_conditional_response(request, etag=etag, response=answer) or answer


def explain_problems(api: NinjaAPI) -> None:
    """What an address raises is told as a problem."""

    @api.exception_handler(AuthenticationError)
    def _(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        told = problem(401, "Show a key that is open in the header 'Authorization: Bearer KEY'.")
        told["WWW-Authenticate"] = 'Bearer realm="Rainshade"'
        return told

    @api.exception_handler(Throttled)
    def _(request: HttpRequest, error: Throttled) -> HttpResponse:
        told = problem(429, f"This key may ask {key_of(request).per_minute} times a minute.")
        told["Retry-After"] = str(seconds_to_wait(key_of(request), now=timezone.now()) or 1)
        return told

    @api.exception_handler(HttpError)
    def _(request: HttpRequest, error: HttpError) -> HttpResponse:
        return problem(error.status_code, error.message)

    @api.exception_handler(ValidationError)
    def _(request: HttpRequest, error: ValidationError) -> HttpResponse:
        wrong = [{"field": str(each["loc"][-1]), "message": str(each["msg"])} for each in error.errors]
        return problem(422, "; ".join(f"{each['field']}: {each['message']}" for each in wrong), errors=wrong)

    @api.exception_handler(ObjectDoesNotExist)
    def _(request: HttpRequest, error: ObjectDoesNotExist) -> HttpResponse:
        return problem(404, "Nothing of this studio is known by that UUID.")
