"""Half a request holds no thread: a real gunicorn, with as many half-sent requests as a few laptops make."""

import re
import socket
import subprocess
import sys
import time
import urllib.request
from contextlib import closing

from django.test import SimpleTestCase

from studio.buffering import Coming
from studio.serving import bound

APP = "tests.studio.test_serving:app"
SOON_S = 3.0  # on a busy machine; a thread that is held would wait for ever
LENGTH = re.compile(rb"Content-Length: (\d+)")
HALF = b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 9\r\n\r\nhal"


def app(environ, start):
    """Says what it was sent."""
    body = environ["wsgi.input"].read()
    start("200 OK", [("Content-Type", "text/plain"), ("Content-Length", str(len(body)))])
    return [body]


def answer_of(connection: socket.socket) -> bytes:
    """A head, and the body that it tells; they may come apart."""
    came = b""
    while b"\r\n\r\n" not in came or len(came.partition(b"\r\n\r\n")[2]) < int(LENGTH.search(came).group(1)):
        came += connection.recv(4096)
    return came


class Whole(SimpleTestCase):
    def test_a_request_is_whole_once_its_length_is_there(self) -> None:
        head = b"POST / HTTP/1.1\r\nHost: x\r\n"
        for held, whole in (
            (b"GET / HTTP/1.1\r\nHost: x\r\n", False),
            (b"GET / HTTP/1.1\r\nHost: x\r\n\r\n", True),
            (head + b"Content-Length: 4\r\n\r\nabc", False),
            (head + b"content-length:4\r\n\r\nabcd", True),
            (head + b"X-Content-Length: 1\r\nContent-Length: 4\r\n\r\na", False),
            (head + b"Transfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n", False),
            (head + b"Transfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n0\r\n\r\n", True),
            (head + b"Content-Length: 4\r\nExpect: 100-continue\r\n\r\n", True),
        ):
            coming = Coming(None, 0.0)
            for byte in held:  # as slowly as it can come
                self.assertFalse(coming.is_whole, held)
                coming.held.append(byte)
            self.assertEqual(coming.is_whole, whole, held)


class HalfSent(SimpleTestCase):
    takes_long = True

    def setUp(self) -> None:
        taken = bound("127.0.0.1", 28_500)
        self.port = taken.getsockname()[1]
        taken.set_inheritable(True)
        command = ["-m", "gunicorn", APP, "--workers", "1", "--threads", "2", "--log-level", "critical"]
        command += ["--worker-class", "studio.buffering.BufferingWorker", "--bind", f"fd://{taken.fileno()}"]
        self.server = subprocess.Popen([sys.executable, *command], pass_fds=[taken.fileno()])
        taken.close()
        self.addCleanup(self.server.wait, 60)
        self.addCleanup(self.server.terminate)

    def connect(self, sent: bytes = b"") -> socket.socket:
        made = socket.create_connection(("127.0.0.1", self.port), timeout=60)
        self.addCleanup(made.close)
        made.sendall(sent)
        return made

    def ask(self, body: bytes = b"whole") -> bytes:
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/", data=body, timeout=60) as answer:
            return answer.read()

    def test_forty_half_sent_requests_hold_nobody_up_and_are_answered_when_they_are_whole(self) -> None:
        self.assertEqual(self.ask(), b"whole")
        half = [self.connect(HALF) for _ in range(20)] + [self.connect(b"GET /") for _ in range(20)]
        silent = self.connect()
        began = time.monotonic()
        self.assertEqual(self.ask(), b"whole")
        self.assertLess(time.monotonic() - began, SOON_S)
        half[0].sendall(b"f done")
        self.assertTrue(answer_of(half[0]).endswith(b"half done"))
        silent.sendall(b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
        self.assertIn(b"200 OK", answer_of(silent))

    def test_long_ones_two_on_one_connection_and_one_that_goes_away(self) -> None:
        long = b"x" * 3_000_000
        self.assertEqual(self.ask(long), long)
        kept = self.connect()
        for word in (b"first", b"later"):
            kept.sendall(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\n\r\n" + word)
            self.assertTrue(answer_of(kept).endswith(word))
        self.connect(HALF).close()
        with closing(self.connect(b"\x00\xff nonsense\r\n\r\n")) as odd:
            self.assertIn(b"400", odd.recv(4096))
        self.assertEqual(self.ask(), b"whole")
