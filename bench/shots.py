"""Take the pictures of docs/screenshots from demo data: `./birch shots`."""

from __future__ import annotations

import shutil
import sys

from playwright.sync_api import sync_playwright

from tests.support import ROOT, LiveServer

from .served import ARGUMENTS

SHOTS = [  # name, job, view, size, keys
    ("bench", "", "", (1280, 800), []),
    ("route", "Siskin tenor", "route", (1280, 800), ["ArrowUp", "ArrowUp", "ArrowUp"]),
    ("route_first_try", "Siskin tenor, first try", "route", (1280, 800), []),
    ("route_dark", "Siskin neck, face", "route", (1280, 800), ["d"]),
    ("route_tablet", "Siskin tenor", "route", (1024, 768), []),
    ("measure", "Siskin tenor", "measure", (1280, 800), []),
    ("measure_inch", "Siskin tenor, first try", "measure", (1280, 800), ["click:Four-saddle bridge", "u"]),
    ("new_job", "", "new", (1280, 800), []),
    ("layout", "Siskin tenor", "layout", (1280, 800), []),
    ("blank", "Siskin tenor", "blank", (1280, 800), []),
    ("hold", "Siskin tenor", "hold", (1280, 800), []),
    ("shop", "Siskin tenor", "shop", (1280, 800), []),
    ("run", "Siskin tenor", "run", (1280, 800), ["click:Write the programs", "wait:Read back and simulated"]),
]


def main() -> int:
    server = LiveServer(demo=True)
    folder = ROOT / "docs" / "screenshots"
    try:
        routes = {r["name"]: r for r in server.call("GET", "/api/routes")[1]["routes"]}
        for row in routes.values():
            server.proof(row["hash"])
        name, value = server.cookie.split("=", 1)
        with sync_playwright() as p:
            browser = p.chromium.launch(executable_path=shutil.which("chromium"), args=ARGUMENTS)
            for shot, job, view, (width, height), acts in SHOTS:
                context = browser.new_context(viewport={"width": width, "height": height})
                context.add_cookies([{"name": name, "value": value, "url": server.url}])
                page = context.new_page()
                page.goto(server.url + (f"/routes/{routes[job]['id']}/{view}" if job else f"/{view}"))
                page.wait_for_timeout(2500)
                for act in acts:
                    kind, _, rest = act.partition(":")
                    if kind == "click":
                        page.locator("main").get_by_text(rest).first.click()
                    elif kind == "wait":
                        page.wait_for_selector(f"text={rest}")
                    else:
                        page.evaluate("document.activeElement?.blur()")
                        page.keyboard.press(kind)
                        page.wait_for_timeout(350)
                page.wait_for_timeout(600)
                page.screenshot(path=str(folder / f"{shot}.png"))
                context.close()
            browser.close()
    finally:
        server.remove()
    return 0


if __name__ == "__main__":
    sys.exit(main())
