"""Sessions in the database: whose each is, when a hand was last at it, and that it ends when nobody was for long.

After Django's own way to extend database-backed sessions. One is asked for with SQL that is kept: every page asks.
"""

import datetime
from typing import Any, Final, cast

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends import db
from django.utils import timezone

from studio.accounts.models import SignedIn
from studio.accounts.prepared import Prepared

IDLE: Final = datetime.timedelta(hours=settings.IDLE_HOURS)
NOTED_EACH: Final = datetime.timedelta(minutes=1)  # how exactly it is kept when a hand was there

_SESSION: Final = Prepared(
    lambda key, now, since: SignedIn.objects.filter(session_key=key, expire_date__gt=now, touched_at__gt=since),
    key=str,
    now=datetime.datetime,
    since=datetime.datetime,
)


class SessionStore(db.SessionStore):
    """What a browser's session holds. One query. machine: what kind of machine asks, where that is known."""

    machine = ""
    _row: SignedIn | None = None

    @classmethod
    def get_model_class(cls) -> type[SignedIn]:
        """The rows that hold it."""
        return SignedIn

    @property
    def is_locked(self) -> bool:
        """Whether only the lock screen may be seen. No query where the session has been asked for."""
        self.get(SESSION_KEY)
        return self._row is not None and self._row.locked_at is not None

    def left_alone_for(self, now: datetime.datetime) -> datetime.timedelta:
        """How long no hand was at it."""
        self.get(SESSION_KEY)
        return now - self._row.touched_at if self._row else datetime.timedelta()

    def lock(self, now: datetime.datetime) -> None:
        """Show the lock screen alone from now on, until somebody signs in."""
        if self._row is not None and self._row.locked_at is None:
            self._row.locked_at = now
            SignedIn.objects.filter(session_key=self.session_key).update(locked_at=now)

    def unlock(self) -> None:
        """Open again, for who is signed in."""
        if self._row is not None:
            self._row.locked_at = None
            SignedIn.objects.filter(session_key=self.session_key).update(locked_at=None)

    def touch(self, now: datetime.datetime) -> None:
        """Note that a hand is at it. At most one query a minute."""
        if self._row and self._row.session_key == self.session_key and now - self._row.touched_at > NOTED_EACH:
            SignedIn.objects.filter(session_key=self.session_key).update(touched_at=now)

    def create_model_instance(self, data: dict[str, Any]) -> SignedIn:
        """The row to be kept. What is kept of the same person's session at the same key stays."""
        made, now = cast(SignedIn, super().create_model_instance(data)), timezone.now()
        made.person_id = int(data[SESSION_KEY]) if SESSION_KEY in data else None
        kept = self._row
        is_same = kept is not None and (kept.session_key, kept.person_id) == (made.session_key, made.person_id)
        made.began_at = kept.began_at if is_same and kept else now
        made.machine, made.touched_at = self.machine, now
        made.locked_at = kept.locked_at if is_same and kept else None
        self._row = made
        return made

    def _get_session_from_db(self) -> SignedIn | None:
        now = timezone.now()
        self._row = next(iter(_SESSION(key=self.session_key, now=now, since=now - IDLE)), None)
        if self._row is None:
            self._session_key = None
        return self._row
