"""Propose how a sloped surface is cut: roughed by levels, then finished with a ball so that no more ridge stays than its class allows."""

from __future__ import annotations

import math

from ..bits.model import Bit
from ..cutting.settings import propose_settings
from ..data import figures
from ..errors import InputError
from ..instrument.resolve import Solid, resolve
from ..materials.layers import wood_met
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import BitForm, Entry, OperationKind, Pattern


def stepover_for(ridge_mm: float, radius_mm: float, slope: float) -> float:
    """Return the stepover in plan that leaves a ridge between passes of a ball across a slope.

    Args:
        ridge_mm: measured square to the surface. slope: drop over width.

    Source: circle chord, h = R - sqrt(R^2 - (s/2)^2) with s along the surface; in plan s cos(atan(slope)).
    """
    along = 2 * math.sqrt(max(0.0, 2 * radius_mm * ridge_mm - ridge_mm**2))
    return along * math.cos(math.atan(slope))


def ridge_between(stepover_mm: float, radius_mm: float, slope: float) -> float:
    """Return how tall the ridges between passes of a ball stand over a slope that falls across them, mm straight up.

    Args:
        stepover_mm: in plan. slope: drop over width.

    Source: as `stepover_for`, the height square to the surface over the cosine of the slope; at most the radius, where passes no longer meet.
    """
    lean = math.cos(math.atan(slope))
    half = min(stepover_mm / lean / 2, radius_mm)
    return (radius_mm - math.sqrt(radius_mm**2 - half**2)) / lean


def propose_surface(route: Route, solid: Solid) -> list[Operation]:
    """Return rough and finish of one contour in a setup's frame; none where the rack has no ball bit."""
    assert solid.surface is not None
    fig = figures()["surface"]
    balls = sorted((b for b in route.bits if b.form is BitForm.BALL and b.cut_diameter_mm <= fig["widest_mm"]), key=lambda b: -b.cut_diameter_mm)
    if not balls:
        return []
    bends = getattr(solid.surface, "bends_mm", math.inf)
    bit = next((b for b in balls if b.radius_mm < bends), balls[-1])
    slope = solid.surface.steepest
    ridge = figures()["cusp_mm"][solid.finish_class.value]
    over = 1 / (1 / bit.radius_mm + 1 / bends)  # over a round top passes leave ridges as of a smaller ball
    fine = min(fig["most_stepover"] * bit.cut_diameter_mm, stepover_for(ridge * fig["ridge_part"], over, slope))
    angle = _across(solid)
    apart = fig["rough_stepover"] * bit.cut_diameter_mm
    met = fig["leave_mm"] + ridge_between(apart, bit.radius_mm, slope)
    rough = _operation(route, OperationKind.SURFACE_ROUGH, bit, solid, f"{solid.name}, rough", pass_deg=angle, floor_to_leave_mm=fig["leave_mm"], depth=fig["rough_diameters"] * bit.cut_diameter_mm, stepover=apart,
                       why=f"{fig['rough_diameters']:g} of the diameter, {mm(fig['leave_mm']):g} left for the finish")
    finish = _operation(
        route,
        OperationKind.SURFACE_FINISH,
        bit,
        solid,
        f"{solid.name}, finish",
        pass_deg=angle,
        floor_to_leave_mm=0.0,
        depth=math.ceil(10 * met) / 10,
        stepover=fine,
        why_depth=f"{mm(fig['leave_mm']):g} left by roughing and the ridges between its passes",
        why=f"leaves {mm(ridge):g} between passes across a slope of {math.degrees(math.atan(slope)):.0f} degrees",
    )
    return [rough, finish]


def _across(solid: Solid) -> float:
    """Return the direction of passes across the slope, degrees: at right angles to the chord of the rim it lies along."""
    assert solid.is_contour
    return round((solid.surface.along_deg + 90.0 + 90.0) % 180.0 - 90.0, 1)  # type: ignore[union-attr]


