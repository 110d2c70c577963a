"""Sessions in the database, as Django's own are, asked for with SQL that is kept: every page asks for one."""

import datetime
from typing import Final

from django.contrib.sessions.backends import db
from django.contrib.sessions.models import Session
from django.utils import timezone

from studio.accounts.prepared import Prepared

_SESSION: Final = Prepared(
    lambda key, now: Session.objects.filter(session_key=key, expire_date__gt=now), key=str, now=datetime.datetime
)


class SessionStore(db.SessionStore):
    """What a browser's session holds. One query."""

    def _get_session_from_db(self) -> Session | None:
        found = _SESSION(key=self.session_key, now=timezone.now())
        if not found:
            self._session_key = None
            return None
        return found[0]
