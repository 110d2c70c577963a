"""The chain brought up and taken down, and what the drill asks of its parts."""

import http.client
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path
from typing import Final, TypeVar

import boto3

from deploy.drill.confs import AS_POSTGRES, write_confs
from deploy.drill.place import BUCKET, ETCD, HOST, NODES, PORTS, ROOT, Place

Found = TypeVar("Found")
SOON_S: Final = 240.0  # a busy machine is slow, and that is no fault of the chain
LEFT_OUT: Final = (".venv", "node_modules", ".git", ".mypy_cache", ".ruff_cache", "docs", "tests")


class Missing(RuntimeError):
    """What did not come within its time."""


def say(words: str) -> None:
    """One line of how it goes."""
    print(words, file=sys.stderr, flush=True)


def awaited(what: str, ask: Callable[[], Found | None], within_s: float = SOON_S, pause_s: float = 0.25) -> Found:
    """The first answer that is one. Raises Missing."""
    until = time.monotonic() + within_s
    while time.monotonic() < until:
        try:
            found = ask()
        except (OSError, http.client.HTTPException, subprocess.CalledProcessError, subprocess.TimeoutExpired):
            found = None
        if found:
            return found
        time.sleep(pause_s)
    raise Missing(f"{what} did not come within {within_s:g} s")


def port_answers(port: int) -> bool:
    """Whether anything listens there."""
    with socket.create_connection((HOST, port), timeout=2):
        return True


