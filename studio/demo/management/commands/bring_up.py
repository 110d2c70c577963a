"""A database that was brought back is brought up to date, unless it is of a newer version than this one."""

from typing import Any

from django.core.management import BaseCommand, CommandError, call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader


class Command(BaseCommand):
    """Migrate what was brought back."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Raises CommandError for a database of a newer version, or one that is not Rainshade's."""
        loader = MigrationLoader(connection)
        applied = set(loader.applied_migrations or ())
        if ("accounts", "0001_initial") not in applied:
            raise CommandError("That is no database of Rainshade.")
        if unknown := sorted(applied - set(loader.disk_migrations or ())):
            app, name = unknown[0]
            raise CommandError(f"It is of a newer Rainshade than this one, which does not know {app} {name}.")
        call_command("migrate", interactive=False, verbosity=0)
