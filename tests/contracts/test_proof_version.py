"""The version of a proof follows what a proof is made of, and nothing else."""

import unittest

from birch_route.jobs.proof_version import PACKAGE, made_with, sources, version_of


class ProofVersion(unittest.TestCase):
    def test_it_reaches_all_that_cuts_and_judges_and_nothing_that_serves(self):
        names = {p.relative_to(PACKAGE).as_posix() for p in sources()}
        every_rule = {p.relative_to(PACKAGE).as_posix() for p in (PACKAGE / "core" / "proving").glob("rules_*.py")}
        self.assertLessEqual(every_rule | {"core/heights/kernels.py", "core/quantities.py", "formats/report.py"}, names)
        self.assertEqual([n for n in names if n.startswith(("service/", "web/", "store/", "demo/", "core/edits/"))], [])

    def test_a_changed_byte_or_name_is_another_version(self):
        files = {"a.py": b"x = 1", "figures.json": b"{}"}
        versions = {
            version_of(f)
            for f in (files, {**files, "a.py": b"x = 2"}, {"b.py": b"x = 1", "figures.json": b"{}"}, {"a.py": b"x = 1"})
        }
        self.assertEqual(len(versions), 4)
        self.assertEqual(version_of(files), version_of(dict(reversed(files.items()))))

    def test_it_stays_while_nothing_changes(self):
        self.assertRegex(made_with(), r"^[0-9a-f]{16}$")
        self.assertEqual(made_with(), made_with.__wrapped__())


if __name__ == "__main__":
    unittest.main()
