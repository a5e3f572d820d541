"""Jigs: made from a holding, where the holding is, symmetrical where they must be, and clean jobs of their own with drawings that read back."""

import unittest

import numpy as np
import shapely
from shapely.geometry import Point

from birch_route.core.bits.model import Bit
from birch_route.core.data import figures
from birch_route.core.errors import InfeasibleError, InputError
from birch_route.core.holding.vacuum import vacuum_bar
from birch_route.core.instrument.plan import plan_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.jigs.board import board_for
from birch_route.core.jigs.carrier import carrier_for, refuse_asymmetry
from birch_route.core.jigs.edges import corner_for, lines_for
from birch_route.core.jigs.vice import AngleBudget, stop_place, vice_plate_for
from birch_route.core.quantities import say
from birch_route.core.vocabulary import TurnAxis
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jigs import jig_routes, neck_on_vacuum
from birch_route.demo.shop import BITS, MORE_BITS
from birch_route.formats.drawing_file import read_drawing
from birch_route.formats.drawing_out import to_dxf, to_svg
from birch_route.formats.report import report
from birch_route.formats.route_file import route_from_text, route_to_text
from birch_route.sheets.jig_sheet import jig_sheet_pdf
from tests.support import changed, proof_of, put, route_named

RACK = [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]]
SIDES = ("length", "width")


def feature(route, id_):
    return next(f for f in route.features if f.id == id_)


class Boards(unittest.TestCase):
    def test_every_jig_of_the_demo_is_a_clean_job(self):
        for jig in jig_routes():
            with self.subTest(jig.job):
                self.assertEqual([f.reason for f in proof_of(jig).findings], [])
                self.assertEqual(jig.piece.kind.value, "jig")
                self.assertTrue(jig.jig.parts and jig.jig.errors and jig.jig.works_with)
                self.assertEqual(route_from_text(route_to_text(jig)), jig)

    def test_pilots_and_pins_lie_under_what_they_hold_on_either_face(self):
        """The board is drawn as the setup lies: of a turned one, the other way round about the axis."""
        body = route_named("siskin_body")
        front = board_for(body, "front", RACK)
        self.assertEqual(sorted(feature(front, "pilots").points), sorted((h.x_mm, h.y_mm) for h in body.setups[0].hardware if h.kind.value == "screw"))
        for about, (sx, sy) in (("length", (1, -1)), ("width", (-1, 1))):
            turned = changed(fitted_route(), {"do": "turn_over", "about": about})
            back = board_for(turned, "back", RACK)
            holes = feature(turned, turned.setup("back").datum)
            np.testing.assert_allclose(sorted(feature(back, "pin_holes").points), sorted((sx * x, sy * y) for x, y in holes.points), atol=1e-3)
            self.assertEqual(feature(back, "pin_holes").diameter_mm, holes.diameter_mm)

    def test_dowels_touch_the_blank_at_three_places_and_no_clamp(self):
        body = route_named("siskin_body")
        b, points = body.blank, feature(board_for(body, "front", RACK), "dowel_holes").points
        r = figures()["jigs"]["dowel_mm"] / 2
        self.assertEqual(len(points), 3)
        self.assertEqual([round(y, 3) for _, y in points[:2]], [b.y_mm - r] * 2)
        self.assertAlmostEqual(points[2][0], b.x_mm - r)
        for clamp in (h for h in body.setups[0].hardware if h.kind.value == "edge_clamp"):
            self.assertTrue(all(abs(x - clamp.x_mm) > clamp.width_mm / 2 + r or abs(y - clamp.y_mm) > 30 for x, y in points))

    def test_a_vacuum_board_seals_what_the_holding_counts_on(self):
        """Groove from gasket and crush; recess inside it, slots inside the recess, the port in a slot; the force told is pressure times the area inside."""
        route, fig = neck_on_vacuum(), figures()["jigs"]
        jig = board_for(route, "front", RACK)
        solids = resolve(jig).solids
        left, right, recess, slots = (solids[k].region for k in ("gasket_v1_1", "gasket_v1_2", "recess_v1", "slots_v1"))
        ring = left.union(right)
        inner = max(ring.interiors, key=lambda r: Point(270, 0).within(shapely.Polygon(r)))
        inside = shapely.Polygon(inner)
        self.assertAlmostEqual(ring.area / ((ring.exterior.length + inner.length) / 2), fig["gasket_mm"] - fig["gasket_squeeze_mm"], delta=0.05)
        self.assertAlmostEqual(-solids["gasket_v1_1"].floor_mm, fig["gasket_mm"] - fig["gasket_crush_mm"])
        self.assertTrue(inside.buffer(0.01).covers(recess) and recess.covers(slots) and slots.covers(Point(270, 0)))
        self.assertLess(solids["slots_v1"].floor_mm, solids["recess_v1"].floor_mm)
        told = next(w for w in jig.jig.works_with if w.startswith("Vacuum v1"))
        force = float(told.split("presses with ")[1].split(" N")[0])
        self.assertAlmostEqual(force, inside.area * vacuum_bar(route.setups[0].hardware[0], route.machine.pump) * 0.1, delta=0.01 * force)
        v = route.setups[0].hardware[0]
        self.assertTrue(ring.envelope.area <= v.length_mm * v.width_mm + 1e-6)

    def test_two_setups_are_two_stations_of_one_board_that_do_not_meet(self):
        """The second stands as its own board would, moved by the offset that is told; nothing of one lies over the other."""
        turned = changed(route_named("siskin_neck_face"), {"do": "turn_over"})
        both, alone = board_for(turned, ["front", "back"], RACK), board_for(turned, "back", RACK)
        told = say(next(w for w in both.jig.works_with if w.startswith("Station 2 (")))
        after = (told.split(f"{axis} ")[1].split(",")[0].split(" ")[0] for axis in ("X", "Y"))
        dx, dy = (float(number.replace("−", "-")) for number in after)
        for id_ in ("pilots", "pin_holes"):
            np.testing.assert_allclose(feature(both, f"{id_}_2").points, np.array(feature(alone, id_).points) + [dx, dy], atol=0.02)
        solids = [s for s in resolve(both).solids.values() if s.kind != "outline"]
        self.assertFalse([(a.id, b.id) for i, a in enumerate(solids) for b in solids[:i] if a.region.intersects(b.region)])
        self.assertEqual([f.reason for f in proof_of(both).findings if f.code != "jig.holding_unknown"], [])
        self.assertEqual(len(feature(both, "bed_bolts").points), 4)

    def test_what_cannot_be_made_is_refused_with_the_cure(self):
        body = route_named("siskin_body")
        empty = changed(body, *({"do": "remove_hardware", "setup": "front", "hardware": h.id} for h in body.setups[0].hardware))
        with self.assertRaisesRegex(InputError, "Put screws"):
            board_for(empty, "front", RACK)
        with self.assertRaises(InputError):
            board_for(body, "nowhere", RACK)
        with self.assertRaisesRegex(InfeasibleError, "reaches"):
            board_for(changed(body, put("blank.length_mm", 800.0)), "front", RACK)


