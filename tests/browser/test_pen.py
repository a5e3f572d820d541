"""The builder's pen by hand: shapes drawn, placed, dragged, taken out, on a piece that has an outline and no more."""

from playwright.sync_api import expect

from tests.browser.test_own_shop import Shop
from tests.support import route_named


class Pen(Shop):
    def setUp(self):
        super().setUp()
        self.page.set_default_timeout(60_000)
        bare = route_named("siskin_body").model_dump(mode="json")
        self.machine, self.bits = bare["machine"], bare["bits"]

    def bare_job(self, parts=False):
        """A body of one of our outlines with nothing in it; its Lay out screen is open after."""
        body = {
            "job": "Linnet", "kind": "body", "wood": "alder", "thickness_mm": 44, "style": "siskin",
            "style_length_mm": 410, "style_width_mm": 320, "waist": 0.06, "horn": 0.0, "with_parts": parts,
            "machine": self.machine, "bits": self.bits,
        }
        status, state = self.server.call("POST", "/api/jobs", body)
        self.assertEqual(status, 200, state)
        self.number = state["route"]
        self.go(f"/routes/{self.number}/layout?topic=draw")
        self.page.get_by_role("button", name="Both faces").wait_for()
        return self.number

    def document(self):
        return self.server.call("GET", f"/api/routes/{self.number}")[1]["document"]

    def feature(self, name):
        return next((f for f in self.document()["piece"]["features"] if f["name"] == name), None)

    def type(self, label, text, exact=True):
        box = self.page.get_by_label(label, exact=exact)
        box.fill(text)
        box.press("Enter")

    def word(self, words):
        self.page.locator(".words").get_by_role("button", name=words, exact=True).click()

    def draw(self, words, place, **sizes):
        self.word(words)
        along, across = place
        self.type("Along, from the neck end", along)
        self.type("Treble of the centre line", across)
        for label, text in sizes.items():
            self.type(label.replace("_", " "), text)
        with self.page.expect_response("**/edits"):
            self.page.get_by_role("button", name="Draw it").click()
        self.page.get_by_label("Name", exact=True).wait_for()

    def edited(self, act):
        with self.page.expect_response("**/edits") as answer:
            act()
        self.assertEqual(answer.value.status, 200)
        self.page.wait_for_load_state("networkidle")

    def test_every_kind_is_drawn_from_numbers_and_cut(self):
        self.bare_job()
        self.draw("pocket", ("290", "70"), Long="44", Wide="30", Corner_radius="7", Deep="20")
        self.draw("round hole", ("300", "0"), Across="10", Deep="12")
        self.draw("slot", ("200", "-60"), Long="50", Wide="9", Deep="8")
        self.draw("oval", ("120", "60"), Long="40", Wide="26", Deep="8")
        self.word("row of holes")
        self.page.get_by_label("Holes in a row").fill("3")
        self.type("Along, from the neck end", "220")
        self.type("Treble of the centre line", "60")
        self.type("Across", "8")
        self.type("Apart, middle to middle", "20")
        self.page.get_by_label("Goes through").check()
        with self.page.expect_response("**/edits"):
            self.page.get_by_role("button", name="Draw it").click()
        self.page.get_by_label("Rows", exact=True).wait_for()
        cut = {f for o in self.document()["operations"] for f in o["features"]}
        self.assertLessEqual({"pocket", "hole", "slot", "oval", "row"}, cut)
        self.assertEqual(self.axe(), [])

    def test_sizes_in_inches_and_a_place_pressed_on_the_drawing(self):
        self.bare_job()
        self.page.keyboard.press("u")
        self.word("pocket")
        self.page.get_by_role("button", name="Draw it").click()
        self.page.get_by_text("Say where its middle goes").wait_for()
        box = self.page.locator("svg.plan").bounding_box()
        self.page.mouse.click(box["x"] + box["width"] * 0.7, box["y"] + box["height"] * 0.35)
        for label, text in (("Long", '1 3/4"'), ("Wide", "1.25"), ("Corner radius", "1/4"), ("Deep", "5/8")):
            self.type(label, text)
        self.edited(lambda: self.page.get_by_role("button", name="Draw it").click())
        made = self.feature("Pocket")
        self.assertAlmostEqual(made["shape"]["length_mm"], 44.45)
        self.assertAlmostEqual(made["shape"]["width_mm"], 31.75)
        self.assertAlmostEqual(made["depth_mm"], 15.875)
        self.assertGreater(made["shape"]["y_mm"], 0)

    def test_a_free_shape_goes_through_corners_pressed_and_typed(self):
        self.bare_job()
        self.word("free shape")
        box = self.page.locator("svg.plan").bounding_box()
        for x, y in ((0.62, 0.3), (0.74, 0.3), (0.74, 0.42)):
            self.page.mouse.click(box["x"] + box["width"] * x, box["y"] + box["height"] * y)
        self.page.get_by_role("button", name="One corner more").click()
        for corner, (along, across) in enumerate((("270", "80"), ("320", "80"), ("320", "45"), ("270", "45")), 1):
            self.type(f"Corner {corner}, along", along)
            self.type(f"Corner {corner}, across", across)
        self.type("Corner radius", "30")
        self.type("Deep", "12")
        self.page.get_by_role("button", name="Draw it").click()
        self.page.get_by_text("too short for corners").wait_for()
        self.type("Corner radius", "6")
        self.edited(lambda: self.page.get_by_role("button", name="Draw it").click())
        made = self.feature("Free shape")
        self.assertEqual((made["shape"]["kind"], len(made["shape"]["vertices"])), ("chain", 8))
        self.assertTrue(any("free" in o["features"] for o in self.document()["operations"]))
        self.assertEqual(self.axe(), [])

    def test_it_is_placed_by_numbers_both_ways_dragged_moved_by_keys_and_undone(self):
        self.bare_job()
        self.draw("pocket", ("290", "70"), Long="44", Wide="30", Corner_radius="7", Deep="20")
        self.edited(lambda: self.type("treble of the centre line", "60"))
        self.assertAlmostEqual(self.feature("Pocket")["shape"]["y_mm"], 60)
        rim = self.page.get_by_label("to the rim on the treble side")
        self.edited(lambda: self.type("to the rim on the treble side", "40"))
        expect(rim).to_have_value("40.00")
        y = self.feature("Pocket")["shape"]["y_mm"]
        shape = self.page.get_by_role("button", name="Pocket at", exact=False)
        shape.focus()
        self.edited(lambda: self.page.keyboard.press("ArrowDown"))
        self.edited(lambda: self.page.keyboard.press("Shift+ArrowLeft"))
        self.edited(lambda: self.page.keyboard.press("Alt+ArrowRight"))
        now = self.feature("Pocket")["shape"]
        self.assertAlmostEqual(now["y_mm"], y - 1)
        self.assertAlmostEqual(now["x_mm"], 290 - 10 + 0.1)
        spot = shape.locator("path").bounding_box()
        x0, y0 = spot["x"] + spot["width"] / 2, spot["y"] + spot["height"] / 2
        self.page.mouse.move(x0, y0)
        self.page.mouse.down()
        self.page.mouse.move(x0 - 40, y0 + 20, steps=5)
        self.assertGreater(self.page.locator("svg.plan rect[stroke='#1d1a17']").count(), 0)  # told while it is held
        self.edited(self.page.mouse.up)
        self.assertLess(self.feature("Pocket")["shape"]["x_mm"], 275)
        self.edited_by_undo()
        self.assertAlmostEqual(self.feature("Pocket")["shape"]["x_mm"], now["x_mm"])

    def test_what_is_being_typed_is_not_overwritten_by_an_answer_that_comes_meanwhile(self):
        self.bare_job()
        self.draw("pocket", ("290", "70"), Long="44", Wide="30", Corner_radius="7", Deep="20")
        held = []
        self.page.route("**/edits", lambda route: held.append(route), times=1)
        self.type("treble of the centre line", "60")
        rim = self.page.get_by_label("to the rim on the treble side")
        before = rim.input_value()
        rim.fill("40")
        with self.page.expect_response("**/edits"):
            held[0].fallback()
        expect(self.page.get_by_role("button", name="Undo")).to_be_enabled()
        expect(rim).to_have_value("40")
        rim.press("Escape")  # what stands there now: ten further from the rim than before
        expect(rim).not_to_have_value(before)
        self.edited(lambda: self.type("to the rim on the treble side", "40"))
        expect(rim).to_have_value("40.00")

    def edited_by_undo(self):
        with self.page.expect_response("**/undo"):
            self.page.get_by_role("button", name="Undo").click()

    def test_counted_from_another_shape(self):
        self.bare_job()
        self.draw("round hole", ("200", "50"), Across="10", Deep="12")
        self.draw("pocket", ("290", "70"), Long="44", Wide="30", Corner_radius="7", Deep="20")
        self.page.get_by_label("Counted along from").select_option(label="the middle of Hole")
        self.edited(lambda: self.type("behind the middle of Hole", "70"))
        self.assertAlmostEqual(self.feature("Pocket")["shape"]["x_mm"], 270)
        self.edited(lambda: self.type("behind the middle of Hole", "-30"))  # a minus sign: the other side
        self.assertAlmostEqual(self.feature("Pocket")["shape"]["x_mm"], 170)
        self.page.get_by_label("before the middle of Hole").wait_for()

    def test_sizes_depth_copies_and_the_lock(self):
        self.bare_job()
        self.draw("slot", ("200", "60"), Long="50", Wide="9", Deep="8")
        self.edited(lambda: self.type("Wide", "12"))
        self.assertEqual(self.feature("Slot")["shape"]["corner_radius_mm"], 6)
        self.edited(lambda: self.type("Wood left under it", "30"))
        self.assertAlmostEqual(self.feature("Slot")["depth_mm"], 14)
        self.edited(lambda: self.page.get_by_role("button", name="Twin across the centre line").click())
        self.assertAlmostEqual(self.feature("Slot 2")["shape"]["y_mm"], -60)
        self.edited(lambda: self.page.get_by_role("button", name="Lock", exact=True).click())
        self.page.get_by_text("It stays: it is locked").wait_for()
        self.edited(lambda: self.page.get_by_role("button", name="Unlock").click())
        self.edited(lambda: self.page.get_by_role("button", name="Take it out").click())
        self.assertIsNone(self.feature("Slot 2"))
        self.assertFalse(any("slot_2" in o["features"] for o in self.document()["operations"]))

    def test_what_is_drawn_on_the_back_gets_the_piece_turned_over(self):
        self.bare_job()
        self.word("pocket")
        self.page.locator(".form .v-select", has_text="Face").click()
        self.page.get_by_role("option", name="Back").click()
        for label, text in (("Along, from the neck end", "290"), ("Treble of the centre line", "60"), ("Long", "60"),
                            ("Wide", "40"), ("Corner radius", "6"), ("Deep", "30")):
            self.type(label, text)
        self.edited(lambda: self.page.get_by_role("button", name="Draw it").click())
        self.edited(lambda: self.page.get_by_role("button", name="Turn the piece over for it").click())
        document = self.document()
        self.assertEqual([s["face"] for s in document["setups"]], ["front", "back"])
        self.assertTrue(any("pocket" in o["features"] for o in document["operations"]))

    def test_a_wall_that_is_too_thin_is_amber_at_once(self):
        self.bare_job()
        self.draw("pocket", ("290", "70"), Long="44", Wide="30", Corner_radius="7", Deep="20")
        self.page.get_by_role("row", name="The outside").wait_for()
        self.assertEqual(self.page.locator(".near .short").count(), 0)
        self.edited(lambda: self.type("to the rim on the treble side", "22"))  # half its width and less than 8
        self.page.locator(".near .short", has_text="The outside").wait_for()

    def test_a_second_pickup_is_placed_by_the_scale(self):
        self.bare_job(parts=True)
        for part, readings in (
            ("neck", (("heel_length", "62"), ("heel_to_12th", "133.5"))),
            ("pickup", (("ring_length", "38"), ("ring_width", "70"), ("depth", "18"), ("pole_line", "19"))),
        ):
            for place, text in readings:
                edit = {"do": "keep_reading", "part": part, "place": place, "typed": text}
                at = f"/api/routes/{self.number}"
                revision = self.server.call("GET", at)[1]["revision"]
                self.server.call("POST", f"{at}/edits", {"revision": revision, "edits": [edit]})
        self.page.reload()
        self.page.get_by_role("button", name="Both faces").wait_for()
        self.word("pickup")
        self.page.locator(".form .v-select", has_text="Pickup").click()
        self.page.get_by_role("option", name="Pickup").click()
        self.type("Along, from the neck end", "110")
        self.type("Treble of the centre line", "0")
        self.edited(lambda: self.page.get_by_role("button", name="Draw it").click())
        self.assertEqual(self.feature("Pickup pocket 2")["shape"]["kind"], "part_rectangle")
        self.assertEqual(self.feature("Pickup pocket 2")["shape"]["x_mm"], 110)

    def test_controls_get_their_cavity_and_its_cover(self):
        self.bare_job()
        sizes = {"bush_diameter": "9.4", "bush_length": "9", "body_diameter": "24", "body_height": "20"}
        kept = [{"do": "keep_reading", "part": "pot", "place": p, "typed": t} for p, t in sizes.items()]
        at = f"/api/routes/{self.number}"
        edits = [{"do": "add_part", "kind": "pot", "name": "Volume"}, *kept]
        revision = self.server.call("GET", at)[1]["revision"]
        self.server.call("POST", f"{at}/edits", {"revision": revision, "edits": edits})
        self.go(f"/routes/{self.number}/layout?topic=parts")
        for x, y in (("300", "70"), ("330", "40")):
            self.page.locator("aside .v-select").first.click()
            with self.page.expect_response("**/edits"):
                self.page.get_by_role("option", name="Volume").click()
            self.page.get_by_label("Along, from the neck end").wait_for()
            self.edited(lambda x=x: self.type("Along, from the neck end", x))
            self.edited(lambda y=y: self.type("To the treble side", y))
        cure = self.page.get_by_role("button", name="Draw one cavity for the 2 of them").first
        self.edited(cure.click)
        self.page.get_by_role("tab", name="Draw").click()
        self.page.get_by_role("navigation", name="Shapes").get_by_role("button", name="Control cavity").click()
        self.page.get_by_role("button", name="A cover over it").click()
        self.type("Land for its screws", "9")
        self.type("Cover thick", "2")
        self.edited(lambda: self.page.get_by_role("button", name="Draw its ledge and holes").click())
        names = [f["name"] for f in self.document()["piece"]["features"]]
        self.assertIn("Ledge round Control cavity", names)
        self.assertIn("Control cavity, cover screws", names)
        self.assertEqual([s["face"] for s in self.document()["setups"]], ["front", "back"])
        self.assertEqual(self.axe(), [])

    def test_contours_begin_where_they_usually_lie_and_say_what_is_left_of_the_edge(self):
        self.bare_job()
        self.page.get_by_role("tab", name="Edges").click()
        for words, of in (("An arm bevel", "Arm bevel"), ("A heel bevel", "Heel bevel"),
                          ("A binding channel", "Binding channel")):
            self.edited(lambda words=words: self.page.get_by_role("button", name=words).click())
            self.page.locator(".contour", has_text=of).wait_for()
        arm = self.page.locator(".contour", has_text="Arm bevel")
        arm.get_by_text("32.0 of the edge left").wait_for()  # 44 less the drop of 12
        self.edited(lambda: arm.get_by_role("button", name="One station more").click())
        self.edited(lambda: arm.get_by_role("button", name="Take the station at 25 percent away").click())
        self.assertEqual([s["at"] for s in self.feature("Arm bevel")["stations"]], [0, 0.5, 1])
        self.assertEqual(self.feature("Heel bevel")["face"], "back")
        self.page.get_by_role("button", name="A purfling channel").wait_for()
        self.assertEqual(self.axe(), [])

    def test_a_wire_hole_is_kept_as_work_for_the_bench(self):
        self.bare_job()
        self.draw("pocket", ("200", "40"), Long="60", Wide="30", Corner_radius="6", Deep="30")
        self.draw("pocket", ("290", "40"), Long="60", Wide="30", Corner_radius="6", Deep="34")
        self.page.get_by_role("tab", name="Wires").click()
        self.page.get_by_text("below the face.").first.wait_for()
        self.edited(lambda: self.page.get_by_role("button", name="Keep it as work for the bench").click())
        kept = next(s for s in self.document()["bench_steps"] if s["id"].startswith("wire_"))
        self.assertEqual((kept["kind"], kept["after"]), ("drill", "pocket_pocket_2"))
        self.assertIn("Wedge for its guide", kept["note"])
        self.page.get_by_text("Kept: it stands among the bench steps").wait_for()
