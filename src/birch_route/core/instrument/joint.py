"""The joint as it will be cut: pocket, saddles and strings together, and what the readings of the neck say about one
another."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from ..piece import Pocket
from ..plane.curves import HeelShape, PartRectangle
from ..vocabulary import PartKind
from .floors import TiltedFloor
from .heights import Heights, height_gap
from .parts import read_place
from .resolve import Resolved, Solid
from .stack import find_part, saddle_distance

if TYPE_CHECKING:
    from ..route import Route


@dataclass(frozen=True)
class Joint:
    """A bolt-on joint with the pocket as it is cut: heights, where its saddles have to stand for the wanted action,
    and their travel, mm."""

    pocket: Solid
    heights: Heights
    saddle_mm: float
    low_mm: float
    high_mm: float

    @property
    def down_mm(self) -> float:
        """Travel left downward."""
        return self.saddle_mm - self.low_mm

    @property
    def up_mm(self) -> float:
        """Travel left upward."""
        return self.high_mm - self.saddle_mm


def neck_pocket(route: Route, resolved: Resolved) -> Solid | None:
    """Return the pocket that takes the heel."""
    drawn = next((f for f in route.piece.features if isinstance(f, Pocket) and isinstance(f.shape, HeelShape)), None)
    return None if drawn is None else resolved.solids.get(drawn.id)


def joint_of(route: Route, resolved: Resolved) -> Joint | None:
    """Return the joint, or None where there is no neck pocket or a reading of its heights is missing.

    Source: the height stack of instrument.heights, solved for the saddle with the pocket as it is cut.
    """
    pocket, neck, bridge = (
        neck_pocket(route, resolved),
        find_part(route.parts, PartKind.NECK),
        find_part(route.parts, PartKind.BRIDGE),
    )
    reach = saddle_distance(route.parts, route.choices).value_mm
    if pocket is None or pocket.floor_mm is None or neck is None or bridge is None or reach is None:
        return None
    heel, fret, length = (read_place(neck, p).value_mm for p in ("heel_thickness", "fret_height", "heel_length"))
    low, high = (read_place(bridge, p).value_mm for p in ("saddle_low", "saddle_high"))
    if heel is None or fret is None or length is None or low is None or high is None:
        return None
    tilted = pocket.surface if isinstance(pocket.surface, TiltedFloor) else None
    choices, saddle = route.choices, low + route.choices.saddle_part * (high - low)
    deep, angle = (-pocket.floor_mm, 0.0) if tilted is None else (tilted.end_mm, math.degrees(math.atan(tilted.fall)))
    heights = Heights(
        heel,
        fret,
        deep,
        angle,
        saddle,
        recess_of(route),
        choices.action_12th_mm,
        choices.string_at_nut_mm,
        reach,
        length,
    )
    return Joint(
        pocket,
        replace(heights, saddle_mm=saddle - height_gap(heights)),
        saddle - height_gap(heights),
        min(low, high),
        max(low, high),
    )


def recess_of(route: Route) -> float:
    """Return how far the bridge sits below the face, mm."""
    return next(
        (
            f.depth_mm or 0.0
            for f in route.piece.features
            if isinstance(f, Pocket) and isinstance(f.shape, PartRectangle) and f.shape.at_saddle
        ),
        0.0,
    )


def frets_meant(route: Route) -> float | None:
    """Return how many frets the board holds up to the heel's end by scale and the reading from there to the 12th fret;
    None where either is missing, or the
    heel's end would lie beyond the strings.

    Source: fret n lies at L - L / 2^(n / 12) from the nut; the heel's end lies at L / 2 + reading.
    """
    neck = find_part(route.parts, PartKind.NECK)
    to_12th = None if neck is None else read_place(neck, "heel_to_12th").value_mm
    if to_12th is None or route.choices.scale_mm is None:
        return None
    over = neck and read_place(neck, "board_overhang").value_mm or 0.0
    left = route.choices.scale_mm / 2 - to_12th - over
    return math.inf if left <= 0 else 12 * math.log2(route.choices.scale_mm / left)
