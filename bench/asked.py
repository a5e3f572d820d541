"""Requests the server accepts, of every kind: what hostile input starts from."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from PIL import Image

from birch_route.formats.route_file import route_to_text
from tests.support import LiveServer, changed, put
from tests.web.test_drawings import dxf
from tests.web.test_edit_kinds import CASES, route_of

NAMES = ("control_plate", "siskin_body", "fitted", "hollow", "board")
SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="120mm" viewBox="0 0 200 120">
<rect x="10" y="10" width="180" height="90" rx="8"/><circle cx="60" cy="50" r="7"/></svg>"""
STL = b"""solid a
facet normal 0 0 1
outer loop
vertex 0 0 0
vertex 200 0 4
vertex 0 120 4
endloop
endfacet
endsolid a
"""
HEIGHTS = {"solve": "depth", "angle_deg": 1.0, "saddle_mm": 11.0, "action_12th_mm": 1.8}
WIRE = {"first": "control_cavity", "second": "neck_pocket"}
PLANK = {"length_mm": 2400, "width_mm": 200, "wanted": [{"what": "Neck", "length_mm": 700, "width_mm": 80, "most": 4}]}
BOARD = {"name": "Board", "wood": "ash", "length_mm": 900, "width_mm": 200, "thickness_mm": 48, "weighed_kg": 6.0}
END = {
    "end": "left", "cut": "holes", "count": 2, "apart_mm": 18.0, "across_mm": 6.0, "deep_mm": 10.0, "wanted_deg": 2.0,
}
OWN = {"name": "Own", "sort": "wood", "like": "ash", "density_kg_m3": 700, "tear_out": "plain"}


def picture() -> bytes:
    """Return a scan of a plate as PNG."""
    held = io.BytesIO()
    seen = np.full((120, 200), 230, np.uint8)
    seen[30:90, 40:160] = 60
    Image.fromarray(seen).save(held, "PNG")
    return held.getvalue()


@dataclass(frozen=True)
class Asked:
    """One request. body: JSON data, or bytes of a file. at: the job whose revision it must name, or None."""

    method: str
    path: str
    body: Any = None
    at: int | None = None


NUMBERS = {
    "scale_mm": 628.0, "width_nut_mm": 43.0, "width_end_mm": 56.0, "radius_nut_mm": 305.0, "radius_end_mm": 305.0,
    "thickness_mm": 6.0, "wire": {"tang_depth_mm": 1.6, "tang_mm": 0.58, "barbs_mm": 0.86},
}


@dataclass
class Shop:
    """A server with jobs to ask about; knows the newest revision of each."""

    server: LiveServer
    routes: dict[str, int] = field(default_factory=dict)
    hashes: dict[str, str] = field(default_factory=dict)

    def fill(self) -> None:
        """Bring in the jobs that are asked about."""
        for name in NAMES:
            self.bring(name)

    def bring(self, name: str) -> None:
        """Bring one job in, in place of one that was there."""
        route = changed(route_of(name), put("note", "asked"))
        status, made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))
        assert status == 200, made
        self.routes[name], self.hashes[name] = made["route"], made["hash"]

    def revision(self, route: int) -> int | None:
        """Return the newest revision of a job; None where it cannot be opened."""
        return self.server.call("GET", f"/api/routes/{route}")[1].get("revision")


