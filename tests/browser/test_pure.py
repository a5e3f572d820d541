"""The client's pure files say what the core says, and what plain geometry says."""

import random
import unittest
from decimal import Decimal

from shapely.geometry import LineString, Point, Polygon

from birch_route.core.errors import UnitError
from birch_route.core.quantities import Unit, length, say
from birch_route.core.units import parse_length, parse_number
from tests.browser.pure import PurePage
from tests.cases.lengths import NUMBERS, READ, REFUSED, SIGNED, sentences, shown


def refusal(read, *arguments, **named):
    try:
        read(*arguments, **named)
    except UnitError as exc:
        return exc.message
    return ""


class Units(PurePage):
    def test_five_hundred_lengths_are_shown_alike(self):
        cases = shown()
        theirs = self.called("units/say", "return a.map(([mm, places, unit]) => m.length_in(mm, places, unit))", cases)
        self.assertEqual(len(cases), 500)
        self.assertEqual(theirs, [length(value, places, Unit(unit)) for value, places, unit in cases])

    def test_what_is_printed_of_a_sum_adds_up(self):
        rng = random.Random(21)
        sums = [[round(rng.uniform(-30, 80), rng.choice((1, 2, 3, 5))) for _ in range(rng.randint(2, 7))]
                for _ in range(300)]
        told = self.called(
            "units/sums",
            "return a.map((t) => ['mm', 'inch'].map((u) => m.sum_shown(t, t.reduce((x, y) => x + y, 0), u)))",
            sums,
        )
        number = lambda text: Decimal(text.replace("−", "-").rstrip('"'))  # noqa: E731
        for terms, both in zip(sums, told, strict=True):
            for over, printed in zip((1, 25.4), both, strict=True):
                self.assertEqual(sum(number(t) for t in printed["terms"]), number(printed["total"]), terms)
                self.assertAlmostEqual(float(number(printed["total"])), sum(terms) / over, delta=0.04)
                for term, text in zip(terms, printed["terms"], strict=True):
                    self.assertAlmostEqual(float(number(text)), term / over, delta=0.0051)
        unknown = self.called("units/sums", "return m.sum_shown([1.2345, null], null, 'mm')", None)
        self.assertEqual(unknown, {"terms": ["1.23", "–"], "total": "–"})

    def test_what_a_list_leaves_out_is_said(self):
        names = ["a", "b", "c", "d"]
        cases = [[names, 4], [names, 3], [[], 3]]
        theirs = self.called("units/few", "return a.map(([names, most]) => m.few(names, most))", cases)
        self.assertEqual(theirs, ["a, b, c, d", "a, b, c and 1 more", ""])

    def test_a_bit_is_named_as_it_is_bought(self):
        sizes = (6.35, 12.7, 3.96875, 6.0, 6.5, 0.8, 6.36)
        cases = [*((mm, "mm") for mm in sizes), (6.35, "inch")]
        theirs = self.called("units/say", "return a.map(([mm, unit]) => m.bought_in(mm, unit))", cases)
        said = ['6.35 (1/4")', '12.70 (1/2")', '3.97 (5/32")', "6.00", "6.50", "0.80", "6.36", '1/4"']
        self.assertEqual(theirs, said)

    def test_sentences_are_said_alike(self):
        cases = sentences()
        theirs = self.called("units/say", "return a.map(([text, unit]) => m.say_in(text, unit))", cases)
        self.assertEqual(theirs, [say(text, Unit(unit)) for text, unit in cases])

    def test_what_is_typed_is_read_and_refused_alike(self):
        cases = [(text, unit, False) for text, unit, _ in READ + REFUSED] + [
            (text, unit, True) for text, unit, _ in SIGNED
        ]
        theirs = self.called(
            "units/read", "return a.map(([text, unit, negative]) => m.read_length(text, unit, negative))", cases
        )
        for (text, unit, negative), found in zip(cases, theirs, strict=True):
            with self.subTest(text, unit=unit):
                wrong = refusal(parse_length, text, Unit(unit), negative=negative)
                if wrong:
                    self.assertEqual(found, {"wrong": wrong})
                else:
                    self.assertAlmostEqual(
                        found["value"], parse_length(text, Unit(unit), negative=negative).mm, places=9
                    )

    def test_random_text_is_read_alike(self):
        rng = random.Random(5)
        cases = ["".join(rng.choice('0123456789.,/+- "inm½') for _ in range(rng.randrange(1, 9))) for _ in range(800)]
        theirs = self.called("units/read", "return a.map((text) => m.read_length(text, 'mm'))", cases)
        for text, found in zip(cases, theirs, strict=True):
            with self.subTest(text):
                wrong = refusal(parse_length, text)
                self.assertEqual(found.get("wrong", ""), wrong)
                if not wrong:
                    self.assertAlmostEqual(found["value"], parse_length(text).mm, places=9)

    def test_numbers_and_rates(self):
        theirs = self.called("units/read", "return a.map((text) => m.read_number(text))", [text for text, _ in NUMBERS])
        for (text, value), found in zip(NUMBERS, theirs, strict=True):
            with self.subTest(text):
                self.assertEqual(found, {"wrong": refusal(parse_number, text)} if value is None else {"value": value})
        rates = [
            ("2400", "mm", 2400),
            ("2\u2009400", "mm", 2400),
            ("90 in/min", "mm", 2286),
            ("90", "inch", 2286),
            ("1800 mm/min", "inch", 1800),
            ("90 ipm", "mm", 2286),
            ("0", "mm", None),
            ("1,800", "mm", None),
            ("x", "mm", None),
        ]
        for text, unit, value in rates:
            with self.subTest(text, unit=unit):
                found = self.called("units/read", "return m.read_rate(a[0], a[1])", [text, unit])
                self.assertAlmostEqual(found["value"], value, places=6) if value else self.assertIn("wrong", found)

    def test_accelerations_are_read_in_the_unit_in_use_or_in_what_is_said(self):
        for text, unit, value in (
            ("800", "mm", 800), ("1\u2009200", "mm", 1200), ("31.5", "inch", 800.1), ("31.5 in/s²", "mm", 800.1),
            ("800 mm/s2", "inch", 800), ("0", "mm", None), ("fast", "mm", None),
        ):
            with self.subTest(text, unit=unit):
                found = self.called("units/read", "return m.read_acceleration(a[0], a[1])", [text, unit])
                self.assertAlmostEqual(found["value"], value, places=6) if value else self.assertIn("wrong", found)

    def test_the_unit_in_use_is_followed(self):
        body = """m.unit.value = a; const out = [m.length(12.7), m.say('⟦12.7|named mm|g⟧ deep'),
                  m.rate(2540), m.fine(0.05), m.length(null),
                  'value' in m.typed('1', 'length') ? m.typed('1', 'length').value : null, m.value_typed('1\\u2009200'),
                  m.value_typed('x')]; m.unit.value = 'mm'; return out"""
        self.assertEqual(
            self.called("units/format", body, "mm"),
            ["12.70", "12.7 mm deep", "2\u2009540", "0.050 mm", "–", 1, 1200, None],
        )
        self.assertEqual(
            self.called("units/format", body, "inch"), ['1/2"', '1/2" deep', "100", '0.0020"', "–", 25.4, 1200, None]
        )


