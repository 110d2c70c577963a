"""How gunicorn serves Rainshade: `python -m studio.serving PORT` takes the first free port from there, and keeps it.

The port is bound before anything else is loaded, so that two copies that start at once never believe in the same one.
`python -m studio.serving HOST:PORT` takes that port of that address and no other, for a front that knows it.
"""

import os
import socket
import sys
from pathlib import Path
from typing import Any, Final

from prometheus_client.multiprocess import mark_process_dead

TRIED: Final = 200  # ports, from the first
WORKERS: Final = 2
THREADS: Final = 4


def bound(host: str, first: int, tried: int = TRIED) -> socket.socket:
    """A socket that listens at an address, at the first port from `first` that nobody has. Raises OSError for none."""
    for port in range(first, first + tried):
        free = socket.socket()
        free.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)  # a port that was just left is free
        try:
            free.bind((host, port))
            free.listen(256)
        except OSError:
            free.close()
            continue
        return free
    raise OSError(f"no free port from {first}")


def serve(place: str) -> None:
    """Become gunicorn, on the port that was taken."""
    host, _, port = place.rpartition(":")
    taken = bound(host or "127.0.0.1", int(port), 1 if host else TRIED)
    taken.set_inheritable(True)
    os.environ["RAINSHADE_PORT"] = str(taken.getsockname()[1])
    arguments = ["gunicorn", "studio.wsgi", "--config", "python:studio.serving", "--bind", f"fd://{taken.fileno()}"]
    os.execv(sys.executable, [sys.executable, "-m", *arguments])  # noqa: S606 - nothing of it comes from outside


# What gunicorn reads of this module.
workers = WORKERS
threads = THREADS
worker_class = "studio.buffering.BufferingWorker"
preload_app = True
loglevel = "warning"


def when_ready(server: Any) -> None:
    """Say so, to whoever started it."""
    if ready := os.environ.get("RAINSHADE_READY"):
        Path(ready).write_text(os.environ["RAINSHADE_PORT"], encoding="ascii")


def child_exit(server: Any, worker: Any) -> None:
    """A worker that is gone is not counted among those that are there."""
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]


if __name__ == "__main__":
    serve(sys.argv[1])
