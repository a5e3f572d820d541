"""Propose how the back of a neck is cut, and in which order a neck's operations stand."""

from __future__ import annotations

import math

from ..bits.model import Bit
from ..cutting.settings import propose_settings
from ..data import figures
from ..instrument.resolve import Solid
from ..materials.layers import wood_met
from ..neck.features import ADJUSTER, BACK, BOLTS, BUSHES, HEAD, HEAD_BACK, HEEL, POSTS, RAMP, ROD
from ..neck.numbers import Neck
from ..neck.surfaces import NeckBack
from ..quantities import mm
from ..route import Operation, Route
from ..stages import cuts_under_mm
from ..vocabulary import MILLS, BitForm, Entry, OperationKind
from .surfaces import stepover_for

STEPS_TALL = 1.3  # what roughing's passes leave is no taller than this times how far they stand apart
STEEP_PART = 0.5  # ridges stand square to a slope of 60 degrees: straight up they are twice as tall
PAST_RIM_MM = 0.02  # beyond its radius a ball goes so far below the rim


def propose_back(route: Route, solid: Solid) -> list[Operation]:
    """Return rough and finish of a neck's back in a setup's frame; none where the rack has no ball that fits."""
    assert isinstance(solid.surface, NeckBack)
    ball = back_ball(route, solid.surface)
    if ball is None:
        return []
    flats = [b for b in route.bits if b.form in MILLS and not b.serrated
             and b.cut_diameter_mm <= figures()["surface"]["widest_mm"]]
    deep = solid.surface.thick_mm
    wide = max(flats, key=lambda b: (b.cutting_length_mm >= deep, b.cut_diameter_mm), default=ball)
    rough = _rough(route, solid, wide)
    return [rough, _finish(route, solid, ball, rough.settings.stepover_mm)]


def back_ball(route: Route, surface: NeckBack) -> Bit | None:
    """Return the widest ball of the rack that fits the hollows of a neck's back; the narrowest where none does."""
    hollow = surface.loft.least_hollow_mm()[0]
    balls = sorted((b for b in route.bits if b.form is BitForm.BALL
                    and b.cut_diameter_mm <= figures()["surface"]["widest_mm"]), key=lambda b: -b.cut_diameter_mm)
    fits = [b for b in balls if b.radius_mm < hollow]
    return next(iter(fits), balls[-1] if balls else None)


def _rough(route: Route, solid: Solid, bit: Bit) -> Operation:
    fig = figures()["neck"]
    apart = round(fig["rough_part"] * bit.cut_diameter_mm, 2)
    depth = round(max(0.5, fig["rough_part"] * bit.cut_diameter_mm), 2)
    return _operation(
        route, OperationKind.SURFACE_ROUGH, bit, solid, f"{solid.name}, rough", depth=depth, stepover=apart,
        even_ridge=True,
        why=f"levels {mm(depth):g} apart, passes as far along the surface; {mm(fig['rough_leave_mm']):g} left for the "
        "finish", floor_to_leave_mm=fig["rough_leave_mm"],
        why_bit="the widest bit that reaches down to the glue plane; it leaves steps that the ball takes",
    )


def _finish(route: Route, solid: Solid, bit: Bit, steps_mm: float) -> Operation:
    fig = figures()["neck"]
    ridge = figures()["cusp_mm"][solid.finish_class.value] * figures()["surface"]["ridge_part"] * STEEP_PART
    apart = min(fig["finish_mm"], stepover_for(ridge, bit.radius_mm, 0.0))
    met = fig["rough_leave_mm"] + steps_mm * STEPS_TALL
    under = min(bit.radius_mm + PAST_RIM_MM, cuts_under_mm(route.setups[0], route.machine))
    return _operation(
        route, OperationKind.SURFACE_FINISH, bit, solid, f"{solid.name}, finish", depth=math.ceil(10 * met) / 10,
        stepover=apart, overcut_mm=round(under, 3), floor_to_leave_mm=0.0,
        why=f"along the grain, passes {mm(apart):g} apart along the surface everywhere, to the rim and past it",
        why_bit="the widest ball that fits the hollows of both transitions",
    )


def _operation(route: Route, kind: OperationKind, bit: Bit, solid: Solid, name: str, *, depth: float, stepover: float,
               why: str, why_bit: str, floor_to_leave_mm: float, overcut_mm: float = 0.0,
               even_ridge: bool = False) -> Operation:
    species = wood_met(route, solid.floor_mm)
    proposal = propose_settings(kind, bit, species, route.machine)
    settings = proposal.settings.model_copy(update={
        "depth_of_cut_mm": round(max(depth, 0.1), 2), "stepover_mm": round(max(stepover, 0.05), 3)})
    reasons = {**proposal.reasons, "bit": why_bit, "stepover_mm": why, "depth_of_cut_mm": why}
    return Operation(
        id=f"{kind.value}_{solid.id}"[:38], name=name[:80], kind=kind, setup=route.setups[0].id, features=[solid.id],
        bit=bit.id, settings=settings, reasons=reasons, entry=Entry.PLUNGE, finish_pass=False, pass_deg=0.0,
        floor_to_leave_mm=floor_to_leave_mm, overcut_mm=overcut_mm, even_ridge=even_ridge,
        made_for=(species.id, route.machine.name))


FRONT_ORDER = (ROD, ADJUSTER, "bar_low", "bar_high", HEAD, RAMP, BUSHES, POSTS, "board_pins")
BACK_ORDER = (HEAD_BACK, HEEL, BOLTS, BACK)
ORDER = (*FRONT_ORDER, *BACK_ORDER)


def in_neck_order(operations: list[Operation], neck: Neck | None) -> list[Operation]:
    """Return operations of a neck as it is worked: from the front the channel while the face is whole, then the
    headstock's face, then what is bored through it; from the back the level faces, then the loft, roughed first."""
    if neck is None:
        return operations
    return sorted(operations, key=place_of)


def place_of(operation: Operation) -> int:
    """Return where an operation of a neck stands in its setup's order; -1: before all that have a place there."""
    found = [ORDER.index(f) for f in operation.features if f in ORDER]
    return min(found) if found else -1
