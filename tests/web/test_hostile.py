"""Bad input over HTTP: bounded, answered in words, never with a failure; a sample of the long attack."""

import http.client
import inspect
import json
import logging
import unittest
from pathlib import Path

from fastapi.testclient import TestClient

from bench.hostile import Attack, Told
from birch_route.web.app import make_app
from birch_route.web.bodies import LARGEST_JSON_BYTES, BodyRoute
from tests.support import live_server
from tests.web.test_people import handlers


class Sample(unittest.TestCase):
    """A fixed sample of bench.hostile against a server of its own."""

    def test_two_hundred_inputs_leave_nothing_unanswered_and_every_process_alive(self):
        attack = Attack(Told(seed=7))
        self.addCleanup(attack.server.remove)
        attack.run(0, 200)
        self.assertEqual(attack.told.faults, [])
        self.assertTrue(attack.alive())
        self.assertGreater(attack.told.changed, 100)
        self.assertGreater(attack.told.taken, 25)


class Bodies(unittest.TestCase):
    def setUp(self):
        self.server = live_server()

    def send(self, path, data, method="POST"):
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=30)
        self.addCleanup(connection.close)
        connection.request(method, path, data, {"Cookie": self.server.cookie, "Content-Type": "application/json"})
        answer = connection.getresponse()
        return answer.status, json.loads(answer.read())

    def test_json_is_read_up_to_a_bound_and_refused_beyond_it(self):
        for size, status in ((LARGEST_JSON_BYTES, 422), (LARGEST_JSON_BYTES + 1, 413)):
            head = b'{"name": 1, "more": "'
            said = self.send("/api/own_shop", head + b"x" * (size - len(head) - 2) + b'"}')
            self.assertEqual(said[0], status, said[1])

    def test_a_table_is_read_up_to_a_bound(self):
        status, told = self.send("/api/rack.csv", b"id\n" + b"x" * 499_998)
        self.assertEqual((status, told["code"]), (413, "too_large"))

    def test_every_handler_with_json_reads_it_within_the_bound(self):
        self.assertEqual([r.path for r in handlers() if r.body_field is not None and not isinstance(r, BodyRoute)], [])

    def test_what_no_field_can_take_is_told_in_words(self):
        for body, where in (
            (b'{"name":"\\ud800"}', "name"),
            (b'{"name":"a\\u0000"}', "name"),
            (b"[" * 90_000, "What was sent"),
            (b'{"unit":' + b"1" * 10_000 + b"}", "1" * 20),
            (b"{", "What was sent"),
        ):
            status, told = self.send("/api/own_shop", body)
            self.assertEqual((status, told["where"]), (422, where), told)

    def test_addresses_no_file_can_have_are_answered(self):
        for path, status in (
            ("/api/routes/%00", 422),
            ("/api/routes?search=%00", 422),
            ("/api/nothing", 404),
            ("/api/routes/" + "9" * 400, 422),
        ):
            self.assertEqual(self.send(path, None, "GET")[0], status, path)
        for path in ("/" + "x" * 300, "/" + "a/" * 3000):
            connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=30)
            connection.request("GET", path)
            self.assertEqual(connection.getresponse().status, 200)
            connection.close()


class Failures(unittest.TestCase):
    def test_any_exception_answers_in_our_json_with_a_number_that_stands_in_the_log(self):
        app = make_app("postgresql://nowhere", Path("/nowhere"))

        def fails():
            raise ZeroDivisionError("1/0")

        app.router.routes.insert(0, app.router.routes[-1].__class__("/api/fails", fails))
        with self.assertLogs("birch_route", logging.ERROR) as log:
            answer = TestClient(app, base_url="http://127.0.0.1").get("/api/fails")
        self.assertEqual((answer.status_code, answer.json()["code"]), (500, "birch"))
        self.assertIn(answer.json()["where"], log.output[0])
        self.assertIn("ZeroDivisionError", log.output[0])
        self.assertIn("Content-Security-Policy", answer.headers)

    def test_the_description_is_for_those_who_are_signed_in(self):
        server = live_server()
        self.assertEqual(server.call("GET", "/api/openapi.json")[0], 200)
        self.assertEqual(server.call("GET", "/api/openapi.json", headers={"Cookie": ""})[0], 401)
        self.assertNotIn(b'"paths"', server.call("GET", "/openapi.json")[1])


class Viewers(unittest.TestCase):
    def test_who_only_looks_queues_nothing(self):
        silent = [
            r.path
            for r in handlers()
            if "ask_proof" in inspect.getsource(r.endpoint)
            and "person.may" not in inspect.getsource(r.endpoint)
            and "need(person" not in inspect.getsource(r.endpoint)
        ]
        self.assertEqual(silent, [])


if __name__ == "__main__":
    unittest.main()
