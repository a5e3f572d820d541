"""The served application: light requests with 2,000 jobs stored while proofs run, edits and scrubbing in a browser."""

from __future__ import annotations

import http.client
import shutil
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright

from birch_route.demo.fitted import fitted_route
from birch_route.formats.route_file import route_to_text
from birch_route.store.database import Database
from tests.support import LiveServer, changed, put, route_named

JOBS = 2000
ARGUMENTS = ["--disable-quic", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]


def served() -> dict[str, float]:
    """Return the 95th percentile of light requests in ms, the edit seen in the browser in ms, scrubbing frames a second."""
    server = LiveServer(demo=True)
    try:
        return {**_light(server), **_browser(server)}
    finally:
        server.remove()


def _light(server: LiveServer) -> dict[str, float]:
    made = server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
    port = next(Path(server.folder).rglob("postmaster.pid")).read_text().splitlines()[3]
    database = Database(f"postgresql://birch@127.0.0.1:{port}/birch", most=1)
    database.open()
    with database.transaction() as t:  # copies of one route: the store's load, not the worker's
        t.connection.execute(f"""
            with j as (insert into job (name) select 'Stored ' || n from generate_series(1, {JOBS}) n returning id),
                 r as (insert into route (job, latest) select id, 1 from j returning id)
            insert into revision (route, number, state, document, hash, piece_kind, wood, what, author)
            select r.id, 1, 1, v.document, v.hash, v.piece_kind, v.wood, 'Stored', 'Ada' from r, revision v where v.route = {made['route']} and v.number = 1""")
    database.close()
    server.proof(made["hash"])
    load = subprocess.Popen([sys.executable, "-m", "bench.load", server.url, server.cookie, str(made["route"])])
    time.sleep(2)
    taken: dict[str, list[float]] = {"list": [], "route": []}
    for k in range(150):
        for name, path in (("list", f"/api/routes?skip={k * 10}"), ("route", f"/api/routes/{made['route'] + 1 + k}")):
            connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=20)
            began = time.perf_counter()
            connection.request("GET", path, headers={"Cookie": server.cookie})
            answer = connection.getresponse()
            answer.read()
            taken[name].append(time.perf_counter() - began)
            connection.close()
            assert answer.status == 200 and load.poll() is None
    load.terminate()
    load.wait()
    return {f"light_{name}_p95_ms": float(np.percentile(values, 95) * 1000) for name, values in taken.items()}


def _typed(page: Page, row: str, label: str, typed: list[str]) -> np.ndarray:
    """Return how long each change took, ms, from the key to the wood drawn and to every finding, [n, 2]."""
    page.locator(".row", has_text=row).click()
    taken = []
    for text in typed:
        before = page.get_attribute("main.route", "data-judged-ms")
        field = page.get_by_role("textbox", name=label)
        field.fill(text)
        field.press("Enter")
        page.wait_for_function("(b) => document.querySelector('main.route').dataset.judgedMs !== b && !document.querySelector('[aria-busy=true]')", arg=before)
        taken.append([float(page.get_attribute("main.route", name)) for name in ("data-shown-ms", "data-judged-ms")])
    return np.array(taken)


def _told(what: str, taken: np.ndarray) -> dict[str, float]:
    return {f"edit_{what}_seen_ms": float(np.median(taken[:, 0])), f"edit_{what}_judged_ms": float(np.median(taken[:, 1]))}


def _browser(server: LiveServer) -> dict[str, float]:
    made = server.call(
        "POST",
        "/api/routes?measured_here=true",
        route_to_text(changed(route_named("siskin_body"), put("note", "bench"))),
    )[1]
    server.proof(made["hash"])
    name, value = server.cookie.split("=", 1)
    out: dict[str, float] = {}
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path=shutil.which("chromium"), args=ARGUMENTS)
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies([{"name": name, "value": value, "url": server.url}])
        page = context.new_page()
        page.goto(f"{server.url}/routes/{made['route']}/route")
        page.wait_for_selector("text=Nothing to settle")
        for what, label, typed in (("feed", "Feed rate", ["3900", "3800", "3700"]), ("depth", "Depth of cut", ["5.9", "5.8", "5.7"])):
            out |= _told(what, _typed(page, "Pickup pocket", label, typed))
        turned = server.call(
            "POST", "/api/routes?measured_here=true", route_to_text(changed(fitted_route(True), put("note", "bench")))
        )[1]
        server.proof(turned["hash"])
        page.goto(f"{server.url}/routes/{turned['route']}/route")
        page.wait_for_selector("text=Nothing to settle")
        out |= _told("finish", _typed(page, "Belly bevel, finish", "Stepover", ["0.80", "0.79", "0.78", "0.77", "0.76"]))
        for kind, query in (("webgl", ""), ("flat", "?flat")):
            page.goto(f"{server.url}/routes/{made['route']}/route{query}")
            page.wait_for_selector("text=Nothing to settle")
            page.wait_for_timeout(500)
            out[f"scrub_{kind}_frames_s"] = page.evaluate("""async () => {
                const trunk = document.querySelector('svg.trunk'), box = trunk.getBoundingClientRect(), n = 60; const began = performance.now();
                for (let k = 0; k < n; k++) {
                    trunk.dispatchEvent(new PointerEvent('pointerdown', { clientX: box.left + 50, clientY: box.top + 70 + (k * 53) % 560, bubbles: true }));
                    await new Promise(r => requestAnimationFrame(r));
                }
                return n * 1000 / (performance.now() - began) }""")
        browser.close()
    return out
