"""The queue in the database that the worker takes its jobs from."""

from typing import Final

from asgiref.sync import async_to_sync
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.jobs import Status

WAITS: Final = (Status.TODO.value, Status.DOING.value)


def clear_up() -> int:
    """Take what a worker that died was at out of the queue: what it was to learn is asked for anew. Returns how many.

    One worker serves a database, so that when one starts none is at anything. A job that is being done holds its
    studio's lock, and none after it would ever begin.
    """
    left = list(ProcrastinateJob.objects.filter(status=Status.DOING.value).values_list("pk", flat=True))
    for job_id in left:
        async_to_sync(app.job_manager.finish_job_by_id_async)(job_id=job_id, status=Status.FAILED, delete_job=True)
    return len(left)


def is_learning(studio_id: int) -> bool:
    """Whether a studio's results are waiting to be learned from, or are being learned from. One query."""
    return ProcrastinateJob.objects.filter(status__in=WAITS, args__studio_id=studio_id).exists()
