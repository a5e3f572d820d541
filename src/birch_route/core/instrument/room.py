"""Whether the parts that stand on a piece have room: against their cavities, against each other, against the outside."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import shapely
from shapely.affinity import scale, translate
from shapely.geometry import Point, Polygon

from ..data import figures
from ..plane.curves import Rectangle, flatten
from ..quantities import mm, mm2
from ..vocabulary import Face, Mount, PartKind
from .cavities import houseless
from .clash import Clash, set_place
from .clearances import screw_length
from .on_side import on_side
from .parts import read_place
from .placing import Ghost, Placed, plate_over
from .resolve import Resolved, Solid
from .stack import find_part
from .waiting import words_of

if TYPE_CHECKING:
    from ..route import Route

LEAST_MM2 = 0.05  # less overlap than this is touching


def clashes(route: Route, resolved: Resolved) -> list[Clash]:
    """Return everything about placed parts that does not fit, in the order of the placements."""
    out: list[Clash] = []
    for placed in resolved.placed:
        if placed.missing:
            out.append(_unmeasured(route, placed))
        cavity = resolved.solids.get(placed.placement.cavity or "")
        bodies = [g for g in placed.ghosts if g.what == "body"]
        if cavity is not None and placed.placement.mount is Mount.FACE:
            for ghost in bodies:
                out += _in_cavity(route, resolved, placed, ghost, cavity)
            out += _bush(route, resolved, placed, cavity)
        if placed.side is not None:
            out += on_side(resolved, placed)
        out += _overhang(resolved, placed)
    return out + _houseless(resolved) + _together(route, resolved) + _screws(route, resolved)


def _unmeasured(route: Route, placed: Placed) -> Clash:
    own = f"{placed.part.name}, "
    labels = [words_of(route.parts, m).removeprefix(own) for m in placed.missing]
    p = placed.placement
    due = f" Expected {placed.part.expected}." if placed.part.expected else ""
    kept = f" A circle of {mm(p.reserve_mm):.0f} is kept free for it." if p.reserve_mm > 0 else ""
    return Clash("part.not_measured", p.id, f"{placed.part.name} is placed and not measured: {', '.join(labels[:4])}. Nothing is drawn for it until it is.{kept}{due}", 0.0, float(len(labels)), (p.x_mm, p.y_mm))


def _houseless(resolved: Resolved) -> list[Clash]:
    """Parts that hang through a face with nothing cut for their bodies; one cavity cures all of a face at once."""
    out, all_of_them = [], houseless(resolved)
    for placed in all_of_them:
        p = placed.placement
        beside = [q.placement.id for q in all_of_them if q.placement.face is p.face]
        high = max(g.span_mm[1] - g.span_mm[0] for g in placed.ghosts if g.what == "body")
        words = (
            f"{placed.part.name} hangs in no cavity: nothing is cut for its body, {mm(high):.1f} high, nor its hole."
        )
        label = "Draw the cavity it hangs in" if len(beside) == 1 else f"Draw one cavity for the {len(beside)} of them"
        edits = [{"do": "house_parts", "placements": beside}]
        out.append(Clash("part.no_cavity", p.id, words, 0.0, high, (p.x_mm, p.y_mm), edits, label))
    return out


def _in_cavity(route: Route, resolved: Resolved, placed: Placed, ghost: Ghost, cavity: Solid) -> list[Clash]:
    """The body must stand clear of its cavity's walls and of its floor, or of the plate that closes it."""
    clear, out, p = figures()["controls"]["body_clear_mm"], [], placed.placement
    wall = cavity.region.exterior
    inside = cavity.region.covers(ghost.region)
    has = ghost.region.distance(wall) if inside else -max(cavity.region.distance(Point(c)) for c in ghost.region.exterior.coords)
    if has < clear - 0.01:
        to = _nearest_place(cavity.region, ghost.region, clear + 0.02)
        edits = [] if to is None else [
            set_place(p.id, "x_mm", round(p.x_mm + to[0], 2)),
            set_place(p.id, "y_mm", round(p.y_mm + to[1], 2)),
        ]
        words = (
            f"{placed.part.name} stands {mm(-has):.1f} into the wall of {cavity.name}."
            if has < 0
            else f"{placed.part.name} has {mm(has):.1f} to the wall of {cavity.name}; {mm(clear):.1f} is the least."
        )
        out.append(
            Clash(
                "part.no_room",
                p.id,
                words,
                has,
                clear,
                (ghost.region.centroid.x, ghost.region.centroid.y),
                edits,
                "" if to is None else f"Move it {mm(math.hypot(*to)):.1f}",
            )
        )
    if cavity.floor_mm is not None:
        low, high = cavity.span_mm(resolved.thickness_mm)
        pocket = next(f for f in route.piece.features if f.id == cavity.id)
        plate = plate_over(route, pocket) if pocket.kind == "pocket" and cavity.face is not p.face else 0.0
        room = ghost.span_mm[0] - (low + plate) if cavity.face is p.face or cavity.face is Face.BACK else (high - plate) - ghost.span_mm[1]
        if room < clear - 0.01:
            more = clear - room
            deeper = cavity.deep_mm(resolved.thickness_mm) + more
            free = cavity.face is p.face and getattr(pocket, "depth_from", None) is None and resolved.thickness_mm - deeper >= cavity.least_floor_mm
            edits = [{"do": "set", "path": f"piece.features.{cavity.id}.depth_mm", "value": round(deeper + 0.02, 2)}] if free else []
            what = "the floor" if cavity.face is p.face else "the plate that closes it"
            out.append(
                Clash(
                    "part.too_tall",
                    p.id,
                    f"{placed.part.name} leaves {mm(room):.1f} to {what} of {cavity.name}; {mm(clear):.1f} is the "
                    f"least. It is {mm(more):.1f} too tall.",
                    room,
                    clear,
                    (ghost.region.centroid.x, ghost.region.centroid.y),
                    edits,
                    f"{cavity.name} {mm(more):.1f} deeper" if edits else "",
                )
            )
    return out


