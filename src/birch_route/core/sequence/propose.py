"""Propose a route: operations from features, bits and machine, in an order with reasons."""

from __future__ import annotations

from ..bits.model import Bit
from ..cutting.mechanics import load
from ..cutting.settings import propose_finish_depth, propose_settings, reaches_chip_load
from ..data import figures
from ..errors import InfeasibleError
from ..gluing import base_setup, is_before, lies_at
from ..holding.contacts import lifts_by
from ..instrument.channels import ChannelFloor
from ..instrument.resolve import Resolved, Solid, cut_region, resolve
from ..instrument.rims import Rim
from ..materials.layers import wood_met
from ..operations.channelling import out_of_reach
from ..operations.edging import fits_edge
from ..plane.regions import buffer_round, opened, polygons
from ..quantities import mm
from ..route import Operation, Route, Setup
from ..stages import frame_of, stage_route, turned_resolved
from ..vocabulary import MILLS, BitForm, Entry, FinishClass, OperationKind, Side
from .board import in_board_order, propose_slots
from .made_on import numbered, stamped
from .neck import in_neck_order, propose_back
from .pocket_price import by_price
from .surfaces import propose_surface
from .tabs import NOWHERE, Tabs, beside_ledges, held_times, kept_off, propose_tabs, taken_below, taken_under


def propose_route(route: Route) -> Route:
    """Return the route with its operations made anew, setup by setup.

    Order in a setup: index holes, facing, holes that a drill or small bit makes while the blank is whole, pockets from
    shallow to deep and by bit. What goes through is made in the first setup; the outline, which frees it, in the last.

    Raises:
        InfeasibleError: no bit of the rack can make anything of the piece.
    """
    if not [b for b in route.bits if b.form in MILLS or b.form is BitForm.DRILL]:
        raise InfeasibleError("The rack holds no bit that can cut this piece. Add a flat bit or a drill.", where="bits")
    resolved, operations = resolve(route), []
    for setup in route.setups:
        staged, lies = staged_for(route, resolved, setup)
        operations += with_touch_offs(_setup_operations(route, staged, lies, setup))
    made = stamped(numbered(operations), route, resolved)
    there = {o.id for o in made}
    steps = [s.model_copy(update={"after": None}) if s.after and s.after not in there else s for s in route.bench_steps]
    return route.model_copy(update={"operations": made, "bench_steps": steps})


def staged_for(route: Route, resolved: Resolved, setup: Setup) -> tuple[Route, Resolved]:
    """Return a setup's route without operations, and the piece's geometry, both in its frame."""
    frame = frame_of(setup, resolved.thickness_mm)
    return stage_route(route.model_copy(update={"operations": []}), setup, frame), turned_resolved(lies_at(resolved, route, setup), frame)


def _setup_operations(route: Route, staged: Route, resolved: Resolved, setup: Setup) -> list[Operation]:
    first, last = setup.id == base_setup(route).id, setup.id == route.setups[-1].id
    done_before = {s.face for s in route.setups[: [s.id for s in route.setups].index(setup.id)] if is_before(route, s) == is_before(route, setup)}
    operations: list[Operation] = []
    if staged.blank.skim_mm > 0.01:
        operations.append(_facing(staged))
    for solid in resolved.on(staged.setups[0].face):
        if (solid.floor_mm is None and first) or (solid.floor_mm is not None and setup.face not in done_before):
            operations += propose_for(staged, resolved, solid)
    sloped = [o for o in operations if o.kind in (OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH)]
    rough = [o for o in sloped if o.kind is OperationKind.SURFACE_ROUGH]
    operations = _ordered(staged, resolved, [o for o in operations if o not in sloped]) + rough + [o for o in sloped if o not in rough]  # a drill would wander on a slope
    channels = [o for o in operations if resolved.solids.get((o.features or [""])[0]) is not None and resolved.solid(o.features[0]).kind == "channel"]
    operations = [o for o in operations if o not in channels] + channels  # the rim has its height by then
    operations = in_neck_order(in_board_order(operations, route.piece.board), route.piece.neck)
    for edge in resolved.rims.values():
        if edge.face is staged.setups[0].face and setup.face not in done_before:
            operations += propose_edge(staged, edge)
    data = {s.datum for s in route.setups if s.datum}
    index = [o for o in operations if set(o.features) & data]
    operations = index + [o for o in operations if o not in index]
    if last and route.piece.kind.is_cut_out:
        operations += propose_for(staged, resolved, resolved.solid(route.piece.outline.id))
    return operations


