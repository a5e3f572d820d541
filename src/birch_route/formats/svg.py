"""SVG drawings in: paths and basic shapes as strokes. Entities and outside references are refused before anything is read."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring
from svgelements import Matrix, Path

from ..core.errors import InputError
from ..core.plane.drawing import Change, Stroke
from .drawing_file import MOST_SEGMENTS, Progress, RawDrawing
from .svg_path import Step, path_runs

DEEPEST = 60
MOST_ELEMENTS = 300_000
_LENGTH = re.compile(r"^\s*([0-9.]+(?:[eE][-+]?\d+)?)\s*(mm|cm|in|pt|pc|q|px|%|)\s*$", re.IGNORECASE)
_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "q": 0.25}
_IGNORED = {"text", "image", "foreignObject"}
_SILENT = {"defs", "title", "desc", "metadata", "style", "clipPath", "mask", "marker", "pattern", "symbol", "linearGradient", "radialGradient", "filter", "script", "namedview"}


@dataclass
class _Walk:
    """What the walk over the tree collects."""

    name: str
    progress: Progress
    by_id: dict[str, Element]
    strokes: list[Stroke] = field(default_factory=list)
    skipped: Counter[str] = field(default_factory=Counter)
    segments: int = 0
    elements: int = 0


def read_svg(data: bytes, name: str, progress: Progress) -> RawDrawing:
    """Read an SVG drawing. Its unit counts as stated where width or height are physical lengths.

    Raises:
        InputError: not XML, XML that expands or asks for other files, or larger than what is read.
    """
    try:
        root = fromstring(data)
    except DefusedXmlException as exc:
        raise InputError(f"{name} defines entities or asks for other files; such a file is not read. Save it as plain SVG.", where=name) from exc
    except ParseError as exc:
        line, column = exc.position
        raise InputError(f"{name} stops making sense as SVG at line {line}, column {column}; it may be cut short.", where=name) from exc
    except (ValueError, LookupError) as exc:
        raise InputError(f"{name} is not text that can be read as SVG ({exc}).", where=name) from exc
    if _kind(root) != "svg":
        raise InputError(f"{name} is XML but not an SVG drawing.", where=name)
    progress(0.3)
    walk = _Walk(name, progress, {e.get("id", ""): e for e in root.iter() if e.get("id")})
    if _drawn(walk, root, {}, 0) > MOST_ELEMENTS:
        raise _too_many(name)
    factor = _mm_per_unit(root)
    _element(walk, root, Matrix(1, 0, 0, -1, 0, 0), "drawing", 0)  # SVG's y runs down, ours up
    changes = [Change("skipped", f"Left out {count} × {kind}: not a line that could be cut.") for kind, count in walk.skipped.most_common(12)]
    return RawDrawing(walk.strokes, factor, changes)


def _too_many(name: str) -> InputError:
    words = f"{name} draws more than {MOST_ELEMENTS:,} shapes, uses within uses counted; that is the most that is read."
    return InputError(words, where=name)


def _drawn(walk: _Walk, element: Element, known: dict[int, int], depth: int) -> int:
    """Return how many elements are drawn for one, uses within uses counted, without drawing any: each is counted once.
    What refers to itself, or is nested too deep, counts nothing here; the walk refuses it."""
    if id(element) in known or depth > DEEPEST:
        return known.get(id(element), 0)
    known[id(element)] = 0
    inner = [] if _kind(element) in _SILENT or _kind(element) in _IGNORED else list(element)
    if _kind(element) == "use":
        target = _target(walk, element)
        inner = [] if target is None else [target]
    known[id(element)] = 1 + sum(_drawn(walk, one, known, depth + 1) for one in inner)
    return known[id(element)]


def _target(walk: _Walk, element: Element) -> Element | None:
    """Return what a use refers to."""
    name = next((v for k, v in element.attrib.items() if k.rsplit("}", 1)[-1] == "href"), "")
    return walk.by_id.get(name.lstrip("#"))


def _kind(element: Element) -> str:
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def _mm_per_unit(root: Element) -> float | None:
    """Return mm per user unit where the drawing states a physical size, else None."""
    view = [float(v) for v in re.findall(r"[-+]?[0-9.]+(?:[eE][-+]?\d+)?", root.get("viewBox", ""))]
    for key, index in (("width", 2), ("height", 3)):
        match = _LENGTH.match(root.get(key, ""))
        if match and match[2].lower() in _MM:
            size = float(match[1]) * _MM[match[2].lower()]
            if len(view) == 4 and view[index] > 0:
                return size / view[index]
            return _MM[match[2].lower()] if match[2].lower() == "mm" and not view else 25.4 / 96
    return None


def _element(walk: _Walk, element: Element, matrix: Matrix, layer: str, depth: int) -> None:
    if depth > DEEPEST:
        raise InputError(f"{walk.name} is nested more than {DEEPEST} levels deep.", where=walk.name)
    kind = _kind(element)
    walk.elements += 1
    if walk.elements > MOST_ELEMENTS:
        raise _too_many(walk.name)
    if kind in _SILENT or not kind:
        return
    if kind in _IGNORED:
        walk.skipped[kind] += 1
        return
    if "none" in (element.get("display", ""), ) or re.search(r"display\s*:\s*none", element.get("style", "")):
        walk.skipped["hidden shape"] += 1
        return
    if element.get("transform"):
        try:
            matrix = Matrix(element.get("transform")) * matrix
        except (ValueError, TypeError, IndexError, AttributeError) as exc:
            raise InputError(f"{walk.name}: the transform “{element.get('transform')[:40]}” cannot be read.", where=walk.name) from exc
    if kind in ("g", "svg", "a", "switch"):
        layer = next((v for k, v in element.attrib.items() if k.rsplit("}", 1)[-1] == "label"), element.get("id") or layer)[:60] if kind == "g" else layer
        for child in element:
            _element(walk, child, matrix, layer, depth + 1)
    elif kind == "use":
        target = _target(walk, element)
        if target is not None:
            _element(walk, target, Matrix.translate(_number(element, "x"), _number(element, "y")) * matrix, layer, depth + 1)
    else:
        _shape(walk, element, kind, matrix, layer)


def _shape(walk: _Walk, element: Element, kind: str, matrix: Matrix, layer: str) -> None:
    try:
        runs = list(_runs(element, kind))
    except (ValueError, IndexError, ZeroDivisionError, OverflowError) as exc:
        walk.skipped[f"{kind} that cannot be read"] += 1
        if kind == "path" and len(element.get("d", "")) > 100_000:
            raise InputError(f"{walk.name}: a path cannot be read ({exc}).", where=walk.name) from exc
        return
    for run in runs:
        walk.segments += len(run)
        if walk.segments > MOST_SEGMENTS:
            raise InputError(f"{walk.name} holds more than {MOST_SEGMENTS:,} segments, the most that is read.", where=walk.name)
        if len(run) > 1:
            walk.strokes.append(_stroke(run, matrix, layer))
    if len(walk.strokes) % 200 == 0:
        walk.progress(min(0.9, 0.3 + walk.segments / MOST_SEGMENTS))


def _number(element: Element, key: str, other: float = 0.0) -> float:
    match = _LENGTH.match(element.get(key, "").lstrip("+-"))
    if not match:
        return other
    value = float(match[1]) * (_MM[match[2].lower()] * 96 / 25.4 if match[2].lower() in _MM else 1.0)
    return -value if element.get(key, "").lstrip().startswith("-") else value


def _runs(element: Element, kind: str) -> Iterator[list[Step]]:
    """Return the runs of an element as steps in its own units, y downwards."""
    n = _number
    if kind == "path":
        yield from path_runs(element.get("d", ""))
    elif kind in ("polyline", "polygon"):
        v = [float(x) for x in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", element.get("points", ""))]
        points = list(zip(v[::2], v[1::2], strict=False))
        if points:
            yield [("M", *points[0]), *(("L", *p) for p in points[1:]), *([("L", *points[0])] if kind == "polygon" else [])]
    elif kind == "line":
        yield [("M", n(element, "x1"), n(element, "y1")), ("L", n(element, "x2"), n(element, "y2"))]
    elif kind in ("circle", "ellipse"):
        rx = n(element, "r") if kind == "circle" else n(element, "rx")
        yield from _rounded(n(element, "cx") - rx, n(element, "cy") - (ry := rx if kind == "circle" else n(element, "ry")), 2 * rx, 2 * ry, rx, ry)
    elif kind == "rect":
        rx, ry = n(element, "rx", -1), n(element, "ry", -1)
        rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
        yield from _rounded(n(element, "x"), n(element, "y"), n(element, "width"), n(element, "height"), max(rx, 0.0), max(ry, 0.0))


def _rounded(x: float, y: float, w: float, h: float, rx: float, ry: float) -> Iterator[list[Step]]:
    if w <= 0 or h <= 0:
        return
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    if rx <= 0 or ry <= 0:
        yield [("M", x, y), ("L", x + w, y), ("L", x + w, y + h), ("L", x, y + h), ("L", x, y)]
        return
    corner = [("A", rx, ry, 0.0, 0, 1, x + w, y + ry), ("A", rx, ry, 0.0, 0, 1, x + w - rx, y + h), ("A", rx, ry, 0.0, 0, 1, x, y + h - ry), ("A", rx, ry, 0.0, 0, 1, x + rx, y)]
    yield [("M", x + rx, y), ("L", x + w - rx, y), corner[0], ("L", x + w, y + h - ry), corner[1], ("L", x + rx, y + h), corner[2], ("L", x, y + ry), corner[3]]


def _stroke(run: list[Step], matrix: Matrix, layer: str) -> Stroke:
    """Return a run as a stroke, its transform applied; arcs stay round where the transform keeps them so."""
    a, b, c, d, e, f = matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f

    def at(x: float, y: float) -> tuple[float, float]:
        return a * x + c * y + e, b * x + d * y + f

    here, segments = (run[0][1], run[0][2]), []
    for step in run[1:]:
        end = (step[-2], step[-1])
        if step[0] == "L":
            x, y = end
            segments.append(("line", a * x + c * y + e, b * x + d * y + f))
        elif step[0] == "C":
            segments.append(("cubic", *at(step[1], step[2]), *at(step[3], step[4]), *at(*end)))
        elif math.dist(here, end) > 1e-12:
            segments += _arc(here, step, at, matrix)
        here = end
    return Stroke(layer, at(run[0][1], run[0][2]), segments or [("line", *at(run[0][1], run[0][2]))])


def _arc(here: tuple[float, float], step: Step, at: Callable[[float, float], tuple[float, float]], matrix: Matrix) -> list[tuple]:
    rx, ry, turn, large, sweep, x, y = step[1:]
    # it would be grown to reach; a straight line by all sense
    if min(abs(rx), abs(ry)) < 1e-6 * math.dist(here, (x, y)):
        return [("line", *at(x, y))]
    arc = Path(f"M{here[0]!r},{here[1]!r}A{abs(rx)!r},{abs(ry)!r},{turn!r},{int(large)},{int(sweep)},{x!r},{y!r}")[1]
    keeps_round = abs(matrix.a * matrix.c + matrix.b * matrix.d) < 1e-9 and abs(math.hypot(matrix.a, matrix.b) - math.hypot(matrix.c, matrix.d)) < 1e-9
    if abs(arc.rx - arc.ry) < 1e-9 * arc.rx and keeps_round:
        mirrored = matrix.a * matrix.d - matrix.b * matrix.c < 0
        whole = -float(arc.sweep) if mirrored else float(arc.sweep)
        pieces = max(1, math.ceil(abs(whole) / math.pi - 1e-9))
        ends = [(float(arc.point(k / pieces).x), float(arc.point(k / pieces).y)) for k in range(1, pieces)] + [(x, y)]
        return [("arc", *at(*end), math.tan(whole / pieces / 4)) for end in ends]
    out = [("cubic", *at(c.control1.x, c.control1.y), *at(c.control2.x, c.control2.y), *at(c.end.x, c.end.y)) for c in arc.as_cubic_curves()]
    return [*out[:-1], (*out[-1][:5], *at(x, y))]