class Chain:
    """What runs in a place."""

    def __init__(self, place: Place) -> None:
        self.place = place

    # --- Commands.

    def run(
        self, *command: str, told: Mapping[str, str] | None = None, at: Path | None = None, wait_s: float = 600
    ) -> str:
        """What a command prints. Raises CalledProcessError, which is told with the end of what it said."""
        folder = at or self.place.folder
        done = subprocess.run(
            command, cwd=folder, env={**os.environ, **(told or {})}, capture_output=True, text=True, timeout=wait_s
        )
        if done.returncode:
            said = (done.stderr or done.stdout).strip().splitlines()[-4:]
            raise subprocess.CalledProcessError(done.returncode, command[0], "\n".join(said), done.stderr)
        return done.stdout

    def as_postgres(self, *command: str, wait_s: float = 600) -> str:
        """The same, by the owner of the databases."""
        return self.run("runuser", "-u", AS_POSTGRES, "--", *command, wait_s=wait_s)

    def control(self, *words: str) -> str:
        """supervisorctl, whose exit code only says that something is not running."""
        command = [str(Path(sys.executable).parent / "supervisorctl"), "-c", str(self.place.folder / "supervisor.conf")]
        return subprocess.run([*command, *words], capture_output=True, text=True, check=False).stdout

    def start(self, *names: str) -> None:
        """Start parts."""
        self.control("start", *names)

    def stop(self, *names: str) -> None:
        """Stop parts in order."""
        self.control("stop", *names)

    def pid(self, name: str) -> int:
        """A part's process, 0 where none runs."""
        said = self.control("pid", name).strip()
        return int(said) if said.isdigit() else 0

    def kill(self, name: str) -> None:
        """End a part and its children as a loss of power would; it is started again like any that ends."""
        os.killpg(os.getpgid(self.pid(name)), signal.SIGKILL)

    def manage(self, *words: str, server: str = "a", pooled: bool = False, release: Path | None = None) -> str:
        """A command of the application, past the poolers unless it is said."""
        at = release or self.place.release(server)
        return self.run(sys.executable, "manage.py", *words, told=self.place.environment(server, pooled=pooled), at=at)

    def sql_of_app(self, query: str, port: str = "PRIMARY_PORT") -> str:
        """The same, of the application's database."""
        return self.sql(query, port, database="rainshade")

    def sql(self, query: str, port: str = "PRIMARY_PORT", wait_s: float = 20, database: str = "postgres") -> str:
        """What the database answers a superuser, bare. Raises CalledProcessError, TimeoutExpired."""
        secret = self.place.secrets["SUPER_PASSWORD"]
        told = {"PGPASSWORD": secret, "PGCONNECT_TIMEOUT": "3"}
        to = ["-h", HOST, "-p", str(PORTS[port]), "-U", "postgres", "-d", database]
        return self.run(
            str(self.place.bin / "psql"), "-AtXq", "-v", "ON_ERROR_STOP=1", *to, "-c", query, told=told, wait_s=wait_s
        ).strip()

    # --- What is asked of it.

    def roles(self) -> dict[str, str]:
        """Each database's role as its Patroni says, of those that answer: primary, replica; sync_standby is told."""
        found = {}
        for node in NODES:
            try:
                found[node] = str(self._told(node).get("role", ""))
            except (OSError, http.client.HTTPException, ValueError):
                continue
        return found

    def _told(self, node: str) -> dict[str, object]:
        line = http.client.HTTPConnection(HOST, PORTS[f"REST_{node.upper()}_PORT"], timeout=2)
        try:
            line.request("GET", "/patroni")
            answer = json.loads(line.getresponse().read())
        finally:
            line.close()
        return answer if isinstance(answer, dict) else {}

    def primary(self) -> str | None:
        """The node that holds the lock, if any says that it does."""
        return next((node for node, role in self.roles().items() if role in ("master", "primary")), None)

    def holder(self) -> str:
        """The same, of a chain that has one. Raises Missing."""
        return awaited("the primary", self.primary)

    def has_standby(self) -> bool:
        """Whether a second one has every commit."""
        return self.sql("SELECT count(*) FROM pg_stat_replication WHERE sync_state = 'sync'") == "1"

    def is_ready(self, port: str) -> bool:
        """Whether an app server, or the front by one, says that it can serve."""
        line = http.client.HTTPConnection(HOST, PORTS[port], timeout=5)
        try:
            line.request("GET", "/health/ready")
            return line.getresponse().status == 200
        finally:
            line.close()

    def front(self, words: str) -> str:
        """What HAProxy answers on its own socket."""
        with socket.socket(socket.AF_UNIX) as line:
            line.settimeout(5)
            line.connect(str(self.place.folder / "haproxy.sock"))
            line.sendall(f"{words}\n".encode())
            return b"".join(iter(lambda: line.recv(4096), b"")).decode()

    def release_from(self, source: Path, name: str, more: Callable[[Path], None] = lambda _: None) -> Path:
        """The code of a checkout as a release of its own, with what was compiled of it. more: what it has besides."""
        target = self.place.folder / name
        shutil.rmtree(target, ignore_errors=True)
        shutil.copytree(source, target, ignore=shutil.ignore_patterns(*LEFT_OUT))  # with its times, by which caches go
        more(target)
        return target

    def point(self, server: str, release: Path) -> None:
        """From its next start a server runs this release."""
        link = self.place.release(server)
        link.unlink(missing_ok=True)
        link.symlink_to(release)

    # --- Up and down.

    def up(self) -> None:
        """All of it, with an empty application that is migrated."""
        write_confs(self.place)
        for server in NODES:
            self.point(server, self.release_from(ROOT, "release-1"))
        python = Path(sys.executable).parent
        self.run(str(python / "supervisord"), "-c", str(self.place.folder / "supervisor.conf"))
        say("etcd, Patroni and two PostgreSQL")
        self.start(*(f"etcd-{name}" for name in ETCD))
        awaited("etcd", self._etcd_answers)
        self.start("patroni-a", "front", "bucket")
        awaited("the primary", lambda: self.sql("SELECT 1"))
        self.start("patroni-b")
        awaited("the standby", self.has_standby)
        self._make_database()
        say("pgBackRest: the repository, and a first full copy")
        self.backrest("stanza-create")
        self.backrest("check")
        self.backrest("backup", "--type=full")
        say("two poolers, two app servers, two workers")
        self.start("pooler-a", "pooler-b")
        self._make_bucket()
        self.manage("migrate", "--no-input", "-v", "0")
        self.manage("createcachetable", "-v", "0")
        self.manage("collectstatic", "--no-input", "-v", "0")
        self.start("app-a", "app-b", "worker-a", "worker-b")
        for port in ("APP_A_PORT", "APP_B_PORT", "WEB_PORT"):
            awaited(f"the server at {PORTS[port]}", partial(self.is_ready, port))

    def _etcd_answers(self) -> bool:
        line = http.client.HTTPConnection(HOST, ETCD["e1"][0], timeout=2)
        try:
            line.request("GET", "/health")
            return bool(json.loads(line.getresponse().read()).get("health") == "true")
        finally:
            line.close()

    def _make_database(self) -> None:
        secret = self.place.secrets["APP_PASSWORD"]
        self.sql(f"CREATE ROLE rainshade LOGIN PASSWORD '{secret}'")
        self.sql("CREATE DATABASE rainshade OWNER rainshade")

    def _make_bucket(self) -> None:
        told = self.place.environment()
        keys = {"aws_access_key_id": told["AWS_ACCESS_KEY_ID"], "aws_secret_access_key": told["AWS_SECRET_ACCESS_KEY"]}
        region = told["AWS_DEFAULT_REGION"]
        client = boto3.client("s3", endpoint_url=told["RAINSHADE_BUCKET_ENDPOINT"], region_name=region, **keys)
        awaited("the bucket", lambda: port_answers(PORTS["BUCKET_PORT"]))
        client.create_bucket(Bucket=BUCKET, CreateBucketConfiguration={"LocationConstraint": region})

    def backrest(self, *words: str, node: str = "") -> str:
        """pgBackRest at the primary, or at a node."""
        config = self.place.folder / f"pgbackrest-{node or self.primary()}.conf"
        return self.as_postgres("pgbackrest", f"--config={config}", "--stanza=rainshade", *words)

    def down(self) -> None:
        """Stop everything that up has started, and nothing else."""
        pid_file = self.place.folder / "supervisor.pid"
        if not pid_file.exists():
            return
        self.control("stop", "all")
        pid = int(pid_file.read_text(encoding="ascii"))
        os.kill(pid, signal.SIGTERM)
        awaited("the end", lambda: not Path(f"/proc/{pid}").exists() or None)
        self.end_in(self.place.folder)
        for node in NODES:
            subprocess.run(["umount", str(self.place.folder / f"disk-{node}")], capture_output=True, check=False)

    def end_database(self, node: str) -> None:
        """Kill what works in a database's folder, as a loss of its machine would."""
        self.end_in(self.place.data(node).resolve())

    @staticmethod
    def end_in(folder: Path) -> None:
        """Kill what works in a folder or below it."""
        for each in Path("/proc").iterdir():
            try:
                if each.name.isdigit() and (each / "cwd").readlink().is_relative_to(folder):
                    os.kill(int(each.name), signal.SIGKILL)
            except OSError:
                continue
