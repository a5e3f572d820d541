"""The house rules, walked: layers, sizes, error codes, docs that repeat code, nothing asked from outside."""

import ast
import json
import re
import unittest

from birch_route.core.data import figures, part_places, woods
from birch_route.core.errors import BirchError
from birch_route.core.proving.findings import CODES
from birch_route.core.proving.registry import RULES
from birch_route.core.proving.severities import WHY
from birch_route.core.vocabulary import PartKind
from birch_route.web.errors import STATUS
from tests.support import ROOT

SRC = ROOT / "src" / "birch_route"
CORE_MAY_USE = {"numpy", "scipy", "numba", "shapely", "pyclipper", "ortools", "pydantic", "highspy"}
STANDARD = {
    "concurrent",
    "weakref",
    "itertools",
    "__future__",
    "ast",
    "math",
    "json",
    "dataclasses",
    "datetime",
    "enum",
    "typing",
    "collections",
    "functools",
    "importlib",
    "fractions",
    "decimal",
    "re",
    "statistics",
    "hashlib",
    "heapq",
    "time",
    "os",
    "base64",
    "binascii",
    "zlib",
    "threading",
    "concurrent",
}
LAYERS = {  # what each may import of the others
    "core": set(),
    "formats": {"core"},
    "sheets": {"core"},
    "store": {"core"},
    "jobs": {"core", "formats", "sheets", "store"},
    "service": {"core", "formats", "sheets", "store", "jobs"},
    "demo": {"core", "service", "store"},
    "web": {"core", "formats", "jobs", "service", "store"},
}


