"""Put the demo shop's jobs into an empty database."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ..core.edits import apply_edits, read_edit
from ..core.route import Route
from ..service.routes import Routes
from ..service.wood_stock import WoodStock
from ..store.database import Database
from .fitted import fitted_route, hollow_route
from .jigs import jig_routes
from .jobs import EXAMPLES
from .shop import BOARDS


def first_try_route() -> Route:
    """Return the demo body as a first try: a bit out too short, a screw in the way, a feed that rubs, an odd reading."""
    route = EXAMPLES["siskin_body"]()
    edits = [
        {"do": "set", "path": "job", "value": "Siskin tenor, first try"},
        {"do": "set", "path": "note", "value": "The same body before it was checked. Several things are wrong with it; the proof says which."},
        {"do": "set", "path": "operations.pocket_control_cavity.bit", "value": "flat6"},
        {"do": "set", "path": "bits.flat6.cutting_length_mm", "value": 26},
        {"do": "set", "path": "operations.pocket_pickup_pocket.settings.feed_mm_min", "value": 1200},
        {"do": "put_hardware", "setup": "front", "hardware": {"id": "s3", "kind": "screw", "x_mm": 404, "y_mm": 104, "top_mm": -1.5}},
        {"do": "keep_reading", "part": "neck", "place": "heel_thickness", "typed": "25.72", "by": "Ada", "at": "2026-03-14"},
    ]
    changed = apply_edits(route, [read_edit(e) for e in edits])
    from ..core.sequence.propose import with_touch_offs
    return changed.model_copy(update={"operations": with_touch_offs(changed.operations)})


def fill_demo(database: Database, routes: Routes, say: Callable[[str], None]) -> None:
    """Add the demo jobs once."""
    with database.transaction() as t:
        if t.one("count_routes", search="")["count"]:
            return
    say("making the demo jobs")
    boards = WoodStock(database)
    for board in BOARDS:
        boards.add(board, "Ada")
    for jig in jig_routes():
        routes.create(jig, "Ada", "Demo jig")
    for make in (EXAMPLES["control_plate"], EXAMPLES["siskin_neck_face"], hollow_route, partial(fitted_route, True), first_try_route, EXAMPLES["siskin_body"]):
        routes.create(make(), "Ada", "Demo job")