def with_touch_offs(operations: list[Operation]) -> list[Operation]:
    """Return operations with a touch-off before each bit change, and where a person asked for one."""
    out, before = [], None
    for op in operations:
        out.append(
            op.model_copy(
                update={"touch_off_before": op.bit != before or (op.touch_off_before and "touch_off_before" in op.told)}
            )
        )
        before = op.bit
    return out


def propose_for(route: Route, resolved: Resolved, solid: Solid) -> list[Operation]:
    """Return the operations that make one feature; none where no bit of the rack fits."""
    if solid.kind == "outline":
        return _outline(route, resolved, solid)
    if solid.kind == "hole":
        return _hole(route, solid)
    if solid.kind == "neck_back":
        return propose_back(route, solid)
    if solid.is_contour:
        return propose_surface(route, solid)
    if solid.kind == "fret_slots":
        return propose_slots(route, solid)
    if isinstance(solid.surface, ChannelFloor):
        return _channel(route, solid, solid.surface)
    return _pocket(route, resolved, solid)


def _operation(route: Route, kind: OperationKind, bit: Bit, solid: Solid | None, name: str, why_bit: str, **more) -> Operation:
    species = wood_met(route, 0.0 if solid is None else solid.floor_mm)
    proposal = propose_settings(kind, bit, species, route.machine)
    reasons = {"bit": why_bit, **proposal.reasons}
    if more.get("finish_pass", True) and solid is not None:
        depth = -route.blank.bottom_mm + more.get("overcut_mm", 0.4) if solid.floor_mm is None else -solid.floor_mm
        more["finish_depth_mm"], reasons["finish_depth_mm"] = propose_finish_depth(
            bit, species, route.machine, proposal.settings, more.get("finish_allowance_mm", 0.3), depth)
    return Operation(
        id=f"{kind.value}_{solid.id}"[:38] if solid else kind.value, name=name, kind=kind, setup=route.setups[0].id,
        features=[solid.id] if solid else [], bit=bit.id, settings=proposal.settings, reasons=reasons, made_for=(species.id, route.machine.name), **more)


def _flats(route: Route) -> list[Bit]:
    thin = figures()["fretboard"]["slots_only_mm"]  # thinner ones are for slots, where somebody wants them
    return sorted(
        (b for b in route.bits if b.form in MILLS and b.cut_diameter_mm >= thin), key=lambda b: -b.cut_diameter_mm
    )


def _facing(route: Route) -> Operation:
    flats = _flats(route)
    if not flats:
        raise InfeasibleError("Facing needs a flat bit and the rack has none.", where="bits")
    fed = [b for b in flats if reaches_chip_load(b, wood_met(route, 0.0), route.machine)]
    bit = (fed or flats)[0]
    why = "the widest bit faces fastest" if bit is flats[0] else f"the widest that {route.machine.name} can feed a full chip; the {flats[0].name} would rub"
    return _operation(route, OperationKind.FACE, bit, None, "Skim the face", why,
                      entry=Entry.RAMP, finish_pass=False, margin_mm=_facing_margin(route, bit))


def _facing_margin(route: Route, bit: Bit) -> float:
    """Return how far the facing goes beyond the outline: what the outline bit needs, less where hardware stands."""
    profile = _outline_bit(route)
    return round((profile.cut_diameter_mm if profile else 6.0) + 1.0, 1)


