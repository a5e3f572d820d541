"""What goes out: the wood for the screen, the report, the run sheet, the route file, read again by other means."""

import contextlib
import io
import json
import struct
import tempfile
import unittest
import zlib
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from birch_route.cli import main
from birch_route.core.data import figures, wood
from birch_route.core.errors import InputError, StoreError
from birch_route.core.route import content_hash
from birch_route.demo.fitted import fitted_route
from birch_route.formats.report import report, totals, write_wood
from birch_route.formats.route_file import route_from_text, route_to_text, write_safely
from birch_route.formats.view import SKIP, VIEW_SCALE_MM, encode_view, no_go_rows
from birch_route.service.planning import release
from birch_route.sheets.run_sheet import SAFETY, run_plan, run_sheet_pdf, step_words
from tests.formats.test_inches import said_by
from tests.support import changed, proof_of, put, route_named

NAMES = ("siskin_body", "siskin_neck_face", "control_plate")


def decode_view(data):
    """Read the packed wood as its documentation says, without the product's code: heights [step, ny, nx] in mm."""
    size = struct.unpack("<I", data[:4])[0]
    header = json.loads(data[4: 4 + size])
    at, tile, across = 4 + size, header["tile"], header["tiles_x"]
    down = -(-header["ny"] // tile)
    whole = np.zeros((down * tile, across * tile), np.uint16)
    fields = []
    for step in header["steps"]:
        if step["tiles"]:
            values = np.frombuffer(zlib.decompress(data[at: at + step["bytes"]]), "<u2").reshape(-1, tile * tile)
            values = np.cumsum(values, axis=1, dtype=np.uint64).astype(np.uint16).reshape(-1, tile, tile)
            for number, block in zip(step["tiles"], values, strict=True):
                j, i = divmod(number, across)
                whole[j * tile: (j + 1) * tile, i * tile: (i + 1) * tile] = block
        at += step["bytes"]
        fields.append(whole[: header["ny"], : header["nx"]] * header["z_scale_mm"] + header["z_offset_mm"])
    for setup in header["setups"]:
        values = np.frombuffer(zlib.decompress(data[at: at + setup["under"]["bytes"]]), "<u2").reshape(-1, tile * tile)
        for number, block in zip(setup["under"]["tiles"], np.cumsum(values, axis=1, dtype=np.uint64).astype(np.uint16).reshape(-1, tile, tile), strict=True):
            j, i = divmod(number, across)
            whole[j * tile: (j + 1) * tile, i * tile: (i + 1) * tile] = block
        setup["field"] = whole[: header["ny"], : header["nx"]] * header["z_scale_mm"] + header["z_offset_mm"]
        at += setup["under"]["bytes"]
    return header, np.array(fields), at


class View(unittest.TestCase):
    def test_every_step_reads_back_to_the_simulated_wood(self):
        for name in NAMES:
            sim = proof_of(route_named(name)).simulation
            data = encode_view(sim)
            header, fields, end = decode_view(data)
            with self.subTest(name):
                self.assertEqual(end, len(data))
                self.assertEqual(len(fields), len(sim.steps) + 1)
                self.assertAlmostEqual(header["cell_mm"], sim.grid.cell_mm * SKIP)
                for k, top in enumerate([sim.blank_top, *(s.top for s in sim.steps)]):
                    true = np.maximum(top, sim.bottom)[SKIP // 2:: SKIP, SKIP // 2:: SKIP][: header["ny"], : header["nx"]]
                    self.assertLessEqual(np.abs(fields[k] - true).max(), VIEW_SCALE_MM / 2 + 1e-4)

    def test_the_packed_wood_of_the_demo_is_a_fiftieth_of_the_raw(self):
        sim = proof_of(route_named("siskin_body")).simulation
        raw = sum(s.top.nbytes for s in sim.steps)
        self.assertLess(len(encode_view(sim)), raw / 50)

    def test_hatched_rows_cover_the_outline_s_kerf_and_leave_the_corners_free(self):
        sim = proof_of(route_named("control_plate")).simulation
        rows = no_go_rows(sim)
        cell, x0, y0 = rows["cell_mm"], rows["x0_mm"], rows["y0_mm"]

        def hatched(x, y):
            j, i = int((y - y0) / cell), int((x - x0) / cell)
            return any(r == j and a <= i < b for r, a, b in rows["runs"])
        self.assertTrue(hatched(60, -1.5))
        self.assertTrue(hatched(36, 25))
        self.assertFalse(hatched(-24, -23))
        self.assertFalse(hatched(142, 73))


class Report(unittest.TestCase):
    def test_totals_add_up_and_weight_is_volume_times_density(self):
        for name in NAMES:
            proof = proof_of(route_named(name))
            out = report(proof, [], None)
            with self.subTest(name):
                self.assertAlmostEqual(out["totals"]["machine_min"], sum(o["machine_min"] for o in out["operations"]), places=2)
                self.assertEqual(out["totals"]["bit_changes"], sum(o["bit_change"] for o in out["operations"]))
                blank = proof.simulation.route.blank
                volume = blank.length_mm * blank.width_mm * blank.thickness_mm
                self.assertAlmostEqual(out["totals"]["blank_kg"], volume * wood(blank.wood).density_kg_m3 * 1e-9, delta=0.01 * out["totals"]["blank_kg"] + 0.001)
                self.assertAlmostEqual(out["totals"]["blank_kg"] - out["totals"]["left_on_bed_kg"], sum(o["removed_mm3"] for o in out["operations"]) * wood(blank.wood).density_kg_m3 * 1e-9, places=3)
                self.assertLess(out["totals"]["piece_kg"], out["totals"]["left_on_bed_kg"])
                self.assertEqual(out["revision"], content_hash(route_named(name)))
                self.assertIn("not proven", out["status"])

    def test_a_weighed_blank_counts_instead_of_the_table(self):
        proof = proof_of(changed(route_named("siskin_body"), put("blank.weighed_kg", 4.0)))
        self.assertAlmostEqual(totals(proof)["blank_kg"], 4.0, delta=0.02)
        self.assertEqual(totals(proof)["density_from"], "weighed")

    def test_pictures_of_the_wood_read_back_within_a_micrometre(self):
        sim = proof_of(route_named("control_plate")).simulation
        with tempfile.TemporaryDirectory() as folder:
            names = write_wood(Path(folder) / "new", sim)
            about = json.loads((Path(folder) / "new" / "front.json").read_text())
            top = np.asarray(Image.open(Path(folder) / "new" / "front_top.png")).astype(float) * about["z_scale_mm"] + about["z_offset_mm"]
            through = np.asarray(Image.open(Path(folder) / "new" / "front_through.png")) > 0
        self.assertEqual(set(names), {"front_top.png", "front_bottom.png", "front_through.png", "front.json"})
        np.testing.assert_array_equal(through, sim.result <= sim.bottom)
        self.assertLess(np.abs(top - np.maximum(sim.result, sim.bottom)).max(), 0.0011)
        self.assertEqual((about["nx"], about["ny"]), (sim.grid.nx, sim.grid.ny))


class RunSheet(unittest.TestCase):
    def test_each_bit_is_put_in_touched_off_and_checked_in_the_order_of_the_route(self):
        proof = proof_of(route_named("siskin_body"))
        plan = run_plan(proof.simulation)
        changes = [s.bit.id for s in proof.simulation.steps if s.bit_changes]
        self.assertEqual([b["bit"] for b in plan["bits"]], changes)
        self.assertEqual([o["id"] for b in plan["bits"] for o in b["operations"]], [o.id for o in proof.simulation.route.operations])
        for k, group in enumerate(plan["bits"]):
            self.assertTrue(any("touched off" in c for c in group["checks"]))
            self.assertEqual("because the bit changed" in " ".join(group["checks"]), k > 0)
        self.assertEqual(len(plan["hardware"]), 6)
        self.assertEqual(plan["safety"], list(SAFETY))

    def test_jog_distances_lead_from_home_to_zero_touch_off_and_park_on_either_face(self):
        """Reckoned again from the document: the blank's corner on the bed, zero by corner or centre, the touch-off and park place from it."""
        neck = changed(route_named("siskin_neck_face"), put("setups.front.park_mm", [-20, 30]))
        bed = run_plan(proof_of(neck).simulation)["setups"][0]["bed"]
        setup, b = neck.setups[0], neck.blank
        self.assertEqual(bed["jog"]["zero"], list(setup.blank_at_mm))
        self.assertEqual(bed["jog"]["touch"], [setup.zero.touch_x_mm - b.x_mm, setup.zero.touch_y_mm - b.y_mm])
        self.assertEqual(bed["jog"]["park"], [-20, 30])
        self.assertTrue(bed["inside"])
        centred = run_plan(proof_of(changed(neck, put("setups.front.zero.xy", "centre"), put("setups.front.blank_at_mm", [10, 10]))).simulation)["setups"][0]["bed"]
        self.assertEqual(centred["jog"]["zero"], [10 + b.length_mm / 2, 10 + b.width_mm / 2])
        self.assertFalse(centred["inside"])  # it parks at -10
        front, back = (s["bed"] for s in run_plan(*proof_of(fitted_route(True)).simulations)["setups"])
        for turned, one in ((False, front), (True, back)):  # the same screws stand at the same corners of the blank
            x, y, long, wide = one["blank"]
            middles = sorted(tuple(np.mean(h["ring"][:-1], axis=0).round(1) - [round(x, 1), round(y, 1)]) for h in one["hardware"] if h["id"].startswith("s"))
            with self.subTest(turned=turned):
                np.testing.assert_allclose(middles, [(10, 10), (10, wide - 10), (long - 10, 10), (long - 10, wide - 10)], atol=0.3)

    def test_what_is_meant_so_is_printed_with_its_reason_on_the_sheet_and_by_the_command(self):
        route = changed(route_named("control_plate"), put("operations.profile_outline.settings.feed_mm_min", 700))
        care = next(f for f in proof_of(route).findings if f.code == "settings.chip_load")
        about = {k: getattr(care, k) for k in ("code", "operation", "feature", "hardware", "said")}
        meant = changed(route, {"do": "mean_so", **about, "why": "a worn plate, slowly"})
        proof = proof_of(meant)
        said = said_by(lambda: run_sheet_pdf(proof, []))
        self.assertTrue(any("Meant so: a worn plate, slowly" in text for text in said))
        with tempfile.TemporaryDirectory() as folder:
            file, out = Path(folder) / "plate.birch.json", io.StringIO()
            file.write_text(route_to_text(meant))
            with contextlib.redirect_stdout(out):
                main(["plan", str(file), "--out", folder + "/out"])
        self.assertIn("meant so: a worn plate, slowly", out.getvalue())

    def test_a_step_at_the_bench_is_said_in_one_line(self):
        said = {"kind": "sand", "where": "rim", "tool": "block", "grit": 180, "check": "no ridge.", "in_sight": True,
                "gate": True, "note": "With the grain"}
        edit = {"do": "add_step", "after": None, "step": {"name": "Sand it", "minutes": 12, **said}}
        order = run_plan(proof_of(changed(route_named("control_plate"), edit)).simulation)["order"]
        self.assertEqual(step_words(order[0]), (
            "Sand it, 12 min. What follows waits for it. Where: rim. With: block, paper 180. Check: no ridge. "
            "While the machine runs, in sight of its stop. With the grain."))
        wait = {"do": "add_step", "after": None, "step": {"name": "Let it dry", "minutes": 60, "wait": True}}
        order = run_plan(proof_of(changed(route_named("control_plate"), wait)).simulation)["order"]
        self.assertEqual(step_words(order[0]), "Let it dry, 60 min of waiting.")

    def test_the_sheet_is_a_pdf_and_says_when_nothing_is_released(self):
        proof = proof_of(changed(route_named("control_plate"), put("operations.profile_outline.tabs", [])))
        sheet = run_sheet_pdf(proof, release(proof, {}).programs)
        self.assertTrue(sheet.startswith(b"%PDF"))
        self.assertGreater(len(sheet), 1500)
        clean = proof_of(route_named("control_plate"))
        self.assertNotEqual(run_sheet_pdf(clean, release(clean, {}).programs), sheet)

    def test_safety_covers_eyes_hands_fire_and_whose_word_comes_first(self):
        words = " ".join(SAFETY).lower()
        for needed in ("eyes", "hands", "never leave", "stop", "instructions"):
            self.assertIn(needed, words)


class RouteFiles(unittest.TestCase):
    @given(st.sampled_from(NAMES), st.text(max_size=60), st.floats(0.1, 5))
    @settings(max_examples=30, deadline=None)
    def test_the_import_of_an_export_is_identical(self, name, note, gap):
        route = changed(route_named(name), put("note", note.replace("\x00", "")), put("choices.fit_gap_mm", min(gap, 1.0)))
        again = route_from_text(route_to_text(route).encode("utf-8", "surrogatepass").decode("utf-8", "replace"))
        self.assertEqual(content_hash(again), content_hash(route_from_text(route_to_text(again))))

    def test_a_file_of_another_kind_or_version_is_refused_by_name(self):
        for text in ('{"schema": "birch-route/9"}', '{"schema": 5}', "[]", "null", '"text"'):
            with self.subTest(text), self.assertRaises(InputError) as caught:
                route_from_text(text, "my.birch.json")
            self.assertTrue("my.birch.json" in caught.exception.message or "schema" in caught.exception.message)

    def test_a_folder_that_cannot_be_written_leaves_no_crumbs(self):
        with tempfile.TemporaryDirectory() as folder:
            blocked = Path(folder) / "file"
            blocked.write_bytes(b"old")
            with self.assertRaises(StoreError):
                write_safely(blocked / "inner.nc", b"new")
            self.assertEqual(blocked.read_bytes(), b"old")
            self.assertEqual(list(Path(folder).iterdir()), [blocked])


class Trade(unittest.TestCase):
    def test_every_block_of_figures_says_what_it_is_and_windows_run_from_careful_to_bold(self):
        for key, block in figures().items():
            if key != "source":
                self.assertIn("what", block, key)
        rows = figures()["chip_load_mm"]["rows"]
        self.assertEqual(sorted(rows), rows)
        for _, careful, bold in rows:
            self.assertLess(careful, bold)
        for machine in ("belt", "bench", "industrial"):
            low, high = figures()["depth_per_pass"][machine]
            self.assertLess(low, high)

    def test_a_program_s_text_holds_only_plain_characters(self):
        proof = proof_of(changed(route_named("control_plate"), put("job", "Plättchen – 3½″ (nr. 2); neu")))
        for program in release(proof, {}).programs:
            program.text.encode("ascii")
            self.assertNotIn("M4", program.text.replace("M40", ""))
            buffer = io.StringIO(program.text)
            self.assertTrue(all(len(line) < 140 for line in buffer))


if __name__ == "__main__":
    unittest.main()
