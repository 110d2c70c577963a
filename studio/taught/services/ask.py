"""Ask the worker to learn what a studio's results say by now."""

import logging
from typing import Final

from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued, ProcrastinateException

LEARN: Final = "learn"  # the task's name; `studio.learning.tasks` does it
_log = logging.getLogger(__name__)


def ask_to_learn(studio_id: int) -> None:
    """Once the change that asks is there to be seen: one that waits already will see it, too.

    A change that was kept is no reason to fail: should the asking, a worker asks at night.
    """
    transaction.on_commit(lambda: _defer(studio_id))


def _defer(studio_id: int) -> None:
    lock = f"{LEARN} {studio_id}"
    try:
        app.configure_task(LEARN, lock=lock, queueing_lock=lock).defer(studio_id=studio_id)
    except AlreadyEnqueued:
        return
    except ProcrastinateException:
        _log.exception("learning could not be asked for")
