"""What programs that watch the server read: how many requests, how they ended, and how long they took."""

import hmac
from typing import Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

SECONDS: Final = (0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 5.0)
METHODS: Final = frozenset({"GET", "HEAD", "POST", "OPTIONS"})
TOOK: Final = Histogram(
    "rainshade_request_seconds",
    "Seconds that requests took, by the name of the view, never by a path: those hold row numbers.",
    ("method", "view", "status"),
    buckets=SECONDS,
)


def note(request: HttpRequest, status: int, seconds: float) -> None:
    """Count a request that was answered."""
    met = request.resolver_match
    method = request.method if request.method in METHODS else "other"  # whoever asks may make one up
    TOOK.labels(method, met.view_name if met else "none", str(status)).observe(seconds)


def metrics(request: HttpRequest) -> HttpResponse:
    """All that is counted, of all workers, to who has the token; 404 for everybody else."""
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not settings.METRICS_TOKEN or not hmac.compare_digest(given.encode(), settings.METRICS_TOKEN.encode()):
        return HttpResponse(status=404)
    if not settings.METRICS_FOLDER:
        return HttpResponse(generate_latest(), content_type=CONTENT_TYPE_LATEST)
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return HttpResponse(generate_latest(registry), content_type=CONTENT_TYPE_LATEST)
