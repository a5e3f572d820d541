"""What holds what, in the real browser: the traveller in its order, programs that wait for the bench, a drawing that
does not take its part, a part that was never measured."""

from birch_route.core.quantities import say
from birch_route.demo.fitted import hollow_route
from tests.browser.test_screens import Browser
from tests.support import changed, put, route_named


class Order(Browser):
    def open(self, route, view="route"):
        self.page.goto(f"{self.server.url}/routes/{route}/{view}")
        self.page.wait_for_selector("text=/Computed, not proven|Parts on hand/")

    def test_the_traveller_runs_in_order_and_a_program_waits_for_the_glue(self):
        # a day each
        waits = [{"do": "remove_item", "list": "bench_steps", "id": s.id} for s in hollow_route().bench_steps if s.wait]
        route = changed(hollow_route(), *waits)
        job = self.new_route(route)
        self.page.goto(f"{self.server.url}/routes/{job}/run")
        self.page.wait_for_selector("text=Download", state="detached")
        self.page.wait_for_selector("text=/bench steps are not done/", timeout=60_000)
        heads = self.page.locator(".steps h2").all_inner_texts()
        glued, turned = heads.index("At the bench", 1), heads.index("Back face up: load and zero")
        self.assertLess(next(k for k, h in enumerate(heads) if "load and zero" in h), glued)
        self.assertLess(glued, turned)
        self.assertNotIn("After the machine", heads)
        self.assertEqual(self.axe(), [])
        for step in (s for s in route.bench_steps if s.gate and s.after is None):
            self.page.get_by_role("checkbox", name=say(step.name)).first.click()
            self.page.get_by_role("checkbox", name=f"{say(step.name)}, done").first.wait_for()
        self.page.wait_for_selector("text=/what comes after it waits until it is ticked/")
        self.page.get_by_role("button", name="Write the programs").click()
        self.page.wait_for_selector("text=Waiting for the bench", timeout=120_000)
        self.assertEqual(self.page.locator(".files:not(.waiting) li").count(), 1)
        self.assertIn("Glue the cap", self.page.locator(".files.waiting li").first.inner_text())
        for step in (s for s in route.bench_steps if s.gate and s.after is not None):
            self.page.get_by_role("checkbox", name=say(step.name)).first.click()
            self.page.get_by_role("checkbox", name=f"{say(step.name)}, done").first.wait_for()
        self.page.get_by_role("button", name="Write the programs").click()
        self.page.wait_for_selector("text=Download all", timeout=120_000)
        self.assertEqual(self.page.locator(".files:not(.waiting) li").count(), len(route.setups))

    def test_a_hole_is_tied_to_its_part_and_one_that_runs_out_is_moved_inward_by_a_press_each(self):
        job = self.new_route(
            changed(
                route_named("siskin_body"),
                put("piece.features.post_holes.points", [[278.025, -45.3], [278.025, 45.3]]),
                put("piece.features.string_holes.points", [[407.8, 0.0], [300.0, 5.25]]),
            )
        )
        self.open(job)
        self.page.wait_for_selector("text=/90.60 apart as drawn, posts apart read 90.01/")
        self.page.wait_for_selector("text=/String holes runs out through the side of the piece/")
        self.page.locator(".finding", has_text="posts apart read").locator(
            ".cure", has_text="Follow the readings"
        ).click()
        self.page.wait_for_selector("text=/posts apart read/", state="detached")
        self.page.locator(".finding", has_text="runs out through the side").locator(".cure", has_text="inward").click()
        self.page.wait_for_selector("text=/runs out through the side/", state="detached")
        self.page.wait_for_selector("text=Nothing to settle", timeout=60_000)

    def test_a_new_job_says_what_waits_and_an_operation_comes_with_the_readings(self):
        self.page.goto(f"{self.server.url}/new")
        self.page.get_by_label("Name of the job").fill("Nothing measured yet")
        self.page.get_by_text("Make the job").click()
        self.page.wait_for_url("**/routes/*/*")
        job = self.page.url.split("/routes/")[1].split("/")[0]
        self.open(job)
        self.page.locator(".said", has_text="Pickup pocket").wait_for()  # one row for all that wait, named
        self.page.get_by_role("button", name="more alike").first.click()
        self.page.wait_for_selector("text=/Nothing is cut for Pickup pocket: it waits for Pickup, ring deep/")
        self.assertEqual(self.page.locator("ol button.row", has_text="Pickup pocket").count(), 0)
        self.open(job, "measure")
        self.page.get_by_role("tab", name="Pickup").or_(self.page.get_by_role("button", name="Pickup")).first.click()
        for _ in range(3):
            for value in ("28.0", "28.0", "28.0"):
                self.page.locator("#reading").fill(value)
                self.page.locator("#reading").press("Enter")
        self.open(job)
        self.page.locator("ol button.row", has_text="Pickup pocket").first.wait_for(timeout=60_000)


