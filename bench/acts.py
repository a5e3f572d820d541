"""Random acts of saying how a piece is made: `python -m bench.acts [--acts 500] [--seed N]`.

Steps at the bench, orders, several operations at once, two bits on an outline, the first face, what is meant so. After
every act the route must read back, keep every step at the bench that nobody removed, and break nothing that its order
before did not break; undoing them all must return to equal bytes. What does not is printed.
"""

from __future__ import annotations

import argparse
import random
import sys
from collections.abc import Callable

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import BirchError
from birch_route.core.route import Route
from birch_route.core.sequence.orders import OrderKind, broken, precedences
from birch_route.demo.fitted import fitted_route
from birch_route.formats.route_file import route_from_text, route_to_text

Act = dict[str, object]


def _add(route: Route, rng: random.Random) -> Act:
    after = rng.choice([None, *(o.id for o in route.operations)])
    there = [s.id for s in route.bench_steps if s.after == after]
    step = {"name": f"Step {rng.randrange(999)}", "minutes": rng.randrange(30), "gate": rng.random() < 0.3}
    return {"do": "add_step", "after": after, "behind": rng.choice([None, *there]), "step": step}


def _move_step(route: Route, rng: random.Random) -> Act:
    own = [s.id for s in route.bench_steps if s.own] or ["none"]
    return {"do": "move_step", "step": rng.choice(own), "later": rng.random() < 0.5}


def _drop_step(route: Route, rng: random.Random) -> Act:
    own = [s.id for s in route.bench_steps if s.own] or ["none"]
    return {"do": "remove_item", "list": "bench_steps", "id": rng.choice(own)}


def _move(route: Route, rng: random.Random) -> Act:
    return {"do": "move_operation", "operation": _one(route, rng), "to": rng.randrange(len(route.operations))}


def _one(route: Route, rng: random.Random) -> str:
    return rng.choice(route.operations).id


def _some(route: Route, rng: random.Random) -> list[str]:
    return rng.sample([o.id for o in route.operations], min(len(route.operations), rng.randint(2, 4)))


def _alike(route: Route, rng: random.Random) -> list[str]:
    one = rng.choice(route.operations)
    alike = [o.id for o in route.operations if (o.kind, o.bit, o.setup) == (one.kind, one.bit, one.setup)]
    return alike[:3] if len(alike) > 1 else _some(route, rng)


def _meant(route: Route, rng: random.Random) -> Act:
    said = f"{rng.randrange(4):016x}"
    about = {"code": "feature.wall_thin", "operation": _one(route, rng), "said": said}
    return {"do": "mean_so", **about, "why": "seen by nobody"}


def _last(route: Route, rng: random.Random) -> Act:
    bits = [None, *(b.id for b in route.bits)]
    walls = [o.id for o in route.operations if o.kind.value in ("profile", "pocket")] or ["none"]
    return {"do": "finish_with", "operation": rng.choice(walls), "bit": rng.choice(bits)}


def _in_depths(route: Route, rng: random.Random) -> Act:
    act: Act = {"do": rng.choice(["choose_rim", "creep", "choose_rest"]), "operation": _one(route, rng)}
    bit = rng.choice([None, *(b.id for b in route.bits)])
    more = {"choose_rim": {"bit": bit}, "choose_rest": {"first": bit}, "creep": {"passes": rng.choice([0, 2])}}
    return {**act, **more[act["do"]]}


ACTS: list[Callable[[Route, random.Random], Act]] = [
    _add, _add, _move_step, _move_step, _drop_step, _move, _move, _meant, _last, _last, _in_depths, _in_depths,
    lambda _r, rng: {"do": "order_by", "by": rng.choice(list(OrderKind)).value},
    lambda _r, rng: {"do": "first_face", "face": rng.choice(["front", "back"])},
    lambda r, rng: {"do": "gather_operations", "operations": _some(r, rng)},
    lambda r, rng: {"do": "join_operations", "operations": _alike(r, rng)},
    lambda r, rng: {"do": "part_operation", "operation": _one(r, rng)},
    lambda r, rng: {"do": "choose_school", "operation": _one(r, rng), "school": rng.choice(["tabs", "skin", "groove"])},
]
NEVER = ("stands twice", "in a circle", "not in this route")  # what a refusal says where the fault is ours
LOSES = {"remove_item"}
MOVES = {"move_operation", "gather_operations"}


def judged(before: Route, route: Route, edit: Act) -> list[str]:
    """Return what an act did that it may not."""
    wrong, text = [], route_to_text(route)
    if route_to_text(route_from_text(text)) != text:
        wrong.append("reads back otherwise")
    lost = {s.id for s in before.bench_steps if s.own} - {s.id for s in route.bench_steps}
    if lost and edit["do"] not in LOSES:
        wrong.append(f"lost {', '.join(sorted(lost))}")
    thrown = {s.id for s in before.bench_steps if s.own and s.after} & {
        s.id for s in route.bench_steps if s.own and s.after is None}
    if thrown and edit["do"] != "move_step":
        wrong.append(f"threw {', '.join(sorted(thrown))} to the beginning")
    if edit["do"] == "order_by" and broken(precedences(route), [o.id for o in route.operations]):
        wrong.append("ordered it so that something is broken")
    if {f for o in before.operations for f in o.features} != {f for o in route.operations for f in o.features}:
        wrong.append("changed what is machined")
    return wrong


def acted(seed: int, acts: int) -> tuple[list[str], int]:
    """Return what went wrong in so many acts, each as a sentence, and how many acts were taken, not refused."""
    rng, wrong, taken = random.Random(seed), [], 0
    route = fitted_route(True)
    before = [route_to_text(route)]
    for n in range(acts):
        edit = rng.choice(ACTS)(route, rng)
        try:
            made = apply_edits(route, [read_edit(edit)])
        except BirchError as exc:
            wrong += [] if exc.sentence else [f"act {n}: {edit} is refused without a word"]
            if any(words in exc.sentence for words in NEVER):
                wrong.append(f"act {n}: {edit} is refused with “{exc.sentence}”")
            continue
        wrong += [f"act {n}: {edit} {one}" for one in judged(route, made, edit)]
        taken, route = taken + 1, made
        before.append(route_to_text(route))
    for text in reversed(before):  # undone, one after another
        if route_to_text(route_from_text(text)) != text:
            wrong.append("a revision that was gone back to is another one")
    return wrong, taken


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--acts", type=int, default=500)
    parser.add_argument("--seed", type=int, default=22)
    asked = parser.parse_args()
    found, made = acted(asked.seed, asked.acts)
    print(f"seed {asked.seed}, {asked.acts} acts, {made} taken: {len(found)} wrong")
    sys.exit("\n".join(found) if found else 0)
