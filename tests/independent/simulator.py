"""A second simulator, to disagree with the product if it can.

It is given the files that `birch plan` writes and nothing else: report.json, the programs, the wood pictures. It shares
no code with the product: its own parser, its own cells (of another size, on another origin), bits stamped on every cell
near a segment, hardware as sampled points, pieces by scipy's labels.
"""

from __future__ import annotations

import json
import math
import re
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import shapely
from PIL import Image
from scipy import ndimage

from tests.independent.stamps import form_of, highest, lowest

CELL_MM = 0.4
ORIGIN_MM = 0.137  # so that its cells never lie on the product's
CHORD_MM = 0.002
TOUCH_MM = 0.03


@dataclass
class Told:
    """What this simulator says of one plan."""

    codes: set[str] = field(default_factory=set)
    worst_mm: dict[str, float] = field(default_factory=dict)
    gap_mm: dict[str, float] = field(default_factory=dict)  # least distance to each piece of hardware, by id
    removed_mm3: float = 0.0
    loose_mm2: list[float] = field(default_factory=list)
    wood_off_mm: float = 0.0  # greatest difference to the wood pictures, clear of walls

    def say(self, code: str, amount: float) -> None:
        self.codes.add(code)
        self.worst_mm[code] = max(self.worst_mm.get(code, 0.0), amount)


@dataclass
class Moves:
    """Straight moves with one bit: points [n + 1, 3] in mm, rapid [n]."""

    tool: int
    points: np.ndarray
    rapid: np.ndarray


def read_moves(text: str) -> list[Moves]:
    """Return the motion of a program by bit. Only the words that the product documents are known here."""
    out: list[Moves] = []
    at: list[float | None] = [None, None, None]
    scale, mode, tool = 1.0, 0, 0
    points: list[tuple[float, ...]] = []
    rapid: list[bool] = []

    def close() -> None:
        if rapid:
            out.append(Moves(tool, np.array(points), np.array(rapid)))

    for raw in text.splitlines():
        line = re.sub(r"\(.*?\)", "", raw).split(";")[0].upper()
        words = re.findall(r"([A-Z])([-+]?[0-9.]+)", line)
        value = {letter: float(number) for letter, number in words}
        codes = [float(number) for letter, number in words if letter == "G"]
        if 20 in codes or 21 in codes:
            scale = 25.4 if 20 in codes else 1.0
        if "T" in value and int(value["T"]) != tool:
            close()
            tool, rapid = int(value["T"]), []
            points = [tuple(at)] if None not in at else []
        if 4 in codes:
            continue
        for code in codes:
            mode = int(code) if code in (0, 1, 2, 3) else mode
        if not any(axis in value for axis in "XYZ"):
            continue
        to = [value[a] * scale if a in value else at[k] for k, a in enumerate("XYZ")]
        if None in at or None in to:
            at = to
            points = [tuple(at)] if None not in at else points
            continue
        for target in _arc(at, to, value, scale, mode) if mode in (2, 3) else [tuple(to)]:
            points.append(target)
            rapid.append(mode == 0)
        at = to
    close()
    return out


def _arc(at, to, value, scale, mode):
    cx, cy = at[0] + value.get("I", 0) * scale, at[1] + value.get("J", 0) * scale
    r = math.hypot(at[0] - cx, at[1] - cy)
    first, last = math.atan2(at[1] - cy, at[0] - cx), math.atan2(to[1] - cy, to[0] - cx)
    sweep = (last - first) % (2 * math.pi) if mode == 3 else -((first - last) % (2 * math.pi))
    if abs(sweep) < 1e-9:
        sweep = math.copysign(2 * math.pi, 1 if mode == 3 else -1)
    count = max(2, math.ceil(abs(sweep) / (2 * math.acos(1 - min(CHORD_MM / max(r, 1e-6), 0.5)))))
    return [(cx + r * math.cos(first + sweep * k / count), cy + r * math.sin(first + sweep * k / count), at[2] + (to[2] - at[2]) * k / count)
            if k < count else tuple(to) for k in range(1, count + 1)]


