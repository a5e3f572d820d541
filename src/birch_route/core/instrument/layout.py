"""The layout of a body as one answer: every derived number with its terms, and what stands where. Numbers whose readings are
missing are None, and say what is missing."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, replace
from typing import Any

from ..data import figures, wood
from ..errors import BirchError
from ..materials.boards import flatness, glue_up, judge_defect
from ..plane.curves import Rectangle, flatten
from ..route import Route
from ..vocabulary import PartKind
from .balance import balance
from .clearances import clearances, screw_length
from .heights import Heights, Unknown, solve_heights
from .parts import PartOnHand, read_place
from .resolve import Resolved, resolve
from .scale import check_scale, fret_distance
from .stack import find_part
from .strings import edge_gaps, spacing_at, string_lines

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


def layout_of(route: Route, unknown: Unknown = Unknown.DEPTH, instead: dict[str, float] | None = None) -> Layout:
    """Return the layout of a route's piece.

    Args:
        unknown: what the height stack is solved for.
        instead: numbers of the stack to try instead of the route's, by their name in Heights.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    resolved = resolve(route)
    thick = route.blank.thickness_mm - route.blank.skim_mm
    out = Layout(clearances=[asdict(c) for c in clearances(resolved, thick)], weight=_weight(route, resolved, thick), blank=_blank(route, resolved, thick))
    neck, bridge = find_part(route.parts, PartKind.NECK), find_part(route.parts, PartKind.BRIDGE)
    if neck is None:
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
    blank = route.blank
    volume = blank.length_mm * blank.width_mm * blank.thickness_mm
    density = blank.weighed_kg / volume * 1e9 if blank.weighed_kg else wood(blank.wood).density_kg_m3
    found = balance(resolved, thick, density)
    return {**asdict(found), "density_kg_m3": density, "density_from": "weighed" if blank.weighed_kg else "wood table"}


def _blank(route: Route, resolved: Resolved, thick: float) -> dict[str, Any]:
    """Boards and glue lines, what the flaws mean, and what the thickness readings say."""
    blank = route.blank
    joined = glue_up([p.width_mm for p in blank.planks], blank.joint_loss_mm, blank.y_mm, blank.width_mm) if blank.planks else None
    flat = flatness(blank.thickness_readings_mm)
    return {
        "boards": None if joined is None else asdict(joined),
        "defects": [asdict(judge_defect(d.id, d.x_mm, d.y_mm, d.radius_mm, d.top_mm, d.deep_mm, resolved, thick)) for d in blank.defects],
        "thickness": None if flat is None else {**asdict(flat), "spread_mm": flat.spread_mm}}


def _saddle_two_ways(route: Route, resolved: Resolved, neck: PartOnHand, out: Layout) -> None:
    """The place that ruins a body: from the heel and half the scale, and again from the nut in hand."""
    choices = route.choices
    to_12th, to_nut = _value(neck, "heel_to_12th", out), _value(neck, "nut_to_12th", out, needed=False)
    if resolved.heel is None or resolved.saddle_x_mm is None or to_12th is None or choices.scale_mm is None:
        return
    end = resolved.heel.length_mm - resolved.heel.gap_mm
    nut = end - to_12th - (to_nut if to_nut is not None else choices.scale_mm / 2)
    again = None if to_nut is None else nut + 2 * to_nut + choices.compensation_mm
    out.saddle = {
        "x_mm": resolved.saddle_x_mm, "from_heel_mm": resolved.saddle_x_mm - end, "words": f"{choices.scale_mm / 2:.2f} half the scale − {to_12th:.2f} heel end to 12th + {choices.compensation_mm:.2f} compensation",
        "again_mm": None if again is None else again - end,
        "again_words": None if to_nut is None else f"nut at {nut:.2f} + twice {to_nut:.2f} measured nut to 12th + {choices.compensation_mm:.2f}, less the heel end at {end:.2f}",
        "differ_mm": None if again is None else again - resolved.saddle_x_mm}
    out.frets = [nut + fret_distance(choices.scale_mm, n) for n in range(choices.frets + 1)]
    if to_nut is not None:
        out.scale = asdict(check_scale(choices.scale_mm, to_nut, figures()["layout"]["scale_mm"]))


