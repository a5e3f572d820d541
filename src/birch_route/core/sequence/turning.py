"""Turn a piece over: one setup more, found again by index holes."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..gluing import base_setup
from ..instrument.placing import thickness_of
from ..quantities import mm
from ..route import Operation, Route, Setup, Zero
from ..stages import bed_points, onto_holes, pins_between
from ..vocabulary import BenchKind, Face, OperationKind, TurnAxis
from .index import index_holes
from .pins import pin_step, pins_are_made
from .propose import propose_route, with_touch_offs


def turn_over(route: Route, about: TurnAxis) -> Route:
    """Return a route with a setup more, the other face up: the same screws and clamps, index holes on the turning axis where there are none,
    the outline moved to it. Operations that stand keep their settings.

    Raises:
        InputError: turned over too often.
        InfeasibleError: no bit of the rack can cut what lies on that face.
    """
    last = route.setups[-1]
    face = Face.BACK if last.face is Face.FRONT else Face.FRONT
    if len(route.setups) >= 4:
        raise InputError("A route turns the piece over at most three times.", where="setups")
    names = {s.id for s in route.setups}
    name = next(n for n in (face.value, *(f"{face.value}{k}" for k in range(2, 9))) if n not in names)
    features, datum = list(route.piece.features), next((s.datum for s in route.setups if s.datum), None)
    if datum is None:
        hole = index_holes(route, about)
        if hole is not None:
            taken = {f.id for f in features}
            if hole.id in taken:  # the piece has holes of that name of its own
                hole = hole.model_copy(update={"id": next(f"{hole.id}_{k}" for k in range(2, 99) if f"{hole.id}_{k}" not in taken), "name": "Index holes for turning over"})
            datum = hole.id
            features.insert(0, hole)
    setup = Setup(id=name, name=f"{face.value.capitalize()} face up", face=face, turned_about=about, datum=datum, blank_at_mm=last.blank_at_mm, zero=Zero(),
                  hardware=last.hardware, clearance_mm=last.clearance_mm, park_mm=last.park_mm)
    if datum is not None:
        setup = _over_pins(route, setup, next(f.points for f in features if f.id == datum))
    setups = [s.model_copy(update={"datum": s.datum or datum}) if s is base_setup(route) else s for s in route.setups] + [setup]
    outline = route.piece.outline.id
    kept = [o for o in route.operations if not (o.kind is OperationKind.PROFILE and outline in o.features)]
    changed = route.model_copy(update={"setups": setups, "operations": kept, "piece": route.piece.model_copy(update={"features": features}),
                                       "bench_steps": [s.model_copy(update={"after": None}) if s.after not in {o.id for o in kept} else s for s in route.bench_steps]})
    proposed = propose_route(changed)
    fresh = [o for o in proposed.operations if o.setup == name or (datum and datum in o.features and datum not in {f for k in kept for f in k.features})]
    operations: list[Operation] = []
    for one in setups:
        new = [o for o in fresh if o.setup == one.id]
        operations += with_touch_offs([*new, *(o for o in kept if o.setup == one.id)])
    last_of = {o.setup: o.id for o in operations}
    end = operations[-1].id if operations else None
    steps = [s.model_copy(update={"after": end}) if s.after is None and not s.gate and s.id in {x.id for x in route.bench_steps if x.after} else s for s in changed.bench_steps]
    turn = BenchStep(id=f"turn_{name}", name=f"Turn over, {face.value} face up", minutes=figures()["minutes"]["turn_over"], after=last_of.get(last.id), kind=BenchKind.OTHER,
                     note=f"About its {about.value}. Index holes on the same pins; clear chips from under it; find X, Y and Z again before the first cut.")
    done = changed.model_copy(update={"operations": operations, "bench_steps": [*steps, turn]})
    if pins_are_made(done, setup):
        return done
    return done.model_copy(update={"bench_steps": [*steps, pin_step(done, setup), turn]})


def _over_pins(route: Route, setup: Setup, points: list[tuple[float, float]]) -> Setup:
    """Return a setup with the blank where its index holes stand over the pins of the first setup."""
    shift, _ = pins_between(*(bed_points(route, s, points, thickness_of(route)) for s in (base_setup(route), setup)))
    return setup.model_copy(update={"blank_at_mm": (max(0.0, round(setup.blank_at_mm[0] + shift[0], 3)), max(0.0, round(setup.blank_at_mm[1] + shift[1], 3)))})


def over_pins(route: Route) -> Route:
    """Return a route whose later setups all lie over the pins of the first, as after it was mirrored; the first over the machine's own index holes where its holes fit them."""
    found = {f.id: f.points for f in route.features if f.kind == "hole"}
    first = base_setup(route)
    datum = next((s.datum for s in route.setups if s.datum in found), None)
    if datum is not None and len(route.machine.index_holes_mm) > 1:
        shift = onto_holes(list(route.machine.index_holes_mm), bed_points(route, first, found[datum], thickness_of(route)), figures()["bed"]["pins_fit_mm"])
        if shift is not None and min(first.blank_at_mm[0] + shift[0], first.blank_at_mm[1] + shift[1]) >= 0:
            moved = first.model_copy(update={"blank_at_mm": (round(first.blank_at_mm[0] + shift[0], 3), round(first.blank_at_mm[1] + shift[1], 3))})
            route = route.model_copy(update={"setups": [moved if s is first else s for s in route.setups]})
    return route.model_copy(update={"setups": [_over_pins(route, s, found[s.datum]) if s is not base_setup(route) and s.datum in found else s for s in route.setups]})


