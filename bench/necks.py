"""Necks made at random, seeded and resumable: what lies within every limit has no stop and no care, its back is where
a formula written here says, programs read back. `python -m bench.necks --necks 300 --seed 5 --state FILE`."""

from __future__ import annotations

import math
import random
import time
from typing import Any

import numpy as np
import shapely
from shapely.geometry import LineString

from birch_route.core.fretboard.numbers import Board
from birch_route.core.neck.numbers import USUAL, Head, Neck, Rod, Tuners
from birch_route.core.proving.prove import Proof, prove
from birch_route.service.planning import release
from tests.core.necks import the_route

from .many import counted, many

STEEP_OFF_MM, FLAT_OFF_MM, STEEP_DEG = 0.02, 0.03, 60.0  # the ridge, 0.02, and a hundredth
SHAPES = {  # exponents at the rim and at the apex, written apart from the product
    "full_round": (2.0, 2.0), "flat_oval": (2.3, 2.1), "soft_ridge": (1.8, 1.75), "square_shoulders": (2.7, 2.4),
    "thin_wide": (2.5, 1.9), "slim_round": (2.1, 1.9),
}


def random_neck(rng: random.Random) -> Neck:
    """Return the numbers of a neck as somebody might type them, not all of them wise."""
    scale = round(rng.uniform(600, 660), 1)
    nut = round(rng.uniform(41, 48), 1)
    radius = rng.choice([241.0, 305.0, 406.0])
    frets = rng.randrange(20, 25)
    board = Board(scale_mm=scale, frets=frets, width_nut_mm=nut, width_end_mm=round(nut + rng.uniform(11, 15), 1),
                  radius_nut_mm=radius, radius_end_mm=radius, thickness_mm=round(rng.uniform(5, 7), 1),
                  left_handed=rng.random() < 0.2)
    end = scale * (1 - 2 ** (-frets / 12)) + 8
    form = rng.choice(["leaf", "leaf", "blunt", "row"])
    first = round(rng.uniform(19.8, 22.5), 1)
    deep = round(rng.uniform(8.0, 9.6), 1)
    step = round(rng.uniform(5, 10), 1)
    return Neck(
        board=board, thick_1st_mm=first, thick_12th_mm=round(first + rng.uniform(0.4, 2.2), 1), mine=list(USUAL),
        shape=rng.choice(list(SHAPES)), heel_from_mm=round(end - rng.uniform(55, 90), 1),
        heel_mm=round(rng.uniform(17.5, 21), 1), heel_ramp_mm=round(rng.uniform(26, 50), 1),
        rod=Rod(width_mm=round(rng.uniform(5, 6.4), 2), deep_mm=deep, long_mm=round(end - rng.uniform(75, 110), 1),
                kind=rng.choice(["two_way", "two_way", "one_way"]), bow_mm=rng.choice([1.0, 2.0, 3.0]),
                fillet_mm=2.0),
        tuners=Tuners(post_mm=8.0, bush_mm=rng.choice([None, 10.0]), bush_deep_mm=6.0, hole_mm=4.0,
                      pitch_mm=26.0 if form == "row" else round(rng.uniform(34, 40), 1), least_thick_mm=12.0,
                      most_thick_mm=16.0, first_mm=round(rng.uniform(52, 62), 1), in_mm=round(rng.uniform(10, 13), 1)),
        head=Head(form=form, long_mm=235.0 if form == "row" else round(rng.uniform(176, 192), 1),
                  wide_mm=round(rng.uniform(70, 82), 1), step_mm=step, thick_mm=round(rng.uniform(13, 15.5), 1),
                  transition_mm=round(rng.uniform(34, 46), 1), ramp_mm=round(rng.uniform(16, 26), 1),
                  volute_mm=rng.choice([0.0, 0.0, 2.0]),
                  retainer_mm=rng.choice([None, 36.0, 36.0]), retainer_strings=min(6, rng.randrange(4, 7))))


