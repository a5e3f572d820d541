"""From a route document to plain geometry: every feature as a region with its floor, derived ones included."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field

import shapely
from shapely.geometry import Point, Polygon, box

from ..errors import GeometryError, InputError
from ..plane.curves import HeelShape, PartRectangle, Rectangle
from ..plane.regions import buffer_round, region_from
from ..route import Hole, Outline, Pocket, Route, content_hash
from ..tolerances import TOLERANCES
from ..vocabulary import FinishClass, PartKind
from .parts import read_place
from .stack import Derivation, HeelPocket, find_part, heel_pocket, neck_pocket_depth, saddle_distance

OPEN_OVERRUN_MM = 2.0  # an open pocket is cleared this far past the mouth, besides the bit


@dataclass(frozen=True)
class Solid:
    """One feature as geometry in the piece's frame. floor_mm is z; None goes through."""

    id: str
    name: str
    kind: str
    region: Polygon
    floor_mm: float | None
    finish_class: FinishClass = FinishClass.HIDDEN
    points: tuple[tuple[float, float], ...] = ()
    diameter_mm: float = 0.0
    part_corner_mm: float | None = None
    least_floor_mm: float = 0.0
    is_open: bool = False
    unmeasured: tuple[str, ...] = ()  # places of parts this rests on that were never measured
    must_be_measured: bool = False


@dataclass(frozen=True)
class Resolved:
    """The piece as geometry, with the numbers derived on the way."""

    outline: Polygon
    solids: dict[str, Solid]
    derivations: list[Derivation] = field(default_factory=list)
    heel: HeelPocket | None = None
    saddle_x_mm: float | None = None

    def solid(self, feature_id: str) -> Solid:
        return self.solids[feature_id]


_kept: OrderedDict[str, Resolved] = OrderedDict()
KEEP = 64


def resolve(route: Route) -> Resolved:
    """Return the geometry of a route's piece; the newest KEEP results are kept by what they depend on.

    Raises:
        GeometryError: a shape cannot be used; names the feature and the place.
        InputError: a feature names a part that is not there.
    """
    key = content_hash({"piece": route.piece.model_dump(mode="json"), "parts": [p.model_dump(mode="json") for p in route.parts],
                        "choices": route.choices.model_dump(mode="json")})
    found = _kept.get(key)
    if found is None:
        found = _kept[key] = _resolve(route)
        while len(_kept) > KEEP:
            _kept.popitem(last=False)
    return found


def _resolve(route: Route) -> Resolved:
    heel = heel_pocket(find_part(route.parts, PartKind.NECK), route.choices.fit_gap_mm)
    saddle = saddle_distance(route.parts, route.choices)
    recess = _bridge_recess(route)
    depth = neck_pocket_depth(route.parts, route.choices, recess)
    saddle_x = None
    if heel is not None and saddle.value_mm is not None:
        saddle_x = heel.length_mm - heel.gap_mm + saddle.value_mm
    solids: dict[str, Solid] = {}
    for feature in route.piece.features:
        if isinstance(feature, Outline):
            solids[feature.id] = _outline(feature)
        elif isinstance(feature, Hole):
            solids[feature.id] = _hole(route, feature)
        else:
            solids[feature.id] = _pocket(route, feature, heel, saddle_x, depth)
    has_neck = find_part(route.parts, PartKind.NECK) is not None and any(
        isinstance(f, Pocket) and isinstance(f.shape, HeelShape) for f in route.piece.features
    )
    outline = solids[route.piece.outline.id].region
    return Resolved(outline, solids, [depth, saddle] if has_neck else [], heel, saddle_x)


def _bridge_recess(route: Route) -> float:
    for feature in route.piece.features:
        if isinstance(feature, Pocket) and isinstance(feature.shape, PartRectangle) and feature.shape.at_saddle:
            return feature.depth_mm
    return 0.0


def _outline(feature: Outline) -> Solid:
    if isinstance(feature.shape, HeelShape | PartRectangle):
        raise GeometryError(f"{feature.name} must be drawn; it cannot come from a part.", where=feature.id)
    return Solid(feature.id, feature.name, "outline", region_from(feature.shape, feature.name), None,
                 feature.finish_class)


def _hole(route: Route, feature: Hole) -> Solid:
    if feature.diameter_mm < TOLERANCES.smallest_mm:
        raise GeometryError(f"{feature.name} is only {feature.diameter_mm:.2f} mm wide.", where=feature.id)
    radius = feature.diameter_mm / 2
    discs = [buffer_round(Point(p), radius) for p in feature.points]
    region = shapely.union_all(discs)
    unmeasured: tuple[str, ...] = ()
    if feature.measured_from is not None:
        part = route.part(feature.measured_from)
        if part is None or not part.readings:
            unmeasured = (feature.measured_from,)
    elif feature.fitted:
        unmeasured = ("its place",)
    return Solid(
        feature.id, feature.name, "hole", region, None if feature.depth_mm is None else -feature.depth_mm,
        FinishClass.FITTED if feature.fitted else FinishClass.HIDDEN, tuple(map(tuple, feature.points)),
        feature.diameter_mm, least_floor_mm=feature.least_floor_mm, unmeasured=unmeasured,
        must_be_measured=feature.fitted,
    )


