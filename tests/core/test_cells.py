"""Cells of a proof: small where a thin bit mills and the blank is not too large, as large as ever elsewhere; said where
they stay large."""

import unittest

from birch_route.core.heights.field import CELL_MM, FINE_MM
from birch_route.core.proving.prove import prove
from birch_route.core.stages import MOST_FINE, cell_for, thin_bits
from tests.core.boards import board_route
from tests.support import changed, codes, put, route_named


def thin(across, **more):
    """The control plate with its 3 mm bit as another one, thinner."""
    route = route_named("control_plate")
    bit = {**route.bit("flat3").model_dump(mode="json"), "diameter_mm": across, "cutting_length_mm": 12.0, **more}
    return changed(route, {"do": "put_item", "list": "bits", "item": bit})


class Cells(unittest.TestCase):
    def test_a_thin_bit_is_proved_in_small_cells_and_a_drill_is_none(self):
        self.assertEqual(cell_for(route_named("control_plate")), CELL_MM)
        self.assertEqual((cell_for(thin(1.99)), cell_for(thin(2.0))), (FINE_MM, CELL_MM))
        self.assertEqual(cell_for(thin(1.99, form="ball")), FINE_MM)
        self.assertEqual(cell_for(board_route()), FINE_MM)
        self.assertEqual(thin_bits(thin(1.5, form="v", tip_diameter_mm=0.2)), [])
        plain = route_named("control_plate")
        drill = {**plain.bit("drill3").model_dump(mode="json"), "diameter_mm": 1.5}
        self.assertEqual(cell_for(changed(plain, {"do": "put_item", "list": "bits", "item": drill})), CELL_MM)

    def test_a_blank_too_large_for_them_says_so(self):
        route = thin(1.5)
        most = MOST_FINE * FINE_MM**2
        for long, told in ((most / route.blank.width_mm - 1, False), (most / route.blank.width_mm + 1, True)):
            wide = changed(route, put("blank.length_mm", round(long, 1)))
            self.assertEqual(cell_for(wide), CELL_MM if told else FINE_MM)
            self.assertIs("bit.unseen" in codes(prove(wide)), told)
        self.assertNotIn("bit.unseen", codes(prove(route_named("control_plate"))))


if __name__ == "__main__":
    unittest.main()
