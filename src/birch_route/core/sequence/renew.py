"""Propose settings anew where wood or machine is another than the one they were proposed for; what a person has set stays."""

from __future__ import annotations

from ..cutting.settings import propose_finish_depth, propose_settings
from ..data import Wood
from ..gluing import lies_at
from ..instrument.resolve import Resolved, resolve
from ..materials.layers import wood_met
from ..route import Operation, Route
from ..stages import frame_of, stage_route, turned_resolved
from ..vocabulary import Clearing, OperationKind
from .clearing import choose_clearing

FIELDS = ("feed_mm_min", "plunge_mm_min", "speed_rpm", "depth_of_cut_mm", "stepover_mm")
SURFACES = (OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH)
LEAST = 0.03  # a smaller change of a number is none


def met_by(staged: Route, lies: Resolved, operation: Operation) -> Wood:
    """Return the wood an operation's settings are for, in its setup's frame."""
    floors = [lies.solids[f].floor_mm for f in operation.features if f in lies.solids]
    return wood_met(staged, 0.0 if not floors else None if None in floors else min(z for z in floors if z is not None))


def renewed(staged: Route, lies: Resolved, operation: Operation) -> Operation:
    """Return an operation with its settings proposed for the wood and machine of a route, in its setup's frame."""
    bit, species = staged.bit(operation.bit), met_by(staged, lies, operation)
    proposal = propose_settings(operation.kind, bit, species, staged.machine)
    kept = {*operation.told, *(("depth_of_cut_mm", "stepover_mm") if operation.kind in SURFACES else ())}
    new = {f: getattr(proposal.settings, f) for f in FIELDS if f not in kept}
    settings, reasons = operation.settings.model_copy(update=new), {**operation.reasons, **{f: proposal.reasons[f] for f in new if f in proposal.reasons}}
    more = {}
    if operation.finish_pass and operation.finish_depth_mm is not None and "finish_depth_mm" not in operation.told:
        floors = [lies.solids[f].floor_mm for f in operation.features if f in lies.solids]
        depth = operation.down_to_mm or (-staged.blank.bottom_mm + operation.overcut_mm if None in floors else -min((z for z in floors if z is not None), default=-1.0))
        more["finish_depth_mm"], reasons["finish_depth_mm"] = propose_finish_depth(bit, species, staged.machine, settings, operation.finish_allowance_mm, depth)
    return operation.model_copy(update={"settings": settings, "reasons": reasons, "made_for": (species.id, staged.machine.name), **more})


def stale(route: Route, resolved: Resolved) -> list[tuple[Operation, Operation]]:
    """Return the operations whose settings were proposed for another wood or machine and would come out otherwise now, each with how."""
    out = []
    for setup in route.setups:
        frame = frame_of(setup, resolved.thickness_mm)
        staged, lies = stage_route(route.model_copy(update={"operations": []}), setup, frame), turned_resolved(lies_at(resolved, route, setup), frame)
        for op in (o for o in route.operations if o.setup == setup.id and o.made_for is not None):
            if op.made_for == (met_by(staged, lies, op).id, route.machine.name):
                continue
            new = renewed(staged, lies, op)
            walls = new.finish_depth_mm and op.finish_depth_mm and abs(new.finish_depth_mm / op.finish_depth_mm - 1) > LEAST
            if op.clearing is Clearing.ENGAGED or walls or any(abs(getattr(new.settings, f) / getattr(op.settings, f) - 1) > LEAST for f in FIELDS):
                out.append((op, new))
    return out


def renew_settings(route: Route, operation_id: str | None = None) -> Route:
    """Return the route with stale settings proposed anew, of one operation or of all."""
    for old, new in stale(route, resolve(route)):
        if operation_id in (None, old.id):
            route = route.model_copy(update={"operations": [new if o.id == old.id else o for o in route.operations]})
            if old.clearing is Clearing.ENGAGED:
                route = choose_clearing(route, old.id, Clearing.ENGAGED)
    return route
