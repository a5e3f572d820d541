"""What the server says it answers: every route declares a model or a media type, and no type of the client is by
hand."""

import re
import unittest

from birch_route.web.app import make_app
from tests.answers import declared, wrong_with
from tests.support import ROOT

UNTYPED = {"/sign-in"}  # answers nothing but where to go


class Declared(unittest.TestCase):
    def test_every_answer_has_a_schema(self):
        paths = make_app("postgresql://nowhere", ROOT).openapi()["paths"]
        answers = {(verb, path): said["responses"] for path, verbs in paths.items() for verb, said in verbs.items()}
        self.assertGreaterEqual(len(answers), 75)
        bare = [
            path
            for (_, path), by in answers.items()
            if not any(c.get("schema") for c in by.get("200", {}).get("content", {}).values())
        ]
        self.assertEqual(set(bare), UNTYPED)

    def test_an_answer_that_differs_from_what_is_declared_is_told(self):
        self.assertEqual(wrong_with("GET", "/api/me", 200, {"name": "Ada", "role": "planner"}), "")
        self.assertIn("role", wrong_with("GET", "/api/me", 200, {"name": "Ada"}))
        self.assertIn("extra", wrong_with("GET", "/api/me", 200, {"name": "Ada", "role": "planner", "age": 3}).lower())
        self.assertIn("not declared", wrong_with("GET", "/api/me", 418, {}))
        self.assertGreater(len(declared()), 74)

    def test_no_wire_type_of_the_client_is_written_by_hand(self):
        types = (ROOT / "client" / "src" / "api" / "types.ts").read_text()
        self.assertEqual(re.findall(r"export interface (\w+)", types), [])
        client = (ROOT / "client" / "src" / "api" / "client.ts").read_text()
        self.assertEqual(re.findall(r"call<\{.*?\}", client), [])


if __name__ == "__main__":
    unittest.main()
