"""The files that the chain's parts read, and the list by which supervisor keeps each of them running."""

import shutil
import sys
from collections.abc import Mapping
from pathlib import Path
from typing import Final

from deploy.drill.place import ETCD, HOST, NODES, PORTS, Place

AS_POSTGRES: Final = "postgres"
SKEW_S: Final = 60  # how far ahead app server b's clock goes, where it is asked for


def write_confs(place: Place) -> None:
    """Every file, for the user who reads it."""
    folder = place.folder
    for name in ("log", "socket", "repository", "spool-a", "spool-b", "lock-a", "lock-b", "outbox", "static"):
        (folder / name).mkdir(parents=True, exist_ok=True)
    written = [_write(folder / "haproxy.cfg", place.filled("haproxy.cfg"))]
    for node in NODES:
        upper = node.upper()
        of_node = {"NODE": node, "DATA": place.data(node), "PG_PORT": PORTS[f"PG_{upper}_PORT"]}
        of_node |= {"REST_PORT": PORTS[f"REST_{upper}_PORT"], "POOLER_PORT": PORTS[f"POOLER_{upper}_PORT"]}
        written += [
            _write(folder / f"patroni-{node}.yml", place.filled("patroni.yml", **of_node)),
            _write(folder / f"pgbackrest-{node}.conf", place.filled("pgbackrest.conf", **of_node)),
            _write(folder / f"pgbouncer-{node}.ini", place.filled("pgbouncer.ini", **of_node)),
        ]
        place.data(node).mkdir(mode=0o700, exist_ok=True)
    for name, (client, peer) in ETCD.items():
        told = place.filled("etcd.yml", NODE=name, ETCD_PORT=client, ETCD_PEER_PORT=peer)
        written.append(_write(folder / f"etcd-{name}.yml", told))
        (folder / f"etcd-{name}").mkdir(mode=0o700, exist_ok=True)
    written.append(_write(folder / "users.txt", f'"rainshade" "{place.secrets["APP_PASSWORD"]}"\n'))
    _write(folder / "supervisor.conf", _supervisor(place))
    owned = [*written, *(folder / f"data-{node}" for node in NODES), *(folder / f"etcd-{name}" for name in ETCD)]
    owned += [folder / name for name in ("log", "socket", "repository", "spool-a", "spool-b", "lock-a", "lock-b")]
    for path in (folder, *owned):
        shutil.chown(path, AS_POSTGRES, AS_POSTGRES)


def _write(path: Path, text: str) -> Path:
    path.touch(mode=0o600)
    path.write_text(text, encoding="utf-8")
    return path


def _supervisor(place: Place) -> str:
    """A program for each part; what ends is started again, as systemd does by the units of deploy/."""
    folder, python = place.folder, sys.executable
    parts = [
        "[unix_http_server]",
        f"file={folder}/supervisor.sock",
        "chmod=0600",
        "[supervisord]",
        f"logfile={folder}/log/supervisor.log",
        f"pidfile={folder}/supervisor.pid",
        "minfds=4096",
        "[rpcinterface:supervisor]",
        "supervisor.rpcinterface_factory = supervisor.rpcinterface:make_main_rpcinterface",
        "[supervisorctl]",
        f"serverurl=unix://{folder}/supervisor.sock",
    ]

    def program(
        name: str,
        command: str,
        told: Mapping[str, str],
        user: str = "",
        at: Path = folder,
        again: bool = True,
        stop: str = "TERM",
    ) -> None:
        parts.append(f"[program:{name}]")
        parts.append(f"command={command}")
        parts.append(f"directory={at}")
        parts.append(f"autostart=false\nautorestart={str(again).lower()}\nstartsecs=0\nstartretries=1000000")
        parts.append(f"stopsignal={stop}\nstopasgroup=true\nkillasgroup=true\nstopwaitsecs=40\nredirect_stderr=true")
        parts.append(f"stdout_logfile={folder}/log/{name}.log")
        if user:
            parts.append(f"user={user}")
        if told:
            parts.append("environment=" + ",".join(f'{key}="{value}"' for key, value in told.items()))

    for name in ETCD:
        program(f"etcd-{name}", f"/usr/bin/etcd --config-file {folder}/etcd-{name}.yml", {}, AS_POSTGRES)
    for node in NODES:
        home = {"HOME": str(folder), "PGPASSFILE": f"{folder}/pgpass-{node}"}
        # A machine that died stays dead until it is started by hand.
        program(f"patroni-{node}", f"/usr/bin/patroni {folder}/patroni-{node}.yml", home, AS_POSTGRES, again=False)
        program(f"pooler-{node}", f"/usr/sbin/pgbouncer -q {folder}/pgbouncer-{node}.ini", {}, AS_POSTGRES)
        serve = f"{python} -m studio.serving {HOST}:{PORTS[f'APP_{node.upper()}_PORT']}"
        told, at = place.environment(node, pooled=True), place.release(node)
        program(f"app-{node}", serve, told, at=at)
        if node == "b":
            told |= {"FAKETIME_DONT_FAKE_MONOTONIC": "1"}
            program("app-b-ahead", f"/usr/bin/faketime -f +{SKEW_S}s {serve}", told, at=at, again=False, stop="KILL")
        program(f"worker-{node}", f"{python} manage.py work", place.environment(node), at=at)
    program("front", f"/usr/sbin/haproxy -db -f {folder}/haproxy.cfg", {}, AS_POSTGRES)
    program("bucket", f"{Path(python).parent}/moto_server -H {HOST} -p {PORTS['BUCKET_PORT']}", {})
    return "\n".join(parts) + "\n"
