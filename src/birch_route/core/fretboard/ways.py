"""Which bit cuts the slots of a board, and how often it goes through each."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..bits.model import Bit
from ..vocabulary import BitForm
from .slots import width_of
from .surfaces import SlotFloors

OVERLAPS = 0.9  # ways through one slot stand no further apart than this part of the bit


def over_mm(floors: SlotFloors) -> float:
    """Return how much wider or narrower than its middle a slot may be, mm: half of what its wire and the way frets are
    seated leave."""
    width = width_of(floors.face.board)
    return 0.0 if width is None else (width.most_mm - width.least_mm) / 2 + 1e-6


def sideways(floors: SlotFloors, cut_mm: float) -> list[float]:
    """Return how far beside its middle each way through a slot lies: one where what the bit cuts is as wide as the slot
    may be, else as many as make its width between them, each overlapping the next.

    Args:
        cut_mm: how wide the bit cuts: its diameter, and what this machine's slots are wider than that.
    """
    apart = floors.width_mm - cut_mm
    if apart <= over_mm(floors):
        return [0.0]
    count = 1 + math.ceil(apart / (OVERLAPS * cut_mm) - 1e-9)
    return [float(v) for v in np.linspace(-apart / 2, apart / 2, count)]


def too_wide(floors: SlotFloors, cut_mm: float) -> bool:
    """Whether what a bit cuts is wider than a slot may be."""
    return cut_mm > floors.width_mm + over_mm(floors)


def slot_bits(bits: Sequence[Bit], floors: SlotFloors, runs_out_mm: float = 0.0) -> list[Bit]:
    """Return the bits that a slot has room for, the widest first. runs_out: what the machine's slots are wider."""
    flats = [b for b in bits if b.form is BitForm.FLAT and not too_wide(floors, b.cut_diameter_mm + runs_out_mm)]
    return sorted(flats, key=lambda b: -b.cut_diameter_mm)
