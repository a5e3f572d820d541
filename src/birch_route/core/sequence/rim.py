"""A pocket or a contour in two depths: one bit cuts the rim, pushing its fibres down, another what lies below, lifting
its chips out."""

from __future__ import annotations

from ..bits.model import Bit
from ..cutting.settings import propose_settings
from ..cutting.tear_out import rim_risk
from ..data import figures
from ..errors import InputError
from ..instrument.floors import FollowingFloor
from ..instrument.resolve import Resolved, Solid, resolve
from ..materials.layers import wood_on_top
from ..quantities import mm
from ..route import Operation, Route
from ..stages import frame_of, stage_route
from ..vocabulary import BitForm, FinishClass, Flute, LayerKind, OperationKind
from .propose import propose_pocket_with, staged_for, with_touch_offs

WALLS = (OperationKind.POCKET, OperationKind.PROFILE)
SEEN = (FinishClass.SHOWN, FinishClass.FITTED)
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


def frays(staged: Route, lies: Resolved, operation: Operation) -> float:
    """Return the risk, 0 to 1, that this operation frays an upper rim that is seen or fitted; 0 where it makes none.

    Args:
        staged: the route in the operation's setup's frame, with the operations of that setup. lies: the piece's geometry there.
    """
    if operation.kind is not OperationKind.POCKET or operation.along_wall or operation.rest or staged.blank.upright:
        return 0.0  # on end grain the fibres stand up already
    if any(o.down_to_mm is not None and o.id != operation.id and set(o.features) & set(operation.features) for o in staged.operations):
        return 0.0  # cut before, by another bit
    if not any(s.finish_class in SEEN for f in operation.features if (s := lies.solids.get(f)) is not None):
        return 0.0
    return rim_risk(wood_on_top(staged), staged.bit(operation.bit).flute)


