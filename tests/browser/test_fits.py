"""How a part fitted is kept at the machine by hand, and the next pocket starts from it."""

from playwright.sync_api import expect

from tests.browser.test_screens import Browser
from tests.support import changed, put, route_named


class Fits(Browser):
    def test_a_fit_is_kept_offered_taken_and_withdrawn(self):
        body = changed(route_named("siskin_body"), put("machine.name", "Router of the fits"))
        route = self.new_route(body)
        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.get_by_role("heading", name="How parts fitted").wait_for()
        neck = self.page.locator("details", has_text="Neck pocket").filter(has_text="wider on each side")
        neck.locator("summary").click()
        self.page.get_by_role("button", name="Keep this fit").first.click()
        self.page.get_by_role("alert").get_by_text("Say first how the part went").wait_for()
        self.choose("Neck pocket, it went", "Fits")
        measured = self.page.get_by_label("Pocket measured, across its end")
        measured.fill("46.22")
        measured.press("Tab")
        self.page.get_by_role("button", name="Keep this fit").first.click()
        self.page.get_by_role("status").get_by_text("It is where the next one starts").wait_for()
        self.page.get_by_text("measured 46.22").wait_for()
        self.assertEqual(self.axe(), [])

        self.page.goto(f"{self.server.url}/routes/{route}/layout?topic=fits")
        here = self.page.locator("section", has=self.page.get_by_role("heading", name="What fitted here")).last
        here.get_by_text("It fitted once on this machine, with 0.05 on each side; drawn are 0.08").wait_for()
        here.get_by_role("button", name="Draw it with the gap that fitted").first.click()
        here.get_by_text("It is drawn so").wait_for()
        here.get_by_role("button", name="Move the wall by that").first.click()
        here.get_by_text("Its wall is moved by that").first.wait_for()
        document = self.server.call("GET", f"/api/routes/{route}")[1]["document"]
        pocket = next(o for o in document["operations"] if o["id"] == "pocket_neck_pocket")
        self.assertEqual((document["choices"]["fit_gap_mm"], pocket["stock_to_leave_mm"]), (0.05, -0.031))
        self.page.get_by_role("button", name="Undo").click()
        here.get_by_role("button", name="Move the wall by that").first.wait_for()

        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.locator("details", has_text="Neck pocket").filter(has_text="fits").first.locator("summary").click()
        self.page.get_by_role("button", name="Withdraw how neck pocket went, fits").click()
        self.page.get_by_text("Withdrawn by").wait_for()
        self.page.goto(f"{self.server.url}/routes/{route}/layout?topic=fits")
        self.page.get_by_role("heading", name="Corners the bit leaves round").wait_for()
        expect(self.page.get_by_role("heading", name="What fitted here")).to_have_count(0)
        self.page.locator("summary", has_text="Try a fit on scrap first").click()
        self.page.get_by_role("button", name="Make the ladder for neck pocket a job").click()
        self.page.wait_for_function(f"() => !location.pathname.includes('/routes/{route}/')")
        self.page.get_by_text("Fit coupon for 46.12").first.wait_for()
