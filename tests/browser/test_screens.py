"""The real interface in headless Chromium, over the real server, database and worker."""

import shutil
import unittest

from playwright.sync_api import expect, sync_playwright

from birch_route.formats.route_file import route_to_text
from tests.support import ROOT, changed, live_server, put, route_named

ARGUMENTS = ["--disable-quic", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]
expect.set_options(timeout=30_000)  # on two busy cores five seconds are too few


class Browser(unittest.TestCase):
    """A page of the real client, signed in; every test ends without an error on the page or a request to anywhere else."""

    @classmethod
    def setUpClass(cls):
        cls.server = live_server()
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=shutil.which("chromium") or "/usr/bin/chromium", args=ARGUMENTS)
        cls.addClassCleanup(cls.playwright.stop)
        cls.addClassCleanup(cls.browser.close)

    def setUp(self):
        name, value = self.server.cookie.split("=", 1)
        self.context = self.browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        self.context.add_cookies([{"name": name, "value": value, "url": self.server.url}])
        self.page = self.context.new_page()
        self.page.set_default_timeout(60_000)
        self.asked, self.errors = [], []
        self.page.on("request", lambda r: self.asked.append(r.url))
        self.page.on("pageerror", lambda e: self.errors.append(str(e)))
        self.addCleanup(self.context.close)

    def tearDown(self):
        self.assertEqual(self.errors, [])
        self.assertEqual([u for u in self.asked if not u.startswith((self.server.url, "blob:", "data:"))], [])

    def new_route(self, route):
        made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]
        self.server.proof(made["hash"])
        return made["route"]

    def choose(self, label, option):
        self.page.get_by_label(label).first.locator("xpath=ancestor::*[contains(@class,'v-select')][1]").click()
        self.page.get_by_role("option", name=option).click()

    def axe(self):
        """Return what axe calls serious or critical on the page."""
        session = self.context.new_cdp_session(self.page)
        session.send("Runtime.evaluate", {"expression": (ROOT / "client" / "node_modules" / "axe-core" / "axe.min.js").read_text()})
        answer = session.send("Runtime.evaluate", {"awaitPromise": True, "returnByValue": True, "expression": """axe.run(document, {runOnly: ['wcag2a', 'wcag2aa']}).then(r =>
            r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 140) + (n.any[0] ? ' ' + n.any[0].message : '')).join(' | ')))"""})
        return answer["result"]["value"]


