"""The tolerances of the computation, as one frozen object passed in."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Tolerances:
    """All in mm unless named otherwise."""

    chord_mm: float = 0.005  # flattening of arcs and splines
    join_mm: float = 0.05  # gap between curve ends that still counts as closed
    depth_mm: float = 0.02  # height difference that counts as a difference
    pin_mm: float = 0.01  # an index hole this near to its pin stands on it
    through_mm: float = 0.02  # wood left under a cut that goes through
    contact_mm: float = 1e-6  # overlap below which two things merely touch
    leftover_mm: float = 0.08  # mean wall skin that counts as stock left
    least_piece_mm2: float = 30.0  # a freed piece smaller than this is a chip
    least_corner_mm2: float = 0.05  # a corner left smaller than this is not listed
    near_hardware_mm: float = 6.0  # clearance to hardware that deserves care
    smallest_mm: float = 0.5  # least size of a feature
    largest_mm: float = 2500.0  # greatest size of a piece


TOLERANCES = Tolerances()
