"""A two-pickup body with controls, tremolo, guard, jack, back cover and neck plate, from numbers alone, by hand in the
browser, to checked programs: presses and minutes counted."""

import re

from tests.browser.test_own_shop import Shop
from tests.browser.walk import Walk

MOST_MINUTES, MOST_PRESSES = 25.0, 600
FITTED = 3  # readings of what a fit rests on; of the rest one is enough to begin with
RING = {"Ring deep": "38", "Ring wide": "70", "Deep, to the legs": "18", "Ring corner radius": "3"}
BITS = ("8 mm flat, long: ", "6 mm flat: ", "3 mm flat: ", "25 mm surfacing: ", "3 mm drill: ", "4.8 mm drill: ")
PARTS = {  # a part of the list, what it is added as, and what the caliper shows, mm
    "Neck": ("", {
        "Width at the end": "46", "Width at the mark": "46", "Mark, from the end": "50", "Heel length": "62",
        "Thick, with board": "22.2", "End to 12th fret": "142.2", "Fret height": "1.1", "Corner radius": "3",
        "Heel end to first screw holes": "12", "Screw holes apart, along": "36", "Screw holes apart, across": "28",
    }),
    "Bridge": ("", {
        "Plate deep": "38", "Plate wide": "90", "Plate front to saddle line": "12", "Saddle, low": "9",
        "Saddle, high": "14", "Plate corner radius": "3", "Posts apart": "74", "Post bush outside": "9",
        "Post line behind saddle line": "0", "Post bush long": "18", "Block opening, along": "18",
        "Block opening, across": "50", "Block middle behind saddle line": "16", "Spring cavity long": "100",
        "Spring cavity wide": "58", "Spring cavity deep": "15",
    }),
    "Pickup": ("", RING),
    "Pickup 2": ("Pickup", RING),
    "Pot": ("Pot", {"Bush across": "9.4", "Bush long": "9", "Body across": "24", "Body high, with lugs": "20"}),
    "Switch": ("Switch", {
        "Body long": "44", "Body wide": "18", "Body deep": "30", "Slot long": "26", "Slot wide": "3.6",
        "Screws apart": "41",
    }),
    "Jack": ("Jack", {"Bush across": "9.4", "Bush long": "9", "Body across": "20", "Body long": "28"}),
    "Guard": ("Guard", {
        "Guard thick": "2.3", "Guard long": "110", "Guard wide": "56", "Corner radius": "6",
        "Screws apart, along": "98", "Screws apart, across": "44",
    }),
    "Cover plate": ("Cover plate", {
        "Plate thick": "1.6", "Plate long": "64", "Plate wide": "51", "Plate corner radius": "3",
    }),
    "Neck screw": ("Neck screw", {"Head across": "8", "Thread outside": "4.5", "Long under the head": "45"}),
}
PLACED = (("Pot", "335", "75"), ("Pot, another place", "362", "45"), ("Switch", "300", "95"))