class Carriers(unittest.TestCase):
    def test_pins_and_datum_holes_meet_each_other_turned_over(self):
        for about in SIDES:
            body = route_named("siskin_body")
            jig, b = carrier_for(body, "front", TurnAxis(about), RACK), body.blank
            cx, cy = b.x_mm + b.length_mm / 2, b.y_mm + b.width_mm / 2
            for id_ in ("carrier_pins", "datum_holes"):
                points = np.array(feature(jig, id_).points)
                turned = points * [1, -1] + [0, 2 * cy] if about == "length" else points * [-1, 1] + [2 * cx, 0]
                with self.subTest(about, id=id_):
                    self.assertEqual(sorted(map(tuple, points.round(3).tolist())), sorted(map(tuple, turned.round(3).tolist())))
                    self.assertFalse(id_ == "datum_holes" and np.allclose(points, turned))  # they swap places
            window = resolve(jig).solid("window").region
            self.assertTrue(window.covers(Point(b.x_mm, b.y_mm)) and window.covers(Point(b.x_mm + b.length_mm, b.y_mm + b.width_mm)))

    def test_a_hole_out_of_place_is_refused_and_named(self):
        pins = [(-100.0, -50.0), (100.0, -50.0), (-100.0, 50.0), (100.0, 50.0)]
        for about in SIDES:
            refuse_asymmetry(pins, 0.0, 0.0, TurnAxis(about))
            for k in range(4):
                off = [(x + 0.02 * (i == k), y + 0.02 * (i == k)) for i, (x, y) in enumerate(pins)]
                with self.assertRaisesRegex(InfeasibleError, "symmetrical"):
                    refuse_asymmetry(off, 0.0, 0.0, TurnAxis(about))

    def test_its_errors_add_up_by_squares(self):
        jig = carrier_for(route_named("siskin_body"), "front", TurnAxis.LENGTH, RACK).jig
        total = float(say(jig.works_with[0]).split("faces: ")[1].split(",")[0])
        self.assertAlmostEqual(total, sum(e.off_mm**2 for e in jig.errors) ** 0.5, delta=0.006)


