"""Parts placed on a piece: what they need cut, and the room they take. Sizes come from readings; without them nothing is drawn."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import LineString, Point, Polygon

from ..data import figures
from ..piece import DepthFrom, Feature, Hole, Placement, Pocket
from ..plane.curves import Rectangle
from ..plane.regions import buffer_round, region_from
from ..vocabulary import Face, FinishClass, Mount, PartKind
from .parts import PartOnHand, read_place
from .stack import find_part, heel_end, saddle_line
from .waiting import missing_anchor

if TYPE_CHECKING:
    from ..route import Route

Span = tuple[float, float]


ROLES: dict[PartKind, dict[str, tuple[str, ...]]] = {  # what each kind may need cut, and the places that must be measured for it
    PartKind.POT: {"shaft": ("bush_diameter",)}, PartKind.JACK: {"shaft": ("bush_diameter",)},
    PartKind.SWITCH: {"slot": ("slot_length", "slot_width"), "screws": ("slot_length", "slot_width", "screw_pitch")},
    PartKind.INSERT: {"hole": ("body_diameter", "body_height")},
    PartKind.PLATE: {"rebate": ("plate_thickness", "plate_length", "plate_width"), "screws": ("plate_thickness", "screw_long", "screw_wide")},
    PartKind.GUARD: {"rebate": ("plate_thickness", "plate_length", "plate_width"), "screws": ("plate_thickness", "screw_long", "screw_wide")},
    PartKind.BRIDGE: {"posts": ("post_spacing", "post_diameter"), "block": ("block_length", "block_width"), "springs": ("block_length", "block_width", "spring_length", "spring_width", "spring_depth"),
                      "strings": ("string_spread", "strings_behind", "string_hole")},
    PartKind.NECK: {"screws": ("holes_from_end", "holes_across", "holes_along")},
}


def role_places(placements: list[Placement], parts: list[PartOnHand], feature_id: str) -> tuple[str, ...]:
    """Return the places a placed part's feature rests on, empty where it is no such feature."""
    for placement in placements:
        part = next((p for p in parts if p.id == placement.part), None)
        role = feature_id.removeprefix(f"{placement.id}_")
        if part is not None and role != feature_id and role in ROLES.get(part.kind, {}):
            return tuple(f"{part.id}.{n}" for n in ROLES[part.kind][role])
    return ()


def waits_for(route: Route, feature_id: str) -> list[str]:
    """Return the places that must be measured before a feature of a placed part can be drawn; empty where it is no such feature or nothing
    is missing. An operation on it waits for them and cuts nothing meanwhile."""
    for placement in route.piece.placements:
        part = route.part(placement.part)
        role = feature_id.removeprefix(f"{placement.id}_")
        if part is not None and role != feature_id and role in ROLES.get(part.kind, {}):
            missing = [f"{part.id}.{n}" for n in ROLES[part.kind][role] if read_place(part, n).value_mm is None]
            screw = find_part(route.parts, PartKind.SCREW) if part.kind is PartKind.NECK else None
            if part.kind is PartKind.NECK and (screw is None or read_place(screw, "thread_diameter").value_mm is None):
                missing.append("screw.thread_diameter")
            return missing + missing_anchor(route, placement)
    return []


@dataclass(frozen=True)
class Ghost:
    """Room a part takes: a region in plan between two heights, z low and high, piece's frame. Never cut. what: body, bush, knob or reserved."""

    placement: str
    part: str
    name: str
    what: str
    region: Polygon
    span_mm: Span


@dataclass(frozen=True)
class SideMount:
    """A part on the side of the outline: where its middle meets the side, the way in, and what lies along it."""

    x_mm: float
    y_mm: float
    inward: tuple[float, float]
    z_mm: float


@dataclass
class Placed:
    """One placement, worked out. missing: places of the part that would be needed and were never measured."""

    placement: Placement
    part: PartOnHand
    features: list[Feature] = field(default_factory=list)
    ghosts: list[Ghost] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    side: SideMount | None = None


def placed_features(route: Route) -> list[Feature]:
    """Return the features that follow from the parts placed on a piece. Ids are `<placement>_<role>`."""
    return [f for p in route.piece.placements if route.part(p.part) is not None for f in _Worker(route, p).work().features]


