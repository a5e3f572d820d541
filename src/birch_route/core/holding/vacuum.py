"""What a pump keeps under the wood: its curve against the leaks of gasket and sheet, and against what a cut has opened."""

from __future__ import annotations

import math

from ..data import figures
from ..hardware import Hardware
from ..machines import Pump

AIR_KG_M3 = 1.2
PA_PER_BAR = 1e5


def leak_l_min(bar: float, gasket_mm: float, area_mm2: float, porous: bool, open_mm2: float) -> float:
    """Return the air that is drawn in at a pressure below the air's outside, l/min.

    Source: gasket and sheet leak in proportion to pressure (figures.vacuum, unverified); an opening is a sharp orifice, Q = C A sqrt(2 p / rho) with C = 0.6.
    """
    fig = figures()["vacuum"]
    through = fig["gasket_l_min_bar_m"] * gasket_mm / 1000 + (fig["porous_l_min_bar_dm2"] if porous else fig["sealed_l_min_bar_dm2"]) * area_mm2 / 1e4
    return through * bar + 0.6 * open_mm2 * 1e-6 * math.sqrt(2 * bar * PA_PER_BAR / AIR_KG_M3) * 60_000


def bar_at(pump: Pump, gasket_mm: float, area_mm2: float, porous: bool, open_mm2: float = 0.0) -> float:
    """Return the pressure below the air's outside at which the pump draws what leaks in, bar.

    Source: a straight pump curve from its free flow at none to none at its deepest; found by halving, to 1e-6 bar.
    """
    low, high = 0.0, pump.deepest_bar
    while high - low > 1e-6:
        p = (low + high) / 2
        if pump.free_l_min * (1 - p / pump.deepest_bar) > leak_l_min(p, gasket_mm, area_mm2, porous, open_mm2):
            low = p
        else:
            high = p
    return (low + high) / 2


def vacuum_bar(h: Hardware, pump: Pump | None, open_mm2: float = 0.0) -> float:
    """Return the pressure under a vacuum area, bar: as it was measured, or by the pump's curve, or as figures.holding assumes. With an opening: by the pump's curve; without a pump none.

    A measured pressure tells the leaks there were: an opening is added to these.
    """
    around, area = 2 * (h.length_mm + h.width_mm), h.length_mm * h.width_mm
    sound = h.pressure_bar or (bar_at(pump, around, area, h.porous) if pump else figures()["holding"]["vacuum_bar"])
    if open_mm2 <= 0:
        return sound
    if pump is None:
        return 0.0
    opened = bar_at(pump, around, area, h.porous, open_mm2)
    return min(sound, opened)
