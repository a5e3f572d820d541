"""A neck that people like: numbers from readings, by least squares, with their misfit."""

import random
import unittest

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.neck.liked import LikedReading, fit_liked
from birch_route.core.neck.loft import Loft
from birch_route.core.neck.numbers import BackStation
from tests.core.necks import neck


def read_off(other, frets, parts, noise=0.0, seed=1):
    """What a caliper reads on another neck: thickness, and the width at a part of its depth, straight off its loft."""
    rng, loft, out = random.Random(seed), Loft(other), []
    for fret in frets:
        x = other.board.scale_mm * (1 - 2 ** (-fret / 12))
        t = np.linspace(0, np.pi, 20001)
        y, z = loft.point(np.full(len(t), x), t)
        deep = float(z.max())
        for part in parts:
            at = [float(np.interp(part * deep, z[side], y[side])) for side in (np.s_[:10001], np.s_[:9999:-1])]
            out.append(LikedReading(fret=fret, thick_mm=deep + 6.0 + rng.uniform(-noise, noise), below_mm=part * deep,
                                    wide_mm=at[0] - at[1] + rng.uniform(-noise, noise)))
    return out


class Liked(unittest.TestCase):
    def test_readings_of_a_known_neck_give_its_numbers(self):
        other = neck(thick_1st_mm=20.4, thick_12th_mm=22.9, shape="square_shoulders")
        got = fit_liked(neck(), read_off(other, (1, 5, 9, 12), (0.3, 0.6, 0.85)))
        self.assertAlmostEqual(got.thick_1st_mm, 20.4, places=2)
        self.assertAlmostEqual(got.thick_12th_mm, 22.9, places=2)
        self.assertAlmostEqual(got.rim, 2.7, delta=0.02)
        self.assertAlmostEqual(got.apex, 2.4, delta=0.02)
        self.assertLess(max(abs(v) for v in got.wide_off_mm), 0.05)
        taken = neck(thick_1st_mm=got.thick_1st_mm, thick_12th_mm=got.thick_12th_mm,
                     stations=[BackStation(**s) for s in got.stations])
        x = np.linspace(5, 330, 60)
        y = np.full(60, 14.0)
        self.assertLess(np.abs(Loft(taken).below(x, y) - Loft(other).below(x, y)).max(), 0.05)

    def test_noise_stays_in_the_misfit(self):
        got = fit_liked(neck(), read_off(neck(shape="square_shoulders"), (1, 3, 5, 7, 9, 12), (0.3, 0.6, 0.85), 0.1))
        self.assertAlmostEqual(got.rim, 2.7, delta=0.15)
        self.assertTrue(0.01 < max(abs(v) for v in got.thick_off_mm) < 0.2)

    def test_a_ridge_is_never_met_by_chance(self):
        got = fit_liked(neck(), read_off(neck(shape="soft_ridge"), (1, 5, 12), (0.3, 0.6, 0.85)))
        self.assertGreaterEqual(min(got.rim, got.apex), 2.0)
        self.assertGreater(max(abs(v) for v in got.wide_off_mm), 0.2)  # and the misfit says so

    def test_thickness_alone_gives_the_line_alone(self):
        got = fit_liked(neck(), [LikedReading(fret=1, thick_mm=20.0), LikedReading(fret=12, thick_mm=23.0)])
        self.assertEqual((got.thick_1st_mm, got.thick_12th_mm, got.rim, got.stations), (20.0, 23.0, None, []))

    def test_what_cannot_be_fitted_says_why(self):
        for readings, words in (
            ([LikedReading(fret=1, thick_mm=20.0)], "two frets"),
            ([LikedReading(fret=24, thick_mm=20.0), LikedReading(fret=1, thick_mm=20.0)], "no fret 24"),
            ([LikedReading(fret=1, thick_mm=20.0, wide_mm=30.0), LikedReading(fret=5, thick_mm=20.0)], "together"),
            ([LikedReading(fret=1, thick_mm=20.0, below_mm=3.0, wide_mm=60.0)], "so wide"),
            ([LikedReading(fret=1, thick_mm=20.0, below_mm=15.0, wide_mm=30.0),
              LikedReading(fret=5, thick_mm=21.0, below_mm=5.0, wide_mm=40.0)], "own back"),
        ):
            with self.assertRaises(InputError) as caught:
                fit_liked(neck(), readings)
            self.assertIn(words, str(caught.exception))


if __name__ == "__main__":
    unittest.main()
