"""Creep up on a fit: a pocket is left too small, then passes along its wall, a program of their own each, take a little more until the part goes in."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import BenchKind, OperationKind
from .propose import with_touch_offs

ID_LENGTH = 31


def creep_id(operation_id: str, number: int) -> str:
    """Return the id of a creep pass."""
    return f"{operation_id[:ID_LENGTH]}_creep{number}"


def creep(route: Route, operation_id: str, passes: int, step_mm: float | None = None) -> Route:
    """Return the route with a pocket left too small by passes times a step, and as many passes along its wall after it; 0 passes: as before.

    The last pass reaches the size that is drawn. Between them the part is tried: a bench step says so.

    Raises:
        InputError: no operation that makes a pocket's wall.
    """
    step = figures()["creep"]["step_mm"] if step_mm is None else step_mm
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.POCKET or operation.wall_only:
        raise InputError("Only an operation that makes the wall of a pocket can creep up on a fit.", where=operation_id)
    shared = [o for o in route.operations if set(o.features) & set(operation.features)]
    if passes and any(o.down_to_mm is not None for o in shared):
        raise InputError(
            f"The rim of {operation.name} is cut apart from what lies below it: cut it by one bit first, then creep.",
            where=operation_id,
        )
    last = next((o for o in route.operations if o.finishes == operation_id), None)
    if last is not None:
        raise InputError(f"{last.name} makes that wall: creep up on the fit with it.", where=last.id)
    gone = {creep_id(operation_id, k) for k in range(1, 10)}
    kept = [o for o in route.operations if o.id not in gone]
    left = round(passes * step, 4)
    base = operation.model_copy(update={"stock_to_leave_mm": left, "finish_pass": True if passes else operation.finish_pass})
    if operation.finishes:  # what comes before it leaves as much more
        more = left - operation.stock_to_leave_mm
        kept = [o if o.id != operation.finishes else _leaving(o, more) for o in kept]
    new = [_pass(base, k, round(left - k * step, 4), step) for k in range(1, passes + 1)]
    at = next(k for k, o in enumerate(kept) if o.id == operation_id)
    placed = [*kept[:at], base, *new, *kept[at + 1:]]
    operations: list[Operation] = []
    for setup in route.setups:
        operations += with_touch_offs([o for o in placed if o.setup == setup.id])
    return route.model_copy(update={"operations": operations, "bench_steps": _steps(route, operation, passes, gone)})


def _leaving(rough: Operation, more_mm: float) -> Operation:
    return rough.model_copy(update={"stock_to_leave_mm": round(rough.stock_to_leave_mm + more_mm, 4)})


def _pass(base: Operation, number: int, left_mm: float, step_mm: float) -> Operation:
    why = f"takes {mm(step_mm):g} more off each wall; run it only while the part is still tight"
    return base.model_copy(update={
        "id": creep_id(base.id, number), "name": f"{base.name}, creep {number}"[:80], "wall_only": True,
        "finishes": None, "rest": False, "finish_pass": True, "stock_to_leave_mm": max(0.0, left_mm),
        "touch_off_before": False, "finish_allowance_mm": step_mm,
        "reasons": {**base.reasons, "stock_to_leave_mm": why},
    })


def _steps(route: Route, operation: Operation, passes: int, gone: set[str]) -> list[BenchStep]:
    step_id = f"try_{operation.id}"[:40]
    steps = [s.model_copy(update={"after": operation.id}) if s.after in gone else s for s in route.bench_steps if s.id != step_id]
    if not passes:
        return steps
    note = "Blow the chips out, try the part dry, without force. Still tight: run the next creep pass, and try again. Stop as soon as it goes in snugly; what then remains of the passes is left out."
    return [*steps, BenchStep(id=step_id, name=f"Try the part in {operation.name}"[:80], minutes=figures()["creep"]["try_min"] * passes, after=operation.id, kind=BenchKind.DRY_FIT, note=note)]
