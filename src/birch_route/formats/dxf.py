"""DXF drawings in: their lines, arcs and splines as strokes, with the unit the file states, if it states one."""

from __future__ import annotations

import io
import math
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from typing import Any

import ezdxf
import ezdxf.path
from ezdxf import recover
from ezdxf.document import Drawing as DxfDocument
from ezdxf.lldxf.const import DXFError

from ..core.errors import InputError
from ..core.plane.drawing import Change, Stroke
from .drawing_file import MOST_CONTROL_POINTS, MOST_SEGMENTS, RawDrawing

_MM_PER_UNIT = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: 25.4e-6, 9: 0.0254, 10: 914.4, 13: 0.001, 14: 100.0}  # $INSUNITS, DXF reference
_IGNORED = {"TEXT", "MTEXT", "DIMENSION", "LEADER", "HATCH", "POINT", "VIEWPORT", "ATTDEF", "IMAGE", "ARC_DIMENSION", "MULTILEADER"}
DEEPEST_INSERT = 8


def read_dxf(data: bytes, name: str, progress: Callable[[float], None]) -> RawDrawing:
    """Read a DXF drawing.

    Args:
        data: the whole file.
        progress: called with the part done, 0 to 1; may raise to stop.

    Raises:
        InputError: not a DXF file, damaged beyond reading, or larger than what is read.
    """
    document = _open(data, name)
    progress(0.3)
    factor = _MM_PER_UNIT.get(int(document.header.get("$INSUNITS", 0)))
    strokes: list[Stroke] = []
    skipped: Counter[str] = Counter()
    segments = 0
    entities = list(document.modelspace())
    for number, entity in enumerate(entities):
        if number % 500 == 0:
            progress(0.3 + 0.6 * number / max(1, len(entities)))
        for stroke in _strokes(entity, skipped, 0):
            segments += len(stroke.segments)
            if segments > MOST_SEGMENTS:
                raise InputError(f"{name} holds more than {MOST_SEGMENTS:,} segments, the most that is read.", where=name)
            strokes.append(stroke)
    changes = [Change("skipped", f"Left out {count} × {kind.lower()}: not a line that could be cut.") for kind, count in skipped.most_common(12)]
    return RawDrawing(strokes, factor, changes)


def _open(data: bytes, name: str) -> DxfDocument:
    head = data[:2048].lstrip()
    if not (head.startswith((b"0", b"999")) or b"Binary DXF" in head[:32] or b"SECTION" in head):
        raise InputError(f"{name} is not a DXF drawing: it does not begin like one.", where=name)
    try:
        if b"Binary DXF" in head[:32]:
            return _open_binary(data)
        try:
            return ezdxf.read(io.TextIOWrapper(io.BytesIO(data), encoding="utf-8", errors="surrogateescape"))
        except (DXFError, ValueError, KeyError, IndexError, TypeError, AttributeError):
            document, audit = recover.read(io.BytesIO(data))  # slower, and forgives more
    except (DXFError, OSError, ValueError, KeyError, IndexError, UnicodeError, TypeError, AttributeError) as exc:
        raise InputError(f"{name} could not be read as a DXF drawing; it may be damaged or cut short ({str(exc)[:120] or type(exc).__name__}).", where=name) from exc
    if audit.has_errors and not len(document.modelspace()):
        raise InputError(f"{name} is damaged: {len(audit.errors)} faults, and nothing of it could be kept.", where=name)
    return document


def _open_binary(data: bytes) -> DxfDocument:
    """Open the binary form, which the library reads from a file only."""
    with tempfile.NamedTemporaryFile(suffix=".dxf") as kept:
        kept.write(data)
        kept.flush()
        return ezdxf.readfile(kept.name)


