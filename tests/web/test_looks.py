"""Closer looks over HTTP: made when asked for, kept, refused for what does not exist."""

import time
import unittest

from birch_route.formats.route_file import route_to_text
from tests.core.test_moments import Reader
from tests.support import live_server, route_named


class LooksOverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.call = staticmethod(live_server().call)
        cls.hash = cls.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))[1][
            "hash"
        ]

    def look(self, what):
        for _ in range(300):
            status, body = self.call("GET", f"/api/proofs/{self.hash}/look?what={what}")
            if status != 202:
                return status, body
            time.sleep(0.1)
        self.fail("The look did not come.")

    def test_an_operation_from_inside_and_the_target(self):
        operation = route_named("control_plate").operations[0].id
        status, data = self.look(f"inside:{operation}")
        self.assertEqual(status, 200)
        self.assertGreater(len(Reader(data).header["moments"]), 10)
        self.assertEqual(self.call("GET", f"/api/proofs/{self.hash}/look?what=inside:{operation}")[1], data)
        status, data = self.look("target")
        self.assertEqual((status, Reader(data).header["setups"][0]["setup"]), (200, route_named("control_plate").setups[0].id))

    def test_what_is_not_there_is_refused(self):
        for path in (f"/api/proofs/{self.hash}/look?what=inside:nothing", f"/api/proofs/{self.hash}/look?what=other", "/api/proofs/0000/look?what=target"):
            status, body = self.call("GET", path)
            self.assertEqual(status, 422, path)
            self.assertIn("message", body)
