"""Looking at the wood in the real browser: from inside an operation, against the drawing, tilted under a low light."""

from tests.browser.test_screens import Browser
from tests.support import changed, put, route_named


class Looks(Browser):
    def open(self, route, query=""):
        self.page.goto(f"{self.server.url}/routes/{route}/route{query}")
        self.page.wait_for_selector("text=/Computed, not proven/")
        self.page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")

    def hover(self, x_mm, y_mm):
        """Put the pointer over a place of the body's blank."""
        blank = route_named("siskin_body").blank
        box = self.page.locator("canvas.wood").bounding_box()
        self.page.mouse.move(box["x"] + (x_mm - blank.x_mm) / blank.length_mm * box["width"], box["y"] + (1 - (y_mm - blank.y_mm) / blank.width_mm) * box["height"])

    def test_the_bit_is_followed_by_keyboard_through_an_operation(self):
        self.open(self.new_route(route_named("siskin_body")))
        self.page.get_by_text("Control cavity").first.click()
        self.page.keyboard.press("b")
        ruler = self.page.get_by_role("slider", name="Time inside Control cavity")
        ruler.wait_for()
        self.assertRegex(ruler.get_attribute("aria-valuetext"), r"^0:00 of \d:\d\d, rapid move")
        before = self.page.locator("canvas.wood").screenshot()
        self.page.locator(".left").click(position={"x": 5, "y": 5})
        for _ in range(60):
            self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("text=/cutting, \\d+\\.\\d deep, \\d.\\d{3} mm.min/")
        self.page.wait_for_timeout(300)
        self.assertNotEqual(before, self.page.locator("canvas.wood").screenshot())
        self.page.keyboard.press("Shift+ArrowRight")
        self.page.keyboard.press("ArrowUp")
        self.page.get_by_role("slider", name="Time inside Pickup pocket").wait_for()
        self.assertEqual(self.axe(), [])
        self.page.keyboard.press("b")
        self.page.get_by_role("slider", name="Time inside Pickup pocket").wait_for(state="detached")

    def test_the_result_is_held_against_the_drawing(self):
        self.open(self.new_route(changed(route_named("siskin_body"), put("operations.pocket_pickup_pocket.floor_to_leave_mm", 0.7))))
        self.page.keyboard.press("a")
        self.page.wait_for_selector("text=still standing")
        pocket = next(s for s in self.page.evaluate("fetch('/api/routes/' + location.pathname.split('/')[2]).then(r => r.json())")["drawing"]["solids"] if s["id"] == "pickup_pocket")
        xs, ys = zip(*pocket["rings"][0], strict=True)
        self.hover((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        self.page.wait_for_selector("text=0.70 still stands; drawn 19.0 deep")
        self.hover(min(xs) - 15, (min(ys) + max(ys)) / 2)
        self.page.wait_for_selector("text=/as drawn, 0.0 deep; 0.0\\d is within what the cells can tell/")

    def test_the_wood_is_tilted_turned_and_lit(self):
        self.open(self.new_route(route_named("siskin_body")))
        self.page.keyboard.press("v")
        stage = self.page.get_by_role("img", name="tilted")
        stage.focus()
        self.page.wait_for_timeout(500)
        pictures = [stage.screenshot()]
        for key in ("ArrowLeft", "l", "+"):
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(400)
            pictures.append(stage.screenshot())
        self.assertEqual(len(set(pictures)), 4)
        self.assertEqual(self.axe(), [])

    def test_without_webgl_the_tilted_wood_says_so(self):
        self.page.add_init_script("const real = HTMLCanvasElement.prototype.getContext; HTMLCanvasElement.prototype.getContext = function (kind, ...rest) { return kind === 'webgl2' ? null : real.call(this, kind, ...rest) }")
        self.open(self.new_route(route_named("control_plate")))
        self.page.keyboard.press("v")
        self.page.wait_for_selector("text=This screen cannot draw in three dimensions")
        self.page.keyboard.press("a")
        self.page.wait_for_selector("text=still standing")

    def test_splinters_are_drawn_and_pieces_are_listed_with_what_holds_them(self):
        route = self.new_route(changed(route_named("siskin_body"), put("operations.profile_outline.direction", "conventional"), put("operations.profile_outline.finish_pass", False)))
        self.open(route)
        self.page.locator(".finding", has_text="Splinters are likely").locator(".reason").click()
        self.page.get_by_role("img", name="Likely on").wait_for()
        self.assertGreater(self.page.locator("path.tear.likely").count(), 0)
        self.page.locator(".finding", has_text="Splinters are likely").locator(".cure").click()
        self.page.locator(".finding", has_text="Splinters are likely").wait_for(state="detached")
        self.page.goto(f"{self.server.url}/routes/{route}/hold")
        self.page.wait_for_selector("text=held by 6 tabs to wood that is held")

    def test_a_pocket_is_shared_between_two_bits_and_taken_back(self):
        self.open(self.new_route(route_named("siskin_body")))
        self.page.get_by_text("Neck pocket").first.click()
        choice = self.page.get_by_role("radiogroup", name="Which bits clear it")
        self.assertRegex(choice.get_by_role("radio", name="6 mm flat alone").inner_text(), r"\d\.\d min")
        choice.get_by_role("radio", name="8 mm flat, long first").click()
        self.page.get_by_text("Neck pocket, first").first.click()
        self.page.get_by_role("button", name="Leave all of it to the 6 mm flat").click()
        self.page.get_by_text("Neck pocket, first").first.wait_for(state="detached")
