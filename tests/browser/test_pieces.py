"""Several pieces at once by hand: laid on the bed, shown there, a program for each."""

from tests.browser.test_screens import Browser
from tests.support import changed, put, route_named


class Pieces(Browser):
    def test_three_plates_side_by_side_get_a_program_each(self):
        page = self.page
        ready = changed(route_named("control_plate"), put("bench_steps", []))
        number = self.new_route(ready)
        page.goto(f"{self.server.url}/routes/{number}/hold")
        page.get_by_role("tab", name="Several").click()
        count = page.get_by_label("How many")
        count.fill("13")
        count.press("Tab")
        page.get_by_text("From 1 to 12 pieces").wait_for()
        self.assertTrue(page.get_by_role("button", name="Lay them so").is_disabled())
        count.fill("3")
        count.press("Tab")
        with page.expect_response("**/edits"):
            page.get_by_role("button", name="Lay them so").click()
        page.get_by_text("3 pieces take").wait_for()
        self.assertEqual(self.axe(), [])
        more = self.server.call("GET", f"/api/routes/{number}")[1]["document"]["setups"][0]["more_at"]
        self.assertEqual(more, [[0.0, 120.0], [0.0, 240.0]])
        page.get_by_label("Apart").fill("40")
        page.get_by_label("Apart").press("Tab")
        with page.expect_response("**/edits"):
            page.get_by_role("button", name="Lay them so").click()
        page.get_by_role("tab", name="How it is held").click()
        page.get_by_text("Lay them further apart").wait_for(timeout=60_000)
        with page.expect_response("**/edits"):
            page.get_by_role("button", name="Lay them", exact=False).first.click()
        page.get_by_text("Lay them further apart").wait_for(state="detached", timeout=60_000)
        page.get_by_role("link", name="Run", exact=True).click()
        page.get_by_text("3 blanks alike").wait_for(timeout=60_000)
        page.get_by_role("button", name="Write the programs").click()
        page.get_by_text("Read back and simulated: the wood agrees").wait_for(timeout=60_000)
        names = page.locator(".files a").all_inner_texts()
        self.assertEqual(len([n for n in names if "piece_2" in n]), len(names) // 3)


if __name__ == "__main__":
    import unittest

    unittest.main()
