"""The worker: it learns in the background, from the queue in the database."""

import os
import signal
import threading
import time
from typing import Any, Final

from django.core.management import BaseCommand, CommandParser
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.django_connector import DjangoConnector
from procrastinate.jobs import DeleteJobCondition

from studio.accounts.models import Studio
from studio.learning.services.queue import missed, take_up
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
    """Work until stopped, beside any others; what a worker that died left half done begins anew."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """--once ends as soon as nothing waits; --all learns anew for every studio first, as a new release may."""
        parser.add_argument("--once", action="store_true", help="end as soon as nothing waits")
        parser.add_argument("--all", action="store_true", help="ask for every studio: a release may learn otherwise")

    def handle(self, *args: Any, **options: Any) -> None:
        """Clear up, ask, and work."""
        _end_with_its_parent()
        take_up()
        everybody = Studio.objects.values_list("pk", flat=True)
        for studio_id in everybody if options["all"] else missed(timezone.now()):
            ask_to_learn(studio_id)
        connector = app.connector
        assert isinstance(connector, DjangoConnector)  # noqa: S101 - its Django app has made it
        with app.replace_connector(connector.get_worker_connector()) as working:
            once = options["once"]
            working.run_worker(wait=not once, install_signal_handlers=not once, delete_jobs=DeleteJobCondition.ALWAYS)
