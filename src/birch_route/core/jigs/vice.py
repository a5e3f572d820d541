"""A plate for a vice at the machine's end: a fence on a pivot, set by stop pins to the angle that is left once wedge and blank have had theirs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..quantities import mm
from ..route import Route
from .draft import Draft, rounded_box, route_of
from .model import JigError, JigKind, JigPart

EXACT = "wanted"


@dataclass(frozen=True)
class AngleBudget:
    """Where the angle of a joint comes from, degrees; every source counts once. fence_deg is what the fence has to give."""

    wanted_deg: float
    wedge_deg: float
    in_blank_deg: float

    @property
    def fence_deg(self) -> float:
        return self.wanted_deg - self.wedge_deg - self.in_blank_deg

    @property
    def words(self) -> str:
        """The sum in words."""
        if not (self.wanted_deg or self.wedge_deg or self.in_blank_deg):
            return "It stands square: no angle."
        return f"{self.wanted_deg:.2f}° wanted = {self.fence_deg:.2f}° by the fence + {self.wedge_deg:.2f}° by a wedge + {self.in_blank_deg:.2f}° already in the blank; each counts once."


def within_vice(budget: AngleBudget) -> None:
    """Check that the fence can give its part.

    Raises:
        InfeasibleError: it would have to stand beyond what the vice allows.
    """
    most = figures()["jigs"]["vice_most_deg"]
    if abs(budget.fence_deg) > most:
        raise InfeasibleError(f"The fence would have to give {budget.fence_deg:.2f}°; the vice allows {most:g}. {budget.words} Take a steeper wedge, or count what the blank already has.", where="vice", fence_deg=budget.fence_deg)


def stop_place(pivot: tuple[float, float], along_mm: float, deg: float, fence_mm: float, pin_mm: float) -> tuple[float, float]:
    """Return the middle of a stop pin that holds the fence at an angle: it touches the fence's lower edge so far along from the pivot.

    Source: the fence's middle line runs through the pivot; its edge lies half its width below, the pin's middle its radius below that.
    """
    c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
    down = fence_mm / 2 + pin_mm / 2
    return pivot[0] + along_mm * c + down * s, pivot[1] + along_mm * s - down * c


def vice_plate_for(route: Route, setup_id: str, budget: AngleBudget, bits: Sequence[Bit] | None = None) -> Route:
    """Return the plate with stops for the angle the fence has to give and for some round ones, as a job of its own.

    Raises:
        InputError: no such setup. InfeasibleError: the fence would have to stand beyond what the vice allows.
    """
    setup = next((s for s in route.setups if s.id == setup_id), None)
    if setup is None:
        raise InputError(f"This route has no setup {setup_id}.", where="setup")
    fig, draft = figures()["jigs"], Draft()
    within_vice(budget)
    long, high, pivot = fig["vice_plate_mm"][0], fig["vice_plate_mm"][1], (30.0, 0.55 * fig["vice_plate_mm"][1])
    outline = rounded_box(0.0, 0.0, long, high, 8.0)
    draft.hole("pivot", "Pivot", [pivot], fig["datum_hole_mm"], None, fitted=False)
    angles = [a for a in fig["vice_stops_deg"] if abs(a - budget.fence_deg) > 0.02]
    for k, (name, deg) in enumerate([(EXACT, budget.fence_deg), *((f"stop_{i}", a) for i, a in enumerate(angles, 1))]):
        along = fig["vice_from_mm"] + k * fig["vice_apart_mm"]
        draft.hole(name, f"Stop for {deg:.2f} degrees", [stop_place(pivot, along, deg, fig["fence_mm"], fig["datum_hole_mm"])], fig["datum_hole_mm"], None)
        off = math.degrees(math.atan2(math.hypot(fig["hole_place_mm"], fig["pin_fit_mm"]), along))
        draft.works_with.append(
            f"{'The angle wanted' if k == 0 else 'Stop'} {deg:.2f}°: pin {mm(along):.0f} along the fence from the "
            f"pivot, within {off:.2f}°."
        )
    first = math.hypot(fig["hole_place_mm"], fig["pin_fit_mm"]) / fig["vice_from_mm"]
    for k, x in enumerate((0.2, 0.5, 0.8), 1):
        draft.hole(f"jaw_{k}", f"Jaw bolt {k}", [(x * long, 16.0)], fig["bolt_hole_mm"], None)
    c, s = math.cos(math.radians(budget.fence_deg)), math.sin(math.radians(budget.fence_deg))
    up = fig["fence_mm"] / 2 + 2.0 + fig["witness_mm"] / 2
    middle = 0.55 * long
    draft.pocket("witness", "Witness line of the fence", {"kind": "rectangle", "x_mm": round(pivot[0] + middle * c - up * s, 3), "y_mm": round(pivot[1] + middle * s + up * c, 3), "length_mm": 0.5 * long, "width_mm": fig["witness_mm"],
                                                               "corner_radius_mm": fig["witness_mm"] / 2, "angle_deg": round(budget.fence_deg, 4)}, fig["witness_deep_mm"])
    draft.parts += [
        JigPart(
            name="Plate",
            material="Birch plywood",
            size=f"{mm(long):.0f} x {mm(high):.0f} x {mm(fig['sheet_mm']):g}",
            source="cut",
        ),
        JigPart(
            name="Fence",
            material="beech, planed straight",
            size=f"{mm(long - 20):.0f} x {mm(fig['fence_mm']):g} x 20",
            source="cut",
            note=f"an {mm(fig['datum_hole_mm']):g} hole in its middle line, {mm(pivot[0] - 10):.0f} from its end",
        ),
        JigPart(
            name="Pivot bolt and stop pin",
            material="steel",
            size=f"{mm(fig['datum_hole_mm']):g} x 45",
            count=2,
            source="buy",
        ),
        JigPart(name="Jaw bolts", size="M6", count=3, source="hand"),
        JigPart(
            name="Clamp for the piece",
            size="opens 60, padded",
            count=2,
            source="hand",
            note="cork under finished faces",
        ),
    ]
    draft.errors += [JigError(what="Angle, 100 along the piece", off_mm=round(100 * first, 3), check="Gauge block or caliper over the fence at two places; write the reading on the plate."),
                     JigError(what="Plate square to the bed", off_mm=fig["edge_fit_mm"], check="A dial or a pencil in the collet along the plate's upper edge, both ways.")]
    draft.works_with.insert(0, budget.words)
    draft.step("fence", "Bolt the fence on, push it against its pin", 6, "The pin for the angle wanted is the one nearest to the pivot. Check with a gauge, not by eye.")
    return route_of(draft, JigKind.VICE, route, setup, outline, "birch_ply", fig["sheet_mm"], bits or route.bits)
