"""The worker: it learns in the background, from the queue in the database."""

import os
import signal
import threading
import time
from typing import Any, Final

from django.core.management import BaseCommand, CommandParser
from procrastinate.contrib.django import app
from procrastinate.contrib.django.django_connector import DjangoConnector
from procrastinate.jobs import DeleteJobCondition

from studio.accounts.models import Studio
from studio.learning.services.queue import clear_up
from studio.taught.services.ask import ask_to_learn

PARENT_LOOKED_AT_S: Final = 2.0


def _end_with_its_parent() -> None:
    """Stop in order once whoever started it is gone, however that came."""
    parent = os.getppid()

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(PARENT_LOOKED_AT_S)
        os.kill(os.getpid(), signal.SIGTERM)

    threading.Thread(target=watch, daemon=True).start()


class Command(BaseCommand):
    """Work until stopped; what an earlier worker left half done is asked for anew, and so is every studio once."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """--once ends as soon as nothing waits."""
        parser.add_argument("--once", action="store_true", help="end as soon as nothing waits")

    def handle(self, *args: Any, **options: Any) -> None:
        """Clear up, ask, and work."""
        _end_with_its_parent()
        clear_up()
        for studio_id in Studio.objects.values_list("pk", flat=True):
            ask_to_learn(studio_id)
        connector = app.connector
        assert isinstance(connector, DjangoConnector)  # noqa: S101 - its Django app has made it
        with app.replace_connector(connector.get_worker_connector()) as working:
            once = options["once"]
            working.run_worker(wait=not once, install_signal_handlers=not once, delete_jobs=DeleteJobCondition.ALWAYS)
