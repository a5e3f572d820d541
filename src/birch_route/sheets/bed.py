"""The bed as it should look before a program starts: where blank, hardware, zero, touch-off and park place lie, and how far to jog."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ..core.holding.clearance import footprint
from ..core.holding.zero import ZeroStep
from ..core.plane.regions import polygons
from ..core.programs.writer import program_origin
from ..core.proving.simulate import Simulation, park_place
from ..core.quantities import mm
from ..core.vocabulary import ZeroZ
from .page import Page


def bed_plan(sim: Simulation, steps: Sequence[ZeroStep] = ()) -> dict[str, Any]:
    """Return a setup on the bed, mm from the near left end of its travel: travel, blank, outline, hardware, zero,
    touch-off (null on the waste board or at a fixed place), park place, the machine's fixed places and index holes;
    home: where it homes; steps: number and place of each thing to do for the zero that has a place.

    jog: X and Y from home to zero, and from zero to the touch-off and the park place; inside: whether all of these
    lie within the travel.
    """
    blank, setup, travel = sim.route.blank, sim.setup, sim.route.machine.travel_mm
    dx, dy = setup.blank_at_mm[0] - blank.x_mm, setup.blank_at_mm[1] - blank.y_mm

    def at(x: float, y: float) -> list[float]:
        return [round(x + dx, 2), round(y + dy, 2)]

    def ring(points: np.ndarray) -> list[list[float]]:
        return [at(float(x), float(y)) for x, y in points[:, :2]]
    ghosts = [
        {"blank": [*at(blank.x_mm + x, blank.y_mm + y), blank.length_mm, blank.width_mm],
         "outline": ring(np.asarray(sim.resolved.outline.simplify(0.5).exterior.coords)[:, :2] + [x, y])}
        for x, y in setup.more_at
    ]
    origin, machine = program_origin(sim), sim.route.machine
    fixed = {name: list(place) for name, place in (("change bits", machine.bit_change_mm), ("touch off here", machine.probe_mm)) if place is not None}
    zero, park = at(origin[0], origin[1]), at(*park_place(sim.route, setup))
    touch = None if setup.zero.z is ZeroZ.BED or (machine.probe_mm is not None and not setup.in_vice) else at(setup.zero.touch_x_mm, setup.zero.touch_y_mm)
    home = [travel[0] if machine.home_right else 0.0, travel[1] if machine.home_rear else 0.0]
    places = [zero, park, *([touch] if touch else []), *fixed.values()]
    return {
        "travel_mm": [travel[0], travel[1]], "blank": [*at(blank.x_mm, blank.y_mm), blank.length_mm, blank.width_mm],
        "outline": ring(np.asarray(sim.resolved.outline.simplify(0.5).exterior.coords)),
        "hardware": [{"id": h.id, "under": h.lies_under, "ring": ring(np.asarray(part.exterior.coords))} for h in setup.hardware for part in polygons(footprint(h).simplify(0.2))],
        "beside": ghosts, "zero": zero, "touch": touch, "park": park, "fixed": fixed,
        "index_holes": [list(h) for h in machine.index_holes_mm], "index_hole_mm": machine.index_hole_mm,
        "steps": [[n, at(*step.at_mm)] for n, step in enumerate(steps, 1) if step.at_mm is not None],
        "home": home,
        "jog": {
            "zero": [round(v, 2) + 0.0 for v in machine.from_home((zero[0], zero[1]))],
            "touch": None if touch is None else [round(touch[0] - zero[0], 2), round(touch[1] - zero[1], 2)],
            "park": [round(park[0] - zero[0], 2), round(park[1] - zero[1], 2)],
        },
        "inside": all(0.0 <= x <= travel[0] and 0.0 <= y <= travel[1] for x, y in places)}


def jog_words(plan: dict[str, Any]) -> str:
    """Return how far to jog, in words."""
    def way(xy: list[float]) -> str:
        return f"X {mm(xy[0]):+.1f}, Y {mm(xy[1]):+.1f}"
    out = f"Zero lies {way(plan['jog']['zero'])} from the machine's home"
    if plan["jog"]["touch"]:
        out += f"; the touch-off {way(plan['jog']['touch'])} from zero"
    return f"{out}; it starts and parks {way(plan['jog']['park'])} from zero." + ("" if plan["inside"] else " One of these is beyond the travel.")


def draw_bed(pdf: Page, plan: dict[str, Any], wide_mm: float = 110.0) -> None:
    """Draw the bed on a page, where the page stands."""
    scale = plan["travel_mm"][0] / wide_mm
    high = plan["travel_mm"][1] / scale
    if pdf.get_y() + high + 12 > pdf.h - 15:
        pdf.add_page()
    x0, y0 = pdf.l_margin + 4.0, pdf.get_y() + 3.0 + high

    def place(p: list[float]) -> tuple[float, float]:
        return x0 + p[0] / scale, y0 - p[1] / scale
    pdf.set_line_width(0.15)
    pdf.rect(x0, y0 - high, wide_mm, high)
    x, y, long, wide = plan["blank"]
    bx, by = place([x, y + wide])
    pdf.set_line_width(0.35)
    pdf.rect(bx, by, long / scale, wide / scale)
    pdf.set_line_width(0.15)
    pdf.polygon([place(p) for p in plan["outline"]], style="D")
    for one in plan["beside"]:
        bx, by = place([one["blank"][0], one["blank"][1] + wide])
        pdf.rect(bx, by, long / scale, wide / scale)
        pdf.polygon([place(p) for p in one["outline"]], style="D")
    for h in plan["hardware"]:
        pdf.polygon([place(p) for p in h["ring"]], style="D")
    for hx, hy in plan["index_holes"]:
        px, py = place([hx, hy])
        r = max(0.7, plan["index_hole_mm"] / 2 / scale)
        pdf.ellipse(px - r, py - r, 2 * r, 2 * r, style="D")
    pdf.set_font("Helvetica", "", 7)
    named: list[list[Any]] = []
    places = (("home", "home"), ("zero", "zero"), ("touch off", "touch"), ("park", "park"))
    marks = [(words, plan[name]) for words, name in places]
    for name, spot in (*marks, *plan["fixed"].items()):
        same = next((n for n in named if spot is not None and abs(n[1][0] - spot[0]) + abs(n[1][1] - spot[1]) < 8.0), None)
        if same is not None:
            same[0] += f", {name}"
        elif spot is not None:
            named.append([name, spot])
    for name, spot in named:
        px, py = place(spot)
        pdf.line(px - 2, py, px + 2, py)
        pdf.line(px, py - 2, px, py + 2)
        pdf.text(px - 1.2 - pdf.get_string_width(name) if px > x0 + 0.7 * wide_mm else px + 1.2, py - 1.2, name)
    pdf.set_font("Helvetica", "B", 6)
    for n, spot in plan["steps"]:
        px, py = place(spot)
        pdf.set_fill_color(255)
        pdf.ellipse(px - 1.6, py - 1.6, 3.2, 3.2, style="DF")
        pdf.text(px - pdf.get_string_width(str(n)) / 2, py + 0.8, str(n))
    pdf.set_font("Helvetica", "", 7)
    pdf.text(
        x0, y0 + 3.6, pdf.words(f"the bed reaches {mm(plan['travel_mm'][0]):g} x {mm(plan['travel_mm'][1]):g}")
    )
    pdf.set_y(y0 + 6.0)
