"""Questions at the edge of what a bit and a machine can be: answered with what binds, never broken off."""

import unittest

from pydantic import ValidationError

from birch_route.core.bits.model import Bit
from birch_route.core.cutting.limits import DEEPER_MM, Question, customary_side
from birch_route.core.cutting.question import answer
from birch_route.core.cutting.settings import propose_settings
from birch_route.core.data import wood
from birch_route.core.vocabulary import Aim, BitForm, CutKind, OperationKind
from tests.core.test_records import EVERY_BIT, FAST

LEAST_MM, MOST_MM = 0.05, 100.0


def bit(**more):
    return Bit.model_validate({**EVERY_BIT.model_dump(), **more})


class Edges(unittest.TestCase):
    def test_a_bit_of_the_least_size_is_one_and_a_thinner_is_none(self):
        for field in ("diameter_mm", "shank_diameter_mm"):
            self.assertEqual(getattr(bit(**{field: LEAST_MM}), field), LEAST_MM)
            self.assertRaises(ValidationError, bit, **{field: LEAST_MM - 0.001})

    def test_the_widest_bit_is_one_and_a_wider_is_none(self):
        for field in ("diameter_mm", "measured_diameter_mm"):
            self.assertEqual(getattr(bit(**{field: MOST_MM}), field), MOST_MM)
            self.assertRaises(ValidationError, bit, **{field: MOST_MM + 0.001})

    def test_the_widest_and_longest_bits_have_settings_of_every_kind(self):
        for form in BitForm:
            for across in (MOST_MM, 6.0, LEAST_MM):
                size = {"diameter_mm": across, "cutting_length_mm": 500, "stickout_mm": 500, "shank_diameter_mm": 12}
                round_ = across / 4 if form in (BitForm.BULL, BitForm.ROUND) else 0.0
                one = bit(form=form, included_angle_deg=45, corner_radius_mm=round_, **size)
                for kind in CutKind:
                    found = answer(Question(FAST, one, wood("ash"), kind, customary_side(one, kind))).settings
                    self.assertLessEqual(found.stepover_mm, MOST_MM)
                for kind in OperationKind:
                    with self.subTest(form=form, across=across, kind=kind):
                        made = propose_settings(kind, one, wood("ash"), FAST).settings
                        self.assertTrue(DEEPER_MM <= made.depth_of_cut_mm <= MOST_MM)

    def test_the_least_figure_of_a_machine_is_one_and_less_is_none(self):
        machine = type(FAST)
        self.assertEqual(machine.model_validate({**FAST.model_dump(), "stiffness_n_um": 1e-4}).stiffness_n_um, 1e-4)
        wrong = {**FAST.model_dump(), "stiffness_n_um": 0.9e-4}
        self.assertRaises(ValidationError, machine.model_validate, wrong)

    def test_what_cannot_go_so_deep_is_answered_with_the_limit_it_passes(self):
        weak = FAST.model_copy(update={"stiffness_n_um": 1e-4, "power_w": 1e-3})
        for one in (bit(diameter_mm=0.1, shank_diameter_mm=0.1), bit(cutting_length_mm=0.05), EVERY_BIT):
            for aim in Aim:
                found = answer(Question(weak, one, wood("ebony"), CutKind.SLOT, one.cut_diameter_mm), aim)
                self.assertGreaterEqual(found.settings.depth_of_cut_mm, DEEPER_MM)
                self.assertFalse(found.keeps)
                self.assertGreater(found.parts[found.binds], 1.0)


if __name__ == "__main__":
    unittest.main()