class TwoPickups(Shop):
    def test_from_numbers_alone_to_checked_programs(self):
        self.page.set_default_timeout(60_000)
        self.started("Plover", 1)
        walk = Walk(self.page)
        self.bits(walk)
        self.new_body(walk)
        self.measure(walk)
        self.lay_out(walk)
        self.settle(walk)
        self.programs(walk)
        print(f"\n{walk}")
        self.is_what_was_meant()
        self.assertLessEqual(walk.presses, MOST_PRESSES)
        self.assertLessEqual(walk.minutes, MOST_MINUTES)

    def state(self):
        return self.server.call("GET", f"/api/routes/{int(self.page.url.split('/')[-2])}")[1]

    def bits(self, walk):
        """The offered bits that hang here, and a drill of 2 that is typed."""
        page = self.page
        self.go("/shop/bits")
        walk.panel("the bits that are offered")
        for name in BITS:
            walk.press(page.get_by_label(name, exact=False).first)
        walk.press(page.get_by_role("button", name="hang here"))
        walk.wait(page.get_by_role("heading", name="The rack"))
        walk.press(page.get_by_role("button", name="Hang another bit on the rack"))
        form = page.locator("section", has_text="Another bit").last
        walk.press(form.locator(".v-select", has_text="Form"))
        walk.press(page.get_by_role("option", name="Drill", exact=True))
        for label, text in (("Name", "2 mm drill"), ("Across", "2"), ("Cuts so long", "34"), ("Stands out", "40"),
                            ("Shank", "2")):
            walk.type(form.get_by_label(label), text, "Tab")
        walk.press(form.get_by_role("button", name="Hang it on the rack"))
        walk.wait(page.locator("h2", has_text="2 mm drill").first)

    def new_body(self, walk):
        page = self.page
        self.go("/new")
        walk.panel("a new job")
        walk.type(page.get_by_label("Name of the job"), "Linnet", "Tab")
        walk.type(page.get_by_label("Long", exact=True), "430", "Tab")
        walk.type(page.get_by_label("Wide", exact=True), "340", "Tab")
        takes = page.get_by_label("Takes a neck, bridge and pickup, still to be measured")
        if not takes.is_checked():
            walk.press(takes)
        walk.press(page.get_by_role("button", name="Make the job"))
        page.wait_for_url("**/measure")

    def measure(self, walk):
        page, box = self.page, self.page.locator("#reading")
        walk.panel("parts to measure")
        for name, (added, sizes) in PARTS.items():
            if added:
                with page.expect_response("**/edits"):
                    walk.pick(page.locator(".v-select", has_text="Add a part on hand"), added)
            walk.press(page.get_by_role("tab").filter(has_text=re.compile(rf"^{name}( to take)?$")))
            for label, text in sizes.items():
                here = page.locator(".label", has_text=re.compile(rf"^{label}$"))
                place = page.get_by_role("listitem").filter(has=here)
                walk.press(place.get_by_role("button").first)
                for _ in range(FITTED if name == "Neck" and ("Width" in label or "Heel" in label) else 1):
                    with page.expect_response("**/edits"):
                        box.fill(text)
                        box.press("Enter")
                    walk.readings += 1
                    walk.keys += len(text) + 1
        walk.type(page.get_by_label("Scale", exact=True), "648")

    def edited(self, act):
        with self.page.expect_response("**/edits") as answer:
            act()
        self.assertEqual(answer.value.status, 200)

    def lay_out(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Lay out", exact=True))
        walk.panel("Lay out, the parts")
        walk.press(page.get_by_role("tab", name="Parts"))
        for name, x, y in PLACED:
            self.place(walk, name)
            self.edited(lambda x=x: walk.type(page.get_by_label("Along, from the neck end"), x))
            self.edited(lambda y=y: walk.type(page.get_by_label("To the treble side"), y))
        self.place(walk, "Bridge")
        self.place(walk, "Neck")
        self.place(walk, "Jack")
        self.edited(lambda: walk.pick(page.locator("li.here .v-select", has_text="Stands"), "On the side"))
        self.edited(lambda: walk.type(page.get_by_label("To the treble side"), "70"))
        self.place(walk, "Guard")
        self.edited(lambda: walk.type(page.get_by_label("Along, from the neck end"), "150"))
        self.edited(lambda: walk.type(page.get_by_label("To the treble side"), "-85"))
        self.place(walk, "Cover plate")
        self.edited(lambda: walk.pick(page.locator("li.here .v-select").nth(1), "Back"))
        self.edited(lambda: walk.type(page.get_by_label("Along, from the neck end"), "42"))
        self.edited(lambda: walk.type(page.get_by_label("To the treble side"), "0"))
        walk.press(page.get_by_role("button", name="Pot", exact=False).first)
        self.edited(lambda: walk.press(page.get_by_role("button", name="Draw one cavity for").first))
        walk.panel("the pen")
        walk.press(page.get_by_role("tab", name="Draw"))
        walk.press(page.locator(".words").get_by_role("button", name="pickup"))
        walk.pick(page.locator(".form .v-select", has_text="Pickup"), "Pickup 2")
        walk.type(page.get_by_label("Behind the saddle line"), "-150")
        walk.type(page.get_by_label("Treble of the centre line"), "0")
        self.edited(lambda: walk.press(page.get_by_role("button", name="Draw it")))
        shapes = page.get_by_role("navigation", name="Shapes")
        walk.press(shapes.get_by_role("button", name="Pickup pocket", exact=True))
        page.locator("section[aria-label='Pickup pocket']").wait_for()
        self.edited(lambda: walk.type(page.get_by_label("before the saddle line"), "55"))
        walk.press(shapes.get_by_role("button", name="Control cavity"))
        walk.press(page.get_by_role("button", name="A cover over it"))
        walk.type(page.get_by_label("Land for its screws"), "9")
        walk.type(page.get_by_label("Cover thick"), "2")
        self.edited(lambda: walk.press(page.get_by_role("button", name="Draw its ledge and holes")))

    def place(self, walk, name):
        self.edited(lambda: walk.pick(self.page.locator("aside .v-select", has_text="Place a part on hand"), name))
        self.page.locator("li.here").wait_for()

    def settle(self, walk):
        """Press the first cure there is until none is left."""
        page = self.page
        walk.press(page.get_by_role("link", name="Route", exact=True))
        walk.panel("the route and its findings")
        for _ in range(20):
            state = self.state()
            self.server.proof(state["hash"])
            walk.wait(page.locator(".finding").or_(page.get_by_text("Nothing to settle")).first, 200)
            page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")
            cure = page.locator(".finding .cure").first
            if not cure.count():
                return
            self.edited(lambda c=cure: walk.press(c))

    def programs(self, walk):
        page = self.page
        walk.press(page.get_by_role("link", name="Run", exact=True))
        walk.panel("load, zero, run")
        walk.wait(page.get_by_text("Write the programs").first, 200)
        walk.press(page.get_by_text("Write the programs").first)
        walk.wait(page.get_by_text("Read back and simulated").first, 200)

    def is_what_was_meant(self):
        state = self.state()
        document, report = state["document"], state["proof"]["report"]
        self.assertEqual([f["sentence"] for f in report["findings"] if f["severity"] == "stop"], [])
        self.assertNotIn("feature.not_machined", {f["code"] for f in report["findings"]})
        self.assertEqual([s["face"] for s in document["setups"]], ["front", "back"])
        cut = {f for o in document["operations"] for f in o["features"]}
        for one in ("neck_pocket", "pickup_pocket", "pickup1_pocket", "bridge_recess", "control_cavity", "outline"):
            self.assertIn(one, cut)
        self.assertTrue(any(f.endswith("_block") for f in cut) and any(f.endswith("_springs") for f in cut))
        self.assertEqual(document.get("overrides", []), [])
