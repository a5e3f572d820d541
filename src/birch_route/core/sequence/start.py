"""A new job from nothing: an outline, drawn or imported, becomes a piece with its blank, holding and proposed route."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import shapely

from ..data import Wood, figures, wood
from ..errors import InputError
from ..fretboard.features import outline_of
from ..fretboard.numbers import Board
from ..fretboard.steps import MEASURED, after, before
from ..instrument.pickups import pickup_pocket
from ..instrument.resolve import resolve
from ..neck.features import outline_of as neck_outline
from ..neck.loft import Loft
from ..neck.numbers import Neck
from ..neck.steps import neck_steps
from ..plane.curves import Chain, Drawn, flatten
from ..plane.moved import Move, moved
from ..plane.regions import region_from
from ..route import SCHEMA, Route, read_route
from ..vocabulary import Face, PieceKind, TurnAxis
from .index import index_holes
from .pins import pin_step
from .propose import propose_route
from .rim import clean_rims
from .turning import over_pins, turn_over

ROUND_WITHIN_MM = 0.02
IN_MM = 7.0  # screws stand so far in from the corner of a blank


@dataclass(frozen=True)
class Inner:
    """A closed curve of a drawing besides the outline. depth_mm None goes through. A reference is kept and never cut; it may lie anywhere."""

    shape: Drawn
    name: str
    depth_mm: float | None
    face: Face = Face.FRONT
    is_reference: bool = False
    layer: str = ""


@dataclass(frozen=True)
class Start:
    """What a new job is made of."""

    job: str
    kind: PieceKind
    outline: Drawn
    wood: str
    thickness_mm: float
    machine: dict[str, Any]
    bits: list[dict[str, Any]]
    inner: list[Inner] = field(default_factory=list)
    left_handed: bool = False
    with_parts: bool = False  # a body that takes a neck, a bridge and a pickup, all still to be measured
    skim_mm: float = 0.0
    materials: Sequence[Wood] = ()  # where the shop differs from the table
    fit_gap_mm: float | None = None  # at which necks fitted in this shop
    board: Board | None = None  # of a fretboard made from numbers; its outline follows from them
    neck: Neck | None = None  # of a neck made from numbers; likewise


def to_centre_line(outline: Drawn, inner: list[Drawn], *, length_mm: float | None = None, turn_deg: float = 0.0, mirror: bool = False,
                   centre_y_mm: float | None = None) -> tuple[Drawn, list[Drawn]]:
    """Return outline and inner curves in the piece's frame: left end at x = 0, the centre line at y = 0.

    Args:
        length_mm: scales everything so that the outline becomes this long; None keeps the size.
        turn_deg: turns the drawing first, so that the neck end comes to the left.
        mirror: mirrors across the centre line: a left-handed build.
        centre_y_mm: where the centre line lies in the turned drawing; None takes the middle of the outline's box, which is
            the centre line of an even outline only.
    """
    turned = [moved(s, Move(angle_rad=math.radians(turn_deg))) for s in [outline, *inner]]
    points = flatten(turned[0])
    low, high = points.min(0), points.max(0)
    scale = 1.0 if length_mm is None else length_mm / float(high[0] - low[0])
    middle = float((low[1] + high[1]) / 2) if centre_y_mm is None else centre_y_mm
    placed = [moved(s, Move(dx_mm=-float(low[0]) * scale, dy_mm=-middle * scale, scale=scale)) for s in turned]
    if mirror:
        placed = [moved(s, Move(mirror=True)) for s in placed]
    return placed[0], placed[1:]


def circle_of(shape: Drawn) -> tuple[float, float, float] | None:
    """Return centre and diameter where a closed curve is a circle within ROUND_WITHIN_MM, else None."""
    points = flatten(shape)
    if len(points) < 12:
        return None
    low, high = points.min(0), points.max(0)
    centre = (low + high) / 2
    radii = np.hypot(*(points - centre).T)
    if radii.max() - radii.min() > max(ROUND_WITHIN_MM, 0.002 * radii.mean()):
        return None
    return float(centre[0]), float(centre[1]), float(2 * radii.mean())


def start_route(start: Start) -> Route:
    """Return a new route with its operations proposed.

    Raises:
        InputError, GeometryError: the outline cannot be cut, a curve lies outside it, or the wood is unknown.
        InfeasibleError: no bit can cut it.
    """
    if start.wood not in {w.id for w in start.materials}:
        wood(start.wood)
    flip = Move(mirror=start.left_handed)
    outline = moved(start.outline, flip)
    region = region_from(outline, "The outline")
    features: list[dict[str, Any]] = []
    if start.with_parts:
        features += _body_features()
    references: list[dict[str, Any]] = []
    for number, one in enumerate(start.inner, 1):
        shape = moved(one.shape, flip)
        if one.is_reference:
            references.append({"id": f"reference_{number}", "name": one.name, "layer": one.layer, "shape": shape.model_dump(mode="json")})
            continue
        inside = region_from(shape, one.name)
        if not region.buffer(0.5).covers(inside):
            raise InputError(f"{one.name} reaches outside the outline. Leave it out, or give it another layer.", where=one.name)
        features.append(_inner_feature(one, shape, number))
    features.append({"kind": "outline", "id": "outline", "name": "Outline", "shape": outline.model_dump(mode="json")})
    x, y, length, width = blank_round(region, start.board is not None or start.neck is not None)
    then = after(start.board) if start.board else []
    document = {
        "schema": SCHEMA, "job": start.job, "piece": {
            "kind": start.kind.value, "name": start.job, "features": features, "references": references,
            "board": None if start.board is None else start.board.model_dump(mode="json"),
            "neck": None if start.neck is None else start.neck.model_dump(mode="json")},
        "parts": _body_parts() if start.with_parts else [],
        "choices": {} if start.fit_gap_mm is None else {"fit_gap_mm": start.fit_gap_mm, "mine": ["fit_gap_mm"]},
        "materials": [m.model_dump(mode="json") for m in start.materials if m.id == start.wood],
        "blank": {"wood": start.wood, "length_mm": length, "width_mm": width, "thickness_mm": start.thickness_mm + start.skim_mm, "x_mm": x, "y_mm": y, "skim_mm": start.skim_mm},
        "machine": start.machine, "bits": start.bits,
        "setups": [{"id": "front", "name": "Front face up", "face": "front", "zero": {"xy": "lower_left", "z": "bed"}, "hardware": [
            {"id": f"s{k}", "kind": "screw", "x_mm": px, "y_mm": py, "top_mm": -1.0, "assumed": True}
            for k, (px, py) in enumerate(corners_of(x, y, length, width), 1)]}],
        "bench_steps": [
            *(before(start.board) if start.board else []),
            *[s for s in then if s["id"] == MEASURED],
            {"id": "tabs", "name": "Saw the tabs, trim flush", "minutes": 12},
            *[s for s in then if s["id"] != MEASURED],
        ],
    }
    route = clean_rims(propose_route(read_route(document)))
    last = route.operations[-1].id
    first = {s["id"] for s in before(start.board)} if start.board else set()
    steps = [s if s.id in first else s.model_copy(update={"after": last}) for s in route.bench_steps]
    return route.model_copy(update={"bench_steps": steps})


def blank_round(region: shapely.Polygon, board: bool = False) -> tuple[float, float, float, float]:
    """Return corner, length and width of a blank round an outline, mm: room for the bit and screws, at a board's ends
    for the bit that rounds it."""
    xmin, ymin, xmax, ymax = region.bounds
    margin: float = figures()["blank_margin"]["start_mm"]
    ends = margin + (figures()["fretboard"]["ends_mm"] if board else 0.0)
    x, y = math.floor(xmin - ends), math.floor(ymin - margin)
    return x, y, math.ceil(xmax + ends) - x, math.ceil(ymax + margin) - y


def corners_of(x: float, y: float, length: float, width: float) -> list[tuple[float, float]]:
    """Return where screws stand in the corners of a blank, counter-clockwise from its own."""
    low, high = (x + IN_MM, x + length - IN_MM), (y + IN_MM, y + width - IN_MM)
    return [(low[0], high[0]), (low[1], high[0]), (low[1], high[1]), (low[0], high[1])]


def fit_blank(route: Route) -> Route:
    """Return the route with its blank round the outline as a new job has it, and the screws nobody has moved in its
    corners.

    Raises:
        InputError: it is found again by holes or stands in a nest or vice, where the blank is what it is.
    """
    if route.piece.neck is not None and len(route.setups) == 2:
        return _fit_neck(route)
    if len(route.setups) > 1 or route.setups[0].nest is not None or route.setups[0].in_vice:
        raise InputError("Only a blank that lies in one setup is fitted anew. Type its size on Blank.", where="blank")
    by_numbers = route.piece.board is not None or route.piece.neck is not None
    x, y, length, width = blank_round(resolve(route).outline, by_numbers)
    blank = route.blank.model_copy(update={"x_mm": x, "y_mm": y, "length_mm": length, "width_mm": width})
    places = {f"s{k}": place for k, place in enumerate(corners_of(x, y, length, width), 1)}
    hardware = [
        h.model_copy(update={"x_mm": places[h.id][0], "y_mm": places[h.id][1]}) if h.assumed and h.id in places else h
        for h in route.setups[0].hardware
    ]
    setup = route.setups[0].model_copy(update={"hardware": hardware})
    return route.model_copy(update={"blank": blank, "setups": [setup]})


def _fit_neck(route: Route) -> Route:
    """Return a neck's route with its blank round the outline and as thick as it has to be, its index holes in the new
    waste, the screws nobody has moved in the corners of both setups."""
    neck = route.piece.neck
    assert neck is not None
    x, y, length, width = blank_round(resolve(route).outline, True)
    skims = route.blank.skim_mm + route.blank.skim_back_mm
    blank = route.blank.model_copy(update={"x_mm": x, "y_mm": y, "length_mm": length, "width_mm": width,
                                           "thickness_mm": round(Loft(neck).blank_mm + skims, 3)})
    places = {f"s{k}": place for k, place in enumerate(corners_of(x, y, length, width), 1)}
    setups = [s.model_copy(update={"hardware": [
        h.model_copy(update={"x_mm": places[h.id][0], "y_mm": places[h.id][1]}) if h.assumed and h.id in places else h
        for h in s.hardware]}) for s in route.setups]
    fitted = route.model_copy(update={"blank": blank, "setups": setups})
    datum = next((s.datum for s in setups if s.datum), None)
    holes = index_holes(fitted, setups[1].turned_about) if datum else None
    if holes is None:
        return fitted
    features = [f.model_copy(update={"points": holes.points}) if f.id == datum else f for f in fitted.piece.features]
    return over_pins(fitted.model_copy(update={"piece": fitted.piece.model_copy(update={"features": features})}))


def start_board(start: Start, board: Board) -> Start:
    """Return the start of a fretboard from numbers: its outline, a blank as thick as its crown and what is skimmed."""
    outline = Chain.model_validate(outline_of(board))
    return replace(start, kind=PieceKind.FRETBOARD, outline=outline, inner=[], board=board, left_handed=False,
                   thickness_mm=board.thickness_mm, with_parts=False)


def start_neck(start: Start, neck: Neck) -> Start:
    """Return the start of a neck from numbers: its outline, a blank as thick as it is at its thickest."""
    outline = Chain.model_validate(neck_outline(neck))
    return replace(start, kind=PieceKind.NECK, outline=outline, inner=[], neck=neck, left_handed=False,
                   thickness_mm=Loft(neck).blank_mm, with_parts=False)


def neck_route(start: Start, neck: Neck) -> Route:
    """Return a new neck with both faces: front up, then turned over onto a sheet of scrap that the ball at the rim may
    cut into."""
    route = turn_over(start_route(start_neck(start, neck)), TurnAxis.LENGTH)
    sheet = figures()["neck"]["sheet_mm"]
    setups = [s if s.face is Face.FRONT else s.model_copy(update={"sheet_mm": sheet}) for s in route.setups]
    bare = route.model_copy(update={"setups": setups})
    made = propose_route(bare)
    pins = {f"pins_{s.id}"[:40]: s for s in setups if s.sheet_mm}  # they reach through the sheet
    steps = [pin_step(made, pins[s.id]).model_copy(update={"after": s.after}) if s.id in pins else s
             for s in made.bench_steps]
    made = made.model_copy(update={"bench_steps": steps})
    return made.model_copy(update={"bench_steps": neck_steps(made)})


def _inner_feature(one: Inner, shape: Drawn, number: int) -> dict[str, Any]:
    circle = circle_of(shape)
    if circle is not None:
        x, y, diameter = circle
        return {"kind": "hole", "id": f"hole_{number}", "name": one.name, "points": [[x, y]], "diameter_mm": round(diameter, 3), "depth_mm": one.depth_mm, "face": one.face.value}
    return {"kind": "pocket", "id": f"pocket_{number}", "name": one.name, "shape": shape.model_dump(mode="json"), "depth_mm": one.depth_mm, "face": one.face.value,
            "least_floor_mm": 0.0 if one.depth_mm is None else figures()["floors_mm"]["cavity"]}


def _body_features() -> list[dict[str, Any]]:
    """Return the features that follow from a neck, a pickup and a bridge once these are measured."""
    floors = figures()["floors_mm"]
    return [
        {"kind": "pocket", "id": "neck_pocket", "name": "Neck pocket", "shape": {"kind": "heel", "part": "neck", "corner_radius_mm": 3}, "depth_mm": 16.0,
         "depth_from": {"kind": "stack"}, "finish_class": "fitted", "least_floor_mm": floors["neck_pocket"], "open_at_neck": True},
        pickup_pocket("pickup", "pickup_pocket", "Pickup pocket", 150),
        {"kind": "pocket", "id": "bridge_recess", "name": "Bridge recess", "shape": {"kind": "part_rectangle", "part": "bridge", "gap_mm": 0.2, "at_saddle": True},
         "depth_mm": 1.5, "finish_class": "shown", "least_floor_mm": 15, "assumed": True},
    ]


def _body_parts() -> list[dict[str, Any]]:
    return [{"id": "neck", "kind": "neck", "name": "Neck"}, {"id": "bridge", "kind": "bridge", "name": "Bridge"}, {"id": "pickup", "kind": "pickup", "name": "Pickup"}]