def _strokes(entity: Any, skipped: Counter[str], depth: int) -> Iterator[Stroke]:
    kind, layer = entity.dxftype(), str(entity.dxf.get("layer", "0"))
    flat = tuple(entity.dxf.get("extrusion", (0, 0, 1)))[2] > 0.999 if entity.dxf.is_supported("extrusion") else True
    try:
        if kind == "LINE":
            a, b = entity.dxf.start, entity.dxf.end
            yield Stroke(layer, (a.x, a.y), [("line", b.x, b.y)])
        elif kind == "ARC" and flat:
            yield _arc(layer, entity.dxf.center, entity.dxf.radius, entity.dxf.start_angle, entity.dxf.end_angle)
        elif kind == "CIRCLE" and flat:
            c, r = entity.dxf.center, entity.dxf.radius
            yield Stroke(layer, (c.x + r, c.y), [("arc", c.x - r, c.y, 1.0), ("arc", c.x + r, c.y, 1.0)])
        elif kind == "LWPOLYLINE" and flat:
            yield from _polyline(layer, [(x, y, b) for x, y, b in entity.get_points("xyb")], bool(entity.closed))
        elif kind == "POLYLINE" and flat and entity.is_2d_polyline:
            yield from _polyline(layer, [(v.dxf.location.x, v.dxf.location.y, v.dxf.get("bulge", 0.0)) for v in entity.vertices], bool(entity.is_closed))
        elif kind == "INSERT":
            if depth >= DEEPEST_INSERT:
                skipped["block nested too deep"] += 1
                return
            for inner in entity.virtual_entities():
                yield from _strokes(inner, skipped, depth + 1)
        elif kind in _IGNORED:
            skipped[kind] += 1
        elif kind == "SPLINE" and len(entity.control_points) > MOST_CONTROL_POINTS:
            raise InputError(f"A spline on layer {layer} has {len(entity.control_points):,} control points; at most {MOST_CONTROL_POINTS:,} are read.", where=layer)
        else:
            yield from _as_path(entity, layer)
    except (TypeError, ValueError, DXFError, AttributeError, ZeroDivisionError):
        skipped[kind] += 1


def _arc(layer: str, centre: Any, radius: float, first_deg: float, last_deg: float) -> Stroke:
    sweep = math.radians((last_deg - first_deg) % 360.0 or 360.0)
    pieces = 1 if sweep <= math.pi else 2
    angle, segments = math.radians(first_deg), []
    start = (centre.x + radius * math.cos(angle), centre.y + radius * math.sin(angle))
    for _ in range(pieces):
        angle += sweep / pieces
        segments.append(("arc", centre.x + radius * math.cos(angle), centre.y + radius * math.sin(angle), math.tan(sweep / pieces / 4)))
    return Stroke(layer, start, segments)


def _polyline(layer: str, points: list[tuple[float, float, float]], is_closed: bool) -> Iterator[Stroke]:
    if len(points) < 2:
        return
    ends = [*points[1:], points[0]] if is_closed else points[1:]
    segments = [("arc", x, y, bulge) if abs(bulge) > 1e-9 else ("line", x, y) for (_, _, bulge), (x, y, _) in zip(points, ends, strict=False)]
    yield Stroke(layer, points[0][:2], segments)


def _as_path(entity: Any, layer: str) -> Iterator[Stroke]:
    """Return splines, ellipses and everything else that has a path as cubic curves."""
    whole = ezdxf.path.make_path(entity)
    for part in whole.sub_paths():
        segments: list[tuple] = []
        at = part.start
        for command in part.commands():
            if command.type == ezdxf.path.Command.LINE_TO:
                segments.append(("line", command.end.x, command.end.y))
            elif command.type == ezdxf.path.Command.CURVE4_TO:
                segments.append(("cubic", command.ctrl1.x, command.ctrl1.y, command.ctrl2.x, command.ctrl2.y, command.end.x, command.end.y))
            elif command.type == ezdxf.path.Command.CURVE3_TO:
                c, e = command.ctrl, command.end
                segments.append(("cubic", at.x + 2 / 3 * (c.x - at.x), at.y + 2 / 3 * (c.y - at.y), e.x + 2 / 3 * (c.x - e.x), e.y + 2 / 3 * (c.y - e.y), e.x, e.y))
            at = command.end
        if segments:
            yield Stroke(layer, (part.start.x, part.start.y), segments)
