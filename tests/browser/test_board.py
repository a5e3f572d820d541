"""A fretboard by hand: from an empty shop and the numbers of a drawing, in inches, to checked programs; its page by
keys; what its wire was not told."""

import tests.browser.test_first_body as first_body
from tests.browser.from_numbers import begin, make, shop_with
from tests.browser.test_own_shop import Shop
from tests.browser.test_screens import Browser
from tests.browser.walk import Walk
from tests.core.boards import board_route
from tests.support import route_named

MOST_MINUTES = 12.0
NUMBERS = (
    ("Scale", "24 3/4"), ("Board behind the nut’s edge", "1/4"), ("Wide at the nut", "1 11/16"),
    ("Wide at its end", "2.2"), ("Thick at the crown", "1/4"), ("Radius at the nut", "10"),
    ("Radius at its end", "16"), ("Tang, between its barbs", "0.0228"), ("Across the barbs", "0.034"),
    ("Tang, how deep", "1/16"), ("Board past the last fret", "5/16"), ("Dots across", "1/4"), ("Dots deep", "0.08"),
    ("Nut slot along the board", "1/8"), ("Nut slot deep", "0.08"),
)
HANG = ("0.6 mm slot bit: ", "12 mm ball: ", "25 mm surfacing: ", "8 mm flat, long: ", "3 mm flat: ")


class FromNothing(Shop):
    def test_from_the_numbers_of_a_drawing_to_checked_programs_in_inches(self):
        walk, page = Walk(self.page), self.page
        shop_with(self, walk, HANG)
        self.board(walk)
        first_body.FirstBody.settle(self, walk)
        self.programs(walk)
        print(f"\n{walk}")
        self.assertLessEqual(walk.minutes, MOST_MINUTES)
        number = int(page.url.split("/")[-2])
        state = self.server.call("GET", f"/api/routes/{number}")[1]
        made = {f for o in state["document"]["operations"] for f in o["features"]}
        self.assertEqual({s["id"] for s in state["drawing"]["solids"]} - made, set())
        self.assertAlmostEqual(state["document"]["piece"]["board"]["scale_mm"], 628.65)
        findings = state["proof"]["report"]["findings"]
        self.assertEqual([f["code"] for f in findings if f["severity"] != "note"], [])
        for link in page.locator(".files a").all():
            self.assertIn("\nG20\n", self.server.call("GET", link.get_attribute("href"))[1].decode())

    def board(self, walk):
        page = self.page
        begin(self, walk, "Dunnock board", "Fretboard", "scale, wide at the nut")
        make(self, walk, NUMBERS)
        page.wait_for_url("**/board")
        walk.panel("the board")
        walk.wait(page.get_by_role("heading", name="Section at fret 12"))
        self.assertEqual(self.axe(), [])

    def programs(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Run", exact=True))
        walk.panel("load, zero, run")
        walk.press(page.get_by_role("checkbox", name="Cut a slot in scrap, try the wire").first)
        walk.wait(page.get_by_role("checkbox", name="Cut a slot in scrap, try the wire", checked=True).first)
        walk.press(page.get_by_text("Write the programs"))
        walk.wait(page.get_by_text("Read back and simulated").first, 120)


class Page(Browser):
    def test_keys_walk_along_the_frets_and_numbers_move_what_follows(self):
        page = self.page
        number = self.new_route(board_route(wire={"tang_depth_mm": 1.6, "tang_mm": None, "barbs_mm": 0.86}))
        page.goto(f"{self.server.url}/routes/{number}/board")
        plan = page.get_by_role("slider", name="Fret that is looked at")
        plan.wait_for()
        plan.focus()
        plan.press("ArrowRight")
        page.get_by_role("heading", name="Section at fret 13").wait_for()
        plan.press("End")
        page.get_by_role("heading", name="Section at fret 22").wait_for()
        plan.press("Home")
        page.get_by_role("heading", name="Section at the nut").wait_for()
        page.get_by_role("button", name="12", exact=True).click()
        page.get_by_role("heading", name="Section at fret 12").wait_for()
        page.get_by_role("heading", name="Section at fret 12").click()
        page.keyboard.press("ArrowLeft")  # wherever the hand is
        page.get_by_role("heading", name="Section at fret 11").wait_for()
        page.get_by_role("button", name="The side that is glued").click()
        page.get_by_text("Seen from below").wait_for()
        self.assertEqual(page.locator(".plan circle").count(), 0)
        page.get_by_role("button", name="Its face").click()
        page.get_by_text("No fret slots are cut").wait_for(timeout=60_000)
        page.get_by_role("tab", name="Wire").click()
        page.get_by_text("Until then no slot is cut").wait_for()
        self.assertEqual(self.axe(), [])
        tang = page.get_by_label("Readings of: Tang, between its barbs")
        tang.fill("0.58; 0.57; 0.60")
        with page.expect_response("**/edits"):
            tang.press("Tab")
        page.get_by_text("0.58, 0.03 apart").wait_for()
        self.assertEqual(page.get_by_label("Tang, between its barbs", exact=True).count(), 0)
        page.get_by_text("The 0.6 mm slot bit cuts them, once through each").wait_for()
        self.assertEqual(page.get_by_text("Until then no slot is cut").count(), 0)
        with page.expect_response("**/edits"):
            page.get_by_label("after the radius").check()
        page.get_by_role("link", name="Route", exact=True).click()
        slots = page.get_by_text("Fret slots", exact=True).first
        slots.wait_for()
        order = self.server.call("GET", f"/api/routes/{number}")[1]["document"]["operations"]
        ids = [o["id"] for o in order]
        self.assertGreater(ids.index("profile_fret_slots"), ids.index("surface_finish_board_face"))
        slots.click()
        page.get_by_text("down along the slot, to and fro").wait_for()
        self.assertEqual(page.get_by_label("Finish pass along the wall").count(), 0)

    def test_a_piece_that_is_no_board_says_so(self):
        number = self.new_route(route_named("control_plate"))
        self.page.goto(f"{self.server.url}/routes/{number}/board")
        self.page.get_by_text("This piece is no board made from numbers").wait_for()
