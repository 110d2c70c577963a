"""Next visits as iCalendar. Source: [RFC5545]."""

import datetime
import zoneinfo
from collections.abc import Iterable
from typing import Final

from icalendar import Calendar, Event

from studio.accounts.models import Studio
from studio.cards.models import HomeCare
from studio.visits.models import Visit

BEFORE: Final = datetime.timedelta(days=30)  # how long a feed goes on telling of a day that is past
READ_AGAIN: Final = datetime.timedelta(hours=1)  # how often calendars are asked to look


def next_visit(care: HomeCare, *, now: datetime.datetime) -> bytes:
    """A calendar with the next visit as an event of a whole day, or at the hour at which this one began.

    Hours are the studio's own, with its time zone written into the file.
    """
    calendar = _calendar("next visit")
    calendar.add_component(_event(care, now))
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def feed(studio: Studio, *, today: datetime.date) -> bytes:
    """A studio's next visits, for a calendar that reads them again and again. Two queries.

    Of a client who came since, the day that was set before tells nothing any more. Its moments hang on the rows alone,
    so that the same visits make the same file. Source of what asks to be read again: [RFC7986].
    """
    calendar = _calendar("next visits")
    calendar.add("name", f"{studio.name}: next visits")
    calendar.add("refresh-interval", READ_AGAIN, parameters={"VALUE": "DURATION"})
    for care in _coming(studio, today):
        calendar.add_component(_event(care, datetime.datetime.combine(care.visit.day, datetime.time(), datetime.UTC)))
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _coming(studio: Studio, today: datetime.date) -> Iterable[HomeCare]:
    set_days = HomeCare.objects.filter(visit__client__studio=studio, next_on__gte=today - BEFORE)
    newest: dict[int, HomeCare] = {}
    for care in set_days.select_related("visit__client__studio", "visit__plan").order_by("visit__day", "pk"):
        newest[care.visit.client_id] = care
    came = {
        visit.client_id: visit.day
        for visit in Visit.objects.filter(client__in=newest).order_by("day").only("client_id", "day")
    }
    return [care for client, care in newest.items() if came[client] <= care.visit.day]


def _calendar(of: str) -> Calendar:
    calendar = Calendar()
    calendar.add("prodid", f"-//Rainshade//{of}//EN")
    calendar.add("version", "2.0")
    return calendar


def _event(care: HomeCare, stamp: datetime.datetime) -> Event:
    visit = care.visit
    studio = visit.client.studio
    event = Event()
    event.add("uid", f"urn:uuid:{care.calendar_uid}")
    event.add("dtstamp", stamp.astimezone(datetime.UTC))
    event.add("summary", f"{visit.client.name}: colour")
    begins = visit.plan.begins_at if hasattr(visit, "plan") else None
    if begins and care.next_on:
        start = datetime.datetime.combine(care.next_on, begins, zoneinfo.ZoneInfo(studio.time_zone))
        event.add("dtstart", start)
        event.add("dtend", start + datetime.timedelta(hours=2))
    elif care.next_on:
        event.add("dtstart", care.next_on)
    event.add("location", f"{studio.name}, {studio.town}".strip(", "))
    return event
