"""A disk is lost, a dump is damaged or of a newer day: what was kept comes back to the last row, or nothing changes."""

import os
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PATIENCE_S = 420
PSQL = "at psql -qtA -v ON_ERROR_STOP=1 -d rainshade"
# Of every table how many rows there are, and a digest of all of them in an order of their own.
TABLES = (
    "SELECT format('SELECT %L, count(*), md5(coalesce(string_agg(t::text, chr(10) ORDER BY t::text), %L)) "
    "FROM %I.%I t;', "
    "schemaname || '.' || tablename, '', schemaname, tablename) FROM pg_tables "
    "WHERE schemaname NOT IN ('pg_catalog', 'information_schema') ORDER BY 1"
)


class Keeping(unittest.TestCase):
    """One studio with its demo data, in a home of its own, that every test finds as it was."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(tempfile.mkdtemp(prefix="rainshade-keeping-"))
        cls.addClassCleanup(shutil.rmtree, cls.folder, ignore_errors=True)
        cls.folder.chmod(0o755)
        cls.dump = cls.folder / "kept.dump"
        load = "from studio.demo.load import load_demo; load_demo('of no use')"
        made = cls.shell(
            '"$python" manage.py migrate -v 0; "$python" manage.py shell -v 0 -c "$LOAD"; tools/backup "$DUMP"',
            DUMP=str(cls.dump),
            LOAD=load,
        )
        assert made.returncode == 0, made.stderr
        cls.seen = cls.tables()

    @classmethod
    def shell(cls, script: str, *, serving: bool = True, **more: str) -> subprocess.CompletedProcess[str]:
        """Run a script of the house's shell; serving: while the database's server runs."""
        start = "trap stop_postgres EXIT; start_postgres demo; " if serving else ""
        ground = (
            ". tools/ground.sh; . tools/keep.sh; export RAINSHADE_STATIC_ROOT=$home/static; mkdir -p $home/static; "
        )
        return subprocess.run(
            ["bash", "-c", ground + start + script],
            cwd=ROOT,
            env=os.environ | {"RAINSHADE_HOME": str(cls.folder / "home")} | more,
            capture_output=True,
            text=True,
            timeout=PATIENCE_S,
            check=False,
        )

    @classmethod
    def tables(cls) -> list[str]:
        """Every table with its rows and their digest."""
        done = cls.shell(f'{PSQL} -c "$TABLES" | {PSQL}', TABLES=TABLES)
        assert done.returncode == 0, done.stderr
        return done.stdout.splitlines()

    def restore(self, dump: Path) -> subprocess.CompletedProcess[str]:
        return self.shell(f'tools/restore "{dump}"', serving=False)

    def assert_nothing_changed(self, dump: Path, told: str) -> None:
        refused = self.restore(dump)
        self.assertNotEqual(refused.returncode, 0)
        self.assertIn(told, refused.stderr)
        self.assertIn("Nothing was changed", refused.stderr)
        self.assertEqual(self.tables(), self.seen)

    def test_what_was_changed_since_gives_way_and_comes_back_and_a_lost_disk_loses_no_card(self) -> None:
        self.assertGreater(len([row for row in self.seen if row.split("|")[1] != "0"]), 20)
        self.shell(f"{PSQL} -c \"UPDATE clients_client SET name = name || ' the younger'\"")
        younger = self.tables()
        self.assertNotEqual(younger, self.seen)
        back = self.restore(self.dump)
        self.assertEqual(back.returncode, 0, back.stderr)
        self.assertEqual(self.tables(), self.seen)
        before = Path(back.stderr.split("before is in ")[1].strip().rstrip("."))
        self.assertEqual(self.restore(before).returncode, 0)
        self.assertEqual(self.tables(), younger)
        shutil.rmtree(self.folder / "home" / "demo")
        back = self.restore(self.dump)
        self.assertEqual(back.returncode, 0, back.stderr)
        self.assertEqual(self.tables(), self.seen)

    def test_a_dump_that_is_damaged_cut_off_none_or_newer_changes_nothing(self) -> None:
        whole = self.dump.read_bytes()
        damaged, cut, none, newer = (self.folder / f"{name}.dump" for name in ("damaged", "cut", "none", "newer"))
        damaged.write_bytes(whole[:-200] + b"x" * 200)
        shutil.copy(f"{self.dump}.sha256", f"{damaged}.sha256")
        cut.write_bytes(whole[: len(whole) // 2])
        none.write_text("a letter")
        row = "INSERT INTO django_migrations (app, name, applied) VALUES ('visits', '9999_to_come', now())"
        gone = "DELETE FROM django_migrations WHERE name = '9999_to_come'"
        made = self.shell(f'{PSQL} -c "{row}"; tools/backup "{newer}"; {PSQL} -c "{gone}"')
        self.assertEqual(made.returncode, 0, made.stderr)
        for dump, told in (
            (damaged, "is damaged"),
            (cut, ""),
            (none, "is no dump of Rainshade"),
            (newer, "newer Rainshade than this one, which does not know visits 9999_to_come"),
        ):
            with self.subTest(dump=dump.name):
                refused = self.restore(dump)
                self.assertNotEqual(refused.returncode, 0)
                self.assertIn(told, refused.stderr)
                self.assertIn("Nothing was changed", refused.stderr)
        self.assertEqual(self.tables(), self.seen)

    def test_before_a_reset_everything_is_kept_and_what_cannot_be_kept_is_not_thrown_away(self) -> None:
        keep = self.folder / "keep"
        keep.write_text(f"#!/bin/bash\n{ROOT}/tools/backup; exit 3\n")
        keep.chmod(0o755)
        stopped = self.shell(f'"$python" manage.py prepare --reset --keep "{keep}"')
        self.assertNotEqual(stopped.returncode, 0)
        self.assertIn("could not be kept, and so it is neither changed nor thrown away", stopped.stderr)
        self.assertNotIn("Traceback", stopped.stderr)
        (kept,) = (self.folder / "home" / "backups").glob("rainshade-*.dump")
        self.assertEqual(kept.stat().st_mode & 0o077, 0, "others can read it")
        self.assertEqual(self.tables(), self.seen)

    def test_a_database_of_a_version_that_is_not_here_is_told_with_what_to_do(self) -> None:
        version = self.folder / "home" / "demo" / "data" / "PG_VERSION"
        own = version.read_text()
        version.write_text("9\n")
        self.addCleanup(version.write_text, own)
        refused = self.shell("true")
        self.assertNotEqual(refused.returncode, 0)
        self.assertIn("was made by PostgreSQL 9", refused.stderr)
        self.assertIn("tools/restore", refused.stderr)
