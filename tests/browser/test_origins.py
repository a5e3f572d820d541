"""Numbers nobody said look assumed until one press; each term of a sum opens to where it comes from; operations
proposed before their readings offer to be made again."""

import time

from playwright.sync_api import expect

from tests.browser.test_screens import Browser
from tests.core.test_made_before import read
from tests.support import route_named


class Origins(Browser):
    def open(self, route, place):
        self.id = self.new_route(route)
        self.page.goto(f"{self.server.url}/routes/{self.id}/{place}")

    def test_an_assumed_number_is_mine_by_one_press_or_by_typing_and_undo_takes_it_back(self):
        body = route_named("siskin_body")
        self.open(body.model_copy(update={"choices": body.choices.model_copy(update={"mine": []})}), "measure")
        gap = self.page.get_by_label("Fit gap each side", exact=True)
        expect(gap).to_have_attribute("aria-description", "Assumed: what is usual for an electric guitar; nobody said "
                                      "it for this one")
        mine = self.page.get_by_role("button", name="Fit gap each side is assumed: say that it is mine")
        mine.focus()
        self.page.keyboard.press("Enter")
        mine.wait_for(state="detached")
        self.assertIsNone(gap.get_attribute("aria-description"))
        self.page.get_by_role("button", name="Undo").click()
        mine.wait_for()
        compensation = self.page.get_by_label("Compensation", exact=True)
        compensation.fill("2.6")
        compensation.press("Enter")
        self.page.get_by_role("button", name="Compensation is assumed").first.wait_for(state="detached")

    def test_each_term_of_a_sum_opens_to_where_it_comes_from(self):
        self.open(route_named("siskin_body"), "measure")
        for term, said in (("Frets", "in this shop"), ("Action at the 12th", "said for this job")):
            self.page.get_by_role("button", name=term, exact=True).click()
            self.page.get_by_role("dialog", name=f"Where {term.lower()} comes from").get_by_text(said).wait_for()
            self.page.keyboard.press("Escape")
            self.page.get_by_role("dialog").wait_for(state="detached")

    def test_what_was_proposed_before_a_reading_is_proposed_again_by_one_press(self):
        self.open(read(route_named("siskin_body"), "neck.heel_thickness", 12), "route")
        row = self.page.locator(".finding", has_text="proposed before these readings")
        row.get_by_text("takes the 3 mm flat instead of the 6 mm flat").wait_for(timeout=120_000)
        row.get_by_role("button", name="Propose it again").click()
        row.wait_for(state="detached", timeout=120_000)
        state = self.server.call("GET", f"/api/routes/{self.id}")[1]
        made = next(o for o in state["document"]["operations"] if o["id"] == "pocket_neck_pocket")
        self.assertEqual(made["bit"], "flat3")

    def test_the_last_pass_is_run_again_by_a_number_and_takes_its_time(self):
        self.open(route_named("siskin_body"), "route")
        self.page.wait_for_selector("text=Nothing to settle")
        self.page.get_by_text("Neck pocket").first.click()
        self.page.get_by_role("heading", name="Neck pocket").wait_for()
        again = self.page.get_by_label("Run it again")
        again.fill("4")
        again.press("Enter")
        self.page.get_by_role("alert").first.wait_for()
        again.fill("2")
        again.press("Enter")
        deadline = time.monotonic() + 30
        while self.spring() != 2 and time.monotonic() < deadline:
            time.sleep(0.1)
        self.assertEqual(self.spring(), 2)

    def spring(self):
        state = self.server.call("GET", f"/api/routes/{self.id}")[1]
        return next(o for o in state["document"]["operations"] if o["id"] == "pocket_neck_pocket")["spring_passes"]

    def test_screws_that_a_rule_placed_are_said_to_be_meant_by_one_press(self):
        plate = route_named("control_plate")
        held = [h.model_copy(update={"assumed": True}) for h in plate.setups[0].hardware]
        self.open(plate.model_copy(update={"setups": [plate.setups[0].model_copy(update={"hardware": held})]}), "hold")
        self.page.get_by_role("tab", name="What holds it").click()
        self.page.get_by_role("button", name="is assumed: say that it is mine").nth(len(held) - 1).wait_for()
        self.page.get_by_role("button", name="They stand as I mean it").click()
        self.page.get_by_text("nobody said so").wait_for(state="detached")
        self.assertEqual(self.page.get_by_role("button", name="is assumed: say that it is mine").count(), 0)

    def told_by(self, name, heading):
        """Press a number's name and read where it comes from."""
        self.page.get_by_role("button", name=name, exact=True).first.click()
        told = self.page.get_by_role("dialog", name=f"Where {heading} comes from")
        told.wait_for()
        words = told.inner_text()
        self.page.keyboard.press("Escape")
        told.wait_for(state="detached")
        return words

    def test_numbers_of_layout_holding_and_run_open_to_where_they_come_from(self):
        self.open(route_named("siskin_body"), "layout")
        self.assertIn("less what is cut below it", self.told_by("floor", "wood under the floor"))
        self.assertIn("same height", self.told_by("wall", "wall"))
        self.page.get_by_role("tab", name="Fits").click()
        self.assertIn("finish class", self.told_by("may be off", "may be off"))
        self.page.get_by_role("tab", name="Weight").click()
        self.page.get_by_role("button", name="kg").first.click()
        self.page.get_by_role("dialog", name="Where weight comes from").wait_for()
        self.page.goto(f"{self.server.url}/routes/{self.id}/hold")
        self.assertIn("the greatest of them", self.told_by("Pulls", "what the cut pulls"))
        self.assertIn("factor of safety", self.told_by("Holds", "what the holding bears"))
        self.page.goto(f"{self.server.url}/routes/{self.id}/run")
        self.page.locator(".op button").first.click()
        self.page.get_by_role("dialog", name="Where minutes comes from").wait_for()