def _operation(route: Route, kind: OperationKind, bit: Bit, solid: Solid, name: str, *, pass_deg: float, floor_to_leave_mm: float, depth: float, stepover: float, why: str, why_depth: str = "") -> Operation:
    species = wood_met(route, solid.floor_mm)
    proposal = propose_settings(kind, bit, species, route.machine)
    settings = proposal.settings.model_copy(update={"depth_of_cut_mm": round(max(depth, 0.1), 2), "stepover_mm": round(max(stepover, 0.05), 3)})
    reasons = {**proposal.reasons, "bit": "the widest ball of the rack", "stepover_mm": why, "depth_of_cut_mm": why_depth or why}
    return Operation(id=f"{kind.value}_{solid.id}"[:38], name=name[:80], kind=kind, setup=route.setups[0].id, features=[solid.id], bit=bit.id, settings=settings, reasons=reasons, entry=Entry.PLUNGE,
                     finish_pass=False, floor_to_leave_mm=floor_to_leave_mm, pass_deg=pass_deg, made_for=(species.id, route.machine.name))


def pencil_bits(route: Route, finish: Operation) -> list[Bit]:
    """Return the balls of the rack narrow enough for the valleys a finish leaves, the widest first."""
    most = figures()["valley"]["narrower"] * route.bit(finish.bit).cut_diameter_mm
    able = [b for b in route.bits if b.form in (BitForm.BALL, BitForm.TAPER) and b.cut_diameter_mm <= most]
    return sorted(able, key=lambda b: -b.cut_diameter_mm)


def flat_bits(route: Route) -> list[Bit]:
    """Return the bits that leave a flat place flat, the widest first."""
    return sorted((b for b in route.bits if b.form in (BitForm.FLAT, BitForm.BULL) and not b.serrated and b.cut_diameter_mm <= figures()["surface"]["widest_mm"]), key=lambda b: -b.cut_diameter_mm)


def add_finish(route: Route, operation_id: str, pattern: Pattern, bit_id: str | None = None) -> Route:
    """Return the route with a second finish after a first: only over what is flat, or only along the valleys.

    Raises:
        InputError: no finish over a surface, or no bit for it in the rack.
    """
    first = route.operation(operation_id)
    if first is None or first.kind is not OperationKind.SURFACE_FINISH or pattern not in (Pattern.FLAT, Pattern.PENCIL):
        raise InputError("Flat places and valleys are taken after an operation that finishes a surface.", where=operation_id)
    able = pencil_bits(route, first) if pattern is Pattern.PENCIL else flat_bits(route)
    bit = next((b for b in able if bit_id in (None, b.id)), None)
    if bit is None:
        raise InputError(f"There is no {'narrower ball' if pattern is Pattern.PENCIL else 'flat bit'} in the rack for this. Add one first.", where="bit")
    resolved = resolve(route)
    floors = [resolved.solids[f].floor_mm for f in first.features if f in resolved.solids]
    proposal = propose_settings(first.kind, bit, wood_met(route, min((z for z in floors if z is not None), default=0.0)), route.machine)
    fig = figures()["surface"]
    if pattern is Pattern.FLAT:
        stepover, words = fig["rough_stepover"] * bit.cut_diameter_mm, "a bit with a level end leaves no ridges where it is flat"
    else:
        seen = max((figures()["cusp_mm"][resolved.solids[f].finish_class.value] for f in first.features if f in resolved.solids), default=0.02)
        stepover, words = min(fig["most_stepover"] * bit.cut_diameter_mm, stepover_for(seen * fig["ridge_part"], bit.radius_mm, 1.0)), "fine enough on sides as steep as 45 degrees"
    settings = proposal.settings.model_copy(update={"stepover_mm": round(max(stepover, 0.05), 3), "depth_of_cut_mm": first.settings.depth_of_cut_mm})
    used = {o.id for o in route.operations}
    name = next(n for n in (f"{first.id[:30]}_{pattern.value}{k or ''}" for k in range(100)) if n not in used)
    what = "flat places" if pattern is Pattern.FLAT else "valleys"
    new = first.model_copy(update={"id": name, "name": f"{first.name}, {what}"[:80], "bit": bit.id, "pattern": pattern, "settings": settings, "touch_off_before": bit.id != first.bit, "told": [],
                                   "reasons": {**proposal.reasons, "bit": f"the widest that {'leaves them flat' if pattern is Pattern.FLAT else 'goes into what the ball before it left'}", "stepover_mm": words}})
    at = next(k for k, o in enumerate(route.operations) if o.id == operation_id)
    after = list(route.operations[at + 1:])
    if after and after[0].setup == first.setup and after[0].bit != bit.id:
        after[0] = after[0].model_copy(update={"touch_off_before": True})
    return route.model_copy(update={"operations": [*route.operations[: at + 1], new, *after], "bench_steps": [s.model_copy(update={"after": name}) if s.after == operation_id else s for s in route.bench_steps]})
