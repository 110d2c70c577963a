"""The lock screen: clocks without names, the two buttons that can't wait, and whose hand it is."""

import datetime

from django.conf import settings
from django.contrib.auth import login
from django.db.models import Q, prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST, require_safe

from studio.accounts.backends import shows_password
from studio.accounts.devices import known_here
from studio.accounts.models import Person
from studio.accounts.services.pin import check_pin, forget_guesses
from studio.clocks.seen import ClockSeen
from studio.clocks.selectors import running_clocks
from studio.clocks.services.note import it_stings
from studio.clocks.services.run import rinse
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.models import Visit


@require_POST
def lock(request: HttpRequest) -> HttpResponse:
    """Lock this tablet, by hand or because nobody touches it."""
    request.session.lock(timezone.now())  # type: ignore[attr-defined]
    return _to_lock(request)


@require_safe
@never_cache
def locked(request: HttpRequest) -> HttpResponse:
    """What may be seen of a locked tablet; the clocks are asked for again by the page itself."""
    if not request.session.is_locked:  # type: ignore[attr-defined]
        return redirect(_next(request))
    return _show(request)


@require_POST
def come_off(request: HttpRequest) -> HttpResponse:
    """It is rinsed, or it stings: nobody looks for a PIN then."""
    person, now = signed_in(request), timezone.now()
    clock_id = whole_number(request.POST.get("clock", ""), "clock")
    stings = "stings" in request.POST
    if person.works:
        (it_stings if stings else rinse)(person, clock_id=clock_id, now=now)  # said twice, the first counts
    return _show(request, stings=True) if stings else _to_lock(request)


@require_POST
def unlock(request: HttpRequest) -> HttpResponse:
    """By a PIN, or the password of who is signed in; another's PIN makes it that person's tablet."""
    person = signed_in(request)
    try:
        found = _shown_who_it_is(request)
    except Refusal as refusal:
        return _show(request, refusal)
    if found == person:
        request.session.unlock()  # type: ignore[attr-defined]
    else:
        login(request, found, backend=settings.AUTHENTICATION_BACKENDS[-1])
    return redirect(_next(request))


def hands_here(request: HttpRequest) -> list[Person]:
    """Who may open this tablet here: who is signed in first, then colleagues whom the machine knows and who have a PIN.

    One query.
    """
    person = signed_in(request)
    known = known_here(request)
    here = Person.objects.filter(Q(pk__in=known) | Q(same_as__in=known), studio=person.studio_id, is_active=True)
    others = here.exclude(pin="").exclude(pk=person.pk).select_related("same_as")
    return [person, *sorted(others, key=lambda each: known.index(each.same_as_id or each.pk), reverse=True)]


def _shown_who_it_is(request: HttpRequest) -> Person:
    """Raises Refusal hand_unknown, pin_wrong, pin_shut, word_wrong."""
    person, word = signed_in(request), request.POST.get("word", "")
    found = next((each for each in hands_here(request) if str(each.pk) == request.POST.get("who")), None)
    if found is None:
        raise Refusal("hand_unknown", "who")
    if found.pin and word.isdigit():
        check_pin(found, word)
        return found
    if found != person:
        raise Refusal("pin_wrong", "word")
    if not shows_password(request, found, word):
        raise Refusal("word_wrong", "word")
    forget_guesses(found)
    return found


def _show(request: HttpRequest, refusal: Refusal | None = None, *, stings: bool = False) -> HttpResponse:
    person, now = signed_in(request), timezone.now()
    clocks = _clocks_of_day(person, now)
    told = {
        "clocks": clocks,
        "now_ms": int(now.timestamp() * 1000),
        "calling": "alarm" if any(each.is_alarm for each in clocks) else "call",
        "is_calling": any(each.is_calling for each in clocks),
        "hands": hands_here(request),
        "next": _next(request),
        "error_words": refusal_words(refusal) if refusal else "",
        "locked": True,
        "stings": stings,
    }
    page = "chairs/_locked_clocks.html" if wants_fragment(request) else "chairs/locked.html"
    return render(request, page, told, status=422 if refusal else 200)


def _clocks_of_day(person: Person, now: datetime.datetime) -> list[ClockSeen]:
    """The clocks of today's heads, and of yesterday's that are on past midnight; the one that calls first on top."""
    since = timezone.localdate(now) - datetime.timedelta(days=1)
    visits = list(Visit.objects.visible_to(person).filter(day__gte=since).values_list("pk", flat=True))
    clocks = running_clocks(person, visits, now)
    prefetch_related_objects([each.clock.zone.visit for each in clocks], "colourist")
    return sorted(clocks, key=lambda each: (not each.is_alarm, not each.is_calling))


def _to_lock(request: HttpRequest) -> HttpResponse:
    return redirect(reverse("chairs:locked", query={"next": _next(request)}))


def _next(request: HttpRequest) -> str:
    asked = request.POST.get("next") or request.GET.get("next") or ""
    own = url_has_allowed_host_and_scheme(asked, allowed_hosts=None) and asked.startswith("/")
    return asked if own else reverse("chairs:chairs")