class Lines(PurePage):
    def test_a_section_meets_a_ring_where_geometry_says(self):
        rng = random.Random(3)
        for _ in range(40):
            middle = [rng.uniform(80, 120), rng.uniform(60, 90)]
            ring = [list(p) for p in Point(middle).buffer(rng.uniform(20, 50), quad_segs=6).exterior.coords[:-1]]
            ring = [[x + rng.uniform(-4, 4), y + rng.uniform(-4, 4)] for x, y in ring]
            line = {
                "at": [middle[0] + rng.uniform(-15, 15), middle[1] + rng.uniform(-15, 15)],
                "turn_deg": rng.uniform(-89, 90),
            }
            blank = {"x_mm": 0, "y_mm": 0, "length_mm": 200, "width_mm": 150}
            body = """const run = m.run_of(a.line, a.blank, { signs: [1, 1], corner: [0, 0] })
                      return { run, inside: m.inside_ring(run, a.ring) }"""
            found = self.called("section/line", body, {"line": line, "blank": blank, "ring": ring})
            run = LineString([found["run"]["from"], found["run"]["to"]])
            self.assertAlmostEqual(run.length, found["run"]["long_mm"], places=6)
            met = run.intersection(Polygon(ring))
            stretches = sorted(
                sorted(run.project(Point(c)) for c in one.coords) for one in getattr(met, "geoms", [met])
            )
            self.assertEqual(len(stretches), len(found["inside"]))
            for mine, theirs in zip(stretches, found["inside"], strict=True):
                self.assertAlmostEqual(mine[0], theirs[0], places=5)
                self.assertAlmostEqual(mine[-1], theirs[1], places=5)

    def test_a_line_is_kept_on_its_blank_and_folded(self):
        blank = {"x_mm": 10, "y_mm": 20, "length_mm": 200, "width_mm": 150}
        body = "return m.kept({ at: a.at, turn_deg: a.turn_deg }, a.blank)"
        found = self.called("section/line", body, {"at": [-50, 400], "turn_deg": 135, "blank": blank})
        self.assertEqual(found, {"at": [11, 169], "turn_deg": -45})
        angles = self.called("section/line", "return a.map(m.folded)", [90, 90.5, -90, 180, -179, 0])
        self.assertEqual([round(v, 6) + 0.0 for v in angles], [90, -89.5, 90, 0, 1, 0])

    def test_a_place_on_a_rim_is_found_and_given_back(self):
        ring = [[0, 0], [100, 0], [100, 50], [0, 50], [0, 0]]
        whole = LineString(ring)
        for part in (0.0, 0.1, 0.333, 0.5, 0.61, 0.99):
            with self.subTest(part):
                at = self.called("layout/rim", "return m.point_at(a[0], a[1])", [ring, part])
                self.assertAlmostEqual(whole.interpolate(part, normalized=True).distance(Point(at)), 0, places=6)
                self.assertAlmostEqual(
                    self.called("layout/rim", "return m.part_near(a[0], a[1])", [ring, at]), part, places=4
                )
        into = self.called("layout/rim", "return [m.inward_at(a, 0.1), m.inward_at([...a].reverse(), 0.1)]", ring)
        self.assertAlmostEqual(into[0][0], 0, places=6)
        self.assertAlmostEqual(into[0][1], 1, places=6)
        self.assertAlmostEqual(into[1][0], 1, places=6)