class Field:
    """The wood as cells."""

    def __init__(self, low: list[float], high: list[float]) -> None:
        self.x = np.arange(low[0] + ORIGIN_MM, high[0], CELL_MM)
        self.y = np.arange(low[1] + ORIGIN_MM, high[1], CELL_MM)
        self.top = np.full((len(self.y), len(self.x)), high[2])
        self.bottom = np.full_like(self.top, low[2])
        self.floor = self.roof = None  # of what a layer glued on has closed

    def cover(self, high: float) -> None:
        """Glue a layer on: what was below the top that stood is closed, what stands above it is wood again."""
        under = float(self.top.max())
        through = self.top <= self.bottom
        self.floor = np.where(through, under, self.top)  # a hole right through stays open to the bed: no wood there but the layer
        self.roof = np.full_like(self.top, under)
        self.bottom = np.where(through, under, self.bottom)
        self.top = np.full_like(self.top, high)

    def turned(self, signs: tuple[float, float]) -> "Field":
        """Return the same wood turned over by half a turn about a plan axis: x and y by their signs, up is down."""
        other = object.__new__(Field)
        flips = [k for k, s in ((1, signs[0]), (0, signs[1])) if s < 0]
        other.x, other.y = (np.sort(s * v) for s, v in zip(signs, (self.x, self.y), strict=True))
        other.top, other.bottom = (np.flip(-f, flips).copy() for f in (self.bottom, self.top))
        gone = other.top <= other.bottom
        other.top[gone] = other.bottom[gone] = float(other.bottom[~gone].min())
        other.floor, other.roof = (None, None) if self.roof is None else (np.flip(-f, flips).copy() for f in (self.roof, self.floor))
        return other

    def saw_out(self, ring: np.ndarray) -> None:
        """Take away all wood outside a ring [n, 2], as a saw at the bench does before the piece goes into its nest."""
        x, y = np.meshgrid(self.x, self.y)
        away = ~shapely.contains_xy(shapely.Polygon(ring), x, y)
        self.top[away] = self.bottom[away]
        assert self.roof is None

    def window(self, a: np.ndarray, b: np.ndarray, radius: float):
        i0, i1 = np.searchsorted(self.x, [min(a[0], b[0]) - radius, max(a[0], b[0]) + radius])
        j0, j1 = np.searchsorted(self.y, [min(a[1], b[1]) - radius, max(a[1], b[1]) + radius])
        return slice(j0, j1), slice(i0, i1)

    def standing(self, a: np.ndarray, b: np.ndarray, radius: float) -> float:
        """Return the highest wood within a radius of a segment."""
        at = self.window(a, b, radius)
        return float(highest(self.top[at], self.bottom[at], self.x[at[1]], self.y[at[0]], a, b, radius))

    def cut(self, bit: dict, a: np.ndarray, b: np.ndarray) -> tuple[float, float]:
        """Stamp a bit along a segment; return removed volume and the deepest bite."""
        form = form_of(bit)
        pieces = 1 if abs(a[2] - b[2]) < 1e-9 else max(1, math.ceil(np.linalg.norm(b - a) / 0.05))
        at = self.window(a, b, form[1])
        if at[0].start >= at[0].stop or at[1].start >= at[1].stop:
            return 0.0, 0.0
        before = self.top[at].copy()
        low = lowest(before, self.x[at[1]], self.y[at[0]], a, b, pieces, *form)
        bite = np.where(before > self.bottom[at], before - np.maximum(low, self.bottom[at]), 0.0)
        if self.roof is not None:
            floor, roof = self.floor[at], self.roof[at]
            reached = np.maximum(low, self.bottom[at])
            bite -= np.where(bite > 0, np.clip(np.minimum(before, roof) - np.maximum(reached, floor), 0.0, None), 0.0)  # a hollow is no wood
            low = np.where((roof > floor + TOUCH_MM) & (low < roof) & (low > floor), floor, low)
        self.top[at] = low
        return float(np.maximum(bite, 0).sum()) * CELL_MM**2, float(bite.max(initial=0.0))


