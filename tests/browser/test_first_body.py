"""From an empty shop to checked programs of a body of one's own, in inches, by hand: within fifteen minutes."""

from birch_route.core.quantities import MM_PER_INCH
from tests.browser.test_own_shop import Shop
from tests.browser.walk import Walk
from tests.support import route_named

MOST_MINUTES = 15.0


class FirstBody(Shop):
    def test_from_an_empty_shop_to_checked_programs_in_inches(self):
        self.page.set_default_timeout(60_000)
        walk = Walk(self.page)
        self.shop_and_machine(walk)
        self.bits(walk)
        self.new_body(walk)
        self.measure(walk)
        self.settle(walk)
        self.programs(walk)
        print(f"\n{walk}")
        self.is_what_was_meant()
        self.assertLessEqual(walk.minutes, MOST_MINUTES)

    def shop_and_machine(self, walk):
        page = self.page
        self.go("/")
        walk.panel("an empty bench")
        walk.press(page.get_by_role("link", name="Begin with the shop"))
        walk.panel("the shop")
        walk.press(page.get_by_role("radio", name="inch"))
        walk.type(page.get_by_label("Name of the shop"), "Reed Shed", "Tab")
        walk.press(page.get_by_role("button", name="Keep the name"))
        walk.press(page.get_by_role("link", name="Choose the machine"))
        walk.panel("kinds of machine")
        walk.type(page.get_by_label("What you call it"), "Plover", "Tab")
        walk.press(page.get_by_role("button", name="Start from this").nth(1))
        walk.panel("figures of the machine")
        for words, text in (("travel x", '31 1/2"'), ("travel y", "24"), ("nut above the board", "5.75")):
            walk.press(page.get_by_role("button", name=words).first)
            box = page.get_by_role("complementary").get_by_role("textbox").first
            with page.expect_response("**/api/machines/plover"):
                walk.type(box, text)
            walk.readings += 1
        walk.press(page.get_by_role("link", name="Its words"))
        walk.panel("words of its programs")
        walk.wait(page.get_by_text("all understood"))
        walk.press(page.get_by_label("Unit of the program"))
        page.get_by_label("Unit of the program").select_option("inch")
        page.get_by_label("Digits after the point").fill("4")
        page.get_by_label("Digits after the point").press("Tab")
        walk.presses, walk.keys = walk.presses + 2, walk.keys + 2
        walk.wait(page.locator("code", has_text="G20").first)
        with page.expect_response("**/api/machines/plover"):
            walk.press(page.get_by_role("button", name="Keep these words"))

    def bits(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Shop", exact=True))
        walk.press(page.get_by_role("link", name="Look through the bits"))
        walk.panel("the bits that are offered")
        for name in ("6 mm flat: ", "8 mm flat, long: ", "25 mm surfacing: ", "3 mm drill: ", "4.8 mm drill: "):
            walk.press(page.get_by_label(name, exact=False).first)
        walk.press(page.get_by_role("button", name="These 5 hang here"))
        walk.wait(page.get_by_role("heading", name="The rack"))

    def new_body(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Bench"))
        walk.press(page.get_by_role("link", name="New job"))
        walk.panel("a new job")
        walk.type(page.get_by_label("Name of the job"), "Linnet", "Tab")
        takes = page.get_by_label("Takes a neck, bridge and pickup, still to be measured")
        walk.wait(takes)
        if not takes.is_checked():
            walk.press(takes)
        walk.press(page.get_by_role("button", name="Make the job"))
        page.wait_for_url("**/measure")
        walk.panel("parts to measure")

    def measure(self, walk):
        """Read every place that is needed, three times each, as the caliper would show it in inches."""
        page = self.page
        given = {p.kind.value: p for p in route_named("siskin_body").parts}
        number = int(page.url.split("/")[-2])
        state = self.server.call("GET", f"/api/routes/{number}")[1]
        box = page.locator("#reading")
        for part in state["drawing"]["parts"]:
            walk.press(page.get_by_role("tab", name=part["name"]))
            for place in part["places"]:
                if not place["needed"]:
                    continue
                walk.press(page.get_by_role("listitem").filter(has_text=place["label"]).get_by_role("button").first)
                readings = [r for r in given[part["kind"]].readings if r.place == place["place"]]
                for one in [*readings, *readings, *readings][:3]:
                    text = f"{one.value_mm / MM_PER_INCH:.4f}"
                    with page.expect_response("**/edits"):
                        box.fill(text)
                        box.press("Enter")
                    walk.readings += 1
                    walk.keys += len(text) + 1

        scale = route_named("siskin_body").choices.scale_mm
        walk.type(page.get_by_label("Scale", exact=True), f"{scale / MM_PER_INCH:.3f}")

    def settle(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Route", exact=True))
        walk.panel("the route and its findings")
        for _ in range(12):
            walk.wait(page.locator(".finding").or_(page.get_by_text("Nothing to settle")).first, 90)
            page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")
            cure = page.locator(".finding .cure").first
            if page.get_by_text("Nothing to settle").count() or not cure.count():
                return
            with page.expect_response("**/edits"):
                walk.press(cure)

    def programs(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Run", exact=True))
        walk.panel("load, zero, run")
        walk.press(page.get_by_text("Write the programs"))
        walk.wait(page.get_by_text("Read back and simulated").first, 120)

    def is_what_was_meant(self):
        """The programs are for the machine that was entered, in inches, and leave no feature uncut."""
        number = int(self.page.url.split("/")[-2])
        state = self.server.call("GET", f"/api/routes/{number}")[1]
        document = state["document"]
        self.assertEqual(document["machine"]["name"], "Plover")
        self.assertAlmostEqual(document["machine"]["travel_mm"][0], 800.1)
        hang = {"flat6", "flat8", "face25", "drill3", "drill4_8"}
        self.assertEqual({b["id"] for b in document["bits"]}, hang)
        self.assertEqual(document["machine"]["known"]["travel_mm.0"]["origin"], "told")
        cut = {f for o in document["operations"] for f in o["features"]}
        self.assertEqual({f["id"] for f in document["piece"]["features"]} - cut, set())
        self.assertEqual([f["code"] for f in state["proof"]["report"]["findings"] if f["severity"] == "stop"], [])
        links = self.page.locator(".files a").all()
        self.assertTrue(links)
        for link in links:
            text = self.server.call("GET", link.get_attribute("href"))[1].decode()
            self.assertIn("\nG20\n", text)
            self.assertIn("(machine: Plover)", text)
