"""The layout of a body as one answer: every derived number with its terms, and what stands where. Numbers whose readings are
missing are None, and say what is missing."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from shapely.geometry import Point, Polygon

from ..data import figures
from ..errors import BirchError
from ..materials.bench_work import offcuts
from ..materials.boards import flatness, glue_up, judge_defect
from ..plane.regions import corners_left
from ..quantities import mm
from ..route import Pocket, Route
from ..variants import variant_views
from ..vocabulary import Face, PartKind
from .balance import balance, hang, layers_of, mean_density
from .chambers import pin_candidates, propose_chambers, strap_pins
from .clearances import clearances, screw_length
from .contours import contours_read
from .edges import edge_plan
from .floors import TiltedFloor
from .heights import Heights, Unknown, solve_heights
from .parts import PartOnHand, read_place
from .resolve import Resolved, cut_region, resolve, trust_of
from .room import clashes, standing
from .saddles import bridge_points, fret_rows, pilot_mm, string_saddles, travel
from .scale import check_scale, fret_distance
from .stack import find_part, heel_end, nut_line
from .strings import axis_error, edge_gaps, spacing_at, string_lines

Ring = list[tuple[float, float]]


@dataclass
class Layout:
    """Plain data for screen, API and command line; lengths mm, piece's frame."""

    missing: list[str] = field(default_factory=list)
    frets: list[float] = field(default_factory=list)  # x of nut and frets
    saddle: dict[str, Any] | None = None
    scale: dict[str, Any] | None = None
    strings: dict[str, Any] | None = None
    heights: dict[str, Any] | None = None
    ghosts: list[dict[str, Any]] = field(default_factory=list)
    clearances: list[dict[str, Any]] = field(default_factory=list)
    weight: dict[str, Any] = field(default_factory=dict)
    screws: list[dict[str, Any]] = field(default_factory=list)
    blank: dict[str, Any] = field(default_factory=dict)
    edges: list[dict[str, Any]] = field(default_factory=list)
    chambers: list[dict[str, Any]] = field(default_factory=list)
    variants: list[dict[str, Any]] = field(default_factory=list)
    clashes: list[dict[str, Any]] = field(default_factory=list)
    hang: dict[str, Any] | None = None
    pins: list[dict[str, float]] = field(default_factory=list)  # places for a strap pin, from the neck end on
    fits: list[dict[str, Any]] = field(default_factory=list)
    corners: list[dict[str, Any]] = field(default_factory=list)
    axis: dict[str, Any] | None = None
    contours: list[dict[str, Any]] = field(default_factory=list)