class Vices(unittest.TestCase):
    def test_a_pin_holds_the_fence_at_its_angle(self):
        """Seen from the other side: the line through the pivot at the angle passes every pin's middle at half the fence and the pin's radius, below it."""
        for deg in (-8.0, 0.0, 1.37, 5.0, 11.5):
            x, y = stop_place((30.0, 80.0), 120.0, deg, 30.0, 8.0)
            t = np.radians(deg)
            beside = -(x - 30.0) * np.sin(t) + (y - 80.0) * np.cos(t)
            self.assertAlmostEqual(beside, -(15.0 + 4.0), places=9)
            self.assertAlmostEqual((x - 30.0) * np.cos(t) + (y - 80.0) * np.sin(t), 120.0, places=9)

    def test_each_source_of_the_angle_counts_once_and_the_vice_has_its_limit(self):
        route = route_named("siskin_neck_face")
        for wanted, wedge, blank in ((4.5, 2.0, 0.0), (4.5, 2.0, 2.5), (3.0, 0.0, -1.5)):
            budget = AngleBudget(wanted, wedge, blank)
            self.assertAlmostEqual(budget.fence_deg + wedge + blank, wanted)
            jig = vice_plate_for(route, "front", budget, RACK)
            self.assertIn(f"{budget.fence_deg:.2f} degrees", feature(jig, "wanted").name)
            holes = [np.array(f.points[0]) for f in jig.features if f.id == "wanted" or f.id.startswith("stop_")]
            self.assertGreater(min(np.linalg.norm(a - b) for i, a in enumerate(holes) for b in holes[:i]), figures()["jigs"]["datum_hole_mm"] + 3)
            self.assertEqual([f.reason for f in proof_of(jig).findings], [])
        with self.assertRaisesRegex(InfeasibleError, "12"):
            vice_plate_for(route, "front", AngleBudget(15.0, 2.0, 0.0), RACK)


class Drawings(unittest.TestCase):
    def test_dxf_and_svg_read_back_as_the_piece(self):
        for route in (jig_routes()[1], route_named("siskin_body")):
            plan = plan_of(route)
            area = resolve(route).outline.area
            for name, data in (("a.dxf", to_dxf(plan)), ("a.svg", to_svg(plan).encode())):
                with self.subTest(route.job, name=name):
                    read = read_drawing(data, name, None, 0.05)  # the file says that it is in mm
                    found = max(loop["area_mm2"] for loop in read["loops"])
                    self.assertAlmostEqual(found, area, delta=0.001 * area)

    def test_the_table_tells_every_hole_from_the_corner(self):
        route = route_named("siskin_body")
        plan, x0, y0 = plan_of(route), *resolve(route).outline.bounds[:2]
        for hole in (f for f in route.features if f.kind == "hole"):
            rows = [r for r in plan.rows if r[1] == hole.name]
            self.assertEqual(len(rows), len(hole.points))
            np.testing.assert_allclose([(r[2], r[3]) for r in rows], [(x - x0, y - y0) for x, y in hole.points], atol=1e-6)
        self.assertTrue(jig_sheet_pdf(route).startswith(b"%PDF"))


if __name__ == "__main__":
    unittest.main()


class OnTheBed(unittest.TestCase):
    def test_it_is_found_again_by_the_machines_own_holes_or_by_strips_in_the_corner(self):
        fitted = fitted_route(True)
        both = board_for(fitted, "back", RACK)  # the blank's holes stand over the machine's: one pin through both
        self.assertIsNone(next(f for f in both.features if f.id == "pin_holes").depth_mm)
        self.assertTrue(any("2 of the machine's own index holes" in w for w in both.jig.works_with))
        b, at = fitted.blank, fitted.setups[0].blank_at_mm
        spots = [(at[0] + 40, at[1] + 20), (at[0] + b.length_mm - 60, at[1] + 25)]
        own = changed(fitted, put("machine.index_holes_mm", [list(p) for p in spots]))
        pins = next(f for f in board_for(own, "front", RACK).features if f.id == "bed_pins")
        np.testing.assert_allclose(sorted(pins.points), sorted((x - at[0] + b.x_mm, y - at[1] + b.y_mm) for x, y in spots), atol=1e-3)
        strips = board_for(changed(fitted, put("machine.index_holes_mm", [])), "front", RACK)
        self.assertIn("Locating strips", [p.name for p in strips.jig.parts])
        self.assertTrue(any("corner" in e.what for e in strips.jig.errors))

    def test_on_a_bed_that_draws_the_bleed_hole_lands_in_a_slot_and_in_a_zone(self):
        route = neck_on_vacuum()
        b, at = route.blank, route.setups[0].blank_at_mm
        zone = [at[0] + 300 - b.x_mm, at[1] - 60 - b.y_mm, 120.0, 120.0]  # over x 300 to 420 of the piece, both sides of its middle
        jig = board_for(changed(route, put("machine.zones_mm", [[0, 0, 40, 40], zone])), "front", RACK)
        x, y = next(f for f in jig.features if f.id == "port_v1").points[0]
        slots = resolve(jig).solid("slots_v1").region
        hole = Point(x, y).buffer(figures()["jigs"]["slot_mm"] / 2 - 0.2)
        self.assertTrue(slots.buffer(0.05).covers(hole))
        self.assertTrue(shapely.box(300, -60, 420, 60).covers(Point(x, y).buffer(figures()["jigs"]["port_mm"] - 0.01)))
        self.assertTrue(any("zone 2" in w for w in jig.jig.works_with))
        self.assertEqual([f.code for f in proof_of(jig).findings if f.severity.value != "note"], [])
        with self.assertRaisesRegex(InfeasibleError, "No slot"):
            board_for(changed(route, put("machine.zones_mm", [[0, 0, 40, 40]])), "front", RACK)