def place_all(route: Route, outline: Polygon) -> list[Placed]:
    """Return every placement worked out, with the room its part takes.

    Args:
        outline: of the piece, for parts on its side.
    """
    return [_Worker(route, p, outline).work() for p in route.piece.placements if route.part(p.part) is not None]


def thickness_of(route: Route) -> float:
    """Return the thickness of the finished piece, mm."""
    return route.blank.piece_mm


def at(placement: Placement, x: float, y: float) -> tuple[float, float]:
    """Return where a point of the part's own frame comes to lie."""
    c, s = math.cos(math.radians(placement.angle_deg)), math.sin(math.radians(placement.angle_deg))
    return round(placement.x_mm + x * c - y * s, 4), round(placement.y_mm + x * s + y * c, 4)


class _Worker:
    """Works one placement out; methods by kind of part."""

    def __init__(self, route: Route, placement: Placement, outline: Polygon | None = None) -> None:
        part = route.part(placement.part)
        assert part is not None
        self.route, self.part, self.outline = route, part, outline
        self.placement = self._anchored(placement)
        self.thick = thickness_of(route)
        self.fig = figures()["controls"]
        self.out = Placed(self.placement, part)

    def work(self) -> Placed:
        makers = {
            PartKind.POT: self._round,
            PartKind.JACK: self._round,
            PartKind.SWITCH: self._switch,
            PartKind.INSERT: self._insert,
            PartKind.PLATE: self._plate,
            PartKind.GUARD: self._plate,
            PartKind.BRIDGE: self._bridge,
            PartKind.NECK: self._neck,
            PartKind.STRAP_PIN: self._strap_pin,
            PartKind.PICKUP: self._pickup,
        }
        makers.get(self.part.kind, self._only_reserved)()
        # by the saddle line or the heel, and nobody knows where these are
        if lost := missing_anchor(self.route, self.placement):
            self.out.features, self.out.ghosts, self.out.missing = [], [], [*self.out.missing, *lost]
            return self.out
        if self.placement.reserve_mm > 0 and not [g for g in self.out.ghosts if g.what == "body"]:
            self._ghost("reserved", Point(self.placement.x_mm, self.placement.y_mm), self.placement.reserve_mm / 2, (-self.thick, 0.0))
        return self.out

    def _anchored(self, placement: Placement) -> Placement:
        """Put a placement whose place follows from readings there: x on the saddle line or at the heel's end."""
        if placement.mount is Mount.SADDLE:
            x = saddle_line(self.route.parts, self.route.choices)
            return placement if x is None else placement.model_copy(update={"x_mm": x})
        if placement.mount is Mount.HEEL:
            x = heel_end(self.route.parts)
            return placement if x is None else placement.model_copy(update={"x_mm": x})
        return placement

    def _value(self, place: str, *, needed: bool = True) -> float | None:
        value = read_place(self.part, place).value_mm
        if value is None and needed:
            self.out.missing.append(f"{self.part.id}.{place}")
        return value

    def _name(self, role: str) -> str:
        return f"{self.part.name}, {role}"[:80]

    def _hole(self, role: str, name: str, points: list[tuple[float, float]], diameter: float, depth: float | None, *, face: Face | None = None, fitted: bool = False, floor: float = 0.0) -> None:
        self.out.features.append(Hole(id=f"{self.placement.id}_{role}"[:40], name=self._name(name), points=points, diameter_mm=round(diameter, 3), depth_mm=None if depth is None else round(depth, 3),
                                      face=face or self.placement.face, measured_from=self.part.id, fitted=fitted, least_floor_mm=floor))

    def _ghost(self, what: str, centre: shapely.Geometry, radius: float, span: Span) -> None:
        if radius > 0:
            self.out.ghosts.append(Ghost(self.placement.id, self.part.id, self.part.name, what, buffer_round(centre, radius, 0.05), span))

    def _cavity(self) -> Pocket | None:
        return next((f for f in self.route.piece.features if f.id == self.placement.cavity and isinstance(f, Pocket)), None)

    def through_depth(self) -> float | None:
        """Return how deep a hole from the placement's face must go to open into the cavity on the other face; None where the cavity is on
        the same face (a plate carries the part) or there is none."""
        cavity = self._cavity()
        if cavity is None or cavity.face is self.placement.face or cavity.depth_mm is None:
            return None
        return max(0.5, self.thick - cavity.depth_mm + self.fig["overlap_mm"])

    def body_span(self, height: float) -> Span:
        """Return the heights a part's body takes: from the cavity's bottom that carries it, or from its face, downwards."""
        cavity = self._cavity()
        front = self.placement.face is Face.FRONT
        if cavity is None or cavity.depth_mm is None:
            return (-height, 0.0) if front else (-self.thick, -self.thick + height)
        if cavity.face is self.placement.face:  # hangs from the plate that closes the cavity
            plate = plate_over(self.route, cavity)
            return (-plate - height, -plate) if front else (-self.thick + plate, -self.thick + plate + height)
        roof = self.thick - cavity.depth_mm
        return (-roof - height, -roof) if front else (-self.thick + roof, -self.thick + roof + height)

    def _round(self) -> None:
        """A pot or a jack: a hole for its bush, a round body."""
        bush, across, high = self._value("bush_diameter"), self._value("body_diameter"), self._value("body_height")
        if self.placement.mount is Mount.SIDE:
            self._on_side()
            return
        spot, deep = (self.placement.x_mm, self.placement.y_mm), self.through_depth()
        if bush is not None and deep is not None:
            self._hole("shaft", "bush hole", [spot], bush + self.fig["bush_clear_mm"], deep)
        if across is not None and high is not None:
            self._ghost("body", Point(spot), across / 2, self.body_span(high))
        knob = self._value("knob_diameter", needed=False) if self.part.kind is PartKind.POT else None
        if knob:
            self._ghost("knob", Point(spot), knob / 2, (0.0, 20.0) if self.placement.face is Face.FRONT else (-self.thick - 20.0, -self.thick))

    def _switch(self) -> None:
        long, wide, deep_body = self._value("body_length"), self._value("body_width"), self._value("body_depth")
        slot_long, slot_wide, pitch = (self._value(n, needed=False) for n in ("slot_length", "slot_width", "screw_pitch"))
        p, deep = self.placement, self.through_depth()
        if deep is not None and slot_long and slot_wide:
            shape = Rectangle(x_mm=p.x_mm, y_mm=p.y_mm, length_mm=max(slot_long, slot_wide), width_mm=min(slot_long, slot_wide), corner_radius_mm=min(slot_long, slot_wide) / 2, angle_deg=p.angle_deg)
            self.out.features.append(Pocket(id=f"{p.id}_slot"[:40], name=self._name("slot"), shape=shape, depth_mm=round(deep, 3), face=p.face, finish_class=FinishClass.SHOWN, least_floor_mm=0.0))
            if pitch:
                self._hole("screws", "screw holes", [at(p, -pitch / 2, 0), at(p, pitch / 2, 0)], self.fig["switch_screw_mm"], deep)
        if long and wide and deep_body:
            low, high = self.body_span(deep_body)
            box = Rectangle(x_mm=p.x_mm, y_mm=p.y_mm, length_mm=long, width_mm=wide, angle_deg=p.angle_deg)
            self.out.ghosts.append(Ghost(p.id, self.part.id, self.part.name, "body", region_from(box, self.part.name), (low, high)))

    def _pickup(self) -> None:
        """A pickup placed where its pocket is still to be drawn: the room its ring and legs take."""
        long, wide, deep = self._value("ring_length"), self._value("ring_width"), self._value("depth")
        if long and wide and deep:
            p, corner = self.placement, self._value("ring_corner", needed=False) or 0.0
            box = Rectangle(
                x_mm=p.x_mm,
                y_mm=p.y_mm,
                length_mm=long,
                width_mm=wide,
                corner_radius_mm=min(corner, long / 2, wide / 2),
                angle_deg=p.angle_deg,
            )
            span = (-deep, 0.0) if p.face is Face.FRONT else (-self.thick, -self.thick + deep)
            self.out.ghosts.append(
                Ghost(p.id, self.part.id, self.part.name, "body", region_from(box, self.part.name), span)
            )

    def _insert(self) -> None:
        across, long = self._value("body_diameter"), self._value("body_height")
        if across is not None and long is not None:
            self._hole("hole", "hole", [(self.placement.x_mm, self.placement.y_mm)], across, long + 1.0, fitted=True, floor=3.0)

    def _plate(self) -> None:
        """A cover or guard: a rebate as deep as it is thick, and pilot holes for its screws."""
        p = self.placement
        thick, long, wide, corner = self._value("plate_thickness"), self._value("plate_length"), self._value("plate_width"), self._value("plate_corner", needed=False)
        apart_long, apart_wide = self._value("screw_long", needed=False), self._value("screw_wide", needed=False)
        if thick and long and wide:
            gap = self.fig["rebate_gap_mm"] + self.route.choices.film_mm
            shape = Rectangle(x_mm=p.x_mm, y_mm=p.y_mm, length_mm=long + 2 * gap, width_mm=wide + 2 * gap, corner_radius_mm=(corner or 0.0) + gap, angle_deg=p.angle_deg)
            self.out.features.append(Pocket(id=f"{p.id}_rebate"[:40], name=self._name("rebate"), shape=shape, depth_mm=thick, depth_from=DepthFrom(kind="reading", part=self.part.id, place="plate_thickness"),
                                            face=p.face, finish_class=FinishClass.SHOWN, part_corner_mm=corner, least_floor_mm=figures()["floors_mm"]["recess"]))
        if thick and apart_long and apart_wide:
            points = [at(p, sx * apart_long / 2, sy * apart_wide / 2) for sx in (-1, 1) for sy in (-1, 1)]
            self._hole("screws", "screw holes", points, self.fig["plate_pilot_mm"], thick + self.fig["plate_screw_mm"], floor=3.0)

    def _bridge(self) -> None:
        """Posts, the block's opening, strings through the body and the spring cavity, whichever are measured; all from the saddle line."""
        p = self.placement
        v = {n: self._value(n, needed=False) for n in ("post_spacing", "post_diameter", "post_depth", "post_behind", "block_length", "block_width", "block_behind", "spring_length", "spring_width", "spring_depth",
                                                       "string_spread", "strings_behind", "string_hole")}
        if v["post_spacing"] and v["post_diameter"]:
            behind = v["post_behind"] or 0.0
            self._hole("posts", "post holes", [at(p, behind, -v["post_spacing"] / 2), at(p, behind, v["post_spacing"] / 2)], v["post_diameter"], v["post_depth"] or self.fig["post_depth_mm"], fitted=True, floor=10.0)
        if v["block_length"] and v["block_width"]:
            x, y = at(p, v["block_behind"] or 0.0, 0.0)
            gap = self.fig["block_gap_mm"]
            shape = Rectangle(x_mm=x, y_mm=y, length_mm=v["block_length"] + 2 * gap, width_mm=v["block_width"] + 2 * gap, corner_radius_mm=gap + 1.0, angle_deg=p.angle_deg)
            self.out.features.append(Pocket(id=f"{p.id}_block"[:40], name=self._name("block opening"), shape=shape, depth_mm=None, face=p.face, least_floor_mm=0.0))
            if v["spring_length"] and v["spring_width"] and v["spring_depth"]:
                x, y = at(p, (v["block_behind"] or 0.0) + v["block_length"] / 2 - v["spring_length"] / 2, 0.0)
                shape = Rectangle(x_mm=x, y_mm=y, length_mm=v["spring_length"], width_mm=v["spring_width"], corner_radius_mm=4.0, angle_deg=p.angle_deg)
                other = Face.BACK if p.face is Face.FRONT else Face.FRONT
                self.out.features.append(Pocket(id=f"{p.id}_springs"[:40], name=self._name("spring cavity"), shape=shape, depth_mm=v["spring_depth"], face=other, least_floor_mm=figures()["floors_mm"]["cavity"]))
        if v["string_spread"] and v["strings_behind"] and v["string_hole"]:
            count = self.route.choices.strings
            step = v["string_spread"] / (count - 1)
            self._hole("strings", "string holes", [at(p, v["strings_behind"], -v["string_spread"] / 2 + k * step) for k in range(count)], v["string_hole"], None)

    def _neck(self) -> None:
        """Neck screws: through the body where the neck's holes were measured, with clearance for the screw on hand."""
        from_end, across, along = self._value("holes_from_end", needed=False), self._value("holes_across", needed=False), self._value("holes_along", needed=False)
        screw = find_part(self.route.parts, PartKind.SCREW)
        thread = read_place(screw, "thread_diameter").value_mm if screw else None
        if from_end and across and along is not None and thread:
            p = self.placement
            rows = [from_end, from_end + along] if along > 0 else [from_end]
            points = [at(p, -d, y) for d in rows for y in (-across / 2, across / 2)]
            self._hole("screws", "screw holes", points, thread + figures()["screws"]["clear_mm"], None)

    def _strap_pin(self) -> None:
        across = self._value("head_diameter")
        if self.placement.mount is Mount.SIDE:
            self._on_side()
        elif across:
            self._ghost("body", Point(self.placement.x_mm, self.placement.y_mm), across / 2, (0.0, 15.0) if self.placement.face is Face.FRONT else (-self.thick - 15.0, -self.thick))

    def _on_side(self) -> None:
        """A part on the side: its body reaches inwards, at right angles to the outline."""
        if self.outline is None:
            return
        self.out.side = side = side_mount(self.outline, self.placement.x_mm, self.placement.y_mm, -(self.placement.deep_mm if self.placement.deep_mm is not None else self.thick / 2))
        if self.part.kind is PartKind.STRAP_PIN:
            across, long, from_mm = self._value("thread_diameter"), self._value("thread_length"), 0.0
        else:
            across, long, bush = self._value("body_diameter"), self._value("body_height"), self._value("bush_length")
            from_mm = 0.0 if bush is None else max(0.0, bush - self.fig["nut_mm"])
        if across is None or long is None:
            return
        (ux, uy), half = side.inward, across / 2
        line = LineString([(side.x_mm + ux * from_mm, side.y_mm + uy * from_mm), (side.x_mm + ux * (from_mm + long), side.y_mm + uy * (from_mm + long))])
        self.out.ghosts.append(Ghost(self.placement.id, self.part.id, self.part.name, "body", line.buffer(half, cap_style="flat"), (side.z_mm - half, side.z_mm + half)))

    def _only_reserved(self) -> None:
        return


