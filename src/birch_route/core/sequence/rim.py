"""A pocket in two depths: one bit cuts the rim, pushing its fibres down, another what lies below, lifting its chips out."""

from __future__ import annotations

from ..bits.model import Bit
from ..data import figures
from ..errors import InputError
from ..instrument.floors import FollowingFloor
from ..instrument.resolve import resolve
from ..route import Operation, Route
from ..vocabulary import BitForm, Flute, LayerKind, OperationKind
from .propose import propose_pocket_with, staged_for, with_touch_offs

CLEAN = (Flute.DOWN_CUT, Flute.COMPRESSION, Flute.STRAIGHT)


def rim_id(operation_id: str) -> str:
    """Return the id of the operation that cuts the rim before another."""
    return f"{operation_id[:34]}_rim"


def rim_depth_mm(route: Route) -> float:
    """Return how deep a rim is cut first: below cap and veneers, and as deep as the figures say."""
    fig = figures()["rim"]
    cap = sum(layer.thickness_mm for layer in route.blank.layers if layer.kind in (LayerKind.CAP, LayerKind.VENEER)) - route.blank.skim_mm
    return round(max(fig["down_to_mm"], cap + fig["below_cap_mm"] if cap > 0 else 0.0), 2)


def rim_bits(route: Route, operation: Operation) -> list[Bit]:
    """Return the bits of the rack that leave a clean upper rim and get into every corner that this operation's bit gets into, the widest first."""
    bit = route.bit(operation.bit)
    fine = [b for b in route.bits if b.form is BitForm.FLAT and b.flute in CLEAN and b.id != bit.id and not b.serrated and b.cut_diameter_mm <= bit.cut_diameter_mm + 0.01]
    return sorted(fine, key=lambda b: -b.cut_diameter_mm)


def choose_rim(route: Route, operation_id: str, bit_id: str | None, down_to_mm: float | None = None) -> Route:
    """Return the route with a pocket's rim cut first by another bit, or with one bit for all of its depth.

    The second operation begins where the first ended, and both leave the same on the wall, so that there is no step.

    Raises:
        InputError: no operation that clears a pocket, a bit that does not fit, or a depth that leaves nothing below.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.POCKET or operation.wall_only or operation.rest or operation.down_to_mm is not None:
        raise InputError("Only an operation that clears a pocket in one go can have its rim cut by another bit.", where=operation_id)
    own = rim_id(operation_id)
    kept = [o for o in route.operations if o.id != own]
    new = [operation]
    if bit_id is not None:
        fits = {b.id for b in rim_bits(route, operation)}
        if bit_id not in fits:
            raise InputError("The bit that cuts the rim must be a flat one, no wider, that does not lift its chips: down-cut, straight or compression.", where="bit")
        resolved = resolve(route)
        deep = down_to_mm or rim_depth_mm(route)
        solids = [resolved.solids[f] for f in operation.features if f in resolved.solids]
        if not solids or any(isinstance(s.surface, FollowingFloor) for s in solids) or any(s.floor_mm is not None and s.deep_mm(resolved.thickness_mm) <= deep + 0.1 for s in solids):
            raise InputError(f"A rim {deep:g} deep leaves nothing below it to cut.", where="down_to_mm")
        staged, lies = staged_for(route, resolved, route.setup(operation.setup))
        made = propose_pocket_with(staged, lies.solid(solids[0].id), staged.bit(bit_id), f"cuts the rim clean; {route.bit(operation.bit).name} takes what lies below")
        new.insert(0, made.model_copy(update={
            "id": own, "name": f"{operation.name}, rim"[:80], "setup": operation.setup, "features": operation.features, "down_to_mm": deep, "direction": operation.direction, "stock_to_leave_mm": operation.stock_to_leave_mm,
            "finish_pass": operation.finish_pass, "finish_allowance_mm": operation.finish_allowance_mm, "finish_depth_mm": made.finish_depth_mm or deep}))
    at = next(k for k, o in enumerate(kept) if o.id == operation_id)
    placed = [*kept[:at], *new, *kept[at + 1:]]
    operations: list[Operation] = []
    for setup in route.setups:
        operations += with_touch_offs([o for o in placed if o.setup == setup.id])
    steps = [s.model_copy(update={"after": operation_id}) if s.after == own else s for s in route.bench_steps]
    return route.model_copy(update={"operations": operations, "bench_steps": steps})
