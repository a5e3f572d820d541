"""Bits: form, size, reach. A bit is described by its rotating envelope; heights are above its tip."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..quantities import mm
from ..vocabulary import BitForm, Flute

UNDERCUTS = (
    "it cuts under wood that stays, and the proof sees wood from above only: nothing could say what it leaves, or that "
    "it comes out again"
)
TAPER_MOST_DEG = 60.0  # wider than that is a V with a round tip, which no wall stands beside
Across = Annotated[float, Field(allow_inf_nan=False, ge=0.05, le=100)]  # wider is turned by no router
Positive = Annotated[float, Field(allow_inf_nan=False, ge=0.05, le=500)]  # thinner is no bit


class Bit(BaseModel):
    """One bit of the rack. Lengths in mm, angles in degrees."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    id: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9_]+$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    form: BitForm
    diameter_mm: Across
    measured_diameter_mm: Across | None = None
    corner_radius_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=50)] = 0.0
    included_angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=1, lt=180)] = 118.0
    tip_diameter_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=50)] = 0.0
    flutes: Annotated[int, Field(ge=1, le=8)] = 2
    flute: Flute = Flute.UP_CUT
    helix_deg: Annotated[float, Field(ge=0, le=60)] = 30.0
    cutting_length_mm: Positive
    shank_diameter_mm: Positive
    stickout_mm: Positive
    material: Annotated[str, Field(pattern="^(carbide|hss)$")] = "carbide"
    cuts_at_centre: bool = True
    serrated: bool = False  # a rougher: its notched edges leave grooves on the wall

    @model_validator(mode="after")
    def _fits_together(self) -> Bit:
        if self.cutting_length_mm > self.stickout_mm:
            raise ValueError(
                f"{self.name} sticks out {mm(self.stickout_mm):g} but cuts {mm(self.cutting_length_mm):g}: the "
                f"collet nut would "
                "sit on the flutes. Set it further out."
            )
        if self.form is BitForm.BULL and self.corner_radius_mm > self.diameter_mm / 2:
            raise ValueError(f"{self.name} has a corner radius above half its diameter.")
        if self.form is BitForm.ROUND and not 0 < self.corner_radius_mm <= (self.diameter_mm - self.tip_diameter_mm) / 2 + 1e-6:
            raise ValueError(f"{self.name} needs a radius that fits between its tip and its diameter.")
        if self.form is BitForm.TAPER and self.included_angle_deg > TAPER_MOST_DEG:
            raise ValueError(
                f"{self.name} tapers by {self.included_angle_deg:g} degrees in all: a tapered ball has at most "
                f"{TAPER_MOST_DEG:g}. Type the angle between its two sides."
            )
        if self.form is BitForm.TAPER and self.cutting_length_mm < self.radius_mm:
            raise ValueError(f"{self.name} cuts less than its ball is high. Type how far its edges reach up.")
        if self.tip_diameter_mm >= self.diameter_mm:
            raise ValueError(f"{self.name} has a tip as wide as the bit.")
        return self

    @property
    def undercuts(self) -> bool:
        """Whether it cuts wood that stands above what it cuts: the proof sees wood from above and cannot see that."""
        return self.form in (BitForm.DOVETAIL, BitForm.UNDERCUT)

    @property
    def cut_diameter_mm(self) -> float:
        """The diameter it cuts: as measured where someone measured it, else nominal."""
        return self.measured_diameter_mm or self.diameter_mm

    @property
    def radius_mm(self) -> float:
        """Half the diameter it cuts."""
        return self.cut_diameter_mm / 2

    @property
    def reach_mm(self) -> float:
        """Its greatest radius anywhere along its edges, mm: of a tapered ball at their upper end, else half its
        diameter."""
        if self.form is not BitForm.TAPER:
            return self.radius_mm
        half = math.radians(self.included_angle_deg) / 2
        above = self.cutting_length_mm - self.radius_mm * (1 - math.sin(half))
        return self.radius_mm * math.cos(half) + max(0.0, above) * math.tan(half)

    @property
    def point_height_mm(self) -> float:
        """Height of the part that is not yet full width: a drill's or V's point, a ball's radius."""
        if self.form in (BitForm.DRILL, BitForm.V):
            return (self.radius_mm - self.tip_diameter_mm / 2) / math.tan(math.radians(self.included_angle_deg) / 2)
        if self.form in (BitForm.BALL, BitForm.TAPER):
            return self.radius_mm
        return self.corner_radius_mm if self.form in (BitForm.BULL, BitForm.ROUND) else 0.0


def profile_height(bit: Bit, distance_mm: float) -> float:
    """Return the height of the bit's surface above its tip at a distance from its axis.

    Args:
        bit: the bit.
        distance_mm: 0 to its greatest radius.

    Returns:
        mm; infinity outside its greatest radius.

    Source: circle chord for ball and bull-nose; straight cone for V and drill point; for a tapered ball the chord up to
    where the cone touches it, then the cone; for one that rounds over, the quarter circle it leaves, hollow side out.
    """
    radius = bit.radius_mm
    if distance_mm > bit.reach_mm + 1e-12:
        return math.inf
    if bit.form is BitForm.TAPER:
        half = math.radians(bit.included_angle_deg) / 2
        if distance_mm > radius * math.cos(half):
            return radius * (1 - math.sin(half)) + (distance_mm - radius * math.cos(half)) / math.tan(half)
        return radius - math.sqrt(max(0.0, radius**2 - distance_mm**2))
    if bit.form is BitForm.BALL:
        return radius - math.sqrt(max(0.0, radius**2 - distance_mm**2))
    if bit.form is BitForm.BULL:
        flat = radius - bit.corner_radius_mm
        over = max(0.0, distance_mm - flat)
        return bit.corner_radius_mm - math.sqrt(max(0.0, bit.corner_radius_mm**2 - over**2))
    if bit.form is BitForm.ROUND:
        over = min(max(0.0, distance_mm - bit.tip_diameter_mm / 2), bit.corner_radius_mm)
        return math.sqrt(max(0.0, bit.corner_radius_mm**2 - (bit.corner_radius_mm - over) ** 2))
    if bit.form in (BitForm.V, BitForm.DRILL):
        over = max(0.0, distance_mm - bit.tip_diameter_mm / 2)
        return over / math.tan(math.radians(bit.included_angle_deg) / 2)
    return 0.0
