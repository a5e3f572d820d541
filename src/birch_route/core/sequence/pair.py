"""A wall in two operations: one bit roughs a contour or a pocket and leaves a little on the wall, another takes that
in a last pass, or the same one does, later. What they share is kept alike: tabs, skin or groove, side, how far they go
below."""

from __future__ import annotations

from dataclasses import dataclass

from ..bits.model import Bit
from ..cutting.settings import propose_finish_depth, propose_settings
from ..data import figures
from ..errors import InputError
from ..instrument.drawn import free_id
from ..instrument.resolve import resolve
from ..materials.layers import wood_met
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import BitForm, Clearing, OperationKind
from .propose import staged_for, with_touch_offs

SHARED = ("setup", "features", "side", "tabs", "skin_mm", "groove_mm", "overcut_mm", "floor_to_leave_mm")
WALLS = (OperationKind.PROFILE, OperationKind.POCKET)


def finisher_of(route: Route, operation_id: str) -> Operation | None:
    """Return the operation that takes what another left along a wall."""
    return next((o for o in route.operations if o.finishes == operation_id), None)


def finish_bits(route: Route, operation: Operation) -> list[Bit]:
    """Return the bits that may take the last pass after an operation: flat, smooth, no wider, so that they run in the
    kerf that is there; those of equal diameter first, as these leave no other corners. A pocket's own bit may take it
    too, later: then all pockets are roughed before the first is finished."""
    own = route.bit(operation.bit)
    most = own.cut_diameter_mm + figures()["pair"]["wider_mm"] + 1e-9
    again = operation.kind is OperationKind.POCKET
    smooth = [b for b in route.bits if b.form is BitForm.FLAT and not b.serrated and (again or b.id != own.id)]
    return sorted((b for b in smooth if b.cut_diameter_mm <= most), key=lambda b: -b.cut_diameter_mm)


@dataclass(frozen=True)
class LastBit:
    """A bit that is offered for the last pass. same: of the width of the first, so that it leaves the same corners."""

    bit: str
    same: bool


def last_bits(route: Route, operation: Operation, deep_mm: float) -> list[LastBit]:
    """Return the bits that are offered for the last pass after an operation that goes so deep, mm: those long enough,
    and the one that does it now."""
    if _why_not(route, operation):
        return []
    own, within = route.bit(operation.bit).cut_diameter_mm, figures()["pair"]["wider_mm"] + 1e-9
    now = finisher_of(route, operation.id)
    able = [b for b in finish_bits(route, operation) if b.cutting_length_mm >= deep_mm or (now and now.bit == b.id)]
    return [LastBit(b.id, abs(b.cut_diameter_mm - own) <= within) for b in able]


def _why_not(route: Route, operation: Operation | None) -> str:
    """Return why an operation cannot get a last pass of its own; empty where it can."""
    if operation is None or operation.kind not in WALLS or operation.along_wall:
        return "Only an operation that roughs a contour or a pocket is finished by another bit."
    shared = [o for o in route.operations if o.id != operation.id and set(o.features) & set(operation.features)]
    if any(o.wall_only for o in shared):
        return f"{operation.name} creeps up on its fit: cut it to size at once first, then choose its last pass."
    if operation.down_to_mm is not None or any(o.down_to_mm is not None for o in shared):
        return f"The rim of {operation.name} is cut apart from what lies below it: a last pass of one leaves a step."
    return ""


def finish_with(route: Route, operation_id: str, bit_id: str | None) -> Route:
    """Return the route with a wall finished by another bit, or by its own in the operation that roughs it.

    Raises:
        InputError: no operation that makes a wall at once, or a bit that does not run in its kerf.
    """
    operation = route.operation(operation_id)
    why = _why_not(route, operation)
    if operation is None or why:
        raise InputError(why, where=operation_id)
    old = finisher_of(route, operation_id)
    if bit_id is None:
        if old is None:
            raise InputError(f"{operation.name} is finished by its own bit already.", where=operation_id)
        reasons = {k: v for k, v in operation.reasons.items() if k != "stock_to_leave_mm"}
        back = {"finish_pass": True, "stock_to_leave_mm": old.stock_to_leave_mm, "reasons": reasons}
        back["finish_allowance_mm"] = old.finish_allowance_mm if operation.kind is OperationKind.POCKET else (
            operation.finish_allowance_mm)
        alone = operation.model_copy(update=back)
        return _with(route, operation, [alone], old)
    bit = next((b for b in finish_bits(route, operation) if b.id == bit_id), None)
    if bit is None:
        kerf = mm(route.bit(operation.bit).cut_diameter_mm)
        raise InputError(
            f"The last pass takes a flat, smooth bit that is no wider than the {kerf:.2f} of the kerf.", where="bit"
        )
    keeps = operation.stock_to_leave_mm if old is None else old.stock_to_leave_mm
    rough = operation.model_copy(update={
        "finish_pass": False,
        "stock_to_leave_mm": keeps + _left(operation) if old is None else operation.stock_to_leave_mm,
        "reasons": {**operation.reasons, "stock_to_leave_mm": f"left for the last pass with the {bit.name}"},
    })
    return _with(route, operation, [rough, _last(route, rough, bit, old, keeps)], old)