def _hole(route: Route, solid: Solid) -> list[Operation]:
    depth = (route.blank.thickness_mm if solid.floor_mm is None else -solid.floor_mm) + 0.5
    drills = [b for b in route.bits if b.form is BitForm.DRILL and abs(b.cut_diameter_mm - solid.diameter_mm) <= 0.1
              and b.cutting_length_mm >= depth]
    if drills:
        bit = drills[0]
        fig = figures()["drilling"]
        peck = bit.cut_diameter_mm * fig["peck_diameters"] if depth > fig["straight_up_to_diameters"] * bit.cut_diameter_mm else None
        op = _operation(route, OperationKind.DRILL, bit, solid, solid.name,
                        f"a drill of the hole's size, {mm(bit.cut_diameter_mm):g}", peck_mm=peck,
                        entry=Entry.PLUNGE, finish_pass=False)
        return [op]
    mills = [b for b in _flats(route) if b.cut_diameter_mm <= solid.diameter_mm * 0.92 and b.cutting_length_mm >= depth]
    mills = mills or [b for b in _flats(route) if b.cut_diameter_mm <= solid.diameter_mm * 0.92]
    if not mills:
        return []
    bit = mills[0]
    return [_operation(route, OperationKind.BORE, bit, solid, solid.name, "no drill of this size; the widest flat bit that goes round inside the hole",
                       finish_pass=False)]


def _pocket(route: Route, resolved: Resolved, solid: Solid) -> list[Operation]:
    """The widest bit that reaches every part of the pocket and its corners; else a wide one and a small one after it."""
    depth = -(solid.floor_mm or route.blank.bottom_mm)
    shown = solid.finish_class in (FinishClass.SHOWN, FinishClass.FITTED)
    fits = [b for b in _flats(route) if not (shown and b.serrated) and not buffer_round(cut_region(solid, b.radius_mm), -b.radius_mm).is_empty]
    long_enough = [b for b in fits if b.cutting_length_mm >= depth] or sorted(fits, key=lambda b: -b.cutting_length_mm)[:1]
    if not long_enough:
        return []
    whole = [b for b in long_enough if _left(resolved, solid, b) <= 0.35 and b.cut_diameter_mm <= 13]
    bit = whole[0] if whole else min(long_enough, key=lambda b: (round(_left(resolved, solid, b), 1), -b.cut_diameter_mm))
    why = "the widest bit that leaves no corner behind" if whole else "the bit that leaves the smallest corners"
    chosen = by_price(route, resolved, solid, bit, long_enough, depth)
    if chosen is not None:
        first, bit, why = chosen
        if first is not None:
            then = _cleared_by(route, solid, bit, why, depth, shown=shown).model_copy(update={"rest": True})
            before = propose_pocket_with(route, solid, first, f"goes first: {why}")
            return [before.model_copy(update={"id": f"{then.id[:34]}_1st", "name": f"{then.name}, first"[:80], "stock_to_leave_mm": then.finish_allowance_mm}), then]
    return [_cleared_by(route, solid, bit, why, depth, shown=shown)]


def _cleared_by(route: Route, solid: Solid, bit: Bit, why: str, depth: float, *, shown: bool) -> Operation:
    made = _operation(route, OperationKind.POCKET, bit, solid, solid.name, why, finish_pass=shown, finish_allowance_mm=0.3 if shown else 0.0)
    return (
        made
        if shown
        else made.model_copy(update={"reasons": {**made.reasons, "finish_pass": _spared(route, solid, made, depth)}})
    )


def propose_pocket_with(route: Route, solid: Solid, bit: Bit, why: str) -> Operation:
    """Return an operation that clears a pocket with a given bit."""
    return _operation(route, OperationKind.POCKET, bit, solid, solid.name, why, finish_pass=False, finish_allowance_mm=0.0)


