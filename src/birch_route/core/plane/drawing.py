"""From the strokes of a drawing to closed curves: scaled, cleaned, joined, judged. What was changed is written down."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
import shapely
from pydantic import ValidationError
from scipy.spatial import cKDTree
from shapely.geometry import Polygon

from ..errors import GeometryError
from .curves import Path, flatten
from .regions import crossing_of

Point = tuple[float, float]
LOOK_MM = 0.01  # how finely a loop is flattened to judge it
MOST_CHANGES = 400
SAME_MM = 0.02  # runs nearer to one another than this were drawn twice
THIN_FROM, THIN_MM = 2000, 0.004
TINY_MM = 0.01  # shorter than this is no segment


@dataclass
class Stroke:
    """One run of segments as a drawing holds it, open or closed. Segments as in Path, in the drawing's units."""

    layer: str
    start: Point
    segments: list[tuple]

    @property
    def end(self) -> Point:
        return end_of(self.segments[-1])

    def reversed(self) -> Stroke:
        """Return the same run the other way."""
        points = [self.start, *(end_of(s) for s in self.segments)]
        segments = []
        for segment, to in zip(reversed(self.segments), reversed(points[:-1]), strict=True):
            if segment[0] == "arc":
                segments.append(("arc", *to, -segment[3]))
            elif segment[0] == "cubic":
                segments.append(("cubic", *segment[3:5], *segment[1:3], *to))
            else:
                segments.append(("line", *to))
        return Stroke(self.layer, points[-1], segments)


@dataclass(frozen=True)
class Change:
    """Something that was changed or left out on the way in."""

    what: str  # joined, duplicate, tiny, open, skipped
    words: str
    x_mm: float = 0.0
    y_mm: float = 0.0
    amount_mm: float = 0.0


@dataclass(frozen=True)
class Loop:
    """A closed curve. crossing: where it crosses itself, or None."""

    path: Path
    layer: str
    area_mm2: float
    bounds_mm: tuple[float, float, float, float]
    crossing: Point | None


@dataclass(frozen=True)
class Drawing:
    """Closed curves, largest first, and what was changed."""

    loops: list[Loop]
    changes: list[Change] = field(default_factory=list)
    open_runs: int = 0


def end_of(segment: tuple) -> Point:
    """Return where a segment ends."""
    return (segment[1], segment[2]) if segment[0] == "arc" else (segment[-2], segment[-1])


def close_strokes(strokes: list[Stroke], scale_mm: float, join_mm: float) -> Drawing:
    """Return the closed curves of a drawing.

    Args:
        strokes: as read, in the drawing's units, y upwards.
        scale_mm: mm per unit.
        join_mm: open ends nearer than this are joined.

    Tiny segments and runs drawn twice are dropped; ends are joined nearest first; every change is listed with its place.
    """
    changes: list[Change] = []
    runs = [r for r in (_cleaned(_thinned(_scaled(s, scale_mm), changes), changes) for s in strokes) if r is not None]
    runs = _without_duplicates(runs, changes)
    closed = [r for r in runs if math.dist(r.start, r.end) <= TINY_MM]
    chains = _joined([r for r in runs if math.dist(r.start, r.end) > TINY_MM], join_mm, changes)
    still_open = 0
    for run in chains:
        gap = math.dist(run.start, run.end)
        if gap <= join_mm:
            if gap > TINY_MM:
                changes.append(Change("joined", f"Closed a gap of {gap:.3f}.", *run.start, gap))
            closed.append(run)
        else:
            still_open += 1
            changes.append(Change("open", f"An open line ends here; its ends are {gap:.1f} apart.", *run.end, gap))
    loops = [_loop(_thinned(r, changes), changes) for r in closed]
    kept = sorted((one for one in loops if one is not None), key=lambda one: -one.area_mm2)
    return Drawing(kept, changes[:MOST_CHANGES], still_open)


def _scaled(stroke: Stroke, scale: float) -> Stroke:
    if scale == 1.0:
        return stroke
    segments = [(s[0], s[1] * scale, s[2] * scale, s[3]) if s[0] == "arc" else (s[0], *(v * scale for v in s[1:])) for s in stroke.segments]
    return Stroke(stroke.layer, (stroke.start[0] * scale, stroke.start[1] * scale), segments)


def _cleaned(stroke: Stroke, changes: list[Change]) -> Stroke | None:
    """Drop what has no length; an arc that is all but straight or tiny becomes a line."""
    at, segments = stroke.start, []
    for segment in stroke.segments:
        to = end_of(segment)
        chord = math.dist(at, to)
        if segment[0] == "cubic":
            length = max(chord, math.dist(at, segment[1:3]), math.dist(segment[1:3], segment[3:5]))
        else:
            length = chord
        if length < TINY_MM:
            if length > 1e-9 and segments:
                changes.append(Change("tiny", f"Dropped a segment {length:.4f} long.", *to, length))
            continue
        if segment[0] == "arc" and abs(segment[3]) * chord / 2 < 1e-4:  # its sagitta
            segment = ("line", *to)
        segments.append(segment)
        at = to
    return Stroke(stroke.layer, stroke.start, segments) if segments else None


