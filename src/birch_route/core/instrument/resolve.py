"""From a route document to plain geometry: every feature as a region with its floor, derived ones included."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import Point, Polygon, box

from ..errors import GeometryError, InputError
from ..fretboard.features import FretSlots, Rounded
from ..fretboard.solids import board_solid
from ..neck.features import Headed, Lofted
from ..neck.solids import bowed, neck_solid
from ..plane.curves import Around, HeelShape, PartRectangle, Rectangle
from ..plane.regions import buffer_round, region_from
from ..quantities import mm, named_mm
from ..route import (
    Bevel,
    Carve,
    Channel,
    Hole,
    Outline,
    Pocket,
    Relief,
    Route,
    content_hash,
)
from ..tolerances import TOLERANCES
from ..vocabulary import FinishClass, PartKind
from .bevels import BevelSurface
from .carves import CarvedFace
from .channels import ChannelFloor
from .covers import hide_covered
from .parts import read_place
from .placing import Ghost, Placed, place_all, role_places, thickness_of
from .pocket_floors import floor_height, following, over_mouth, tilted_floor
from .reliefs import ReliefFace
from .solids import Solid, cut_region, largest, open_region
from .stack import (
    Derivation,
    HeelPocket,
    find_part,
    heel_pocket,
    neck_pocket_depth,
    saddle_distance,
    saddle_line,
)
from .tied import part_of, sizes_of
from .waiting import HEEL_PLACES, NO_SCALE, RECTANGLE_PLACES

if TYPE_CHECKING:
    from .rims import Rim

__all__ = ["Resolved", "Solid", "cut_region", "open_region", "resolve", "trust_of"]


@dataclass(frozen=True)
class Resolved:
    """The piece as geometry, with the numbers derived on the way."""

    outline: Polygon
    solids: dict[str, Solid]
    derivations: list[Derivation] = field(default_factory=list)
    heel: HeelPocket | None = None
    saddle_x_mm: float | None = None
    placed: list[Placed] = field(default_factory=list)
    thickness_mm: float = 0.0
    rims: dict[str, Rim] = field(default_factory=dict)  # edges that the machine cuts

    @property
    def ghosts(self) -> list[Ghost]:
        """The room every placed part takes."""
        return [g for p in self.placed for g in p.ghosts]

    def on(self, face: str) -> list[Solid]:
        """Return the features, but not the outline, that one face's setup can cut: those of that face, and what goes through."""
        return [s for s in self.solids.values() if s.kind != "outline" and (s.face == face or s.floor_mm is None)]

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
                        "choices": route.choices.model_dump(mode="json"), "thick": thickness_of(route), "under": covered_by(route)})
    found = _kept.get(key)
    if found is None:
        found = _kept[key] = _resolve(route)
        while len(_kept) > KEEP:
            _kept.popitem(last=False)
    return found


def covered_by(route: Route) -> float:
    """Return how far below the finished front face the layers reach that are glued on between setups, mm."""
    glued = sum(layer.thickness_mm for layer in route.blank.layers if layer.glued_before is not None)
    return max(0.0, glued - route.blank.skim_mm) if glued else 0.0


def _resolve(route: Route) -> Resolved:
    heel = heel_pocket(find_part(route.parts, PartKind.NECK), route.choices.fit_gap_mm + route.choices.film_mm)
    saddle = saddle_distance(route.parts, route.choices)
    recess, unsaid = _bridge_recess(route)
    tilt = next((f.tilt_deg for f in route.piece.features if isinstance(f, Pocket) and isinstance(f.shape, HeelShape)), 0.0)
    depth = neck_pocket_depth(route.parts, route.choices, recess, tilt, unsaid)
    saddle_x = None if heel is None else saddle_line(route.parts, route.choices)
    solids: dict[str, Solid] = {}
    for feature in route.features:
        if isinstance(feature, Outline):
            solids[feature.id] = _outline(feature)
        elif isinstance(feature, Hole):
            solids[feature.id] = _hole(route, feature)
        elif isinstance(feature, Bevel):
            solids[feature.id] = _bevel(route, feature)
        elif isinstance(feature, Carve):
            solids[feature.id] = _carve(route, feature)
        elif isinstance(feature, Relief):
            solids[feature.id] = _relief(route, feature)
        elif isinstance(feature, Rounded | FretSlots):
            solids[feature.id] = board_solid(route.piece, feature)
        elif isinstance(feature, Lofted | Headed):
            solids[feature.id] = neck_solid(route.piece, feature, thickness_of(route))
        elif isinstance(feature, Pocket) and not isinstance(feature.shape, Around):
            solids[feature.id] = _pocket(route, feature, heel, saddle_x, depth)
    for feature in route.features:
        if isinstance(feature, Pocket) and isinstance(feature.shape, Around):
            solids[feature.id] = _pocket(route, feature, heel, saddle_x, depth, solids)
    solids = hide_covered(route, {f.id: solids[f.id] for f in route.features if f.id in solids})  # in the piece's order
    for feature in route.features:  # below what the contours of their face leave of the rim; away from what is cut from the other face
        if isinstance(feature, Channel):
            solids[feature.id] = _channel(route, feature, [s for s in solids.values() if s.face is feature.face])
        elif isinstance(feature, Pocket) and feature.follows_mm is not None:
            solids[feature.id] = following(route, feature, solids[feature.id], [s for s in solids.values() if s.face is not feature.face])
        elif isinstance(feature, Pocket):
            solids[feature.id] = bowed(route.piece, solids[feature.id])
    has_neck = find_part(route.parts, PartKind.NECK) is not None and any(
        isinstance(f, Pocket) and isinstance(f.shape, HeelShape) for f in route.piece.features
    )
    outline = solids[route.piece.outline.id].region
    bare = Resolved(outline, solids, [depth, saddle] if has_neck else [], heel, saddle_x, place_all(route, outline), thickness_of(route))
    if not any(e.machined for e in route.piece.edges):
        return bare
    from .rims import machined_rims  # it looks at what is resolved here
    return replace(bare, rims=machined_rims(route, bare))


