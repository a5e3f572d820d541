import io
import math
import time
import unittest

import ezdxf

from birch_route.demo.shop import BENCH_MACHINE, BITS
from tests.support import live_server

SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" viewBox="0 0 300 200">
<rect x="20" y="20" width="240" height="150" rx="20"/><rect x="60" y="60" width="60" height="40" rx="5"/><circle cx="180" cy="100" r="7"/></svg>"""


def dxf(units=4):
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    space = document.modelspace()
    for a, b in (((0, 0), (200, 0)), ((200.05, 0), (200, 120)), ((200, 120), (0, 120)), ((0, 120), (0, 0))):
        space.add_line(a, b)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


class Drawings(unittest.TestCase):
    def setUp(self):
        self.server = live_server()
        self.call = self.server.call

    def bring(self, data, name, query=""):
        status, made = self.call("POST", f"/api/drawings?name={name}{query}", data)
        self.assertEqual(status, 200, made)
        return self.read(made["id"])

    def read(self, upload):
        deadline = time.monotonic() + 40
        while time.monotonic() < deadline:
            state = self.call("GET", f"/api/drawings/{upload}")[1]
            if state["status"] in ("done", "failed"):
                return state
            time.sleep(0.1)
        self.fail("the drawing was never read")

    def job(self, **more):
        body = {"job": "From a drawing", "kind": "plate", "wood": "birch_ply", "thickness_mm": 18, "machine": BENCH_MACHINE, "bits": BITS, **more}
        return self.call("POST", "/api/jobs", body)

    def test_a_drawing_becomes_a_job_whose_proof_is_clean(self):
        state = self.bring(SVG, "board.svg")
        for one, area in zip(state["result"]["loops"], (36000 - (4 - math.pi) * 400, 2400 - (4 - math.pi) * 25, math.pi * 49), strict=True):
            self.assertAlmostEqual(one["area_mm2"], area, delta=0.003 * area)
        status, made = self.job(upload=state["id"], choices=[{"index": 0, "role": "outline"}, {"index": 1, "role": "pocket", "name": "Tray", "depth_mm": 9}, {"index": 2, "role": "through", "name": "Peg"}])
        self.assertEqual(status, 200, made)
        kinds = {f["name"]: f["kind"] for f in made["document"]["piece"]["features"]}
        self.assertEqual(kinds, {"Tray": "pocket", "Peg": "hole", "Outline": "outline"})
        self.assertEqual(self.server.proof(made["hash"])["report"]["findings"], [])

    def test_a_drawing_without_a_unit_is_asked_about_and_read_again(self):
        state = self.bring(dxf(units=0), "plain.dxf")
        self.assertTrue(state["result"]["needs_unit"])
        self.assertEqual(state["result"]["sizes"]["mm"], [200.05, 120.0])
        self.call("POST", f"/api/drawings/{state['id']}/again?unit=cm&join_mm=2")
        after = self.read(state["id"])
        self.assertAlmostEqual(after["result"]["loops"][0]["bounds_mm"][2], 200.05 * 10, delta=0.6)
        self.assertEqual([c["what"] for c in after["result"]["changes"]], ["joined"])

    def test_what_is_no_drawing_fails_with_a_reason_and_leaves_no_job(self):
        before = self.call("GET", "/api/routes")[1]["count"]
        for data, name in ((b"hello", "x.dxf"), (b"<svg><path d='M0", "x.svg"), (b'<!DOCTYPE a [<!ENTITY b "c">]><svg>&b;</svg>', "bomb.svg")):
            with self.subTest(name):
                state = self.bring(data, name)
                self.assertEqual(state["status"], "failed")
                self.assertGreater(len(state["result"]["message"]), 20)
        self.assertEqual(self.call("POST", "/api/drawings?name=a.svg&unit=furlong", SVG)[0], 422)
        self.assertEqual(self.call("POST", "/api/drawings?name=a.svg", b"")[0], 422)
        self.assertEqual(self.call("GET", "/api/routes")[1]["count"], before)

    def test_a_drawing_above_the_limit_is_refused_at_once(self):
        status, answer = self.call("POST", "/api/drawings?name=a.svg", b" " * 24_100_000)
        self.assertEqual((status, answer["code"]), (413, "too_large"))

    def test_wrong_choices_are_refused_with_a_reason(self):
        state = self.bring(SVG, "board.svg")
        outline = {"index": 0, "role": "outline"}
        for more, words in (({"choices": []}, "outline"), ({"choices": [outline, {**outline, "index": 1}]}, "2 are chosen"), ({"choices": [{"index": 9, "role": "outline"}]}, "no curve 10"),
                            ({"choices": [{"index": 1, "role": "outline"}, {"index": 0, "role": "pocket"}]}, "outside the outline"),
                            ({"choices": [outline], "wood": "balsa"}, "wood table"), ({"choices": [outline], "kind": "boat"}, "boat")):
            with self.subTest(words):
                status, answer = self.job(upload=state["id"], **more)
                self.assertEqual(status, 422)
                self.assertIn(words, answer["message"])

    def test_an_outline_of_our_own_starts_a_body_left_or_right_handed(self):
        outlines = {}
        for left in (False, True):
            status, made = self.job(kind="body", wood="alder", thickness_mm=44, style="dunnock", style_length_mm=400, style_width_mm=320, with_parts=True, left_handed=left)
            self.assertEqual(status, 200, made)
            self.assertEqual({p["kind"] for p in made["document"]["parts"]}, {"neck", "bridge", "pickup"})
            outlines[left] = next(s for s in made["drawing"]["solids"] if s["id"] == "outline")["rings"][0]
            self.assertIn("part.waits", [f["code"] for f in self.server.proof(made["hash"])["report"]["findings"]])
        self.assertEqual(round(max(y for _, y in outlines[True]), 1), round(-min(y for _, y in outlines[False]), 1))

    def test_a_scan_is_traced_between_two_points_and_becomes_a_plate(self):
        import numpy as np
        from PIL import Image

        x, y = np.meshgrid(np.arange(500), np.arange(300))
        plate = 1 - np.clip(np.minimum.reduce([x - 60, 440 - x, y - 50, 250 - y]) + 0.5, 0, 1)
        held = io.BytesIO()
        Image.fromarray((60 + 170 * plate).astype(np.uint8)).save(held, "PNG")
        state = self.bring(held.getvalue(), "plate.png")
        self.assertTrue(state["result"]["needs_scale"])
        self.assertEqual(self.call("GET", f"/api/drawings/{state['id']}/picture")[1], held.getvalue())
        self.assertEqual(self.call("POST", f"/api/drawings/{state['id']}/again?scan=1,1,1,1,5")[0], 422)
        self.call("POST", f"/api/drawings/{state['id']}/again?scan=0.12,0.5,0.88,0.5,120")  # 380 pixels are 120 mm
        after = self.read(state["id"])
        b = after["result"]["loops"][0]["bounds_mm"]
        self.assertAlmostEqual(b[2] - b[0], 120, delta=0.6)
        self.assertAlmostEqual(b[3] - b[1], 200 * 120 / 380, delta=0.6)
        status, made = self.job(upload=state["id"], wood="abs", thickness_mm=2.5, choices=[{"index": 0, "role": "outline"}])
        self.assertEqual(status, 200, made)

    def test_a_reading_that_is_stopped_keeps_nothing(self):
        made = self.call("POST", "/api/drawings?name=board.svg", SVG)[1]
        self.call("POST", f"/api/drawings/{made['id']}/stop")
        self.assertIn(self.call("GET", f"/api/drawings/{made['id']}")[1]["status"], ("stopped", "done"))
        self.assertEqual(self.call("GET", "/api/drawings/999999")[0], 422)


if __name__ == "__main__":
    unittest.main()