def _channel(route: Route, solid: Solid, floor: ChannelFloor) -> list[Operation]:
    """The widest bit that gets into every hollow of the wall and takes the ledge in one round; else the one that leaves least."""
    bits = [b for b in _flats(route) if b.form is BitForm.FLAT and b.cut_diameter_mm <= 13 and b.cutting_length_mm >= floor.deepest_mm]
    if not bits:
        return []
    fig = figures()["level_bit"]
    left = {b.id: out_of_reach(floor, b.radius_mm).area for b in bits}
    whole = [b for b in bits if left[b.id] <= fig["hollow_mm2"] and float(floor.stands_mm(b.radius_mm).max()) <= fig["channel_mm"]]
    bit = whole[0] if whole else min(bits, key=lambda b: (round(left[b.id], 1), round(float(floor.stands_mm(b.radius_mm).max()), 2), -b.cut_diameter_mm))
    why = "the widest bit that gets into every hollow of the rim" if whole else "the bit that leaves least in the hollows of the rim and where it rises"
    return [_operation(route, OperationKind.PROFILE, bit, solid, solid.name, why, side=Side.OUTSIDE, entry=Entry.RAMP, overcut_mm=0.0)]


def _spared(route: Route, solid: Solid, operation: Operation, depth_mm: float) -> str:
    """Return why a wall that nobody sees gets no pass of its own, with the minutes that would take: length of the wall times passes over feed."""
    bit, s = route.bit(operation.bit), operation.settings
    deep, _ = propose_finish_depth(bit, wood_met(route, solid.floor_mm), route.machine, s, 0.3, depth_mm)
    minutes = cut_region(solid, bit.radius_mm).length * max(1, round(depth_mm / deep)) / s.feed_mm_min
    where = f" under {solid.hidden_by}" if solid.hidden_by else ""
    return f"{solid.finish_class.value}{where}: nobody sees this wall, so it gets no pass of its own; that spares {minutes:.1f} min"


def _left(resolved: Resolved, solid: Solid, bit: Bit) -> float:
    """Return the area of the corners a bit leaves, mm2; of what is drawn beyond the piece, those in the piece."""
    region = cut_region(solid, bit.radius_mm)
    left = region.difference(opened(region, bit.radius_mm).buffer(0.02))
    return left.area if solid.is_open else left.intersection(resolved.outline).area


def _outline_bit(route: Route) -> Bit | None:
    depth = route.blank.thickness_mm - route.blank.skim_mm + 0.4
    long_enough = [b for b in _flats(route) if b.cutting_length_mm >= depth and b.cut_diameter_mm <= 13 and not b.serrated]
    longest = sorted(_flats(route), key=lambda b: -b.cutting_length_mm)
    return long_enough[0] if long_enough else (longest[0] if longest else None)


def _outline(route: Route, resolved: Resolved, solid: Solid) -> list[Operation]:
    bit = _outline_bit(route)
    if bit is None:
        return []
    made = _operation(route, OperationKind.PROFILE, bit, solid, solid.name, "the widest bit long enough to go through", side=Side.OUTSIDE,
                      entry=Entry.RAMP, overcut_mm=min(0.4, route.machine.waste_cut_mm))
    return [with_proposed_tabs(route, resolved, made)]


WIDEST_MM = 60.0  # a tab can be


def propose_edge(route: Route, rim: Rim) -> list[Operation]:
    """Return the operation that works an edge; none where no bit of the rack has its form."""
    bits = sorted((b for b in route.bits if fits_edge(b, rim)), key=lambda b: b.cut_diameter_mm)
    if not bits:
        return []
    made = _operation(route, OperationKind.EDGE, bits[0], None, rim.name[:80], "the narrowest with the form of the edge", entry=Entry.RAMP, finish_pass=False)
    return [made.model_copy(update={"id": f"edge_{rim.edge}"[:38], "edge": rim.edge})]


