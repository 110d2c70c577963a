"""A file that came in pieces, read as one."""

from __future__ import annotations

import io
from collections.abc import Sequence

from django.core.files.base import File
from django.core.files.storage import Storage


class Joined(io.RawIOBase):
    """Pieces of one size, but for the last, one after the other. names: as the storage knows them."""

    def __init__(self, storage: Storage, names: Sequence[str], piece: int, size: int) -> None:
        self._storage, self._names, self._piece, self._size = storage, names, piece, size
        self._at, self._open = 0, -1
        self._file: File[bytes] | None = None

    def readable(self) -> bool:
        """It is."""
        return True

    def seekable(self) -> bool:
        """It is."""
        return True

    def tell(self) -> int:
        """Where it is."""
        return self._at

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        """Go elsewhere."""
        start = {io.SEEK_SET: 0, io.SEEK_CUR: self._at, io.SEEK_END: self._size}[whence]
        self._at = max(start + offset, 0)
        return self._at

    def readinto(self, buffer: memoryview) -> int:  # type: ignore[override]
        """Read on, to the end of the piece at most."""
        if self._at >= self._size:
            return 0
        number, within = divmod(self._at, self._piece)
        if number != self._open:
            self._let_go()
            self._file, self._open = self._storage.open(self._names[number], "rb"), number
        file = self._file
        assert file is not None  # noqa: S101 - opened above
        file.seek(within)
        body = file.read(min(len(buffer), self._piece - within))
        buffer[: len(body)] = body
        self._at += len(body)
        return len(body)

    def close(self) -> None:
        """Let go of the piece that is open."""
        self._let_go()
        super().close()

    def _let_go(self) -> None:
        if self._file is not None:
            self._file.close()
            self._file, self._open = None, -1