class Parting(unittest.TestCase):
    def test_what_holds_each_piece_is_told_after_the_cut_that_parts_it_and_until_the_next(self):
        """The window of a carrier falls out by its tabs; later cuts leave it so, until the outline makes three pieces."""
        jig = carrier_for(route_named("siskin_body"), "front", TurnAxis.LENGTH, RACK)
        made = report(proof_of(jig), [], None)
        by = {o["id"]: o["pieces"] for o in made["operations"]}
        window = next(o for o in jig.operations if "window" in o.features)
        self.assertEqual([(p["name"], p["loose"]) for p in by[window.id]], [("Cut out of Window", False), ("The blank", False)])
        self.assertIn(f"{len(window.tabs)} tabs", by[window.id][0]["held"])
        self.assertEqual(len(made["setups"][0]["pieces"]), 3)
        before = [o.id for o in jig.operations[: jig.operations.index(window)]]
        self.assertTrue(all(by[k] is None for k in before))
        freed = report(proof_of(changed(jig, put(f"operations.{window.id}.tabs", []))), [], None)
        self.assertTrue(next(o for o in freed["operations"] if o["id"] == window.id)["pieces"][0]["loose"])


class WithoutPins(unittest.TestCase):
    def test_fences_stand_on_either_side_of_the_axis_and_the_same_edge_meets_one_either_way(self):
        route = fitted_route(True)
        for about in (TurnAxis.LENGTH,):
            jig = corner_for(route, "front", about)
            b, fig = route.blank, figures()["jigs"]
            near, far = (np.array(next(f for f in jig.features if f.id == f"fence_{k}").points)[:, 1] for k in (1, 2))
            self.assertAlmostEqual(float(far[0] - near[0]) - fig["fence_mm"], b.width_mm + fig["fence_play_mm"], places=2)
            self.assertTrue(np.allclose(near, near[0]) and np.allclose(far, far[0]))
            told = next(w for w in jig.jig.works_with if w.startswith("Expected"))
            self.assertIn(f"{np.sqrt(sum(e.off_mm**2 for e in jig.jig.errors)):.2f}", told)
            self.assertEqual([f.code for f in proof_of(jig).findings if f.severity.value != "note"], [])

    def test_what_turns_the_other_way_or_has_lost_its_edges_is_refused(self):
        route = fitted_route(True)
        for make in (corner_for, lines_for):
            with self.assertRaisesRegex(InfeasibleError, "wrong way round"):
                make(route, "front", TurnAxis.WIDTH)
        early = route.model_copy(update={"operations": [o.model_copy(update={"setup": "front"}) if o.id == "profile_outline" else o for o in route.operations]})
        with self.assertRaisesRegex(InfeasibleError, "edges are gone"):
            corner_for(early, "front", TurnAxis.LENGTH)
        lines_for(early, "front", TurnAxis.LENGTH)

    def test_centre_lines_run_through_the_middle_of_the_blank_outside_it(self):
        route = route_named("siskin_body")
        jig = lines_for(route, "front", TurnAxis.LENGTH)
        b = route.blank
        blank = shapely.box(b.x_mm, b.y_mm, b.x_mm + b.length_mm, b.y_mm + b.width_mm)
        middles = [resolve(jig).solid(f"line_{k}").region for k in (1, 2, 3, 4)]
        self.assertFalse(any(m.intersects(blank) for m in middles))
        for m in middles[:2]:
            self.assertAlmostEqual(m.centroid.y, blank.centroid.y, places=2)
        for m in middles[2:]:
            self.assertAlmostEqual(m.centroid.x, blank.centroid.x, places=2)
        self.assertEqual([f.code for f in proof_of(jig).findings if f.severity.value != "note"], [])
