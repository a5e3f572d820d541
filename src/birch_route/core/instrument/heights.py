"""The height stack solved for any one unknown: pocket depth, neck angle, wedge, shim, saddle height or action.

The strings are straight; the fret plane is tilted by the neck angle about the end of the heel, the nut end leaning back.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from ..errors import InfeasibleError, InputError
from ..quantities import mm


class Unknown(StrEnum):
    """What the stack is solved for."""

    DEPTH = "depth"
    ANGLE = "angle"
    SADDLE = "saddle"
    ACTION = "action"
    SHIM = "shim"


@dataclass(frozen=True)
class Heights:
    """Every number of the stack, mm; the one that is solved for may hold anything before.

    depth_mm: pocket below the face at the heel's end. saddle_mm: string above the bridge's seat. recess_mm: that seat below the
    face. reach_mm: heel's end to saddle line. heel_length_mm: for the wedge. shim_mm: under the whole heel.
    """

    heel_mm: float  # with board
    fret_mm: float
    depth_mm: float
    angle_deg: float
    saddle_mm: float
    recess_mm: float
    action_12th_mm: float
    at_nut_mm: float
    reach_mm: float
    heel_length_mm: float
    shim_mm: float = 0.0


@dataclass(frozen=True)
class Solved:
    """The stack with its unknown found, the wedge its angle asks for (thin end 0), and the saddle's travel left."""

    heights: Heights
    unknown: Unknown
    wedge_thick_mm: float
    travel_down_mm: float | None
    travel_up_mm: float | None


def height_gap(h: Heights) -> float:
    """Return how far the string's seat on the saddle lies above where the stack puts it, mm; 0 when everything agrees.

    Source: the string stands n above the fret plane at the nut and a at the 12th, half way, so 2 a - n at the saddle; the plane
    lies heel + frets + shim - depth above the face at the heel's end and rises by tan(angle) from there on.
    """
    plane = h.heel_mm + h.fret_mm + h.shim_mm - h.depth_mm + h.reach_mm * math.tan(math.radians(h.angle_deg))
    return (h.saddle_mm - h.recess_mm) - (plane + 2 * h.action_12th_mm - h.at_nut_mm)


def solve_heights(h: Heights, unknown: Unknown, saddle_range_mm: tuple[float, float] | None = None) -> Solved:
    """Return the stack with one number changed so that everything agrees.

    Args:
        saddle_range_mm: lowest and highest place of the saddle, for the travel that is left.

    Raises:
        InputError: a distance that must be above zero is not.
        InfeasibleError: no such number: an angle beyond 12 degrees, a depth, shim or action that cannot be.
    """
    if h.reach_mm <= 0 or h.heel_length_mm <= 0:
        raise InputError("The distance to the saddle line and the heel's length must be above zero.", where="heights")
    gap = height_gap(h)
    values = h.__dict__.copy()
    if unknown is Unknown.DEPTH:
        values["depth_mm"] = h.depth_mm - gap
    elif unknown is Unknown.SADDLE:
        values["saddle_mm"] = h.saddle_mm - gap
    elif unknown is Unknown.SHIM:
        values["shim_mm"] = h.shim_mm + gap
    elif unknown is Unknown.ACTION:
        values["action_12th_mm"] = h.action_12th_mm + gap / 2
    else:
        values["angle_deg"] = math.degrees(math.atan(math.tan(math.radians(h.angle_deg)) + gap / h.reach_mm))
    found = Heights(**values)
    for name, value, low, high in (("pocket depth", found.depth_mm, 0.5, 60.0), ("shim", found.shim_mm, -1e-9, 20.0), ("action", found.action_12th_mm, 0.2, 8.0),
                                   ("neck angle", found.angle_deg, -3.0, 12.0), ("saddle height", found.saddle_mm, 0.5, 80.0)):
        if not low <= value <= high:
            said = float if name == "neck angle" else mm
            least, most = said(max(low, 0)), said(high)
            raise InfeasibleError(
                f"The {name} would come out {said(value):.2f}; it must lie between {least:g} and {most:g}. Change "
                f"another number of the stack.",
                where=unknown.value,
                value=value,
            )
    low, high = saddle_range_mm if saddle_range_mm else (None, None)
    return Solved(found, unknown, abs(found.heel_length_mm * math.tan(math.radians(found.angle_deg))),
                  None if low is None else found.saddle_mm - low, None if high is None else high - found.saddle_mm)
