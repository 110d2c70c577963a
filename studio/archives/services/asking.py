"""Ask for an archive, or bring one piece by piece; the worker does the rest."""

import datetime
from functools import partial
from typing import Final

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.archives.models import Transfer
from studio.archives.places import NEEDS_TIMES, PIECE_BYTES, SIZE_MOST_BYTES, free_bytes, let_go, part_name
from studio.archives.selectors import is_bare
from studio.ui.refusal import Refusal

CARRY: Final = "carry"  # the task's name; `studio.archives.tasks` does it


@transaction.atomic
def ask_for_archive(person: Person, *, now: datetime.datetime) -> Transfer:
    """Have the whole studio written as an archive. Raises Refusal not_owner, archive_waits while one is on its way."""
    check_owner(person)
    if Transfer.objects.visible_to(person).filter(finished_at=None, asked_for_at__isnull=False).exists():
        raise Refusal("archive_waits", "way")
    made = Transfer.objects.create(studio=person.studio, person=person, way=Transfer.Way.OUT, asked_for_at=now)
    hand_over(made.pk)
    return made


@transaction.atomic
def begin_bringing(person: Person, *, size: int) -> Transfer:
    """Say that an archive of so many bytes is brought. One that was begun before and not ended is let go of.

    Raises Refusal not_owner, studio_not_bare, archive_size, archive_no_room.
    """
    check_owner(person)
    if not is_bare(person.studio_id):
        raise Refusal("studio_not_bare", "size")
    if not 0 < size <= SIZE_MOST_BYTES:
        raise Refusal("archive_size", "size", most=SIZE_MOST_BYTES // 1_000_000_000)
    if size * NEEDS_TIMES > free_bytes():
        raise Refusal("archive_no_room", "size", needed=f"{size * NEEDS_TIMES / 1e9:.1f}")
    for old in Transfer.objects.visible_to(person).filter(way=Transfer.Way.IN, asked_for_at=None):
        drop(person, transfer_id=old.pk)
    return Transfer.objects.create(studio=person.studio, person=person, way=Transfer.Way.IN, size=size)


@transaction.atomic
def bring_part(person: Person, *, transfer_id: int, number: int, body: bytes, now: datetime.datetime) -> Transfer:
    """The next piece of an archive; one that came before is here already, and the last sets the worker to it.

    Raises Refusal archive_part where it is not the next; Transfer.DoesNotExist for another studio's.
    """
    check_owner(person)
    found = Transfer.objects.visible_to(person).select_for_update().get(pk=transfer_id, way=Transfer.Way.IN)
    if number < found.parts:
        return found
    expected = min(PIECE_BYTES, found.size - found.parts * PIECE_BYTES)
    if number != found.parts or len(body) != expected or found.asked_for_at:
        raise Refusal("archive_part", "part")
    name = part_name(found.uid, number)
    default_storage.delete(name)  # of a try that was broken off
    default_storage.save(name, ContentFile(body))
    found.parts += 1
    if found.parts * PIECE_BYTES >= found.size:
        found.asked_for_at = now
        hand_over(found.pk)
    found.save(update_fields=["parts", "asked_for_at"])
    return found


@transaction.atomic
def drop(person: Person, *, transfer_id: int) -> None:
    """Let go of an archive, its pieces or what was made of it. Raises Refusal archive_waits while the worker is at it;
    Transfer.DoesNotExist for another studio's.
    """
    check_owner(person)
    found = Transfer.objects.visible_to(person).select_for_update().get(pk=transfer_id)
    if found.asked_for_at and not found.is_done:
        raise Refusal("archive_waits", "way")
    transaction.on_commit(partial(let_go, found.uid, found.parts))
    found.delete()


def check_owner(person: Person) -> None:
    """Raises Refusal not_owner."""
    if not person.may(Act.HIRE):
        raise Refusal("not_owner", "way")


def hand_over(transfer_id: int) -> None:
    """Have the worker see to it, once what asks is there to be seen."""
    lock = f"{CARRY} {transfer_id}"

    def defer() -> None:
        try:
            app.configure_task(CARRY, lock=lock, queueing_lock=lock).defer(transfer_id=transfer_id)
        except AlreadyEnqueued:
            return

    transaction.on_commit(defer)