def _bridge_recess(route: Route) -> tuple[float, str | None]:
    """Return how far the bridge sits below the face, mm, and the field that says so, where nobody has."""
    for feature in route.piece.features:
        if isinstance(feature, Pocket) and isinstance(feature.shape, PartRectangle) and feature.shape.at_saddle:
            return feature.depth_mm or 0.0, f"piece.features.{feature.id}.depth_mm" if feature.assumed else None
    return 0.0, None


def _outline(feature: Outline) -> Solid:
    if isinstance(feature.shape, HeelShape | PartRectangle):
        raise GeometryError(f"{feature.name} must be drawn; it cannot come from a part.", where=feature.id)
    return Solid(feature.id, feature.name, "outline", region_from(feature.shape, feature.name), None,
                 feature.finish_class)


def _bevel(route: Route, feature: Bevel) -> Solid:
    outline = region_from(route.piece.outline.shape, route.piece.outline.name)  # type: ignore[arg-type]
    surface = BevelSurface(np.asarray(outline.exterior.coords)[:-1], feature.start, feature.end, tuple(s.at for s in feature.stations), tuple(s.width_mm for s in feature.stations),
                           tuple(s.drop_mm for s in feature.stations), feature.blend_mm)
    region = surface.region()
    if region.area < 1.0:
        raise GeometryError(f"{feature.name} takes no wood. Make it wider, deeper or longer.", where=feature.id)
    return Solid(feature.id, feature.name, "bevel", region, floor_height(route, feature.face, feature.depth_mm), feature.finish_class, least_floor_mm=feature.least_floor_mm, face=feature.face, surface=surface)


def _carve(route: Route, feature: Carve) -> Solid:
    outline = region_from(route.piece.outline.shape, route.piece.outline.name)  # type: ignore[arg-type]
    surface = CarvedFace(np.asarray(outline.exterior.coords)[:-1], tuple(s.at_mm for s in feature.stations), tuple(s.drop_mm for s in feature.stations))
    return Solid(feature.id, feature.name, "carve", surface.region(), floor_height(route, feature.face, feature.depth_mm), feature.finish_class, least_floor_mm=feature.least_floor_mm, face=feature.face, surface=surface)


def _relief(route: Route, feature: Relief) -> Solid:
    outline = region_from(route.piece.outline.shape, route.piece.outline.name)  # type: ignore[arg-type]
    surface = ReliefFace(outline, feature.depths, feature.x0_mm, feature.y0_mm, feature.cell_mm, feature.ny, feature.nx)
    return Solid(feature.id, feature.name, "relief", surface.region(), floor_height(route, feature.face, surface.deepest_mm), feature.finish_class, least_floor_mm=feature.least_floor_mm, face=feature.face, surface=surface)


def _channel(route: Route, feature: Channel, beside: list[Solid]) -> Solid:
    outline = region_from(route.piece.outline.shape, route.piece.outline.name)  # type: ignore[arg-type]
    floor = ChannelFloor(np.asarray(outline.exterior.coords)[:-1], feature.width_mm, feature.depth_mm, tuple(s.surface for s in beside if s.is_contour))  # type: ignore[misc]
    region = largest(shapely.difference(floor.region(), shapely.union_all([open_region(s.region, 12.0) for s in beside if s.is_open])))  # nothing to bind at the mouth of a joint
    return Solid(feature.id, feature.name, "channel", region, floor_height(route, feature.face, floor.deepest_mm), feature.finish_class, least_floor_mm=feature.least_floor_mm, face=feature.face, surface=floor)


