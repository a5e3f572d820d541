"""A contour in two operations: one bit roughs it and leaves a little on the wall, another takes that in a last pass.
What they share is kept alike: tabs, skin or groove, side, and how far they go below."""

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
from ..vocabulary import BitForm, OperationKind
from .propose import staged_for, with_touch_offs

SHARED = ("setup", "features", "side", "tabs", "skin_mm", "groove_mm", "overcut_mm")


def finisher_of(route: Route, operation_id: str) -> Operation | None:
    """Return the operation that takes what another left along a contour."""
    return next((o for o in route.operations if o.finishes == operation_id), None)


def finish_bits(route: Route, operation: Operation) -> list[Bit]:
    """Return the bits that may take the last pass after an operation: flat, smooth, no wider, so that they run in the
    kerf that is there; those of equal diameter first, as these leave no other corners."""
    own = route.bit(operation.bit)
    most = own.cut_diameter_mm + figures()["pair"]["wider_mm"] + 1e-9
    smooth = [b for b in route.bits if b.form is BitForm.FLAT and not b.serrated and b.id != own.id]
    return sorted((b for b in smooth if b.cut_diameter_mm <= most), key=lambda b: -b.cut_diameter_mm)


@dataclass(frozen=True)
class LastBit:
    """A bit that is offered for the last pass. same: of the width of the first, so that it leaves the same corners."""

    bit: str
    same: bool


def last_bits(route: Route, operation: Operation, deep_mm: float) -> list[LastBit]:
    """Return the bits that are offered for the last pass after an operation that goes so deep, mm: those long enough,
    and the one that does it now."""
    own, within = route.bit(operation.bit).cut_diameter_mm, figures()["pair"]["wider_mm"] + 1e-9
    now = finisher_of(route, operation.id)
    able = [b for b in finish_bits(route, operation) if b.cutting_length_mm >= deep_mm or (now and now.bit == b.id)]
    return [LastBit(b.id, abs(b.cut_diameter_mm - own) <= within) for b in able]


def finish_with(route: Route, operation_id: str, bit_id: str | None) -> Route:
    """Return the route with a contour finished by another bit, or by its own bit again.

    Raises:
        InputError: no operation along a contour, a bit that does not run in its kerf, or one too short for it.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.PROFILE or operation.finishes is not None:
        raise InputError("Only an operation that roughs a contour is finished by another bit.", where=operation_id)
    old = finisher_of(route, operation_id)
    if bit_id is None:
        if old is None:
            raise InputError(f"{operation.name} is finished by its own bit already.", where=operation_id)
        reasons = {k: v for k, v in operation.reasons.items() if k != "stock_to_leave_mm"}
        back = {"finish_pass": True, "stock_to_leave_mm": old.stock_to_leave_mm, "reasons": reasons}
        alone = operation.model_copy(update=back)
        return _with(route, operation, [alone], old)
    bit = next((b for b in finish_bits(route, operation) if b.id == bit_id), None)
    if bit is None:
        kerf = mm(route.bit(operation.bit).cut_diameter_mm)
        raise InputError(
            f"The last pass takes a flat, smooth bit that is no wider than the {kerf:.2f} of the kerf.", where="bit"
        )
    left = figures()["pair"]["left_mm"]
    rough = operation.model_copy(update={
        "finish_pass": False, "stock_to_leave_mm": left if old is None else operation.stock_to_leave_mm,
        "reasons": {**operation.reasons, "stock_to_leave_mm": f"left for the last pass with the {bit.name}"},
    })
    return _with(route, operation, [rough, _last(route, rough, bit, old)], old)


def _last(route: Route, rough: Operation, bit: Bit, old: Operation | None) -> Operation:
    """Return the operation of the last pass, its settings as for a thin pass along the wall."""
    resolved = resolve(route)
    staged, lies = staged_for(route, resolved, route.setup(rough.setup))
    solid = lies.solids.get(rough.features[0])
    species = wood_met(staged, None if solid is None else solid.floor_mm)
    settings = propose_settings(OperationKind.PROFILE, bit, species, route.machine).settings
    deep_mm = route.blank.piece_mm if solid is None else solid.deep_mm(resolved.thickness_mm)
    deep, why = propose_finish_depth(bit, species, route.machine, settings, rough.stock_to_leave_mm, deep_mm)
    taken = [o.id for o in route.operations if o is not old]
    return Operation(
        id=old.id if old else free_id(taken, f"{rough.id[:30]}_last"), name=f"{rough.name}, last pass"[:80],
        kind=OperationKind.PROFILE, bit=bit.id, settings=settings, finishes=rough.id, direction=rough.direction,
        entry=rough.entry, finish_pass=True, finish_allowance_mm=rough.stock_to_leave_mm, finish_depth_mm=deep,
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
