"""From an empty shop, as a person does it: name, machine, its figures and words, the jobs on it."""

import shutil

from playwright.sync_api import sync_playwright

from birch_route.formats.route_file import route_to_text
from tests.browser.test_screens import ARGUMENTS, Browser
from tests.support import LiveServer, route_named


class Shop(Browser):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)
        cls.playwright = sync_playwright().start()
        chromium = shutil.which("chromium") or "/usr/bin/chromium"
        cls.browser = cls.playwright.chromium.launch(executable_path=chromium, args=ARGUMENTS)
        cls.addClassCleanup(cls.playwright.stop)
        cls.addClassCleanup(cls.browser.close)

    def go(self, path):
        self.page.goto(f"{self.server.url}{path}")

    def started(self, name, kind=0):
        """Start a machine of a kind by hand; its page is open after."""
        self.go("/shop/machines/new")
        self.page.get_by_label("What you call it").fill(name)
        self.page.get_by_role("button", name="Start from this").nth(kind).click()
        self.page.get_by_role("heading", name="Still assumed").wait_for()
        return self.page.url.rsplit("/", 1)[1]

    def put(self, words, text):
        """Press a figure, type what it is, Enter."""
        self.page.get_by_role("button", name=words, exact=False).first.click()
        box = self.page.get_by_role("complementary").get_by_role("textbox").first
        box.fill(text)
        box.press("Enter")
        box.blur()

    def figure(self, machine, name):
        state = self.server.call("GET", f"/api/machines/{machine}")[1]
        return next(f for f in state["figures"] if f["name"] == name)


class Empty(Shop):
    def test_an_empty_shop_leads_to_its_name_its_machine_and_the_first_job(self):
        self.go("/")
        self.page.get_by_role("link", name="Begin with the shop").click()
        self.page.get_by_role("radio", name="inch").click()
        self.page.get_by_label("Name of the shop").fill("Reed Shed")
        self.page.get_by_role("button", name="Keep the name").click()
        self.page.get_by_role("heading", name="Reed Shed").wait_for()
        self.go("/new")
        self.page.get_by_role("link", name="Choose the machine").click()
        self.page.get_by_label("What you call it").fill("Plover")
        self.page.get_by_role("button", name="Start from this").nth(1).click()
        self.page.get_by_role("heading", name="Still assumed").wait_for()
        self.assertEqual(self.figure("plover", "touch_plate_mm")["missing"], True)
        self.assertEqual(self.figure("plover", "power_w")["known"]["origin"], "assumed")
        self.go("/new")
        self.page.get_by_text("Plover").first.wait_for()
        self.assertEqual(self.axe(), [])

    def test_which_bits_hang_here_is_asked_before_anything_is_planned_with_them(self):
        self.go("/new")
        self.page.get_by_role("link", name="Look through them").click()
        self.page.get_by_role("heading", name="Which of these hang in your shop?").wait_for()
        self.page.get_by_label("6 mm flat: ").check()
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="This one hangs here").click()
        self.page.get_by_role("heading", name="The rack").wait_for()
        self.assertEqual([b["id"] for b in self.server.call("GET", "/api/shop")[1]["bits"]], ["flat6"])
        self.page.get_by_role("button", name="Hang another bit on the rack").click()
        form = self.page.locator("section", has_text="Another bit").last
        form.get_by_label("Name").fill("Quarter inch")
        for name, text in (("Across", '1/4"'), ("Cuts so long", '1"'), ("Stands out", "1 1/4 in"), ("Shank", "1/4 in")):
            form.get_by_label(name).fill(text)
            form.get_by_label(name).press("Tab")
        form.get_by_role("button", name="Hang it on the rack").click()
        self.page.get_by_role("heading", name="Quarter inch").wait_for()
        bits = {b["name"]: b for b in self.server.call("GET", "/api/shop")[1]["bits"]}
        self.assertAlmostEqual(bits["Quarter inch"]["diameter_mm"], 6.35)
        self.assertEqual(self.axe(), [])


