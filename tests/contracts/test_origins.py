"""Every number that offers to say where it comes from can say it, and nothing is told that no screen asks for."""

import re
import unittest
from pathlib import Path

from birch_route.core.cutting.origins import SOURCES, origins

SCREENS = Path(__file__).parents[2] / "client" / "src"


class Asked(unittest.TestCase):
    def test_what_screens_ask_for_is_what_is_told(self):
        asked = {k for p in SCREENS.rglob("*.vue") for k in re.findall(r'<OriginTap\s+of="(\w+)"', p.read_text())}
        asked |= {k for p in SCREENS.rglob("*.vue") for k in re.findall(r'\borigin="(\w+)"', p.read_text())}
        bits = (SCREENS / "bits" / "BitsView.vue").read_text()
        asked |= set(re.findall(r"'(\w+)'", re.search(r"ORIGINS = {(.*?)}", bits)[1]))
        self.assertEqual(asked - set(SOURCES), set())
        self.assertEqual(set(SOURCES) - asked, set())

    def test_each_tells_a_formula_and_how_far_to_trust_it(self):
        for key, told in origins().items():
            with self.subTest(key):
                self.assertGreater(len(told["formula"]), 15)
                self.assertGreater(len(told["confidence"]), 15)
                for figure in told["figures"]:
                    self.assertTrue(figure["values"])
