"""A neck by hand: from an empty shop and the numbers of a drawing, in inches, to checked programs for both faces; its
page by keys and by dragging; what was not told of its rod and tuners."""

import tests.browser.test_first_body as first_body
from tests.browser.from_numbers import begin, make, shop_with
from tests.browser.test_own_shop import Shop
from tests.browser.test_screens import Browser
from tests.browser.walk import Walk
from tests.core.boards import board_route
from tests.core.necks import neck, the_route
from tests.support import route_named

MOST_MINUTES = 25.0
NUMBERS = (
    ("Scale", "25"), ("Wide at the nut", "1 11/16"), ("Wide at the board’s end", "2.2"),
    ("Board thick at the crown", "1/4"), ("Radius at the nut", "12"), ("Radius at its end", "12"),
    ("Thick at the 1st, with board", "0.83"), ("Thick at the 12th, with board", "0.9"),
    ("Face below the glue plane", "0.3"), ("Thick, from its face", "9/16"),
    ("Heel begins, from the nut", "15 3/4"), ("Heel deep, below the glue plane", "3/4"),
    ("Rod wide", "1/4"), ("Rod high", "3/8"), ("Rod long", "15 3/8"),
    ("Bore for the post", "5/16"), ("Bore for the bush, at the face", "0.4"), ("Bush deep", "0.24"),
    ("Post to post", "1.4"), ("String’s hole over the face", "0.16"), ("Clamps at least", "0.5"),
)
HANG = ("12 mm ball: ", "25 mm surfacing: ", "8 mm flat, long: ", "6 mm flat: ", "4.8 mm drill: ")