class Trunk(PurePage):
    BITS = [{"id": "flat8"}, {"id": "flat3"}]
    OPERATIONS = [
        {"id": k, "name": k, "bit": b} for k, b in (("face", "flat8"), ("pocket", "flat8"), ("slot", "flat3"))
    ]
    BENCH = [
        {"id": "glue", "name": "Glue", "minutes": 5, "wait": False, "after": None},
        {"id": "dry", "name": "Dry", "minutes": 600, "wait": True, "after": "face"},
    ]
    REPORTED = [
        {"id": "face", "machine_min": 16, "passes": 2},
        {"id": "pocket", "machine_min": 4, "passes": 3},
        {"id": "slot", "machine_min": 0.1, "passes": 1},
    ]

    def laid(self, room=0):
        body = """const deep = (op) => (op.id === 'slot' ? null : 12)
                  return m.lay_out(a.operations, a.bench, a.reported, a.bits, deep, a.room)"""
        held = {
            "operations": self.OPERATIONS,
            "bench": self.BENCH,
            "reported": self.REPORTED,
            "bits": self.BITS,
            "room": room,
        }
        return self.called("trunk/trunk", body, held)

    def test_steps_stand_in_order_with_lengths_by_the_root_of_their_minutes(self):
        laid = self.laid()
        self.assertEqual([s["key"] for s in laid], ["glue", "face", "dry", "pocket", "slot"])
        self.assertEqual([s["kind"] for s in laid], ["bench", "operation", "wait", "operation", "operation"])
        self.assertEqual([s["changes"] for s in laid], [False, True, False, False, True])
        self.assertEqual([s["through"] for s in laid if s["kind"] == "operation"], [False, False, True])
        self.assertAlmostEqual(laid[1]["high"], 14.4 + 9.25 * 4)
        self.assertEqual([laid[2]["high"], laid[4]["high"]], [34, 34])
        for before, after in zip(laid, laid[1:]):
            self.assertAlmostEqual(before["y"] + before["high"], after["y"])

    def test_room_is_used_and_not_overrun(self):
        tall = self.laid(900)
        self.assertGreater(tall[1]["high"], self.laid()[1]["high"])
        self.assertLessEqual(sum(s["high"] for s in tall), 900 - 52 - 40)

    def test_hands_are_free_between_bit_changes_and_bench_work(self):
        body = "return m.free_stretches(a, 4)"
        found = self.called("trunk/trunk", body, self.laid())
        self.assertEqual([round(f["minutes"], 2) for f in found], [16, 4])
        self.assertEqual(
            [round(f["minutes"], 2) for f in self.called("trunk/trunk", "return m.free_stretches(a)", self.laid())],
            [16],
        )


