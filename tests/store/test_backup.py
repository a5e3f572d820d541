"""A shop goes into one file and comes out of it the same: into an empty one only, never from a broken file."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

from birch_route.core.errors import InputError, StoreError
from birch_route.core.proving.prove import prove
from birch_route.core.route import read_route
from birch_route.service.backups import KEPT_DAYS, KEPT_WEEKS, Kept, superfluous
from birch_route.store.backup import back_up, read_manifest, restore
from birch_route.store.database import Database, migrate, newest_migration
from birch_route.store.server import PrivateServer
from tests.support import ROOT, live_server


class Backup(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(tempfile.mkdtemp(prefix="birch-backup-", dir="/var/tmp"))
        cls.folder.chmod(0o755)
        cls.addClassCleanup(shutil.rmtree, cls.folder, ignore_errors=True)
        cls.full = Database(live_server().database_url, most=2)
        cls.full.open()
        cls.addClassCleanup(cls.full.close)
        cls.file = cls.folder / "shop.birch-backup"
        cls.manifest = back_up(cls.full, cls.file)

    def empty(self, name):
        """Return a database with nothing in it, on a server of its own."""
        server = PrivateServer(self.folder / name)
        server.start()
        self.addCleanup(server.stop)
        database = Database(server.url, most=2)
        database.open()
        self.addCleanup(database.close)
        return database

    def changed(self, name, change):
        """Return a copy of the file after its members were changed by name."""
        path = self.folder / name
        with zipfile.ZipFile(self.file) as source, zipfile.ZipFile(path, "w") as out:
            for member in source.namelist():
                data = change(member, source.read(member))
                if data is not None:
                    out.writestr(member, data)
        return path

    def test_what_comes_out_is_what_went_in_and_goes_on(self):
        database = self.empty("again")
        self.assertEqual(restore(database, self.file).rows, self.manifest.rows)
        second = back_up(database, self.folder / "second.birch-backup")
        self.assertEqual(second.tables, self.manifest.tables)
        with database.transaction() as t:
            jobs = t.one("count_routes")["count"]
            last = t.all("machines")
            t.one("add_machine_record", machine="new", document=json_doc(), what="", removed=False, made_by="Ada")
        self.assertGreater(jobs, 3)
        self.assertGreater(len(last), 1)
        with self.assertRaisesRegex(StoreError, "not empty"):
            restore(database, self.file)

    def test_a_broken_file_is_told_and_nothing_is_changed(self):
        cut = self.folder / "cut.birch-backup"
        cut.write_bytes(self.file.read_bytes()[:-200])
        one_byte = lambda m, d: d[:-2] + b"x\n" if m == "tables/job.copy" else d  # noqa: E731
        no_table = lambda m, d: None if m == "tables/job.copy" else d  # noqa: E731
        other = lambda m, d: b"{}" if m == "manifest.json" else d  # noqa: E731
        database = self.empty("broken")
        for path, words in (
            (cut, "cut short"),
            (self.changed("byte.zip", one_byte), "not what was saved"),
            (self.changed("table.zip", no_table), "cut short"),
            (self.changed("other.zip", other), "no backup"),
            (self.folder / "never.zip", "There is no file"),
        ):
            with self.subTest(path.name), self.assertRaisesRegex(InputError, words):
                restore(database, path)
        migrate(database)
        with database.transaction() as t:
            self.assertEqual(t.one("count_routes")["count"], 0)

    def test_newer_data_are_refused_by_restore_and_by_start(self):
        def newer(member, data):
            if member != "manifest.json":
                return data
            return json.dumps({**json.loads(data), "migration": newest_migration() + 1})
        database = self.empty("newer")
        with self.assertRaisesRegex(InputError, "newer Birch Route"):
            restore(database, self.changed("newer.zip", newer))
        migrate(database)
        with database.transaction() as t:
            t.do("add_migration", number=newest_migration() + 1, name="of_tomorrow")
        with self.assertRaisesRegex(StoreError, "Update the program"):
            migrate(database)

    def test_a_database_that_workers_are_at_is_refused_and_the_file_is_for_its_owner_only(self):
        self.assertEqual(self.file.stat().st_mode & 0o777, 0o600)
        until = time.monotonic() + 90
        while time.monotonic() < until:  # a worker says that it lives once its kernels are compiled
            with self.full.transaction() as t:
                if t.one("workers_alive", seconds=10)["count"]:
                    break
            time.sleep(0.2)
        with self.assertRaisesRegex(StoreError, "works on this database"):
            restore(self.full, self.file)

    def test_sessions_links_and_what_is_made_again_stay_out(self):
        names = {t.name for t in read_manifest(self.file).tables}
        self.assertFalse(names & {"session", "sign_in_link", "proof", "proof_view", "looks"})
        self.assertTrue({"job", "revision", "run", "upload", "machine_record", "person"} <= names)

    def test_the_commands_say_what_they_did_and_refuse_over_a_running_shop(self):
        state = self.folder / "state"
        environment = {
            **os.environ, "BIRCH_STATE_DIR": str(state), "PYTHONPATH": str(ROOT / "src"),
        }
        environment.pop("BIRCH_DATABASE_URL", None)

        def birch(*words):
            line = [sys.executable, "-m", "birch_route.cli", *map(str, words)]
            return subprocess.run(line, env=environment, capture_output=True, text=True, check=False)
        done = birch("restore", self.file)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("counts and hashes agree", done.stdout)
        done = birch("backup")
        self.assertIn("read back", done.stdout)
        self.assertEqual(len(list((self.folder / "state-backups").iterdir())), 1)
        done = birch("export", self.folder / "open.zip")
        self.assertEqual(done.returncode, 0, done.stderr)
        names = zipfile.ZipFile(self.folder / "open.zip").namelist()
        self.assertTrue(any(n.endswith("route.birch.json") for n in names) and "rack.csv" in names)
        self.assertTrue(any(n.startswith("machines/") for n in names))
        self.assertTrue({"records/materials.json", "records/measuring.json"} <= set(names))
        server = PrivateServer(state)
        server.start()
        try:
            done = birch("restore", self.file)
            self.assertEqual(done.returncode, 2)
            self.assertIn("runs on this shop", done.stderr)
        finally:
            server.stop()


def json_doc():
    from birch_route.store.database import json_value

    return json_value({})


class KeptOnes(unittest.TestCase):
    def test_seven_days_and_four_weeks_are_kept(self):
        newest = datetime(2026, 11, 30, 5, 0, tzinfo=UTC)
        every = [Kept(Path(f"{k}"), newest - timedelta(days=k)) for k in range(60)]
        stay = [k for k in every if k not in superfluous(every)]
        self.assertEqual(len(stay), KEPT_DAYS + KEPT_WEEKS)
        self.assertEqual(stay[:KEPT_DAYS], every[:KEPT_DAYS])
        weeks = {k.made_at.isocalendar()[:2] for k in stay[KEPT_DAYS:]}
        self.assertEqual(len(weeks), KEPT_WEEKS)
        self.assertEqual(superfluous(every[:KEPT_DAYS]), [])

    def test_kept_day_by_day_the_same_stay(self):
        kept = []
        for day in range(120):
            kept = [*kept, Kept(Path(str(day)), datetime(2026, 8, 1, 4, tzinfo=UTC) + timedelta(days=day))]
            gone = superfluous(kept)
            kept = [k for k in kept if k not in gone]
        self.assertEqual(len(kept), KEPT_DAYS + KEPT_WEEKS)

    def test_of_the_newest_day_every_press_is_kept(self):
        newest = datetime(2026, 11, 30, 5, 0, tzinfo=UTC)
        pressed = [Kept(Path(f"{k}"), newest - timedelta(minutes=k)) for k in range(5)]
        before = [Kept(Path(f"b{k}"), newest - timedelta(days=1, minutes=k)) for k in range(3)]
        self.assertEqual(superfluous([*pressed, *before]), before[1:])


class Earlier(unittest.TestCase):
    """Shops that earlier versions made, kept in tests/data/shops: each is upgraded and goes on."""

    def test_shops_of_earlier_versions_are_upgraded_with_all_they_had(self):
        files = sorted((ROOT / "tests" / "data" / "shops").glob("*.birch-backup"))
        self.assertEqual(len(files), 3)
        folder = Path(tempfile.mkdtemp(prefix="birch-earlier-", dir="/var/tmp"))
        folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        seen = set()
        for file in files:
            server = PrivateServer(folder / file.stem)
            server.start()
            self.addCleanup(server.stop)
            database = Database(server.url, most=2)
            database.open()
            self.addCleanup(database.close)
            with self.subTest(file.name):
                manifest = restore(database, file)
                seen.add(manifest.migration)
                self.assertLess(manifest.migration, newest_migration())
                with database.transaction() as t:
                    row = t.maybe("latest_revision", route=1)
                    runs = t.all("every_run")
                    machines = t.all("machines")
                route = read_route(json.loads(row["document"]))
                self.assertEqual(route.note, "Kept from an earlier version")
                self.assertEqual([r["note"] for r in runs], ["cut"])
                self.assertEqual([m["machine"] for m in machines], [route.machine.id])
                self.assertEqual(prove(route).stops, [])
        self.assertEqual(len(seen), 3)
