"""The 40 combinations that suggested settings are judged on: written before the model, from the starting figures alone."""

import json
import unittest
from pathlib import Path

from birch_route.core.data import figures, woods

TABLE = json.loads((Path(__file__).parent / "combinations.json").read_text())
COMBINATIONS = TABLE["combinations"]


class Table(unittest.TestCase):
    def test_there_are_forty_over_every_class_of_machine_and_kind_of_cut(self):
        self.assertEqual(len(COMBINATIONS), 40)
        self.assertEqual({c["machine"] for c in COMBINATIONS}, set(TABLE["machines"]))
        self.assertEqual({c["cut"] for c in COMBINATIONS}, {"slot", "side", "finish", "face"})
        self.assertEqual(TABLE["origin"], "assumed")
        self.assertTrue({c["wood"] for c in COMBINATIONS} <= set(woods()))

    def test_its_windows_follow_from_the_figures(self):
        rows, parts = figures()["chip_load_mm"]["rows"], figures()["depth_per_pass"]
        for c in COMBINATIONS:
            d, (low, high) = c["bit"]["diameter_mm"], c["expect"]["chip_mm"]
            self.assertTrue(0 < low < high)
            if c["wood"] in ("ash", "beech", "mahogany", "birch_ply") and c["side_part"] >= 0.5:  # factor 1, not thinned
                row = next((r for r in rows if r[0] == d), None)
                if row:
                    self.assertEqual(c["expect"]["chip_mm"], row[1:])
            if c["cut"] == "slot":
                self.assertEqual(c["expect"]["depth_mm"], [round(p * d, 3) for p in parts[c["machine"]]])


if __name__ == "__main__":
    unittest.main()
