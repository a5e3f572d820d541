"""The bench by hand, from an empty shop: jobs are brought in, found, renamed, noted, copied and put away without
being opened; how far each is stands beside it."""

import shutil
import tempfile
from pathlib import Path

from playwright.sync_api import expect, sync_playwright

from birch_route.formats.route_file import route_to_text
from tests.browser.test_screens import ARGUMENTS, Browser
from tests.support import LiveServer, route_named


class Bench(Browser):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)
        cls.playwright = sync_playwright().start()
        program = shutil.which("chromium") or "/usr/bin/chromium"
        cls.browser = cls.playwright.chromium.launch(executable_path=program, args=ARGUMENTS)
        cls.addClassCleanup(cls.playwright.stop)
        cls.addClassCleanup(cls.browser.close)

    def row(self, name):
        return self.page.locator("li", has=self.page.get_by_role("link", name=name, exact=True))

    def press(self, what):
        """Press a button by the keyboard."""
        button = self.page.get_by_role("button", name=what, exact=True)
        button.focus()
        self.page.keyboard.press("Enter")

    def test_jobs_are_brought_in_and_kept_in_order_without_opening_one(self):
        self.page.goto(f"{self.server.url}/")
        self.page.get_by_text("The shop is empty").wait_for()
        folder = Path(tempfile.mkdtemp(prefix="birch-test-", dir="/var/tmp"))
        self.addCleanup(shutil.rmtree, folder)
        file = folder / "plate.birch.json"
        file.write_text(route_to_text(route_named("control_plate")))
        self.page.get_by_label("Route file", exact=True).set_input_files(file)
        self.page.wait_for_url("**/route")
        self.page.get_by_role("link", name="Birch Route, all jobs").click()
        name = route_named("control_plate").job
        row = self.row(name)
        row.get_by_text("Ready for").or_(row.get_by_text("At the bench")).first.wait_for(timeout=120_000)
        self.press(f"Rename {name}")
        self.page.keyboard.type("Wren plate")
        self.page.keyboard.press("Enter")
        self.row("Wren plate").wait_for()
        self.press("Note of Wren plate")
        self.page.keyboard.type("For Ilse")
        self.page.keyboard.press("Tab")
        self.page.keyboard.press("Enter")
        self.row("Wren plate").get_by_text("For Ilse").wait_for()
        self.press("New one like Wren plate")
        self.page.keyboard.type("Wren plate, second")
        self.page.keyboard.press("Enter")
        self.page.wait_for_url("**/measure")
        self.page.get_by_role("link", name="Birch Route, all jobs").click()
        find = self.page.get_by_role("textbox", name="Find: name, wood, kind, word in a note")
        find.fill("second")
        expect(self.page.locator("li")).to_have_count(1)
        find.fill("ilse")
        self.row("Wren plate").wait_for()
        expect(self.page.locator("li")).to_have_count(1)
        find.fill("")
        expect(self.page.locator("li")).to_have_count(2)
        self.press("Put Wren plate, second away")
        expect(self.page.locator("li")).to_have_count(1)
        self.press("Look through them")
        self.page.get_by_role("heading", name="Put away").wait_for()
        self.row("Wren plate, second").get_by_text("Put away by").wait_for()
        self.assertEqual(self.axe(), [])
        self.press("Take it out again")
        self.page.get_by_text("Nothing is put away").wait_for()
        self.press("Back to the bench")
        expect(self.page.locator("li")).to_have_count(2)

    def test_what_cannot_be_kept_says_why_and_nothing_is_lost(self):
        made = self.server.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]
        self.page.goto(f"{self.server.url}/")
        name = route_named("control_plate").job
        self.row(name).wait_for()
        self.press(f"Rename {name}")
        other = {"revision": 1, "edits": [{"do": "set", "path": "note", "value": "Another hand"}]}
        self.assertEqual(self.server.call("POST", f"/api/routes/{made['route']}/edits", other)[0], 200)
        self.page.keyboard.type("Mine")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("alert").get_by_text("changed this route while you did").wait_for()
        self.assertEqual(self.page.get_by_label("Name", exact=True).input_value(), "Mine")
