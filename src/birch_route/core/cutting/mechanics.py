"""Cutting mechanics: chip load, force, power, bend. Approximate, as its sources are; every figure is data."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..bits.model import Bit
from ..data import Wood, figures
from ..machines import Machine


@dataclass(frozen=True)
class Window:
    """A range with its two ends, mm per tooth."""

    careful: float
    bold: float

    @property
    def middle(self) -> float:
        return (self.careful + self.bold) / 2


@dataclass(frozen=True)
class Load:
    """What one cut asks of bit and machine."""

    chip_load_mm: float
    mean_chip_mm: float
    force_n: float
    power_w: float
    bend_mm: float
    engaged_rad: float


def chip_load_window(bit: Bit, wood: Wood) -> Window:
    """Return the chip load window of a bit in a wood, mm per tooth.

    Source: figures.json chip_load_mm, straight lines between its rows, times its factors.
    """
    rows = figures()["chip_load_mm"]["rows"]
    d = min(max(bit.diameter_mm, rows[0][0]), rows[-1][0])
    for (d0, a0, b0), (d1, a1, b1) in zip(rows[:-1], rows[1:], strict=True):
        if d <= d1:
            t = (d - d0) / (d1 - d0)
            low, high = a0 + t * (a1 - a0), b0 + t * (b1 - b0)
            break
    factor = chip_load_factor(wood)
    careful = figures()["chip_load_factor"]["foam_careful"] if wood.cutting_class == "foam" else factor  # foam takes more, and a thin chip does it no harm
    low, high = low * careful, high * factor
    if wood.cutting_class == "plastic":
        least = figures()["chip_load_factor"]["plastic_least_mm"]
        low, high = max(low, least), max(high, least * 1.5)
    return Window(low, high)


def chip_load_factor(wood: Wood) -> float:
    """Return the factor a material puts on the chip load of hardwood at 650 kg/m3."""
    f = figures()["chip_load_factor"]
    special = {"mdf": f["mdf"], "plastic": f["plastic"], "foam": f["foam"]}.get(wood.cutting_class)
    if special is not None:
        return special
    factor = f["light"] if wood.density_kg_m3 < f["light_below_kg_m3"] else 1.0
    factor = f["heavy"] if wood.density_kg_m3 > f["heavy_above_kg_m3"] else factor
    return factor * (f["figured"] if wood.tear_out == "figured" else 1.0)


def engaged_angle(stepover_mm: float, diameter_mm: float) -> float:
    """Return the arc of the bit that is in wood, rad: 0 to pi for a full slot.

    Source: circle geometry; cos(phi) = 1 - stepover / R.
    """
    ratio = min(max(stepover_mm / (diameter_mm / 2), 0.0), 2.0)
    return math.acos(1 - ratio)


def thinned_feed_factor(stepover_mm: float, diameter_mm: float) -> float:
    """Return by how much the chip load may rise for a side engagement under half the diameter.

    Source: h = 2 fz sqrt(ae/D - (ae/D)^2); 1 from half the diameter on.
    """
    part = min(max(stepover_mm / diameter_mm, 1e-6), 0.5)
    return 1 / (2 * math.sqrt(part - part * part))


def force_per_width(chip_mm: float, wood: Wood) -> float:
    """Return the cutting force per mm of engaged edge, N/mm.

    Source: straight line F/b = A + B h of the wood machining literature, in proportion to density; below
    figures.cutting_force.curved_below_mm a power curve through zero that meets it with the same slope.
    """
    f = figures()["cutting_force"]
    by_class = {"mdf": f["mdf"], "plywood": f["plywood"]}.get(wood.cutting_class, 1.0)
    scale = wood.cuts_as_kg_m3 / f["reference_kg_m3"] * by_class
    knee = f["curved_below_mm"]
    at_knee = f["a_n_mm"] + f["b_n_mm2"] * knee
    if chip_mm >= knee:
        return scale * (f["a_n_mm"] + f["b_n_mm2"] * chip_mm)
    power = f["b_n_mm2"] * knee / at_knee
    return scale * at_knee * (max(chip_mm, 0.0) / knee) ** power


def bend(bit: Bit, machine: Machine, force_n: float) -> float:
    """Return how far the tip gives way sideways, mm: fluted part, shank and machine in a row.

    Source: cantilever F l^3 / (3 E I) in two pieces, I = pi d^4 / 64, fluted part as 0.8 of the diameter;
    machine stiffness in N per micrometre.
    """
    modulus = figures()["elastic_gpa"][bit.material] * 1000  # N/mm2
    fluted = min(bit.cutting_length_mm, bit.stickout_mm)
    core = math.pi * (0.8 * bit.cut_diameter_mm) ** 4 / 64
    shank = math.pi * bit.shank_diameter_mm**4 / 64
    own = force_n / (3 * modulus) * (fluted**3 / core + (bit.stickout_mm**3 - fluted**3) / shank)
    return own + force_n / (machine.stiffness_n_um * 1000)


def load(bit: Bit, wood: Wood, machine: Machine, feed_mm_min: float, speed_rpm: float, depth_mm: float,
         stepover_mm: float) -> Load:
    """Return what a cut asks for.

    Args:
        depth_mm: depth of cut along the bit's axis.
        stepover_mm: side engagement, 0 to the diameter.

    Source: mean chip = fz (ae / R) / phi over the arc of engagement; force and power from the teeth in the cut.
    """
    diameter = bit.cut_diameter_mm
    chip = feed_mm_min / (speed_rpm * bit.flutes)
    phi = engaged_angle(stepover_mm, diameter)
    if phi < 1e-6 or depth_mm <= 0:
        return Load(chip, 0.0, 0.0, 0.0, 0.0, 0.0)
    mean = chip * min(stepover_mm / (diameter / 2), 2.0) / phi
    greatest = chip * math.sin(min(phi, math.pi / 2))
    teeth = bit.flutes * phi / (2 * math.pi)
    peak = force_per_width(greatest, wood) * depth_mm * max(1.0, teeth)
    rim_m_s = math.pi * diameter / 1000 * speed_rpm / 60
    power = force_per_width(mean, wood) * depth_mm * teeth * rim_m_s
    return Load(chip, mean, peak, power, bend(bit, machine, peak), phi)