class Screens(Browser):
    def open(self, route, view="route"):
        self.page.goto(f"{self.server.url}/routes/{route}/{view}")
        self.page.wait_for_selector("text=/Computed, not proven|Parts on hand|How it is held|Load and zero/")

    def settle(self):
        """Wait until what is shown is the proof of the newest revision."""
        self.page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")

    def test_a_cure_is_one_press_and_the_proof_changes(self):
        route = self.new_route(changed(route_named("control_plate"), put("operations.profile_outline.settings.feed_mm_min", 900)))
        self.open(route)
        finding = self.page.locator(".finding", has_text="Chip load")
        finding.locator(".cure").click()
        finding.wait_for(state="detached")
        self.page.wait_for_selector("text=Nothing to settle")
        self.page.keyboard.press("Control+z")
        self.page.locator(".finding", has_text="Chip load").wait_for()

    def test_the_keyboard_walks_the_steps_and_moves_the_section(self):
        self.open(self.new_route(route_named("control_plate")))
        self.settle()
        current = lambda: self.page.locator("[aria-current=step] .name").inner_text()  # noqa: E731
        self.assertIn("Outline", current())
        before = self.page.locator("canvas.wood").screenshot()
        self.page.keyboard.press("ArrowUp")
        self.page.keyboard.press("ArrowUp")
        self.assertIn("Screw holes", current())
        self.assertNotEqual(before, self.page.locator("canvas.wood").screenshot())
        self.page.keyboard.press("Shift+ArrowUp")
        self.page.wait_for_selector("text=2 treble side")

    def test_the_section_turns_to_any_angle_and_shows_the_wood_there(self):
        self.open(self.new_route(route_named("siskin_body")))
        self.settle()
        drawn = lambda: self.page.locator(".section svg").bounding_box()["width"]  # noqa: E731
        along = drawn()
        self.page.keyboard.press("x")
        self.page.wait_for_selector("text=across at 0")
        self.assertLess(drawn(), along)
        box = self.page.get_by_label("Section turned from the length, degrees")
        box.fill("-30")
        box.press("Enter")
        self.page.wait_for_selector("text=through 0, 0, treble side left")
        plan = self.page.locator(".plan svg").first.bounding_box()
        end = self.page.locator(".turns").nth(1).bounding_box()
        self.page.mouse.move(end["x"] + end["width"] / 2, end["y"] + end["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(plan["x"] + plan["width"] * 0.6, plan["y"] + plan["height"] * 0.2, steps=4)
        self.page.mouse.up()
        self.assertGreater(float(box.input_value().replace("−", "-")), 10)

    def test_the_flat_canvas_draws_the_wood_where_there_is_no_webgl(self):
        route = self.new_route(route_named("control_plate"))
        self.page.goto(f"{self.server.url}/routes/{route}/route?flat")
        self.page.wait_for_selector("text=Nothing to settle")
        shades = self.page.evaluate("""() => { const c = document.querySelector('canvas.wood'); const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
            const s = new Set(); for (let i = 0; i < d.length; i += 400) s.add(d[i] * 65536 + d[i+1] * 256 + d[i+2]); return s.size }""")
        self.assertGreater(shades, 10)

    def test_an_overridden_number_is_kept_and_shown_as_set_by_hand(self):
        self.open(self.new_route(route_named("control_plate")))
        self.settle()
        field = self.page.get_by_label("Feed rate")
        field.fill("2400")
        field.press("Enter")
        self.page.wait_for_selector("text=set by hand")
        self.settle()

    def test_readings_typed_on_the_keyboard_move_the_pocket(self):
        route = changed(route_named("siskin_body"), *[{"do": "drop_reading", "part": "neck", "place": "heel_thickness", "index": 0}] * 3)
        self.open(self.new_route(route), "measure")
        self.page.wait_for_selector("text=1 readings to take")
        self.page.wait_for_function("() => document.activeElement?.id === 'reading'")
        for typed in ("25.40", '1"', "25.42"):
            self.page.keyboard.type(typed)
            self.page.keyboard.press("Enter")
            self.page.wait_for_function("() => document.querySelector('#reading').value === ''")
        self.page.wait_for_selector("text=all measured")
        self.page.locator("tfoot", has_text="Pocket deep16.19").wait_for()
        self.page.locator("[role=tab]", has_text="Tenor neck").click()
        self.page.keyboard.press("u")

    READINGS = {
        "Width at the end": "46.1",
        "Width at the mark": "44.4",
        "Mark, from the end": "60",
        "Heel length": "62",
        "Thick, with board": "25.4",
        "End to 12th fret": "108.5",
        "Fret height": "1.1",
        "Corner radius": "4",
        "Plate deep": "35.2",
        "Plate wide": "73.4",
        "Plate front to saddle line": "20",
        "Posts apart": "90",
        "Post bush outside": "11",
        "Saddle, low": "13.2",
        "Saddle, high": "17.5",
        "Plate corner radius": "4",
        "Ring deep": "28",
        "Ring wide": "66",
        "Deep, to the legs": "17.5",
        "Ring corner radius": "4",
        "Plate thick": "2.5",
    }

    def test_a_stranger_with_a_caliper_gets_to_a_program_by_keyboard(self):
        """A new job like another starts unmeasured and stopped. Two readings a place, typed; then nothing is left to settle and the program is there."""
        made = self.new_route(route_named("siskin_body"))
        copy = self.server.call("POST", f"/api/routes/{made}/copy", {})[1]
        self.open(copy["route"], "measure")
        self.page.wait_for_function("() => document.activeElement?.id === 'reading'")
        presses = 0
        for _ in range(140):
            label = self.page.locator("label[for=reading]").inner_text().split(" reading")[0].strip()
            taken = int(self.page.locator("label[for=reading] .least").inner_text().rsplit(" ", 1)[1]) - 1
            part = self.page.locator("[role=tab][aria-selected=true]").inner_text()
            if taken < 2 and label in self.READINGS and not (label == "Plate wide" and part.startswith("Control")):
                typed = self.READINGS[label]
                self.page.keyboard.type(typed)
                presses += len(typed)
            before = self.page.locator("label[for=reading]").inner_text()
            self.page.keyboard.press("Enter")
            presses += 1
            if taken >= 2 and label == "Plate thick":
                break
            self.page.wait_for_function("(b) => document.querySelector('label[for=reading]').innerText !== b", arg=before)
        self.page.wait_for_selector("text=all measured")
        self.assertLess(presses, 250)
        self.page.click("text=Run")
        self.page.wait_for_selector("text=Write the programs")
        self.settle()
        self.page.click("text=Write the programs")
        self.page.wait_for_selector("text=Read back and simulated")

    def test_a_drawing_becomes_a_job(self):
        body = b'''<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><rect x="20" y="20" width="240" height="150" rx="20"/>
            <rect x="60" y="60" width="60" height="40" rx="5"/><circle cx="180" cy="100" r="7"/><path d="M200 40 L230 60 L230 40 L200 60 Z"/></svg>'''
        self.page.goto(f"{self.server.url}/new")
        self.page.set_input_files("input[type=file]", {"name": "board.svg", "mimeType": "image/svg+xml", "buffer": body})
        self.page.click("text=mm: 240 × 150")
        self.page.wait_for_selector("text=crosses itself, ringed")
        self.assertEqual(self.page.locator(".loops tr").count(), 4)
        self.page.get_by_label("Deep").first.fill("9")
        self.page.get_by_label("Deep").first.press("Enter")
        self.page.click("text=Make the job")
        self.page.wait_for_selector("text=Nothing to settle")
        self.assertIn("board", self.page.locator("h1").inner_text())

    def test_an_outline_of_our_own_follows_its_numbers_and_becomes_a_body(self):
        self.page.goto(f"{self.server.url}/new")
        self.page.get_by_role("radio", name="Plover").click()
        before = self.page.locator(".large polygon").get_attribute("points")
        self.page.get_by_label("Long").fill('15 3/4"')
        self.page.get_by_label("Long").press("Enter")
        self.page.wait_for_function("(b) => document.querySelector('.large polygon').getAttribute('points') !== b", arg=before)
        self.assertRegex(self.page.get_by_label("Long").input_value(), r"^400\.[01]$")
        self.page.get_by_label("Name of the job").fill("A plover")
        self.page.click("text=Make the job")
        self.page.wait_for_selector("text=readings to take")

    def test_the_layout_is_told_twice_and_the_height_stack_answers_any_question(self):
        self.page.goto(f"{self.server.url}/routes/{self.new_route(route_named('siskin_body'))}/layout")
        self.page.wait_for_selector("text=The two differ by 0.00")
        saddle = self.page.get_by_label("Saddle above its seat")
        saddle.fill("17")
        saddle.press("Enter")
        self.page.locator(".found", has_text="14.69").wait_for()
        self.page.locator("aside .v-select").first.click()
        self.page.get_by_role("option", name="Neck angle or wedge").click()
        deep = self.page.get_by_label("Pocket deep")
        deep.fill("16.19")
        deep.press("Enter")
        self.page.locator(".found", has_text="0.46°").wait_for()
        self.page.wait_for_selector("text=near the end of their travel")

    def test_the_blank_tells_what_boards_knots_and_weight_mean(self):
        self.page.goto(f"{self.server.url}/routes/{self.new_route(route_named('siskin_body'))}/blank")
        self.page.wait_for_selector("text=The boards give 353.0")
        wide = self.page.get_by_label("Board 1 wide")
        wide.fill("170")
        wide.press("Enter")
        self.page.wait_for_selector("text=is missing")
        self.page.locator(".one .cure").first.click()
        self.page.wait_for_selector("text=is missing", state="detached")
        x = self.page.get_by_label("x", exact=True)
        x.fill("77")
        x.press("Enter")
        y = self.page.get_by_label("y", exact=True)
        y.fill("0")
        y.press("Enter")
        self.page.wait_for_selector("text=k1 weakens it: Neck pocket")
        weight = self.page.get_by_label("The blank weighs")
        weight.fill("3.6")
        weight.press("Enter")
        self.page.wait_for_selector("text=So this wood has")

    def test_a_part_is_added_and_measured(self):
        self.open(self.new_route(route_named("control_plate")), "measure")
        self.page.locator(".add").click()
        self.page.get_by_role("option", name="Pot", exact=True).click()
        self.page.wait_for_selector("text=4 readings to take")
        self.page.locator("#reading").focus()
        self.page.keyboard.type("7.05")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("text=1 taken")
        self.page.get_by_role("button", name="Take Pot off the list").click()
        self.page.get_by_role("button", name="Take Pot off the list").wait_for(state="detached")

    def test_thickness_is_shown_and_two_places_are_measured(self):
        self.open(self.new_route(route_named("siskin_body")), "route")
        self.page.wait_for_selector("text=Nothing to settle")
        self.page.keyboard.press("t")
        self.assertEqual([t.text_content() for t in self.page.locator(".thin text").all()][:2], ["12.0", "26.0"])  # 45 less the control cavity's 33 and the pickup's 19
        self.page.get_by_role("radio", name="Wood", exact=True).click()
        self.page.locator(".thin text").first.wait_for(state="detached")
        self.page.keyboard.press("m")
        for key in ("Shift+ArrowRight", "Shift+ArrowRight", "Enter", *["Shift+ArrowRight"] * 4, *["Shift+ArrowUp"] * 4):
            self.page.keyboard.press(key)
        self.page.wait_for_selector("text=56.57 apart: 40.0 along, 40.0 across, 16.2 in height")
        self.page.keyboard.press("Escape")
        self.page.wait_for_selector("text=56.57 apart", state="detached")

    def test_a_pocket_is_cleared_with_a_bounded_engagement(self):
        route = self.new_route(route_named("siskin_body"))
        self.open(route)
        self.settle()
        self.page.get_by_text("Control cavity").first.click()
        self.page.get_by_role("radio", name="Bounded engagement").click()
        self.page.wait_for_selector("[role=radio][aria-checked=true]:has-text('Bounded engagement')")
        self.settle()
        self.page.wait_for_selector("text=degrees of the rim in wood")
        self.page.get_by_label("Most of the rim").fill("48")
        self.page.get_by_label("Most of the rim").press("Enter")
        stop = self.page.get_by_role("button", name="Stop, clear by rings")
        stop.wait_for()
        stop.click()
        self.page.wait_for_selector("[role=radio][aria-checked=true]:has-text('By rings')")
        self.settle()

    def test_a_tab_is_dragged_and_the_outline_cut_in_another_school(self):
        route = self.new_route(route_named("siskin_body"))
        self.open(route)
        self.settle()
        self.page.get_by_text("Outline", exact=True).first.click()
        tab = self.page.get_by_role("button", name="Tab 2 of")
        tab.wait_for()
        box = tab.bounding_box()
        self.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 40, box["y"] + 10)
        self.page.mouse.move(box["x"] + 60, box["y"] + 20)
        self.page.mouse.up()
        self.page.wait_for_timeout(300)
        self.settle()
        before = route_named("siskin_body").operation("profile_outline").tabs
        def now():
            return self.server.call("GET", f"/api/routes/{route}")[1]["document"]["operations"][-1]
        self.assertGreater(abs(now()["tabs"][1]["at"] - before[1].at), 0.02)
        tab.focus()
        dragged = now()["tabs"][1]["at"]
        self.page.keyboard.press("ArrowRight")
        for _ in range(40):
            if now()["tabs"][1]["at"] != dragged:
                break
            self.page.wait_for_timeout(250)
        self.assertNotEqual(now()["tabs"][1]["at"], dragged)
        self.settle()
        self.page.get_by_role("radio", name="Groove, saw, trim").click()
        self.page.wait_for_selector("text=Saw outside the groove")
        self.settle()
        self.assertGreater(now()["groove_mm"], 8)

    def test_corners_of_the_tolerance_name_what_breaks_first(self):
        route = self.new_route(route_named("siskin_neck_face"))
        self.open(route, "route")
        self.page.get_by_role("button", name="Try the thinnest and thickest blank").click()
        self.page.wait_for_selector("text=Thinnest blank, zero found too low breaks first", timeout=60000)
        self.page.wait_for_selector("text=Tuner holes cuts 0.80 into the waste board")
        self.page.get_by_role("link", name="Read its thickness").click()
        self.page.wait_for_url("**/blank")

    def test_a_screw_is_moved_by_keyboard_and_by_dragging(self):
        route = self.new_route(route_named("control_plate"))
        self.open(route, "hold")
        screw = self.page.locator("[aria-label^='Screw s1']")
        screw.focus()
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("[aria-label^='Screw s1 at −16.0']")
        box = self.page.locator("[aria-label^='Screw s2'] circle").last.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        plan = self.page.locator("[data-plan]").bounding_box()
        self.page.mouse.move(plan["x"] + plan["width"] * 0.6, plan["y"] + plan["height"] * 0.5, steps=4)
        self.page.mouse.up()
        self.page.wait_for_selector("text=/hits Screw s2|Screw s2 stands/")

    def test_how_it_is_held_is_drawn_and_one_more_screw_is_one_press(self):
        route = changed(route_named("siskin_body"), *({"do": "remove_hardware", "setup": "front", "hardware": h} for h in ("c1", "c2", "s1", "s2")))
        self.open(self.new_route(route), "hold")
        ring = self.page.get_by_role("img", name="Outline: pulls")
        ring.wait_for()
        before = float(ring.get_attribute("aria-label").split(" times")[0].split(", ")[-1])
        self.assertLess(before, 2)
        cure = self.page.get_by_role("button", name="more screw")
        told = float(cure.inner_text().split("holds ")[1].split(" ")[0])
        cure.click()
        self.page.wait_for_selector("text=Nothing in the way")
        self.page.get_by_role("button", name="Outline pulls").click()
        self.assertGreaterEqual(told, 2)
        self.page.get_by_role("tab", name="What holds it").click()
        self.page.get_by_role("button", name="Top clamp").click()
        self.page.wait_for_selector("[aria-label^='Top clamp t1']")
        press = self.page.get_by_label("Presses with")
        press.fill("240")
        press.press("Enter")
        self.page.wait_for_function("() => fetch(location.pathname.replace('/routes', '/api/routes').replace('/hold', '')).then((r) => r.json()).then((r) => r.document.setups[0].hardware.some((h) => h.kind === 'top_clamp' && h.press_n === 240))")

    def test_a_jig_is_designed_from_nothing_and_becomes_a_job(self):
        """A blank with nothing on it; a vacuum and a rail are put there, the board under them is looked at, made, told
        that they alone hold too little, and drawn."""
        route = changed(route_named("siskin_neck_face"), *({"do": "remove_hardware", "setup": "front", "hardware": f"s{k}"} for k in (1, 2, 3, 4)))
        made = self.new_route(route)
        self.open(made, "hold")
        self.page.get_by_role("tab", name="Jig").click()
        self.page.wait_for_selector("text=Nothing holds the blank in “Front face up” yet")
        self.page.get_by_role("tab", name="What holds it").click()
        self.page.get_by_role("button", name="Vacuum").click()
        self.page.wait_for_selector("[aria-label^='Vacuum v1']")
        for label, value in (("Wide", "44"), ("Long", "440")):
            box = self.page.locator(".one").get_by_label(label)
            box.fill(value)
            box.press("Enter")
        self.page.get_by_role("button", name="Rail", exact=True).click()
        self.page.wait_for_selector("[aria-label^='Rail r1']")
        self.page.get_by_role("tab", name="Jig").click()
        self.page.wait_for_selector("text=Gasket v1")
        self.page.wait_for_selector("text=/inside the gasket; at 0.8. bar/")
        self.server.proof(self.server.call("GET", f"/api/routes/{made}")[1]["hash"])
        self.page.get_by_role("button", name="Make it a job").click()
        self.page.wait_for_url("**/route")
        self.page.wait_for_selector("text=Board for Siskin neck, face")
        self.page.wait_for_selector("text=/The holding this is drawn from holds .* Mend the holding "
            "there/", timeout=40_000)
        self.page.get_by_role("link", name="Hold", exact=True).click()
        self.page.get_by_role("tab", name="Jig").click()
        with self.page.expect_download() as download:
            self.page.get_by_role("link", name="DXF").click()
        self.assertTrue(download.value.suggested_filename.endswith(".dxf"))

    def test_programs_are_written_read_back_and_downloaded(self):
        self.open(self.new_route(route_named("control_plate")), "run")
        self.page.click("text=Write the programs")
        self.page.wait_for_selector("text=Read back and simulated")
        with self.page.expect_download() as download:
            self.page.click("text=Download all")
        self.assertTrue(download.value.suggested_filename.endswith(".zip"))
        self.page.get_by_label("Note").fill("went well")
        self.choose("The whole run went", "Fine")
        self.page.click("text=Keep the record")
        self.page.wait_for_selector("text=went well")

    def test_a_refused_import_says_why(self):
        self.page.goto(self.server.url)
        self.page.set_input_files("input[type=file]", {"name": "x.json", "mimeType": "application/json", "buffer": b'{"schema": "birch-route/1"'})
        self.page.wait_for_selector("text=cut short")

    def test_two_people_at_one_route_the_later_is_told(self):
        route = self.new_route(route_named("control_plate"))
        self.open(route)
        self.settle()
        self.server.call("POST", f"/api/routes/{route}/edits", {"revision": 1, "edits": [put("note", "changed elsewhere")]})
        field = self.page.get_by_label("Feed rate")
        field.fill("2500")
        field.press("Enter")
        self.page.wait_for_selector("text=changed this job while you did")
        self.page.click("text=Make mine on top")
        self.page.wait_for_selector("text=changed this job while you did", state="detached")
        self.page.wait_for_function("() => document.querySelector('[aria-label=\"Feed rate\"]').value === '2500'")
        after = self.server.call("GET", f"/api/routes/{route}")[1]
        self.assertEqual(after["document"]["note"], "changed elsewhere")
        self.assertEqual(next(o for o in after["document"]["operations"] if o["id"] == "profile_outline")["settings"]["feed_mm_min"], 2500)
        self.assertEqual(after["revision"], 3)

    def test_no_screen_has_a_serious_accessibility_fault(self):
        route = self.new_route(changed(route_named("siskin_body"), put("operations.pocket_pickup_pocket.settings.feed_mm_min", 1200)))
        for theme in ("light", "dark"):
            for view in ("", "new", "route", "measure", "layout", "blank", "hold", "shop", "run"):
                self.page.goto(f"{self.server.url}/routes/{route}/{view}" if view not in ("", "new") else f"{self.server.url}/{view}")
                self.page.evaluate(f"localStorage.setItem('birch_theme', '{theme}')")
                self.page.reload()
                self.page.wait_for_load_state("networkidle" if not view else "load")
                self.page.wait_for_timeout(1500)
                found = self.axe()
                with self.subTest(view=view or "bench", theme=theme):
                    self.assertEqual(found, [])
