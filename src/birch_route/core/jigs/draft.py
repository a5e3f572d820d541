"""A jig while it is designed: features, parts and bench steps in the frame of the setup it holds, and the route they become."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon, box

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError
from ..instrument.resolve import resolve
from ..quantities import mm
from ..route import SCHEMA, Route, Setup, content_hash, read_route
from ..sequence.propose import propose_route, staged_for, with_proposed_tabs
from ..vocabulary import Entry, OperationKind, Side
from .model import JigError, JigKind, JigPart, JigRecord

WORDS = {JigKind.BOARD: "Board", JigKind.CARRIER: "Carrier", JigKind.VICE: "Vice plate", JigKind.NEST: "Nest", JigKind.CORNER: "Fences", JigKind.LINES: "Centre lines"}
SCREW_IN_MM = 8.0  # the sheet's own screws stand so far from its corners


def screws_at(places: Sequence[tuple[float, float]]) -> list[dict[str, Any]]:
    """Return sunk screws of a sheet's own at places of the setup, mm; nobody said that they stand there."""
    return [
        {"id": f"s{k}", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": -1.0, "assumed": True}
        for k, (x, y) in enumerate(places, 1)
    ]


def chain_of(region: Polygon) -> dict[str, Any]:
    """Return a region without holes as a drawn shape."""
    points = list(shapely.geometry.polygon.orient(region).exterior.simplify(0.005).coords)[:-1]
    return {"kind": "chain", "vertices": [[round(x, 3), round(y, 3), 0.0] for x, y in points]}


def _moved(feature: dict[str, Any], dx: float, dy: float) -> dict[str, Any]:
    if "points" in feature:
        return {**feature, "points": [[round(x + dx, 3), round(y + dy, 3)] for x, y in feature["points"]]}
    shape = feature["shape"]
    if shape["kind"] == "chain":
        return {**feature, "shape": {**shape, "vertices": [[round(x + dx, 3), round(y + dy, 3), b] for x, y, b in shape["vertices"]]}}
    return {**feature, "shape": {**shape, "x_mm": shape["x_mm"] + dx, "y_mm": shape["y_mm"] + dy}}


@dataclass
class Draft:
    """What a jig is made of so far."""

    features: list[dict[str, Any]] = field(default_factory=list)
    parts: list[JigPart] = field(default_factory=list)
    steps: list[dict[str, Any]] = field(default_factory=list)
    errors: list[JigError] = field(default_factory=list)
    works_with: list[str] = field(default_factory=list)
    cut_outs: list[str] = field(default_factory=list)

    def take(self, other: Draft, dx_mm: float = 0.0, dy_mm: float = 0.0, mark: str = "", words: str = "") -> None:
        """Take over another draft, moved; its ids and names are marked so that they stand once."""
        self.features += [
            {
                **_moved(f, dx_mm, dy_mm),
                "id": f"{f['id']}{mark}"[:40],
                "name": f"{f['name']}{words}"[:80],
                **({"opens_into": [f"{o}{mark}"[:40] for o in f["opens_into"]]} if "opens_into" in f else {}),
            }
            for f in other.features
        ]
        self.parts += [p.model_copy(update={"name": f"{p.name}{words}"[:80]}) for p in other.parts]
        self.steps += [{**s, "id": f"{s['id']}{mark}"[:40], "name": f"{s['name']}{words}"[:80]} for s in other.steps]
        self.errors += [e.model_copy(update={"what": f"{e.what}{words}"[:80]}) for e in other.errors]
        self.works_with += [f"{w}{words}" if not words else f"Station{words.removeprefix(', station')}: {w}" for w in other.works_with]
        self.cut_outs += [f"{c}{mark}" for c in other.cut_outs]

    def hole(self, id_: str, name: str, points: list[tuple[float, float]], across_mm: float, deep_mm: float | None, *, fitted: bool = False) -> None:
        if points:
            self.features.append({"kind": "hole", "id": id_, "name": name, "points": [[round(x, 3), round(y, 3)] for x, y in points], "diameter_mm": across_mm, "depth_mm": deep_mm, "least_floor_mm": 1.0, "fitted": fitted})

    def pocket(self, id_: str, name: str, shape: dict[str, Any], deep_mm: float | None, **more: Any) -> None:
        self.features.append({"kind": "pocket", "id": id_, "name": name, "shape": shape, "depth_mm": deep_mm, "least_floor_mm": 2.0, **more})

    def step(self, id_: str, name: str, minutes: float, note: str = "", *, wait: bool = False) -> None:
        self.steps.append({"id": id_, "name": name, "minutes": minutes, "note": note, "wait": wait})


def route_of(draft: Draft, kind: JigKind, route: Route, setup: Setup, outline: Polygon, sheet: str, thick_mm: float, bits: Sequence[Bit]) -> Route:
    """Return a draft as a job of its own, its operations proposed, on the machine of the job it holds. What is in `draft.cut_outs` is cut round, not cleared.

    Raises:
        InfeasibleError: the sheet does not fit on the machine.
    """
    around = figures()["jigs"]["waste_mm"]
    xmin, ymin, xmax, ymax = outline.buffer(around).bounds
    x, y = math.floor(xmin), math.floor(ymin)
    length, width = math.ceil(xmax) - x, math.ceil(ymax) - y
    travel = route.machine.travel_mm
    if length > travel[0] or width > travel[1]:
        raise InfeasibleError(
            f"The sheet for this jig is {mm(length):g} x {mm(width):g}; the {route.machine.name} reaches "
            f"{mm(travel[0]):g} x {mm(travel[1]):g}. Take a smaller blank, or make the jig in two parts.",
            where="jig",
        )
    at = place_on_bed(route, draft, outline, (x, y, length, width))
    name = f"{WORDS[kind]} for {route.job}"[:80]
    corners = [(x + SCREW_IN_MM, y + SCREW_IN_MM), (x + length - SCREW_IN_MM, y + SCREW_IN_MM), (x + length - SCREW_IN_MM, y + width - SCREW_IN_MM), (x + SCREW_IN_MM, y + width - SCREW_IN_MM)]
    record = JigRecord(kind=kind, made_for=route.job, made_from=content_hash(route), setup=setup.id, parts=draft.parts, errors=draft.errors, works_with=draft.works_with)
    document = {
        "schema": SCHEMA, "job": name, "note": f"Holds {route.job} in the setup “{setup.name}”.", "jig": record.model_dump(mode="json"),
        "piece": {"kind": "jig", "name": name, "features": [*draft.features, {"kind": "outline", "id": "outline", "name": "Outline", "shape": chain_of(outline), "finish_class": "hidden"}]},
        "blank": {"wood": sheet, "length_mm": length, "width_mm": width, "thickness_mm": thick_mm, "x_mm": x, "y_mm": y, "skim_mm": 0},
        "machine": route.machine.model_dump(mode="json"), "bits": [b.model_dump(mode="json") for b in bits],
        "setups": [{"id": "front", "name": "Front face up", "face": "front", "blank_at_mm": at, "zero": {"xy": "lower_left", "z": "bed"},
                    "hardware": screws_at(corners)}],
        "bench_steps": [{"id": "tabs", "name": "Saw the tabs, sand the edges", "minutes": 6}, *draft.steps]}
    made = propose_route(read_route(document))
    for feature in draft.cut_outs:
        made = _cut_round(made, feature)
    last = made.operations[-1].id
    return made.model_copy(update={"bench_steps": [s.model_copy(update={"after": last}) for s in made.bench_steps]})


def place_on_bed(route: Route, draft: Draft, outline: Polygon, blank: tuple[float, float, float, float]) -> list[float]:
    """Return where the sheet's corner goes on the bed: near the usual place, where no through cut comes near the machine's index holes and bits can be changed.

    Args:
        blank: of the sheet in the draft's frame: x, y, length, width.
    """
    machine, fig = route.machine, figures()
    x, y, length, width = blank
    usual = [min(60.0, (machine.travel_mm[0] - length) / 2), min(60.0, (machine.travel_mm[1] - width) / 2)]
    around = figures()["jigs"]["waste_mm"]
    cuts = [outline.exterior.buffer(around), *(shapely.Point(p).buffer(f["diameter_mm"] / 2) for f in draft.features if f["kind"] == "hole" and f["depth_mm"] is None for p in f["points"])]
    through = shapely.union_all(cuts).buffer(fig["bed"]["keep_mm"] + machine.index_hole_mm / 2)
    far = fig["bed"]["move_most_mm"]
    spots = [(usual[0] + dx, usual[1] + dy) for dx in np.arange(-far, far + 1, 5.0) for dy in np.arange(-far, far + 1, 5.0)]
    for a, b in sorted(spots, key=lambda s: (s[0] - usual[0]) ** 2 + (s[1] - usual[1]) ** 2):
        if a < 0 or b < 0 or a + length > machine.travel_mm[0] or b + width > machine.travel_mm[1]:
            continue
        hand = machine.bit_change_mm is None or shapely.Point(machine.bit_change_mm).distance(box(a, b, a + length, b + width)) >= fig["bed"]["hand_mm"]
        if hand and not any(through.contains(shapely.Point(hx - a + x, hy - b + y)) for hx, hy in machine.index_holes_mm):
            return [round(float(a), 1), round(float(b), 1)]
    return usual


def _cut_round(route: Route, feature: str) -> Route:
    """Return the route with an opening cut round its edge, tabs holding what falls out, not cleared as a pocket."""
    resolved = resolve(route)
    operation = next(o for o in route.operations if feature in o.features)
    cut = operation.model_copy(update={"kind": OperationKind.PROFILE, "side": Side.INSIDE, "entry": Entry.RAMP, "finish_pass": False, "finish_allowance_mm": 0.0, "overcut_mm": 0.4})
    staged, lies = staged_for(route, resolved, route.setups[0])
    cut = with_proposed_tabs(staged, lies, cut)
    return route.model_copy(update={"operations": [cut if o.id == operation.id else o for o in route.operations]})


def rounded_box(x0: float, y0: float, x1: float, y1: float, radius_mm: float) -> Polygon:
    """Return a rectangle with rounded corners."""
    return box(x0 + radius_mm, y0 + radius_mm, x1 - radius_mm, y1 - radius_mm).buffer(radius_mm, quad_segs=12)
