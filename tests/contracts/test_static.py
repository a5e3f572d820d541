"""ruff and mypy find no more than stood when they began; the client's types hold."""

import os
import subprocess
import unittest

from tests.contracts.static import ROOT, baseline, differs, mypy, ruff


class Static(unittest.TestCase):
    def test_ruff_finds_no_more_than_before(self):
        allowed = {k: n for k, n in baseline().items() if not k.endswith(" mypy")}
        self.assertEqual(differs(ruff(), allowed), [])

    def test_mypy_finds_no_more_than_before(self):
        allowed = {k: n for k, n in baseline().items() if k.endswith(" mypy")}
        self.assertEqual(differs(mypy(), allowed), [])

    def test_a_file_with_more_or_fewer_is_told(self):
        allowed = {"a.py E501": 2, "b.py mypy": 1}
        self.assertEqual(differs({"a.py E501": 2, "b.py mypy": 1}, allowed), [])
        self.assertEqual(differs({"a.py E501": 3, "b.py mypy": 1}, allowed), ["a.py E501: 3, 2 may be"])
        self.assertEqual(differs({"a.py E501": 2, "b.py mypy": 1, "c.py F401": 1}, allowed), ["c.py F401: 1, 0 may be"])
        self.assertEqual(len(differs({"a.py E501": 1, "b.py mypy": 1}, allowed)), 1)

    def test_the_types_of_the_client_hold(self):
        line = ["npx", "--no-install", "vue-tsc", "--noEmit"]
        done = subprocess.run(line, cwd=ROOT / "client", capture_output=True, text=True, check=False, env=os.environ)
        self.assertEqual((done.returncode, done.stdout[-2000:]), (0, ""))


if __name__ == "__main__":
    unittest.main()