class Machines(Shop):
    def test_a_figure_is_pressed_typed_in_inches_and_told_from_that_day(self):
        self.go("/shop")
        self.page.get_by_role("radio", name="inch").click()
        machine = self.started("Dunlin", 1)
        self.put("travel x", '31 1/2"')
        self.page.get_by_text("31 1/2").first.wait_for()
        found = self.figure(machine, "travel_mm.0")
        self.assertAlmostEqual(found["value"], 800.1)
        self.assertEqual(found["known"]["origin"], "told")
        self.page.get_by_role("radio", name="Measured").click()
        self.page.get_by_label("Readings lie within, plus and minus").fill("0.004")
        with self.page.expect_response(f"**/api/machines/{machine}"):
            self.page.get_by_label("Readings lie within, plus and minus").press("Enter")
        self.page.reload()
        self.page.get_by_role("img", name="Measured").first.wait_for()
        found = self.figure(machine, "travel_mm.0")
        self.assertEqual(found["known"]["origin"], "measured")
        self.assertAlmostEqual(found["known"]["spread"], 0.1016)
        self.put("travel x", "0")
        self.page.get_by_role("alert").wait_for()
        self.assertAlmostEqual(self.figure(machine, "travel_mm.0")["value"], 800.1)
        self.assertEqual(self.axe(), [])

    def test_a_dial_and_places_are_typed_and_undone(self):
        machine = self.started("Curlew", 0)
        self.put("steps of the dial", "8000, 12000, 11000")
        self.page.get_by_role("alert").get_by_text("does not rise").wait_for()
        self.put("steps of the dial", "9500, 14000, 18500, 22000, 25500")
        self.page.get_by_text("9500, 14000, 18500").first.wait_for()
        self.put("bits are changed at", "10, 20; 30, 40")
        self.page.get_by_text("One place only").wait_for()
        self.put("bits are changed at", "700, 700")
        self.page.get_by_text("bits changed", exact=True).wait_for()
        self.assertEqual(self.figure(machine, "bit_change_mm")["value"], [700, 700])
        self.page.locator("h2").first.click()
        self.page.keyboard.press("Control+z")
        self.page.get_by_text("bits changed", exact=True).wait_for(state="detached")
        self.assertEqual(self.figure(machine, "bit_change_mm")["missing"], True)
        self.assertEqual(self.figure(machine, "speeds_rpm")["value"][0], 9500)

    def test_words_are_seen_as_one_types_and_refused_where_they_cannot_be_read_back(self):
        machine = self.started("Godwit", 0)
        self.page.get_by_role("link", name="Its words").click()
        self.page.get_by_text("all understood").wait_for()
        self.page.get_by_label("Digits after the point").fill("2")
        self.page.get_by_label("Digits after the point").press("Tab")
        self.page.get_by_text("What cannot be read back is not kept").first.wait_for()
        self.assertTrue(self.page.get_by_role("button", name="Keep these words").is_disabled())
        self.page.get_by_label("Digits after the point").fill("4")
        self.page.get_by_label("Digits after the point").press("Tab")
        self.page.get_by_label("A line with % around it").select_option("yes")
        self.page.get_by_label("How lines close").select_option("crlf")
        self.page.get_by_label("Ending of a file's name").fill(".TAP")
        self.page.get_by_label("Ending of a file's name").press("Tab")
        self.page.get_by_text("all understood").wait_for()
        self.page.get_by_text(".TAP").first.wait_for()
        with self.page.expect_response(f"**/api/machines/{machine}"):
            self.page.get_by_role("button", name="Keep these words").click()
        words = self.server.call("GET", f"/api/machines/{machine}")[1]["machine"]["dialect"]
        self.assertEqual((words["percent"], words["line_ending"], words["extension"]), (True, "crlf", ".TAP"))
        self.page.get_by_label("How Z is touched off").select_option("G38.2")
        self.page.get_by_text("sets it to the touch plate's thickness").first.wait_for()
        self.assertTrue(self.page.get_by_role("button", name="Keep these words").is_disabled())

    def test_a_program_that_touches_off_by_itself_is_seen_and_kept(self):
        machine = self.started("Redshank", 1)
        self.put("touch plate thick", "12")
        self.page.get_by_role("link", name="Its words").click()
        self.page.get_by_text("all understood").wait_for()
        self.page.get_by_label("How Z is touched off").select_option("G38.2")
        self.page.get_by_text("down onto the touch plate", exact=True).first.wait_for()
        self.page.get_by_label("How far down the plate is looked for").fill("3 1/2\"")
        self.page.get_by_label("How far down the plate is looked for").press("Tab")
        self.page.get_by_label("Word that sets Z").select_option("G92")
        self.page.get_by_text("G92 Z12", exact=False).first.wait_for()
        self.assertEqual(self.axe(), [])
        with self.page.expect_response(f"**/api/machines/{machine}"):
            self.page.get_by_role("button", name="Keep these words").click()
        words = self.server.call("GET", f"/api/machines/{machine}")[1]["machine"]["dialect"]
        self.assertEqual((words["probe_word"], words["set_word"]), ("G38.2", "G92"))
        self.assertAlmostEqual(words["probe_down_mm"], 88.9)
        self.assertEqual(self.axe(), [])

    def test_a_job_is_moved_told_what_changes_and_given_new_figures(self):
        machine = self.started("Snipe", 1)
        route = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))
        number = route[1]["route"]
        self.go(f"/routes/{number}/shop")
        self.page.get_by_text("is none of the shop's now").wait_for()
        self.page.locator("button.machine", has_text="Snipe").click()
        self.page.get_by_text("figures and words are other than now").wait_for()
        self.page.get_by_role("button", name="Move the job to it").click()
        self.page.locator("button.machine.here", has_text="Snipe").wait_for()
        self.go(f"/shop/machines/{machine}")
        self.page.get_by_role("heading", name="Still assumed").wait_for()
        self.put("waste board thick", "12.5")
        self.page.get_by_text("12.5 mm").first.wait_for()
        self.page.get_by_role("link", name="Jobs on it").click()
        self.page.get_by_text("1 figures are other than here").wait_for()
        document = self.server.call("GET", f"/api/routes/{number}")[1]["document"]
        self.assertEqual(document["machine"]["waste_board_mm"], 18.0)
        self.page.get_by_role("button", name="Give it these figures").click()
        self.page.get_by_text("has these figures").wait_for()
        document = self.server.call("GET", f"/api/routes/{number}")[1]["document"]
        self.assertEqual(document["machine"]["waste_board_mm"], 12.5)

    def test_a_machine_is_copied_renamed_and_put_away(self):
        self.started("Knot", 0)
        self.page.get_by_role("button", name="Another like it").click()
        self.page.wait_for_url("**/knot_second")
        self.page.get_by_role("heading", name="Still assumed").wait_for()
        name = self.page.get_by_label("Name of the machine")
        name.fill("Ruff")
        name.press("Enter")
        self.page.get_by_role("button", name="Put away").click()
        self.page.get_by_role("button", name="Put Ruff away").click()
        self.page.get_by_text("Knot", exact=True).wait_for()
        self.assertEqual(self.page.get_by_text("Ruff", exact=True).count(), 0)
        self.go("/shop/machines/knot_second")
        self.page.get_by_role("button", name="Take it back").click()
        self.page.get_by_text("This machine was put away").wait_for(state="detached")


