"""Machines that a person has signed in at before, so that wrong passwords of strangers never shut the door on them.

Failures are counted by name and by address apart. At a machine that knows the person they are counted for that machine
alone. After OWASP, "Slow Down Online Guessing Attacks with Device Cookies".
"""

import hashlib
import ipaddress
import secrets
from collections.abc import Mapping
from typing import Final

from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.forms import UsernameField
from django.core import signing
from django.http import HttpRequest, HttpResponse

from engine.language import later, say
from studio.accounts.models import Person

COOKIE: Final = "machine"
SALT: Final = "accounts.machine"
LASTS_S: Final = 365 * 24 * 3600
PEOPLE_MOST: Final = 12  # who share a tablet
OWN_NETWORK: Final = int(ipaddress.IPv6Address("fd00::"))  # addresses that nobody sends from


def machine_of(agent: str) -> str:
    """What kind of machine a browser says that it runs on."""
    if "Mobi" in agent:
        return later("a phone")
    return later("a tablet") if "Android" in agent or "iPad" in agent or "Tablet" in agent else later("a computer")


def remember(request: HttpRequest, answer: HttpResponse, person: Person) -> None:
    """Let this machine know a person who has just signed in, beside those that it knows."""
    known = [(pk, key) for pk, key in _known(request) if pk != person.pk][-(PEOPLE_MOST - 1) :]
    value = signing.dumps([*known, (person.pk, secrets.token_hex(8))], salt=SALT)
    answer.set_cookie(
        COOKIE, value, max_age=LASTS_S, httponly=True, samesite="Lax", secure=settings.SESSION_COOKIE_SECURE
    )


def known_here(request: HttpRequest) -> list[int]:
    """The people whom this machine knows, by row, who signed in last at the end."""
    return [pk for pk, _ in _known(request)]


def counted_name(request: HttpRequest, credentials: Mapping[str, str] | None) -> str:
    """Under which name a failure counts: at a machine that knows the person, under that machine's."""
    name = _typed(request, credentials)
    key = _key(request, name)
    return say("{name} at {key}", name=name[:200], key=key) if key else name[:255]


def counted_address(request: HttpRequest) -> str | None:
    """Under which address a failure counts: at a machine that knows the person, under one of its own."""
    key = _key(request, _typed(request, None))
    if not key:
        return request.META.get("REMOTE_ADDR")
    digest = hashlib.sha256(key.encode()).digest()
    return str(ipaddress.IPv6Address(OWN_NETWORK | int.from_bytes(digest[:14])))


def _typed(request: HttpRequest, credentials: Mapping[str, str] | None) -> str:
    """The name as the form reads it: without it two spellings of one name would be counted apart."""
    given = (credentials or {}).get("username") or request.POST.get("username") or ""
    return str(UsernameField(required=False, max_length=150).to_python(given))


def _key(request: HttpRequest, name: str) -> str:
    """What this machine knows a person by, nothing if it does not."""
    known = dict(_known(request))
    if not known or not name:
        return ""
    found = get_user_model().objects.filter(username=name[:150], pk__in=known).values_list("pk", flat=True).first()
    return known.get(found, "") if found is not None else ""


def _known(request: HttpRequest) -> list[tuple[int, str]]:
    """The people whom this machine knows, by row, as it was signed here."""
    try:
        held = signing.loads(request.COOKIES.get(COOKIE, ""), salt=SALT, max_age=LASTS_S)
        return [(int(pk), str(key)) for pk, key in held]
    except (signing.BadSignature, ValueError, TypeError):
        return []