def simulate(folder: Path) -> Told:
    """Repeat the proof of a plan from its files."""
    report = json.loads((folder / "report.json").read_text())
    told, wood, lies, sawn = Told(), None, (1.0, 1.0), ""
    for k, program in enumerate(report["programs"]):
        rotation = np.array(program["to_piece"]["rotation"], float)
        assert abs(np.linalg.det(rotation) - 1) < 1e-12 and np.allclose(rotation, np.diag(np.diag(rotation)))  # a rotation: nothing is mirrored
        sx, sy, sz = np.diag(rotation)
        signs = (sx, sy)
        stock = program["stock_box_mm"]
        if wood is None:
            wood, high = Field(stock["min"], stock["max"]), stock["max"][2]
        if stock["max"][2] > high + TOUCH_MM:
            assert lies == (1.0, 1.0)
            wood.cover(stock["max"][2])
            high = stock["max"][2]
        if signs != lies:
            wood = wood.turned((lies[0] * signs[0], lies[1] * signs[1]))
            lies = signs
        nest = next(s["nest"] for s in report["setups"] if s["id"] == program["setup"])
        if nest is not None and sawn != program["setup"]:
            wood.saw_out(np.array(nest["ring"]) * lies)
            sawn = program["setup"]
        upright = _upright(program, sx, sy, sz)
        shift = rotation.T @ np.array(program["to_piece"]["translation_mm"])
        for moves in read_moves((folder / program["file"]).read_text()):
            _run(told, wood, report, upright, program["bits"][str(moves.tool)], moves.points + shift, moves.rapid)
        if [p["setup"] for p in report["programs"][k:k + 2]].count(program["setup"]) == 1:  # the last of its setup
            told.wood_off_mm = max(told.wood_off_mm, compare_wood(folder, program["setup"], wood if lies == (1.0, 1.0) else wood.turned(lies)))
    assert wood is not None
    _loose(told, wood, upright["hardware"])
    return told


def _upright(program: dict, sx: float, sy: float, sz: float) -> dict:
    """Return what a program says of stock and hardware as it lies on the machine: the piece's numbers turned like the piece."""
    if sz > 0:
        return program
    low, high = (np.array(program["stock_box_mm"][k]) * [sx, sy, sz] for k in ("min", "max"))
    turn = (lambda a: -a) if sx > 0 else (lambda a: 180 - a)
    hardware = [{**h, "x_mm": sx * h["x_mm"], "y_mm": sy * h["y_mm"], "angle_deg": turn(h["angle_deg"]), "top_z_mm": sz * h["top_z_mm"], "bottom_z_mm": sz * h["bottom_z_mm"]} for h in program["hardware"]]
    return {**program, "stock_box_mm": {"min": np.minimum(low, high).tolist(), "max": np.maximum(low, high).tolist()}, "hardware": hardware}


