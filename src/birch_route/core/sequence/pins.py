"""Pins that a turned blank is found again by: the holes they stand in, and how long they are."""

from __future__ import annotations

import math

from ..bench import BenchStep
from ..data import figures
from ..gluing import base_setup, is_before
from ..instrument.placing import thickness_of
from ..quantities import mm
from ..route import Route, Setup
from ..stages import bed_points
from ..vocabulary import BenchKind, HardwareKind

EVEN_MM = 5.0  # pins are cut to lengths of this


def pins_are_made(route: Route, setup: Setup) -> bool:
    """Whether a setup needs no pins, or something makes the holes they stand in: the machine's own, a jig it lies on,
    a bench step."""
    hole = next((f for f in route.features if f.id == setup.datum and f.kind == "hole"), None)
    if hole is None or setup is base_setup(route) or is_before(route, setup) or setup.in_vice:
        return True
    if any(h.kind is HardwareKind.PIN for h in setup.hardware) or any(
        s.id == f"pins_{setup.id}"[:40] for s in route.bench_steps
    ):
        return True
    fit = figures()["bed"]["pins_fit_mm"]
    own = route.machine.index_holes_mm
    return bool(own) and all(
        min(math.dist(p, h) for h in own) < fit for p in bed_points(route, setup, hole.points, thickness_of(route))
    )


def pin_step(route: Route, setup: Setup) -> BenchStep:
    """Return the bench step that makes the pins of a turned setup: where, how deep, how long.

    Source: figures.jigs: so deep in the board, less where the waste board is thin, and out of it by a part of the
    blank.
    """
    fig, hole = figures()["jigs"], next(f for f in route.features if f.id == setup.datum)
    deep = min(fig["pin_in_mm"], route.machine.waste_board_mm - figures()["holding"]["bed_keep_mm"])
    goes_in = thickness_of(route) if hole.depth_mm is None else hole.depth_mm  # type: ignore[union-attr]
    out = min(goes_in - 1.0, fig["pin_out_part"] * route.blank.thickness_mm)
    long = math.floor((deep + setup.sheet_mm + out) / EVEN_MM) * EVEN_MM
    through = f" They go through the sheet of scrap, {mm(setup.sheet_mm):g} thick." if setup.sheet_mm else ""
    points = bed_points(route, setup, hole.points, thickness_of(route))  # type: ignore[union-attr]
    counted = [route.machine.from_home((x, y)) for x, y in points]
    places = "; ".join(f"{mm(x):.2f}, {mm(y):.2f}" for x, y in counted)
    before = route.setups[route.setups.index(setup) - 1].id
    last = next((o.id for o in reversed(route.operations) if o.setup == before), None)
    return BenchStep(
        id=f"pins_{setup.id}"[:40],
        name="Bore the waste board for the pins",
        minutes=figures()["minutes"]["clear_chips"] * 3,
        after=last,
        kind=BenchKind.DRILL,
        gate=True,
        note=f"Holes {mm(hole.diameter_mm):g} across, {mm(deep):g} deep, at {places} from home; with the spindle, "
        f"not by hand. Pins {mm(hole.diameter_mm - fig['pin_fit_mm']):g} across and {mm(long):g} long, so that they "
        f"end inside the wood.{through}",
    )  # type: ignore[union-attr]
