"""From boards to a blank: jointing loss, glue lines, what a plank yields, and what defects in the wood mean."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from shapely.geometry import Point, Polygon

from ..data import figures
from ..errors import InputError
from ..instrument.resolve import Resolved
from ..quantities import mm


@dataclass(frozen=True)
class GlueUp:
    """Boards side by side across y. strips: y from and to of each board after jointing, piece's frame; lines: the glue lines."""

    width_mm: float
    strips: list[tuple[float, float]]
    lines: list[float]
    short_mm: float  # what is missing to the blank's width, 0 where it suffices


def glue_up(widths_mm: list[float], loss_mm: float, blank_y_mm: float, blank_width_mm: float) -> GlueUp:
    """Return how boards lie in a blank once their edges are jointed.

    Args:
        widths_mm: rough widths, from the blank's lower edge up. loss_mm: lost at each jointed edge; outer edges lose nothing.
        blank_y_mm, blank_width_mm: where the blank lies; what the boards have more is left over on both sides alike.

    Source: sum of widths less the loss at every edge that is glued.

    Raises:
        InputError: no board, or one that jointing uses up.
    """
    if not widths_mm:
        raise InputError("A blank needs at least one board.", where="blank.planks")
    inner = len(widths_mm) - 1
    left = [w - loss_mm * ((k > 0) + (k < inner)) for k, w in enumerate(widths_mm)]
    for k, width in enumerate(left):
        if width <= 0:
            raise InputError(
                f"Board {k + 1} is {mm(widths_mm[k]):.1f} wide and is gone once its edges are jointed.",
                where="blank.planks",
            )
    total = sum(left)
    y = blank_y_mm + (blank_width_mm - total) / 2
    strips = []
    for width in left:
        strips.append((y, y + width))
        y += width
    return GlueUp(total, strips, [s[1] for s in strips[:-1]], max(0.0, blank_width_mm - total))


@dataclass(frozen=True)
class Cut:
    """One piece of a plank: its corner and size on the plank, mm."""

    what: str
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float


@dataclass(frozen=True)
class Yield:
    """What a plank gives: the cuts, how many of each, and the part of it that is used."""

    cuts: list[Cut]
    counts: dict[str, int]
    used: float


def plank_yield(length_mm: float, width_mm: float, wanted: list[tuple[str, float, float, int]], kerf_mm: float, end_mm: float) -> Yield:
    """Return how pieces are sawn from a plank, in shelves across its width, the widest first.

    Args:
        wanted: (what, length, width, how many at most); lengths lie along the plank's grain.
        kerf_mm: of the saw. end_mm: lost at each end of the plank.

    Greedy: each shelf takes the width of its first piece, then what still fits beside it. Not always the best, never wrong.

    Raises:
        InputError: sizes that are not above zero.
    """
    if min(length_mm, width_mm) <= 0 or kerf_mm < 0 or end_mm < 0 or any(a <= 0 or b <= 0 for _, a, b, _ in wanted):
        raise InputError("Plank and pieces must have sizes above zero.", where="plank")
    left = {what: most for what, _, _, most in wanted}
    by_width = sorted(wanted, key=lambda w: (-w[2], -w[1]))
    cuts: list[Cut] = []
    y = 0.0
    while True:
        first = next((w for w in by_width if left[w[0]] > 0 and y + w[2] <= width_mm + 1e-9 and w[1] <= length_mm - 2 * end_mm + 1e-9), None)
        if first is None:
            break
        x, shelf = end_mm, first[2]
        for what, long, wide, _ in by_width:
            while wide <= shelf + 1e-9 and left[what] > 0 and x + long <= length_mm - end_mm + 1e-9:
                cuts.append(Cut(what, x, y, long, wide))
                left[what] -= 1
                x += long + kerf_mm
        y += shelf + kerf_mm
    counts: dict[str, int] = {}
    for cut in cuts:
        counts[cut.what] = counts.get(cut.what, 0) + 1
    return Yield(cuts, counts, sum(c.length_mm * c.width_mm for c in cuts) / (length_mm * width_mm))


class Verdict(StrEnum):
    """What a flaw in the wood means for this piece."""

    CUT_AWAY = "cut_away"
    HIDDEN = "hidden"
    SHOWS = "shows"
    STRUCTURAL = "structural"


@dataclass(frozen=True)
class Judged:
    """A flaw with its verdict and the feature that decides it."""

    defect: str
    verdict: Verdict
    by: str
    x_mm: float
    y_mm: float


def judge_defect(defect_id: str, x_mm: float, y_mm: float, radius_mm: float, top_mm: float, deep_mm: float, resolved: Resolved, thickness_mm: float) -> Judged:
    """Return what a knot or crack means.

    Args:
        radius_mm: how far it reaches in plan. top_mm: its upper end below the finished face (at or below 0: it reaches the face).
        deep_mm: its lower end below the face; at the thickness it reaches the back.

    A flaw outside the outline, or wholly inside wood that is removed, is cut away. One within figures.flaws.near_joint_mm of a neck pocket,
    a post hole or a screw hole that leaves wood there is structural. Of the rest, one that reaches a face or a cut surface shows.
    """
    spot = Point(x_mm, y_mm).buffer(max(radius_mm, 0.5))
    if not resolved.outline.intersects(spot):
        return Judged(defect_id, Verdict.CUT_AWAY, "outside the outline", x_mm, y_mm)
    inside = spot.intersection(resolved.outline)
    for solid in resolved.solids.values():
        low, high = solid.span_mm(thickness_mm)
        if solid.kind != "outline" and -low >= deep_mm - 1e-9 and (high >= -top_mm - 1e-9 or high >= 0.0) and solid.region.covers(inside):
            return Judged(defect_id, Verdict.CUT_AWAY, solid.name, x_mm, y_mm)
    for solid in resolved.solids.values():
        loaded = solid.must_be_measured or (solid.kind == "hole" and solid.floor_mm is None)
        if loaded and solid.region.distance(spot) <= figures()["flaws"]["near_joint_mm"]:
            return Judged(defect_id, Verdict.STRUCTURAL, solid.name, x_mm, y_mm)
    touched = [s.name for s in resolved.solids.values()
               if s.kind != "outline" and s.region.intersects(spot) and s.span_mm(thickness_mm)[0] <= -top_mm and s.span_mm(thickness_mm)[1] >= -deep_mm]
    if top_mm <= 0.01 or deep_mm >= thickness_mm - 0.01 or touched or not _inside(resolved.outline, spot):
        return Judged(defect_id, Verdict.SHOWS, touched[0] if touched else "a face", x_mm, y_mm)
    return Judged(defect_id, Verdict.HIDDEN, "inside the wood", x_mm, y_mm)


def _inside(outline: Polygon, spot: Polygon) -> bool:
    return outline.contains(spot)


@dataclass(frozen=True)
class Flatness:
    """What several thickness readings say."""

    least_mm: float
    most_mm: float
    mean_mm: float

    @property
    def spread_mm(self) -> float:
        return self.most_mm - self.least_mm


def flatness(readings_mm: list[float]) -> Flatness | None:
    """Return least, most and mean of a blank's thickness readings, None without any."""
    if not readings_mm or not all(math.isfinite(v) for v in readings_mm):
        return None
    return Flatness(min(readings_mm), max(readings_mm), sum(readings_mm) / len(readings_mm))
