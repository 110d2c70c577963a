"""A studio's calendar: the page that makes its address, and what calendars read by it."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.cache import get_conditional_response
from django.views.decorators.http import require_safe

from studio.formats.calendar import feed
from studio.formats.models import Feed
from studio.formats.services.feed import end_feed, hash_of, renew_feed
from studio.ui.http import page_and_change, signed_in

ADDRESS = "calendar address"  # in the session: what was made just now, shown once


@page_and_change
def calendar_page(request: HttpRequest) -> HttpResponse:
    """What the calendar is, and its address once it is made; a change makes it anew or ends it."""
    person = signed_in(request)
    if request.method == "POST":
        if request.POST.get("way") == "end":
            end_feed(person)
        else:
            key = renew_feed(person, now=timezone.now())
            request.session[ADDRESS] = request.build_absolute_uri(reverse("formats:feed", args=[key]))
        return redirect("formats:calendar-page")
    context = {
        "feed": Feed.objects.visible_to(person).select_related("made_by__same_as").first(),
        "address": request.session.pop(ADDRESS, ""),
    }
    return render(request, "formats/calendar.html", context)


@login_not_required
@require_safe
def visits_feed(request: HttpRequest, key: str) -> HttpResponse:
    """The next visits for who has the address; for everybody else there is nothing here."""
    found = get_object_or_404(Feed.objects.select_related("studio"), key_hash=hash_of(key))
    now = timezone.now()
    Feed.objects.filter(pk=found.pk).update(read_at=now)
    body = feed(found.studio, today=timezone.localdate(now))
    etag = f'"{hash_of(body.decode())[:32]}"'
    answer = HttpResponse(body, content_type="text/calendar; charset=utf-8", headers={"ETag": etag})
    return get_conditional_response(request, etag=etag, response=answer) or answer