def _middle(stroke: Stroke) -> Point:
    """Return a place that tells runs apart that share their ends; the same for a run drawn backwards."""
    points = [stroke.start, *(end_of(s) for s in stroke.segments)]
    points += [p for s in stroke.segments if s[0] == "cubic" for p in (s[1:3], s[3:5])]
    bulges = sum(abs(s[3]) for s in stroke.segments if s[0] == "arc")
    return sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points) + bulges


def _without_duplicates(runs: list[Stroke], changes: list[Change]) -> list[Stroke]:
    """Drop runs that lie on another within SAME_MM, whichever way they were drawn; the first of them stays."""
    if len(runs) < 2:
        return runs
    marks = np.empty((len(runs), 7))
    for k, run in enumerate(runs):
        (ax, ay), (bx, by) = run.start, run.end
        dx, dy = bx - ax, by - ay
        marks[k] = ax + bx, ay + by, abs(dx), abs(dy), dx * dy / max(math.hypot(dx, dy), 1e-9), *_middle(run)
    dropped: set[int] = set()
    for first, second in sorted(map(tuple, cKDTree(marks).query_pairs(SAME_MM, p=math.inf, output_type="ndarray").tolist())):
        if first not in dropped and second not in dropped and len(runs[first].segments) == len(runs[second].segments):
            dropped.add(second)
            changes.append(Change("duplicate", "Dropped a line that was drawn twice.", *runs[second].start))
    return [run for k, run in enumerate(runs) if k not in dropped]


def _joined(runs: list[Stroke], join_mm: float, changes: list[Change]) -> list[Stroke]:
    """Put open runs end to end, nearest ends first; each end is used once."""
    if not runs:
        return []
    ends = np.array([p for r in runs for p in (r.start, r.end)])
    pairs = cKDTree(ends).query_pairs(join_mm, output_type="ndarray")
    if len(pairs):
        gaps = np.hypot(*(ends[pairs[:, 0]] - ends[pairs[:, 1]]).T)
        pairs = pairs[np.argsort(gaps, kind="stable")]
    partner: dict[int, int] = {}
    for a, b in pairs.tolist():
        if a not in partner and b not in partner and a // 2 != b // 2:
            partner[a], partner[b] = b, a
    out, used = [], set()
    for first in [*(k for k in range(len(runs)) if 2 * k not in partner or 2 * k + 1 not in partner), *range(len(runs))]:
        if first in used:
            continue
        enter = 2 * first if 2 * first not in partner else 2 * first + 1 if 2 * first + 1 not in partner else 2 * first
        out.append(_walk(runs, partner, enter, used, changes))
    return out


def _walk(runs: list[Stroke], partner: dict[int, int], enter: int, used: set[int], changes: list[Change]) -> Stroke:
    """Follow joined runs from an end inward until an end that is not joined, or back to the first."""
    start, segments, layer = None, [], runs[enter // 2].layer
    while enter // 2 not in used:
        used.add(enter // 2)
        run = runs[enter // 2] if enter % 2 == 0 else runs[enter // 2].reversed()
        if start is None:
            start = run.start
        else:
            gap = math.dist(end_of(segments[-1]), run.start)
            if gap > TINY_MM:
                changes.append(Change("joined", f"Joined two ends that lay {gap:.3f} apart.", *run.start, gap))
        segments += run.segments
        leave = enter ^ 1
        if leave not in partner:
            break
        enter = partner[leave]
    assert start is not None
    return Stroke(layer, start, segments)


def _thinned(run: Stroke, changes: list[Change]) -> Stroke:
    """Thin long runs of short lines, as plotters and tracers leave them; arcs and curves stay."""
    if len(run.segments) <= THIN_FROM:
        return run
    segments: list[tuple] = []
    line: list[Point] = [run.start]
    for segment in [*run.segments, None]:
        if segment is not None and segment[0] == "line":
            line.append(end_of(segment))
            continue
        if len(line) > 1:
            kept = np.asarray(shapely.simplify(shapely.LineString(line), THIN_MM, preserve_topology=False).coords)
            segments += [("line", float(x), float(y)) for x, y in kept[1:]]
        if segment is not None:
            segments.append(segment)
            line = [end_of(segment)]
    changes.append(Change("thinned", f"Thinned {len(run.segments):,} short lines to {len(segments):,}, within {THIN_MM} mm.", *run.start))
    return Stroke(run.layer, run.start, segments)


def _loop(run: Stroke, changes: list[Change]) -> Loop | None:
    segments = list(run.segments)
    last = segments[-1]
    if last[0] == "arc":  # the last segment ends at the start, exactly
        segments[-1] = ("arc", *run.start, last[3])
    elif last[0] == "cubic":
        segments[-1] = ("cubic", *last[1:5], *run.start)
    else:
        segments[-1] = ("line", *run.start)
    try:
        path = Path(start=run.start, segments=segments)
        points = flatten(path, LOOK_MM)
    except ValidationError:
        changes.append(Change("skipped", "Left out a curve that reaches beyond 5 m or has too many segments. Check the unit.", *run.start))
        return None
    except GeometryError:  # too few points to hold anything
        return None
    polygon = Polygon(points)
    crossing = crossing_of(polygon)
    area = abs(float(shapely.area(polygon if crossing is None else shapely.make_valid(polygon))))  # a figure of eight has no area of its own
    if area < 0.05:
        return None
    return Loop(path, run.layer, area, tuple(float(v) for v in polygon.bounds), crossing)  # type: ignore[arg-type]
