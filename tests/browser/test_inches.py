"""A crawl over every screen, its topics and its tips in inches: no millimetre is left, and no mark unread."""

import re
import unittest

from birch_route.demo.fitted import hollow_route
from tests.browser.test_screens import Browser
from tests.core.boards import board_route
from tests.support import route_named

MM = re.compile(r"\d\s?mm\b|\bmm/min|\bmm²|[⟦⟧]|\bNaN\b|\bundefined\b|\[object")
VIEWS = ("measure", "layout", "blank", "bits", "shop", "hold", "route", "run")
EVERYTHING = """() => {
  // what is typed at a machine that reads mm is said in its unit beside the reader's
  document.querySelectorAll('.at-machine').forEach((one) => { one.style.display = 'none' })
  const out = [document.body.innerText]
  const asked = '[title], [aria-label], [placeholder], input, textarea, svg text, svg title'
  for (const one of document.querySelectorAll(asked)) {
    for (const name of ['title', 'aria-label', 'placeholder']) {
      if (one.getAttribute(name)) out.push(one.getAttribute(name))
    }
    if (one.value) out.push(String(one.value))
    if (one.ownerSVGElement) out.push(one.textContent)
  }
  return out
}"""


def names_in(data):
    """Return every name somebody gave: of bits, machines, features, parts, steps. They stay as they were given."""
    if isinstance(data, dict):
        own = [v for k, v in data.items() if k in ("name", "job", "note") and isinstance(v, str)]
        return own + [n for v in data.values() for n in names_in(v)]
    return [n for v in data for n in names_in(v)] if isinstance(data, list) else []


class Inches(Browser):
    def told_in_mm(self, names):
        """Return what stands on the page in mm, without the names that were given."""
        found = []
        for text in self.page.evaluate(EVERYTHING):
            for line in text.splitlines():
                for name in names:
                    line = re.sub(re.escape(name), "", line, flags=re.IGNORECASE)
                if MM.search(line):
                    found.append(line.strip()[:160])
        return found

    def crawl(self, route, views=VIEWS):
        number = self.new_route(route)
        self.page.goto(self.server.url)
        self.page.evaluate("localStorage.setItem('birch_unit', 'inch')")
        given = names_in(route.model_dump(mode="json")) + names_in(self.server.call("GET", "/api/rack")[1])
        names = sorted(set(given), key=len, reverse=True)
        for view in views:
            self.page.goto(f"{self.server.url}/routes/{number}/{view}")
            self.page.wait_for_timeout(1500)
            with self.subTest(view=view, route=route.job):
                self.assertEqual(self.told_in_mm(names), [])
            tabs = self.page.locator("[role=tab]:visible")
            for k in range(min(tabs.count(), 12)):
                topic = tabs.nth(k).inner_text().strip()
                tabs.nth(k).click()
                self.page.wait_for_timeout(400)
                with self.subTest(view=view, topic=topic, route=route.job):
                    self.assertEqual(self.told_in_mm(names), [])

    def test_a_body_is_told_in_inches_throughout(self):
        self.crawl(route_named("siskin_body"))

    def test_a_hollow_body_on_three_setups_is_told_in_inches_throughout(self):
        self.crawl(hollow_route())

    def test_a_fretboard_with_all_its_findings_is_told_in_inches_throughout(self):
        thin = board_route(thickness_mm=4.0, radius_nut_mm=184.0, radius_end_mm=184.0, past_last_fret_mm=2.0,
                           marker_mm=10.0, bass_scale_mm=660.0)
        self.crawl(thin, ("board", "layout", "hold", "route"))

    def test_the_start_and_a_new_job_are_told_in_inches(self):
        self.page.goto(self.server.url)
        self.page.evaluate("localStorage.setItem('birch_unit', 'inch')")
        for path in ("/", "/new"):
            self.page.goto(f"{self.server.url}{path}")
            self.page.wait_for_timeout(1500)
            names = names_in(self.server.call("GET", "/api/routes?most=100")[1])
            with self.subTest(path):
                self.assertEqual(self.told_in_mm(names), [])

    def test_the_shop_and_its_machines_are_told_in_inches(self):
        self.page.goto(self.server.url)
        self.page.evaluate("localStorage.setItem('birch_unit', 'inch')")
        names = names_in(self.server.call("GET", "/api/rack")[1])
        of_one = [f"/shop/machines/bench?see={tab}" for tab in ("figures", "words", "jobs")]
        of_one += [f"/shop/machines/bench?see=measure&job={job}" for job in ("square", "pair", "time", "flatness")]
        for path in ("/shop", "/shop/woods", "/shop/machines/new", *of_one):
            self.page.goto(f"{self.server.url}{path}")
            if "measure" in path:
                self.page.locator(".readings input").first.wait_for()
            self.page.wait_for_timeout(1500)
            with self.subTest(path):
                self.assertEqual(self.told_in_mm(names), [])


if __name__ == "__main__":
    unittest.main()