def _nearest_place(room: Polygon, body: Polygon, clear: float) -> tuple[float, float] | None:
    """Return the shortest way to move a body so that it stands clear inside, or None where it does not fit at all.

    Source: a body touches a wall exactly where its middle lies in the Minkowski sum of that wall and the mirrored body; of a straight
    wall and a convex body that is the hull of the body set at both ends.
    """
    x, y = body.centroid.x, body.centroid.y
    around = translate(body.convex_hull.buffer(clear).simplify(0.01), -x, -y)
    mirrored = scale(around, -1.0, -1.0, origin=(0.0, 0.0))
    coords = list(room.exterior.simplify(0.02).coords)
    touched = [translate(mirrored, ax, ay).union(translate(mirrored, bx, by)).convex_hull for (ax, ay), (bx, by) in zip(coords, coords[1:], strict=False)]
    free = room.difference(shapely.union_all(touched))
    if free.is_empty:
        return None
    spot = shapely.shortest_line(Point(x, y), free).coords[-1]
    return spot[0] - x, spot[1] - y


def _bush(route: Route, resolved: Resolved, placed: Placed, cavity: Solid) -> list[Clash]:
    """The bush must come through what carries the part by enough for washer and nut."""
    if placed.part.kind not in (PartKind.POT, PartKind.JACK):
        return []
    bush, p, nut = read_place(placed.part, "bush_length").value_mm, placed.placement, figures()["controls"]["nut_mm"]
    if bush is None or cavity.floor_mm is None:
        return []
    pocket = next(f for f in route.piece.features if f.id == cavity.id)
    if cavity.face is p.face:
        carries, name = (plate_over(route, pocket), "The plate") if pocket.kind == "pocket" else (0.0, "The plate")
    else:
        carries, name = resolved.thickness_mm - cavity.deep_mm(resolved.thickness_mm), "The wood"
    if carries <= bush - nut + 0.01:
        return []
    most = bush - nut
    edits, label = [], ""
    if cavity.face is not p.face and getattr(pocket, "depth_from", None) is None and most > 0.5:
        edits = [{"do": "set", "path": f"piece.features.{cavity.id}.depth_mm", "value": round(resolved.thickness_mm - most + 0.02, 2)}]
        label = f"{cavity.name} {mm(carries - most):.1f} deeper"
    return [
        Clash(
            "part.bush_short",
            p.id,
            f"{name} under {placed.part.name} is {mm(carries):.1f} thick; its bush is {mm(bush):.1f} long and needs "
            f"{mm(nut):.1f} for washer and nut, so {mm(max(most, 0)):.1f} is the most.",
            carries,
            most,
            (p.x_mm, p.y_mm),
            edits,
            label,
        )
    ]


