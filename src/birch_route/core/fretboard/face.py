"""The face of a board: its radius along it, how far it sags from the crown, what a straight edge along a string shows.

Source: a circle of radius R across the board, R running straight from nut to end: z = t - (R - sqrt(R^2 - y^2)).
"""

from __future__ import annotations

import math

import numpy as np

from .lines import Plan
from .numbers import Board

LAST_PART = 1 / 3  # fall-away takes the last third of the frets' length


def radius_mm(board: Board, plan: Plan, x_mm: float) -> float:
    """Return the radius at a place along the centre line; beyond nut and end it stays what it is there."""
    part = min(max(x_mm / plan.end_mm, 0.0), 1.0)
    return board.radius_nut_mm + (board.radius_end_mm - board.radius_nut_mm) * part


def sag_mm(radius: float, y_mm: float) -> float:
    """Return how far the face lies below its crown at a place beside the centre line.

    Source: R - sqrt(R^2 - y^2).
    """
    return radius - math.sqrt(radius * radius - y_mm * y_mm)


def fall_mm(board: Board, plan: Plan, x_mm: float) -> float:
    """Return how far the crown falls away towards the end: from nothing to all of it over the last third of the frets,
    in a parabola that begins level."""
    last = plan.lines[-1].centre_mm
    begins = last * (1 - LAST_PART)
    if x_mm <= begins or board.fall_away_mm == 0:
        return 0.0
    return board.fall_away_mm * ((x_mm - begins) / (plan.end_mm - begins)) ** 2


def height_mm(board: Board, plan: Plan, x_mm: float, y_mm: float) -> float:
    """Return the height of the finished face over the glue plane."""
    return board.thickness_mm - fall_mm(board, plan, x_mm) - sag_mm(radius_mm(board, plan, x_mm), y_mm)


def bow_mm(board: Board, plan: Plan, string: int, count: int = 400) -> float:
    """Return what a straight edge laid along a string from fret 0 to the last shows: how far the face stands over the
    chord in its middle (below 0: hollow), the greatest by amount, fall-away left out.

    string: 0 is the bass one. Strings spread evenly between the outer ones.
    """
    part = -1 + 2 * string / (board.strings - 1)
    x = np.linspace(0.0, plan.lines[-1].centre_mm, count)
    y = part * (np.array([plan.half_mm(v) for v in x]) - board.edge_land_mm)
    r = np.array([radius_mm(board, plan, v) for v in x])
    z = -(r - np.sqrt(r * r - y * y))
    over = z - (z[0] + (z[-1] - z[0]) * x / x[-1])
    return float(over[np.argmax(np.abs(over))])


def edge_mm(board: Board, plan: Plan, x_mm: float) -> float:
    """Return the board's thickness at its edge, slots not counted."""
    return height_mm(board, plan, x_mm, plan.half_mm(x_mm))
