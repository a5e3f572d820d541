"""Drilling cycles: the moves of one hole."""

from __future__ import annotations

BACK_MM = 0.3  # a peck comes back to so much above where it was


def hole_moves(start: float, over: float, deep: float, high: float, peck: float) -> list[tuple[float, bool, bool]]:
    """Return the moves of one hole: height it goes to, whether over the hole's place, whether rapid.

    Args:
        start: height the way to the place is made at. over, deep: between them it drills. high: where it ends. peck:
            depth at once; 0: all.
    """
    moves, z = [(start, False, True), (start, True, True), (over, True, True)], over
    while z > deep + 1e-9:
        z = max(deep, z - peck) if peck > 0 else deep
        moves.append((z, True, False))
        if z > deep + 1e-9:
            moves += [(over, True, True), (z + BACK_MM, True, True)]
    return [*moves, (high, True, True)]
