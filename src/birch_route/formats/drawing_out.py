"""Workshop drawings as SVG and DXF, 1:1 in mm, a layer for each depth, with overall dimensions and the table of places."""

from __future__ import annotations

import io
from html import escape

import ezdxf
import numpy as np

from ..core.instrument.plan import RULER_MM, Plan
from ..core.quantities import Unit, length, mm, say

BORDER_MM = 30.0
ROW_MM = 5.0


def layer_of(deep_mm: float | None, back: bool) -> str:
    """Return the name of the layer for a depth: "through", or "4_50_deep", and "_back" where it is cut from there."""
    return ("through" if deep_mm is None else f"{deep_mm:.2f}_deep".replace(".", "_")) + ("_back" if back else "")


def to_svg(plan: Plan, unit: Unit = Unit.MM) -> str:
    """Return a drawing as SVG: y up on paper, 1 unit a mm, one group a layer; its words in a unit."""
    high = plan.width_mm + 2 * BORDER_MM + ROW_MM * (len(plan.rows) + 3)
    wide = max(plan.length_mm + 2 * BORDER_MM, 240.0)
    flip = BORDER_MM + plan.width_mm

    def path(points: np.ndarray) -> str:
        return "M" + "L".join(f"{x + BORDER_MM:.3f} {flip - y:.3f}" for x, y in points) + "Z"
    groups: dict[str, list[str]] = {}
    for ring in plan.rings:
        dash = ' stroke-dasharray="2 1.5"' if ring.back else ""
        groups.setdefault(layer_of(ring.deep_mm, ring.back), []).append(f'<path d="{path(ring.points)}"{dash}/>')
    for c in plan.circles:
        groups.setdefault(layer_of(c.deep_mm, c.back), []).append(f'<circle cx="{c.x_mm + BORDER_MM:.3f}" cy="{flip - c.y_mm:.3f}" r="{c.across_mm / 2:.3f}"/>')
    body = [f'<g id="outline" fill="none" stroke="#000" stroke-width="0.5"><path d="{path(plan.outline)}"/></g>']
    body += [f'<g id="{name}" fill="none" stroke="#000" stroke-width="0.25">{"".join(items)}</g>' for name, items in groups.items()]
    words = [
        f'<text x="{c.x_mm + BORDER_MM + c.across_mm / 2 + 0.8:.2f}" y="{flip - c.y_mm - c.across_mm / 2 - 0.4:.2f}">'
        f'{escape(say(c.label, unit))}</text>'
        for c in plan.circles
    ]
    words += [f'<text x="{r[2] + BORDER_MM:.2f}" y="{flip - r[3]:.2f}">{r[0]}</text>' for r in plan.rows if not any(c.label == r[0] for c in plan.circles)]
    y = flip + 9.0
    words += [
        f'<text x="{BORDER_MM + plan.length_mm / 2:.2f}" y="{y:.2f}" text-anchor="middle">'
        f'{length(plan.length_mm, 2, unit)}</text>',
        f'<text transform="translate({BORDER_MM - 9:.2f} {flip - plan.width_mm / 2:.2f}) rotate(-90)" '
        f'text-anchor="middle">{length(plan.width_mm, 2, unit)}</text>',
    ]
    lines = [f'<path d="M{BORDER_MM:.2f} {y - 4:.2f}H{BORDER_MM + plan.length_mm:.2f}M{BORDER_MM - 8:.2f} {flip:.2f}V{flip - plan.width_mm:.2f}"/>']
    long = RULER_MM[unit]
    a, b = BORDER_MM, BORDER_MM + long
    lines += [f'<path d="M{a:.2f} 14.00H{b:.2f}M{a:.2f} 10.00V14.00M{b:.2f} 10.00V14.00"/>']
    words += [f'<text x="{BORDER_MM + long + 3:.2f}" y="14.00">1:1, if this is {length(long, 1, unit)} long</text>']
    y = flip + BORDER_MM
    words += [
        f'<text x="{BORDER_MM:.2f}" y="{y:.2f}" font-weight="bold">{escape(say(plan.title, unit))}, '
        f'{length(plan.thick_mm, 2, unit)} thick. Places in {unit} from the lower left corner.</text>'
    ]
    for k, (label, what, x, place_y, size, deep) in enumerate(plan.rows, 1):
        cells = (
            (0.0, label),
            (14.0, what),
            (84.0, length(x, 2, unit)),
            (106.0, length(place_y, 2, unit)),
            (128.0, size),
            (172.0, deep),
        )
        words += [
            f'<text x="{BORDER_MM + dx:.2f}" y="{y + k * ROW_MM:.2f}">{escape(say(text, unit))}</text>'
            for dx, text in cells
        ]
    return (f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.2f}mm" height="{high:.2f}mm" viewBox="0 0 {wide:.2f} {high:.2f}">'
            f'{"".join(body)}<g id="dimensions" fill="none" stroke="#000" stroke-width="0.18">{"".join(lines)}</g>'
            f'<g id="words" font-family="sans-serif" font-size="3.2">{"".join(words)}</g></svg>\n')


def to_dxf(plan: Plan, unit: Unit = Unit.MM) -> bytes:
    """Return a drawing as DXF in mm, its words in a unit: closed polylines and circles on a layer
    for each depth, dimensions and words on layers of their own."""
    document = ezdxf.new("R2010", setup=True)
    document.units = ezdxf.units.MM
    space = document.modelspace()
    depths = {layer_of(r.deep_mm, r.back) for r in plan.rings} | {layer_of(c.deep_mm, c.back) for c in plan.circles}
    for name in {"outline", "dimensions", "words", "ruler", *depths}:
        document.layers.add(name)
    space.add_lwpolyline([(float(x), float(y)) for x, y in plan.outline], close=True, dxfattribs={"layer": "outline"})
    for ring in plan.rings:
        space.add_lwpolyline([(float(x), float(y)) for x, y in ring.points], close=True, dxfattribs={"layer": layer_of(ring.deep_mm, ring.back)})
    for c in plan.circles:
        space.add_circle((c.x_mm, c.y_mm), c.across_mm / 2, dxfattribs={"layer": layer_of(c.deep_mm, c.back)})
        space.add_text(say(c.label, unit), height=3, dxfattribs={"layer": "words"}).set_placement(
            (c.x_mm + c.across_mm / 2 + 0.8, c.y_mm + c.across_mm / 2 + 0.4)
        )
    space.add_linear_dim(base=(0, -14), p1=(0, 0), p2=(plan.length_mm, 0), dxfattribs={"layer": "dimensions"}).render()
    space.add_linear_dim(base=(-14, 0), p1=(0, 0), p2=(0, plan.width_mm), angle=90, dxfattribs={"layer": "dimensions"}).render()
    top, long = plan.width_mm + 16.0, RULER_MM[unit]
    for a, b in (((0, top), (long, top)), ((0, top), (0, top + 4)), ((long, top), (long, top + 4))):
        space.add_line(a, b, dxfattribs={"layer": "ruler"})
    said = f"1:1, if this is {length(long, 1, unit)} long"
    space.add_text(said, height=3, dxfattribs={"layer": "ruler"}).set_placement((long + 3, top))
    for k, (label, what, x, y, size, deep) in enumerate(plan.rows):
        words = f"{label}  {what}  x {mm(x):.2f}  y {mm(y):.2f}  {size}  {deep}"
        space.add_text(say(words, unit), height=3, dxfattribs={"layer": "words"}).set_placement((0, -30 - 5 * k))
    held = io.StringIO()
    document.write(held)
    return held.getvalue().encode()