def accepted(shop: Shop) -> dict[str, Asked]:
    """Return requests by a name; each is answered with 200 or 202 as long as nobody changed anything."""
    call = shop.server.call
    machine = call("GET", "/api/shop")[1]["machines"][0]
    id_ = call("GET", "/api/machines")[1][0]["machine"]["id"]
    state = call("GET", f"/api/machines/{id_}")[1]
    bits = [r["bit"] for r in call("GET", "/api/rack")[1]]
    flat = next(b for b in bits if b["id"] == "flat6")
    plate, body, plate_hash = shop.routes["control_plate"], shop.routes["siskin_body"], shop.hashes["control_plate"]
    settings = {"feed_mm_min": 2400, "plunge_mm_min": 600, "speed_rpm": 18000, "depth_of_cut_mm": 4, "stepover_mm": 3}
    question = {"machine": machine, "bit": flat, "wood": "ash", "kind": "slot", "settings": settings}
    trial = {
        "machine": machine["name"], "machine_class": machine["machine_class"], "bit": flat, "wood": "ash",
        "kind": "slot", "outcome": "fine", "settings": settings,
    }
    job = {
        "job": "Asked", "kind": "plate", "wood": "birch_ply", "thickness_mm": 18, "machine": machine, "bits": bits,
        "style": "siskin",
    }
    text = route_to_text(route_of("control_plate"))
    rack = call("GET", "/api/rack.csv")[1]
    sheet = call("GET", f"/api/routes/{plate}/settings_sheet.csv")[1]
    of = f"/api/routes/{plate}"
    out = {
        "import": Asked("POST", "/api/routes?measured_here=true", json.loads(text)),
        "import file": Asked("POST", "/api/routes", text.encode()),
        "copy": Asked("POST", f"{of}/copy", {"name": "Another", "readings": True}),
        "away": Asked("POST", f"{of}/away", {"away": False}),
        "standing": Asked("GET", f"{of}/standing"),
        "list": Asked("GET", "/api/routes?search=a&skip=0&most=10"),
        "layout": Asked("GET", f"/api/routes/{body}/layout"),
        "orders": Asked("GET", f"/api/routes/{body}/orders"),
        "places": Asked("GET", f"/api/routes/{body}/places/neck_pocket"),
        "says": Asked("GET", f"/api/routes/{body}/says"),
        "stale": Asked("GET", f"{of}/stale"),
        "look": Asked("GET", f"/api/proofs/{plate_hash}/look?what=target"),
        "sheet": Asked("GET", f"{of}/settings_sheet.pdf?unit=inch"),
        "drawing": Asked("GET", f"{of}/drawing/svg?unit=mm"),
        "rack of": Asked("GET", f"{of}/rack/outline"),
        "against": Asked("GET", f"{of}/against/{id_}"),
        "heights": Asked("POST", f"/api/routes/{body}/heights", HEIGHTS),
        "wire hole": Asked("POST", f"/api/routes/{body}/wire-hole", WIRE),
        "runs at machine": Asked("GET", f"/api/routes/{body}/at-machine"),
        "plank": Asked("POST", "/api/plank-yield", PLANK),
        "end plan": Asked("POST", f"/api/routes/{body}/end/plan", END),
        "job": Asked("POST", "/api/jobs", job),
        "board job": Asked("POST", "/api/jobs", {**job, "kind": "fretboard", "board": NUMBERS}),
        "board numbers": Asked("POST", "/api/boards", NUMBERS),
        "board view": Asked("GET", f"/api/routes/{shop.routes['board']}/board"),
        "svg": Asked("POST", "/api/drawings?name=a.svg", SVG),
        "dxf": Asked("POST", "/api/drawings?name=a.dxf", dxf()),
        "scan": Asked("POST", "/api/drawings?name=a.png&scan=0.1,0.5,0.9,0.5,100", picture()),
        "stl": Asked("POST", f"{of}/relief?revision=1&name=a.stl", STL, plate),
        "question": Asked("POST", "/api/settings/question", question),
        "plan": Asked("POST", "/api/settings/plan", question),
        "slots": Asked("POST", "/api/settings/slots", question),
        "trial": Asked("POST", "/api/trials", trial),
        "fit": Asked("POST", f"/api/routes/{body}/fit_coupon", {"across_mm": 42.0, "first_gap_mm": 0.05, "count": 3}),
        "bit": Asked("POST", "/api/rack", {"bit": flat, "number": "7", "price": 20.5, "spares": 1}),
        "first bits": Asked("POST", "/api/first_bits", {"here": [b["id"] for b in bits]}),
        "bit note": Asked("POST", "/api/rack/flat6/notes", {"what": "used", "wood": "ash", "metres": 3, "minutes": 2}),
        "rack csv": Asked("POST", "/api/rack.csv", rack),
        "sheet csv": Asked("POST", f"{of}/settings_sheet.csv", sheet),
        "machine note": Asked("POST", "/api/machine_notes", {"machine": machine["name"], "what": "ran", "minutes": 3}),
        "offset": Asked("POST", "/api/offsets/bench-one/2", {"name": "Rails", "x_mm": 60.0, "y_mm": 60.0}),
        "tick": Asked("POST", f"{of}/bench", {"step": "own", "done": True, "note": "a"}),
        "board": Asked("POST", "/api/wood", BOARD),
        "material": Asked("POST", "/api/materials", OWN),
        "own shop": Asked("POST", "/api/own_shop", {"name": "Low Barn", "unit": "mm"}),
        "machine": Asked("POST", "/api/machines", {"name": "Heron", "kind": "bench"}),
        "machine file": Asked("POST", "/api/machine_files", call("GET", f"/api/machines/{id_}/file")[1]),
        "sample": Asked("POST", "/api/machine_sample", {"machine": state["machine"]}),
        "measuring": Asked("GET", f"/api/machines/{id_}/measuring/slot"),
        "person": Asked("POST", "/api/people", {"name": "Wren", "role": "viewer"}),
        "jig plan": Asked("POST", f"/api/routes/{body}/jig/plan", {"setup": "front", "kind": "board"}),
        "twin": Asked("POST", f"/api/routes/{body}/twins", {"wood": "foam", "thickness": "45.8"}),
        "run": Asked("POST", f"{of}/runs", {"revision": 1, "outcome": "fine", "note": "a"}, plate),
        "release": Asked("POST", f"{of}/release", {"revision": 1, "reasons": {"piece.freed": "held"}}, plate),
        "undo": Asked("POST", f"{of}/undo", {"revision": 1}, plate),
        "redo": Asked("POST", f"{of}/redo", {"revision": 1}, plate),
        "back": Asked("POST", f"{of}/back", {"revision": 1, "to": 1}, plate),
    }
    for kind, (name, _before, edit) in CASES.items():
        route = shop.routes[name]
        body_ = {"revision": 1, "edits": [edit], "reason": "asked"}
        out[f"edit {kind}"] = Asked("POST", f"/api/routes/{route}/edits", body_, route)
    return out


def with_revision(asked: Asked, revision: Callable[[int], int | None]) -> Asked:
    """Return a request that names the newest revision of its job."""
    if asked.at is None:
        return asked
    if isinstance(asked.body, bytes):  # a file: the revision stands in the address
        path = re.sub(r"revision=\d+", f"revision={revision(asked.at)}", asked.path)
        return Asked(asked.method, path, asked.body, asked.at)
    return Asked(asked.method, asked.path, {**asked.body, "revision": revision(asked.at)}, asked.at)
