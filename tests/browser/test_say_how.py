"""How a piece is made, said by keyboard alone: the order, an outline by two bits, steps at the bench, findings that are
meant so, several operations at once; and a row that is dragged."""

from birch_route.core.instrument.resolve import resolve
from birch_route.demo.fitted import fitted_route
from tests.browser.test_screens import Browser
from tests.core.test_passes import DOWN
from tests.support import changed, put, route_named

MOST_PRESSES = 150
ON_AN_OPTION = "document.activeElement.getAttribute('role') === 'option'"


class SayHow(Browser):
    def setUp(self):
        super().setUp()
        self.presses = 0

    def open(self, route, view="route"):
        self.job = self.new_route(route)
        self.page.goto(f"{self.server.url}/routes/{self.job}/{view}")
        self.page.wait_for_selector("text=/Computed, not proven|Keep the record/")
        self.settle()

    def settle(self):
        self.page.wait_for_function("() => !document.querySelector('[aria-busy=true]')", timeout=60_000)

    def press(self, *keys):
        for key in keys:
            self.page.keyboard.press(key)
            self.presses += 1

    def revision(self):
        return self.server.call("GET", f"/api/routes/{self.job}")[1]["revision"]

    def edited(self, act):
        """Do something that makes a revision, and wait until it is there and shown."""
        before = self.revision()
        act()
        self.until(lambda: self.revision() > before)
        self.settle()

    def until(self, there):
        for _ in range(600):
            if there():
                return
            self.page.wait_for_timeout(100)
        self.fail("it did not come")

    def document(self):
        return self.server.call("GET", f"/api/routes/{self.job}")[1]["document"]

    def here(self):
        return self.page.locator("[aria-current=step] .name").first.inner_text()

    def tab_to(self, name):
        """Press Tab until what has the keyboard is called so."""
        for _ in range(60):
            self.press("Tab")
            now = self.page.evaluate("""() => { const e = document.activeElement
                return (e.getAttribute('aria-label') || e.labels?.[0]?.innerText || e.innerText || '').trim() }""")
            if now.startswith(name):
                return
        self.fail(f"the keyboard never came to {name}")

    def focus_page(self):
        """As after the page has opened: nothing has the keyboard."""
        self.page.evaluate("() => document.activeElement.blur()")

    def add_step(self, words):
        self.press("n")
        self.page.get_by_label("What is done").first.wait_for()
        self.page.keyboard.type(words)  # characters of names are not counted
        self.edited(lambda: self.press("Enter"))
        self.focus_page()

    def mean(self, letter, why):
        self.press("g", letter.lower())
        self.tab_to(f"{letter} is meant so")
        self.press("Enter")
        self.page.locator(".why input").wait_for()
        self.page.keyboard.type(why)
        self.edited(lambda: self.press("Enter"))
        self.focus_page()

    def test_a_body_of_22_operations_by_keyboard_alone(self):
        route = fitted_route(True)
        outline = next(o for o in route.operations if o.id.startswith("profile_outline"))
        own = route.bit(outline.bit).model_dump(mode="json")
        stepover = {o.id: route.bit(o.bit).cut_diameter_mm * 0.62 for o in route.operations if o.kind.value == "pocket"}
        route = changed(
            route, {"do": "put_item", "list": "bits", "item": {**own, "id": "fine", "name": "Fine one"}},
            *(put(f"operations.{o}.settings.stepover_mm", s) for o, s in list(stepover.items())[:2]),
            put("operations.pocket_neck_pocket.settings.feed_mm_min", 700),
        )
        self.assertEqual(len(route.operations), 22)
        self.open(route)
        ids = [o.id for o in route.operations]

        # the order: an operation moved past its neighbour, then all of them put in another order
        self.press("ArrowUp", "ArrowUp", "ArrowUp")
        self.edited(lambda: self.press("Alt+ArrowUp"))
        self.assertNotEqual([o["id"] for o in self.document()["operations"]], ids)
        self.press("o")
        self.page.get_by_role("radio", name="Fewest bit changes").wait_for()
        self.page.wait_for_function("() => document.activeElement.getAttribute('role') === 'radio'")
        self.tab_to("Heavy bits first")
        self.edited(lambda: self.press("Enter"))
        self.press("Escape")

        # the outline: roughed by one bit, finished by another
        while not self.here().startswith("Outline"):
            self.press("ArrowDown")
        self.press("e")
        self.tab_to("Bit of the last pass")
        self.press("ArrowDown")
        self.page.get_by_role("option", name="Fine one").wait_for()
        self.page.wait_for_function(f"() => {ON_AN_OPTION}")  # the list takes the focus a moment after it has opened
        while "Fine one" not in self.page.evaluate("document.activeElement.textContent"):
            self.press("ArrowDown")
            self.page.wait_for_function(f"() => {ON_AN_OPTION}")
        self.edited(lambda: self.press("Enter"))
        self.assertEqual(self.document()["operations"][-1]["bit"], "fine")
        self.focus_page()

        # five steps at the bench
        for words in ("Inspect before", "Chisel", "Sand the", "Wipe it clean", "Fit a part"):
            self.add_step(words)
        steps = [s["name"] for s in self.document()["bench_steps"] if s["own"]]
        self.assertEqual(sorted(steps), sorted(
            ["Inspect before release", "Chisel the corners", "Sand the faces", "Wipe it clean", "Fit a part"]))

        # three findings that are meant so
        for _ in range(3):
            letter = self.page.locator(".finding svg").first.get_attribute("aria-label")[-1]
            self.mean(letter, "seen by nobody")
        self.page.wait_for_selector("text=Meant so: 3")
        self.assertEqual(len(self.document()["meant"]), 3)
        self.assertEqual(self.page.locator(".finding .so", has_text="Meant so").count(), 0)
        self.page.wait_for_selector("text=what was found is meant so")
        self.assertLessEqual(self.presses, MOST_PRESSES)
        self.assertEqual(self.axe(), [])

    def test_alike_findings_are_one_row_that_unfolds_and_is_meant_at_once(self):
        route = route_named("siskin_body")
        pockets = [o.id for o in route.operations if o.kind.value == "pocket"][:4]
        self.open(changed(route, *(put(f"operations.{o}.settings.stepover_mm", 5.0) for o in pockets)))
        more = self.page.get_by_role("button", name="more alike")
        self.assertRegex(more.inner_text(), "And 3 more alike: .*Plate rebate")
        self.assertEqual(self.page.locator(".findings .finding").count(), 1)
        more.click()
        self.assertEqual(self.page.locator(".findings .finding").count(), 4)
        self.page.get_by_role("button", name="is meant so").first.click()
        self.page.get_by_label("Why all 4 are meant").fill("sanded anyway")
        self.edited(lambda: self.page.get_by_role("button", name="Keep it so").click())
        self.assertEqual(len(self.document()["meant"]), 4)
        self.page.locator("summary", has_text="Meant so: 4").click()
        self.edited(lambda: self.page.get_by_role("button", name="Take back").first.click())
        self.assertEqual(len(self.document()["meant"]), 3)

    def test_a_finding_leads_in_one_press_to_where_it_is_settled(self):
        deep = put("piece.features.control_cavity.depth_mm", 42.0)
        rim = resolve(route_named("siskin_body")).outline.exterior.interpolate(0.3, normalized=True)
        place = {"x_mm": round(rim.x, 1), "y_mm": round(rim.y, 1)}
        hit = [put(f"setups.front.hardware.s3.{k}", v) for k, v in place.items()]
        self.open(changed(route_named("siskin_body"), deep, *hit))
        thin = self.page.locator(".finding", has_text="is left under Control cavity")
        thin.get_by_role("link", name="is settled on lay out").click()
        self.page.wait_for_url("**/layout?topic=draw&shape=control_cavity")
        self.page.get_by_role("tab", name="Draw", selected=True).wait_for()
        self.page.get_by_label("Deep").first.wait_for()
        self.page.go_back()
        self.page.wait_for_selector("text=/Computed, not proven/")
        self.page.get_by_role("link", name="is settled on hold").first.click()
        self.page.wait_for_url("**/hold")

    def test_several_are_changed_together_and_made_one(self):
        self.open(route_named("siskin_body"))
        row = lambda name: self.page.locator(".row", has_text=name).first  # noqa: E731
        row("Bridge recess").click(modifiers=["Control"])
        row("Plate rebate").click(modifiers=["Control"])
        self.page.wait_for_selector("text=2 operations together")
        feed = self.page.get_by_role("region", name="2 operations together").get_by_label("Feed rate")
        feed.fill("2000")
        self.edited(lambda: feed.press("Enter"))
        operations = {o["id"]: o for o in self.document()["operations"]}
        for one in ("pocket_bridge_recess", "pocket_plate_rebate"):
            self.assertEqual(operations[one]["settings"]["feed_mm_min"], 2000)
            self.assertIn("feed_mm_min", operations[one]["told"])
        self.edited(lambda: self.page.get_by_role("button", name="Make one operation of them").click())
        self.assertEqual(len(self.document()["operations"]), len(operations) - 1)
        row("Bridge recess").click()
        self.page.keyboard.press("Escape")
        self.page.locator("summary", has_text="More of this operation").click()
        self.edited(lambda: self.page.get_by_role("button", name="One for each feature").click())
        self.assertEqual(len(self.document()["operations"]), len(operations))

    def test_a_row_is_dragged_and_tells_what_it_breaks_while_it_is_held(self):
        self.open(route_named("siskin_body"))
        ids = [o["id"] for o in self.document()["operations"]]
        face = self.page.locator(".row", has_text="Skim the face").bounding_box()
        to = self.page.locator(".row", has_text="Neck pocket").first.bounding_box()
        mouse = self.page.mouse
        self.page.wait_for_function("() => true")
        mouse.move(face["x"] + 150, face["y"] + face["height"] / 2)
        mouse.down()
        mouse.move(face["x"] + 150, to["y"] + 4, steps=8)
        self.page.wait_for_selector(".held.breaks >> text=depths count from the face")
        self.page.keyboard.press("Escape")
        mouse.up()
        self.assertEqual([o["id"] for o in self.document()["operations"]], ids)
        cavity = self.page.locator(".row", has_text="Control cavity").first.bounding_box()
        recess = self.page.locator(".row", has_text="Bridge recess").bounding_box()
        mouse.move(cavity["x"] + 150, cavity["y"] + cavity["height"] / 2)
        mouse.down()
        mouse.move(cavity["x"] + 150, recess["y"] + 2, steps=8)
        self.page.locator(".held", has_text="bit change").wait_for()
        self.edited(mouse.up)
        now = [o["id"] for o in self.document()["operations"]]
        self.assertLess(now.index("pocket_control_cavity"), now.index("pocket_bridge_recess"))

    def test_a_step_typed_before_the_list_of_steps_has_come_is_taken_from_it_all_the_same(self):
        self.open(route_named("siskin_body"))
        held = []
        self.page.route("**/api/bench-steps", lambda asked: held.append(asked))
        self.press("n")
        self.page.get_by_label("What is done").first.wait_for()
        self.page.keyboard.type("Chisel")
        self.press("Enter")
        self.until(lambda: held)
        self.edited(held[0].continue_)
        self.assertIn("Chisel the corners", [s["name"] for s in self.document()["bench_steps"]])

    def test_a_step_of_ones_own_is_said_in_full_moved_and_ticked_on_the_run(self):
        self.open(route_named("siskin_body"))
        self.page.keyboard.press("n")
        self.page.get_by_label("What is done").fill("Glue in the block")
        self.edited(lambda: self.page.keyboard.press("Enter"))
        sheet = self.page.get_by_role("region", name="Step at the bench")
        self.edited(lambda: sheet.get_by_label("What follows waits for it").click())
        takes = sheet.get_by_label("Takes")
        takes.fill("25")
        self.edited(lambda: takes.press("Enter"))
        where = sheet.get_by_label("Where on the piece")
        where.fill("behind the bridge")
        self.edited(lambda: where.press("Enter"))
        self.edited(lambda: sheet.get_by_role("button", name="Earlier").click())
        step = next(s for s in self.document()["bench_steps"] if s["own"])
        self.assertEqual((step["minutes"], step["gate"], step["where"]), (25, True, "behind the bridge"))
        self.page.goto(f"{self.server.url}/routes/{self.job}/run")
        self.page.get_by_role("checkbox", name="Glue in the block").click()
        self.page.get_by_role("checkbox", name="Glue in the block, done").wait_for()
        self.page.wait_for_selector("text=behind the bridge")
        # the shop offers it to the next job
        self.open(route_named("control_plate"))
        self.page.keyboard.press("n")
        kind = self.page.locator(".kind", has_text="Glue in the block")
        kind.wait_for()
        self.assertIn("used here before", kind.inner_text())
        self.edited(kind.click)
        self.assertIn("Glue in the block", [s["name"] for s in self.document()["bench_steps"]])

    def test_the_history_tells_who_and_what_and_goes_back_to_any(self):
        self.open(route_named("control_plate"))
        start = self.document()
        feed = self.page.get_by_label("Feed rate")
        feed.fill("1500")
        self.edited(lambda: feed.press("Enter"))
        self.focus_page()
        self.page.keyboard.press("h")
        sheet = self.page.get_by_role("region", name="History")
        sheet.get_by_label("Name of the job").fill("Plate for a friend")
        self.edited(lambda: sheet.get_by_label("Name of the job").press("Enter"))
        self.page.wait_for_selector("h1 >> text=Plate for a friend")
        listed = self.server.call("GET", "/api/routes?search=Plate%20for%20a%20friend")[1]["routes"]
        self.assertIn(self.job, [r["id"] for r in listed])
        self.assertEqual(sheet.locator("li").count(), 3)
        self.assertIn("feed", sheet.locator("li").nth(1).inner_text())
        self.edited(lambda: sheet.get_by_role("button", name="Back to revision 1").click())
        self.assertEqual(self.document(), start)
        self.assertIn("Back to revision 1", sheet.locator("li").first.inner_text())
        self.assertEqual(self.axe(), [])
        self.focus_page()
        self.edited(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual(self.document()["job"], "Plate for a friend")

    def test_a_trial_piece_is_made_cut_and_told_and_holds_the_good_wood(self):
        self.open(route_named("control_plate"), "run")
        real = self.job
        self.page.get_by_label("Thick, else").fill("8")
        self.edited(lambda: self.page.get_by_role("button", name="Hold the good wood").click())
        self.page.wait_for_selector("text=/Trial passed stands at the bench/")
        self.page.get_by_role("button", name="Make a trial piece").click()
        self.page.wait_for_url("**/route")
        self.page.wait_for_selector("text=/Computed, not proven/")
        self.settle()
        self.job = int(self.page.url.split("/")[-2])
        self.assertEqual(self.document()["blank"]["thickness_mm"], 8)
        self.page.goto(f"{self.server.url}/routes/{self.job}/run")
        self.choose("The whole run went", "Fine")
        self.page.get_by_role("button", name="Keep the record").click()
        self.page.wait_for_selector("text=/Kept/i")
        self.page.reload()
        self.page.wait_for_selector("text=Try 1")
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("link", name="Control plate", exact=True).click()
        self.page.wait_for_url(f"**/routes/{real}/run")
        self.page.wait_for_selector("text=/1 try, the last went well/")
        step = self.page.get_by_role("checkbox", name="Trial passed")
        step.click()
        self.page.get_by_role("checkbox", name="Trial passed, done").wait_for()
        self.page.get_by_role("button", name="Write the programs").click()
        self.page.wait_for_selector("text=Download all")

    def test_walls_by_another_bit_an_outline_s_rim_and_all_roughed_before_the_first_is_finished(self):
        wide = {**DOWN, "item": {**DOWN["item"], "id": "down8", "name": "8 mm down-cut", "diameter_mm": 8.0}}
        self.open(changed(route_named("siskin_body"), DOWN, wide))
        row = lambda name: self.page.locator(".row", has_text=name).first  # noqa: E731
        row("Neck pocket").click()
        self.page.get_by_role("heading", name="Neck pocket").wait_for()
        self.edited(lambda: self.choose("Bit of the last pass", "6 mm down-cut"))
        last = next(o for o in self.document()["operations"] if o["finishes"] == "pocket_neck_pocket")
        self.assertEqual((last["bit"], last["kind"]), ("down6", "pocket"))
        self.page.get_by_text("takes the last pass along the wall").wait_for()
        row("Neck pocket, last pass").click()
        self.page.get_by_text("Only the last pass.").wait_for()
        row("Outline").click()
        self.page.get_by_role("heading", name="Outline").wait_for()
        self.edited(lambda: self.page.get_by_role("radio", name="8 mm down-cut for the rim").click())
        rim = next(o for o in self.document()["operations"] if o["id"] == "profile_outline_rim")
        self.assertEqual(rim["down_to_mm"], 3)
        self.focus_page()
        self.press("o")
        offer = self.page.get_by_role("radio", name="All pockets roughed, then all finished")
        offer.wait_for()
        self.edited(lambda: offer.click())
        pockets = [o for o in self.document()["operations"] if o["kind"] == "pocket"]
        self.assertEqual([bool(o["finishes"]) for o in pockets], sorted(bool(o["finishes"]) for o in pockets))
        self.assertGreater(sum(bool(o["finishes"]) for o in pockets), 2)
        proof = self.server.proof(self.server.call("GET", f"/api/routes/{self.job}")[1]["hash"])
        self.assertEqual(proof["report"]["findings"], [])  # what the shop's books say beside it is theirs

    def test_the_wood_of_two_revisions_stands_side_by_side_with_what_differs(self):
        self.open(route_named("siskin_body"))
        deep = [put("piece.features.control_cavity.depth_mm", 30.0)]
        self.edited(lambda: self.server.call("POST", f"/api/routes/{self.job}/edits", {
            "revision": self.revision(), "edits": deep}))
        self.page.reload()
        self.page.wait_for_selector("text=/Computed, not proven/")
        self.focus_page()
        self.press("h")
        self.page.get_by_role("button", name="Wood of revision 1 beside what stands").click()
        beside = self.page.get_by_role("dialog", name="Wood of two revisions")
        beside.get_by_text("left higher, up to 3.00").wait_for()
        self.assertEqual(beside.locator("canvas:visible").count(), 3)
        self.assertEqual(self.axe(), [])
        beside.locator("#side1").select_option("1")
        beside.get_by_text("Their wood is the same").wait_for()
        self.page.keyboard.press("Escape")
        beside.wait_for(state="detached")