def _run(told: Told, wood: Field, report: dict, program: dict, bit: dict, points: np.ndarray, rapid: np.ndarray) -> None:
    radius, shank, nut = form_of(bit)[1], bit["shank_diameter_mm"] / 2, bit["nut_diameter_mm"] / 2
    machine = report["machine"]
    lowest = float(wood.bottom.min())
    _travel(told, machine, program, bit, points)
    _hardware(told, program["hardware"], max(radius, shank), nut, bit, points, _heads(machine))
    highest = float(wood.top.max())
    for k, fast in enumerate(rapid):
        a, b = points[k], points[k + 1]
        low = min(a[2], b[2])
        if low >= highest:
            continue
        if low + bit["cutting_length_mm"] < highest:
            rubbing = shank + (CELL_MM / 2 if shank > radius - 0.01 else 0.0)
            over = wood.standing(a, b, rubbing) - (low + bit["cutting_length_mm"])
            if over > TOUCH_MM:
                told.say("bit.too_short", over)
        if low + bit["stickout_mm"] < highest:
            over = wood.standing(a, b, nut) - (low + bit["stickout_mm"])
            if over > TOUCH_MM:
                told.say("bit.nut_hits_wood", over)
        for head, up in _heads(machine):
            if low + bit["stickout_mm"] + up < highest:
                over = wood.standing(a, b, head) - (low + bit["stickout_mm"] + up)
                if over > TOUCH_MM:
                    told.say("bit.head_hits_wood", over)
        volume, bite = wood.cut(bit, a, b)
        told.removed_mm3 += volume
        if fast and bite > TOUCH_MM:
            told.say("rapid.through_wood", bite)
        point = radius / math.tan(math.radians(bit["included_angle_deg"] / 2)) if bit["form"] == "drill" else 0.0
        below = lowest - low - point
        if below > program["waste_board_cut_mm"] + 1e-4:
            told.say("waste_board.hit", below)


def _heads(machine: dict) -> list[tuple[float, float]]:
    """Return radius, and height above the nut's face, of what stands above the collet nut."""
    nose = [(machine["spindle_diameter_mm"] / 2, machine["nut_length_mm"])]
    return nose + ([(machine["shoe_diameter_mm"] / 2, machine["shoe_up_mm"])] if machine.get("shoe_diameter_mm") else [])


