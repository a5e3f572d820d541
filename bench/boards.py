"""Fretboards made at random, seeded and resumable: what lies within every limit has no stop and no care, slots are
where a formula written here says, programs read back. `python -m bench.boards --boards 300 --seed 5 --state FILE`."""

from __future__ import annotations

import math
import random
import time
from typing import Any

from birch_route.core.fretboard.numbers import USUAL, Board, Wire
from birch_route.core.proving.prove import Proof, prove
from birch_route.service.planning import release
from tests.core.boards import board_route

from .many import counted, many

DEEP_OFF_MM = 0.02


def random_board(rng: random.Random) -> Board:
    """Return the numbers of a board as somebody might type them, not all of them wise."""
    scale = rng.uniform(560, 700)
    nut = rng.uniform(40, 52)
    wire = Wire(tang_depth_mm=round(rng.uniform(1.3, 2.0), 2), tang_mm=round(rng.uniform(0.50, 0.66), 2),
                barbs_mm=round(rng.uniform(0.74, 0.95), 2))
    first = rng.choice([184, 241, 254, 305, 406])
    bound = rng.random() < 0.3
    thick = round(rng.uniform(4.6, 7.5), 1)
    return Board(
        mine=list(USUAL), ends=rng.choice(["square", "slanted"]),
        binding_mm=rng.choice([1.0, 1.5, 2.0]) if bound else None,
        binding_deep_mm=round(thick - rng.uniform(1.2, 2.4), 1) if bound and rng.random() < 0.5 else None,
        scale_mm=round(scale, 1), bass_scale_mm=round(scale + rng.uniform(10, 45), 1) if rng.random() < 0.3 else None,
        square_fret=rng.randrange(0, 13), frets=rng.randrange(19, 25), zero_fret=rng.random() < 0.2,
        before_nut_mm=rng.choice([2.0, 4.0, 6.0, 8.0]),
        strings=rng.randrange(4, 9), width_nut_mm=round(nut, 1), width_end_mm=round(nut + rng.uniform(10, 18), 1),
        radius_nut_mm=first, radius_end_mm=rng.choice([first, first + 100, first + 152]),
        fall_away_mm=rng.choice([0.0, 0.0, 0.2]), thickness_mm=thick,
        past_last_fret_mm=round(rng.uniform(2.5, 14), 1), wire=wire, blind=rng.random() < 0.2,
        floors=rng.choice(["flat", "following"]), marker_mm=rng.choice([4.0, 5.0, 6.0, 6.35]),
        marker_deep_mm=rng.choice([1.5, 2.0, 2.5]), seat=rng.choice(["pressed", "hammered", "glued"]),
    )


def sag_mm(board: Board, end_mm: float, x: float, y: float) -> float:
    """How far the finished face lies below its crown at the nut, written apart from the product."""
    radius = board.radius_nut_mm + (board.radius_end_mm - board.radius_nut_mm) * x / end_mm
    return radius - math.sqrt(radius * radius - y * y)


def off_mm(board: Board, proof: Proof) -> float:
    """How far the slots of a board of one scale without fall-away are off a formula, at crown and edge, mm."""
    end = board.scale_mm * (1 - 2 ** (-board.frets / 12)) + board.past_last_fret_mm
    sim, worst = proof.simulations[-1], 0.0
    for n in range(1, board.frets + 1):
        x = board.scale_mm * (1 - 2 ** (-n / 12))
        half = (board.width_nut_mm + (board.width_end_mm - board.width_nut_mm) * x / end) / 2
        for part in (0.0, 0.5, -0.9):
            y = part * (half - (board.binding_mm or 0.0))
            i, j = int((x - sim.grid.x0_mm) / sim.grid.cell_mm), int((y - sim.grid.y0_mm) / sim.grid.cell_mm)
            below = half if board.floors == "flat" else abs(y)
            wanted = (board.wire.tang_depth_mm or 0.0) + 0.4 + sag_mm(board, end, x, below)
            worst = max(worst, abs(float(sim.result[j, i]) + wanted))
    return worst


def one_board(seed: int) -> dict[str, Any]:
    """Make and prove one board; what is found, how far its slots are off, whether its programs read back."""
    board = random_board(random.Random(seed))
    began = time.perf_counter()
    route = board_route(board)
    proof = prove(route)
    seconds = time.perf_counter() - began
    grave = sorted({f.code for f in proof.findings if f.severity.value != "note"})
    plain = board.bass_scale_mm is None and board.fall_away_mm == 0
    out = {"seed": seed, "codes": grave, "seconds": round(seconds, 2), "off_mm": None, "read_back": None}
    if plain:
        out["off_mm"] = round(off_mm(board, proof), 4)
    if not grave:
        back = release(proof, {}).back
        out["read_back"] = back is not None and not back.findings
    return out


def main() -> int:
    """Run what the state file does not hold yet, and say what came out."""
    rows = many("boards", __doc__, one_board, {"off_mm": None}, summary, 20)
    return int(any(not r["codes"] and ((r["off_mm"] or 0) > DEEP_OFF_MM or not r["read_back"]) for r in rows))


def summary(rows: list[dict[str, Any]]) -> str:
    """Return what came out in a line."""
    clean = [r for r in rows if not r["codes"]]
    off = max((r["off_mm"] for r in rows if r["off_mm"] is not None), default=0.0)
    seconds = sorted(r["seconds"] for r in rows)
    middle = seconds[len(seconds) // 2]
    return (f"{len(rows)} boards, {len(clean)} with nothing found, slots off by {off} at most, {middle} s each; "
            f"{counted(rows)}")


if __name__ == "__main__":
    raise SystemExit(main())
