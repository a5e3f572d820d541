"""Drawings in, whatever their format: what is read, in which unit, and how large it may be."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

from ..core.errors import InputError
from ..core.plane.drawing import Change, Drawing, Stroke, close_strokes, end_of

LARGEST_DRAWING_BYTES = 24_000_000
MOST_SEGMENTS = 2_000_000
MOST_CONTROL_POINTS = 20_000
MOST_LOOPS = 400  # shown; the largest
UNITS = {"mm": 1.0, "inch": 25.4, "cm": 10.0, "pt": 25.4 / 72, "px": 25.4 / 96}
Progress = Callable[[float], None]


@dataclass
class RawDrawing:
    """Strokes in the drawing's units, y upwards. mm_per_unit is None where the file does not say."""

    strokes: list[Stroke]
    mm_per_unit: float | None
    changes: list[Change] = field(default_factory=list)


def read_drawing(data: bytes, name: str, unit: str | None, join_mm: float, progress: Progress = lambda _: None, scan: str | None = None) -> dict[str, Any]:
    """Read a drawing and return its closed curves as plain data.

    Args:
        data: the file. name: what it is called; its ending tells the format.
        unit: what one unit means, a key of UNITS; None takes what the file states.
        join_mm: open ends nearer than this are joined, mm.
        progress: called with the part done; may raise to stop.
        scan: two points and their distance, for a picture (Scale.read).

    Returns:
        needs_scale for a picture without them; needs_unit (with the size in each unit) where the file does not state one; else loops, layers, changes, size.

    Raises:
        InputError: too large, not a drawing, damaged, nothing in it, an unknown unit.
    """
    if len(data) > LARGEST_DRAWING_BYTES:
        raise InputError(f"{name} is larger than {LARGEST_DRAWING_BYTES // 1_000_000} MB, the most that is read. Save only the outline and its pockets.", where=name)
    if unit is not None and unit not in UNITS:
        raise InputError(f"“{unit}” is not a unit known here. Use {', '.join(UNITS)}.", where="unit")
    from .scan import Scale, is_picture, read_scan

    if is_picture(data):
        return read_scan(data, name, Scale.read(scan) if scan else None)
    with _collector_resting():
        raw = _reader(data, name)(data, name, progress)
    if not raw.strokes:
        left_out = " ".join(c.words for c in raw.changes[:3])
        raise InputError(f"{name} holds no line, arc or curve. {left_out}".strip(), where=name)
    scale = UNITS[unit] if unit else raw.mm_per_unit
    if scale is None:
        ends = [p for s in raw.strokes for p in (s.start, *map(end_of, s.segments))]
        xs, ys = zip(*ends, strict=True)
        long, wide = max(xs) - min(xs), max(ys) - min(ys)
        return {"needs_unit": True, "sizes": {u: [round(long * f, 2), round(wide * f, 2)] for u, f in UNITS.items()}}
    drawing = close_strokes(raw.strokes, scale, join_mm)
    progress(1.0)
    if not drawing.loops:
        large = next((c.words for c in drawing.changes if c.what == "skipped"), "")
        raise InputError(f"{name} holds no closed curve: {drawing.open_runs} open lines. {large} Join their ends, or raise the joining distance above {join_mm:g} mm.", where=name)
    return as_data(drawing, raw.changes)


@contextmanager
def _collector_resting() -> Iterator[None]:
    """A large drawing makes millions of objects that all stay; looking for garbage among them takes as long as reading it."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def as_data(drawing: Drawing, before: list[Change]) -> dict[str, Any]:
    """Return a drawing as plain data for the screen."""
    return {
        "needs_unit": False, "layers": sorted({one.layer for one in drawing.loops}), "open_runs": drawing.open_runs,
        "loops": [{"layer": one.layer, "area_mm2": round(one.area_mm2, 2), "bounds_mm": [round(v, 3) for v in one.bounds_mm],
                   "crossing_mm": one.crossing, "path": one.path.model_dump(mode="json")} for one in drawing.loops[:MOST_LOOPS]],
        "loops_in_all": len(drawing.loops),
        "changes": [{"what": c.what, "words": c.words, "x_mm": round(c.x_mm, 2), "y_mm": round(c.y_mm, 2), "amount_mm": round(c.amount_mm, 4)} for c in [*before, *drawing.changes]],
    }


def _reader(data: bytes, name: str) -> Callable[[bytes, str, Progress], RawDrawing]:
    from .dxf import read_dxf
    from .svg import read_svg

    head = data[:4096].lstrip()
    if not head:
        raise InputError(f"{name} is empty.", where=name)
    if head.startswith(b"<") or b"<svg" in head or head.startswith(b"\xef\xbb\xbf<"):
        return read_svg
    if name.lower().endswith(".svg"):
        raise InputError(f"{name} is not an SVG drawing: it does not begin like one.", where=name)
    return read_dxf
