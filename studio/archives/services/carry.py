"""What the worker does with an archive: write it, or put it into its studio."""

import contextlib
import logging
import re
import tempfile
from typing import Final

from django.core.files import File
from django.core.files.storage import default_storage
from django.db import DatabaseError, transaction
from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person, Studio
from studio.archives.joined import Joined
from studio.archives.models import FAILED_LONGEST, Transfer
from studio.archives.opened import Opened, Unfit
from studio.archives.places import PIECE_BYTES, let_go, part_name, whole_name
from studio.archives.progress import Progress
from studio.archives.putting import put
from studio.archives.selectors import is_bare
from studio.archives.writing import row_counts, write_archive
from studio.ui.speaking import speaking

TOLD_MOST: Final = 100
_WHERE: Final = re.compile(r"COPY (\w+), line (\d+)")
_log = logging.getLogger(__name__)


def carry(transfer_id: int) -> None:
    """See to one archive; one that is done, or gone, stays as it is. What goes wrong is told on its row, in words."""
    found = Transfer.objects.select_related("person", "studio").filter(pk=transfer_id, finished_at=None).first()
    if found is None or found.asked_for_at is None:
        return
    with speaking(found.person.language or found.studio.language):
        try:
            found.told = _send(found) if found.way == Transfer.Way.OUT else _bring(found)[:TOLD_MOST]
        except Unfit as unfit:
            found.failed = str(unfit)
        except DatabaseError as error:
            found.failed = _words(error)
        except Exception:
            _log.exception("an archive could not be carried")
            found.failed = say("A fault of ours: it is written down in the log. Nothing was changed.")
    found.failed = found.failed[:FAILED_LONGEST]
    if found.way == Transfer.Way.IN or found.failed:
        let_go(found.uid, found.parts)
    _end(found)


def _end(found: Transfer) -> None:
    try:
        found.refresh_from_db(fields=["total", "done"])
    except Transfer.DoesNotExist:  # a client was forgotten while it was written
        let_go(found.uid, found.parts)
        return
    found.finished_at, found.done = timezone.now(), found.total
    found.save(update_fields=["told", "failed", "size", "done", "finished_at"])


def _send(found: Transfer) -> list[str]:
    """Write it to a file of this machine, and hand that to the storage."""
    with tempfile.TemporaryFile() as file:
        with Progress(found.pk, row_counts(found.studio_id)) as progress:
            write_archive(found.studio_id, file, progress, now=timezone.now())
        found.size = file.seek(0, 2)
        file.seek(0)
        default_storage.save(whole_name(found.uid), File(file))
    return []


def _bring(found: Transfer) -> list[str]:
    """Look at it, and put it in: all of it or nothing."""
    names = [part_name(found.uid, number) for number in range(found.parts)]
    with contextlib.closing(Joined(default_storage, names, PIECE_BYTES, found.size)) as file:
        opened = Opened(file, found.size)
        with Progress(found.pk, opened.rows) as progress, transaction.atomic():
            studio = Studio.objects.select_for_update().get(pk=found.studio_id)
            if not is_bare(studio.pk):
                raise Unfit(say("This studio has cards or tubes by now: an archive comes into an empty one."))
            return put(opened, Person.objects.get(pk=found.person_id), progress)


def _words(error: DatabaseError) -> str:
    """What the database refuses, and where."""
    diag = getattr(error.__cause__, "diag", None)
    where = _WHERE.search(getattr(diag, "context", None) or "")
    table = where.group(1) if where else getattr(diag, "table_name", None) or ""
    line = where.group(2) if where else ""
    what = getattr(diag, "constraint_name", None) or getattr(diag, "message_primary", None) or str(error)
    place = say("{table}, line {line}", table=table, line=line) if line else table
    return say("{place}: it breaks a rule of the database ({what}).", place=place, what=what)