def _left(operation: Operation) -> float:
    """Return what the first bit leaves for the last pass, mm: of a pocket what its own had, where it had one."""
    if operation.kind is OperationKind.POCKET and operation.finish_pass and operation.finish_allowance_mm > 0:
        return operation.finish_allowance_mm
    return float(figures()["pair"]["left_mm"])


def with_last_passes(route: Route) -> Route:
    """Return the route with the last pass of every pocket in an operation of its own, by the bit that does it now."""
    for operation in route.operations:
        parts = operation.kind is OperationKind.POCKET and operation.finish_pass and operation.finish_allowance_mm > 0
        apart = operation.clearing is Clearing.ENGAGED  # it knows where it need not run along the wall again
        if parts and not apart and finisher_of(route, operation.id) is None and not _why_not(route, operation):
            if any(b.id == operation.bit for b in finish_bits(route, operation)):
                route = finish_with(route, operation.id, operation.bit)
    return route


def _last(route: Route, rough: Operation, bit: Bit, old: Operation | None, keeps_mm: float) -> Operation:
    """Return the operation of the last pass, its settings as for a thin pass along the wall; those that stand where
    the bit stays. keeps_mm: on the wall after it."""
    resolved = resolve(route)
    staged, lies = staged_for(route, resolved, route.setup(rough.setup))
    solid = lies.solids.get(rough.features[0])
    species = wood_met(staged, None if solid is None else solid.floor_mm)
    settings = rough.settings if bit.id == rough.bit else (
        propose_settings(rough.kind, bit, species, route.machine).settings)
    takes_mm = round(rough.stock_to_leave_mm - keeps_mm, 4)
    deep_mm = route.blank.piece_mm if solid is None else solid.deep_mm(resolved.thickness_mm)
    deep, why = propose_finish_depth(bit, species, route.machine, settings, takes_mm, deep_mm)
    if bit.id == rough.bit and rough.finish_depth_mm is not None:
        deep, why = rough.finish_depth_mm, rough.reasons.get("finish_depth_mm", why)
    taken = [o.id for o in route.operations if o is not old]
    return Operation(
        id=old.id if old else free_id(taken, f"{rough.id[:30]}_last"), name=f"{rough.name}, last pass"[:80],
        kind=rough.kind, bit=bit.id, settings=settings, finishes=rough.id, direction=rough.direction,
        entry=rough.entry, finish_pass=True, finish_allowance_mm=takes_mm, finish_depth_mm=deep,
        stock_to_leave_mm=keeps_mm, spring_passes=rough.spring_passes if old is None else old.spring_passes,
        reasons={"bit": "takes what the first bit left along the wall", "finish_depth_mm": why},
        **{name: getattr(rough, name) for name in SHARED},
    )


def _with(route: Route, before: Operation, now: list[Operation], old: Operation | None) -> Route:
    """Return the route with an operation replaced by one or two, and the last pass of before gone."""
    kept = [o for o in route.operations if o is not old]
    at = next(k for k, o in enumerate(kept) if o.id == before.id)
    placed = [*kept[:at], *now, *kept[at + 1 :]]
    ordered = [o for s in route.setups for o in with_touch_offs([x for x in placed if x.setup == s.id])]
    last, gone = now[-1].id, {before.id} | ({old.id} if old else set())
    steps = [s.model_copy(update={"after": last}) if s.after in gone else s for s in route.bench_steps]
    return route.model_copy(update={"operations": ordered, "bench_steps": steps})


def linked(route: Route) -> Route:
    """Return the route with every last pass like the operation it finishes, in what they share."""
    by_id = {o.id: o for o in route.operations}
    out = []
    for o in route.operations:
        rough = by_id.get(o.finishes) if o.finishes else None
        if rough is not None:
            shared = {name: getattr(rough, name) for name in SHARED}
            left = max(rough.stock_to_leave_mm - o.stock_to_leave_mm, 0.0)
            o = o.model_copy(update={**shared, "finish_allowance_mm": left})
        out.append(o)
    return route if out == route.operations else route.model_copy(update={"operations": out})
