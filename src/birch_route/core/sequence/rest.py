"""Clear a pocket with two bits: a wide one first, then only its rest with the narrow one; what that costs against the narrow one alone."""

from __future__ import annotations

from dataclasses import dataclass

from ..data import figures
from ..errors import InputError
from ..instrument.floors import FollowingFloor
from ..instrument.resolve import Resolved, resolve
from ..motion.timing import move_times
from ..operations.make import make_toolpath
from ..plane.regions import buffer_round
from ..route import Operation, Route
from ..vocabulary import MILLS, FinishClass, OperationKind
from .propose import propose_pocket_with, staged_for, with_touch_offs


@dataclass(frozen=True)
class Split:
    """One way to clear a pocket. first: the bit that goes before; None: one bit for all. changes: bit changes it adds."""

    first: str | None
    first_min: float
    then_min: float
    changes: int

    @property
    def minutes(self) -> float:
        """All of it, with the bit changes it adds."""
        return self.first_min + self.then_min + self.changes * figures()["minutes"]["bit_change"]


def splits(staged: Route, lies: Resolved, operation: Operation, most: int = 3) -> list[Split]:
    """Return what one bit for all of a pocket costs and what wider bits before it would, in a setup's frame: one bit first, then the quickest.

    Machine minutes come from the toolpaths themselves.
    """
    bit = staged.bit(operation.bit)
    alone = operation.model_copy(update={"rest": False})
    without = [o for o in staged.operations if not _goes_before(o, operation)]
    out = [Split(None, 0.0, _minutes(staged, lies, without, alone), 0)]
    solids = [lies.solid(f) for f in operation.features if f in lies.solids]
    for wide in staged.bits:
        if wide.form not in MILLS or wide.cut_diameter_mm < figures()["rest"]["wider_by"] * bit.cut_diameter_mm or not solids or any(isinstance(s.surface, FollowingFloor) for s in solids):
            continue
        deep = max(-(staged.blank.bottom_mm if s.floor_mm is None else s.floor_mm) for s in solids)
        if wide.cutting_length_mm < deep or any(buffer_round(s.region, -wide.radius_mm).area < 1.0 for s in solids):
            continue
        first, then = _pair(staged, lies, alone, wide.id)
        route = staged.model_copy(update={"operations": _beside(without, operation.id, [first, then])})
        out.append(Split(wide.id, _time(route, lies, first), _time(route, lies, then), _changes(route.operations) - _changes(without)))
    return [out[0], *sorted(out[1:], key=lambda s: s.minutes)[: most - 1]]


def choose_rest(route: Route, operation_id: str, first_bit: str | None) -> Route:
    """Return the route with a pocket cleared by a wide bit first and its rest after it, or by one bit for all.

    Raises:
        InputError: no such operation or bit, or one that is no wider.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.POCKET:
        raise InputError("Only an operation that clears a pocket can leave its rest to another bit.", where=operation_id)
    resolved = resolve(route)
    if first_bit is not None and any(isinstance(resolved.solids[f].surface, FollowingFloor) for f in operation.features if f in resolved.solids):
        raise InputError(f"{operation.name} has a floor that follows the other face; one bit clears it.", where=operation_id)
    kept = [o for o in route.operations if not _goes_before(o, operation)]
    gone = {o.id for o in route.operations} - {o.id for o in kept}
    new = [operation.model_copy(update={"rest": False})]
    if first_bit is not None:
        wide = next((b for b in route.bits if b.id == first_bit), None)
        if wide is None or wide.form not in MILLS or wide.cut_diameter_mm <= route.bit(operation.bit).cut_diameter_mm:
            raise InputError("The bit that goes first must be a wider flat one of this route's rack.", where="bit")
        staged, lies = staged_for(route, resolved, route.setup(operation.setup))
        new = [o.model_copy(update={"setup": operation.setup}) for o in _pair(staged, lies, new[0], first_bit)]
    operations: list[Operation] = []
    placed = _beside(kept, operation_id, new)
    for setup in route.setups:
        operations += with_touch_offs([o for o in placed if o.setup == setup.id])
    return route.model_copy(update={"operations": operations, "bench_steps": [s.model_copy(update={"after": operation_id}) if s.after in gone else s for s in route.bench_steps]})


def _pair(staged: Route, lies: Resolved, operation: Operation, first_bit: str) -> tuple[Operation, Operation]:
    """Return the operation of the wide bit and the one that takes its rest. A wall that is seen is finished whole by the second."""
    solid = next(lies.solid(f) for f in operation.features if f in lies.solids)
    seen = solid.finish_class in (FinishClass.SHOWN, FinishClass.FITTED) or operation.finish_pass
    first = propose_pocket_with(staged, solid, staged.bit(first_bit), f"goes first; {staged.bit(operation.bit).name} takes what it leaves")
    first = first.model_copy(update={"id": f"{operation.id[:34]}_1st", "features": operation.features, "name": f"{operation.name}, first"[:80], "finish_pass": False,
                                     "stock_to_leave_mm": operation.finish_allowance_mm if seen else operation.stock_to_leave_mm, "direction": operation.direction,
                                     "floor_to_leave_mm": operation.floor_to_leave_mm})
    return first, operation.model_copy(update={"rest": True})


def _goes_before(one: Operation, operation: Operation) -> bool:
    """Say whether an operation is the wide one before a rest."""
    return one.id == f"{operation.id[:34]}_1st"


def _beside(operations: list[Operation], at: str, new: list[Operation]) -> list[Operation]:
    """Return operations with one replaced: the last of the new stands in its place, one before it beside another with its bit where that is earlier."""
    place = next(k for k, o in enumerate(operations) if o.id == at)
    out = [*operations[:place], new[-1], *operations[place + 1:]]
    if len(new) == 2:
        same = [k for k in range(place) if out[k].bit == new[0].bit and out[k].setup == new[0].setup and out[k].kind is not OperationKind.FACE]
        out.insert(same[-1] + 1 if same else place, new[0])
    return out


def _changes(operations: list[Operation]) -> int:
    return sum(a.bit != b.bit for a, b in zip(operations, operations[1:], strict=False))


def _minutes(staged: Route, lies: Resolved, operations: list[Operation], changed: Operation) -> float:
    route = staged.model_copy(update={"operations": [changed if o.id == changed.id else o for o in operations]})
    return _time(route, lies, changed)


def _time(route: Route, lies: Resolved, operation: Operation) -> float:
    return float(move_times(make_toolpath(route, lies, operation).path, route.machine).sum()) / 60
