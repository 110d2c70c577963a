"""The next visit as iCalendar. Source: [RFC5545]."""

import datetime

from icalendar import Calendar, Event

from studio.cards.models import HomeCare


def next_visit(care: HomeCare, *, now: datetime.datetime) -> bytes:
    """A calendar with the next visit as an event of a whole day, or at the hour at which this one began."""
    visit = care.visit
    calendar, event = Calendar(), Event()
    calendar.add("prodid", "-//Rainshade//next visit//EN")
    calendar.add("version", "2.0")
    event.add("uid", f"visit-{visit.pk}-next@rainshade.invalid")
    event.add("dtstamp", now)
    event.add("summary", f"{visit.client.name}: colour")
    begins = visit.plan.begins_at if hasattr(visit, "plan") else None
    if begins and care.next_on:
        start = datetime.datetime.combine(care.next_on, begins)
        event.add("dtstart", start)
        event.add("dtend", start + datetime.timedelta(hours=2))
    elif care.next_on:
        event.add("dtstart", care.next_on)
    event.add("location", f"{visit.client.studio.name}, {visit.client.studio.town}".strip(", "))
    calendar.add_component(event)
    return bytes(calendar.to_ical())