def off_mm(neck: Neck, proof: Proof, thick_mm: float) -> tuple[float, float]:
    """How far the wood of a back is off the formula: straight up where it is no steeper than 60 degrees, and square to
    it where it is; at each fret of the shaft."""
    board = neck.board
    end = board.scale_mm * (1 - 2 ** (-board.frets / 12)) + board.past_last_fret_mm
    first, twelfth = (board.scale_mm * (1 - 2 ** (-k / 12)) for k in (1, 12))
    n, m = SHAPES[neck.shape]
    sim = proof.simulations[1]
    grid, worst = sim.grid, [0.0, 0.0]
    for fret in range(1, board.frets + 1):
        x = board.scale_mm * (1 - 2 ** (-fret / 12))
        i = int((x - grid.x0_mm) / grid.cell_mm)
        x = grid.x0_mm + (i + 0.5) * grid.cell_mm
        if x > neck.heel_from_mm - neck.heel_ramp_mm:
            break
        a = (board.width_nut_mm + (board.width_end_mm - board.width_nut_mm) * x / end) / 2
        thick = neck.thick_1st_mm + (neck.thick_12th_mm - neck.thick_1st_mm) * (x - first) / (twelfth - first)
        y = a * np.sin(np.linspace(-math.pi / 2, math.pi / 2, 3001))
        z = (thick - board.thickness_mm) * np.maximum(1 - np.abs(y / a) ** n, 0) ** (1 / m)
        at = -grid.y_centres()
        here = np.abs(at) < a - 0.02
        top = sim.result[:, i][here] + thick_mm
        away = shapely.distance(shapely.points(at[here], top), LineString(np.column_stack([y, z])))
        steep = np.degrees(np.arctan(np.abs(np.interp(at[here], y, np.gradient(z, y))))) >= STEEP_DEG
        worst[0] = max(worst[0], float(np.abs(top - np.interp(at[here], y, z))[~steep].max()))
        worst[1] = max(worst[1], float(away[steep].max()) if steep.any() else 0.0)
    return worst[0], worst[1]


def one_neck(seed: int, *, back: bool = True) -> dict[str, Any]:
    """Make and prove one neck; what is found, how far its back is off, whether its programs read back."""
    neck = random_neck(random.Random(seed))
    began = time.perf_counter()
    route = the_route(neck, wood="khaya")
    proof = prove(route)
    seconds = time.perf_counter() - began
    grave = sorted({f.code for f in proof.findings if f.severity.value != "note"})
    flat, steep = off_mm(neck, proof, route.blank.piece_mm)
    out = {"seed": seed, "codes": grave, "seconds": round(seconds, 2), "flat_mm": round(flat, 4),
           "steep_mm": round(steep, 4), "read_back": None}
    if not grave and back:
        read = release(proof, {}).back
        out["read_back"] = read is not None and not read.findings
    return out


def bad(row: dict[str, Any]) -> bool:
    """Whether a neck is not what it was to be: its back off, or a clean one whose programs do not read back."""
    off = row["flat_mm"] > FLAT_OFF_MM or row["steep_mm"] > STEEP_OFF_MM
    return not row["codes"] and (off or row["read_back"] is False)


def main() -> int:
    """Run what the state file does not hold yet, and say what came out."""
    rows = many("necks", __doc__, one_neck, {"flat_mm": 0.0, "steep_mm": 0.0, "read_back": None}, summary, 10)
    return int(any(bad(r) for r in rows))


def summary(rows: list[dict[str, Any]]) -> str:
    """Return what came out in a line."""
    clean = [r for r in rows if not r["codes"]]
    flat, steep = (max((r[k] for r in rows), default=0.0) for k in ("flat_mm", "steep_mm"))
    middle = sorted(r["seconds"] for r in rows)[len(rows) // 2]
    read = sum(bool(r["read_back"]) for r in clean)
    return (f"{len(rows)} necks, {len(clean)} with nothing found, {read} of these read back, backs off by {flat} where "
            f"flat and {steep} where steep, {middle} s each; {sum(bad(r) for r in rows)} bad; {counted(rows)}")


if __name__ == "__main__":
    raise SystemExit(main())