def _overhang(resolved: Resolved, placed: Placed) -> list[Clash]:
    """A knob that reaches over the outline, or over a lower step of the face it stands on."""
    out = []
    for ghost in (g for g in placed.ghosts if g.what == "knob"):
        over = ghost.region.difference(resolved.outline)
        where = "the outline"
        if over.area < LEAST_MM2:
            steps = [s for s in resolved.solids.values() if s.kind == "pocket" and s.face is placed.placement.face and s.id != placed.placement.cavity and not s.region.covers(ghost.region)
                     and s.region.intersection(ghost.region).area >= LEAST_MM2 and not s.id.startswith(placed.placement.id)]
            if not steps:
                continue
            over, where = steps[0].region.intersection(ghost.region), f"the edge of {steps[0].name}"
            edge = steps[0].region
            far = max(Point(c).distance(edge.exterior) for c in over.convex_hull.exterior.coords)
        else:
            far = max(Point(c).distance(resolved.outline) for c in over.convex_hull.exterior.coords)
        p = placed.placement
        out.append(
            Clash(
                "part.overhang",
                p.id,
                f"The knob of {placed.part.name} reaches {mm(far):.1f} over {where}.",
                -float(far),
                0.0,
                (p.x_mm, p.y_mm),
            )
        )
    return out


def standing(route: Route, resolved: Resolved) -> list[Ghost]:
    """Return the parts that stand where features were drawn for them: the neck's heel and board, plates and rings, at their measured sizes."""
    out: list[Ghost] = []
    neck = find_part(route.parts, PartKind.NECK)
    if resolved.heel is not None and neck is not None:
        h = resolved.heel
        end, mouth, x = h.end_width_mm / 2 - h.gap_mm, h.mouth_width_mm / 2 - h.gap_mm, h.length_mm - h.gap_mm
        out.append(Ghost("", neck.id, neck.name, "heel", Polygon([(0.0, -mouth), (x, -end), (x, end), (0.0, mouth)]), (-16.0, 10.0)))
        wide, over = read_place(neck, "board_width_end").value_mm, read_place(neck, "board_overhang").value_mm
        if wide is not None:
            out.append(Ghost("", neck.id, f"{neck.name}, board", "board", shapely.box(0.0, -wide / 2, x + (over or 0.0), wide / 2), (2.0, 12.0)))
    for feature in route.piece.features:
        shape = getattr(feature, "shape", None)
        part = route.part(getattr(shape, "part", "") or "")
        if part is None or shape is None or shape.kind != "part_rectangle" or feature.id not in resolved.solids:
            continue
        names = ("ring_length", "ring_width", "ring_corner") if part.kind is PartKind.PICKUP else ("plate_length", "plate_width", "plate_corner")
        if part.kind not in (PartKind.PICKUP, PartKind.BRIDGE, PartKind.PLATE, PartKind.GUARD):
            continue
        length, width, corner = (read_place(part, n).value_mm for n in names)
        if length and width:
            xmin, ymin, xmax, ymax = resolved.solid(feature.id).region.bounds
            box = Rectangle(x_mm=(xmin + xmax) / 2, y_mm=(ymin + ymax) / 2, length_mm=length, width_mm=width, corner_radius_mm=corner or 0.0, angle_deg=shape.angle_deg)
            out.append(Ghost("", part.id, part.name, part.kind.value, Polygon(flatten(box, 0.05)), (-5.0, 5.0)))
    return out


