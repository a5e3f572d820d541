"""How close bit and collet nut come to hardware, over every move of a path."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Point, Polygon

from ..bits.model import Bit
from ..heights.field import Grid, Wood, cut_path
from ..motion.toolpath import Toolpath
from ..plane.regions import buffer_round
from ..route import Blank, Hardware
from ..vocabulary import BitForm, HardwareKind


@dataclass(frozen=True)
class Approach:
    """The closest a path comes to one piece of hardware while low enough to touch it. gap_mm below 0: it hits."""

    gap_mm: float
    by: str  # "bit", "collet nut", "spindle nose" or "dust shoe"
    move: int
    x_mm: float
    y_mm: float
    z_mm: float


@lru_cache(maxsize=512)
def footprint(hardware: Hardware) -> Polygon | MultiPolygon:
    """Return the area hardware covers, piece's frame. A block starts at its place and reaches along angle_deg; what lies under the blank, or over it, lies about its place; a vice has two jaws."""
    if hardware.is_round:
        return buffer_round(Point(hardware.x_mm, hardware.y_mm), hardware.head_diameter_mm / 2)
    c, s = math.cos(math.radians(hardware.angle_deg)), math.sin(math.radians(hardware.angle_deg))
    half = hardware.width_mm / 2
    start = -hardware.length_mm / 2 if hardware.is_about else 0.0
    end = start + hardware.length_mm

    def block(a: float, b: float) -> Polygon:
        return Polygon([(hardware.x_mm + u * c - v * s, hardware.y_mm + u * s + v * c) for u, v in ((a, -half), (b, -half), (b, half), (a, half))])
    if hardware.kind is HardwareKind.VICE:
        return MultiPolygon([block(start, end), block(-hardware.opens_mm - hardware.length_mm, -hardware.opens_mm)])
    return block(start, end)


def closest_approaches(path: Toolpath, bit: Bit, nut_diameter_mm: float, hardware: list[Hardware], blank_top_mm: float, heads: Sequence[tuple[str, float, float]] = ()) -> list[Approach | None]:
    """Return the closest approach of a path to each piece of hardware; None where everything passes above it or far away.

    The bit is taken as a cylinder of its greater diameter from the tip up, the collet nut as one from its face up, and so are `heads` (Machine.heads);
    each is lower than the hardware's top where it counts.
    """
    tops = [-math.inf if h.lies_under else blank_top_mm + h.top_mm for h in hardware]
    best: list[Approach | None] = [None] * len(hardware)
    if not hardware or not len(path):
        return best
    low = np.minimum(path.points[:-1, 2], path.points[1:, 2])
    widest = max(bit.reach_mm, bit.shank_diameter_mm / 2)
    for radius, height, name in ((widest, 0.0, "bit"), (nut_diameter_mm / 2, bit.stickout_mm, "collet nut"), *((r, bit.stickout_mm + up, name) for name, r, up in heads)):
        moves = np.flatnonzero(low + height < max(tops) - 1e-9)
        if not len(moves):
            continue
        a, b = path.points[moves, :2], path.points[moves + 1, :2]
        least, most = np.minimum(a, b), np.maximum(a, b)
        for k, (one, top) in enumerate(zip(hardware, tops, strict=True)):
            shape = footprint(one)
            xmin, ymin, xmax, ymax = shape.bounds
            reach = radius + LOOK_MM
            near = np.flatnonzero((most[:, 0] > xmin - reach) & (least[:, 0] < xmax + reach) & (most[:, 1] > ymin - reach) & (least[:, 1] < ymax + reach))
            near = near[low[moves[near]] + height < top - 1e-9]
            if not len(near):
                continue
            shapely.prepare(shape)
            lines = shapely.linestrings(np.stack([a[near], b[near]], axis=1))
            gaps = shapely.distance(lines, shape) - radius
            worst, found = int(np.argmin(gaps)), best[k]
            if found is None or gaps[worst] < found.gap_mm:
                spot, move = shapely.shortest_line(lines[worst], shape).coords[0], int(moves[near[worst]])
                best[k] = Approach(float(gaps[worst]), name, move, spot[0], spot[1], float(low[move]))
    return best


LOOK_MM = 40.0  # nothing farther than this from the hardware is measured
NO_GO_CELL_MM = 2.0
NO_GO_BORDER_MM = 80.0


def _make(_key: str, make: Callable[[], np.ndarray]) -> np.ndarray:
    return make()


def no_go_heights(paths: list[tuple[Toolpath, Bit, str]], nut_diameter_mm: float, blank: Blank, clearance_mm: float,
                  keep: Callable[[str, Callable[[], np.ndarray]], np.ndarray] = _make, heads: Sequence[tuple[str, float, float]] = (), up_to_mm: float = 500.0) -> Wood:
    """Return, over the blank and NO_GO_BORDER_MM around it, the lowest z at which bit, collet nut or `heads` (Machine.heads) pass within a clearance.

    The no-go zone of hardware with its top at z is where the returned top lies below z. Made by cutting a block that
    is higher than everything with bits widened by the clearance.

    Args:
        paths: each with its bit and the key of its motion.
        keep: gives back what was computed for a key before, or computes it.
        up_to_mm: nothing is asked about what stands higher than this z; what passes above it may be left out.
    """
    grid = Grid.over(blank.x_mm - NO_GO_BORDER_MM, blank.y_mm - NO_GO_BORDER_MM, blank.x_mm + blank.length_mm + NO_GO_BORDER_MM,
                     blank.y_mm + blank.width_mm + NO_GO_BORDER_MM, NO_GO_CELL_MM)
    high = 500.0
    lowest = Wood.block(grid, high, -500.0)
    for path, bit, key in paths:
        label = f"no go {key} {nut_diameter_mm} {heads} {clearance_mm} {up_to_mm} {blank.model_dump_json()}"
        np.minimum(lowest.top, keep(label, lambda path=path, bit=bit: _swept_lowest(grid, high, path, bit, nut_diameter_mm, clearance_mm, heads, up_to_mm)), out=lowest.top)
    return lowest


def _swept_lowest(grid: Grid, high: float, path: Toolpath, bit: Bit, nut_diameter_mm: float, clearance_mm: float, heads: Sequence[tuple[str, float, float]], up_to_mm: float) -> np.ndarray:
    """Return the lowest z of bit, nut or heads over each cell for one path, float32 [ny, nx]."""
    lowest = Wood.block(grid, high, -500.0)
    above = [(r, bit.stickout_mm + up) for _, r, up in heads]
    widest = max(bit.reach_mm, bit.shank_diameter_mm / 2)
    for radius, height in ((widest, 0.0), (nut_diameter_mm / 2, bit.stickout_mm), *above):
        if len(path) and float(path.points[:, 2].min()) + height >= up_to_mm:
            continue
        wide = Bit(id="no_go", name="no go", form=BitForm.FLAT, diameter_mm=2 * (radius + clearance_mm), cutting_length_mm=500, shank_diameter_mm=1, stickout_mm=500)
        raised = Toolpath(path.points + [0.0, 0.0, height], np.zeros_like(path.kinds) + 3, path.feeds)
        cut_path(lowest, raised, wide, 1.0, high)
    return lowest.top