def _hole(route: Route, feature: Hole) -> Solid:
    if feature.diameter_mm < TOLERANCES.smallest_mm:
        raise GeometryError(f"{feature.name} is only {named_mm(feature.diameter_mm):.2f} wide.", where=feature.id)
    radius = feature.diameter_mm / 2
    discs = [buffer_round(Point(p), radius) for p in feature.points]
    region = shapely.union_all(discs)
    unmeasured: tuple[str, ...] = ()
    if feature.measured_from is not None:
        part = route.part(feature.measured_from)
        if part is None or not part.readings:
            unmeasured = (feature.measured_from,)
        elif not feature.id.startswith(tuple(f"{p.id}_" for p in route.piece.placements)):
            unmeasured = tuple(x.place for x in sizes_of(route, feature) if x.read_mm is None)
    elif feature.fitted:
        unmeasured = ("its place",)
    return Solid(
        feature.id, feature.name, "hole", region, None if feature.depth_mm is None else floor_height(route, feature.face, feature.depth_mm),
        FinishClass.FITTED if feature.fitted else FinishClass.HIDDEN, tuple(map(tuple, feature.points)),
        feature.diameter_mm, least_floor_mm=feature.least_floor_mm, unmeasured=unmeasured,
        must_be_measured=feature.fitted, face=feature.face, rests_on=role_places(route.piece.placements, route.parts, feature.id) or (_places_of(route, feature.measured_from) if feature.measured_from else ()),
    )


def _places_of(route: Route, part_id: str) -> tuple[str, ...]:
    part = route.part(part_id)
    return () if part is None else tuple(dict.fromkeys(f"{part.id}.{r.place}" for r in part.readings))


def _pocket(route: Route, feature: Pocket, heel: HeelPocket | None, saddle_x: float | None, depth: Derivation, others: dict[str, Solid] | None = None) -> Solid:
    unmeasured: list[str] = []
    shape = feature.shape
    rests: list[str] = [*role_places(route.piece.placements, route.parts, feature.id)]
    if isinstance(shape, HeelShape):
        region, missing = _heel_region(route, shape, heel, feature)
        unmeasured += missing
        rests += [f"{shape.part}.{p}" for p in HEEL_PLACES]
    elif isinstance(shape, PartRectangle):
        region, missing, read = _part_region(route, shape, saddle_x, feature)
        unmeasured += missing
        rests += read
    elif isinstance(shape, Around):
        inner = (others or {}).get(shape.feature)
        if inner is None or inner.kind not in ("pocket", "hole"):
            raise InputError(f"{feature.name} goes round {shape.feature}, which is no pocket or hole drawn before it.", where=feature.id)
        region = largest(buffer_round(inner.region, shape.by_mm, 0.01))
        unmeasured += inner.unmeasured
        rests += inner.rests_on
    else:
        region = region_from(shape, feature.name)
    tied = sizes_of(route, feature)
    unmeasured += [x.place for x in tied if x.read_mm is None and (feature.follows or feature.measured_from)]
    if feature.measured_from and (source := part_of(route, feature)) is not None and not source.readings:
        unmeasured.append(source.id)
    rests += [x.place for x in tied if x.read_mm is not None]
    deep, missing, read = _depth(route, feature, depth)
    unmeasured += missing
    rests += read
    tilted = tilted_floor(feature, region, deep)
    floor = None if deep is None else floor_height(route, feature.face, deep if tilted is None else tilted.deepest_mm)
    return Solid(
        feature.id, feature.name, "pocket", region, floor, FinishClass.HIDDEN if feature.covered and covered_by(route) else feature.finish_class, (), 0.0, feature.part_corner_mm,
        feature.least_floor_mm, feature.open_at_neck, tuple(dict.fromkeys(unmeasured)),
        must_be_measured=isinstance(shape, HeelShape), face=feature.face, rests_on=tuple(dict.fromkeys(rests)), surface=over_mouth(tilted, region, feature), under_mm=covered_by(route) if feature.covered else 0.0, hidden_by="the cap" if feature.covered and covered_by(route) else "",
    )


def _depth(route: Route, feature: Pocket, stack: Derivation) -> tuple[float | None, list[str], list[str]]:
    """Return the depth from the feature's face, what is missing and what it rests on; the typed depth stands while a reading is missing."""
    source = feature.depth_from
    if source is None or feature.depth_mm is None:
        return feature.depth_mm, [], []
    if source.kind == "stack":
        read = [t.place for t in stack.terms if t.place and t.value_mm is not None]
        if stack.value_mm is None:
            return feature.depth_mm, list(stack.missing), read
        return _above_zero(stack.value_mm + source.plus_mm, feature), [], read
    part = route.part(source.part or "")
    if part is None or source.place is None:
        raise InputError(f"{feature.name} takes its depth from a part that is not on the list.", where=feature.id)
    place = read_place(part, source.place)
    if place.value_mm is None:
        return feature.depth_mm, [f"{part.id}.{source.place}"], []
    return _above_zero(place.value_mm + source.plus_mm, feature), [], [f"{part.id}.{source.place}"]


