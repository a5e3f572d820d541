"""Give an edge to the machine, or back to the bench."""

from __future__ import annotations

from ..errors import InputError
from ..instrument.resolve import resolve
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import EdgeKind, OperationKind
from .propose import propose_edge, staged_for, with_touch_offs


def machine_edge(route: Route, edge_id: str, by_machine: bool) -> Route:
    """Return the route with an edge cut by the machine, before the outline of the first setup that turns its face up, or left to the bench.

    Raises:
        InputError: no such edge, nothing to make of it, its face is never up, or no bit of the rack has its form.
    """
    edge = next((e for e in route.piece.edges if e.id == edge_id), None)
    if edge is None:
        raise InputError(f"The piece has no edge {edge_id}.", where="edge")
    edges = [e.model_copy(update={"machined": by_machine}) if e.id == edge_id else e for e in route.piece.edges]
    kept = [o for o in route.operations if o.edge != edge_id]
    gone = {o.id for o in route.operations} - {o.id for o in kept}
    last = kept[-1].id if kept else None
    changed = route.model_copy(update={"piece": route.piece.model_copy(update={"edges": edges}), "operations": kept,
                                       "bench_steps": [s.model_copy(update={"after": last}) if s.after in gone else s for s in route.bench_steps]})
    if not by_machine:
        return changed
    setup = next((s for s in route.setups if s.face is edge.face), None)
    if setup is None:
        raise InputError(f"That edge lies on the {edge.face.value}, which no setup turns up. Turn the piece over first.", where=edge_id)
    resolved = resolve(changed)
    rim = resolved.rims.get(edge_id)
    if rim is None:
        raise InputError("A sharp edge needs no bit. Say first what becomes of it.", where=edge_id)
    staged, lies = staged_for(changed, resolved, setup)
    new = propose_edge(staged, lies.rims[edge_id])
    if not new:
        what = (
            f"rounds over {mm(edge.size_mm):g}"
            if edge.kind is EdgeKind.ROUND
            else f"is a V of {2 * (90 - rim.angle_deg):g}° that reaches {mm(edge.size_mm):g} across"
        )
        raise InputError(f"No bit of the rack {what}. Add one in the shop, or leave the edge to the bench.", where=edge_id)
    operations: list[Operation] = []
    for one in route.setups:
        here = [o for o in kept if o.setup == one.id]
        if one.id == setup.id:
            at = next((k for k, o in enumerate(here) if o.kind is OperationKind.PROFILE and route.piece.outline.id in o.features), len(here))
            here = [*here[:at], *(o.model_copy(update={"setup": setup.id}) for o in new), *here[at:]]
        operations += with_touch_offs(here)
    return changed.model_copy(update={"operations": operations})
