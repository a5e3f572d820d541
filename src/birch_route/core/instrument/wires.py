"""A long drill from one cavity to another: the angles at which it neither nicks the rim it enters over nor comes through the
back."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import InputError


@dataclass(frozen=True)
class WireHole:
    """In the vertical plane through both cavities; heights below the face, mm, downwards.

    The drill lies over the far rim of the first cavity, goes down through the cavity, enters its near wall (towards the second
    cavity) and must come out in the second cavity's wall above that floor.

    first_length_mm: opening of the first cavity along the hole. first_depth_mm, second_depth_mm: their floors. wall_mm: wood
    between them. second_length_mm: opening of the second along the hole. thickness_mm: of the body. drill_mm: diameter.
    rim_mm: how far the drill must stay above the far rim's edge (0: it may lie on it). floor_mm: wood wanted under the hole.
    """

    first_length_mm: float
    first_depth_mm: float
    wall_mm: float
    second_length_mm: float
    second_depth_mm: float
    thickness_mm: float
    drill_mm: float
    rim_mm: float = 0.5
    floor_mm: float = 4.0


@dataclass(frozen=True)
class Window:
    """The angles that work, degrees below the face, and at the middle one the places and the drill that is needed."""

    least_deg: float
    most_deg: float
    enters_deep_mm: float  # axis below the face at the first cavity's near wall
    leaves_deep_mm: float  # axis below the face at the second cavity's wall
    drill_length_mm: float


def works(hole: WireHole, angle_deg: float, enters_deep_mm: float) -> bool:
    """Say whether a drill at an angle whose axis meets the entry wall at a depth does its work and harms nothing."""
    t, r = math.tan(math.radians(angle_deg)), hole.drill_mm / 2
    half = r / math.cos(math.radians(angle_deg))  # of the drill, measured upright
    over_rim = enters_deep_mm - t * hole.first_length_mm  # axis at the far rim, below the face
    leaves = enters_deep_mm + t * hole.wall_mm
    deepest = leaves + half
    return (
        over_rim + half <= -hole.rim_mm + 1e-12  # the whole drill passes above the rim
        and enters_deep_mm - half >= 0.0  # and enters the wall below the face, leaving the near edge whole
        and enters_deep_mm + half <= hole.first_depth_mm  # within the wall that the first cavity shows
        and leaves + half <= hole.second_depth_mm  # comes out above the second floor
        and hole.thickness_mm - deepest >= hole.floor_mm)


def angle_window(hole: WireHole) -> Window | None:
    """Return the angles that work, or None where none does.

    For an angle the axis may enter between two depths: from above by the near edge, and from below by the rim the drill lies
    over, by both floors and by the wood under the hole. The window is where the second is not above the first; both are
    monotonous in the angle, so its ends are found by bisection from the best angle.

    Raises:
        InputError: a length that is not above zero.
    """
    for name in ("first_length_mm", "first_depth_mm", "wall_mm", "second_length_mm", "second_depth_mm", "thickness_mm", "drill_mm"):
        if getattr(hole, name) <= 0:
            raise InputError(f"{name.replace('_mm', '').replace('_', ' ')} must be above zero.", where=name)

    def room(angle: float) -> float:
        low, high = _entry(hole, angle)
        return high - low

    angles = [0.05 + 0.05 * k for k in range(1500)]
    best = max(angles, key=room)
    if room(best) < 0:
        return None
    least, most = _edge(room, best, 0.0), _edge(room, best, 80.0)
    low, high = _entry(hole, (least + most) / 2)
    enters, t = (low + high) / 2, math.tan(math.radians((least + most) / 2))
    length = (hole.first_length_mm + hole.wall_mm) / math.cos(math.radians((least + most) / 2)) + hole.drill_mm
    return Window(least, most, enters, enters + t * hole.wall_mm, length)


def _entry(hole: WireHole, angle_deg: float) -> tuple[float, float]:
    """Return the least and greatest depth at which the axis may enter the wall at an angle."""
    t = math.tan(math.radians(angle_deg))
    half = hole.drill_mm / 2 / math.cos(math.radians(angle_deg))
    high = min(t * hole.first_length_mm - half - hole.rim_mm, hole.first_depth_mm - half, hole.second_depth_mm - half - t * hole.wall_mm,
               hole.thickness_mm - hole.floor_mm - half - t * hole.wall_mm)
    return half, high


def _edge(room, inside: float, outside: float) -> float:
    """Return the last angle with room on the way from one inside the window to one outside it."""
    if room(outside) >= 0:
        return outside
    for _ in range(60):
        middle = (inside + outside) / 2
        inside, outside = (middle, outside) if room(middle) >= 0 else (inside, middle)
    return inside
