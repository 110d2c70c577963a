"""Days as people write them."""

import datetime

from django.utils import timezone
from django.utils.formats import date_format

from engine.language import say


def day_words(day: datetime.date) -> str:
    """A day, or that of a moment in the studio's time."""
    return date_format(_local(day), say("j M Y"))


def moment_words(at: datetime.datetime) -> str:
    """A moment with its hour."""
    return date_format(_local(at), say("j M Y, H:i"))


def _local(day: datetime.date) -> datetime.date:
    return timezone.localtime(day) if isinstance(day, datetime.datetime) and timezone.is_aware(day) else day