class PeopleAndBackup(Shop):
    def named(self):
        self.go("/shop")
        self.page.get_by_label("Name of the shop").fill("Reed Shed")
        button = self.page.get_by_role("button", name="Keep the name")
        if button.count():
            button.click()
        self.page.get_by_role("heading", name="People").wait_for()

    def test_somebody_is_added_by_a_link_signs_in_and_is_signed_out(self):
        self.named()
        self.page.get_by_label("Somebody else").fill("Jon")
        self.page.get_by_role("button", name="Make their link").click()
        self.page.get_by_alt_text("The link as a code to scan").wait_for()
        link = self.page.locator(".link .text").inner_text()
        other = self.browser.new_context()
        self.addCleanup(other.close)
        page = other.new_page()
        page.goto(link)
        page.get_by_role("button", name="Signed in as Jon, operator").wait_for()
        page.goto(f"{self.server.url}/shop")
        page.get_by_role("heading", name="Reed Shed").wait_for()
        self.assertEqual(page.get_by_role("heading", name="People").count(), 0)
        self.page.reload()
        self.page.get_by_label("What Jon may do").select_option("viewer")
        self.page.wait_for_function("() => document.body.innerText.includes('signed in on 1')")
        self.page.get_by_role("listitem").filter(has=self.page.get_by_label("Name of Jon")).get_by_text(
            "Sign out everywhere").click()
        self.page.get_by_text("signed in nowhere").wait_for()
        page.goto(self.server.url)
        page.wait_for_url("**/signed-out*")
        first = self.page.get_by_label("Name of Owner")
        first.fill("Mara")
        first.press("Tab")
        self.page.get_by_label("Name of Mara").wait_for()
        self.page.get_by_label("What Mara may do").select_option("viewer")
        self.page.get_by_role("alert").get_by_text("is the only planner").wait_for()
        self.assertEqual(self.axe(), [])

    def test_a_backup_is_made_now_and_taken_away_as_a_file(self):
        self.named()
        self.page.get_by_role("button", name="Make one now").click()
        with self.page.expect_download() as taken:
            self.page.get_by_role("link", name="Take a copy").first.click()
        self.assertTrue(taken.value.suggested_filename.endswith(".birch-backup"))
        with self.page.expect_download() as taken:
            self.page.get_by_role("link", name="The whole shop as open files").click()
        self.assertEqual(taken.value.suggested_filename, "shop.zip")
        self.page.get_by_text("./birch restore FILE").wait_for()