def _hardware(told: Told, hardware: list[dict], bit_radius: float, nut: float, bit: dict, points: np.ndarray, heads: list[tuple[float, float]]) -> None:
    a, b = points[:-1], points[1:]
    low = np.minimum(a[:, 2], b[:, 2])
    for one in (h for h in hardware if h["kind"] not in ("tape", "vacuum", "spacer")):  # these lie under the wood
        body, less = _body(one)
        for radius, height in ((bit_radius, 0.0), (nut, bit["stickout_mm"]), *((r, bit["stickout_mm"] + up) for r, up in heads)):
            under = np.flatnonzero(low + height < one["top_z_mm"] - 1e-9)
            gap = math.inf
            for chunk in np.array_split(under, max(1, len(under) // 2000)):
                if len(chunk):
                    gap = min(gap, _least_distance(body, a[chunk, :2], b[chunk, :2]) - less - radius)
            told.gap_mm[one["id"]] = min(told.gap_mm.get(one["id"], math.inf), gap)
            if gap < -1e-3:
                told.say("hardware.hit", -gap)


def _body(one: dict) -> tuple[np.ndarray, float]:
    """Return points that fill a piece of hardware in plan, and the radius around each."""
    if one["kind"] == "screw":
        return np.array([[one["x_mm"], one["y_mm"]]]), one["head_diameter_mm"] / 2
    c, s = math.cos(math.radians(one["angle_deg"])), math.sin(math.radians(one["angle_deg"]))
    u = np.linspace(0, one["length_mm"], 25)[:, None]
    v = np.linspace(-one["width_mm"] / 2, one["width_mm"] / 2, 25)[None, :]
    if one["kind"] == "vice":  # the other jaw, across its opening
        u = np.concatenate([u, -one["opens_mm"] - u])
    return np.column_stack([(one["x_mm"] + u * c - v * s).ravel(), (one["y_mm"] + u * s + v * c).ravel()]), 0.0


def _least_distance(body: np.ndarray, a: np.ndarray, b: np.ndarray) -> float:
    """Return the least plan distance between points [m, 2] and segments a-b [n, 2]."""
    d = b - a
    length2 = np.maximum((d**2).sum(1), 1e-18)[:, None]
    p = body[None, :, :] - a[:, None, :]
    t = np.clip((p * d[:, None, :]).sum(2) / length2, 0, 1)[:, :, None]
    return float(np.sqrt(((p - t * d[:, None, :]) ** 2).sum(2)).min())


def _travel(told: Told, machine: dict, program: dict, bit: dict, points: np.ndarray) -> None:
    low = np.array(program["stock_box_mm"]["min"])
    on_bed = points - low + [*program["blank_on_bed_mm"], 0.0]
    top = machine["nut_clear_mm"] - bit["stickout_mm"]
    limits = [(0.0, machine["travel_mm"][0]), (0.0, machine["travel_mm"][1]), (top - machine["travel_mm"][2], top)]
    for k, (least, most) in enumerate(limits):
        over = max(float(least - on_bed[:, k].min()), float(on_bed[:, k].max() - most))
        if over > 1e-3:
            told.say("travel.outside", over)


def _loose(told: Told, wood: Field, hardware: list[dict]) -> None:
    labels, count = ndimage.label(wood.top > wood.bottom)
    held = set()
    xs, ys = np.meshgrid(wood.x, wood.y)
    for one in hardware:
        if one["kind"] == "screw":
            touched = np.hypot(xs - one["x_mm"], ys - one["y_mm"]) <= one["head_diameter_mm"] / 2 + 0.5
        elif one["kind"] in ("tape", "vacuum"):
            c, s = math.cos(math.radians(one["angle_deg"])), math.sin(math.radians(one["angle_deg"]))
            u, v = (xs - one["x_mm"]) * c + (ys - one["y_mm"]) * s, -(xs - one["x_mm"]) * s + (ys - one["y_mm"]) * c
            touched = (np.abs(u) < one["length_mm"] / 2) & (np.abs(v) < one["width_mm"] / 2)
        else:
            c, s = math.cos(math.radians(one["angle_deg"])), math.sin(math.radians(one["angle_deg"]))
            u, v = (xs - one["x_mm"]) * c + (ys - one["y_mm"]) * s, -(xs - one["x_mm"]) * s + (ys - one["y_mm"]) * c
            touched = (u > -0.8) & (u < one["length_mm"]) & (np.abs(v) < one["width_mm"] / 2)
        held |= set(np.unique(labels[touched])) - {0}
    for piece in range(1, count + 1):
        area = float((labels == piece).sum()) * CELL_MM**2
        if piece not in held and area >= 30.0:
            told.loose_mm2.append(area)
            told.say("piece.freed", area)


def compare_wood(folder: Path, setup: str, wood: Field) -> float:
    """Return the greatest difference to the wood pictures, at cells whose neighbourhood is level in both."""
    about = json.loads((folder / "wood" / f"{setup}.json").read_text())
    columns = np.clip(np.rint((wood.x - about["x0_mm"]) / about["cell_mm"]).astype(int), 0, about["nx"] - 1)
    rows = np.clip(np.rint((wood.y - about["y0_mm"]) / about["cell_mm"]).astype(int), 0, about["ny"] - 1)
    worst = 0.0
    gone = wood.top <= wood.bottom
    holes = np.asarray(Image.open(folder / "wood" / f"{setup}_through.png"))[np.ix_(rows, columns)] > 0
    for face, ours in (("top", wood.top), ("bottom", wood.bottom)):
        picture = np.asarray(Image.open(folder / "wood" / f"{setup}_{face}.png")).astype(float) * about["z_scale_mm"] + about["z_offset_mm"]
        at = np.meshgrid((wood.y - about["y0_mm"]) / about["cell_mm"], (wood.x - about["x0_mm"]) / about["cell_mm"], indexing="ij")
        theirs = ndimage.map_coordinates(picture, at, order=1, mode="nearest")  # between their cells, so that a slope is no difference
        nowhere = about["z_offset_mm"] - 100  # not the level of a face, or the edge of a hole would pass for level
        ours, theirs = np.where(gone, nowhere, ours), np.where(holes, nowhere, theirs)
        rough = np.zeros(ours.shape, bool)
        for surface in (ours, theirs):
            rough |= ndimage.maximum_filter(surface, 5) - ndimage.minimum_filter(surface, 5) > 0.3
        worst = max(worst, float(np.abs(ours - theirs)[~rough].max()))
    return worst