def clean_rim(route: Route, operation_id: str) -> Route:
    """Return the route with a pocket's rim cut clean by the widest bit that does so: first, with this operation's bit below it; of a pocket no deeper than a rim all of it.

    Raises:
        InputError: no operation that clears a pocket in one go, or no bit of the route leaves a clean rim in it.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.POCKET:
        raise InputError("Only an operation that clears a pocket has a rim to be cut clean.", where=operation_id)
    resolved = resolve(route)
    deep = max((s.deep_mm(resolved.thickness_mm) for f in operation.features if (s := resolved.solids.get(f)) is not None), default=0.0)
    fits = rim_bits(route, operation)
    if not fits:
        raise InputError("No bit of this route leaves a clean rim in this pocket. Add a down-cut one that gets into its corners.", where="bits")
    if deep > rim_depth_mm(route) + 0.1 and operation.down_to_mm is None:
        return choose_rim(route, operation_id, fits[0].id)
    long = next((b for b in fits if b.cutting_length_mm >= deep), None)
    if long is None:
        raise InputError(f"No bit that leaves a clean rim is long enough for {mm(deep):.1f}.", where="bits")
    staged, lies = staged_for(route, resolved, route.setup(operation.setup))
    made = propose_pocket_with(staged, lies.solid(operation.features[0]), long, "leaves a clean rim")
    keep = (
        "id",
        "name",
        "setup",
        "features",
        "direction",
        "stock_to_leave_mm",
        "finish_pass",
        "finish_allowance_mm",
        "down_to_mm",
    )
    new = made.model_copy(update={k: getattr(operation, k) for k in keep})
    operations: list[Operation] = []
    for setup in route.setups:
        operations += with_touch_offs([new if o.id == operation_id else o for o in route.operations if o.setup == setup.id])
    return route.model_copy(update={"operations": operations})


def clean_rims(route: Route) -> Route:
    """Return the route with every rim cut clean that would fray, as far as its bits can, one after the other, so that a bit is changed once."""
    resolved, told = resolve(route), figures()["tear_out"]["rim_told"]
    for setup in route.setups:
        clean: list[str] = []
        _, lies = staged_for(route, resolved, setup)
        for op in [o for o in route.operations if o.setup == setup.id]:
            staged = stage_route(route, setup, frame_of(setup, resolved.thickness_mm))
            if frays(staged, lies, op) >= told:
                try:
                    route = clean_rim(route, op.id)
                except InputError:
                    continue  # the proof tells of it
                clean.append(op.id if route.operation(rim_id(op.id)) is None else rim_id(op.id))
        if clean:
            first = clean[0]
            moved = [o for o in route.operations if o.id in clean[1:]]
            others = [o for o in route.operations if o.id not in clean[1:]]
            at = next(k for k, o in enumerate(others) if o.id == first) + 1
            ordered = [*others[:at], *moved, *others[at:]]
            route = route.model_copy(update={"operations": [o for s in route.setups for o in with_touch_offs([x for x in ordered if x.setup == s.id])]})
    return route


def choose_rim(route: Route, operation_id: str, bit_id: str | None, down_to_mm: float | None = None) -> Route:
    """Return the route where another bit is the first along a pocket or a contour, down to its rim's depth, or one bit
    does all of it.

    The second operation begins where the first ended, and both leave the same on the wall, so that there is no step.

    Raises:
        InputError: no operation that makes a wall at once, a bit that does not fit, or a depth that leaves nothing
            below.
    """
    operation = route.operation(operation_id)
    if operation is None or operation.kind not in WALLS or operation.along_wall or operation.rest or (
            operation.down_to_mm is not None):
        raise InputError(
            "Only an operation that clears a pocket or cuts a contour in one go can have its rim cut by another bit.",
            where=operation_id,
        )
    shared = [o for o in route.operations if set(o.features) & set(operation.features)]
    if bit_id is not None and any(o.wall_only for o in shared):
        raise InputError(
            f"{operation.name} creeps up on its fit: cut it to size at once first, then its rim.", where=operation_id
        )
    if any(o.finishes == operation_id for o in route.operations):
        raise InputError(
            f"Another operation takes the last pass of {operation.name}: a rim apart from it leaves a step.",
            where=operation_id,
        )
    own = rim_id(operation_id)
    kept = [o for o in route.operations if o.id != own]
    new = [operation] if bit_id is None else [_rim(route, operation, bit_id, down_to_mm), operation]
    at = next(k for k, o in enumerate(kept) if o.id == operation_id)
    placed = [*kept[:at], *new, *kept[at + 1:]]
    operations: list[Operation] = []
    for setup in route.setups:
        operations += with_touch_offs([o for o in placed if o.setup == setup.id])
    steps = [s.model_copy(update={"after": operation_id}) if s.after == own else s for s in route.bench_steps]
    return route.model_copy(update={"operations": operations, "bench_steps": steps})


def _rim(route: Route, operation: Operation, bit_id: str, down_to_mm: float | None) -> Operation:
    """Return the operation that cuts the rim before another."""
    if bit_id not in {b.id for b in rim_bits(route, operation)}:
        raise InputError(
            "The bit that cuts the rim must be a flat one, no wider, that does not lift its chips: down-cut, "
            "straight or compression.", where="bit",
        )
    resolved, deep = resolve(route), down_to_mm or rim_depth_mm(route)
    if not leaves_below(resolved, operation, deep):
        raise InputError(f"A rim {mm(deep):g} deep leaves nothing below it to cut.", where="down_to_mm")
    solids = [resolved.solids[f] for f in operation.features if f in resolved.solids]
    staged, lies = staged_for(route, resolved, route.setup(operation.setup))
    bit = staged.bit(bit_id)
    why = f"cuts the rim clean; {route.bit(operation.bit).name} takes what lies below"
    keep = ("setup", "features", "direction", "stock_to_leave_mm", "finish_pass", "finish_allowance_mm")
    shared = {k: getattr(operation, k) for k in keep}
    own = {"id": rim_id(operation.id), "name": f"{operation.name}, rim"[:80], "down_to_mm": deep}
    if operation.kind is OperationKind.POCKET:
        made = propose_pocket_with(staged, lies.solid(solids[0].id), bit, why)
        return made.model_copy(update={**shared, **own, "finish_depth_mm": made.finish_depth_mm or deep})
    settings = propose_settings(operation.kind, bit, wood_on_top(staged), route.machine).settings
    return operation.model_copy(update={
        **own, "bit": bit.id, "settings": settings, "finish_depth_mm": deep, "tabs": [], "skin_mm": 0.0,
        "groove_mm": None, "told": [], "reasons": {"bit": why}, "spring_passes": 0, "touch_off_before": False,
    })


def leaves_below(resolved: Resolved, operation: Operation, deep_mm: float) -> bool:
    """Say whether a rim so deep leaves wood below it that the operation cuts."""
    solids = [resolved.solids[f] for f in operation.features if f in resolved.solids]
    return bool(solids) and deep_mm <= _most(operation, solids, resolved.thickness_mm) - 0.1


def _most(operation: Operation, solids: list[Solid], thickness_mm: float) -> float:
    """Return the depth from the face that an operation goes to everywhere, mm; none over a floor that follows."""
    if any(isinstance(s.surface, FollowingFloor) for s in solids):
        return 0.0
    if operation.kind is OperationKind.PROFILE and operation.groove_mm is not None:
        return operation.groove_mm
    standing = max([operation.skin_mm, *(t.height_mm for t in operation.tabs)], default=0.0)
    return min(thickness_mm - standing if s.floor_mm is None else s.deep_mm(thickness_mm) for s in solids)
