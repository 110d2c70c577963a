"""Where archives lie while they are on their way."""

import shutil
import uuid
from collections.abc import Collection
from typing import Final

from django.conf import settings
from django.core.files.storage import default_storage

ALL: Final = "archives"
PIECE_BYTES: Final = 4_000_000  # of an archive that is brought: well within what one request may hold
SIZE_MOST_BYTES: Final = 20_000_000_000
NEEDS_TIMES: Final = 3  # its size: its pieces, its rows in the database, and their log
LEFT_FREE_BYTES: Final = 500_000_000


def folder(uid: uuid.UUID) -> str:
    """The folder of an archive in the storage.

    By a UUID, not by the number of its row: a database that is made anew or brought back counts from where it was, and
    would take another studio's file for its own.
    """
    return f"{ALL}/{uid}"


def whole_name(uid: uuid.UUID) -> str:
    """An archive that was made."""
    return f"{folder(uid)}/whole.zip"


def part_name(uid: uuid.UUID, number: int) -> str:
    """A piece of one that is brought, from 0."""
    return f"{folder(uid)}/{number:06d}"


def let_go(uid: uuid.UUID, parts: int) -> None:
    """Delete what lies there of an archive."""
    for name in (whole_name(uid), *(part_name(uid, number) for number in range(parts + 1))):
        default_storage.delete(name)


def sweep(known: Collection[uuid.UUID]) -> None:
    """Delete what no row knows of: archives of a database that was thrown away, or brought back from before them."""
    try:
        folders, _ = default_storage.listdir(ALL)
    except FileNotFoundError:
        return
    for name in set(folders) - {str(uid) for uid in known}:
        for file in default_storage.listdir(f"{ALL}/{name}")[1]:
            default_storage.delete(f"{ALL}/{name}/{file}")
        default_storage.delete(f"{ALL}/{name}")


def free_bytes() -> int:
    """What the disk has left; as much as anybody may need where no disk is asked."""
    root = settings.MEDIA_ROOT
    try:
        return shutil.disk_usage(root).free - LEFT_FREE_BYTES
    except OSError:
        return NEEDS_TIMES * SIZE_MOST_BYTES
