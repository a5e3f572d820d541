"""Spring passes: the last pass along a wall again, over the same way, with nothing left for it."""

import unittest

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.vocabulary import MoveKind
from tests.support import changed, proof_of, put, route_named

BODY = "siskin_body"


def finish(proof, operation):
    """Return how long the bit runs along walls in an operation, mm, and how low it gets there."""
    path = next(s for s in proof.steps if s.operation.id == operation).path
    along = path.kinds == list(MoveKind).index(MoveKind.FINISH)
    long = np.linalg.norm(np.diff(path.points, axis=0), axis=1)[along].sum()
    return float(long), float(path.points[1:][along, 2].min())


class Spring(unittest.TestCase):
    def test_a_wall_is_run_again_at_the_same_place_and_the_wood_is_the_same(self):
        base = route_named(BODY)
        before = proof_of(base)
        for operation in ("pocket_neck_pocket", "profile_outline"):
            long, low = finish(before, operation)
            for times in (1, 3):
                again = proof_of(changed(base, put(f"operations.{operation}.spring_passes", times)))
                with self.subTest(operation, times=times):
                    now = finish(again, operation)
                    self.assertAlmostEqual(now[0], long * (1 + times), delta=0.01)
                    self.assertEqual(now[1], low)
                    self.assertEqual({f.code for f in again.findings}, {f.code for f in before.findings})
                    self.assertTrue(np.array_equal(again.steps[-1].top, before.steps[-1].top))
                    took = [sum(float(s.times_s.sum()) for s in p.steps) for p in (before, again)]
                    self.assertGreater(took[1], took[0])

    def test_more_than_three_are_refused_and_without_a_last_pass_there_is_none_to_run_again(self):
        base = route_named(BODY)
        with self.assertRaises(InputError):
            changed(base, put("operations.pocket_neck_pocket.spring_passes", 4))
        off = changed(base, put("operations.pocket_control_cavity.finish_pass", False))
        sprung = changed(off, put("operations.pocket_control_cavity.spring_passes", 2))
        steps = [s for r in (off, sprung) for s in proof_of(r).steps if s.operation.id == "pocket_control_cavity"]
        self.assertEqual(len(steps[0].path), len(steps[1].path))


if __name__ == "__main__":
    unittest.main()
