"""The shop floor in the real browser: a zero found by its numbers, a work offset checked, a piece in its nest, a jig used."""

import re

from birch_route.demo.fill import first_try_route
from birch_route.demo.jigs import jig_routes
from birch_route.demo.shop import BELT_MACHINE
from tests.browser.test_screens import Browser
from tests.core.test_nest import nested
from tests.support import changed, put, route_named


class Floor(Browser):
    def hold(self, route, *tabs):
        self.page.goto(f"{self.server.url}/routes/{self.new_route(route)}/hold")
        self.page.get_by_role("img", name="pulls").wait_for(timeout=60_000)
        for name in tabs:
            self.page.get_by_role("tab", name=name).click()

    def choose(self, label, option):
        self.page.get_by_label(label).first.locator("xpath=ancestor::*[contains(@class,'v-select')][1]").click()
        self.page.get_by_role("option", name=option).click()

    def test_a_zero_is_found_by_its_numbers_and_its_work_offset_is_checked(self):
        self.hold(route_named("siskin_body"), "Found again")
        self.choose("Found by", "Edges, by finder")
        self.page.wait_for_selector("text=/edge finder .10 across.: set X −5.00/")
        self.choose("Work offset", "G55")
        self.page.wait_for_selector("text=take work offset 2 (G55)")
        self.page.locator("summary", has_text="G55").click()
        self.page.get_by_role("textbox", name="Name").fill("Corner of the rails")
        self.page.get_by_role("button", name="Checked at the machine today").click()
        self.page.wait_for_selector("text=/Corner of the rails, checked \\d/")
        self.assertEqual(self.axe(), [])
        box = self.page.get_by_role("textbox", name="Machine X")
        box.fill("2 1/2\"")
        box.press("Enter")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        self.page.wait_for_selector("text=Corner of the rails, never checked here")  # it lies somewhere else now
        self.assertEqual(box.input_value(), "63.50")

    def test_a_piece_lies_in_a_nest_and_a_nest_too_deep_is_told(self):
        self.hold(nested(), "Back face up", "What holds it")
        self.page.wait_for_selector("text=That bit reaches every tip of the outline.")
        deep = self.page.get_by_role("textbox", name="Nest deep")
        deep.fill("44")
        deep.press("Enter")
        self.page.get_by_role("tab", name="How it is held").click()
        self.page.get_by_role("button", name="Make the nest").click()
        self.page.wait_for_selector("text=Nothing in the way")
        self.page.get_by_role("tab", name="Jig").click()
        self.page.wait_for_selector("text=No sheet is thick enough")
        self.page.get_by_role("tab", name="What holds it").click()
        deep.fill("12")
        deep.press("Enter")
        self.page.get_by_role("tab", name="Jig").click()
        self.page.wait_for_selector("text=window 12 deep")
        self.assertEqual(self.axe(), [])

    def test_a_tenon_is_cut_on_an_end_that_stands_in_a_vice(self):
        self.hold(route_named("siskin_neck_face"), "On end")
        self.page.wait_for_selector("text=standing 25.5 out of the jaws")
        for label, typed in (("Stands up", "30"), ("Wanted", "3")):
            box = self.page.get_by_role("textbox", name=label)
            box.fill(typed)
            box.press("Enter")
        self.page.wait_for_selector("text=3.00° wanted = 3.00° by the fence")
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="Make it a job").click()
        self.page.wait_for_url("**/route")
        self.page.get_by_role("link", name="Hold").click()
        self.page.get_by_role("button", name="Let it stand out").first.click()  # the shoulders go below the jaws' upper edge
        self.page.wait_for_selector("text=Nothing in the way")
        self.assertEqual(self.axe(), [])

    def test_a_finding_says_its_lengths_in_inches_where_these_are_read(self):
        self.page.goto(f"{self.server.url}/routes/{self.new_route(first_try_route())}/route")
        told = self.page.locator(".reason", has_text="deep in wood")
        told.first.wait_for(timeout=60_000)
        self.assertRegex(told.first.inner_text(), r"stands 30\.5 deep in wood; the 6 mm flat cuts 26\.0\.")
        self.page.keyboard.press("u")
        self.page.locator(".reason", has_text='1 13/64"').wait_for()
        self.assertRegex(told.first.inner_text(), r'stands 1 13/64" deep in wood; the 6 mm flat cuts 1\.024"\.')
        self.page.keyboard.press("u")

    def test_a_bit_is_asked_what_it_can_do_and_a_kept_cut_proves_it(self):
        route = self.new_route(route_named("siskin_body"))
        self.page.goto(f"{self.server.url}/routes/{route}/shop")
        self.page.get_by_role("link", name="The rack of the shop").click()
        self.page.wait_for_selector("text=Untried here: computed only")
        self.page.get_by_role("option", name="6 mm flat").click()
        self.page.wait_for_selector("h2:text('6 mm flat on the')")
        self.page.wait_for_selector("text=/chip load .* in alder/")
        self.choose("Wood", "Lime")
        self.page.wait_for_selector("text=/chip load .* in lime/")
        careful = self.page.get_by_role("radio", name="Careful").inner_text()
        self.page.get_by_role("radio", name="Quiet").click()
        self.page.wait_for_selector("text=/Quiet takes [\\d.]+ times as long/")
        slider = self.page.get_by_role("slider", name="From quiet to fast")
        self.assertIn("min for 100", slider.get_attribute("aria-valuetext"))
        quiet = slider.get_attribute("aria-valuetext")
        slider.focus()
        self.page.keyboard.press("End")
        self.page.wait_for_function("(was) => document.querySelector('input[type=range]').getAttribute('aria-valuetext') !== was", arg=quiet)
        minutes = [float(re.search(r"([\d.]+) min for", t).group(1)) for t in (quiet, slider.get_attribute("aria-valuetext"))]
        self.assertGreater(minutes[0], minutes[1])
        self.page.get_by_role("button", name="Feed rate").click()
        told = self.page.get_by_role("dialog", name="Where feed rate comes from")
        told.wait_for()
        self.assertRegex(told.inner_text(), r"chip load times flutes(.|\n)*Untried here(.|\n)*unverified")
        self.assertEqual(self.axe(), [])
        self.page.keyboard.press("Escape")
        self.page.get_by_role("radio", name="Careful").click()
        self.assertIn("deep", careful)
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="Keep this cut").click()
        self.page.wait_for_selector("text=Proven: cut in this shop, with a record")
        feed = self.page.get_by_role("textbox", name="Feed rate")
        feed.fill("4900")
        feed.press("Enter")
        self.page.wait_for_selector("text=/These pass a limit|Untried here/")
        self.page.locator("h2", has_text="on the").click()
        self.page.keyboard.press("u")
        self.page.wait_for_selector("text=in/min")
        self.assertEqual(feed.input_value(), "193")
        feed.fill("100")
        feed.press("Enter")
        self.page.wait_for_selector("text=/chip load 0.071 mm/")  # 2540 mm/min
        self.page.locator("h2", has_text="on the").click()
        self.page.keyboard.press("u")
        self.page.wait_for_function("() => [...document.querySelectorAll('input')].some((i) => i.value.replace(/\\s/g, '') === '2540')")
        self.page.get_by_role("button", name="withdraw").first.click()
        self.page.wait_for_selector("text=Nobody has kept a cut")
        self.page.get_by_role("button", name="Plan the slots").click()
        self.page.wait_for_selector("text=stop at the first")
        self.page.get_by_role("tab", name="Which bit for which feature").click()
        self.page.wait_for_selector("text=a drill does not cut to the side")
        self.choose("Feature", "Every feature")
        self.page.wait_for_selector("text=/bits? do(es)? for all/")
        self.assertEqual(self.axe(), [])

    def test_a_run_tells_of_one_operation_and_what_ran_comes_back(self):
        route = self.new_route(changed(route_named("siskin_body"), put("machine.name", "Router of the runs seen")))  # the books of the others stay empty
        self.page.goto(f"{self.server.url}/routes/{route}/run")
        self.page.wait_for_selector("text=What it was really like", timeout=60_000)
        self.page.locator("summary", has_text="Neck pocket").click()
        self.page.get_by_role("textbox", name="Feed as it ran").locator("visible=true").fill("60%")
        self.page.wait_for_selector("text=/feed 2.400/")
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="Keep the record").click()
        self.page.wait_for_selector("text=/\\d cuts kept; bits counted/")
        self.page.wait_for_selector("text=/Neck pocket: the last run went fine at 2400/")
        self.page.get_by_role("button", name="Take what it ran at").click()
        self.page.wait_for_selector("text=/Neck pocket: the last run went fine/", state="detached")
        self.page.wait_for_selector("text=/feed 2.400/", timeout=60_000)
        self.choose("The whole run went", "Chatter")
        self.choose("It happened in", "Pickup pocket")
        self.page.locator("summary", has_text="Pickup pocket").locator("b", has_text="chatter").wait_for()
        self.page.get_by_role("button", name="Keep the record").click()
        self.page.wait_for_selector("text=pickup pocket chatter")
        self.page.get_by_role("link", name="Route", exact=True).click()
        self.page.wait_for_selector("text=/Pickup pocket: this cut went chatter here once/")  # the outline cut harder and went well
        self.assertEqual(self.axe(), [])

    def test_a_bit_is_hung_on_the_rack_and_taken_into_the_route(self):
        route = self.new_route(route_named("siskin_body"))
        self.page.goto(f"{self.server.url}/routes/{route}/bits")
        self.page.locator("summary", has_text="Hang another bit").click()
        self.page.get_by_label("Name", exact=True).locator("visible=true").fill("Quarter inch flat")
        hang = self.page.get_by_role("button", name="Hang it on the rack")
        hang.click()
        self.page.wait_for_selector("text=/Still wanted: its diameter, how long it cuts, its shank, how far it stands out/")
        for label, typed in (("Across", '1/4"'), ("Cuts so long", "22"), ("Stands out", "20"), ("Shank", '.25"')):
            box = self.page.get_by_role("textbox", name=label, exact=True).locator("visible=true")
            box.fill(typed)
            box.press("Enter")
        hang.click()
        self.page.wait_for_selector("text=/the collet nut would sit on the flutes/")
        box = self.page.get_by_role("textbox", name="Stands out", exact=True).locator("visible=true")
        box.fill("30")
        box.press("Enter")
        hang.click()
        self.page.wait_for_selector("h2:text('Quarter inch flat on the')")
        self.assertIn("6.35 across", self.page.locator("section p", has_text="6.35").first.inner_text())
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="Take it into the route").click()
        self.page.get_by_role("button", name="Take it into the route").wait_for(state="detached")
        self.page.get_by_role("button", name="Take it off the rack").click()
        self.page.wait_for_selector("text=Taken off the rack.")

    def test_brushes_of_a_motor_are_counted_and_changed(self):
        route = self.new_route(changed(route_named("control_plate"), put("machine", {**BELT_MACHINE, "name": "Trim motor of the test"})))
        self.page.goto(f"{self.server.url}/routes/{route}/shop")
        self.page.locator("summary", has_text="brushes of its motor, 60.0 hours left").click(timeout=60_000)
        self.page.get_by_role("textbox", name="Ran elsewhere").fill("55")
        self.page.get_by_role("button", name="Count them").click()
        self.page.wait_for_selector("text=/look at their length; no spare set/")
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("textbox", name="Spare sets").fill("2")
        self.page.get_by_role("button", name="Keep that").click()
        self.page.wait_for_selector("text=2 spare sets in the drawer")
        self.page.get_by_role("button", name="New brushes went in").click()
        self.page.wait_for_selector("text=One spare set in the drawer")

    def test_a_jig_tells_what_became_of_it(self):
        self.hold(next(j for j in jig_routes() if j.jig.kind.value == "carrier"), "Jig")
        self.page.wait_for_selector("text=/pays after \\d/")
        self.page.get_by_role("textbox", name="Kept at").fill("Wall, left")
        self.page.get_by_role("button", name="Used it").click()
        self.page.wait_for_selector("text=1 piece made on it; kept at Wall, left")
        play = self.page.get_by_role("textbox", name="Play found")
        play.fill("0.3")
        play.press("Enter")
        self.page.get_by_role("button", name="Checked it").click()
        self.page.wait_for_selector("text=Worn: bush the holes")
        self.assertEqual(self.axe(), [])
