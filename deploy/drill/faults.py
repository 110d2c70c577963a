"""What is done to the chain while colourists work. Each is done, seen to its end, and told in a few words."""

import os
import re
import shutil
import signal
import subprocess
import time
from functools import partial
from pathlib import Path
from typing import Final

from deploy.drill.chain import Chain, awaited
from deploy.drill.confs import AS_POSTGRES
from deploy.drill.place import HOST, NODES, PORTS

DEAD_S: Final = 25.0  # for how long a machine that died stays away
APART_S: Final = 15.0
LEFT_MB: Final = 160  # of the standby's disk, before it is filled


def kill_app(chain: Chain) -> str:
    """An app server, with all its workers."""
    chain.kill("app-a")
    awaited("the app server", lambda: chain.is_ready("APP_A_PORT"))
    return "started again by what keeps it"


def kill_pooler(chain: Chain) -> str:
    """The pooler of an app server."""
    chain.kill("pooler-a")
    awaited("the app server behind it", lambda: chain.is_ready("APP_A_PORT"))
    return "started again by what keeps it"


def kill_primary(chain: Chain) -> str:
    """The machine of the primary: its Patroni, its PostgreSQL, at once; it comes back later as the standby."""
    was = chain.holder()
    chain.kill(f"patroni-{was}")
    chain.end_database(was)
    died = time.monotonic()
    now = awaited("another primary", lambda: (found := chain.primary()) != was and found, 60)
    took = time.monotonic() - died
    time.sleep(max(0.0, DEAD_S - took))
    chain.start(f"patroni-{was}")
    awaited("the standby", chain.has_standby)
    return f"{was} died, {now} was promoted after {took:.0f} s, {was} came back as its standby"


def split_brain(chain: Chain) -> str:
    """The primary is cut off from the others while it runs on: it must answer for no change from then on."""
    was = chain.holder()
    keeper = chain.pid(f"patroni-{was}")
    os.kill(keeper, signal.SIGSTOP)
    now = awaited("another primary", lambda: (found := chain.primary()) != was and found, 60)
    said = "answered: **two accepted**"
    try:
        chain.sql(
            "CREATE TABLE IF NOT EXISTS accepted_by_two (at timestamptz)", port=f"PG_{was.upper()}_PORT", wait_s=8
        )
    except subprocess.TimeoutExpired:
        said = "waited in vain for its standby, and was never answered"
    except subprocess.CalledProcessError as error:
        said = f"was refused ({str(error.stderr).strip().splitlines()[-1][:60]})"
    os.kill(keeper, signal.SIGCONT)
    awaited("the standby", lambda: chain.primary() == now and chain.has_standby())
    kept = chain.sql("SELECT count(*) FROM pg_class WHERE relname = 'accepted_by_two'")
    if kept != "0":
        said += ", **but it is kept**"
    return f"{now} took over from {was}, which still ran; a change sent to {was} {said}"


def fill_standby(chain: Chain) -> str:
    """The standby's disk is full for a while: it stops, and the primary goes on alone once that is known."""
    node = next(each for each in NODES if each != chain.primary())
    data, disk = chain.place.data(node), chain.place.folder / f"disk-{node}"
    chain.stop(f"patroni-{node}")
    chain.end_database(node)
    used = int(subprocess.run(["du", "-sm", str(data)], capture_output=True, text=True, check=True).stdout.split()[0])
    disk.mkdir(exist_ok=True)
    mount = ["mount", "-t", "tmpfs", "-o", f"size={used + LEFT_MB}m,mode=700", "tmpfs", str(disk)]
    if subprocess.run(mount, capture_output=True, check=False).returncode:
        chain.start(f"patroni-{node}")
        awaited("the standby", chain.has_standby)
        return "left out: this machine lets no disk be mounted"
    shutil.copytree(data, disk / "data", symlinks=True)
    subprocess.run(["chown", "-R", f"{AS_POSTGRES}:{AS_POSTGRES}", str(disk)], check=True)
    away = data.rename(data.with_name(f"{data.name}-away"))
    data.symlink_to(disk / "data")
    chain.start(f"patroni-{node}")
    awaited("the standby", chain.has_standby)
    began = time.monotonic()
    filler = disk / "filler"
    with filler.open("wb") as file:
        try:
            while True:
                file.write(b"\0" * 1_000_000)
                file.flush()
        except OSError:
            pass
    awaited("the standby's end", lambda: _writes(chain) and not chain.has_standby(), 120)
    took = time.monotonic() - began
    filler.unlink()
    chain.start(f"patroni-{node}")
    awaited("the standby", chain.has_standby)
    chain.stop(f"patroni-{node}")
    chain.end_database(node)
    data.unlink()
    away.rename(data)
    subprocess.run(["umount", str(disk)], check=True)
    chain.start(f"patroni-{node}")
    awaited("the standby", chain.has_standby)
    return (
        f"{node} stopped {took:.0f} s after its disk was full, {chain.primary()} went on alone; {node} caught up later"
    )


