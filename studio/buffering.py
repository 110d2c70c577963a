"""gunicorn's threaded worker, that gives a request to a thread once all of it is there.

A thread that reads from a slow network, or from somebody who sends half a request and no more, answers nobody else; a
few of those hold all threads. Here the worker's own loop reads, which waits for a thousand as easily as for one.
"""

import contextlib
import re
import selectors
import socket
import struct
import time
from functools import partial
from typing import Any, Final

from gunicorn.workers.gthread import TConn, ThreadWorker

WHOLE_WITHIN_S: Final = 30.0  # from its first byte, or from the connection, to its last
READ_MOST: Final = 64 * 1024  # at once
HELD_MOST: Final = 12_000_000  # of one request; what is longer is read on by its thread
ALL_HELD_MOST: Final = 256_000_000  # of all: a connection that would need more is closed
STALLED_S: Final = 10  # how long a thread waits for the rest of such a long one
END_OF_HEAD: Final = b"\r\n\r\n"
LAST_CHUNK: Final = b"0\r\n\r\n"
CHUNKED: Final = -1
_LENGTH: Final = re.compile(rb"\r\ncontent-length:[ \t]*(\d{1,18})[ \t]*\r\n", re.IGNORECASE)
_CHUNKED: Final = re.compile(rb"\r\ntransfer-encoding:[^\r]*chunked", re.IGNORECASE)
_WAITS: Final = re.compile(rb"\r\nexpect:[ \t]*100-continue", re.IGNORECASE)


def told_length(held: bytes | bytearray) -> int | None:
    """How many bytes an HTTP/1.1 request has in all, by RFC 9112, section 6; None while its head is not there.

    One whose sender waits to be asked for its body is its head alone; CHUNKED for one that tells its end by its end.
    """
    head_ends = held.find(END_OF_HEAD)
    if head_ends < 0:
        return None
    begins = head_ends + len(END_OF_HEAD)
    fields = bytes(held[: head_ends + 2])
    if _WAITS.search(fields):
        return begins
    if _CHUNKED.search(fields):
        return CHUNKED
    length = _LENGTH.search(fields)
    return begins + (int(length.group(1)) if length else 0)


class Coming:
    """A request that is being read from a connection."""

    def __init__(self, conn: TConn, now_s: float) -> None:
        self.conn, self.held, self.until_s = conn, bytearray(), now_s + WHOLE_WITHIN_S
        self._length: int | None = None

    @property
    def is_whole(self) -> bool:
        """Whether all of it is there."""
        if self._length is None:
            self._length = told_length(self.held)
        if self._length is None:
            return False
        return self.held.endswith(LAST_CHUNK) if self._length == CHUNKED else len(self.held) >= self._length


class BufferingWorker(ThreadWorker):  # type: ignore[misc]
    """Reads requests in its loop, and answers them in its threads."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._coming: dict[TConn, Coming] = {}  # in the order in which they came
        self._all_held = 0

    def accept(self, listener: socket.socket) -> None:
        """A new connection."""
        try:
            client, address = listener.accept()
        except (BlockingIOError, ConnectionAbortedError):
            return  # the other worker took it
        self.nr_conns += 1
        self._await(TConn(self.cfg, client, address, listener.getsockname()))

    def on_client_socket_readable(self, conn: TConn, client: socket.socket) -> None:
        """A connection that was kept has its next request."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._await(conn)

    def _await(self, conn: TConn) -> None:
        conn.sock.setblocking(False)
        self._coming[conn] = Coming(conn, time.monotonic())
        self.poller.register(conn.sock, selectors.EVENT_READ, partial(self._read, self._coming[conn]))

    def _read(self, coming: Coming, client: socket.socket) -> None:
        """What has come of a request; once it is whole it goes to a thread."""
        try:
            came = client.recv(READ_MOST)
        except (BlockingIOError, InterruptedError):
            return
        except OSError:
            came = b""
        if not came:
            self._drop(coming)
            return
        coming.held += came
        self._all_held += len(came)
        if len(coming.held) > HELD_MOST or coming.is_whole:
            self._leave(coming)
            coming.conn.whole = bytes(coming.held)
            coming.conn.data_ready = True
            self.enqueue_req(coming.conn)
        elif self._all_held > ALL_HELD_MOST:
            self._drop(coming)

    def handle(self, conn: TConn) -> Any:
        """Answer, from what was read."""
        if whole := getattr(conn, "whole", b""):
            conn.whole = b""
            conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", STALLED_S, 0))
            conn.init()
            conn.parser.unreader.unread(whole)
        return super().handle(conn)

    def murder_pending(self) -> None:
        """Close those that are not whole in time."""
        super().murder_pending()
        now = time.monotonic()
        for coming in [each for each in self._coming.values() if each.until_s <= now]:
            self._drop(coming)

    def _cap_keepalive(self, deadline: float) -> None:
        """Before it ends: what has sent nothing goes, and what has begun has as long as a kept connection."""
        super()._cap_keepalive(deadline)
        for coming in list(self._coming.values()):
            coming.until_s = min(coming.until_s, deadline)
            if not coming.held:
                self._drop(coming)

    def _leave(self, coming: Coming) -> None:
        with contextlib.suppress(KeyError, ValueError):
            self.poller.unregister(coming.conn.sock)
        self._coming.pop(coming.conn, None)
        self._all_held -= len(coming.held)

    def _drop(self, coming: Coming) -> None:
        self._leave(coming)
        self.nr_conns -= 1
        coming.conn.close()