def layout_of(route: Route, unknown: Unknown = Unknown.DEPTH, instead: dict[str, float] | None = None) -> Layout:
    """Return the layout of a route's piece.

    Args:
        unknown: what the height stack is solved for.
        instead: numbers of the stack to try instead of the route's, by their name in Heights.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    resolved = resolve(route)
    thick = route.blank.piece_mm
    rows = [{**asdict(c), "trust": trust_of(resolved.solid(c.feature), route), "rests_on": list(resolved.solid(c.feature).rests_on)} for c in clearances(resolved, thick)]
    out = Layout(clearances=rows, weight=_weight(route, resolved, thick), blank=_blank(route, resolved, thick))
    out.contours = [asdict(c) for c in contours_read(route, resolved)]
    _placed(route, resolved, out)
    _fits(route, resolved, out)
    neck, bridge = find_part(route.parts, PartKind.NECK), find_part(route.parts, PartKind.BRIDGE)
    if neck is None:
        _ghosts(route, resolved, None, out)
        return out
    _saddle_two_ways(route, resolved, neck, out)
    _strings(route, resolved, neck, bridge, out)
    _heights(route, resolved, neck, bridge, unknown, instead or {}, out)
    _ghosts(route, resolved, neck, out)
    _screws(route, resolved, neck, thick, out)
    return out


def _value(part: PartOnHand | None, place: str, out: Layout, *, needed: bool = True) -> float | None:
    if part is None:
        return None
    value = read_place(part, place).value_mm
    if value is None and needed:
        out.missing.append(f"{part.name}, {read_place(part, place).label.lower()}")
    return value


def _weight(route: Route, resolved: Resolved, thick: float) -> dict[str, Any]:
    layers = layers_of(route)
    found = balance(resolved, thick, layers)
    by_wood = [{"wood": name, "kg": balance(resolved, thick, [layer]).kg} for (name, _, _), layer in zip(route.blank.layer_spans(), layers, strict=True)]
    faces = {face.value: sum(s.grams for s in found.shares if resolved.solid(s.feature).face is face) for face in Face}
    return {
        **asdict(found),
        "by_wood": by_wood,
        "taken_g": faces,
        "density_kg_m3": mean_density(route),
        "density_from": "weighed" if route.blank.weighed_kg else "wood table",
    }


def _blank(route: Route, resolved: Resolved, thick: float) -> dict[str, Any]:
    """Boards and glue lines, what the flaws mean, and what the thickness readings say."""
    blank = route.blank
    joined = glue_up([p.width_mm for p in blank.planks], blank.joint_loss_mm, blank.y_mm, blank.width_mm) if blank.planks else None
    flat = flatness(blank.thickness_readings_mm)
    return {
        "boards": None if joined is None else asdict(joined),
        "defects": [asdict(judge_defect(d.id, d.x_mm, d.y_mm, d.radius_mm, d.top_mm, d.deep_mm, resolved, thick)) for d in blank.defects],
        "thickness": None if flat is None else {**asdict(flat), "spread_mm": flat.spread_mm},
        "offcuts": [asdict(o) for o in offcuts(blank, resolved.outline.bounds, outline_bit(route))],
        "layers": [{"wood": w, "top_mm": top, "under_mm": under} for w, top, under in blank.layer_spans()]}


def outline_bit(route: Route) -> float:
    """Return the width of the bit that cuts the outline, mm; that of the widest long bit where no operation does yet."""
    outline = route.piece.outline.id
    used = [route.bit(o.bit).cut_diameter_mm for o in route.operations if outline in o.features]
    return max(used, default=max((b.cut_diameter_mm for b in route.bits if b.cut_diameter_mm <= 13), default=8.0))


def _placed(route: Route, resolved: Resolved, out: Layout) -> None:
    """Placed parts and what does not fit; edges; chambers; variants; how the instrument hangs."""
    out.clashes = [asdict(c) for c in clashes(route, resolved)]
    out.edges = [asdict(e) for e in edge_plan(route, resolved)]
    for face in Face:
        for number, c in enumerate(propose_chambers(route, resolved, face), 1):
            row = {k: v for k, v in vars(c).items() if k != "region"}
            out.chambers.append({**row, "number": number, "ring": _ring(c.region)})
    out.variants = [{**asdict(v), "serves": v.serves} for v in variant_views(route)]
    out.pins = pin_candidates(route, resolved)
    pins, choices, end = strap_pins(resolved), route.choices, heel_end(route.parts)
    if len(pins) >= 2 and choices.neck_kg is not None and choices.neck_balance_mm is not None and end is not None:
        body = out.weight
        found = hang([(body["kg"], body["x_mm"], body["y_mm"]), (choices.neck_kg, end - choices.neck_balance_mm, 0.0)], pins[0], pins[-1], figures()["strap"]["rise_mm"])
        out.hang = {**asdict(found), "pins": pins, "most_deg": figures()["strap"]["sinks_deg"]}


def _ring(region: Polygon) -> Ring:
    return [(round(float(x), 2), round(float(y), 2)) for x, y in region.exterior.simplify(0.1).coords]


def _fits(route: Route, resolved: Resolved, out: Layout) -> None:
    """Gap and tolerance of every feature by its class, and the corners a round bit leaves: for the chisel, or the bit that would do it."""
    table, choices = figures()["tolerance_mm"], route.choices
    for feature in route.features:
        if not isinstance(feature, Pocket):
            continue
        solid = resolved.solids.get(feature.id)
        kind = (solid or feature).finish_class.value
        film = choices.film_mm if kind in ("shown", "fitted") else 0.0
        gap = choices.fit_gap_mm if feature.shape.kind == "heel" else getattr(feature.shape, "gap_mm", None)
        out.fits.append({"feature": feature.id, "name": feature.name, "finish_class": kind, "hidden_by": solid.hidden_by if solid else "", "tolerance_mm": table[kind], "gap_mm": gap, "film_mm": film if gap is not None else 0.0,
                         "cut_gap_mm": None if gap is None else gap + film})
        bits = [route.bit(o.bit) for o in route.operations if feature.id in o.features]
        if not bits:
            continue
        least = min(bits, key=lambda b: b.radius_mm)
        spots = [c for c in corners_left(cut_region(resolved.solid(feature.id), least.radius_mm), least.radius_mm) if resolved.outline.contains(Point(c[:2]))]
        if spots:
            smaller = sorted((b for b in route.bits if b.form.value == "flat" and b.radius_mm < least.radius_mm and b.cutting_length_mm >= resolved.solid(feature.id).deep_mm(resolved.thickness_mm)), key=lambda b: -b.radius_mm)
            out.corners.append({"feature": feature.id, "name": feature.name, "radius_mm": least.radius_mm, "bit": least.name, "smaller": [b.name for b in smaller[:1]],
                                "spots": [{"x_mm": x, "y_mm": y, "area_mm2": a} for x, y, a in spots]})


def _saddle_two_ways(route: Route, resolved: Resolved, neck: PartOnHand, out: Layout) -> None:
    """The place that ruins a body: from the heel and half the scale, and again from the nut in hand."""
    choices = route.choices
    to_12th, to_nut = _value(neck, "heel_to_12th", out), _value(neck, "nut_to_12th", out, needed=False)
    if resolved.heel is None or resolved.saddle_x_mm is None or to_12th is None or choices.scale_mm is None:
        return
    end = resolved.heel.length_mm - resolved.heel.gap_mm
    nut = nut_line(route.parts, choices)
    assert nut is not None  # all it follows from is there
    again = None if to_nut is None else nut + 2 * to_nut + choices.compensation_mm
    out.saddle = {
        "x_mm": resolved.saddle_x_mm,
        "from_heel_mm": resolved.saddle_x_mm - end,
        "words": f"{mm(choices.scale_mm / 2):.2f} half the scale − {mm(to_12th):.2f} heel end to 12th + "
                 f"{mm(choices.compensation_mm):.2f} compensation",
        "again_mm": None if again is None else again - end,
        "again_words": None
        if to_nut is None
        else f"nut at {mm(nut):.2f} + twice {mm(to_nut):.2f} measured nut to 12th + "
             f"{mm(choices.compensation_mm):.2f}, less the heel end at {mm(end):.2f}",
        "differ_mm": None if again is None else again - resolved.saddle_x_mm,
        "points": bridge_points(route, resolved.saddle_x_mm, end),
    }
    out.frets = [nut + fret_distance(choices.scale_mm, n) for n in range(choices.frets + 1)]
    if to_nut is not None:
        out.scale = asdict(check_scale(choices.scale_mm, to_nut, figures()["layout"]["scale_mm"]))


def _strings(route: Route, resolved: Resolved, neck: PartOnHand, bridge: PartOnHand | None, out: Layout) -> None:
    at_nut, at_saddle = _value(neck, "string_spread_nut", out), _value(bridge, "string_spread", out)
    if not out.frets or at_nut is None or at_saddle is None or resolved.saddle_x_mm is None:
        return
    nut_x = out.frets[0]
    lines = string_lines(route.choices.strings, at_nut, at_saddle, nut_x, resolved.saddle_x_mm)
    saddles = string_saddles(route, lines, resolved.saddle_x_mm)
    left = travel(route.choices.string_extra_mm, bridge)
    found: dict[str, Any] = {"lines": [[*s.nut, *s.saddle] for s in lines], "gaps": [], "poles": [], "saddles": [asdict(s) for s in saddles],
                             "travel": None if left is None else {**asdict(left), "short_mm": left.short_mm},
                             "frets": fret_rows(route, nut_x, at_nut / 2, at_saddle / 2, resolved.saddle_x_mm)}
    wide_nut, wide_end = _value(neck, "board_width_nut", out), _value(neck, "board_width_end", out)
    if wide_nut is not None and wide_end is not None:
        end_x = out.frets[-1]
        board = [(nut_x, wide_nut), (end_x, wide_end)]
        places = [("Nut", nut_x), ("12th fret", out.frets[12] if len(out.frets) > 12 else end_x), ("Last fret", end_x)]
        least = figures()["layout"]["string_edge_mm"]
        for (name, _), gap in zip(places, edge_gaps(lines, board, [x for _, x in places]), strict=True):
            found["gaps"].append({"place": name, **asdict(gap), "least_mm": least, "enough": min(gap.bass_mm, gap.treble_mm) >= least})
    for feature in route.piece.features:
        shape = getattr(feature, "shape", None)
        part = route.part(getattr(shape, "part", "") or "")
        if part is not None and part.kind is PartKind.PICKUP and shape is not None and shape.kind == "part_rectangle":
            poles, line = _value(part, "pole_spread", out, needed=False), _value(part, "pole_line", out, needed=False)
            long = _value(part, "ring_length", out, needed=False)
            if poles is not None and line is not None and long is not None:
                x = shape.x_mm - long / 2 + line
                spread = spacing_at(lines, x)
                found["poles"].append({"part": part.name, "x_mm": x, "strings_mm": spread, "poles_mm": poles, "differ_mm": poles - spread, "within": abs(poles - spread) / 2 <= figures()["layout"]["pole_mm"]})
    out.strings = found
    if route.choices.axis_offset_mm is not None:
        reach = resolved.saddle_x_mm - (resolved.heel.length_mm if resolved.heel else 0.0)
        off = axis_error(route.choices.axis_offset_mm, abs(nut_x) + (resolved.heel.length_mm if resolved.heel else 0.0), reach)
        out.axis = {"offset_mm": route.choices.axis_offset_mm, "at_saddle_mm": -off, "box_middle_mm": (resolved.outline.bounds[1] + resolved.outline.bounds[3]) / 2}


def _heights(route: Route, resolved: Resolved, neck: PartOnHand, bridge: PartOnHand | None, unknown: Unknown, instead: dict[str, float], out: Layout) -> None:
    heel, fret, length = _value(neck, "heel_thickness", out), _value(neck, "fret_height", out), _value(neck, "heel_length", out)
    low, high = _value(bridge, "saddle_low", out), _value(bridge, "saddle_high", out)
    if out.saddle is None or None in (heel, fret, length, low, high):
        return
    choices = route.choices
    recess = next((f.depth_mm for f in route.piece.features if getattr(getattr(f, "shape", None), "at_saddle", False)), 0.0)
    pocket = next((s for s in resolved.solids.values() if s.must_be_measured and s.kind == "pocket"), None)
    depth = -pocket.floor_mm if pocket is not None and pocket.floor_mm is not None else 16.0
    tilted = pocket.surface if pocket is not None and isinstance(pocket.surface, TiltedFloor) else None
    stack = Heights(heel, fret, depth if tilted is None else tilted.end_mm, 0.0 if tilted is None else math.degrees(math.atan(tilted.fall)), low + choices.saddle_part * (high - low), recess, choices.action_12th_mm, choices.string_at_nut_mm, out.saddle["from_heel_mm"], length)  # type: ignore[arg-type]
    stack = replace(stack, **instead)
    try:
        solved = solve_heights(stack, unknown, (low, high))  # type: ignore[arg-type]
    except BirchError as exc:
        out.heights = {"unknown": unknown.value, "failed": exc.sentence}
        return
    out.heights = {"unknown": unknown.value, "failed": None, **asdict(solved.heights), "wedge_thick_mm": solved.wedge_thick_mm,
                   "travel_down_mm": solved.travel_down_mm, "travel_up_mm": solved.travel_up_mm, "saddle_low_mm": low, "saddle_high_mm": high}


def _ghosts(route: Route, resolved: Resolved, neck: PartOnHand | None, out: Layout) -> None:
    """Parts at their measured sizes where they will stand; never cut."""
    if neck is not None and resolved.heel is not None:
        wide_nut, wide_end, over = (read_place(neck, p).value_mm for p in ("board_width_nut", "board_width_end", "board_overhang"))
        if out.frets and wide_nut is not None and wide_end is not None:
            nut, far = out.frets[0], resolved.heel.length_mm - resolved.heel.gap_mm + (over or 0.0)
            out.ghosts.append({"part": neck.id, "name": f"{neck.name}, board", "what": "whole board", "placement": "", "ring": [(nut, -wide_nut / 2), (far, -wide_end / 2), (far, wide_end / 2), (nut, wide_nut / 2), (nut, -wide_nut / 2)]})
    out.ghosts += [{"part": g.part, "name": g.name, "what": g.what, "placement": g.placement, "ring": _ring(g.region)} for g in [*standing(route, resolved), *resolved.ghosts] if g.what != "board"]


def _drills(part: PartOnHand) -> dict[str, float | None]:
    """Return the holes a screw on hand asks for: clearance in the body, pilot in the neck."""
    thread = read_place(part, "thread_diameter").value_mm
    if thread is None:
        return {"clearance_mm": None, "pilot_mm": None}
    return {"clearance_mm": thread + figures()["screws"]["clear_mm"], "pilot_mm": pilot_mm(thread, read_place(part, "core_diameter").value_mm)}


def _screws(route: Route, resolved: Resolved, neck: PartOnHand, thick: float, out: Layout) -> None:
    """How deep each kind of screw on hand would bite through the body into the heel."""
    pocket = next((s for s in resolved.solids.values() if s.must_be_measured and s.kind == "pocket"), None)
    heel, board = read_place(neck, "heel_thickness").value_mm, read_place(neck, "board_thickness").value_mm
    if pocket is None or pocket.floor_mm is None or heel is None:
        return
    under, wood_mm = thick + pocket.floor_mm, heel - (board or 0.0)
    tip = figures()["layout"]["screw_tip_mm"]
    for part in route.parts:
        if part.kind is PartKind.SCREW:
            long = read_place(part, "thread_length").value_mm
            if long is not None:
                bite, clear = screw_length(long, 0.0, under, wood_mm, tip)
                out.screws.append({"part": part.name, "long_mm": long, "body_mm": under, "bite_mm": bite, "heel_wood_mm": wood_mm, "clear": clear and bite > 0, "board_known": board is not None, **_drills(part)})