class Measured(Shop):
    def test_a_machine_is_measured_reading_by_reading(self):
        machine = self.started("Measured Heron")
        self.page.get_by_role("link", name="Measure it", exact=True).click()
        self.page.get_by_role("button", name="Slot ").click()
        self.page.get_by_role("heading", name="Slot", exact=True).wait_for()
        first = self.page.get_by_label("Width of the slot, place 1")
        first.fill("60.05")
        first.press("Enter")
        self.page.get_by_text("far from the 6 mm").wait_for()
        for number, text in enumerate(("6.05", "6.06", "6.05", "6.04", "6.05", "6", "5.99", "6")):
            field = self.page.locator(".readings input").nth(number)
            if number:
                self.assertTrue(field.evaluate("e => e === document.activeElement"))
            field.fill(text)
            field.press("Enter")
        self.page.get_by_text("The slot is 0.053 wider than the bit").first.wait_for()
        self.assertEqual(self.axe(), [])
        self.page.get_by_role("button", name="Keep it: then it is measured").click()
        self.page.get_by_text("Kept: these are the machine's figures").wait_for()
        known = self.figure(machine, "precision.slot_over_mm")["known"]
        self.assertEqual(known["origin"], "measured")
        self.page.get_by_role("link", name="Its figures").click()
        self.page.get_by_role("button", name="slot over its bit").click()
        self.page.get_by_role("link", name="Measure it: slot").click()
        self.page.get_by_role("button", name="Take it all again").click()
        self.page.get_by_text("8 of 8 readings").wait_for()

    def test_every_job_that_measures_opens_with_what_to_do_or_says_why_it_cannot_be_made(self):
        machine = self.started("Looked At")
        self.page.get_by_role("link", name="Measure it", exact=True).click()
        jobs = self.page.get_by_role("navigation", name="Jobs that measure it").get_by_role("button")
        rows = self.server.call("GET", f"/api/machines/{machine}/measuring")[1]
        jobs.first.wait_for()
        self.assertEqual(jobs.count(), len(rows))
        for number, row in enumerate(rows):
            jobs.nth(number).click()
            if row["refused"]:
                self.page.locator(".hand").get_by_text(row["refused"]).wait_for()
                continue
            self.page.get_by_role("heading", name=row["title"], exact=True).wait_for()
            self.page.locator(".steps li").first.wait_for()
            self.page.locator(".readings input").first.wait_for()
        self.assertEqual(self.axe(), [])


class Woods(Shop):
    def test_a_wood_of_ones_own_is_told_weighed_and_chosen_for_a_job(self):
        self.server.call("POST", "/api/machines", {"name": "Wood machine", "kind": "bench"})
        self.go("/shop/woods")
        self.page.get_by_role("button", name="Add a material of your own").click()
        self.page.get_by_label("Name", exact=True).fill("Bog oak")
        self.page.get_by_label("Density").fill("5")
        self.page.get_by_role("radio", name="Interlocked").click()
        self.page.get_by_role("button", name="Keep it").click()
        self.page.get_by_text("5 kg/m³ cannot be: type 20 to 22000").wait_for()
        self.page.get_by_label("Density").fill("820")
        self.page.get_by_role("button", name="Keep it").click()
        self.page.get_by_text("Nothing was cut in it here").wait_for()
        self.page.get_by_role("button", name="Put a board on record").click()
        for name, text in (("Name or place", "Left rack"), ("Long", "1000"), ("Wide", "200"), ("Thick", "50"),
                           ("Weighs", "8.6"), ("Water in it", "9")):
            self.page.locator(".boards").get_by_label(name).fill(text)
        self.page.get_by_role("button", name="Keep the board").click()
        self.page.get_by_text("860 kg/m³ from 1 board").wait_for()
        self.assertEqual(self.axe(), [])
        made = self.server.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]
        self.go(f"/routes/{made['route']}/shop")
        self.page.locator(".v-select", has_text="Wood").first.click()
        self.page.get_by_role("option", name="Bog oak, 860 kg/m³").click()
        self.page.get_by_text("one board weighed in this shop").wait_for()
        document = self.server.call("GET", f"/api/routes/{made['route']}")[1]["document"]
        self.assertEqual(document["materials"][0]["name"], "Bog oak")