def _pocket(route: Route, feature: Pocket, heel: HeelPocket | None, saddle_x: float | None, depth: Derivation) -> Solid:
    unmeasured: list[str] = []
    shape = feature.shape
    if isinstance(shape, HeelShape):
        region, missing = _heel_region(route, shape, heel, feature)
        unmeasured += missing
    elif isinstance(shape, PartRectangle):
        region, missing = _part_region(route, shape, saddle_x, feature)
        unmeasured += missing
    else:
        region = region_from(shape, feature.name)
    floor, missing = _floor(route, feature, depth)
    unmeasured += missing
    return Solid(
        feature.id, feature.name, "pocket", region, floor, feature.finish_class, (), 0.0, feature.part_corner_mm,
        feature.least_floor_mm, feature.open_at_neck, tuple(dict.fromkeys(unmeasured)),
        must_be_measured=isinstance(shape, HeelShape),
    )


def _floor(route: Route, feature: Pocket, depth: Derivation) -> tuple[float, list[str]]:
    """Return the floor's z and what is missing; the typed depth stands while a reading is missing."""
    source = feature.depth_from
    if source is None:
        return -feature.depth_mm, []
    if source.kind == "stack":
        if depth.value_mm is None:
            return -feature.depth_mm, list(depth.missing)
        return -_above_zero(depth.value_mm + source.plus_mm, feature), []
    part = route.part(source.part or "")
    if part is None or source.place is None:
        raise InputError(f"{feature.name} takes its depth from a part that is not on the list.", where=feature.id)
    place = read_place(part, source.place)
    if place.value_mm is None:
        return -feature.depth_mm, [f"{part.id}.{source.place}"]
    return -_above_zero(place.value_mm + source.plus_mm, feature), []


def _above_zero(depth_mm: float, feature: Pocket) -> float:
    if depth_mm <= 0.05:
        raise InputError(
            f"{feature.name} would come out {depth_mm:.2f} deep from its readings. Check the heel thickness, the saddle "
            "heights and the action.", where=feature.id, depth_mm=depth_mm,
        )
    return depth_mm


def _heel_region(route: Route, shape: HeelShape, heel: HeelPocket | None, feature: Pocket) -> tuple[Polygon, list[str]]:
    part = route.part(shape.part)
    if part is None:
        raise InputError(f"{feature.name} needs the part {shape.part}, which is not on the list.", where=feature.id)
    missing = [f"{part.id}.{p}" for p in ("heel_width_end", "heel_width_station", "heel_station", "heel_length")
               if read_place(part, p).value_mm is None]
    if heel is None:  # a stand-in of customary size keeps the drawing whole; the proof refuses it
        heel = HeelPocket(60.0, 50.0, 50.0, 0.0, route.choices.fit_gap_mm)
    x, mouth, end = heel.length_mm, heel.mouth_width_mm / 2, heel.end_width_mm / 2
    sharp = Polygon([(0.0, -mouth), (x, -end), (x, end), (0.0, mouth)])
    radius = min(shape.corner_radius_mm, end * 0.95, x * 0.45)
    rounded = buffer_round(buffer_round(sharp, -radius), radius) if radius > 0 else sharp
    mouth_side = box(-1.0, -2 * mouth, x / 2, 2 * mouth).intersection(sharp)
    return _largest(rounded.union(mouth_side)), missing


def _part_region(route: Route, shape: PartRectangle, saddle_x: float | None, feature: Pocket) -> tuple[Polygon, list[str]]:
    part = route.part(shape.part)
    if part is None:
        raise InputError(f"{feature.name} needs the part {shape.part}, which is not on the list.", where=feature.id)
    names = {PartKind.BRIDGE: ("plate_length", "plate_width", "plate_corner"),
             PartKind.PICKUP: ("ring_length", "ring_width", "ring_corner")}.get(part.kind)
    if names is None:
        raise InputError(f"{part.name} is a {part.kind.value}: its recess must be drawn.", where=feature.id)
    length, width, corner = (read_place(part, n).value_mm for n in names)
    missing = [f"{part.id}.{n}" for n, v in zip(names[:2], (length, width), strict=False) if v is None]
    length, width = length or 40.0, width or 80.0
    x = shape.x_mm
    if shape.at_saddle:
        ahead = read_place(part, "plate_to_saddle").value_mm
        if saddle_x is None or ahead is None:
            missing.append(f"{part.id}.plate_to_saddle" if ahead is None else "the scale, not chosen yet" if route.choices.scale_mm is None else "saddle line")
        else:
            x = saddle_x - ahead + length / 2
    rect = Rectangle(x_mm=x, y_mm=shape.y_mm, length_mm=length + 2 * shape.gap_mm, width_mm=width + 2 * shape.gap_mm,
                     corner_radius_mm=max(0.0, (corner or 0.0) + shape.gap_mm), angle_deg=shape.angle_deg)
    return region_from(rect, feature.name), missing


def _largest(region: shapely.Geometry) -> Polygon:
    parts = [region] if isinstance(region, Polygon) else sorted(region.geoms, key=lambda g: -g.area)
    return shapely.geometry.polygon.orient(parts[0])


def cut_region(solid: Solid, bit_radius_mm: float) -> Polygon:
    """Return the region an operation clears for a feature: an open pocket runs out over its mouth."""
    if not solid.is_open:
        return solid.region
    xmin, ymin, xmax, ymax = solid.region.bounds
    mouth = solid.region.intersection(box(xmin - 1, ymin, xmin + 0.5, ymax))
    if mouth.is_empty:
        return solid.region
    _, low, _, high = mouth.bounds
    reach = 2 * bit_radius_mm + OPEN_OVERRUN_MM
    return _largest(solid.region.union(box(xmin - reach, low, xmin + 0.5, high)))
