"""Nests: the window takes the piece with its play whatever the bit, the wood lies in it without its waste, cuts keep out of it, its job is clean."""

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import Point, Polygon, box

from birch_route.core.data import figures
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import InfeasibleError
from birch_route.core.heights.raster import mask_of
from birch_route.core.holding.balance import Balance, Element
from birch_route.core.holding.contacts import BED, UP
from birch_route.core.holding.datums import chains
from birch_route.core.holding.nest import nest_elements, window_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.jigs.nest import nest_for
from birch_route.core.proving.simulate import simulate_all
from birch_route.core.route import Nest
from birch_route.core.stages import frame_of
from birch_route.demo.fitted import fitted_route
from tests.core.test_balance import in_plane
from tests.support import changed, proof_of, put


def nested(deep=10.0, cut_first=True):
    """The fitted body with its outline cut from the front, its back worked in a nest, held there by tape."""
    route = fitted_route(True)
    if cut_first:
        front = [o for o in route.operations if o.setup == "front"]
        outline = next(o for o in route.operations if o.id == "profile_outline")
        outline = outline.model_copy(update={"setup": "front", "touch_off_before": True})
        route = route.model_copy(update={"operations": [*front, outline, *[o for o in route.operations if o.setup == "back" and o.id != "profile_outline"]]})
    back = route.setups[1]
    return changed(route, *({"do": "remove_hardware", "setup": "back", "hardware": h.id} for h in back.hardware), {"do": "put_hardware", "setup": "back", "hardware": {"id": "d1", "kind": "tape", "x_mm": 210, "y_mm": 0, "length_mm": 200, "width_mm": 120, "glued": True}},
                   put("setups.back.nest", {"deep_mm": deep}))


class Window(unittest.TestCase):
    def test_it_takes_the_piece_with_its_play_and_could_be_cut_by_its_bit(self):
        """Random stars: every tip goes in; every place of the window is one that the bit's disc reaches without leaving it, but for the play at relieved tips."""
        rng = np.random.default_rng(7)
        relieved = 0
        for _ in range(20):
            n = int(rng.integers(5, 11))
            turns = np.sort(rng.uniform(0, 2 * math.pi, n))
            piece = Polygon([(100 * r * math.cos(a), 100 * r * math.sin(a)) for a, r in zip(turns, rng.uniform(0.6, 1.0, n), strict=True)]).buffer(float(rng.uniform(0.2, 4)))
            if not piece.is_valid or piece.geom_type != "Polygon":
                continue
            nest = Nest(play_mm=0.2, bit_mm=8.0)
            window = window_of(piece, nest)
            relieved += len(window.tips)
            self.assertLess(piece.difference(window.region).area, 0.3)
            cut = window.region.buffer(-4.0 + 1e-3, quad_segs=32).buffer(4.0, quad_segs=32)
            self.assertLess(window.region.difference(cut).area, 0.02 * window.region.length)
        self.assertGreater(relieved, 5)

    def test_a_round_piece_needs_no_relief_and_a_bit_too_wide_is_refused(self):
        self.assertEqual(window_of(Point(0, 0).buffer(50, quad_segs=64), Nest()).tips, ())
        corner = window_of(box(0, 0, 80, 60), Nest(bit_mm=6.0, play_mm=0.1))
        self.assertEqual(len(corner.tips), 4)
        for _, _, out in corner.tips:  # a square corner stands out of a round one by r (sqrt 2 - 1), less the play
            self.assertAlmostEqual(out, 3 * (math.sqrt(2) - 1) - 0.1 * math.sqrt(2), delta=0.02)
        with self.assertRaisesRegex(InfeasibleError, "does not fit"):
            window_of(box(0, 0, 80, 5), Nest(bit_mm=12.0))


