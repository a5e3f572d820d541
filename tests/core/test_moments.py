"""An operation from inside: its wood at moments, and the result against the target, unpacked as the screen does."""

import json
import struct
import unittest
import zlib
from functools import cache

import numpy as np

from birch_route.core.heights.field import Wood, cut_path
from birch_route.core.motion.toolpath import Toolpath
from birch_route.core.proving.moments import moments, parted
from birch_route.core.proving.target import compare, target_of
from birch_route.demo.fitted import fitted_route
from birch_route.formats.moments import encode_moments
from birch_route.formats.target import JUDGED, OUTSIDE, encode_target
from birch_route.formats.view import SKIP, TILE, VIEW_SCALE_MM, lowest_mm
from tests.support import changed, proof_of, put, route_named


@cache
def two_faces():
    return proof_of(fitted_route(True))


class Reader:
    """Reads a packed look: header, then zlib streams one after another."""

    def __init__(self, data: bytes) -> None:
        size = struct.unpack_from("<I", data)[0]
        self.header, self._data, self._at = json.loads(data[4: 4 + size]), data, 4 + size

    def stream(self, length: int, kind: str) -> np.ndarray:
        out = np.frombuffer(zlib.decompress(self._data[self._at: self._at + length]), kind)
        self._at += length
        return out

    def tiles(self, length: int) -> np.ndarray:
        return np.cumsum(self.stream(length, "<u2").reshape(-1, TILE * TILE), axis=1, dtype=np.uint16)

    def ended(self) -> bool:
        return self._at == len(self._data)


