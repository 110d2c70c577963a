"""The queue in the database that workers take their jobs from."""

import datetime
from typing import Final

from django.db import transaction
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import ConnectorException, UniqueViolation
from procrastinate.jobs import Status
from procrastinate.sql import queries

from studio.cards.models import LaterLook, ZoneResult
from studio.taught.models import KnowledgeVersion

WAITS: Final = (Status.TODO.value, Status.DOING.value)
SILENT_S: Final = 30.0  # a worker that lives says so every ten seconds
MISSED_WITHIN: Final = datetime.timedelta(days=2)


def take_up() -> int:
    """Let what workers that died were at begin anew; returns how many jobs.

    Other workers go on with theirs: a worker counts as dead once it has said nothing for so long. A job holds its
    studio's lock while it is done, and none after it would ever begin; where the same is asked for already, that does.
    """
    queue = app.connector.get_sync_connector()
    asked = {"queue": None, "task_name": None, "seconds_since_heartbeat": SILENT_S}
    left = list(queue.execute_query_all(queries["select_stalled_jobs_by_heartbeat"], **asked))
    for job in left:
        try:
            with transaction.atomic():
                app.job_manager.retry_job_by_id(job_id=job["id"], retry_at=timezone.now())
        except UniqueViolation:
            ended = {"job_id": job["id"], "status": Status.FAILED.value, "delete_job": True}
            queue.execute_query(queries["finish_job"], **ended)
        except ConnectorException:  # another worker was faster
            continue
    return len(left)


def missed(now: datetime.datetime) -> set[int]:
    """The studios whose latest results are newer than what was learned from them last: their asking failed."""
    made = dict(KnowledgeVersion.objects.order_by("made_at").values_list("studio_id", "made_at"))
    found = set()
    for model in (ZoneResult, LaterLook):
        judged = model.objects.filter(judged_at__gt=now - MISSED_WITHIN)
        for studio_id, judged_at in judged.values_list("zone__visit__client__studio_id", "judged_at"):
            if studio_id not in made or made[studio_id] < judged_at:
                found.add(studio_id)
    return found


def is_learning(studio_id: int) -> bool:
    """Whether a studio's results are waiting to be learned from, or are being learned from. One query."""
    return ProcrastinateJob.objects.filter(status__in=WAITS, args__studio_id=studio_id).exists()
