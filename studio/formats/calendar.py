"""The next visit as iCalendar. Source: [RFC5545]."""

import datetime
import zoneinfo

from icalendar import Calendar, Event

from studio.cards.models import HomeCare


def next_visit(care: HomeCare, *, now: datetime.datetime) -> bytes:
    """A calendar with the next visit as an event of a whole day, or at the hour at which this one began.

    Hours are the studio's own, with its time zone written into the file.
    """
    visit = care.visit
    studio = visit.client.studio
    calendar, event = Calendar(), Event()
    calendar.add("prodid", "-//Rainshade//next visit//EN")
    calendar.add("version", "2.0")
    event.add("uid", f"urn:uuid:{care.calendar_uid}")
    event.add("dtstamp", now.astimezone(datetime.UTC))
    event.add("summary", f"{visit.client.name}: colour")
    begins = visit.plan.begins_at if hasattr(visit, "plan") else None
    if begins and care.next_on:
        start = datetime.datetime.combine(care.next_on, begins, zoneinfo.ZoneInfo(studio.time_zone))
        event.add("dtstart", start)
        event.add("dtend", start + datetime.timedelta(hours=2))
    elif care.next_on:
        event.add("dtstart", care.next_on)
    event.add("location", f"{studio.name}, {studio.town}".strip(", "))
    calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())
