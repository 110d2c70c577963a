"""Everything the start command needs done in the application, in one process."""

import subprocess
from typing import Any

from django.conf import settings
from django.core.management import BaseCommand, CommandError, CommandParser, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from studio.accounts.models import Person, Studio
from studio.demo.load import load_demo
from studio.demo.season import load_season
from studio.demo.today import seat_today

DEMO_NAME = "lantern"


class Command(BaseCommand):
    """Migrate, collect static files, and load the demo data once."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """--reset throws all data away first."""
        parser.add_argument("--reset", action="store_true", help="throw all data away and load fresh demo data")
        parser.add_argument("--keep", help="the command that keeps what is there, before it is changed or thrown away")

    def handle(self, *args: Any, **options: Any) -> None:
        """Prepare the application to be served."""
        if options["keep"] and _is_about_to_change(reset=options["reset"]):
            kept = subprocess.run([options["keep"]], check=False)  # noqa: S603 - named by the start command
            if kept.returncode:
                raise CommandError("What is there could not be kept, and so it is neither changed nor thrown away.")
        if options["reset"]:
            with connection.cursor() as cursor:
                cursor.execute("DROP SCHEMA public CASCADE; CREATE SCHEMA public")
        call_command("migrate", interactive=False, verbosity=0)
        call_command("createcachetable", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        if not Studio.objects.exists():
            load_season(load_demo(settings.DEMO_PASSWORD))
            self.stderr.write("The demo data is loaded.")
        person = Person.objects.filter(username=DEMO_NAME).first()
        if person and seat_today(person, now=timezone.now()):
            self.stderr.write("The band is in the chairs.")


def _is_about_to_change(*, reset: bool) -> bool:
    """Whether there is something that a reset throws away, or that migrations alter."""
    if "accounts_studio" not in connection.introspection.table_names():
        return False
    if reset:
        return True
    executor = MigrationExecutor(connection)
    return bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
