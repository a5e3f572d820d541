"""Choose how a pocket is cleared, with the settings that go with it."""

from __future__ import annotations

from ..cutting.settings import propose_engaged, propose_settings
from ..errors import InputError
from ..instrument.floors import FollowingFloor
from ..instrument.resolve import resolve
from ..materials.layers import wood_met
from ..route import Route
from ..vocabulary import Clearing, OperationKind

FIELDS = ("feed_mm_min", "plunge_mm_min", "speed_rpm", "depth_of_cut_mm", "stepover_mm")


def choose_clearing(route: Route, operation_id: str, clearing: Clearing) -> Route:
    """Return the route with one pocket cleared another way; what a person has set by hand stays.

    Raises:
        InputError: no such operation, or none that clears a pocket.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.POCKET:
        raise InputError("Only an operation that clears a pocket can be cleared another way.", where=operation_id)
    resolved = resolve(route)
    solids = [resolved.solid(f) for f in operation.features if f in resolved.solids]
    if clearing is Clearing.ENGAGED and any(isinstance(s.surface, FollowingFloor) for s in solids):
        raise InputError(f"{operation.name} has a floor that follows the other face; it is cleared in rings.", where=operation_id)
    through = any(s.floor_mm is None for s in solids)
    bit, species = route.bit(operation.bit), wood_met(route, None if through or not solids else min(s.floor_mm for s in solids if s.floor_mm is not None))
    proposal = propose_settings(operation.kind, bit, species, route.machine)
    if clearing is Clearing.ENGAGED:
        depth = route.blank.thickness_mm + operation.overcut_mm if through else max([s.deep_mm(resolved.thickness_mm) for s in solids], default=1.0)
        told = {"speed_rpm": operation.settings.speed_rpm} if "speed_rpm" in operation.told else {}
        proposal = propose_engaged(
            bit,
            species,
            route.machine,
            proposal.settings.model_copy(update=told),
            operation.engaged_deg,
            max(depth, 0.1),
        )
    new = {f: getattr(proposal.settings, f) for f in FIELDS if f not in operation.told}
    reasons = {**operation.reasons, **{f: proposal.reasons[f] for f in new if f in proposal.reasons}}
    changed = operation.model_copy(update={"clearing": clearing, "settings": operation.settings.model_copy(update=new), "reasons": reasons, "made_for": (species.id, route.machine.name)})
    return route.model_copy(update={"operations": [changed if o.id == operation_id else o for o in route.operations]})
