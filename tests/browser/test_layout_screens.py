"""Lay out by topic, bench steps and wood stock, in the real browser."""

from birch_route.demo.fitted import fitted_route
from birch_route.formats.stl import write_stl
from tests.browser.test_screens import Browser
from tests.core.bodies import placed, with_cavity
from tests.core.test_reliefs import body as bare_body
from tests.core.test_reliefs import dome, mesh
from tests.support import changed, put, route_named


class LayoutScreens(Browser):
    def topic(self, route, topic):
        self.page.goto(f"{self.server.url}/routes/{route}/layout?topic={topic}")
        self.page.wait_for_selector("text=Walls and floors")

    def test_a_part_is_placed_moved_by_keyboard_and_its_clash_is_cured_by_one_press(self):
        self.topic(self.new_route(with_cavity()), "parts")
        self.page.locator("aside .v-select").first.click()
        self.page.get_by_role("option", name="Volume pot").click()
        self.page.get_by_label("Its body hangs in").locator("xpath=ancestor::*[contains(@class,'v-select')][1]").click()
        self.page.get_by_role("option", name="Back cavity").click()
        x = self.page.get_by_label("Along, from the neck end")
        x.fill("290")
        x.press("Enter")
        y = self.page.get_by_label("To the treble side")
        y.fill("73")
        y.press("Enter")
        self.page.wait_for_selector("text=into the wall of Back cavity")
        self.page.locator(".one .cure", has_text="Move it").click()
        self.page.wait_for_selector("text=into the wall of Back cavity", state="detached")
        self.page.locator("[aria-label^='Volume pot at']").focus()
        before = self.page.get_by_label("Along, from the neck end").input_value()
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_function("(b) => document.querySelector('[aria-label=\"Along, from the neck end\"], input[id][value]') && [...document.querySelectorAll('input')].some(i => Number(i.value) === Number(b) + 1)", arg=before)
        self.page.wait_for_selector("text=Cut for it: bush hole")
        self.assertEqual(self.page.get_by_role("button", name="Add the operations").count(), 0)  # they came with it

    def test_what_nobody_measured_stands_at_the_margin(self):
        """What follows from a neck that has no reading is drawn nowhere on the piece."""
        dropped = [
            {"do": "drop_reading", "part": r.id, "place": p.place, "index": 0}
            for r in route_named("siskin_body").parts
            if r.id == "neck"
            for p in r.readings
        ]
        self.topic(self.new_route(changed(route_named("siskin_body"), *dropped)), "parts")
        told = self.page.get_by_text("Neck pocket: waits for readings")
        told.wait_for()
        outline = self.page.locator("svg.plan > path").first.bounding_box()
        self.assertGreater(told.bounding_box()["y"], outline["y"] + outline["height"] - 2)
        # the bridge stands by the saddle line, which counts from the neck
        waiting = self.page.locator("svg.plan text").all_text_contents()
        self.assertEqual(waiting, ["Neck pocket: waits for readings", "Bridge recess: waits for readings"])

    def test_a_part_is_dragged_on_the_drawing(self):
        self.topic(self.new_route(changed(with_cavity(), placed("pot", x_mm=275.0, y_mm=95.0, cavity="back_cavity"))), "parts")
        spot = self.page.locator("[aria-label^='Volume pot at'] circle").last.bounding_box()
        x, y = spot["x"] + spot["width"] / 2, spot["y"] + spot["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 20, y, steps=4)
        self.page.mouse.up()
        self.page.wait_for_function("() => [...document.querySelectorAll('input')].some(i => Number(i.value) > 280 && Number(i.value) < 320)")

    def test_an_edge_shows_where_it_stays_sharp(self):
        self.topic(self.new_route(route_named("siskin_body")), "edges")
        self.page.click("text=Say what becomes of an edge")
        self.page.wait_for_selector("p.sharp:has-text(\"joint: Neck pocket\")")
        radius = self.page.get_by_label("Radius")
        radius.fill('1 5/8"')
        radius.press("Enter")
        self.page.wait_for_selector("text=3.7 of the side stays flat")
        self.page.wait_for_selector("text=the bearing of a hand-held bit needs 6.0")

    def test_a_chamber_is_drawn_and_the_piece_is_lighter(self):
        self.topic(self.new_route(route_named("siskin_body")), "weight")
        self.page.wait_for_selector("text=Chambers that cost nothing")
        before = self.page.locator(".big").first.inner_text()
        self.page.locator(".chamber .cure").first.click()
        self.page.wait_for_function("(b) => document.querySelector('.big').innerText !== b", arg=before)
        self.page.wait_for_selector("text=Chamber 1")

    def test_a_bevel_is_made_wider_at_its_inner_rail_and_steeper_by_its_angle(self):
        self.topic(self.new_route(fitted_route(True)), "edges")
        grip = self.page.get_by_role("button", name="Belly bevel, 45 percent along: 46.0 wide")
        grip.focus()
        self.page.keyboard.press("Shift+ArrowRight")
        self.page.get_by_role("button", name="Belly bevel, 45 percent along: 51.0 wide").wait_for()
        spot = self.page.get_by_role("button", name="Arm bevel, 55 percent along: 18.0 wide").locator("path").bounding_box()
        x, y = spot["x"] + spot["width"] / 2, spot["y"] + spot["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x - 14, y - 14, steps=4)
        self.page.mouse.up()
        self.page.get_by_role("button", name="Arm bevel, 55 percent along: 18.0 wide").wait_for(state="detached")
        angle = self.page.get_by_label("Angle at 45 percent, degrees")
        angle.fill("20")
        angle.press("Enter")
        self.page.wait_for_function("() => [...document.querySelectorAll('input')].some(i => Math.abs(Number(i.value) - 51 * Math.tan(20 * Math.PI / 180)) < 0.06)")

    def test_a_face_is_formed_by_a_file(self):
        self.topic(self.new_route(bare_body()), "edges")
        self.page.click("text=A face from an STL file")
        with self.page.expect_file_chooser() as chooser:
            self.page.click("text=Choose the file")
        chooser.value.set_files({"name": "dome.stl", "mimeType": "model/stl", "buffer": write_stl(mesh(dome, 4.0))})
        self.page.wait_for_selector("text=From dome.stl. At most")
        self.page.wait_for_selector("[aria-label^='Section along the middle']")
        self.assertEqual(self.page.locator("text=Add the operations").count(), 0)

    def test_a_pocket_gets_another_bit_for_its_rim_a_ledge_and_a_floor_that_follows(self):
        route = self.new_route(changed(fitted_route(True), {"do": "put_item", "list": "features", "item": {"kind": "pocket", "id": "relief", "name": "Relief pocket", "depth_mm": 30, "shape": {
            "kind": "rectangle", "x_mm": 205, "y_mm": -100, "length_mm": 60, "width_mm": 70, "corner_radius_mm": 8}}}, {"do": "propose_for", "feature": "relief"}))
        self.page.goto(f"{self.server.url}/routes/{route}/route")
        self.page.get_by_role("button", name="Relief pocket").first.click()
        self.page.get_by_role("radio", name="3 mm flat for the rim").click()
        self.page.wait_for_selector("button:has-text('Relief pocket, rim')")
        self.page.get_by_role("radio", name="all the way").click()
        self.page.wait_for_selector("button:has-text('Relief pocket, rim')", state="detached")
        self.page.click("text=More of this operation")
        self.page.click("text=Let the floor follow the other face")
        self.page.wait_for_selector("text=Wood kept under it")
        self.page.click("text=Draw a ledge round it")
        wide = self.page.get_by_label("Ledge wide")
        wide.fill('3/8"')
        wide.press("Enter")
        self.page.get_by_role("button", name="Draw the ledge").click()
        self.page.wait_for_selector("button:has-text('Ledge round Relief pocket')")

    def test_fits_corners_and_variants_are_told(self):
        route = self.new_route(fitted_route())
        self.topic(route, "saddle")
        self.page.wait_for_selector("text=Its saddle cannot go that high")
        self.topic(route, "fits")
        film = self.page.get_by_label("Finish on one wall")
        film.fill("0.12")
        film.press("Enter")
        self.page.wait_for_selector("text=0.08 + 0.12")

    def test_topics_turn_with_the_arrows(self):
        self.topic(self.new_route(route_named("control_plate")), "saddle")
        self.page.locator("#topic-saddle").focus()
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("text=Parts where they stand")
        for name in ("Saddle", "Draw", "Wires"):
            self.page.keyboard.press("ArrowLeft")
            self.assertEqual(self.page.locator("[role=tab][aria-selected=true]").inner_text(), name)

    def test_programs_wait_for_the_bench_and_come_when_it_is_ticked(self):
        route = self.new_route(changed(route_named("control_plate"), {"do": "put_item", "list": "bench_steps", "item": {"id": "warm", "name": "Warm the sheet", "minutes": 1, "gate": True}}))
        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.wait_for_selector("text=One bench step is not done")
        self.page.get_by_role("checkbox", name="Warm the sheet").focus()
        self.page.keyboard.press("Space")
        self.page.wait_for_selector("text=One bench step is not done", state="detached")
        self.page.click("text=Write the programs")
        self.page.wait_for_selector("text=Read back and simulated")

    def test_the_blank_is_planned_layered_and_takes_a_board_from_the_stock(self):
        route = self.new_route(route_named("siskin_body"))
        self.page.goto(f"{self.server.url}/routes/{route}/blank")
        self.page.click("text=Plan it from the boards")
        self.page.wait_for_selector("text=Tighten in the order")
        self.page.click("text=It has a cap")
        self.page.wait_for_selector("text=Together 45.8")
        self.page.click("text=Put a board on record")
        for label, typed in (("Name or place", "Test plank"), ("Long", "900"), ("Wide", "190"), ("Thick", "50"), ("Weighs", "4.1")):
            box = self.page.locator(".add").get_by_label(label, exact=True)
            box.fill(typed)
            box.press("Tab")
        self.page.click("text=Keep the board")
        row = self.page.locator("tr", has_text="Test plank").first
        row.get_by_text("480").wait_for()
        row.locator(".cure").click()
        self.page.locator("tr", has_text="Test plank").first.get_by_text("in a job").wait_for()
        self.page.get_by_label("Board 3 wide").wait_for()

    def test_what_was_measured_once_is_said_where_it_is_used(self):
        route = self.new_route(changed(route_named("siskin_body"), {"do": "drop_reading", "part": "neck", "place": "fret_height", "index": 0}))
        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.wait_for_selector("text=Measured only once: Tenor neck, fret height")
        self.page.goto(f"{self.server.url}/routes/{route}/layout")
        self.page.locator("tr", has_text="Neck pocket").first.get_by_role("img", name="Measured only once").wait_for()

    def test_layers_of_a_drawing_are_typed_by_their_names(self):
        body = b'''<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><g id="front"><rect x="20" y="20" width="240" height="150" rx="20"/>
            <rect x="60" y="60" width="60" height="40" rx="5"/></g><g id="back"><rect x="160" y="60" width="60" height="40" rx="5"/></g><g id="guide"><rect x="2" y="2" width="290" height="190"/></g></svg>'''
        self.page.goto(f"{self.server.url}/new")
        self.page.set_input_files("input[type=file]", {"name": "board.svg", "mimeType": "image/svg+xml", "buffer": body})
        self.page.click("text=/^mm:/")
        self.page.wait_for_selector(".loops tr")
        roles = lambda: self.page.locator(".loops .v-select__selection-text").all_inner_texts()  # noqa: E731
        self.assertIn("Pocket, back", roles())
        self.assertIn("Reference only", roles())
        self.page.click("text=Make the job")
        self.page.wait_for_selector("text=on the back, which this route does not turn up")

    def test_a_back_feature_is_cured_by_turning_the_piece_over_and_both_faces_are_seen(self):
        route = self.new_route(fitted_route())
        self.page.goto(f"{self.server.url}/routes/{route}/route")
        self.page.locator(".finding .cure", has_text="Turn it over").click()
        self.page.wait_for_selector("text=Nothing to settle")
        self.page.locator("ol button.row", has_text="Outline").click()
        self.page.wait_for_selector("text=centre line, back up")
        turned = self.page.locator("canvas.wood").screenshot()
        self.page.locator("ol button.row", has_text="Neck screw holes").click()
        self.page.get_by_text("centre line, back up").wait_for(state="detached")
        self.assertNotEqual(turned, self.page.locator("canvas.wood").screenshot())
        self.page.goto(f"{self.server.url}/routes/{route}/hold")
        self.page.get_by_role("tab", name="Back face up").click()
        self.page.get_by_role("tab", name="Found again").click()
        self.page.wait_for_selector("text=found again by index holes")
        screw = self.page.locator("[aria-label^='Screw s1']")
        before = screw.bounding_box()
        screw.focus()
        self.page.keyboard.press("ArrowUp")  # up on the screen, whichever face is up
        self.page.wait_for_selector("[aria-label^='Screw s1 at −21.0, −172.0']")
        self.assertLess(self.page.locator("[aria-label^='Screw s1']").bounding_box()["y"], before["y"])
        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.wait_for_selector("text=Back face up: load and zero")
        self.page.get_by_label("Reason for running it without").fill("glued last week")
        self.page.click("text=Write the programs")
        self.page.wait_for_selector("text=Read back and simulated")
        self.assertEqual(self.page.locator(".files li").count(), 2)

    def test_no_topic_has_a_serious_accessibility_fault(self):
        route = self.new_route(changed(fitted_route(True), put("piece.placements.pot_1.y_mm", -99.0)))
        for theme in ("light", "dark"):
            for view in ("hold", "route", "layout?topic=parts", "layout?topic=edges", "layout?topic=fits", "layout?topic=weight", "layout?topic=wires", "run"):
                self.page.goto(f"{self.server.url}/routes/{route}/{view}")
                self.page.evaluate(f"localStorage.setItem('birch_theme', '{theme}')")
                self.page.reload()
                self.page.wait_for_timeout(1500)
                with self.subTest(view=view, theme=theme):
                    self.assertEqual(self.axe(), [])

    def test_a_carve_and_a_binding_channel_are_drawn_by_their_numbers(self):
        route = self.new_route(route_named("siskin_body"))
        self.topic(route, "edges")
        self.page.get_by_role("button", name="A carved top").click()
        self.page.get_by_role("img", name="4.0 down at 0, 5.0 down at 7").wait_for()
        drops = self.page.get_by_label("Drops").nth(1)
        drops.fill('1/4"')
        drops.press("Enter")
        self.page.get_by_role("img", name="6.3 down at 7").or_(self.page.get_by_role("img", name="6.4 down at 7")).wait_for()
        self.page.get_by_role("button", name="A binding channel").click()
        self.page.get_by_role("img", name="A ledge 2.0 wide and 6.0 deep").wait_for()
        document = self.server.call("GET", f"/api/routes/{route}")[1]["document"]
        self.assertTrue(any("channel" in o["features"] for o in document["operations"]))
        self.page.get_by_role("button", name="A purfling channel").click()
        self.page.get_by_role("img", name="A ledge 3.5 wide and 1.6 deep").wait_for()
