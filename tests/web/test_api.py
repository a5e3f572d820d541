import io
import json
import os
import signal
import time
import unittest
import zipfile

from birch_route.core.programs.readback import digest_of
from birch_route.core.programs.writer import Program
from birch_route.formats.route_file import route_to_text
from tests.support import LiveServer, changed, live_server, put, route_named

FEED = "operations.profile_outline.settings.feed_mm_min"


class Api(unittest.TestCase):
    def setUp(self):
        self.server = live_server()
        self.call = self.server.call
        status, made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))
        self.assertEqual(status, 200, made)
        self.route, self.revision, self.hash = made["route"], made["revision"], made["hash"]

    def edit(self, *edits, revision=None):
        return self.call("POST", f"/api/routes/{self.route}/edits", {"revision": revision or self.revision, "edits": list(edits)})

    def test_an_edit_makes_a_revision_and_a_proof_that_shows_it(self):
        self.server.proof(self.hash)
        status, after = self.edit(put(FEED, 900))
        self.assertEqual((status, after["revision"]), (200, 2))
        report = self.server.proof(after["hash"])["report"]
        self.assertIn("settings.chip_load", [f["code"] for f in report["findings"]])
        cure = next(f for f in report["findings"] if f["code"] == "settings.chip_load")["cures"][0]
        self.revision = 2
        status, cured = self.edit(*cure["edits"])
        self.assertNotIn("settings.chip_load", [f["code"] for f in self.server.proof(cured["hash"])["report"]["findings"]])
        status, view = self.call("GET", f"/api/proofs/{cured['hash']}/view")
        self.assertEqual(status, 200)
        self.assertGreater(len(view), 500)

    def test_undo_and_redo_walk_the_history_and_keep_every_revision(self):
        _, a = self.edit(put(FEED, 2000))
        _, b = self.edit(put(FEED, 2100), revision=a["revision"])
        _, c = self.call("POST", f"/api/routes/{self.route}/undo", {"revision": b["revision"]})
        _, d = self.call("POST", f"/api/routes/{self.route}/undo", {"revision": c["revision"]})
        feeds = [next(o for o in x["document"]["operations"] if o["id"] == "profile_outline")["settings"]["feed_mm_min"] for x in (a, b, c, d)]
        self.assertEqual(feeds[:3], [2000, 2100, 2000])
        self.assertEqual(d["hash"], self.hash)
        self.assertFalse(d["can_undo"])
        _, e = self.call("POST", f"/api/routes/{self.route}/redo", {"revision": d["revision"]})
        _, f = self.call("POST", f"/api/routes/{self.route}/redo", {"revision": e["revision"]})
        self.assertEqual(f["hash"], b["hash"])
        self.assertFalse(f["can_redo"])
        status, refused = self.call("POST", f"/api/routes/{self.route}/redo", {"revision": f["revision"]})
        self.assertEqual(status, 422, refused)
        _, history = self.call("GET", f"/api/routes/{self.route}/revisions")
        self.assertEqual(len(history), f["revision"])

    def test_the_later_of_two_edits_is_told_of_both_versions(self):
        self.edit(put(FEED, 2000))
        status, conflict = self.edit(put(FEED, 2222))
        self.assertEqual((status, conflict["code"]), (409, "conflict"))
        self.assertEqual(conflict["facts"]["theirs"]["revision"], 2)
        self.assertEqual(conflict["facts"]["yours"]["edits"][0]["value"], 2222)
        self.assertIn("document", conflict["facts"]["yours"])

    def test_a_length_may_be_typed_as_a_fraction_in_any_field(self):
        status, after = self.edit(put("blank.length_mm", '6 3/4"'))
        self.assertEqual(status, 200, after)
        self.assertAlmostEqual(after["document"]["blank"]["length_mm"], 171.45)

    def test_unusable_edits_change_nothing_and_say_why(self):
        for edit in (put("blank.length_mm", -5), put("blank.colour", 1), put("blank.length_mm", "5 furlongs"), put("operations.none.bit", "x"), {"do": "explode"},
                     put(FEED, "NaN"), put("bits.flat3.stickout_mm", 2), put("piece.features.outline.shape.vertices", [[0, 0, 0], [50, 50, 0], [50, 0, 0], [0, 50, 0]])):
            with self.subTest(str(edit)):
                status, answer = self.edit(edit)
                self.assertEqual(status, 422, answer)
                self.assertGreater(len(answer["message"]), 12)
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}")[1]["revision"], 1)

    def test_bad_files_are_refused_and_leave_no_job(self):
        before = self.call("GET", "/api/routes")[1]["count"]
        for body in (b"", b"hello", b"{}", b"\x00\xff", b'{"schema":"birch-route/1"}', b" " * 8_100_000):
            status, answer = self.call("POST", "/api/routes?measured_here=true", body)
            self.assertIn(status, (413, 422))
            self.assertTrue(answer["message"])
        self.assertEqual(self.call("GET", "/api/routes")[1]["count"], before)

    def test_an_export_imports_to_the_same_document(self):
        text = self.call("GET", f"/api/routes/{self.route}/file")[1]
        again = self.call("POST", "/api/routes", json.dumps(text))[1]
        self.assertEqual(again["hash"], self.hash)

    def test_released_programs_are_the_checked_ones_byte_for_byte(self):
        status, out = self.call("POST", f"/api/routes/{self.route}/release", {"revision": 1, "reasons": {}})
        self.assertEqual(status, 200, out)
        texts = []
        for program in out["programs"]:
            status, data = self.call("GET", f"/api/routes/{self.route}/programs/{program['name']}?revision=1")
            texts.append(Program(program["name"], data.decode(), "", [], {}, (0, 0, 0), 0))
        self.assertEqual(digest_of(texts), out["digest"])
        status, data = self.call("GET", f"/api/routes/{self.route}/release.zip?revision=1")
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
        self.assertLessEqual({"run_sheet.pdf", "report.json", "route.birch.json", *(t.name for t in texts)}, set(names))
        self.edit(put(FEED, 2000))
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}/release.zip?revision=1")[0], 409)

    def test_a_stop_refuses_the_release_and_a_freed_piece_always(self):
        _, after = self.edit(put("operations.profile_outline.tabs", []))
        status, answer = self.call("POST", f"/api/routes/{self.route}/release", {"revision": after["revision"], "reasons": {"piece.freed": "please"}})
        self.assertEqual((status, answer["code"]), (422, "refused"))
        self.assertEqual(answer["facts"]["findings"][0]["code"], "piece.freed")

    def test_a_new_job_like_another_takes_no_reading_over_and_stops_until_measured(self):
        body = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
        status, made = self.call("POST", f"/api/routes/{body['route']}/copy", {})
        self.assertEqual(status, 200, made)
        self.assertFalse([r for p in made["document"]["parts"] for r in p["readings"]])
        self.assertIn("part.unmeasured", [f["code"] for f in self.server.proof(made["hash"])["report"]["findings"]])

    def test_a_run_is_recorded(self):
        body = {"revision": 1, "outcome": "fine", "note": "slid in by hand", "minutes": {"profile_outline": 1.4}}
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/runs", body)[0], 200)
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}/runs")[1][0]["note"], "slid in by hand")
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/runs", {**body, "outcome": "great"})[0], 422)

    def test_strangers_other_hosts_and_other_pages_are_refused(self):
        cookie, self.server.cookie = self.server.cookie, ""
        try:
            self.assertEqual(self.call("GET", "/api/routes")[0], 401)
        finally:
            self.server.cookie = cookie
        self.assertEqual(self.call("GET", "/api/routes", headers={"Host": "elsewhere"})[0], 403)
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/undo", {"revision": 1}, headers={"Origin": "http://elsewhere"})[0], 403)

    def test_a_sign_in_link_works_once(self):
        status, _ = self.call("GET", f"/sign-in?token={self.server.token}")
        self.assertEqual(status, 303)
        import http.client
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port)
        connection.request("GET", f"/sign-in?token={self.server.token}")
        self.assertIn("signed-out", connection.getresponse().getheader("Location"))