class Holds(unittest.TestCase):
    def test_its_wall_bears_to_the_side_and_nothing_else(self):
        """A square in a nest: pushed along an axis one side's wall bears; lifted, nothing does."""
        square, nest = box(-100, -100, 100, 100), Nest(deep_mm=10)
        bed = [Element(BED, (x, y, 0.0), UP, 1e9) for x in (-100.0, 100.0) for y in (-100.0, 100.0)]
        balance = Balance([*nest_elements(square, nest, 0.0), *bed])
        wall = figures()["holding"]["rail_n_mm"] * 200
        for deg in (0, 90, 180):
            self.assertLess(abs(balance.most(in_plane(deg), (0, 0, 5)) - wall) / wall, 0.12)  # places stand for stretches of 45 mm
        self.assertLess(balance.most((0.0, 0.0, 1.0), (0, 0, 0)), 1e-6)

    def test_the_wood_lies_in_it_without_its_waste_and_the_chain_says_how_it_is_found(self):
        route = nested()
        sim = simulate_all(route, cell_mm=1.0)[1]
        inside = mask_of(sim.resolved.outline, sim.grid)
        wood = sim.blank_top > sim.bottom
        self.assertFalse((wood & ~inside).any())
        self.assertGreater(wood.sum(), 0.8 * inside.sum())
        link = chains(route)[1].links[0]
        self.assertIn("nest", link.by)
        self.assertAlmostEqual(link.off_mm, math.hypot(0.15, 0.05))


class Faults(unittest.TestCase):
    def test_a_nest_before_the_outline_is_cut_is_told(self):
        found = [f for f in proof_of(nested(cut_first=False)).findings if f.code == "nest.early"]
        self.assertEqual([f.severity.value for f in found], ["stop"])
        self.assertEqual([f for f in proof_of(nested()).findings if f.code.startswith("nest.")], [])

    def test_a_cut_below_its_edge_is_told_and_a_shallower_one_is_the_cure(self):
        """Bevel and rounded edge are worked beside the outline too: a nest that reaches up to their lowest is cut, one a little lower is not."""
        sim = simulate_all(nested(), cell_mm=1.0)[1]
        low = min(float(s.path.points[:, 2].min()) for s in sim.steps if s.operation.kind.value in ("edge", "surface_rough", "surface_finish"))
        room = low - float(sim.bottom[sim.blank_top > sim.bottom].min())
        for deep, told in ((room + 0.6, True), (room - 0.6, False)):
            found = [f for f in proof_of(nested(deep=round(deep, 2))).findings if f.code == "nest.cut"]
            self.assertEqual([f.severity.value for f in found], ["care"] if told else [])
            if told:
                lowered = found[0].cures[0].edits[0]["value"]
                self.assertIn(f"{lowered:.1f} deep", found[0].cures[0].label)
                self.assertAlmostEqual(lowered, room - 0.5, delta=0.1)
                cured = apply_edits(nested(deep=round(deep, 2)), [read_edit(e) for e in found[0].cures[0].edits])
                self.assertEqual([f for f in proof_of(cured).findings if f.code == "nest.cut"], [])


class Job(unittest.TestCase):
    def test_the_nest_of_a_turned_piece_is_its_mirror_with_a_clean_proof(self):
        route = nested()
        jig = nest_for(route, "back")
        outline = frame_of(route.setups[1], resolve(route).thickness_mm).region(resolve(route).outline)
        window = resolve(jig).solid("window").region
        self.assertLess(outline.difference(window).area, 0.5)
        self.assertGreater(resolve(route).outline.difference(window).area, 500.0)  # not turned it would not go in
        self.assertEqual(jig.jig.kind.value, "nest")
        self.assertEqual([f.code for f in proof_of(jig).findings if f.severity.value != "note"], [])
        shapely.prepare(window)
        with self.assertRaisesRegex(InfeasibleError, "vacuum"):
            nest_for(changed(route, {"do": "put_hardware", "setup": "back", "hardware": {"id": "v1", "kind": "vacuum", "x_mm": 200, "y_mm": 0}}), "back")
