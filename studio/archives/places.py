"""Where archives lie while they are on their way."""

import shutil
from typing import Final

from django.conf import settings
from django.core.files.storage import default_storage

PIECE_BYTES: Final = 4_000_000  # of an archive that is brought: well within what one request may hold
SIZE_MOST_BYTES: Final = 20_000_000_000
NEEDS_TIMES: Final = 3  # its size: its pieces, its rows in the database, and their log
LEFT_FREE_BYTES: Final = 500_000_000


def folder(transfer_id: int) -> str:
    """The folder of an archive in the storage."""
    return f"archives/{transfer_id}"


def whole_name(transfer_id: int) -> str:
    """An archive that was made."""
    return f"{folder(transfer_id)}/whole.zip"


def part_name(transfer_id: int, number: int) -> str:
    """A piece of one that is brought, from 0."""
    return f"{folder(transfer_id)}/{number:06d}"


def let_go(transfer_id: int, parts: int) -> None:
    """Delete what lies there of an archive."""
    for name in (whole_name(transfer_id), *(part_name(transfer_id, number) for number in range(parts + 1))):
        default_storage.delete(name)


def free_bytes() -> int:
    """What the disk has left; as much as anybody may need where no disk is asked."""
    root = settings.MEDIA_ROOT
    try:
        return shutil.disk_usage(root).free - LEFT_FREE_BYTES
    except OSError:
        return NEEDS_TIMES * SIZE_MOST_BYTES
