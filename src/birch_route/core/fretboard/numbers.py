"""The numbers a fretboard is made from, as they stand on a drawing, a packet of wire or a caliper.

Frame: x = 0 at scale zero (the front edge of the nut, the crown of a zero fret) on the centre line, x to the tail, y to
the treble side, z = 0 at the glue plane under the board.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..document import Model
from ..plane.curves import Mm
from ..quantities import mm

LEAST_SPREAD_MM = 10.0  # between outer strings, and of a board anywhere


class Wire(Model):
    """A fret wire, read or told from its packet, mm. None: neither, and nothing that rests on it is cut."""

    tang_depth_mm: Annotated[Mm, Field(gt=0, le=4)] | None = None
    tang_mm: Annotated[Mm, Field(gt=0, le=2)] | None = None  # between the barbs
    barbs_mm: Annotated[Mm, Field(gt=0, le=3)] | None = None  # across them

    @model_validator(mode="after")
    def _barbs_stand_out(self) -> Wire:
        if self.tang_mm is not None and self.barbs_mm is not None and self.barbs_mm <= self.tang_mm:
            raise ValueError("A tang is wider across its barbs than between them. Measure both again.")
        return self


class Board(Model):
    """A fretboard. Widths are at the nut's front edge and at the board's end; radii too."""

    scale_mm: Annotated[Mm, Field(ge=300, le=1000)]  # of the treble string where there are two
    bass_scale_mm: Annotated[Mm, Field(ge=300, le=1000)] | None = None
    square_fret: Annotated[int, Field(ge=0, le=36)] = 7  # of two scales: the fret that stands square
    frets: Annotated[int, Field(ge=1, le=36)] = 22
    zero_fret: bool = False
    strings: Annotated[int, Field(ge=2, le=12)] = 6
    width_nut_mm: Annotated[Mm, Field(ge=20, le=120)]
    width_end_mm: Annotated[Mm, Field(ge=20, le=150)]
    edge_land_mm: Annotated[Mm, Field(ge=0.5, le=10)] = 3.0  # outside the outer strings
    radius_nut_mm: Annotated[Mm, Field(ge=100, le=2000)]
    radius_end_mm: Annotated[Mm, Field(ge=100, le=2000)]
    fall_away_mm: Annotated[Mm, Field(ge=0, le=1)] = 0.0  # at the end, over the last third of the frets
    thickness_mm: Annotated[Mm, Field(ge=2, le=15)]  # at the crown
    past_last_fret_mm: Annotated[Mm, Field(ge=1, le=60)] = 8.0
    before_nut_mm: Annotated[Mm, Field(ge=0, le=30)] = 0.0  # board behind scale zero: nut slot, zero fret
    left_handed: bool = False  # the bass strings lie to +y, as they do once a board is mirrored
    wire: Wire = Wire()
    seat: Literal["pressed", "hammered", "glued"] = "pressed"
    blind: bool = False  # slots end inside the board's edges
    floors: Literal["flat", "following"] = "flat"  # slots first, each with a flat floor; or after the radius, along it
    markers: bool = True
    marker_mm: Annotated[Mm, Field(ge=1.5, le=12)] = 6.0  # dots across
    marker_deep_mm: Annotated[Mm, Field(ge=0.5, le=6)] = 2.0  # below the finished face beside them
    nut_slot_mm: Annotated[Mm, Field(ge=1.5, le=12)] | None = None  # along the board, behind scale zero
    nut_deep_mm: Annotated[Mm, Field(ge=0.3, le=8)] = 2.5  # below the crown

    @model_validator(mode="after")
    def _can_be(self) -> Board:
        if self.square_fret > self.frets:
            raise ValueError(f"Fret {self.square_fret} cannot stand square on a board of {self.frets}.")
        for name, width, radius in (
            ("nut", self.width_nut_mm, self.radius_nut_mm), ("end", self.width_end_mm, self.radius_end_mm),
        ):
            if radius <= width / 2:
                raise ValueError(f"A radius of {mm(radius):g} is no more than half the board's width at its {name}.")
        if self.width_end_mm < self.width_nut_mm:
            raise ValueError(
                f"A board is no narrower at its end than at its nut: {mm(self.width_end_mm):g} is less than "
                f"{mm(self.width_nut_mm):g}."
            )
        if self.width_nut_mm - 2 * self.edge_land_mm < LEAST_SPREAD_MM:
            raise ValueError(
                f"Outer strings {mm(self.edge_land_mm):g} inside the edges of a board {mm(self.width_nut_mm):g} wide "
                f"leave no room for strings between them."
            )
        if self.nut_slot_mm is not None and self.before_nut_mm < self.nut_slot_mm:
            raise ValueError(
                f"A nut slot {mm(self.nut_slot_mm):g} long lies behind scale zero, where the board ends after "
                f"{mm(self.before_nut_mm):g}. Let the board reach further behind the nut."
            )
        if self.nut_slot_mm is not None and self.zero_fret:
            raise ValueError(
                "A nut slot ends at scale zero, where a zero fret has its own slot. Leave the nut slot empty and cut "
                "it by hand behind the fret, or take the zero fret away."
            )
        if max(self.marker_deep_mm if self.markers else 0.0, self.nut_deep_mm) >= self.thickness_mm:
            raise ValueError(f"A board {mm(self.thickness_mm):g} thick has no room for a dot or a nut slot that deep.")
        return self

    @model_validator(mode="after")
    def _lies_on_the_board(self) -> Board:
        """Check what only the places of the frets can say: that they keep their order and slant no further than they
        could be cut, and that the board does not run to a point behind its nut."""
        from .lines import plan_of

        plan = plan_of(self)
        for one in plan.lines:
            if abs(one.treble[0] - one.bass[0]) > abs(one.treble[1] - one.bass[1]):
                raise ValueError(
                    f"With these two scales fret {one.number} would slant by more than 45 degrees. Choose scales that "
                    f"are nearer to each other, or another fret that stands square."
                )
        zero = plan.lines[0]
        behind = min(zero.bass[0], zero.treble[0], 0.0) - self.before_nut_mm
        if 2 * plan.half_mm(behind) < LEAST_SPREAD_MM:
            raise ValueError(
                f"The board narrows so fast that it ends in a point behind its nut: {mm(self.width_nut_mm):g} at the "
                f"nut, {mm(self.width_end_mm):g} at its end."
            )
        return self
