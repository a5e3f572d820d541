"""The corners of the tolerance through the service: asked once, kept, stopped, asked again."""

import time
import unittest

from birch_route.demo.jobs import neck_face_route
from birch_route.formats.route_file import route_to_text
from birch_route.jobs.queue import Queue
from birch_route.service.corners import CornersOfRoutes
from birch_route.store.database import Database
from tests.core.test_corners import with_overcut
from tests.support import live_server


class CornersOverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.call = staticmethod(live_server().call)
        cls.hash = cls.call(
            "POST", "/api/routes?measured_here=true", route_to_text(with_overcut(neck_face_route(), 0.1))
        )[1]["hash"]

    def wait(self):
        for _ in range(600):
            state = self.call("GET", f"/api/proofs/{self.hash}/corners")[1]
            if state["status"] not in ("waiting", "working"):
                return state
            time.sleep(0.1)
        self.fail("The corners did not come.")

    def test_asked_for_once_and_kept(self):
        self.assertEqual(self.call("GET", f"/api/proofs/{self.hash}/corners")[1], {"status": "never", "done": 0, "of": 0, "result": None})
        self.assertEqual(self.call("POST", f"/api/proofs/{self.hash}/corners")[1]["status"], "waiting")
        state = self.wait()
        self.assertEqual(state["status"], "done", state["result"])
        first = state["result"]["corners"][0]
        self.assertEqual((first["id"], first["holds_to"]), ("thickest_high", 0.25))
        self.assertEqual({f["code"] for f in first["findings"]}, {"feature.stock_left"})
        self.assertEqual(self.call("POST", f"/api/proofs/{self.hash}/corners")[1], state)

    def test_unknown_hash_is_refused(self):
        self.assertEqual(self.call("POST", "/api/proofs/nothing/corners")[0], 422)


class Stopping(unittest.TestCase):
    def test_stopped_ones_keep_nothing_and_can_be_asked_again(self):
        server = live_server()
        made = server.call(
            "POST", "/api/routes?measured_here=true", route_to_text(with_overcut(neck_face_route(), 0.15))
        )[1]
        url = server.database_url
        queue = Queue(url)
        asked: list[int] = []
        queue.corners = lambda t, digest, attempt: asked.append(attempt)  # type: ignore[method-assign]  # no worker takes it
        database = Database(url, most=1)
        database.open()
        try:
            corners = CornersOfRoutes(database, queue)
            self.assertEqual(corners.ask(made["hash"])["status"], "waiting")
            self.assertEqual(corners.ask(made["hash"])["status"], "waiting")
            corners.stop(made["hash"])
            self.assertEqual(corners.state(made["hash"])["status"], "stopped")
            with database.transaction() as t:  # a late worker
                self.assertIsNone(t.maybe("corners_progress", hash=made["hash"], attempt=1, done=1, expected=4))
                t.do("corners_done", hash=made["hash"], attempt=1, status="done", result=None)
            self.assertEqual(corners.state(made["hash"])["status"], "stopped")
            corners.ask(made["hash"])
            self.assertEqual(asked, [1, 2])
            with database.transaction() as t:
                t.connection.execute("update corners set seen_at = now() - interval '3 minutes' where hash = %s", (made["hash"],))
            self.assertEqual(corners.state(made["hash"])["status"], "stopped")  # its worker was killed
            corners.ask(made["hash"])
            self.assertEqual((asked, corners.state(made["hash"])["status"]), ([1, 2, 3], "waiting"))
        finally:
            database.close()


if __name__ == "__main__":
    unittest.main()