class InUse(Shop):
    def test_collets_and_quiet_hours_are_typed_and_bind_on_the_run_screen(self):
        machine = self.started("Quiet Heron")
        self.put("collets", "6, 1/4 in")
        self.put("quiet hours", "0:00-12:00; 12:00-23:59")
        self.page.get_by_text("0:00 to 12:00; 12:00 to 23:59").wait_for()
        self.assertEqual(self.figure(machine, "collets_mm")["value"], [6, 6.35])
        self.put("quiet hours", "noon")
        self.page.get_by_text("From and to, like 20:00-7:00").wait_for()
        self.put("people, at least", "2")
        self.page.get_by_role("button", name="Told").filter(has_text="people, at least").wait_for()
        document = self.server.call("GET", f"/api/machines/{machine}")[1]["machine"]
        job = self.server.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]
        here = [{"do": "set", "path": "machine", "value": document}]
        edit = {"revision": job["revision"], "edits": here, "reason": ""}
        job = self.server.call("POST", f"/api/routes/{job['route']}/edits", edit)[1]
        self.server.proof(job["hash"])
        self.go(f"/routes/{job['route']}/run")
        self.page.get_by_text("quiet hours here until").wait_for()
        self.page.get_by_text("At least 2 people").wait_for()
        self.assertEqual(self.axe(), [])

    def test_a_dovetail_hangs_on_the_rack_and_no_job_takes_it(self):
        self.server.call("POST", "/api/first_bits", {"here": ["flat6"]})
        self.go("/shop/bits")
        self.page.get_by_role("button", name="Hang another bit on the rack").click()
        form = self.page.locator("section", has_text="Another bit").last
        form.locator(".v-select", has_text="Form").click()
        self.page.get_by_role("option", name="Dovetail").click()
        form.get_by_text("taken into no job").wait_for()
        for name, text in (("Name", "Half inch dovetail"), ("Across", "12.7"), ("Cuts so long", "12"),
                           ("Stands out", "25"), ("Shank", "8"), ("Angle", "28")):
            form.get_by_label(name).fill(text)
            form.get_by_label(name).press("Tab")
        form.get_by_role("button", name="Hang it on the rack").click()
        self.page.get_by_text("No job takes it").wait_for()
        self.assertNotIn("dovetail", {b["form"] for b in self.server.call("GET", "/api/shop")[1]["bits"]})

    def test_a_tapered_ball_is_hung_by_the_size_of_its_ball(self):
        self.server.call("POST", "/api/first_bits", {"here": ["flat6"]})
        self.go("/shop/bits")
        self.page.get_by_role("button", name="Hang another bit on the rack").click()
        form = self.page.locator("section", has_text="Another bit").last
        form.locator(".v-select", has_text="Form").click()
        self.page.get_by_role("option", name="Ball on a taper").click()
        for name, text in (("Name", "Slender ball"), ("Ball across", "3"), ("Cuts so long", "25"),
                           ("Stands out", "38"), ("Shank", "6"), ("Angle", "75")):
            form.get_by_label(name).fill(text)
            form.get_by_label(name).press("Tab")
        hang = form.get_by_role("button", name="Hang it on the rack")
        hang.click()
        form.get_by_text("at most 60").wait_for()
        form.get_by_label("Angle").fill("10")
        hang.click()
        self.page.locator("h2", has_text="Slender ball").first.wait_for()
        kept = next(b for b in self.server.call("GET", "/api/shop")[1]["bits"] if b["form"] == "taper")
        self.assertEqual((kept["diameter_mm"], kept["included_angle_deg"]), (3.0, 10.0))
