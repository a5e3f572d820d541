"""Take the pictures of docs/screenshots from demo data: `./birch shots`."""

from __future__ import annotations

import shutil
import sys

from playwright.sync_api import sync_playwright

from tests.support import ROOT, LiveServer

from .served import ARGUMENTS

FITTED = "Siskin tenor, fitted out"
DESK = (1280, 800)
SHOTS = [  # name, job, view, size, keys
    ("bench", "", "", DESK, []),
    ("route", "Siskin tenor", "route", DESK, ["ArrowUp", "ArrowUp", "ArrowUp"]),
    ("board", "Dunnock board", "board", DESK, []),
    ("neck", "Siskin neck", "neck", DESK, []),
    ("route_dark", "Siskin neck, face", "route", DESK, ["d", "b", "wait:move 1 of", *["ArrowRight"] * 45]),
    ("machine", "", "shop/machines/bench", DESK, []),
    ("machine_measure", "", "shop/machines/bench?see=measure", DESK, []),
    ("measure", "Siskin tenor", "measure", DESK, []),
    ("new_job", "", "new", DESK, []),
    ("layout", FITTED, "layout?topic=draw", DESK, ["click:Control cavity"]),
    ("layout_parts", FITTED, "layout?topic=parts", DESK, []),
    ("layout_edges", FITTED, "layout?topic=edges", DESK, []),
    ("blank", FITTED, "blank", DESK, []),
    ("hold", FITTED, "hold", DESK, []),
    ("hold_jig", "Board for Siskin neck, face", "hold", DESK, ["click:Jig", "wait:How true it is"]),
    ("shop", "Siskin tenor", "shop", DESK, []),
    ("bits", "Siskin tenor", "bits", DESK, []),
    ("run", "Siskin tenor", "run", DESK, ["click:Write the programs", "wait:Read back and simulated"]),
    ("at_machine", "Control plate", "run", DESK, [
        "click:Write the programs", "wait:Read back and simulated:", "click:Begin a run at the machine",
        "wait:Step 1 of", *["first"] * 2]),
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
                    elif kind == "first":
                        page.locator(".at-machine [data-first]").first.click()
                        page.wait_for_timeout(800)
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
