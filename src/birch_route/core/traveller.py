"""The traveller of a route: what is done to a piece, in the order in which it is done: bench, setup, bit, bench, turn
over, and so on."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from .bench import BenchStep
from .errors import InputError
from .route import Route


def steps_after(route: Route, operation_id: str | None) -> list[BenchStep]:
    """Return the bench steps that stand right after an operation, in order; None: those before everything."""
    return [s for s in route.bench_steps if s.after == operation_id]


def gates_before(route: Route, operations: Iterable[str], steps: Sequence[BenchStep] | None = None) -> list[BenchStep]:
    """Return the gating bench steps that stand before any of some operations: a program of these waits for all of them.

    Args:
        operations: ids of operations of the whole route. steps: the gating steps to choose from; None: all of the
            route.
    """
    place = {o.id: k for k, o in enumerate(route.operations)}
    last = max((place[o] for o in operations if o in place), default=-1)
    gates = [s for s in route.bench_steps if s.gate] if steps is None else steps
    return [s for s in gates if s.after is None or place[s.after] < last]


def begins_anew(route: Route, index: int) -> bool:
    """Say whether a program of its own begins at an operation: a pass that is run only when the part is still tight
    and what follows one,
    and what waits for a gating bench step.

    Args:
        route: whole, or of one setup. index: of one of its operations.
    """
    if index == 0:
        return False
    now, before = route.operations[index], route.operations[index - 1]
    return now.wall_only or before.wall_only or any(s.gate for s in steps_after(route, before.id))


def moved_step(route: Route, step_id: str, *, later: bool) -> list[BenchStep]:
    """Return the bench steps with one moved past what stands before it or after it: an operation or another step.

    Raises:
        InputError: nothing stands there.
    """
    step = next(s for s in route.bench_steps if s.id == step_id)
    others = [s for s in route.bench_steps if s.id != step_id]
    beside = steps_after(route, step.after)
    at = beside.index(step)
    operations: list[str | None] = [None, *(o.id for o in route.operations)]
    place = operations.index(step.after)
    if (later and at + 1 < len(beside)) or (not later and at > 0):  # past another step of the same place
        past = others.index(beside[at + 1] if later else beside[at - 1])
        return [*others[: past + later], step, *others[past + later :]]
    if not 0 <= place + (1 if later else -1) < len(operations):
        raise InputError(f"{step.name} stands {'last' if later else 'first'} already.", where=step_id)
    step = step.model_copy(update={"after": operations[place + (1 if later else -1)]})
    there = [k for k, s in enumerate(others) if s.after == step.after]
    into = len(others) if not there else there[0] if later else there[-1] + 1
    return [*others[:into], step, *others[into:]]


def still_after(before: Route, steps: Sequence[BenchStep], now: Sequence[str]) -> list[BenchStep]:
    """Return bench steps of which none was thrown to the beginning because its operation is gone: it follows the
    nearest operation before that which is still there.

    Args:
        before: the route in which they stood. now: ids of the operations that are there.
    """
    stood = {s.id: s.after for s in before.bench_steps if s.after is not None and s.after not in now}
    order, out = [o.id for o in before.operations], []
    for step in steps:
        if step.after is None and step.id in stood:
            earlier = order[: order.index(stood[step.id])]
            step = step.model_copy(update={"after": next((o for o in reversed(earlier) if o in now), None)})
        out.append(step)
    return out