def rest_and_skim(route: Route, setup_id: str) -> Route:
    """Return the route with a rest, a measuring and a skim of the back before a setup; the blank is planned thicker by the skim.

    Raises:
        InputError: no setup that turns the back up after another.
    """
    at = next((k for k, s in enumerate(route.setups) if s.id == setup_id), 0)
    if at == 0 or route.setups[at].face is not Face.BACK:
        raise InputError("Only before the back is turned up can the piece rest and be skimmed there.", where=setup_id)
    fig, before = figures()["one_sided"], route.setups[at - 1].id
    last = next((o.id for o in reversed(route.operations) if o.setup == before), None)
    more = 0.0 if route.blank.skim_back_mm > 0.05 else fig["skim_mm"]
    blank = route.blank.model_copy(update={"skim_back_mm": route.blank.skim_back_mm + more, "thickness_mm": round(route.blank.thickness_mm + more, 4)})
    if blank.layers and more:
        blank = blank.model_copy(update={"layers": [*blank.layers[:-1], blank.layers[-1].model_copy(update={"thickness_mm": round(blank.layers[-1].thickness_mm + more, 4)})]})
    changed = route.model_copy(update={"blank": blank})
    operations: list[Operation] = []
    for one in route.setups:
        here = [o for o in route.operations if o.setup == one.id]
        if one.id == setup_id and not any(o.kind is OperationKind.FACE for o in here):
            bare = changed.model_copy(update={"operations": [o for o in route.operations if o.setup != setup_id]})
            here = [*(o for o in propose_route(bare).operations if o.setup == setup_id and o.kind is OperationKind.FACE), *here]
        operations += with_touch_offs(here)
    used = {o.id for o in operations if o.setup != setup_id}
    operations = [o.model_copy(update={"id": f"{o.id[:30]}_{setup_id}"}) if o.setup == setup_id and o.kind is OperationKind.FACE and o.id in used else o for o in operations]
    names = {f"rest_{setup_id}", f"flat_{setup_id}"}
    rest = [
        BenchStep(
            id=f"rest_{setup_id}"[:40],
            name="Let it rest",
            minutes=fig["rest_min"],
            after=last,
            wait=True,
            gate=True,
            kind=BenchKind.REST,
            note="Free of the clamps, air on both faces, out of the sun.",
        ),
        BenchStep(
            id=f"flat_{setup_id}"[:40],
            name="Measure how flat it lies",
            minutes=figures()["glue"]["mark_min"],
            after=last,
            gate=True,
            kind=BenchKind.MEASURE,
            note=f"Straightedge along, across and corner to corner. Up to {mm(blank.skim_back_mm):g} is skimmed off "
            f"the back; more than that: let it rest longer, or plane it first.",
        ),
    ]
    turned = [s for s in route.bench_steps if s.id not in names]
    place = next((k for k, s in enumerate(turned) if s.id == f"turn_{setup_id}"), len(turned))
    return changed.model_copy(update={"operations": operations, "bench_steps": [*turned[:place], *rest, *turned[place:]]})
