"""At the machine, by hand: one thing at a time on tablet and phone, the desk away meanwhile, the record at the end."""

import re

from playwright.sync_api import expect

from birch_route.core.quantities import say
from tests.browser.test_own_shop import Shop
from tests.support import changed, route_named

GATE = {"id": "warm", "name": "Warm the sheet", "minutes": 1, "gate": True}
SIGHT = {"id": "deburr", "name": "Deburr the last one", "minutes": 0.2, "in_sight": True, "after": "profile_outline"}


class AtMachine(Shop):
    def setUp(self):
        super().setUp()
        self.page.set_viewport_size({"width": 1024, "height": 768})
        steps = [{"do": "put_item", "list": "bench_steps", "item": one} for one in (GATE, SIGHT)]
        self.number = self.new_route(changed(route_named("control_plate"), *steps))
        self.presses = 0

    def begun(self):
        """Write the programs and begin, by hand; the page at the machine is open after."""
        self.go(f"/routes/{self.number}/run")
        self.page.get_by_role("checkbox", name="Warm the sheet").click()
        self.page.get_by_role("button", name="Write the programs").click()
        self.page.get_by_text("Read back and simulated:").wait_for()
        self.page.get_by_role("button", name="Begin a run at the machine").click()
        self.page.get_by_text(re.compile(r"^Step \d+ of \d+")).wait_for()
        self.run_id = int(self.page.url.rsplit("/", 1)[1])

    def state(self):
        return self.server.call("GET", f"/api/at-machine/{self.run_id}")[1]

    def title(self):
        return self.page.locator(".at-machine h1").inner_text()

    def press(self, words=None):
        """Press the button that goes on, or one by its words; wait until the page shows what follows."""
        self.presses += 1
        if words:
            self.page.get_by_role("button", name=words).click()
        else:
            self.page.locator(".at-machine [data-first]").first.click()

    def on_to(self, kind):
        """Go on until a step of a kind is the one to do."""
        while True:
            state = self.state()
            step = next(s for s in state["steps"] if s["id"] == state["current"])
            self.page.get_by_role("heading", name=say(step["title"])[:30]).first.wait_for()
            if step["kind"] == kind:
                return step
            self.press()
            self.until_current_is_not(step["id"])

    def until_current_is_not(self, step):
        for _ in range(200):
            if self.state()["current"] != step:
                return
            self.page.wait_for_timeout(50)
        raise AssertionError(f"{step} is not done")

    def test_a_run_from_programs_to_its_record_with_keys_and_the_right_number(self):
        self.begun()
        self.assertIn("Load the blank", self.title())
        self.assertEqual(self.axe(), [])
        self.on_to("cut")
        cut = next(s for s in self.state()["steps"] if s["kind"] == "cut")
        field = self.page.get_by_label("Number of the program")
        wrong = "1111" if cut["programs"][0]["number"] != "1111" else "2222"
        field.fill(wrong)
        self.page.get_by_text("That is another file").wait_for()
        expect(self.page.get_by_role("button", name="It cuts")).to_be_disabled()
        field.fill(cut["programs"][0]["number"])
        self.press("It cuts: started at the machine")
        self.page.get_by_text("min left").wait_for()
        self.page.get_by_text("Meanwhile, in sight of its stop").wait_for()
        self.assertEqual(self.axe(), [])
        self.page.get_by_label("What stopped it").fill("dust")
        self.press("It stopped")
        self.page.get_by_text("It stands: dust").wait_for()
        self.page.get_by_label("Line it stopped at").fill("30")
        self.page.get_by_role("button", name="Make the program that goes on").click()
        self.page.get_by_text("Read back and cut from both woods").wait_for()
        with self.page.expect_download() as fallen:
            self.page.get_by_role("link", name=re.compile("_on.*number")).click()
        self.assertIn("from line", fallen.value.path().read_text().splitlines()[0])
        self.assertEqual(self.axe(), [])
        self.press("It goes on, hands clear")
        self.page.get_by_text("min left, back here at").wait_for()
        self.press("It finished")
        self.until_current_is_not(cut["id"])
        while self.state()["current"]:
            step = self.state()["current"]
            if step.startswith("cut"):
                programs = next(s for s in self.state()["steps"] if s["id"] == step)["programs"]
                if programs[0]["begins"]:
                    self.page.get_by_label("Number of the program").fill(programs[0]["number"])
                self.press("It cuts: started at the machine")
                self.page.get_by_text("min left").wait_for()
                self.press("It finished")
            else:
                self.page.wait_for_function("() => document.activeElement?.dataset.first !== undefined")
                self.page.keyboard.press("Enter")
            self.until_current_is_not(step)
        self.page.get_by_role("heading", name="How did it come out?").wait_for()
        self.page.get_by_label("What should be remembered").fill("Blew the dust out half way.")
        self.press("Clean")
        self.page.get_by_role("heading", name="This run is closed").wait_for()
        kept = self.server.call("GET", f"/api/routes/{self.number}/runs")[1]
        self.assertEqual([(r["outcome"], r["note"]) for r in kept], [("fine", "Blew the dust out half way.")])
        self.assertTrue(kept[0]["minutes"])

    def test_while_the_desk_is_away_it_goes_on_here_and_is_told_later_once(self):
        self.begun()
        first = self.state()["current"]
        self.context.set_offline(True)
        self.press()
        self.page.get_by_text("Desk silent since").wait_for()
        second = self.title()
        self.assertNotIn("Load the blank", second)
        self.press()
        expect(self.page.locator(".at-machine h1")).not_to_have_text(second)
        self.assertEqual(self.state()["current"], first)  # the desk knows nothing of it yet
        self.context.set_offline(False)
        self.page.get_by_text("Desk heard").wait_for()
        self.until_current_is_not(first)
        events = self.state()["events"]
        self.assertEqual([e["number"] for e in events], [1, 2])
        self.page.reload()
        self.page.get_by_text(re.compile(r"^Step \d+ of \d+")).wait_for()
        expect(self.page.locator(".at-machine h1")).not_to_have_text(second)

    def test_a_phone_beside_it_agrees_and_a_tick_is_taken_back(self):
        self.begun()
        phone = self.context.new_page()
        phone.set_viewport_size({"width": 390, "height": 844})
        phone.goto(f"{self.server.url}/at-machine/{self.run_id}")
        phone.get_by_role("heading", name="Load the blank").wait_for()
        high = phone.locator(".big-go").bounding_box()["height"]
        self.assertGreaterEqual(high, 84)
        wide = phone.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, 390)
        self.press()
        phone.get_by_role("heading", name="Load the blank").wait_for(state="detached")
        self.page.get_by_role("button", name="Take back").click()
        phone.get_by_role("heading", name="Load the blank").wait_for()
        phone.close()

    def test_a_note_and_a_reading_stay_with_their_step(self):
        self.begun()
        for words, value in (("Grain runs out at the tail", ""), ("Pocket depth", "15.9")):
            self.page.get_by_role("button", name="Note or reading").click()
            self.page.get_by_label("What you saw, or what you read").fill(words)
            if value:
                self.page.get_by_label("Reading, if it is one").fill(value)
            self.page.get_by_role("button", name="Keep it").click()
        for _ in range(100):
            if len(self.state()["events"]) == 2:
                break
            self.page.wait_for_timeout(50)
        kept = [(e["kind"], e["note"], e["value_mm"], e["step"]) for e in self.state()["events"]]
        step = self.state()["current"]
        wanted = [("note", "Grain runs out at the tail", None, step), ("reading", "Pocket depth", 15.9, step)]
        self.assertEqual(kept, wanted)

    def test_a_job_that_changed_starts_nothing(self):
        self.begun()
        self.on_to("cut")
        state = self.server.call("GET", f"/api/routes/{self.number}")[1]
        edit = {"do": "set", "path": "operations.profile_outline.settings.feed_mm_min", "value": 1500}
        body = {"revision": state["revision"], "edits": [edit]}
        self.assertEqual(self.server.call("POST", f"/api/routes/{self.number}/edits", body)[0], 200)
        self.page.get_by_text("Start none of them").wait_for()
        expect(self.page.get_by_role("button", name="It cuts")).to_be_disabled()