class Robust(unittest.TestCase):
    """Worker, database and server are killed; work is done again, once, and nothing is lost."""

    def test_kill_worker_database_and_server(self):
        server = LiveServer(demo=False)
        self.addCleanup(server.remove)
        body = route_to_text(route_named("siskin_neck_face"))
        made = server.call("POST", "/api/routes?measured_here=true", body)[1]
        for pid in server.pids("jobs.worker"):
            os.kill(pid, signal.SIGKILL)
        self.assertTrue(server.proof(made["hash"], 180)["report"]["operations"])
        edited = server.call("POST", f"/api/routes/{made['route']}/edits", {"revision": 1, "edits": [put(FEED, 3100)]})[1]
        database = int(next(server.folder.rglob("postmaster.pid")).read_text().split()[0])
        os.kill(database, signal.SIGKILL)
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline:
            status, data = server.call("GET", f"/api/proofs/{edited['hash']}")
            if status == 200:
                break
            self.assertIn(status, (202, 503))
            if status == 202:
                server.call("POST", f"/api/proofs/{edited['hash']}/again")
            time.sleep(0.3)
        self.assertEqual(status, 200, data)
        os.kill(server.process.pid, signal.SIGKILL)
        server.process.wait()
        server.start()
        after = server.call("GET", f"/api/routes/{made['route']}")[1]
        self.assertEqual((after["revision"], after["hash"]), (2, edited["hash"]))

    def test_a_second_start_on_the_same_port_says_so(self):
        import subprocess
        import sys
        server = live_server()
        done = subprocess.run([sys.executable, "-m", "birch_route.cli", "start", "--port", str(server.port)], capture_output=True, text=True, timeout=60, check=False)
        self.assertEqual(done.returncode, 2)
        self.assertIn(f"Port {server.port} is taken", done.stderr)


class DiskFull(unittest.TestCase):
    def test_a_full_disk_leaves_the_old_file_whole(self):
        import tempfile
        from pathlib import Path
        from unittest import mock

        from birch_route.core.errors import StoreError
        from birch_route.formats.route_file import write_safely
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.nc"
            write_safely(path, b"old")
            with mock.patch("os.fsync", side_effect=OSError(28, "No space left on device")), self.assertRaisesRegex(StoreError, "No space"):
                write_safely(path, b"new")
            self.assertEqual(path.read_bytes(), b"old")
            self.assertEqual([p.name for p in Path(folder).iterdir()], ["a.nc"])
            self.assertTrue(changed(route_named("control_plate")))