def _strings(route: Route, resolved: Resolved, neck: PartOnHand, bridge: PartOnHand | None, out: Layout) -> None:
    at_nut, at_saddle = _value(neck, "string_spread_nut", out), _value(bridge, "string_spread", out)
    if not out.frets or at_nut is None or at_saddle is None or resolved.saddle_x_mm is None:
        return
    nut_x = out.frets[0]
    lines = string_lines(route.choices.strings, at_nut, at_saddle, nut_x, resolved.saddle_x_mm)
    found: dict[str, Any] = {"lines": [[*s.nut, *s.saddle] for s in lines], "gaps": [], "poles": []}
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


def _heights(route: Route, resolved: Resolved, neck: PartOnHand, bridge: PartOnHand | None, unknown: Unknown, instead: dict[str, float], out: Layout) -> None:
    heel, fret, length = _value(neck, "heel_thickness", out), _value(neck, "fret_height", out), _value(neck, "heel_length", out)
    low, high = _value(bridge, "saddle_low", out), _value(bridge, "saddle_high", out)
    if out.saddle is None or None in (heel, fret, length, low, high):
        return
    choices = route.choices
    recess = next((f.depth_mm for f in route.piece.features if getattr(getattr(f, "shape", None), "at_saddle", False)), 0.0)
    pocket = next((s for s in resolved.solids.values() if s.must_be_measured and s.kind == "pocket"), None)
    depth = -pocket.floor_mm if pocket is not None and pocket.floor_mm is not None else 16.0
    stack = Heights(heel, fret, depth, 0.0, low + choices.saddle_part * (high - low), recess, choices.action_12th_mm, choices.string_at_nut_mm, out.saddle["from_heel_mm"], length)  # type: ignore[arg-type]
    stack = replace(stack, **instead)
    try:
        solved = solve_heights(stack, unknown, (low, high))  # type: ignore[arg-type]
    except BirchError as exc:
        out.heights = {"unknown": unknown.value, "failed": exc.message}
        return
    out.heights = {"unknown": unknown.value, "failed": None, **asdict(solved.heights), "wedge_thick_mm": solved.wedge_thick_mm,
                   "travel_down_mm": solved.travel_down_mm, "travel_up_mm": solved.travel_up_mm, "saddle_low_mm": low, "saddle_high_mm": high}


def _ghosts(route: Route, resolved: Resolved, neck: PartOnHand, out: Layout) -> None:
    """Parts at their measured sizes where they will stand; never cut."""
    if resolved.heel is not None:
        h = resolved.heel
        end, mouth = h.end_width_mm / 2 - h.gap_mm, h.mouth_width_mm / 2 - h.gap_mm
        x = h.length_mm - h.gap_mm
        out.ghosts.append({"part": neck.id, "name": neck.name, "ring": [(0.0, -mouth), (x, -end), (x, end), (0.0, mouth), (0.0, -mouth)]})
        wide_nut, wide_end, over = (read_place(neck, p).value_mm for p in ("board_width_nut", "board_width_end", "board_overhang"))
        if out.frets and wide_nut is not None and wide_end is not None:
            nut, far = out.frets[0], x + (over or 0.0)
            out.ghosts.append({"part": neck.id, "name": f"{neck.name}, board", "ring": [(nut, -wide_nut / 2), (far, -wide_end / 2), (far, wide_end / 2), (nut, wide_nut / 2), (nut, -wide_nut / 2)]})
    for feature in route.piece.features:
        shape = getattr(feature, "shape", None)
        part = route.part(getattr(shape, "part", "") or "")
        if part is None or shape is None or shape.kind != "part_rectangle":
            continue
        bounds = resolved.solid(feature.id).region.bounds
        names = ("plate_length", "plate_width", "plate_corner") if part.kind is PartKind.BRIDGE else ("ring_length", "ring_width", "ring_corner")
        length, width, corner = (read_place(part, n).value_mm for n in names)
        if length and width:
            centre = ((bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2)
            ring = flatten(Rectangle(x_mm=centre[0], y_mm=centre[1], length_mm=length, width_mm=width, corner_radius_mm=corner or 0.0, angle_deg=shape.angle_deg), 0.1)
            out.ghosts.append({"part": part.id, "name": part.name, "ring": [tuple(p) for p in [*ring.tolist(), ring[0].tolist()]]})


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
                out.screws.append({"part": part.name, "long_mm": long, "body_mm": under, "bite_mm": bite, "heel_wood_mm": wood_mm, "clear": clear and bite > 0, "board_known": board is not None})
