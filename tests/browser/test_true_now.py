"""What stands on screen is of now or says that it is not; what somebody else did is told; undo says why it does
nothing."""

import os
import signal
import time

import psycopg
from playwright.sync_api import expect

from birch_route.demo.fitted import fitted_route
from tests.browser.test_screens import Browser
from tests.support import changed, put, route_named

BOLD = 14.0
SLOW_TICKS = """() => { const real = window.fetch
    window.fetch = (u, o) => o?.method === 'POST' && String(u).endsWith('/bench')
        ? new Promise((r) => setTimeout(r, 1500)).then(() => real(u, o)) : real(u, o) }"""


class TrueNow(Browser):
    def open(self, route, place="route"):
        self.id = self.new_route(route)
        self.page.goto(f"{self.server.url}/routes/{self.id}/{place}")

    def state(self):
        return self.server.call("GET", f"/api/routes/{self.id}")[1]

    def said(self, words):
        """Wait until what was done is said to those who listen."""
        self.page.locator(".visually-hidden[aria-live]", has_text=words).wait_for(state="attached")

    def weighs(self, kg):
        """Wait until the blank is kept with a weight."""
        deadline = time.monotonic() + 20
        while self.state()["document"]["blank"]["weighed_kg"] != kg and time.monotonic() < deadline:
            time.sleep(0.1)
        self.assertEqual(self.state()["document"]["blank"]["weighed_kg"], kg)

    def workers(self, what):
        for pid in self.server.pids("jobs.worker"):
            os.kill(pid, what)

    def halted(self):
        """Stop every worker, as a long proof would; they go on when the test ends."""
        self.workers(signal.SIGSTOP)
        self.addCleanup(self.workers, signal.SIGCONT)

    def theirs(self, *edits):
        body = {"revision": self.state()["revision"], "edits": list(edits), "reason": "Another hand"}
        self.assertEqual(self.server.call("POST", f"/api/routes/{self.id}/edits", body)[0], 200)

    def test_programs_wait_for_a_tick_that_is_on_its_way(self):
        gate = {"id": "look", "name": "Look at the sheet", "minutes": 1, "gate": True}
        self.open(changed(route_named("control_plate"), put("bench_steps", [gate])), "run")
        self.page.get_by_role("button", name="Write the programs").wait_for(timeout=120_000)
        self.page.evaluate(SLOW_TICKS)
        self.page.get_by_role("checkbox", name="Look at the sheet").click()
        self.page.get_by_role("button", name="Write the programs").click()
        self.page.get_by_text("Read back and simulated: the wood agrees").wait_for(timeout=60_000)
        self.assertEqual(self.page.get_by_text("Every program waits").count(), 0)

    def test_old_findings_are_grey_and_cannot_be_pressed_and_a_cure_says_what_became_of_it(self):
        plate = route_named("control_plate")
        deep = "operations.bore_pot_holes.settings.depth_of_cut_mm"
        self.open(changed(plate, put("note", "true now"), put(deep, BOLD)))
        cure = self.page.locator(".finding .cure").first
        cure.wait_for(timeout=120_000)
        letter = self.page.locator(".finding [data-letter]").first.get_attribute("data-letter")
        self.halted()
        cure.click()
        self.page.get_by_text(f"{letter}, at work:").wait_for()
        before = self.page.locator(".of-before .finding").first
        before.wait_for()
        revision = self.state()["revision"]
        self.assertTrue(self.page.evaluate("document.querySelector('.of-before .cure').closest('[inert]') !== null"))
        self.page.keyboard.press("Enter")  # the key of the first cure takes none that is of before
        time.sleep(0.3)
        self.assertEqual(self.state()["revision"], revision)
        self.workers(signal.SIGCONT)
        self.page.get_by_text(f"{letter}, settled:").wait_for(timeout=120_000)
        expect(self.page.locator(".of-before")).to_have_count(0)

    def test_the_run_sheet_the_holding_and_the_jig_say_that_they_are_of_before(self):
        self.open(changed(route_named("control_plate"), put("note", "sheet of before")), "run")
        self.page.get_by_text("On the bed").or_(self.page.get_by_text("Safety")).first.wait_for(timeout=120_000)
        self.halted()
        feed = f"operations.{self.state()['document']['operations'][0]['id']}.settings.feed_mm_min"
        self.theirs(put(feed, 1850))
        self.page.get_by_role("button", name="Show it").click()
        self.page.get_by_text("This run sheet is of before").wait_for()
        self.assertEqual(self.page.locator("[inert] .tick").count(), self.page.locator(".tick").count())
        self.page.get_by_role("link", name="Hold", exact=True).click()
        self.page.get_by_text("it is being cut on paper and judged anew").wait_for()
        self.workers(signal.SIGCONT)
        expect(self.page.locator(".of-before")).to_have_count(0, timeout=120_000)

    def test_another_hand_is_told_and_a_conflict_shows_both(self):
        self.open(changed(route_named("control_plate"), put("note", "two hands")), "blank")
        weight = self.page.get_by_label("The blank weighs")
        weight.wait_for()
        self.theirs(put("blank.weighed_kg", 0.7))
        self.page.get_by_text("has changed this job meanwhile: Another hand").wait_for()
        weight.fill("0.5")
        weight.press("Enter")
        both = self.page.get_by_role("alertdialog", name="Two changes at once")
        both.wait_for()
        self.assertRegex(both.inner_text(), r"(?s)Theirs, as it stands.*Another hand.*Mine, not yet made")
        self.assertRegex(both.inner_text(), r"It was nothing, theirs\s+made it 0\.7, mine makes it 0\.5")
        self.assertEqual(self.axe(), [])
        both.get_by_role("button", name="Make mine on top").click()
        both.wait_for(state="detached")
        self.weighs(0.5)

    def test_what_this_page_did_itself_is_no_news(self):
        self.open(changed(route_named("control_plate"), put("note", "my own")), "blank")
        weight = self.page.get_by_label("The blank weighs")
        weight.wait_for()
        for typed in ("0.31", "0.32", "0.33"):
            weight.fill(typed)
            weight.press("Enter")
        expect(self.page.get_by_role("button", name="Undo")).not_to_have_class("none")
        self.weighs(0.33)
        self.assertEqual(self.page.get_by_text("has changed this job meanwhile").count(), 0)

    def test_undo_works_wherever_the_focus_is_and_says_why_it_does_nothing(self):
        self.open(changed(route_named("control_plate"), put("note", "undo")), "blank")
        weight = self.page.get_by_label("The blank weighs")
        weight.wait_for()
        self.page.get_by_role("button", name="Undo").click()
        self.page.locator(".told", has_text="Nothing to undo: this is how the job began.").wait_for()
        weight.fill("0.4")
        weight.press("Enter")
        self.said("Changed")
        self.page.keyboard.press("Control+z")  # the focus is still in the field, with nothing typed since
        self.said("Undo")
        self.assertIsNone(self.state()["document"]["blank"]["weighed_kg"])
        revision = self.state()["revision"]
        weight.press_sequentially("0.9")
        self.page.keyboard.press("Control+z")  # in the midst of typing it is the field's own
        time.sleep(0.4)
        self.assertEqual(self.state()["revision"], revision)

    def test_the_heading_names_the_setup_of_what_lies_under_it(self):
        self.page.set_viewport_size({"width": 1280, "height": 190})
        self.open(changed(fitted_route(True), put("note", "headings")))
        self.page.locator("ol .row[aria-current=step]", has_text="Outline").wait_for()  # it opens at its end
        setups = self.state()["document"]["setups"]
        heading = self.page.locator(".face h2")
        rows = self.page.locator(".middle .scroll")
        for part, setup in ((0, 0), (1, 1), (0, 0)):
            rows.evaluate("(list, part) => { list.scrollTop = part * list.scrollHeight }", part)
            expect(heading).to_have_text(setups[setup]["name"])
        here = self.page.locator("[aria-current=step] .name").inner_text().split("\n")[0]
        self.assertEqual(self.page.locator(".sheet h2.name").inner_text(), here)

    def test_the_name_of_who_is_signed_in_opens_the_way_out(self):
        self.open(changed(route_named("control_plate"), put("note", "signing out")))
        status, link = self.server.call("POST", "/api/people", {"name": "Wren", "role": "planner"})
        self.assertEqual(status, 200)
        context = self.page.context.browser.new_context()
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(link["link"])
        page.goto(f"{self.server.url}/routes/{self.id}/route")
        page.get_by_role("button", name="Signed in as Wren").click()
        page.get_by_role("button", name="Sign out here").click()
        page.get_by_text("You have signed out here").wait_for()
        page.goto(f"{self.server.url}/api/me")
        self.assertIn("not signed in", page.content())

    def test_a_record_kept_by_a_slip_is_withdrawn_beside_it(self):
        self.open(changed(route_named("control_plate"), put("note", "a slip")), "run")
        self.page.get_by_role("button", name="Keep the record").click(timeout=120_000)
        self.page.get_by_text("Say first how the whole run went").wait_for()
        self.choose("The whole run went", "Fine")
        self.page.get_by_role("button", name="Keep the record").click()
        self.page.get_by_role("button", name="Withdraw the record").click()
        self.page.get_by_text("it counts no more").first.wait_for()
        self.assertEqual(self.page.get_by_role("button", name="Withdraw the record").count(), 0)
        self.assertEqual(self.axe(), [])

    def test_on_a_phone_nothing_runs_out_at_the_side_and_every_place_is_reached(self):
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open(changed(fitted_route(True), put("note", "on a phone")))
        self.page.locator("ol .row[aria-current=step]", has_text="Outline").wait_for()
        for place in ("Route", "Run", "Hold", "Shop", "Blank", "Lay out", "Measure"):
            with self.subTest(place):
                self.page.get_by_role("link", name=place, exact=True).click()
                self.page.locator(".place.here", has_text=place).wait_for()
                self.page.get_by_role("button", name="Signed in as").wait_for()
                self.assertEqual(self.page.evaluate("document.documentElement.scrollWidth"), 390)
        self.page.get_by_role("link", name="Route", exact=True).click()
        self.page.locator("ol .row[aria-current=step]", has_text="Outline").wait_for()
        wide = "() => [document.querySelector('.left').scrollWidth, document.querySelector('.route').scrollTop]"
        self.assertEqual(self.page.evaluate(wide), [390, 0])  # one column that opens at its head

    def older(self):
        """Let the proof of what is open be one that an earlier version of the program made."""
        digest = self.state()["hash"]
        with psycopg.connect(self.server.database_url, autocommit=True) as connection:
            connection.execute("update proof set made_with = 'an older one' where hash = %s", [digest])

    def test_a_proof_of_an_earlier_version_is_said_to_be_made_anew_and_who_may_not_ask_is_told(self):
        self.id = self.new_route(changed(route_named("control_plate"), put("note", "older proof")))
        self.older()
        self.halted()
        self.page.goto(f"{self.server.url}/routes/{self.id}/hold")
        said = self.page.get_by_text("by an earlier version of the program")
        self.assertIn("it is being made anew", said.first.text_content(timeout=60_000))
        self.workers(signal.SIGCONT)
        said.first.wait_for(state="detached", timeout=120_000)
        self.older()
        link = self.server.call("POST", "/api/people", {"name": f"Guest {self.id}", "role": "viewer"})[1]["link"]
        guest = self.browser.new_context(viewport={"width": 1280, "height": 800})
        self.addCleanup(guest.close)
        page = guest.new_page()
        page.goto(self.server.url + link[link.index("/sign-in"):])
        page.goto(f"{self.server.url}/routes/{self.id}/route")
        page.get_by_text("Somebody who plans or runs has it made anew").wait_for(timeout=60_000)
