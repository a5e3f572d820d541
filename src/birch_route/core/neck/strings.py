"""Strings from the nut over the headstock to their posts: how far each breaks over the nut, turns aside, and what it
passes on its way.

Source: plain geometry. A string leaves the nut's front edge at its height over the glue plane and runs straight to the
side of its post at the height of its hole, or to the bearing of a retainer before it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..data import figures
from .lines import ROUND_POST, neck_plan, posts_of, smooth_step
from .numbers import Neck

Point = tuple[float, float]


@dataclass(frozen=True)
class HeadString:
    """One string behind the nut, mm and degrees. string: 1 is the bass one; break_deg: None while nobody said how high
    a post's hole lies; passes: the nearest other post and how far its side is away."""

    string: int
    nut: Point
    post: Point
    break_deg: float | None
    side_deg: float
    held: bool
    passes: int | None
    passes_mm: float | None


def face_mm(neck: Neck, x: float) -> float:
    """Return how far the headstock's face lies below the glue plane at a place behind the nut."""
    head = neck.head
    if head.kind == "angled":
        return max(-x - head.shelf_mm, 0.0) * math.tan(math.radians(head.angle_deg))
    return head.step_mm * float(smooth_step(np.array((-x - head.shelf_mm) / head.ramp_mm)))


def head_strings(neck: Neck) -> list[HeadString]:
    """Return every string behind the nut; none while no posts are known."""
    posts = posts_of(neck)
    if not posts:
        return []
    board, plan, tuners = neck.board, neck_plan(neck), neck.tuners
    half = plan.half_mm(0.0) - board.edge_land_mm
    bass = 1.0 if board.left_handed else -1.0
    post_radius = (tuners.post_mm or 0.0) / 2
    out: list[HeadString] = []
    for post in posts:
        part = -1 + 2 * (post.string - 1) / (board.strings - 1)
        nut = (0.0, -bass * part * half)  # the bass string to its own side
        on_bass = neck.head.form == "row" or post.string <= math.ceil(board.strings / 2)
        inner = post.y_mm - (bass if on_bass else -bass) * ROUND_POST * post_radius
        end = (post.x_mm, inner)
        run = math.dist(nut, end)
        side = math.degrees(math.atan2(abs(end[1] - nut[1]), abs(end[0])))
        held = neck.head.retainer_mm is not None and post.string > board.strings - neck.head.retainer_strings
        out.append(HeadString(
            post.string, nut, end, _break(neck, held, run, post.x_mm), side, held,
            *_nearest(nut, end, post.string, [(p.string, p.x_mm, p.y_mm) for p in posts], post_radius)))
    return out


def _break(neck: Neck, held: bool, run: float, post_x: float) -> float | None:
    """Return the angle a string breaks by over the nut, degrees; along the board a string runs level."""
    from_glue = neck.board.thickness_mm + figures()["neck"]["string_over_mm"]
    if held and neck.head.retainer_mm is not None:
        x = -neck.head.retainer_mm
        down = from_glue + face_mm(neck, x) - neck.head.retainer_high_mm
        return math.degrees(math.atan2(down, -x))
    if neck.tuners.hole_mm is None:
        return None
    down = from_glue + face_mm(neck, post_x) - neck.tuners.hole_mm
    return math.degrees(math.atan2(down, run))


def _nearest(nut: Point, end: Point, string: int, posts: list[tuple[int, float, float]],
             radius: float) -> tuple[int | None, float | None]:
    """Return which other post a string passes nearest to, and how far from its side."""
    best: tuple[int | None, float | None] = (None, None)
    dx, dy = end[0] - nut[0], end[1] - nut[1]
    long2 = dx * dx + dy * dy
    for other, x, y in posts:
        if other == string:
            continue
        t = min(max(((x - nut[0]) * dx + (y - nut[1]) * dy) / long2, 0.0), 1.0)
        away = math.hypot(nut[0] + t * dx - x, nut[1] + t * dy - y) - radius
        if best[1] is None or away < best[1]:
            best = (other, away)
    return best


def retainer_for(neck: Neck) -> tuple[float, int] | None:
    """Return where a retainer gives strings that break too little enough, and how many it holds down from the treble
    side; None where none does."""
    least = figures()["neck"]["least_break_deg"] + 0.5
    weak = [s.string for s in head_strings(neck) if s.break_deg is not None and s.break_deg < least]
    if not weak:
        return None
    count = neck.board.strings - min(weak) + 1
    if count > 6:
        return None
    string_mm = neck.board.thickness_mm + figures()["neck"]["string_over_mm"]
    for at in range(45, 14, -1):
        down = string_mm + face_mm(neck, -float(at)) - neck.head.retainer_high_mm
        free = at > neck.head.shelf_mm + 2
        if free and math.degrees(math.atan2(down, at)) >= least:
            return float(at), count
    return None

