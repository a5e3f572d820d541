"""Where a program touches Z off by itself on a touch plate, and how far down that lies.

Two places are known: on top of the blank where the setup says so, where a hand lays the plate and takes it away; and
the machine's fixed place, where the plate lies always. Beside the blank on the waste board no place is said, so there
Z is touched off by hand.
"""

from __future__ import annotations

from ..bits.model import Bit
from ..machines import Machine
from ..route import Route
from ..vocabulary import ZeroZ


def plate_by_hand(machine: Machine, *, in_vice: bool) -> bool:
    """Whether a hand lays the plate and takes it away; the fixed place says nothing of wood in a vice."""
    return machine.probe_mm is None or in_vice


def touch_place(staged: Route) -> tuple[float, float] | None:
    """Return where the program touches Z off by itself, in the frame of the one setup of a staged route, mm; None where
    a hand does."""
    machine, setup, blank = staged.machine, staged.setups[0], staged.blank
    if machine.dialect.probe_word is None or machine.touch_plate_mm is None:
        return None
    if machine.probe_mm is not None and not setup.in_vice:
        at = setup.blank_at_mm
        return machine.probe_mm[0] - at[0] + blank.x_mm, machine.probe_mm[1] - at[1] + blank.y_mm
    if setup.zero.z is ZeroZ.BED:
        return None
    return setup.zero.touch_x_mm, setup.zero.touch_y_mm


def plate_below_mm(staged: Route, bit: Bit) -> float:
    """Return how far the top of the touch plate lies below a bit's tip with Z fully up.

    Source: nut over the waste board, less what the bit stands out, less what lies on the board there.
    """
    machine, setup = staged.machine, staged.setups[0]
    by_hand = plate_by_hand(machine, in_vice=setup.in_vice)
    under = staged.blank.thickness_mm + setup.sheet_mm if by_hand else 0.0
    return machine.nut_clear_mm - bit.stickout_mm - under - (machine.touch_plate_mm or 0.0)
