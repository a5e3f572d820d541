"""What a pocket costs with one bit for all of it, and with a wider one first or alone."""

from __future__ import annotations

import math

from shapely.geometry import Point

from ..bits.model import Bit
from ..cutting.settings import propose_settings
from ..data import figures
from ..instrument.resolve import Resolved, Solid, cut_region
from ..materials.layers import wood_met
from ..plane.regions import corners_left, opened
from ..route import Route
from ..vocabulary import FinishClass, OperationKind


def by_price(
    route: Route, resolved: Resolved, solid: Solid, bit: Bit, others: list[Bit], depth: float
) -> tuple[Bit | None, Bit, str] | None:
    """Return another way where one bit for all corners costs much more than it is worth: the bit that goes first
    (None: one alone), the other, and why; None where it does not.

    Its corners cost minutes at the bench where a wider bit leaves them; a part that must fit keeps the bit that its
    corners ask for.
    """
    fig = figures()["rest"]
    alone = _price(route, solid, bit, depth)
    wider = [
        b
        for b in others
        if b.cut_diameter_mm >= fig["wider_by"] * bit.cut_diameter_mm
        and b.cut_diameter_mm <= 13
        and opened(cut_region(solid, b.radius_mm), b.radius_mm).area > 0.5 * solid.region.area
    ]
    if alone < fig["dear_min"] or not wider:
        return None
    change, chisel = figures()["minutes"]["bit_change"], figures()["minutes"]["chisel_corner"]
    ways: list[tuple[float, Bit | None, Bit, str]] = []
    for wide in wider:
        machine = _price(route, solid, wide, depth)
        left = [
            c
            for c in corners_left(cut_region(solid, wide.radius_mm), wide.radius_mm)
            if resolved.outline.distance(Point(c[:2])) < 0.01
        ]
        rest = sum(c[2] for c in left) / max(solid.region.area, 1.0)
        both = machine + alone * min(1.0, fig["rest_part"] + rest) + change
        ways.append((both, wide, bit, f"the {bit.name} alone would take {alone:.0f} min; after the {wide.name} the "
            f"two take about {both:.0f}"))
        inside = (
            cut_region(solid, wide.radius_mm)
            .difference(opened(cut_region(solid, wide.radius_mm), wide.radius_mm).buffer(0.02))
            .intersection(resolved.outline)
            .area
        )
        if inside <= 0.35:
            ways.append((machine, None, wide, f"it reaches all that lies in the piece in about {machine:.0f} min; "
                f"the {bit.name} would take {alone:.0f}"))
        elif solid.part_corner_mm is None and solid.finish_class is not FinishClass.FITTED:
            hands = machine + chisel * len(left)
            ways.append((hands, None, wide, f"the {bit.name}, which leaves no corner, would take {alone:.0f} min; "
                f"this one about {machine:.0f}, and {len(left)} corners for the chisel"))
    best = min(ways, key=lambda w: w[0])
    return best[1:] if best[0] < fig["worth_part"] * alone else None


def _price(route: Route, solid: Solid, bit: Bit, depth: float) -> float:
    """Return the minutes a bit takes to clear a pocket alone, roughly: rings a stepover apart at every depth of cut,
    and its wall."""
    s = propose_settings(OperationKind.POCKET, bit, wood_met(route, solid.floor_mm), route.machine).settings
    reached = opened(cut_region(solid, bit.radius_mm), bit.radius_mm)
    passes = math.ceil(depth / s.depth_of_cut_mm - 1e-9)
    return float(passes * (reached.area / s.stepover_mm + reached.length) / s.feed_mm_min)