def _writes(chain: Chain) -> bool:
    """Write enough that the standby needs room."""
    chain.sql("SELECT pg_switch_wal()")
    return True


def set_clock_ahead(chain: Chain) -> str:
    """App server b's clock goes a minute ahead of a's and the database's."""
    chain.stop("app-b")
    chain.start("app-b-ahead")
    awaited("the app server", lambda: chain.is_ready("APP_B_PORT"))
    time.sleep(APART_S)
    chain.stop("app-b-ahead")
    chain.start("app-b")
    awaited("the app server", lambda: chain.is_ready("APP_B_PORT"))
    return "b ran a minute ahead of a"


def roll_out(chain: Chain) -> str:
    """A new version with a column more: migrated while the old one serves, then server by server."""
    release = chain.release_from(chain.place.release("a").resolve(), "release-2", more=_with_a_column)
    chain.manage("makemigrations", "clients", "--name", "harbour", "-v", "0", release=release)
    began = time.monotonic()
    chain.manage("migrate", "--no-input", "-v", "0", release=release)
    took = time.monotonic() - began
    time.sleep(APART_S)  # the old version against the new schema
    for server in NODES:
        chain.front(f"set server apps/app-{server} state drain")
        time.sleep(2)
        chain.stop(f"app-{server}", f"worker-{server}")
        chain.point(server, release)
        chain.start(f"app-{server}", f"worker-{server}")
        awaited("the new version", partial(chain.is_ready, f"APP_{server.upper()}_PORT"))
        chain.front(f"set server apps/app-{server} state ready")
        time.sleep(2)
    columns = chain.sql_of_app("SELECT count(*) FROM information_schema.columns WHERE column_name = 'harbour'")
    return f"migrated in {took:.0f} s ({columns} columns more), old servers served {APART_S:g} s against the new schema"


def _with_a_column(release: Path) -> None:
    file = release / "studio" / "clients" / "models.py"
    text = file.read_text(encoding="utf-8")
    new = '\\1    harbour = models.CharField(max_length=40, blank=True, db_default="")\n'
    text, count = re.subn(
        r"(class Client\(models\.Model\):\n(?:    \"\"\".*?\"\"\"\n\n)?)", new, text, count=1, flags=re.S
    )
    if not count:
        raise RuntimeError("the model of a client is not where the drill looks")
    file.write_text(text, encoding="utf-8")


def restore_to(chain: Chain, moment: str) -> float:
    """The database as it was at a moment, on a server of its own at RESTORED_PORT; returns the seconds that it took."""
    began = time.monotonic()
    target = chain.place.folder / "restored"
    shutil.rmtree(target, ignore_errors=True)
    target.mkdir(mode=0o700)
    shutil.chown(target, AS_POSTGRES, AS_POSTGRES)
    chain.sql("SELECT pg_switch_wal()")
    chain.backrest("restore", f"--pg1-path={target}", "--type=time", f"--target={moment}", "--target-action=promote")
    options = f"-p {PORTS['RESTORED_PORT']} -c archive_mode=off -c listen_addresses={HOST}"
    options += f" -c unix_socket_directories={chain.place.folder}/socket -c synchronous_standby_names=''"
    log = str(chain.place.folder / "log" / "restored.log")
    chain.as_postgres(
        str(chain.place.bin / "pg_ctl"), "-D", str(target), "-l", log, "-w", "-t", "300", "-o", options, "start"
    )
    awaited("the restored database", lambda: chain.sql("SELECT NOT pg_is_in_recovery()", port="RESTORED_PORT") == "t")
    return time.monotonic() - began


def end_restored(chain: Chain) -> None:
    """Stop the server that restore_to has started."""
    target = chain.place.folder / "restored"
    chain.as_postgres(str(chain.place.bin / "pg_ctl"), "-D", str(target), "-m", "immediate", "stop")