class Section(PurePage):
    def test_wood_is_drawn_as_paths_and_the_thinnest_is_found(self):
        body = """
          const heights = (v) => new Float32Array(v)
          const view = { header: { z_offset_mm: -40, setups: [{ first_step: 0 }] }, steps: 2,
            setup_at() { return this.header.setups[0] },
            sample(step) { return { top: heights(step ? a.last : a.now), under: heights(a.under), hollow: null,
                                    apart_mm: 1 } } }
          return m.cut_at(view, 0, {}, (x) => x, (z) => -z, [[0, 6]])"""
        held = {"now": [0, 0, -30, -30, 0, 0], "last": [0, 0, -36, -36, 0, -40], "under": [-40] * 6}
        found = self.called("section/section", body, held)
        self.assertEqual(found["thinnest"], {"s_mm": 2.5, "z_mm": -30, "left_mm": 10})
        self.assertEqual(
            found["to_go"], "M0.0 40.0L0.0 0.0L2.0 0.0L2.0 30.0L4.0 30.0L4.0 0.0L6.0 0.0L6.0 40.0L0.0 40.0Z"
        )
        self.assertTrue(found["now"].endswith("L5.0 0.0L5.0 40.0L0.0 40.0Z"), found["now"])


if __name__ == "__main__":
    unittest.main()


