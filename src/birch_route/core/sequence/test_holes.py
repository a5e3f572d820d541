"""A pair of test holes in the waste, half deep from each face: where the halves meet tells what the machine is off after turning over."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..gluing import base_setup
from ..instrument.resolve import resolve
from ..piece import Hole
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import BenchKind, BitForm, Face, TurnAxis
from .propose import propose_for, staged_for, with_touch_offs

IDS = {Face.FRONT: "test_holes_front", Face.BACK: "test_holes_back"}
STEP = "test_pair"


def add_test_holes(route: Route, setup_id: str) -> Route:
    """Return the route with two holes in the waste on either side of the turning axis, drilled a little more than half deep in the first setup and in the turned one.

    Raises:
        InputError: that setup is not turned, no drill of the rack fits, or the waste is too narrow.
    """
    setup, base = next((s for s in route.setups if s.id == setup_id), None), base_setup(route)
    if setup is None or setup.face is base.face:
        raise InputError("Test holes are drilled from both faces: choose the setup that is turned over.", where=setup_id)
    blank, fig = route.blank, figures()["index_holes"]
    deep = blank.thickness_mm / 2 + 1.0
    drills = sorted((b for b in route.bits if b.form is BitForm.DRILL and b.cutting_length_mm >= deep and b.cut_diameter_mm <= fig["widest_mm"]), key=lambda b: -b.cut_diameter_mm)
    if not drills:
        raise InputError(f"Test holes want a drill that goes {mm(deep):.0f} deep; the rack has none.", where="bits")
    across = drills[0].cut_diameter_mm
    xmin, ymin, xmax, ymax = resolve(route).outline.bounds
    length = setup.turned_about is TurnAxis.LENGTH
    low, high = (blank.y_mm, blank.y_mm + blank.width_mm) if length else (blank.x_mm, blank.x_mm + blank.length_mm)
    rim = (ymin, ymax) if length else (xmin, xmax)
    if min(rim[0] - low, high - rim[1]) < across + fig["around_mm"]:
        raise InputError("There is no waste beside the outline for test holes. Drill them in scrap of the same thickness.", where="blank")
    axis = sum(p[1 if length else 0] for f in route.features if f.id == setup.datum and f.kind == "hole" for p in f.points) / 2 if setup.datum else (0.0 if length else (low + high) / 2)
    out = min(axis - (low + min(fig["from_end_mm"], (rim[0] - low) / 2)), high - min(fig["from_end_mm"], (high - rim[1]) / 2) - axis)
    along = (blank.x_mm + blank.length_mm / 2) if length else (blank.y_mm + blank.width_mm / 2)
    points = [(along, axis + out), (along, axis - out)] if length else [(axis + out, along), (axis - out, along)]
    holes = [Hole(id=IDS[face], name=f"Test holes, {face.value}", points=points, diameter_mm=across, depth_mm=round(deep - (blank.skim_mm if face is Face.FRONT else blank.skim_back_mm), 3), face=face, least_floor_mm=0.0, opens_into=[IDS[face.BACK if face is Face.FRONT else Face.FRONT]])
             for face in (base.face, setup.face)]
    outline, kept = route.piece.outline, [f for f in route.piece.features if f.id not in IDS.values()]
    features = [*(f for f in kept if f.id != outline.id), *holes, outline]
    bare = [o for o in route.operations if not set(o.features) & set(IDS.values())]
    drawn = route.model_copy(update={"piece": route.piece.model_copy(update={"features": features}), "operations": bare})
    resolved = resolve(drawn)
    operations: list[Operation] = []
    for one in route.setups:
        here = [o for o in bare if o.setup == one.id]
        new: list[Operation] = []
        for hole in holes:
            if (one is base and hole.face is base.face) or (one is setup and hole.face is setup.face):
                staged, lies = staged_for(drawn, resolved, one)
                new += propose_for(staged, lies, lies.solid(hole.id))
        at = next((k + 1 for k, o in enumerate(here) if setup.datum in o.features), 0)
        operations += with_touch_offs([*here[:at], *new, *here[at:]])
    last = next((o.id for o in operations if IDS[setup.face] in o.features), None)
    step = BenchStep(id=STEP, name="Read the test holes", minutes=figures()["minutes"]["turn_over"], after=last, kind=BenchKind.MEASURE,
                     note="How far each half drilled now stands from the half of the first face: along the axis toward the tail, and across it toward the treble side. Write it under Hold; the programs of this setup follow.")
    return drawn.model_copy(update={"operations": operations, "bench_steps": [*(s for s in route.bench_steps if s.id != STEP), step]})
