"""How fast one person may ask: far faster than hands are, and slower than a script that holds the server up."""

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from studio.accounts.models import Person

KEPT_MOST: Final = 10_000  # people in one process


@dataclass
class Bucket:
    """What may be asked at once now, and since when."""

    left: float
    at_s: float


class Limit:
    """A bucket a person in each process, filled steadily; who empties it is told to wait. What is tapped then is kept.

    By the token bucket of RFC 2697 in its simplest form: a rate and a burst. The loads of pages that a scale or a fast
    hand makes stay under a fifth of it.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self._buckets: dict[int, Bucket] = {}
        self._lock = threading.Lock()

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or ask to wait."""
        if isinstance(request.user, Person) and not self._may(request.user.pk, time.monotonic()):
            answer = render(request, "people/too_fast.html", status=429)
            answer["Retry-After"] = "1"
            return answer
        return self.get_response(request)

    def _may(self, person_id: int, now_s: float) -> bool:
        with self._lock:
            if len(self._buckets) > KEPT_MOST:
                self._buckets.clear()
            bucket = self._buckets.setdefault(person_id, Bucket(settings.PERSON_BURST, now_s))
            gained = (now_s - bucket.at_s) * settings.PERSON_RATE
            bucket.left, bucket.at_s = min(settings.PERSON_BURST, bucket.left + gained), now_s
            if bucket.left < 1:
                return False
            bucket.left -= 1
            return True
