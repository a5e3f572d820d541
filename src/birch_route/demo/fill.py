"""Put the demo shop's jobs into an empty database."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ..core.bits.model import Bit
from ..core.cutting.records import Trial
from ..core.edits import apply_edits, read_edit
from ..core.machines import Machine
from ..core.quantities import Unit
from ..core.route import Route, Settings
from ..core.vocabulary import CutKind, Origin, Outcome
from ..service.machines import Machines
from ..service.rack import Rack
from ..service.routes import Routes
from ..service.wood_stock import WoodStock
from ..store.database import Database
from .boards import DUNNOCK, PLOVER, board_route
from .fitted import fitted_route, hollow_route
from .jigs import jig_routes
from .jobs import EXAMPLES
from .necks import PLOVER as PLOVER_NECK
from .necks import SISKIN, made_neck
from .shop import BITS, BOARDS, MACHINES, MORE_BITS


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


def _fill_rack(rack: Rack) -> None:
    """Tell of the shop's bits, and of cuts it made with them."""
    bits = {b["id"]: Bit.model_validate(b) for b in [*BITS, *MORE_BITS]}
    for id_, number, price, spares in (("flat8", "R-081", 34.0, 1), ("flat6", "R-060", 27.5, 2), ("flat3", "R-031", 19.0, 3), ("ball8", "R-B08", 41.0, 0)):
        rack.keep(bits[id_], {"number": number, "price": price, "spares": spares}, "Ada")
    for id_, wood, metres, minutes in (("flat8", "alder", 640.0, 190.0), ("flat8", "hard_maple", 210.0, 80.0), ("flat6", "alder", 180.0, 60.0), ("flat3", "abs", 95.0, 70.0)):
        rack.note(id_, {"what": "used", "wood": wood, "metres": metres, "slots": 0, "minutes": minutes, "diameter_mm": None, "shortened_mm": None, "note": ""}, "Ada")
    rack.note("flat3", {"what": "measured", "wood": "", "metres": 0.0, "slots": 0, "minutes": 0.0, "diameter_mm": None, "shortened_mm": 0.02, "note": "after the plates"}, "Ada")
    rack.note("down6", {"what": "measured", "wood": "", "metres": 0.0, "slots": 0, "minutes": 0.0, "diameter_mm": 5.97, "shortened_mm": None, "note": "across a slot"}, "Ada")
    machine = MACHINES[0]
    for feed, deep, outcome, note in ((2600.0, 6.0, Outcome.FINE, ""), (3200.0, 6.0, Outcome.FINE, "quiet, clean"), (3800.0, 6.0, Outcome.FINE, ""), (4000.0, 9.0, Outcome.CHATTER, "sang in the corner")):
        settings = Settings(feed_mm_min=feed, plunge_mm_min=900, speed_rpm=13400, depth_of_cut_mm=deep, stepover_mm=8)
        rack.add_trial(Trial(machine=machine["name"], machine_class=machine["machine_class"], bit=bits["flat8"], wood="alder", kind=CutKind.SLOT, settings=settings, outcome=outcome, note=note), "Ada")
    rack.add_trial(Trial(machine=machine["name"], machine_class=machine["machine_class"], bit=bits["flat6"], wood="hard_maple", kind=CutKind.SLOT, outcome=Outcome.FINE, origin=Origin.TOLD, note="from a friend's shop",
                         settings=Settings(feed_mm_min=3000, plunge_mm_min=800, speed_rpm=18000, depth_of_cut_mm=3.0, stepover_mm=6)), "Ada")


_TOLD = {"origin": "told", "on": "2026-03-02"}
KNOWN = {  # of the demo's bench machine
    "travel_mm.0": {"origin": "measured", "on": "2026-03-09", "spread": 0.2},
    "travel_mm.1": {"origin": "measured", "on": "2026-03-09", "spread": 0.2},
    "touch_plate_mm": {"origin": "measured", "on": "2026-03-02", "spread": 0.01},
    "index_holes_mm": {"origin": "measured", "on": "2026-03-09", "spread": 0.05},
    "index_hole_mm": {"origin": "measured", "on": "2026-03-09", "spread": 0.02},
    **dict.fromkeys(
        ("travel_mm.2", "nut_clear_mm", "nut_diameter_mm", "edge_finder_mm", "bit_change_mm", "power_w", "rated_rpm"),
        _TOLD,
    ),
}


def _fill_machines(machines: Machines) -> None:
    machines.keep_shop("Low Barn", Unit.MM, "Ada")
    for machine in MACHINES:
        known = KNOWN if machine["id"] == "bench" else {}
        machines.add_as_is(Machine.model_validate({**machine, "known": known}), "Ada", "Demo machine")


def fill_demo(database: Database, routes: Routes, say: Callable[[str], None]) -> None:
    """Add the demo jobs once."""
    with database.transaction() as t:
        if t.one("count_routes")["count"]:
            return
    say("making the demo jobs")
    _fill_machines(Machines(database))
    boards = WoodStock(database)
    for board in BOARDS:
        boards.add(board, "Ada")
    _fill_rack(Rack(database, [*BITS, *MORE_BITS]))
    for jig in jig_routes():
        routes.create(jig, "Ada", "Demo jig")
    boards_made = (
        partial(board_route, "Plover board, two scales", PLOVER), partial(board_route, "Dunnock board", DUNNOCK)
    )
    for make in (
        *boards_made, partial(made_neck, "Plover neck, leaning headstock", PLOVER_NECK, "khaya"),
        partial(made_neck, "Siskin neck", SISKIN, "khaya"), EXAMPLES["control_plate"],
        EXAMPLES["siskin_neck_face"], hollow_route,
        partial(fitted_route, True), first_try_route, EXAMPLES["siskin_body"],
    ):
        routes.create(make(), "Ada", "Demo job")
