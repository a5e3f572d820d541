"""Glue a cap on between setups: chambers are cut into the core in a setup of their own, then the layer goes on and the rest is cut through it."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..gluing import base_setup, glued_layers, is_before
from ..materials.bench_work import glue_steps, with_blank_steps
from ..piece import Pocket
from ..route import Operation, Route
from ..vocabulary import BenchKind, Face, LayerKind, OperationKind
from .propose import with_touch_offs

CORE = "core"  # id of the setup before the layer is on


def glue_between(route: Route, layer_id: str, between: bool = True) -> Route:
    """Return the route with the layers down to one glued on after the core was worked, or before everything as at first.

    Chambers go under the layer with their operations. The core's setup holds the blank as the first setup did.

    Raises:
        InputError: no such cap or veneer over another layer, or the route begins with the back.
    """
    layers = route.blank.layers
    at = next((k for k, layer in enumerate(layers) if layer.id == layer_id), None)
    if not between:
        return _all_at_first(route)
    if at is None or at == len(layers) - 1 or any(layer.kind not in (LayerKind.CAP, LayerKind.VENEER) for layer in layers[: at + 1]):
        raise InputError("Only a cap or veneer over a core can be glued on between setups.", where=layer_id)
    first = base_setup(route)
    if first.face is not Face.FRONT:
        raise InputError("The first setup must turn the front up, which the layer goes on.", where="setups")
    if len(route.setups) >= 4:
        raise InputError("A route has at most four setups.", where="setups")
    route = _all_at_first(route)
    core = first.model_copy(update={"id": CORE, "name": "Core, front face up", "datum": None})
    glued = [layer.model_copy(update={"glued_before": first.id if k <= at else None}) for k, layer in enumerate(layers)]
    changed = route.model_copy(update={"blank": route.blank.model_copy(update={"layers": glued}), "setups": [core, *route.setups]})
    under = {f.id for f in route.piece.features if isinstance(f, Pocket) and f.id.startswith("chamber_") and f.face is Face.FRONT}
    for name in sorted(under):
        changed = _placed(changed, name, True)
    return _stepped(changed)


def cover(route: Route, feature_id: str, covered: bool) -> Route:
    """Return the route with a pocket under the glued layer, or cut through it; its operations move along.

    Raises:
        InputError: no pocket of the front, or no layer that is glued on between setups.
    """
    feature = next((f for f in route.piece.features if f.id == feature_id), None)
    if not isinstance(feature, Pocket) or feature.face is not Face.FRONT or not glued_layers(route):
        raise InputError("Only a pocket of the front can lie under a layer that is glued on between setups.", where=feature_id)
    return _stepped(_placed(route, feature_id, covered))


def _placed(route: Route, feature_id: str, covered: bool) -> Route:
    """Return the route with one pocket marked, its operations in the setup that can cut it."""
    features = [f.model_copy(update={"covered": covered}) if f.id == feature_id else f for f in route.piece.features]
    early = next((s.id for s in route.setups if is_before(route, s)), base_setup(route).id)
    to = early if covered else base_setup(route).id
    moved = [o.model_copy(update={"setup": to}) if feature_id in o.features else o for o in route.operations]
    return route.model_copy(update={"piece": route.piece.model_copy(update={"features": features}), "operations": _in_order(route, moved)})


def _in_order(route: Route, operations: list[Operation]) -> list[Operation]:
    """Return operations in the order of their setups; of one setup as they stood, what cuts the outline last."""
    outline, out = route.piece.outline.id, []
    for setup in route.setups:
        here = [o for o in operations if o.setup == setup.id]
        out += with_touch_offs([*(o for o in here if outline not in o.features), *(o for o in here if outline in o.features)])
    return out


def _all_at_first(route: Route) -> Route:
    """Return the route with every layer glued on before everything."""
    if not glued_layers(route):
        return route
    base = base_setup(route).id
    early = {s.id for s in route.setups if is_before(route, s)}
    layers = [layer.model_copy(update={"glued_before": None}) for layer in route.blank.layers]
    features = [f.model_copy(update={"covered": False}) if isinstance(f, Pocket) else f for f in route.piece.features]
    moved = [o.model_copy(update={"setup": base}) for o in route.operations if o.setup in early]
    others = [o for o in route.operations if o.setup not in early]
    at = max([0, *(k + 1 for k, o in enumerate(others) if o.setup == base and o.kind is OperationKind.POCKET)])
    operations = [*others[:at], *moved, *others[at:]]
    bare = route.model_copy(update={"blank": route.blank.model_copy(update={"layers": layers}), "piece": route.piece.model_copy(update={"features": features}), "setups": [s for s in route.setups if s.id not in early]})
    bare = bare.model_copy(update={"operations": _in_order(bare, operations)})
    return bare.model_copy(update={"bench_steps": with_blank_steps([s for s in bare.bench_steps if not _of_gluing(s)], bare.blank)})


def _of_gluing(step: BenchStep) -> bool:
    return step.id.startswith(("cap_", "core_"))


def _stepped(route: Route) -> Route:
    """Return the route with the bench steps of gluing after the last operation on the core."""
    early = {s.id for s in route.setups if is_before(route, s)}
    last = next((o.id for o in reversed(route.operations) if o.setup in early), None)
    fig = figures()["glue"]
    steps = [s for s in with_blank_steps(route.bench_steps, route.blank) if not _of_gluing(s)]
    gluing = [BenchStep(id="core_clean", name="Clear and check the core", minutes=fig["mark_min"], after=last, kind=BenchKind.MEASURE, gate=True,
                        note="Every chamber as deep as asked, no chip on the glue face, a light pass with a flat board. Mark the centre line on the edges: the layer hides it.")]
    for layer in reversed(glued_layers(route)):
        gluing += [s.model_copy(update={"after": last}) for s in glue_steps(layer)]
    return route.model_copy(update={"bench_steps": [*steps, *gluing]})
