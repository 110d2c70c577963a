"""What the worker does each night."""

from django.utils import timezone
from procrastinate.contrib.django import app

from studio.formats.services.housekeep import housekeep


@app.periodic(cron="20 3 * * *")
@app.task(name="housekeep", queueing_lock="housekeep")
def keep_house(timestamp: int) -> None:
    """Let go of what was kept long enough."""
    housekeep(timezone.now())
