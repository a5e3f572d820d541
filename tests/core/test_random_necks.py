"""A sample of the necks of bench.necks: backs where its own formula has them, and what is accused lies outside a limit
that is named."""

import unittest

from bench.necks import FLAT_OFF_MM, STEEP_OFF_MM, bad, one_neck

CLEAN = (500_001, 500_006, 500_012)  # within every limit
NAMED = {500_008: "neck.string_loose", 500_183: None}  # the second once rolled off the rim beside its heel


class RandomNecks(unittest.TestCase):
    def test_necks_within_every_limit_have_no_stop_and_no_care(self):
        for seed in CLEAN:
            with self.subTest(seed):
                row = one_neck(seed, back=False)
                self.assertEqual(row["codes"], [])
                self.assertFalse(bad(row))

    def test_others_are_named_and_their_backs_are_true_as_well(self):
        for seed, code in NAMED.items():
            with self.subTest(seed):
                row = one_neck(seed, back=False)
                self.assertEqual(row["codes"], [code] if code else [])
                self.assertLessEqual(row["flat_mm"], FLAT_OFF_MM)
                self.assertLessEqual(row["steep_mm"], STEEP_OFF_MM)


if __name__ == "__main__":
    unittest.main()
