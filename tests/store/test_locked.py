"""The private database lets nobody in who does not know its passwords, whoever he is on this machine."""

import os
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

import psycopg

from birch_route.store.server import HBA, NAME, OWNER, SHOP, PrivateServer, programs_folder


def asked_as(user, url, sql="select 1"):
    """Ask as another user of this machine; return exit code and what was said."""
    command = [str(programs_folder() / "psql"), "-w", "-X", "-c", sql, url]
    if user is not None:
        command = ["/usr/sbin/runuser", "-u", user, "--", *command]
    done = subprocess.run(
        command,
        cwd="/",
        capture_output=True,
        text=True,
        check=False,
        env={"PATH": os.environ["PATH"], "PGPASSFILE": "/dev/null"},
    )
    return done.returncode, done.stderr


class Locked(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(tempfile.mkdtemp(prefix="birch-lock-", dir="/var/tmp"))
        cls.folder.chmod(0o755)
        cls.addClassCleanup(shutil.rmtree, cls.folder, ignore_errors=True)
        cls.server = PrivateServer(cls.folder / "state")
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)

    def test_no_rule_trusts_anybody(self):
        with psycopg.connect(self.server._address(OWNER, NAME)) as connection:
            rows = connection.execute("select type, auth_method, error from pg_hba_file_rules").fetchall()
        self.assertEqual(rows, [("host", "scram-sha-256", None)])

    def test_without_the_password_it_is_refused_over_loopback_and_there_is_no_socket(self):
        for role in (SHOP, OWNER, "postgres"):
            for user in (None, "nobody", "postgres") if os.geteuid() == 0 else (None,):
                with self.subTest(role=role, user=user):
                    code, said = asked_as(user, f"postgresql://{role}@127.0.0.1:{self.server.port}/{NAME}")
                    self.assertNotEqual(code, 0)
                    self.assertRegex(said, "no password supplied|password authentication failed")
                    code, _ = asked_as(
                        user, f"postgresql:///{NAME}?host={self.folder / 'state'}&port={self.server.port}&user={role}"
                    )
                    self.assertNotEqual(code, 0)
        self.assertEqual(list(self.folder.rglob(".s.PGSQL*")), [])

    @unittest.skipUnless(os.geteuid() == 0, "needs another user")
    def test_another_user_cannot_read_the_password_or_the_data(self):
        for path in ("secret.json", "data/PG_VERSION", "log"):
            done = subprocess.run(
                ["/usr/sbin/runuser", "-u", "nobody", "--", "cat", str(self.folder / "state" / path)],
                capture_output=True,
                check=False,
                cwd="/",
            )
            self.assertNotEqual(done.returncode, 0, path)
        self.assertEqual((self.folder / "state" / "secret.json").stat().st_mode & 0o777, 0o600)

    def test_the_products_role_is_no_superuser_and_runs_no_command(self):
        with psycopg.connect(self.server.url, autocommit=True) as connection:
            self.assertEqual(connection.execute("select rolsuper, rolcreaterole, rolcreatedb from pg_roles where "
                "rolname = current_user").fetchone(), (False, False, False))
            for sql in ("copy (select 1) to program 'true'", "select pg_read_file('/etc/hostname')", "create role "
                "other superuser"):
                with self.subTest(sql), self.assertRaises(psycopg.errors.InsufficientPrivilege):
                    connection.execute(sql)


class Upgraded(unittest.TestCase):
    def test_a_cluster_that_trusted_everybody_is_locked_and_keeps_what_is_in_it(self):
        folder = Path(tempfile.mkdtemp(prefix="birch-lock-", dir="/var/tmp"))
        folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        server = PrivateServer(folder / "state")
        server.folder.mkdir()
        if os.geteuid() == 0:
            shutil.chown(server.folder, "postgres", "postgres")
        server._run("initdb", "-D", str(server.data), "-U", OWNER, "-A", "trust", "-E", "UTF8", "--no-sync")
        server._run("postgres", "--single", "-D", str(server.data), "postgres", said=f"create database {NAME};\n")
        server._run("postgres", "--single", "-D", str(server.data), NAME, said="create type kind as enum "
            "('a');\ncreate table old (id serial primary key, what kind);\ninsert into old (what) values ('a');\n")
        server.start()
        self.addCleanup(server.stop)
        self.assertEqual((server.data / "pg_hba.conf").read_text(), HBA)
        with psycopg.connect(server.url) as connection:
            self.assertEqual(connection.execute("insert into old (what) values ('a') returning id").fetchone(), (2,))
            connection.execute("alter table old add column more text")
        self.assertNotEqual(asked_as(None, f"postgresql://{OWNER}@127.0.0.1:{server.port}/{NAME}")[0], 0)
