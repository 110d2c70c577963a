"""Where the drill's chain stands: its folder, ports, secrets, and what each part of it is told."""

import json
import os
import secrets
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from string import Template
from typing import Final

ROOT: Final = Path(__file__).resolve().parents[2]
CHAIN: Final = ROOT / "deploy" / "chain"
HOST: Final = "127.0.0.1"
PORTS: Final = {
    "WEB_PORT": 7180,
    "APP_A_PORT": 7101,
    "APP_B_PORT": 7102,
    "POOLER_A_PORT": 7111,
    "POOLER_B_PORT": 7112,
    "PRIMARY_PORT": 7120,
    "READERS_PORT": 7121,
    "REST_A_PORT": 7131,
    "REST_B_PORT": 7132,
    "PG_A_PORT": 7141,
    "PG_B_PORT": 7142,
    "RESTORED_PORT": 7149,
    "BUCKET_PORT": 7190,
}
ETCD: Final = {"e1": (7151, 7161), "e2": (7152, 7162), "e3": (7153, 7163)}
NODES: Final = ("a", "b")
BUCKET: Final = "lantern-street-files"


@dataclass(frozen=True)
class Place:
    """The chain in one folder. bin: the commands of PostgreSQL."""

    folder: Path
    bin: Path

    @classmethod
    def told(cls) -> "Place":
        """As tools/far says it in the environment."""
        return cls(Path(os.environ["FAR_FOLDER"]), Path(os.environ["FAR_PG_BIN"]))

    @cached_property
    def secrets(self) -> dict[str, str]:
        """Passwords and the key that signs, made once."""
        file = self.folder / "secrets.json"
        if not file.exists():
            names = ("SUPER_PASSWORD", "REPLICATION_PASSWORD", "APP_PASSWORD", "SECRET_KEY")
            file.touch(mode=0o600)
            file.write_text(json.dumps({name: secrets.token_urlsafe(45) for name in names}), encoding="utf-8")
        found: dict[str, str] = json.loads(file.read_text(encoding="utf-8"))
        return found

    def data(self, node: str) -> Path:
        """A database's own folder."""
        return self.folder / f"data-{node}"

    def release(self, server: str) -> Path:
        """The code that an app server or a worker runs: a link that a roll-out sets anew."""
        return self.folder / f"current-{server}"

    def filled(self, name: str, **more: object) -> str:
        """A file of deploy/chain with its names filled in. Raises KeyError for one that nobody tells."""
        told: dict[str, object] = {"PLACE": self.folder, "HOST": HOST, "PG_BIN": self.bin, **PORTS, **self.secrets}
        told |= {
            "TRUSTED": f"{HOST}/32",
            "WEB_BIND": f"{HOST}:{PORTS['WEB_PORT']}",
            "REPOSITORY": self.folder / "repository",
            "ETCD_HOSTS": ", ".join(f"'{HOST}:{client}'" for client, _ in ETCD.values()),
            "ETCD_CLUSTER": ",".join(f"{name}=http://{HOST}:{peer}" for name, (_, peer) in ETCD.items()),
        }
        return Template((CHAIN / name).read_text(encoding="utf-8")).substitute({**told, **more})

    def database_url(self, port: str) -> str:
        """The application's database by the port of this name."""
        return f"postgres://rainshade:{self.secrets['APP_PASSWORD']}@{HOST}:{PORTS[port]}/rainshade"

    def environment(self, server: str = "", *, pooled: bool = False) -> dict[str, str]:
        """What the application is told, at a server or beside them; pooled: by the server's own pooler."""
        port = f"POOLER_{server.upper()}_PORT" if pooled else "PRIMARY_PORT"
        return {
            "DATABASE_URL": self.database_url(port),
            "RAINSHADE_BEHIND_POOLER": "1" if pooled else "0",
            "RAINSHADE_SECRET_KEY": self.secrets["SECRET_KEY"],
            "RAINSHADE_BUCKET": BUCKET,
            "RAINSHADE_BUCKET_ENDPOINT": f"http://{HOST}:{PORTS['BUCKET_PORT']}",
            "RAINSHADE_STATIC_ROOT": str(self.folder / "static"),
            "RAINSHADE_OUTBOX": str(self.folder / "outbox"),
            "AWS_ACCESS_KEY_ID": "drill",
            "AWS_SECRET_ACCESS_KEY": "drill",
            "AWS_DEFAULT_REGION": "eu-west-1",
            "OPENBLAS_NUM_THREADS": "1",
            "RAINSHADE_LOGS": "plain",
        }