class Near(PurePage):
    """The wood between shapes as the pen tells it while one is held."""

    def rings(self, count=120):
        rng, out = random.Random(20), []
        while len(out) < count:
            pair = []
            for middle in (0.0, rng.uniform(15, 60)):
                ring = Point(middle, rng.uniform(-30, 30)).buffer(rng.uniform(3, 18), quad_segs=rng.randint(1, 6))
                pair.append(ring)
            if not pair[0].intersects(pair[1]):
                out.append([[[x, y] for x, y in shape.exterior.coords[:-1]] for shape in pair])
        return out

    def test_it_is_the_distance_of_plain_geometry(self):
        cases = self.rings()
        theirs = self.called("layout/near", "return a.map(([p, q]) => m.gap_between(p, q))", cases)
        for (one, two), found in zip(cases, theirs, strict=True):
            self.assertAlmostEqual(found["apart"], Polygon(one).distance(Polygon(two)), places=9)
            ends = Point(found["at"]).distance(Point(found["to"]))
            self.assertAlmostEqual(ends, found["apart"], places=9)
            self.assertLess(Polygon(one).exterior.distance(Point(found["at"])), 1e-9)
            self.assertLess(Polygon(two).exterior.distance(Point(found["to"])), 1e-9)

    def test_a_shape_is_asked_where_it_is_held_not_where_it_was(self):
        one, two = self.rings(1)[0]
        script = "return m.near_shifted([a[0]], [0, 5], [{ id: 'other', rings: [a[1]] }])"
        found = self.called("layout/near", script, [one, two])[0]
        held = Polygon([(x, y + 5) for x, y in one])
        if not held.intersects(Polygon(two)):
            self.assertAlmostEqual(found["apart"], held.distance(Polygon(two)), places=9)
        self.assertEqual(found["id"], "other")

    def test_closer_keeps_the_place_under_the_pointer_and_never_shows_more_than_all(self):
        script = """
          const whole = { value: { x0: 0, x1: 400, y0: 0, y1: 300 } }
          const seen = m.seen_box(whole)
          seen.closer(2, [100, 50])
          const once = { ...seen.box.value }
          for (let k = 0; k < 20; k++) seen.closer(2, [100, 50])
          const most = { ...seen.box.value }
          for (let k = 0; k < 40; k++) seen.closer(0.5)
          return [once, most, { ...seen.box.value }, seen.is_closer.value]
        """
        once, most, back, closer = self.called("layout/zoom", script)
        self.assertEqual(once, {"x0": 50, "x1": 250, "y0": 25, "y1": 175})
        self.assertAlmostEqual(most["x1"] - most["x0"], 25)
        self.assertAlmostEqual((100 - most["x0"]) / (most["x1"] - most["x0"]), 0.25)
        self.assertEqual((back, closer), ({"x0": 0, "x1": 400, "y0": 0, "y1": 300}, False))


class Differ(PurePage):
    """Two woods of two cells by one, 2 mm wide, one setup of one step."""

    BODY = """
      const wood = (heights, more) => ({ heights: Float32Array.from(heights), steps: 2, show: () => true,
        header: { nx: heights.length, ny: 1, cell_mm: 2, z_offset_mm: -50,
          setups: [{ face: 'front', turned_about: null, x0_mm: 0, y0_mm: 0, first_step: 0, ...more }] } })
    """

    def differ(self, one, two):
        body = self.BODY + "const f = m.differ(wood(a[0]), wood(a[1]), 0); return { ...f, values: [...f.values] }"
        return self.called("wood/differ", body, [one, two])

    def test_what_is_deeper_and_what_higher_is_told_from_where_it_is_seen(self):
        told = self.differ([0, -5, -10, -50], [0, -8, -9, -50])
        self.assertEqual(told["values"], [0, -3, 1, 10000])
        self.assertEqual([told[k] for k in ("deeper_mm2", "deepest_mm", "higher_mm2", "highest_mm")], [4, 3, 4, 1])
        for off, area in ((0.034, 0), (0.036, 4)):
            self.assertEqual(self.differ([0], [off])["higher_mm2"], area)
            self.assertEqual(self.differ([0], [-off])["deeper_mm2"], area)

    def test_a_hole_cut_through_is_deeper_and_one_in_both_is_nothing(self):
        told = self.differ([0, -50], [-50, -50])
        self.assertEqual((told["deeper_mm2"], told["values"][1]), (4, 10000))

    def test_woods_that_lie_otherwise_are_not_held_against_each_other(self):
        body = self.BODY + "return [{}, { face: 'back' }, { turned_about: 'width' }, { x0_mm: 1 }].map((more) => " \
            "m.apart(wood([0]), wood([0], more), 0)).concat(m.apart(wood([0]), wood([0, 0]), 0), " \
            "m.apart(wood([0]), wood([0]), 1))"
        told = self.called("wood/differ", body, None)
        self.assertEqual(told[0], "")
        for words, said in zip(told[1:], ("another face", "another face", "blanks", "blanks", "no such"), strict=True):
            self.assertIn(said, words)