def plate_over(route: Route, cavity: Pocket) -> float:
    """Return how thick the plate is that closes a cavity: the depth of the shallowest pocket on its face that surrounds it, 0 without one."""
    if not hasattr(cavity.shape, "model_dump") or cavity.depth_mm is None:
        return 0.0
    over = [f.depth_mm for f in route.piece.features
            if isinstance(f, Pocket) and f.id != cavity.id and f.face is cavity.face and f.depth_mm is not None and f.depth_mm < cavity.depth_mm and _surrounds(f, cavity)]
    return min(over, default=0.0)


def _surrounds(outer: Pocket, inner: Pocket) -> bool:
    drawn = ("chain", "spline", "rectangle", "oval", "path")
    if outer.shape.kind not in drawn or inner.shape.kind not in drawn:
        return False
    return bool(region_from(outer.shape, outer.name).covers(region_from(inner.shape, inner.name)))  # type: ignore[arg-type]


def side_mount(outline: Polygon, x_mm: float, y_mm: float, z_mm: float) -> SideMount:
    """Return the place on an outline nearest to a point, with the way in at right angles to the outline there."""
    ring = outline.exterior
    s = ring.project(Point(x_mm, y_mm))
    spot = ring.interpolate(s)
    a, b = ring.interpolate((s - 0.5) % ring.length), ring.interpolate((s + 0.5) % ring.length)
    tx, ty = b.x - a.x, b.y - a.y
    length = math.hypot(tx, ty) or 1.0
    nx, ny = -ty / length, tx / length
    if not outline.contains(Point(spot.x + 0.5 * nx, spot.y + 0.5 * ny)):
        nx, ny = -nx, -ny
    return SideMount(float(spot.x), float(spot.y), (nx, ny), z_mm)
