"""What an edit moved is told with both numbers, and nothing else is."""

import unittest

from birch_route.core.instrument.moves import LEAST_MM, what_moved
from birch_route.core.instrument.resolve import resolve
from tests.support import changed, put, route_named


class Moves(unittest.TestCase):
    def moved(self, *edits):
        before = route_named("siskin_body")
        return {m.what: (m.before_mm, m.after_mm) for m in what_moved(resolve(before), resolve(changed(before, *edits)))}

    def test_a_thicker_heel_moves_the_pocket_s_depth_by_as_much_and_nothing_else(self):
        """Three readings of 25.4 become three of 26.0: the pocket goes 0.6 deeper."""
        drop = {"do": "drop_reading", "part": "neck", "place": "heel_thickness", "index": 0}
        keep = {"do": "keep_reading", "part": "neck", "place": "heel_thickness", "typed": "26.0"}
        out = self.moved(drop, drop, drop, keep)
        self.assertEqual(set(out), {"Pocket deep"})
        before, after = out["Pocket deep"]
        self.assertAlmostEqual(after - before, 0.6, places=6)

    def test_a_longer_scale_moves_the_saddle_line_by_half_and_the_bridge_with_it(self):
        out = self.moved(put("choices.scale_mm", 590.2))
        self.assertEqual(set(out), {"Pocket end to saddle", "Bridge recess, along"})
        for before, after in out.values():
            self.assertAlmostEqual(after - before, 3.0, places=6)

    def test_a_wider_fit_gap_widens_the_pocket_on_both_sides(self):
        out = self.moved(put("choices.fit_gap_mm", 0.18))
        before, after = out["Pocket wide at its end"]
        self.assertAlmostEqual(after - before, 0.2, delta=0.005)
        self.assertIn("Pocket long", out)

    def test_a_reading_taken_back_leaves_a_number_unknown(self):
        drop = {"do": "drop_reading", "part": "neck", "place": "fret_height", "index": 0}
        self.assertIsNone(self.moved(drop, drop)["Pocket deep"][1])

    def test_an_edit_of_a_setting_or_of_nothing_moves_nothing(self):
        self.assertEqual(self.moved(put("operations.face.settings.feed_mm_min", 3000)), {})
        self.assertEqual(self.moved(put("choices.compensation_mm", 2.4 + LEAST_MM / 2)), {})

    def test_a_drawn_feature_that_is_moved_tells_its_new_place(self):
        out = self.moved(put("piece.features.control_cavity.shape.x_mm", 300.0), put("piece.features.control_cavity.depth_mm", 30.0))
        self.assertEqual(set(out), {"Control cavity, along", "Control cavity, deep"})
        self.assertEqual(out["Control cavity, deep"], (33.0, 30.0))


if __name__ == "__main__":
    unittest.main()
