"""The numbers a fretboard is made from, as they stand on a drawing, a packet of wire or a caliper.

Frame: x = 0 at scale zero (the front edge of the nut, the crown of a zero fret) on the centre line, x to the tail, y to
the treble side, z = 0 at the glue plane under the board.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..data import figures
from ..document import Id, Model
from ..plane.curves import Mm
from ..quantities import mm

WireSize = Literal["crown_mm", "tang_depth_mm", "tang_mm", "barbs_mm"]


USUAL = {  # what nobody said yet stands so; what it decides is not written until somebody did
    "edge_land_mm": ("Outer strings from the edge", "Fret slots"),
    "seat": ("How frets are seated", "Fret slots"),
    "before_nut_mm": ("Board behind the nut's edge", "Outline"),
    "past_last_fret_mm": ("Board past the last fret", "Outline"),
}


class Wire(Model):
    """A fret wire, read or told from its packet, mm. None: neither, and nothing that rests on it is cut.

    readings: of a size, by the caliper on several pieces of the wire; their mean is the size.
    """

    crown_mm: Annotated[Mm, Field(gt=0, le=3)] | None = None  # over the board once it is seated
    tang_depth_mm: Annotated[Mm, Field(gt=0, le=4)] | None = None
    tang_mm: Annotated[Mm, Field(gt=0, le=2)] | None = None  # between the barbs
    barbs_mm: Annotated[Mm, Field(gt=0, le=3)] | None = None  # across them
    readings: dict[WireSize, Annotated[list[Annotated[Mm, Field(gt=0, le=4)]], Field(max_length=12)]] = {}

    @model_validator(mode="before")
    @classmethod
    def _follow_readings(cls, data: Any) -> Any:
        """A size that was read is the mean of its readings."""
        if not isinstance(data, dict) or not isinstance(data.get("readings"), dict):
            return data
        out = {**data, "readings": {k: v for k, v in data["readings"].items() if v}}
        for name, values in out["readings"].items():
            numbers = isinstance(values, list) and all(isinstance(v, int | float) for v in values)
            if name in cls.model_fields and numbers:
                out[name] = round(sum(values) / len(values), 4)
        return out

    def spread_mm(self, name: WireSize) -> float:
        """Return how far the readings of a size lie apart; 0 of none or one."""
        values = self.readings.get(name, [])
        return max(values, default=0.0) - min(values, default=0.0)

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
    ends: Literal["square", "slanted"] = "square"  # slanted: along the nut and along the last fret
    markers: bool = True
    marker_mm: Annotated[Mm, Field(ge=1.5, le=12)] | None = None  # dots across; None: not said, and none is cut
    marker_deep_mm: Annotated[Mm, Field(ge=0.5, le=6)] | None = None  # below the finished face beside them
    side_dots: bool = False
    side_dot_mm: Annotated[Mm, Field(ge=1, le=5)] = 2.0  # across
    nut_slot_mm: Annotated[Mm, Field(ge=1.5, le=12)] | None = None  # along the board, behind scale zero
    nut_deep_mm: Annotated[Mm, Field(ge=0.3, le=8)] | None = None  # below the crown
    binding_mm: Annotated[Mm, Field(ge=0.5, le=4)] | None = None  # along each edge, within the board's width
    binding_deep_mm: Annotated[Mm, Field(ge=1, le=12)] | None = None  # its ledge below the crown; None: whole edge
    mine: Annotated[list[Id], Field(max_length=20)] = []  # of USUAL: what was said or set by hand

    @property
    def off_edge_mm(self) -> float:
        """How far the wood of an edge lies inside the finished board: what binding on the whole edge takes."""
        return self.binding_mm if self.binding_mm is not None and self.binding_deep_mm is None else 0.0

    @property
    def has_dots(self) -> bool:
        """Whether dots are wanted and both their sizes are known."""
        return self.markers and self.marker_mm is not None and self.marker_deep_mm is not None

    def unsaid(self) -> list[str]:
        """Return which numbers of USUAL nobody has said though they decide a cut of this board."""
        idle = set(self.mine)
        if self.bass_scale_mm is None:
            idle.add("edge_land_mm")
        if self.wire.tang_mm is None or self.wire.tang_depth_mm is None:
            idle |= {"seat", "edge_land_mm"}
        return [name for name in USUAL if name not in idle]

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
        if self.width_nut_mm - 2 * self.edge_land_mm < figures()["fretboard"]["least_spread_mm"]:
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
        deep = max((self.marker_deep_mm or 0.0) if self.markers else 0.0, self.nut_deep_mm or 0.0)
        if deep >= self.thickness_mm:
            raise ValueError(f"A board {mm(self.thickness_mm):g} thick has no room for a dot or a nut slot that deep.")
        return self

    @model_validator(mode="after")
    def _takes_its_binding(self) -> Board:
        if self.binding_mm is None:
            return self
        if self.binding_mm >= self.edge_land_mm:
            raise ValueError(
                f"Binding {mm(self.binding_mm):g} wide would lie under strings {mm(self.edge_land_mm):g} inside the "
                f"edge. Take thinner binding, or strings further in."
            )
        if self.binding_deep_mm is not None and self.binding_deep_mm >= self.thickness_mm:
            raise ValueError(
                f"A ledge {mm(self.binding_deep_mm):g} below the crown goes through a board "
                f"{mm(self.thickness_mm):g} thick. Leave its depth empty where binding covers the whole edge."
            )
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
        if 2 * plan.half_mm(behind) < figures()["fretboard"]["least_spread_mm"]:
            raise ValueError(
                f"The board narrows so fast that it ends in a point behind its nut: {mm(self.width_nut_mm):g} at the "
                f"nut, {mm(self.width_end_mm):g} at its end."
            )
        return self