def _together(route: Route, resolved: Resolved) -> list[Clash]:
    """Parts in each other's way: bodies at one height, knobs nearer than a hand wants, plates and rings on the face."""
    gap, out = figures()["controls"]["knob_gap_mm"], []
    ghosts = resolved.ghosts + [g for g in standing(route, resolved) if g.what in ("pickup", "bridge", "guard", "board")]
    for k, one in enumerate(ghosts):
        for other in ghosts[k + 1:]:
            if one.part == other.part and (one.placement == other.placement or "" in (one.placement, other.placement)):
                continue  # the same thing twice: where it is placed, and where a pocket is drawn for it
            (a, b), (c, d) = one.span_mm, other.span_mm
            if min(b, d) <= max(a, c):
                continue
            knobs = one.what == other.what == "knob"
            allowed = {one.what, other.what} in ({"board", "guard"}, {"pickup", "guard"}, {"bridge", "guard"}, {"reserved", "guard"})  # a guard is cut out for these
            apart = float(one.region.distance(other.region))
            overlap = one.region.intersection(other.region)
            if allowed or (overlap.area < LEAST_MM2 and not (knobs and apart < gap - 0.01)):
                continue
            spot = overlap.representative_point() if overlap.area >= LEAST_MM2 else shapely.shortest_line(one.region, other.region).interpolate(0.5, normalized=True)
            words = (
                f"{_of(one)} and {_of(other)} stand {mm(apart):.1f} apart; fingers want {mm(gap):.1f}."
                if overlap.area < LEAST_MM2
                else f"{_of(one)} and {_of(other)} are in each other's way, over {mm2(overlap.area):.0f}."
            )
            out.append(Clash("part.collides", one.placement or other.placement or one.part, words, apart if overlap.area < LEAST_MM2 else -math.sqrt(overlap.area), gap if knobs else 0.0, (spot.x, spot.y)))
    return out


def _of(ghost: Ghost) -> str:
    return f"The knob of {ghost.name}" if ghost.what == "knob" else f"The room kept for {ghost.name}" if ghost.what == "reserved" else ghost.name


def _screws(route: Route, resolved: Resolved) -> list[Clash]:
    """Screws on hand against the holes drawn for them, and against the neck they go into."""
    fig, out = figures()["screws"], []
    joint = next((s for s in resolved.solids.values() if s.must_be_measured and s.kind == "pocket"), None)
    for feature in (f for f in route.piece.features if f.kind == "hole"):
        part = route.part(feature.measured_from or "")
        if part is None and joint is not None and feature.depth_mm is None and all(joint.region.contains(Point(p)) for p in feature.points):
            part = find_part(route.parts, PartKind.SCREW)  # through the neck pocket: these take the neck's screws
        if part is None or part.kind is not PartKind.SCREW:
            continue
        thread = read_place(part, "thread_diameter").value_mm
        if thread is not None and feature.depth_mm is None and feature.diameter_mm < thread + fig["clear_mm"] / 2 - 1e-6:
            wants = round(thread + fig["clear_mm"], 2)
            out.append(
                Clash(
                    "hole.no_clearance",
                    feature.id,
                    f"{feature.name} are {mm(feature.diameter_mm):.2f} wide and the thread of {part.name} is "
                    f"{mm(thread):.2f}: it bites in the body and the joint is not drawn tight.",
                    feature.diameter_mm,
                    wants,
                    feature.points[0],
                    [{"do": "set", "path": f"piece.features.{feature.id}.diameter_mm", "value": wants}],
                    f"Holes {mm(wants):.1f} wide",
                )
            )
    neck, pocket = find_part(route.parts, PartKind.NECK), next((s for s in resolved.solids.values() if s.must_be_measured and s.kind == "pocket"), None)
    heel = None if neck is None else read_place(neck, "heel_thickness").value_mm
    if neck is None or heel is None or pocket is None or pocket.floor_mm is None:
        return out
    board = read_place(neck, "board_thickness").value_mm or 0.0
    tip = figures()["layout"]["screw_tip_mm"]
    for part in (p for p in route.parts if p.kind is PartKind.SCREW):
        long = read_place(part, "thread_length").value_mm
        if long is None:
            continue
        under = resolved.thickness_mm - pocket.deep_mm(resolved.thickness_mm)
        bite, clear = screw_length(long, 0.0, under, heel - board, tip)
        if not clear or bite <= 0:
            most = under + heel - board - tip
            words = (
                f"{part.name} would come {mm(bite - (heel - board - tip)):.1f} too near the fretboard; "
                f"{mm(most):.1f} is the longest."
                if bite > 0
                else f"{part.name} does not reach the heel: {mm(under):.1f} of body lies before it."
            )
            x, y = pocket.region.representative_point().coords[0]
            out.append(Clash("part.screw_length", part.id, words, long, most if bite > 0 else under, (x, y)))
    return out