class FromNothing(Shop):
    def test_from_the_numbers_of_a_drawing_to_checked_programs_for_both_faces_in_inches(self):
        walk, page = Walk(self.page), self.page
        shop_with(self, walk, HANG)
        self.neck(walk)
        first_body.FirstBody.settle(self, walk)
        self.programs(walk)
        print(f"\n{walk}")
        self.assertLessEqual(walk.minutes, MOST_MINUTES)
        number = int(page.url.split("/")[-2])
        state = self.server.call("GET", f"/api/routes/{number}")[1]
        made = {f for o in state["document"]["operations"] for f in o["features"]}
        self.assertEqual({s["id"] for s in state["drawing"]["solids"]} - made, set())
        self.assertAlmostEqual(state["document"]["piece"]["neck"]["board"]["scale_mm"], 635.0)
        self.assertEqual([s["face"] for s in state["document"]["setups"]], ["front", "back"])
        findings = state["proof"]["report"]["findings"]
        self.assertEqual([f["code"] for f in findings if f["severity"] == "stop"], [])
        for link in page.locator(".files a").all():
            self.assertIn("\nG20\n", self.server.call("GET", link.get_attribute("href"))[1].decode())

    def neck(self, walk):
        page = self.page
        begin(self, walk, "Dunnock neck", "Neck", "scale, wide at the nut")
        walk.press(page.get_by_role("radio", name="Full round"))
        make(self, walk, NUMBERS)
        page.wait_for_url("**/neck")
        walk.panel("the neck")
        walk.wait(page.get_by_role("heading", name="Section at fret 5"))
        self.assertEqual(self.axe(), [])

    def programs(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Run", exact=True))
        walk.panel("load, zero, run")
        walk.press(page.get_by_text("Write the programs"))
        walk.wait(page.get_by_text("Read back and simulated").first, 240)


class Page(Browser):
    def test_keys_walk_along_the_neck_and_a_dragged_section_sets_a_station(self):
        page = self.page
        number = self.new_route(the_route(neck(head={"step_mm": 7.5}, rod={"width_mm": None}), wood="khaya"))
        page.goto(f"{self.server.url}/routes/{number}/neck")
        plan = page.get_by_role("slider", name="Fret that is looked at")
        plan.wait_for()
        plan.focus()
        plan.press("ArrowRight")
        page.get_by_role("heading", name="Section at fret 6").wait_for()
        plan.press("Home")
        page.get_by_role("heading", name="Section at the nut").wait_for()
        page.get_by_role("button", name="7", exact=True).click()
        page.get_by_role("heading", name="Section at fret 7").click()
        page.keyboard.press("ArrowRight")  # wherever the hand is
        page.get_by_role("heading", name="Section at fret 8").wait_for()
        apex = page.get_by_role("slider", name="How thick it is here")
        apex.scroll_into_view_if_needed()
        box = apex.bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 6, steps=4)
        with page.expect_response("**/edits"):
            page.mouse.up()
        page.get_by_text("Take away").wait_for()
        station = self.neck_of(number)["stations"][0]
        self.assertGreater(station["thick_mm"], 22.2)
        shoulder = page.get_by_role("slider", name="How full its shoulders are here")
        shoulder.focus()
        with page.expect_response("**/edits"):
            shoulder.press("ArrowRight")
        self.assertGreater(self.neck_of(number)["stations"][0]["rim"], 2.3)
        typed = page.get_by_label("Thick here, with the board")
        typed.fill("22.5")
        with page.expect_response("**/edits"):
            typed.press("Tab")
        self.assertAlmostEqual(self.neck_of(number)["stations"][0]["thick_mm"], 22.5)
        self.assertEqual(self.axe(), [])

    def test_no_channel_without_a_rod_and_with_it_one(self):
        page = self.page
        number = self.new_route(the_route(neck(head={"step_mm": 7.5}, rod={"width_mm": None}), wood="khaya"))
        page.goto(f"{self.server.url}/routes/{number}/neck")
        page.get_by_text("Still to be read or told: the rod").wait_for()
        page.get_by_text("No channel is cut for a rod").wait_for(timeout=60_000)
        page.get_by_role("tab", name="Rod").click()
        wide = page.get_by_label("Rod wide")
        wide.fill("6")
        with page.expect_response("**/edits"):
            wide.press("Tab")
        page.get_by_text("under the rod", exact=True).wait_for()
        state = self.server.call("GET", f"/api/routes/{number}")[1]
        self.assertIn("pocket_rod_channel", [o["id"] for o in state["document"]["operations"]])
        page.get_by_role("tab", name="Strings").click()
        page.get_by_text("1, bass").wait_for()
        page.get_by_role("tab", name="Wood").click()
        page.get_by_text("with ears glued on").wait_for()
        self.assertEqual(self.axe(), [])

    def test_a_neck_that_is_liked_gives_its_back(self):
        page = self.page
        number = self.new_route(the_route(neck(head={"step_mm": 7.5}), wood="khaya"))
        page.goto(f"{self.server.url}/routes/{number}/neck")
        page.get_by_text("Read a neck you like").click()
        fit = page.get_by_role("button", name="Fit a back to them")
        self.assertTrue(fit.is_disabled())
        for reading, (thick, below, wide) in {1: ("20.2", "7.2", "40.1"), 4: ("23.0", "9.5", "46.3")}.items():
            for label, text in ((f"Thick, reading {reading}", thick), (f"Below the board, reading {reading}", below),
                                (f"Wide there, reading {reading}", wide)):
                page.get_by_label(label).fill(text)
                page.get_by_label(label).press("Tab")
        fit.click()
        page.get_by_text("20.20 thick at the 1st, 23.00 at the 12th; shoulders").wait_for()
        self.assertEqual(self.axe(), [])
        with page.expect_response("**/edits"):
            page.get_by_role("button", name="Take this back").click()
        got = self.neck_of(number)
        self.assertAlmostEqual(got["thick_1st_mm"], 20.2)
        self.assertGreater(got["stations"][0]["rim"], 1.99)

    def test_a_new_neck_takes_a_board_made_here(self):
        page = self.page
        self.new_route(board_route().model_copy(update={"job": "Linnet board"}))
        page.goto(f"{self.server.url}/new")
        page.get_by_role("radio", name="Neck").click()
        page.get_by_label("Made here: the board of").wait_for()
        self.choose("Made here: the board of", "Linnet board")
        page.get_by_text("Drawn once it is known: thick at the 1st").wait_for()
        self.assertEqual(page.get_by_label("Scale", exact=True).input_value(), "648.00")

    def test_a_piece_that_is_no_neck_says_so(self):
        number = self.new_route(route_named("control_plate"))
        self.page.goto(f"{self.server.url}/routes/{number}/neck")
        self.page.get_by_text("This piece is no neck made from numbers").wait_for()

    def neck_of(self, number):
        return self.server.call("GET", f"/api/routes/{number}")[1]["document"]["piece"]["neck"]
