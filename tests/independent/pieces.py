"""Pieces made at random, seeded: a board with rounded corners, pockets and holes placed with room between them."""

from __future__ import annotations

import random
from typing import Any

from birch_route.core.data import wood
from birch_route.core.route import Route, read_route
from birch_route.core.sequence.propose import propose_route
from birch_route.core.sequence.rim import clean_rims
from birch_route.demo.shop import BENCH_MACHINE, BITS_BY_ID, MORE_BITS

WOODS = ("alder", "ash", "hard_maple", "walnut", "khaya", "basswood", "birch_ply", "beech")
LONG_8 = 48.0  # cutting length of the outline bit


def random_piece(rng: random.Random, *, skim_mm: float | None = None) -> Route:
    """Return a proposed route that nothing should be found wrong with.

    The piece lies with its lower left corner at 0, 0. Its features: `pocket` (its long side along x, deeper than 6 mm),
    `shallow` (at most 4 mm), `through` (drilled, 3 mm) and `bored` (blind). Its outline bit is `flat8`.
    """
    length, width = rng.randint(190, 330), rng.randint(130, 200)
    skim = rng.choice([0.0, 0.6]) if skim_mm is None else skim_mm
    thick = rng.randint(24, 40)
    pocket = {"length_mm": rng.randint(40, 70), "width_mm": rng.randint(18, 34), "corner_radius_mm": rng.uniform(4.1, 8)}
    x = rng.uniform(14 + pocket["length_mm"] / 2, length / 2 - 6)
    depth = round(rng.uniform(7, thick - 8), 1)
    document: dict[str, Any] = {
        "schema": "birch-route/1", "job": f"Random piece {rng.randrange(10**6)}", "piece": {"kind": "plate", "name": "Random board", "features": [
            {"kind": "pocket", "id": "pocket", "name": "Pocket", "depth_mm": depth, "least_floor_mm": 5, "shape": {
                "kind": "rectangle", "x_mm": round(x, 2), "y_mm": round(rng.uniform(14 + pocket["width_mm"] / 2, width - 14 - pocket["width_mm"] / 2), 2), **pocket}},
            {"kind": "pocket", "id": "shallow", "name": "Shallow recess", "depth_mm": round(rng.uniform(1.5, 4), 1), "finish_class": "shown", "shape": {
                "kind": "rectangle", "x_mm": round(length * 0.74, 2), "y_mm": round(width * 0.3, 2), "length_mm": 30, "width_mm": 24, "corner_radius_mm": 5}},
            {"kind": "hole", "id": "through", "name": "Screw holes", "diameter_mm": 3, "points": [[round(length * 0.62, 2), round(width * 0.75, 2)], [round(length * 0.9, 2), round(width * 0.8, 2)]]},
            {"kind": "hole", "id": "bored", "name": "Bored hole", "diameter_mm": round(rng.uniform(9.5, 20), 1), "depth_mm": round(rng.uniform(5, 14), 1),
             "points": [[round(length * 0.77, 2), round(width * 0.75, 2)]]},
            {"kind": "outline", "id": "outline", "name": "Outline", "shape": {
                "kind": "rectangle", "x_mm": length / 2, "y_mm": width / 2, "length_mm": length, "width_mm": width, "corner_radius_mm": rng.randint(8, 25)}}]},
        "blank": {"wood": rng.choice(WOODS), "length_mm": length + 76, "width_mm": width + 76, "thickness_mm": thick + skim, "x_mm": -38, "y_mm": -38, "skim_mm": skim},
        "machine": BENCH_MACHINE, "bits": [dict(BITS_BY_ID[b]) for b in ("face25", "flat8", "flat6", "drill3")],
        "setups": [{"id": "front", "name": "Front face up", "hardware": [
            {"id": f"s{k}", "kind": "screw", "x_mm": px, "y_mm": py, "top_mm": -1.0}
            for k, (px, py) in enumerate([(-30, -30), (length + 30, -30), (length + 30, width + 30), (-30, width + 30)], 1)]}]}
    if wood(document["blank"]["wood"]).tear_out == "figured":
        document["bits"].append(next(b for b in MORE_BITS if b["id"] == "down6"))  # without it shown rims would fray
    return clean_rims(propose_route(read_route(document)))
