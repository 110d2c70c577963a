"""The commands themselves: what a kill leaves behind, who may run them, and two that start at once."""

import os
import pwd
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PATIENCE_S = 240
PORT = 'sed "s/.*:\\([0-9]*\\)\\/.*/\\1/" <<<"$DATABASE_URL"'
KILL = "xargs -r kill -9 2>/dev/null || true"  # one that ended by itself meanwhile is dead as well
PSQL = f'as_postgres "$(pg_bin)/psql" -qtA -h "$socket" -p "$({PORT})" -U postgres'


class Ground(unittest.TestCase):
    """A checkout of the shared ground alone, which anybody may read, with a home of its own."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(tempfile.mkdtemp(prefix="rainshade-ground-"))
        cls.addClassCleanup(shutil.rmtree, cls.folder, ignore_errors=True)
        (cls.folder / "tools").mkdir()
        shutil.copy(ROOT / "tools" / "ground.sh", cls.folder / "tools")
        for path in (cls.folder, cls.folder / "tools"):
            path.chmod(0o755)

    def tearDown(self) -> None:
        """Nothing that a test started stays."""
        for cluster in self.folder.rglob("data"):
            self.ground(f"working_in {cluster} | {KILL}")

    def command(self, script: str, *, user: str = "", home: str = "") -> list[str]:
        said = ["bash", "-c", f'. "{self.folder}/tools/ground.sh"; {script}']
        return ["runuser", "-u", user, "--", "env", f"HOME={home}", *said] if user else said

    def ground(
        self, script: str, *, home: str = "home", user: str = "", **more: str
    ) -> subprocess.CompletedProcess[str]:
        environment = os.environ | {"RAINSHADE_HOME": str(self.folder / home)} | more
        if not environment["RAINSHADE_HOME"]:
            del environment["RAINSHADE_HOME"]
        return subprocess.run(
            self.command(script, user=user, home=more.get("HOME", "")),
            cwd=self.folder,
            env=environment,
            capture_output=True,
            text=True,
            timeout=PATIENCE_S,
            check=False,
        )

    def started(self, script: str = "", **more: str) -> str:
        """What a script says after the database has started, which is stopped after it."""
        done = self.ground(f"trap stop_postgres EXIT; start_postgres demo; {script}", **more)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout.strip()

    def killed(self, script: str) -> None:
        """A command that ends by a kill of itself, after a script."""
        done = self.ground(f"start_postgres demo; {script}; kill -9 $$")
        self.assertEqual(done.returncode, -signal.SIGKILL, done.stderr)

    def test_what_was_kept_is_there_after_a_kill_of_everything(self) -> None:
        data = self.folder / "home" / "demo" / "data"
        self.killed(f"{PSQL} -c 'CREATE TABLE IF NOT EXISTS kept AS SELECT 7'; working_in {data} | {KILL}")
        self.assertTrue((data / "postmaster.pid").exists())
        self.assertEqual(self.started(f"{PSQL} -c 'SELECT * FROM kept'"), "7")

    def test_a_number_that_another_process_has_by_now_is_not_taken_for_the_server(self) -> None:
        data = self.folder / "home" / "demo" / "data"
        self.killed(f"working_in {data} | {KILL}")
        with subprocess.Popen(["sleep", "60"]) as other:
            lines = (data / "postmaster.pid").read_text().splitlines()
            (data / "postmaster.pid").write_text("\n".join([str(other.pid), *lines[1:]]) + "\n")
            self.assertEqual(self.started(f"{PSQL} -c 'SELECT 1'"), "1")
            self.assertIsNone(other.poll())
            other.kill()

    def test_workers_that_outlive_their_server_are_waited_for(self) -> None:
        data = self.folder / "home" / "demo" / "data"
        busy = f"{{ {PSQL} -c 'SELECT pg_sleep(60)' >/dev/null 2>&1 & }} 9>&-; sleep 0.5"
        self.killed(f'{busy}; kill -9 "$(head -n 1 {data}/postmaster.pid)"')
        self.assertEqual(self.started(f"{PSQL} -c 'SELECT 1'"), "1")

    def test_a_server_that_was_left_running_is_taken_over_and_stopped(self) -> None:
        self.killed("true")
        self.assertEqual(self.started(f"{PSQL} -c 'SELECT 1'"), "1")
        self.assertFalse((self.folder / "home" / "demo" / "data" / "postmaster.pid").exists())

    def test_who_holds_the_lock_is_told_with_how_to_free_it(self) -> None:
        self.killed("{ sleep 301 >/dev/null 2>&1 & }")
        refused = self.ground("start_postgres demo")
        self.assertEqual(refused.returncode, 1)
        found = re.search(r"^(\d+) sleep 301", refused.stderr, re.MULTILINE)
        self.assertIsNotNone(found, refused.stderr)
        self.assertIn(f"kill {found[1]}", refused.stderr)
        os.kill(int(found[1]), signal.SIGKILL)
        self.assertEqual(self.started(f"{PSQL} -c 'SELECT 1'"), "1")

    def test_somebody_who_is_not_root_has_a_home_of_their_own_however_long_its_name(self) -> None:
        own = self.folder / ("a-home-with-a-long-name-" * 4)
        own.mkdir()
        user = ""
        if os.getuid() == 0:
            user = "nobody"
            nobody = pwd.getpwnam(user)
            os.chown(own, nobody.pw_uid, nobody.pw_gid)
        script = f"printf '%s\\n' \"$home\"; {PSQL} -c 'SELECT current_user'"
        said = self.started(script, home="", user=user, RAINSHADE_HOME="", HOME=str(own), XDG_STATE_HOME="")
        place, name = said.splitlines()
        if user:
            self.assertTrue(place.startswith(str(own / ".local" / "state" / "rainshade")), place)
        self.assertEqual(name, "postgres")

    def test_a_home_that_can_not_be_written_is_told(self) -> None:
        (self.folder / "a-file").write_text("")
        refused = self.ground("start_postgres demo", home="a-file/home")
        self.assertEqual(refused.returncode, 1)
        self.assertIn("say where else with RAINSHADE_HOME", refused.stderr)

    def test_a_port_that_somebody_has_without_listening_is_passed_by(self) -> None:
        """As an outgoing connection has it: nothing answers there, and nobody else may take it."""
        with socket.socket() as held:
            held.bind(("127.0.0.1", 0))
            port = held.getsockname()[1]
            folder = self.folder / "tools"
            text = (folder / "ground.sh").read_text(encoding="utf-8")
            (folder / "ground.sh").write_text(re.sub(r"echo \d+ \|\|", f"echo {port} ||", text), encoding="utf-8")
            try:
                self.assertNotEqual(self.started(PORT, home="passed-by"), str(port))
            finally:
                (folder / "ground.sh").write_text(text, encoding="utf-8")

    def test_two_databases_that_start_at_once_take_ports_of_their_own(self) -> None:
        script = "trap stop_postgres EXIT; start_postgres demo; echo $DATABASE_URL; read -r _ || true"
        copies = [
            subprocess.Popen(
                self.command(script),
                cwd=self.folder,
                env=os.environ | {"RAINSHADE_HOME": str(self.folder / name)},
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                text=True,
            )
            for name in ("one", "other")
        ]
        addresses = [copy.stdout.readline() for copy in copies]
        for copy in copies:
            copy.communicate(timeout=PATIENCE_S)
        ports = [address.rpartition(":")[2] for address in addresses]
        self.assertTrue(all(ports), addresses)
        self.assertEqual(len(set(ports)), 2)


class Ports(unittest.TestCase):
    def test_two_servers_that_start_at_once_never_believe_in_one_port(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            told = [Path(folder) / name for name in ("one", "other")]
            copies = [
                subprocess.Popen(
                    [sys.executable, "-m", "studio.serving", "18700"],
                    cwd=ROOT,
                    env=os.environ | {"RAINSHADE_READY": str(ready)},
                    stderr=subprocess.DEVNULL,
                )
                for ready in told
            ]
            deadline = time.monotonic() + PATIENCE_S
            while not all(ready.exists() and ready.read_text() for ready in told) and time.monotonic() < deadline:
                time.sleep(0.05)
            ports = {ready.read_text() for ready in told}
            for copy in copies:
                copy.terminate()
                copy.wait()
        self.assertEqual(len(ports), 2)
