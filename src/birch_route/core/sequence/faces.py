"""Which face is worked first: two setups change places, and what belongs to the first or the last one goes with it."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..gluing import glued_layers
from ..instrument.resolve import resolve
from ..route import Operation, Route
from ..vocabulary import BenchKind, Face, OperationKind
from .outline import in_school
from .pair import linked
from .pins import pin_step, pins_are_made
from .propose import staged_for, with_touch_offs
from .turning import over_pins


def first_face(route: Route, face: Face) -> Route:
    """Return the route with its two setups in the order that turns a face up first: index holes are made in the first
    one, the outline in the last, its tabs proposed anew as they lie there; every other operation stays with its face.

    Raises:
        InputError: not two setups of which one turns each face up, or one that can only come second.
    """
    if len(route.setups) != 2 or {s.face for s in route.setups} != {Face.FRONT, Face.BACK}:
        raise InputError(
            "Only of two setups, one for each face, can the first be chosen. Turn the piece over first.", where="setups"
        )
    if route.setups[0].face is face:
        raise InputError(f"The {face.value} is worked first already.", where="setups")
    if glued_layers(route):
        raise InputError(
            "A layer is glued on the front between the setups: what lies under it is cut first.", where="setups"
        )
    old_first, old_last = route.setups
    resting = [s.name for s in route.bench_steps if s.id in (f"rest_{old_last.id}", f"flat_{old_last.id}")]
    if resting:
        raise InputError(
            f"{resting[0]} is planned before {old_last.name}. Take it off the bench first.", where="bench_steps"
        )
    lies = {"zero": old_first.zero, "blank_at_mm": old_first.blank_at_mm, "test_pair": None}
    first = old_last.model_copy(update=lies)
    last = old_first.model_copy(update={"zero": old_last.zero, "test_pair": None})
    turned = over_pins(route.model_copy(update={"setups": [first, last]}))
    operations = _placed(turned, [s.datum for s in route.setups if s.datum])
    done = linked(turned.model_copy(update={"operations": operations, "bench_steps": []}))
    done = _outline_anew(done)
    return done.model_copy(update={"bench_steps": _steps(route, done)})


def _placed(route: Route, data: list[str]) -> list[Operation]:
    """Return the operations in the new order of the setups: those of the index holes first, of the outline last."""
    first, last = route.setups
    outline = route.piece.outline.id
    out: list[Operation] = []
    index = [o.model_copy(update={"setup": first.id}) for o in route.operations if set(o.features) & set(data)]
    rims = [o.model_copy(update={"setup": last.id}) for o in route.operations if outline in o.features]
    moved = {o.id for o in [*index, *rims]}
    for setup in route.setups:
        here = [o for o in route.operations if o.setup == setup.id and o.id not in moved]
        out += with_touch_offs([*(index if setup is first else []), *here, *(rims if setup is last else [])])
    return out


def _outline_anew(route: Route) -> Route:
    """Return the route with the tabs, skin or groove of its outline proposed as it lies in its setup."""
    resolved, setup = resolve(route), route.setups[-1]
    staged, lies = staged_for(route, resolved, setup)
    out = []
    for op in route.operations:
        if op.kind is OperationKind.PROFILE and route.piece.outline.id in op.features and (
                op.finishes is None and op.down_to_mm is None):
            op = in_school(staged, lies, op.model_copy(update={"tabs": []}), op.school)
        out.append(op)
    return linked(route.model_copy(update={"operations": out}))


def _steps(before: Route, route: Route) -> list[BenchStep]:
    """Return the bench steps: each after what it came after, the turning over and its pins made anew between."""
    first, last = route.setups
    old = before.setups[-1]
    own = {f"turn_{old.id}", f"pins_{old.id}"[:40]}
    end = [o.id for o in route.operations if o.setup == first.id]
    note = next((s.note for s in before.bench_steps if s.id == f"turn_{old.id}"), "")
    turn = BenchStep(
        id=f"turn_{last.id}", name=f"Turn over, {last.face.value} face up", minutes=figures()["minutes"]["turn_over"],
        after=end[-1] if end else None, kind=BenchKind.OTHER, note=note,
    )
    kept = [s for s in before.bench_steps if s.id not in own]
    bare = route.model_copy(update={"bench_steps": kept})
    return [*kept, turn] if pins_are_made(bare, last) else [*kept, pin_step(bare, last), turn]