def field_of(tiles: np.ndarray, sim) -> np.ndarray:
    nx, ny = sim.grid.nx // SKIP, sim.grid.ny // SKIP
    across = -(-nx // TILE)
    return tiles.reshape(-1, across, TILE, TILE).swapaxes(1, 2).reshape(-1, across * TILE)[:ny, :nx]


def shown(top: np.ndarray, sim, offset: float) -> np.ndarray:
    """Return a wood as the screen's cells hold it."""
    ny, nx = sim.grid.ny // SKIP, sim.grid.nx // SKIP
    small, under = (f[SKIP // 2:: SKIP, SKIP // 2:: SKIP][:ny, :nx] for f in (top, sim.bottom))
    return np.where(small <= under, 0, np.rint((small - offset) / VIEW_SCALE_MM)).astype(np.uint16)


class Moments(unittest.TestCase):
    def test_the_last_moment_is_the_end_and_wood_only_goes(self):
        for sim in two_faces().simulations:
            for index in (0, len(sim.steps) // 2, len(sim.steps) - 1):
                before, times = sim.top_before(index), []
                for moment in moments(sim, index, 12):
                    self.assertTrue((moment.top <= before).all())
                    changed_cells = np.argwhere(moment.top < before)
                    if len(changed_cells):
                        x, y = sim.grid.x_centres()[changed_cells[:, 1]], sim.grid.y_centres()[changed_cells[:, 0]]
                        x0, y0, x1, y1 = moment.box_mm
                        self.assertTrue(x0 <= x.min() and x.max() <= x1 and y0 <= y.min() and y.max() <= y1)
                    before = moment.top.copy()
                    times.append(moment.at_s)
                np.testing.assert_array_equal(before, sim.steps[index].top)
                self.assertAlmostEqual(times[-1], sim.steps[index].times_s.sum(), places=6)

    def test_a_moment_is_the_wood_of_the_path_so_far(self):
        sim = proof_of(route_named("control_plate")).simulations[0]
        step = sim.steps[-1]
        half = list(moments(sim, len(sim.steps) - 1, 4))[0]
        path, places = parted(step.path, step.times_s, np.array([half.at_s]))
        wood = Wood(sim.grid, sim.top_before(len(sim.steps) - 1).copy(), sim.bottom)
        cut_path(wood, Toolpath(path.points[: places[0] + 1], path.kinds[: places[0]], path.feeds[: places[0]]), step.bit, sim.route.machine.nut_diameter_mm, step.ceiling_mm)
        again = [m.top.copy() for m in moments(sim, len(sim.steps) - 1, 4)][0]
        np.testing.assert_array_equal(wood.top, again)

    def test_parting_a_path_keeps_it(self):
        path = Toolpath(np.array([[0.0, 0, 5], [0, 0, -1], [10, 0, -1], [10, 10, -1]]), np.array([1, 3, 3], np.int8), np.array([300.0, 600, 600]))
        cut, places = parted(path, np.array([1.0, 1.0, 2.0]), np.array([1.5, 3.0, 4.0]))
        np.testing.assert_allclose(cut.points[places], [[5, 0, -1], [10, 5, -1], [10, 10, -1]])
        self.assertEqual((len(cut), cut.kinds.tolist()), (5, [1, 3, 3, 3, 3]))

    def test_packed_it_comes_out_as_it_went_in(self):
        proof = two_faces()
        offset = lowest_mm(proof.simulations)
        for sim, index in ((proof.simulations[0], 9), (proof.simulations[1], 0)):
            read = Reader(encode_moments(sim, index, offset, 10))
            step = sim.steps[index]
            points, kinds, clock = (read.stream(n, kind) for n, kind in zip(read.header["path_bytes"], ("<f4", "u1", "<f4"), strict=True))
            np.testing.assert_allclose(points.reshape(-1, 3), step.path.points, atol=1e-4)
            np.testing.assert_array_equal(kinds, step.path.kinds)
            self.assertAlmostEqual(float(clock[-1]), step.times_s.sum(), places=3)
            tiles = shown(sim.top_before(index), sim, offset)
            nx, ny = sim.grid.nx // SKIP, sim.grid.ny // SKIP
            for moment in read.header["moments"]:
                if moment["bytes"]:
                    for name, cells in zip(moment["tiles"], read.tiles(moment["bytes"]), strict=True):
                        j, i = divmod(name, -(-nx // TILE))
                        high, wide = min(TILE, ny - j * TILE), min(TILE, nx - i * TILE)
                        tiles[j * TILE: j * TILE + high, i * TILE: i * TILE + wide] = cells.reshape(TILE, TILE)[:high, :wide]
            self.assertTrue(read.ended())
            np.testing.assert_array_equal(tiles, shown(step.top, sim, offset))


class AgainstTheTarget(unittest.TestCase):
    def test_a_clean_route_ends_as_drawn_where_it_is_judged(self):
        proof = two_faces()
        offset = lowest_mm(proof.simulations)
        read = Reader(encode_target(proof.simulations))
        for sim, row in zip(proof.simulations, read.header["setups"], strict=True):
            aim = field_of(read.tiles(row["bytes"][0]), sim).astype(int)
            state = field_of(read.stream(row["bytes"][1], "u1"), sim)
            over = (shown(sim.result, sim, offset).astype(int) - aim) * VIEW_SCALE_MM
            self.assertGreater((state == JUDGED).mean(), 0.4)
            self.assertGreater((state == OUTSIDE).mean(), 0.1)
            self.assertLess(np.abs(over[state == JUDGED]).max(), 0.055)  # ridges of 0.02, depths within 0.02, two roundings of half a hundredth
            self.assertGreater((np.abs(over[state == JUDGED]) < 0.035).mean(), 0.9995)
        self.assertTrue(read.ended())

    def test_what_is_left_and_what_is_gouged_stand_out_by_their_amount(self):
        for field, value, sign in (("operations.pocket_pickup_pocket.floor_to_leave_mm", 0.7, 1), ("piece.features.control_cavity.depth_mm", 32.2, -1)):
            clean = proof_of(route_named("siskin_body")).simulations[0]
            if sign > 0:
                sim = proof_of(changed(route_named("siskin_body"), put(field, value))).simulations[0]
                difference = (sim.result - target_of(sim).height)[target_of(sim).judged]
                self.assertAlmostEqual(float(difference.max()), 0.7, delta=0.01)
                self.assertEqual([d.feature for d in compare(sim).left], ["pickup_pocket"])
            else:  # the wood of the deeper pocket held against the shallower drawing
                shallow = proof_of(changed(route_named("siskin_body"), put(field, value))).simulations[0]
                drawn = target_of(shallow)
                difference = np.where(drawn.judged, np.maximum(clean.result, clean.bottom) - np.maximum(drawn.height, clean.bottom), 0.0)
                self.assertAlmostEqual(float(difference.min()), 32.2 - 33.0, delta=0.01)


if __name__ == "__main__":
    unittest.main()