def _above_zero(depth_mm: float, feature: Pocket) -> float:
    if depth_mm <= 0.05:
        raise InputError(
            f"{feature.name} would come out {mm(depth_mm):.2f} deep from its readings. Check the heel thickness, "
            f"the saddle "
            "heights and the action.",
            where=feature.id,
            depth_mm=depth_mm,
        )
    return depth_mm


def _heel_region(route: Route, shape: HeelShape, heel: HeelPocket | None, feature: Pocket) -> tuple[Polygon, list[str]]:
    part = route.part(shape.part)
    if part is None:
        raise InputError(f"{feature.name} needs the part {shape.part}, which is not on the list.", where=feature.id)
    missing = [f"{part.id}.{p}" for p in HEEL_PLACES if read_place(part, p).value_mm is None]
    if heel is None:  # a stand-in of customary size keeps the drawing whole; the proof refuses it
        heel = HeelPocket(60.0, 50.0, 50.0, 0.0, route.choices.fit_gap_mm)
    x, mouth, end = heel.length_mm, heel.mouth_width_mm / 2, heel.end_width_mm / 2
    sharp = Polygon([(0.0, -mouth), (x, -end), (x, end), (0.0, mouth)])
    radius = min(shape.corner_radius_mm, end * 0.95, x * 0.45)
    rounded = buffer_round(buffer_round(sharp, -radius), radius) if radius > 0 else sharp
    mouth_side = box(-1.0, -2 * mouth, x / 2, 2 * mouth).intersection(sharp)
    return largest(rounded.union(mouth_side)), missing


def _part_region(route: Route, shape: PartRectangle, saddle_x: float | None, feature: Pocket) -> tuple[Polygon, list[str], list[str]]:
    part = route.part(shape.part)
    if part is None:
        raise InputError(f"{feature.name} needs the part {shape.part}, which is not on the list.", where=feature.id)
    names = RECTANGLE_PLACES.get(part.kind)
    if names is None:
        raise InputError(f"{part.name} is a {part.kind.value}: its recess must be drawn.", where=feature.id)
    length, width, corner = (None if n is None else read_place(part, n).value_mm for n in names)
    read = [f"{part.id}.{n}" for n, v in zip(names[:2], (length, width), strict=True) if v is not None]
    missing = [f"{part.id}.{n}" for n, v in zip(names[:2], (length, width), strict=False) if v is None]
    length, width = length or 40.0, width or 80.0
    x = shape.x_mm
    if shape.at_saddle:
        ahead = read_place(part, "plate_to_saddle").value_mm
        if saddle_x is None or ahead is None:
            missing.append(
                f"{part.id}.plate_to_saddle"
                if ahead is None
                else NO_SCALE
                if route.choices.scale_mm is None
                else "saddle line"
            )
        else:
            x = saddle_x - ahead + length / 2
            read += [f"{part.id}.plate_to_saddle", *(f"{p.id}.heel_to_12th" for p in route.parts if p.kind is PartKind.NECK)]
    gap = shape.gap_mm + (route.choices.film_mm if feature.finish_class in (FinishClass.SHOWN, FinishClass.FITTED) else 0.0)
    rect = Rectangle(x_mm=x, y_mm=shape.y_mm, length_mm=length + 2 * gap, width_mm=width + 2 * gap,
                     corner_radius_mm=max(0.0, (corner or 0.0) + gap), angle_deg=shape.angle_deg)
    return region_from(rect, feature.name), missing, read


def trust_of(solid: Solid, route: Route) -> str:
    """Return what a feature rests on.

    Returns:
        "assumed" (something was never measured, or a rule placed it), "single" (something was measured once),
        "measured", or "told" (drawn or typed, resting on no part, or on readings that came with a file).
    """
    drawn = next((f for f in route.piece.features if f.id == solid.id), None)
    if solid.unmeasured or getattr(drawn, "assumed", False):
        return "assumed"
    if not solid.rests_on:
        return "told"
    counts = []
    for place in solid.rests_on:
        part_id, _, key = place.partition(".")
        part = route.part(part_id)
        known = None if part is None else read_place(part, key)
        if known is not None and (known.told or known.computed):
            return "told"
        counts.append(0 if known is None else len(known.values_mm))
    return "single" if min(counts, default=0) < 2 else "measured"
