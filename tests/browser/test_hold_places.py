"""Where Z is touched off and where the machine parks are set on the plan and by number."""

from playwright.sync_api import expect

from tests.browser.test_screens import Browser
from tests.support import route_named


class HoldPlaces(Browser):
    def setUp(self):
        super().setUp()
        self.route = self.new_route(route_named("siskin_body"))
        self.page.goto(f"{self.server.url}/routes/{self.route}/hold")
        self.page.get_by_role("tab", name="Found again").click()

    def setup_now(self):
        return self.server.call("GET", f"/api/routes/{self.route}")[1]["document"]["setups"][0]

    def until(self, there):
        for _ in range(200):
            if there():
                return
            self.page.wait_for_timeout(100)
        self.fail(f"it did not come: {self.setup_now()}")

    def test_the_park_place_is_typed_and_moved_with_the_arrows(self):
        x = self.page.get_by_label("Parks from the corner, x")
        x.fill("-20")
        x.press("Enter")
        self.until(lambda: self.setup_now()["park_mm"] == [-20, 0])
        mark = self.page.get_by_role("button", name="Starts and parks at")
        mark.focus()
        self.page.keyboard.press("Shift+ArrowUp")
        self.until(lambda: self.setup_now()["park_mm"] == [-20, 10])
        expect(self.page.get_by_label("Parks from the corner, y")).to_have_value("10.0")
        box = mark.bounding_box()
        self.page.mouse.move(box["x"] + 14, box["y"] + box["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 60, box["y"] + 20, steps=4)
        self.page.mouse.up()
        self.until(lambda: self.setup_now()["park_mm"][0] > 0)

    def test_where_z_is_touched_off_on_the_wood_is_moved_and_judged(self):
        self.choose("Z", "Top of the blank")
        self.until(lambda: self.setup_now()["zero"]["z"] == "stock_top")
        self.page.get_by_role("tab", name="How it is held").click()
        self.page.get_by_text("the place is").first.wait_for(timeout=120_000)
        self.page.get_by_role("tab", name="Found again").click()
        for name, value in (("x", "-25"), ("y", "150")):
            field = self.page.get_by_label(f"Z touched off at, {name}")
            field.fill(value)
            field.press("Enter")
            self.until(lambda name=name, value=value: self.setup_now()["zero"][f"touch_{name}_mm"] == float(value))
        mark = self.page.get_by_role("button", name="Z is touched off at")
        mark.focus()
        self.page.keyboard.press("ArrowRight")
        self.until(lambda: self.setup_now()["zero"]["touch_x_mm"] == -24)
        self.page.get_by_role("tab", name="How it is held").click()
        expect(self.page.get_by_text("Z is touched off on the blank")).to_have_count(0, timeout=120_000)
