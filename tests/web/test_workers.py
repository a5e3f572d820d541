"""More workers than one on a database: a start robs nobody, and what a killed one was at is taken up."""

import os
import signal
import subprocess
import sys
import time
import unittest

import psycopg

from birch_route.formats.route_file import route_to_text
from birch_route.jobs.worker import GONE_S, LOOK_S
from tests.support import ROOT, LiveServer, changed, put, route_named

DOING = "select id, attempts, worker_id from procrastinate_jobs where status = 'doing' and queue_name = 'live'"


class Workers(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)

    def setUp(self):
        self.database = psycopg.connect(self.server.database_url, autocommit=True)
        self.addCleanup(self.database.close)
        self.started = []

    def worker(self):
        environment = {
            **os.environ, "BIRCH_DATABASE_URL": self.server.database_url, "PYTHONPATH": str(ROOT / "src"),
        }
        line = [sys.executable, "-m", "birch_route.cli", "worker", "live"]
        before = self.known()
        process = subprocess.Popen(line, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, process)
        self.until(lambda: self.known() - before, "the worker is there")
        return process

    def end(self, process):
        if process.poll() is None:
            process.kill()
        process.wait()

    def known(self):
        """Ids, not a count: a worker that starts strikes off those that are gone."""
        return {row[0] for row in self.database.execute("select id from procrastinate_workers").fetchall()}

    def until(self, there, what, seconds=90):
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            if there():
                return
            time.sleep(0.05)
        self.fail(f"Not within {seconds} s: {what}")

    def post(self, name):
        route = changed(route_named("siskin_body"), put("job", name))
        made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))
        self.assertEqual(made[0], 200)
        return made[1]["hash"]

    def test_a_start_robs_nobody_and_the_killed_ones_work_is_taken_up(self):
        hashes = [self.post(f"Body {k}") for k in range(3)]
        self.until(lambda: self.database.execute(DOING).fetchall(), "one is at work")
        first = self.database.execute(DOING).fetchone()
        second = self.worker()
        again = self.database.execute(DOING).fetchall()
        self.assertTrue(all(attempts == 0 for job, attempts, _ in again if job == first[0]), again)
        self.until(lambda: len(self.database.execute(DOING).fetchall()) == 2 or self.done(hashes), "both are at work")
        second.send_signal(signal.SIGKILL)
        for one in hashes:
            self.assertTrue(self.server.proof(one, 120)["report"]["operations"])
        self.until(lambda: not self.database.execute(DOING).fetchall(), "nobody is at work", GONE_S + 10 * LOOK_S)
        kept = self.database.execute("select count(*) from proof where hash = any(%s)", [hashes]).fetchone()[0]
        self.assertEqual(kept, len(hashes))

    def test_four_workers_one_killed_at_work_lose_nothing_and_do_nothing_twice(self):
        others = [self.worker() for _ in range(3)]
        hashes = [self.post(f"Piece {k}") for k in range(8)]
        at_work = lambda: len(self.database.execute(DOING).fetchall())  # noqa: E731
        self.until(lambda: at_work() >= 2 or self.done(hashes), "several are at work")
        others[1].send_signal(signal.SIGKILL)
        tries: dict[int, int] = {}

        def all_done():
            for job, attempts, _ in self.database.execute(DOING).fetchall():
                tries[job] = max(tries.get(job, 0), attempts)
            return self.done(hashes)

        self.until(all_done, "every piece is proved", 200)
        self.until(lambda: not self.database.execute(DOING).fetchall(), "nobody is at work", GONE_S + 10 * LOOK_S)
        left = self.database.execute("select count(*) from procrastinate_jobs where queue_name = 'live'").fetchone()[0]
        self.assertEqual(left, 0)
        again = [job for job, attempts in tries.items() if attempts > 0]
        self.assertLessEqual(len(again), 1, tries)  # only what the killed one was at

    def done(self, hashes):
        kept = self.database.execute("select count(*) from proof where hash = any(%s)", [hashes]).fetchone()[0]
        return kept == len(hashes)

    def test_a_worker_without_a_database_and_one_of_another_version_are_told(self):
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
        environment.pop("BIRCH_DATABASE_URL", None)
        line = [sys.executable, "-m", "birch_route.cli", "worker"]
        done = subprocess.run(line, env=environment, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 2)
        self.assertIn("never leaves its machine", done.stderr)
        other = self.server.database_url.rsplit("/", 1)[0] + "/nothing"
        done = subprocess.run(
            line, env={**environment, "BIRCH_DATABASE_URL": other}, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 2)


if __name__ == "__main__":
    unittest.main()