def imports_of(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (("", n.name) for n in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield "." * node.level, node.module or ""


def layer_of(path):
    parts = path.relative_to(SRC).parts
    return parts[0] if len(parts) > 1 else "top"


class Layers(unittest.TestCase):
    def test_imports_point_one_way(self):
        for path in SRC.rglob("*.py"):
            layer = layer_of(path)
            if layer not in LAYERS:
                continue
            depth = len(path.relative_to(SRC).parts)
            for dots, module in imports_of(path):
                if len(dots) == depth and module:
                    other = module.split(".")[0]
                    if other in LAYERS and other != layer:
                        with self.subTest(path=str(path.relative_to(SRC)), imports=other):
                            self.assertIn(other, LAYERS[layer])

    def test_the_core_uses_nothing_that_does_io(self):
        for path in (SRC / "core").rglob("*.py"):
            for dots, module in imports_of(path):
                if not dots:
                    with self.subTest(path=str(path.relative_to(SRC)), module=module):
                        self.assertIn(module.split(".")[0], CORE_MAY_USE | STANDARD)

    def test_the_core_never_asks_for_the_time(self):
        for path in (SRC / "core").rglob("*.py"):
            for call in (".today()", ".now(", ".utcnow(", "time.time("):
                self.assertNotIn(call, path.read_text("utf-8"), path)

    def test_only_the_store_imports_psycopg(self):
        for path in SRC.rglob("*.py"):
            if layer_of(path) != "store":
                self.assertFalse([m for d, m in imports_of(path) if not d and m.startswith("psycopg")], path)


class Sizes(unittest.TestCase):
    def test_files_and_functions_stay_readable(self):
        for path in SRC.rglob("*.py"):
            text = path.read_text()
            with self.subTest(path=str(path.relative_to(SRC))):
                self.assertLessEqual(text.count("\n"), 400)
            if path.name == "kernels.py":
                continue  # numeric kernels say why they are longer
            for node in ast.walk(ast.parse(text)):
                if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                    with self.subTest(path=path.name, function=node.name):
                        self.assertLessEqual(node.end_lineno - node.lineno, 75)


class Codes(unittest.TestCase):
    def test_the_docs_list_every_finding_with_its_severity(self):
        rows = re.findall(
            r"^\| `([a-z_.]+)` \| (stop|care|note) \| (.+) \| (.+) \|$",
            (ROOT / "docs" / "findings.md").read_text(),
            re.MULTILINE,
        )
        self.assertEqual(
            {c: (s, t, why) for c, s, t, why in rows}, {c: (s.value, t, WHY[c]) for c, (s, t) in CODES.items()}
        )

    def test_every_severity_has_a_reason(self):
        self.assertEqual(set(WHY), set(CODES))

    def test_every_rule_says_what_it_looks_for(self):
        self.assertGreater(len(RULES), 20)
        self.assertTrue(all(r.__doc__ for r in RULES))

    def test_every_error_has_its_own_code_and_a_status(self):
        def tree(kind):
            return [kind, *(k for sub in kind.__subclasses__() for k in tree(sub))]
        found = tree(BirchError)
        self.assertEqual(len({k.code for k in found}), len(found))
        self.assertEqual({k.code for k in found} - set(STATUS), set())


class Data(unittest.TestCase):
    def test_tables_carry_sources(self):
        self.assertIn("unverified", figures()["source"])
        self.assertIn("source", part_places())
        self.assertGreaterEqual(len(woods()), 20)


class Words(unittest.TestCase):
    def test_one_word_per_thing_as_the_glossary_says(self):
        rows = re.findall(r"^\| ([a-z ,]+) \| [^|]+ \| ([a-z, ]+) \|$", (ROOT / "docs" / "glossary.md").read_text(), re.MULTILINE)
        instead = {w.strip(): word for word, others in rows if word != "word" for w in others.split(",") if w.strip() and w.strip() != "op"}
        self.assertGreater(len(instead), 5)
        banned = re.compile(rf"\b({'|'.join(instead)})\b", re.IGNORECASE)
        for folder in (SRC, ROOT / "client" / "src", ROOT / "docs" / "formats"):
            for path in folder.rglob("*.*"):
                if path.suffix in (".py", ".vue", ".ts", ".sql", ".json", ".md"):
                    with self.subTest(path=path.name):
                        self.assertEqual(banned.findall(path.read_text()), [])

    def test_every_kind_that_people_see_has_a_place_in_the_tables(self):
        self.assertEqual(set(part_places()) - {"source"}, {k.value for k in PartKind})

    def test_nothing_computed_is_called_proven(self):
        """The word stands only where it is explained, refused, or names what a record has shown: the standing that core/cutting/records.py gives, and its colour."""
        for path in [*(ROOT / "client" / "src").rglob("*.vue"), *(ROOT / "client" / "src").rglob("*.ts")]:
            if path.name == "schema.d.ts":  # made from what the server answers
                continue
            for line in path.read_text().splitlines():
                if re.search(r"\bproven\b", line, re.IGNORECASE):
                    self.assertRegex(line, r"not proven|proven means|has been proved|proven: .*cut in this shop, with a record|standing: 'proven'|\.proven, \.covered \{ color", path.name)


class Shipped(unittest.TestCase):
    def test_the_lock_files_name_no_host(self):
        for name in ("requirements.txt", "bootstrap.txt", "client/package-lock.json"):
            self.assertNotRegex((ROOT / name).read_text(), r"https?://")

    def test_python_packages_are_pinned_with_hashes(self):
        for line in (ROOT / "requirements.txt").read_text().splitlines():
            if line and not line.startswith((" ", "#")):
                self.assertRegex(line, r"^[A-Za-z0-9_.\[\]-]+==[^ ]+( ; .*)? \\$")

    def test_the_client_asks_nothing_from_outside(self):
        for path in [*(ROOT / "client" / "src").rglob("*.*"), ROOT / "client" / "index.html"]:
            for address in re.findall(r"https?://[^\s'\"`<>)]+", path.read_text()):
                self.assertTrue(address.startswith("http://www.w3.org/"), f"{path.name}: {address}")

    def test_the_client_declares_its_packages_exactly(self):
        package = json.loads((ROOT / "client" / "package.json").read_text())
        for version in {**package["dependencies"], **package["devDependencies"]}.values():
            self.assertRegex(version, r"^\d+\.\d+\.\d+$")
