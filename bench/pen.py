"""Random shapes dragged, turned, mirrored and copied: `python -m bench.pen [--drags 2000] [--seed N]`.

After every act the route must be one that reads back; undoing them all must return to equal bytes. What does not is
printed.
"""

from __future__ import annotations

import argparse
import random
import sys

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import BirchError
from birch_route.core.instrument.marking_out import places_of
from birch_route.formats.route_file import route_from_text, route_to_text
from tests.support import route_named

SHAPES = (
    {"what": "hole", "diameter_mm": 8.0}, {"what": "row", "diameter_mm": 8.0, "along": 3, "apart_mm": 20.0},
    {"what": "pocket", "length_mm": 44.0, "width_mm": 30.0, "corner_mm": 7.0},
    {"what": "slot", "length_mm": 50.0, "width_mm": 9.0}, {"what": "oval", "length_mm": 44.0, "width_mm": 30.0},
)


def act(rng: random.Random, ids: list[str]) -> dict[str, object]:
    """Return one act of a hand: mostly a drag, sometimes a new shape, a turn, a mirror, a copy."""
    if not ids or rng.random() < 0.04:
        place = {"x_mm": round(rng.uniform(150, 380), 1), "y_mm": round(rng.uniform(-90, 90), 1)}
        return {"do": "draw", "depth_mm": rng.choice([6.0, 14.0]), "face": "front", **place, **rng.choice(SHAPES)}
    one: dict[str, object] = {"do": "place_feature", "feature": rng.choice(ids)}
    what = rng.random()
    if what < 0.08:
        return {**one, "turn_deg": round(rng.uniform(-90, 90), 1)}
    if what < 0.12:
        return {**one, "mirror": True}
    drag = {"dx_mm": round(rng.uniform(-40, 40), 1), "dy_mm": round(rng.uniform(-40, 40), 1)}
    return {**one, **drag, "copied": len(ids) < 12 and what > 0.98}


def dragged(seed: int, drags: int) -> list[str]:
    """Return what went wrong in so many acts, each as a sentence; nothing: an empty list."""
    rng, wrong = random.Random(seed), []
    route = route_named("siskin_body")
    own = {f.id for f in route.piece.features}
    before = [route_to_text(route)]
    for n in range(drags):
        edit = act(rng, [f.id for f in route.piece.features if f.id not in own])
        try:
            route = apply_edits(route, [read_edit(edit)])
            text = route_to_text(route)
            if route_to_text(route_from_text(text)) != text:
                wrong.append(f"act {n}: {edit} reads back otherwise")
            if "feature" in edit:
                places_of(route, str(edit["feature"]))
            before.append(text)
        except BirchError as exc:
            if not exc.sentence:
                wrong.append(f"act {n}: {edit} is refused without a word")
    for text in reversed(before):  # undone, one after another
        if route_to_text(route_from_text(text)) != text:
            wrong.append("a revision that was gone back to is another one")
    return wrong


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--drags", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=20)
    asked = parser.parse_args()
    found = dragged(asked.seed, asked.drags)
    print(f"seed {asked.seed}, {asked.drags} acts: {len(found)} wrong")
    sys.exit("\n".join(found) if found else 0)
