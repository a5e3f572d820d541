"""A body that fits a neck made in this shop, by hand: it takes the neck's sizes, the caliper comes before them, and a
neck that changes is told."""

from tests.browser.test_screens import Browser
from tests.core.necks import neck, the_route
from tests.support import put, route_named


class MadeHere(Browser):
    def test_a_body_takes_the_sizes_of_a_neck_and_follows_it(self):
        page = self.page
        made = self.new_route(the_route(neck(head={"step_mm": 7.5}), wood="khaya").model_copy(
            update={"job": "Wren neck"}))
        route = route_named("siskin_body")
        parts = [p.model_copy(update={"readings": []}) if p.kind.value == "neck" else p for p in route.parts]
        body = self.new_route(route.model_copy(update={"parts": parts}))
        page.goto(f"{self.server.url}/routes/{body}/measure")
        page.get_by_role("tab", name="Neck").click()
        page.get_by_label("Made here: the neck of").wait_for()
        self.choose("Made here: the neck of", "Wren neck")
        page.get_by_text("come from Wren neck, as it is now").wait_for()
        page.get_by_text("computed by its route").first.wait_for()
        page.get_by_text("that something is cut by come from the route of Wren neck").wait_for(timeout=60_000)
        self.assertAlmostEqual(self.depth(body), self.depth_with(body, 25.0), places=6)
        self.assertEqual(self.axe(), [])
        page.get_by_role("button", name="Thick, with board").click()
        page.locator("#reading").fill("25.4")
        with page.expect_response("**/edits"):
            page.locator("#reading").press("Enter")
        page.get_by_text("its route says 25.00").wait_for(timeout=60_000)
        state = self.server.call("GET", f"/api/routes/{made}")[1]
        self.server.call("POST", f"/api/routes/{made}/edits", {
            "revision": state["revision"], "edits": [put("piece.neck.heel_mm", 20.0)]})
        page.reload()
        page.get_by_role("tab", name="Neck").click()
        page.get_by_text("Wren neck has changed since: thick, with board 26.00").wait_for()
        page.get_by_role("button", name="Take its sizes again").click()
        page.get_by_text("come from Wren neck, as it is now").wait_for()

    def depth(self, number):
        drawing = self.server.call("GET", f"/api/routes/{number}")[1]["drawing"]
        return next(d["value_mm"] for d in drawing["derivations"] if d["id"] == "neck_pocket_depth")

    def depth_with(self, number, heel_mm):
        drawing = self.server.call("GET", f"/api/routes/{number}")[1]["drawing"]
        terms = next(d["terms"] for d in drawing["derivations"] if d["id"] == "neck_pocket_depth")
        heel = next(t for t in terms if t["place"] == "neck.heel_thickness")
        self.assertEqual((heel["origin"], heel["value_mm"]), ("computed", heel_mm))
        return self.depth(number)
