"""How far an archive is, told while its transaction is still open."""

from __future__ import annotations

import time
from typing import Final

from django.db import DEFAULT_DB_ALIAS, connections

TOLD_EACH_S: Final = 0.5


class Progress:
    """Counts rows, and tells the page of them by a connection of its own, since nothing else is seen before the end."""

    def __init__(self, transfer_id: int, total: int) -> None:
        self._id, self._total, self._done, self._told_at_s = transfer_id, total, 0, 0.0
        self._connection = connections.create_connection(DEFAULT_DB_ALIAS)

    def __enter__(self) -> Progress:
        return self

    def __exit__(self, *_of: object) -> None:
        self._connection.close()

    def count(self, rows: int = 1) -> None:
        """So many rows more."""
        self._done += rows
        if time.monotonic() - self._told_at_s >= TOLD_EACH_S:
            self._told_at_s = time.monotonic()
            with self._connection.cursor() as cursor:
                told = [self._total, min(self._done, self._total), self._id]
                cursor.execute("UPDATE archives_transfer SET total = %s, done = %s WHERE id = %s", told)