def with_proposed_tabs(route: Route, resolved: Resolved, operation: Operation) -> Operation:
    """Return a profile operation with tabs proposed for the piece it cuts free, so many and so wide that they hold it; route and geometry in its setup's frame."""
    bit, s = route.bit(operation.bit), operation.settings
    species = wood_met(route, None)
    force = load(bit, species, route.machine, s.feed_mm_min, s.speed_rpm, s.depth_of_cut_mm, bit.cut_diameter_mm).force_n
    if operation.finish_pass and operation.finish_allowance_mm > 0:
        force = max(force, load(bit, species, route.machine, s.feed_mm_min, s.speed_rpm, operation.finish_depth_mm or route.blank.thickness_mm, operation.finish_allowance_mm).force_n)
    region = polygons(resolved.solid(operation.features[0]).region)[0]
    outside = operation.side is Side.OUTSIDE
    keep_off, over = (kept_off(resolved), taken_below(resolved)) if outside else (NOWHERE, 0.0)
    thick, lifts, needs = route.blank.thickness_mm, lifts_by(bit), figures()["holding"]["factor_freed"] * HELD_MARGIN

    def proposed(least: int) -> tuple[Tabs, float]:
        tabs = propose_tabs(
            region, thick, keep_off, force, inside=not outside, over_mm=over, least=least,
            most_mm=beside_ledges(resolved, -route.blank.bottom_mm),
        )
        return tabs, held_times(
            region, tabs.tabs, species, thick, force, lifts, taken_under(region, tabs.tabs, keep_off, over)
        )

    tabs, times = proposed(0)
    first = len(tabs.tabs)
    for least in range(first, first + MORE_TABS):
        tabs, times = proposed(least)
        if times >= needs:
            break
    else:
        wider = needs / max(times, 0.1)
        most = min(WIDEST_MM, region.exterior.length / (3 * max(1, len(tabs.tabs))))
        tabs = Tabs([t.model_copy(update={"width_mm": round(min(t.width_mm * wider, most), 1)}) for t in tabs.tabs],
                    tabs.reason)
    times = held_times(region, tabs.tabs, species, thick, force, lifts, taken_under(region, tabs.tabs, keep_off, over))
    return operation.model_copy(
        update={
            "tabs": tabs.tabs,
            "skin_mm": 0.0,
            "groove_mm": None,
            "reasons": {
                **operation.reasons,
                "tabs": f"{tabs.reason}; together they hold the freed piece {times:.1f} times",
            },
        }
    )


MORE_TABS = 5
HELD_MARGIN = 1.08  # a proposal stands clear of the limit by so much


def _ordered(route: Route, resolved: Resolved, operations: list[Operation]) -> list[Operation]:
    """Facing, then holes not inside pockets, then pockets by bit (wide before narrow, an enclosing pocket before what
    lies in it), then holes inside pockets, grouped so that bits change least."""
    facing = [o for o in operations if o.kind is OperationKind.FACE]
    rest = [o for o in operations if o.kind is not OperationKind.FACE]
    done: list[Operation] = []
    bit = facing[-1].bit if facing else None
    while rest:
        ready = [o for o in rest if not any(_before(resolved, p, o) for p in rest if p is not o)] or rest
        same = [o for o in ready if o.bit == bit]
        if not same:
            widths = {o.bit: route.bit(o.bit).cut_diameter_mm for o in ready}
            count = {b: sum(o.bit == b for o in rest) for b in widths}
            bit = max(widths, key=lambda b: (route.bit(b).form is BitForm.DRILL, count[b], widths[b]))
            same = [o for o in ready if o.bit == bit]
        same.sort(key=lambda o: -(resolved.solid(o.features[0]).floor_mm or -1e3))
        done.append(same[0])
        rest.remove(same[0])
    return facing + done


def _before(resolved: Resolved, first: Operation, then: Operation) -> bool:
    """Say whether an operation has to come before another: the pocket around it, as that lowers where it starts."""
    if first.kind is not OperationKind.POCKET:
        return False
    if then.rest and not first.rest and first.features == then.features:
        return True
    one, other = resolved.solid(first.features[0]), resolved.solid(then.features[0])
    return one.id != other.id and one.region.contains(other.region) and (
        other.floor_mm is None or (one.floor_mm is not None and one.floor_mm > other.floor_mm))
