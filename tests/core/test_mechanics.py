import math
import unittest

from birch_route.core.bits.model import Bit
from birch_route.core.cutting.mechanics import (
    bend,
    chip_load_window,
    engaged_angle,
    force_per_width,
    load,
    thinned_feed_factor,
)
from birch_route.core.cutting.settings import propose_settings
from birch_route.core.data import figures, wood, woods
from birch_route.core.machines import Machine
from birch_route.core.vocabulary import BitForm, OperationKind
from birch_route.demo.shop import BELT_MACHINE, BENCH_MACHINE, BITS

BENCH, BELT = Machine.model_validate(BENCH_MACHINE), Machine.model_validate(BELT_MACHINE)


class Mechanics(unittest.TestCase):
    def setUp(self):
        self.bit = Bit.model_validate(BITS[1])

    def test_engagement_of_a_slot_half_and_quarter(self):
        self.assertAlmostEqual(engaged_angle(8, 8), math.pi)
        self.assertAlmostEqual(engaged_angle(4, 8), math.pi / 2)
        self.assertAlmostEqual(engaged_angle(2, 8), math.pi / 3)

    def test_thinning_matches_the_greatest_chip_on_the_arc(self):
        for part in (0.02, 0.1, 0.3, 0.5):
            phi = engaged_angle(part * 8, 8)
            self.assertAlmostEqual(thinned_feed_factor(part * 8, 8) * math.sin(phi), 1.0, places=9)

    def test_mean_chip_is_the_mean_of_the_sine_over_the_arc(self):
        cut = load(self.bit, wood("alder"), BENCH, 4000, 12000, 5, 3)
        n = 20000
        phi = engaged_angle(3, 8)
        mean = sum(math.sin((k + 0.5) / n * phi) for k in range(n)) / n * 4000 / 24000
        self.assertAlmostEqual(cut.mean_chip_mm, mean, places=6)

    def test_force_line_is_continuous_with_its_curved_branch_and_goes_through_zero(self):
        f, alder = figures()["cutting_force"], wood("sapele")
        knee = f["curved_below_mm"]
        self.assertAlmostEqual(force_per_width(knee - 1e-9, alder), force_per_width(knee + 1e-9, alder), places=5)
        slope = (force_per_width(knee, alder) - force_per_width(knee - 1e-6, alder)) / 1e-6
        self.assertAlmostEqual(slope, f["b_n_mm2"] * alder.density_kg_m3 / 650, delta=0.01)
        self.assertEqual(force_per_width(0, alder), 0)

    def test_bend_agrees_with_numeric_integration_of_the_beam(self):
        bit, force = self.bit, 100.0
        modulus, n = 600_000.0, 20000
        total = 0.0  # M m / EI integrated from the nut to the tip, unit load at the tip
        for k in range(n):
            x = (k + 0.5) / n * bit.stickout_mm  # from the tip
            d = 0.8 * bit.diameter_mm if x < bit.cutting_length_mm else bit.shank_diameter_mm
            total += force * x * x / (modulus * math.pi * d**4 / 64) * bit.stickout_mm / n
        self.assertAlmostEqual(bend(bit, BENCH, force), total + force / (BENCH.stiffness_n_um * 1000), places=5)

    def test_every_proposed_setting_is_inside_every_window(self):
        for machine in (BENCH, BELT):
            for data in BITS:
                bit = Bit.model_validate(data)
                kind = OperationKind.DRILL if bit.form is BitForm.DRILL else OperationKind.POCKET
                for species in woods().values():
                    with self.subTest(machine=machine.id, bit=bit.id, wood=species.id):
                        s = propose_settings(kind, bit, species, machine).settings
                        self.assertIn(s.speed_rpm, machine.speeds_rpm or [s.speed_rpm])
                        self.assertLessEqual(s.feed_mm_min, machine.greatest_feed_mm_min)
                        if kind is OperationKind.POCKET:
                            cut = load(bit, species, machine, s.feed_mm_min, s.speed_rpm, s.depth_of_cut_mm, bit.diameter_mm)
                            self.assertLessEqual(cut.power_w, 0.8 * machine.power_at(s.speed_rpm) + 1)
                            self.assertLessEqual(cut.chip_load_mm, chip_load_window(bit, species).bold * 1.001)

    def test_every_figure_names_its_source(self):
        self.assertTrue(figures()["source"])
        self.assertTrue(all(w.source for w in woods().values()))
