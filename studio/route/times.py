"""Minutes into a visit, and the time of day that they are."""

import datetime
from decimal import Decimal

from studio.ui.numbers import typed_number, typed_time
from studio.ui.refusal import Refusal


def time_at(begins_at: datetime.time | None, minutes: float) -> str:
    """The time of day so many minutes into the visit; nothing before it has a begin."""
    if begins_at is None:
        return ""
    moment = datetime.datetime.combine(datetime.date.min, begins_at) + datetime.timedelta(minutes=round(minutes))
    return f"{moment:%H:%M}"


def minutes_into(text: str, begins_at: datetime.time | None, field: str) -> Decimal | None:
    """How many minutes into the visit a typed time of day is, or as many as were typed; None for nothing.

    Raises Refusal not_a_time, not_a_number; before_begin for a time before the visit, or a visit without a begin.
    """
    if ":" not in text:
        return typed_number(text, field, example="30") if text else None
    at = typed_time(text, field)
    if at is None or begins_at is None or at < begins_at:
        raise Refusal("before_begin", field, begins=time_at(begins_at, 0) or "no time yet")
    return Decimal((at.hour - begins_at.hour) * 60 + at.minute - begins_at.minute)
