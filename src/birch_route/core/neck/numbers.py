"""The numbers a neck is made from, as they stand on a drawing, a rod, a tuner or a caliper.

Frame: as a board's. x = 0 at scale zero on the centre line, x to the tail (so the headstock has x < 0), y to the treble
side, z = 0 at the glue plane under the board, the neck below it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator
from shapely.geometry import Polygon

from ..document import Model
from ..fretboard.numbers import Board
from ..plane.curves import Mm
from ..quantities import mm

Exponent = Annotated[float, Field(allow_inf_nan=False, ge=1.6, le=3.2)]

USUAL = {  # what nobody said yet stands so; what it decides is not written until somebody did
    "heel_from_mm": ("Where the heel begins", "Neck back"),
    "heel_mm": ("How deep the heel is", "Neck back"),
    "head.step_mm": ("Headstock below the glue plane", "Headstock"),
    "head.thick_mm": ("Headstock, thick", "Headstock"),
}
SHAPES = {  # our own words: (at the rim, at the apex), exponents of a superellipse
    "full_round": (2.0, 2.0),
    "flat_oval": (2.3, 2.1),
    "soft_ridge": (1.8, 1.75),
    "square_shoulders": (2.7, 2.4),
    "thin_wide": (2.5, 1.9),
    "slim_round": (2.1, 1.9),
}


class Rod(Model):
    """The rod as it was measured or told, mm. None: not said, and no channel is cut."""

    kind: Literal["two_way", "one_way"] = "two_way"  # one-way: bends in a channel deepest in its middle, under a fillet
    width_mm: Annotated[Mm, Field(ge=2, le=16)] | None = None
    deep_mm: Annotated[Mm, Field(ge=3, le=20)] | None = None  # its height; of a one-way rod at its ends
    long_mm: Annotated[Mm, Field(ge=100, le=800)] | None = None
    from_mm: Annotated[Mm, Field(ge=-80, le=60)] = -6.0  # where its head end lies
    play_mm: Annotated[Mm, Field(ge=0, le=0.5)] = 0.1  # a side, film of the finish counted
    bow_mm: Annotated[Mm, Field(ge=0, le=10)] = 4.0  # of a one-way rod: how much deeper its middle lies
    fillet_mm: Annotated[Mm, Field(ge=0, le=10)] = 4.0  # of a one-way rod: the strip over it
    round_ends: bool = True
    adjuster: Literal["head", "heel"] = "head"
    adjuster_wide_mm: Annotated[Mm, Field(ge=3, le=30)] | None = None
    adjuster_long_mm: Annotated[Mm, Field(ge=3, le=60)] | None = None
    adjuster_deep_mm: Annotated[Mm, Field(ge=3, le=25)] | None = None  # below the glue plane

    @property
    def is_known(self) -> bool:
        """Whether its channel can be drawn."""
        return None not in (self.width_mm, self.deep_mm, self.long_mm)

    @property
    def channel_mm(self) -> float:
        """How deep its channel is at its ends, below the glue plane."""
        return (self.deep_mm or 0.0) + (self.fillet_mm if self.kind == "one_way" else 0.0)

    @property
    def deepest_mm(self) -> float:
        """How deep its channel is at its deepest."""
        return self.channel_mm + (self.bow_mm if self.kind == "one_way" else 0.0)


class Bars(Model):
    """Two stiffening bars beside the rod, mm; none without all three sizes."""

    width_mm: Annotated[Mm, Field(ge=1, le=12)] | None = None
    deep_mm: Annotated[Mm, Field(ge=1, le=16)] | None = None
    long_mm: Annotated[Mm, Field(ge=50, le=700)] | None = None
    from_mm: Annotated[Mm, Field(ge=0, le=100)] = 15.0
    apart_mm: Annotated[Mm, Field(ge=4, le=60)] = 22.0  # between their middles

    @property
    def is_known(self) -> bool:
        """Whether they can be drawn."""
        return None not in (self.width_mm, self.deep_mm, self.long_mm)


class Tuners(Model):
    """The tuners as they were measured or told, mm. None: not said, and no bore is cut."""

    post_mm: Annotated[Mm, Field(ge=4, le=14)] | None = None  # bore through the headstock, from the back
    bush_mm: Annotated[Mm, Field(ge=4, le=16)] | None = None  # wider bore from the face; None: one size all through
    bush_deep_mm: Annotated[Mm, Field(ge=1, le=20)] | None = None
    body_mm: Annotated[Mm, Field(ge=8, le=40)] = 15.0  # along the row, of the housing at the back
    pitch_mm: Annotated[Mm, Field(ge=10, le=60)] | None = None  # from post to post along the row
    hole_mm: Annotated[Mm, Field(ge=2, le=25)] | None = None  # of the string's hole over the face
    least_thick_mm: Annotated[Mm, Field(ge=5, le=25)] | None = None  # headstock they clamp
    most_thick_mm: Annotated[Mm, Field(ge=5, le=30)] | None = None
    first_mm: Annotated[Mm, Field(ge=20, le=120)] = 54.0  # from scale zero to the first post
    in_mm: Annotated[Mm, Field(ge=5, le=40)] = 12.0  # posts from the edge of the headstock

    @property
    def is_known(self) -> bool:
        """Whether their bores can be drawn."""
        return None not in (self.post_mm, self.pitch_mm)


class Bolts(Model):
    """Four bores in the heel for screws or inserts, from its back, mm; none without their size, places and depth."""

    across_mm: Annotated[Mm, Field(ge=10, le=60)] | None = None  # between their middles, across the neck
    along_mm: Annotated[Mm, Field(ge=10, le=90)] | None = None  # along it
    from_end_mm: Annotated[Mm, Field(ge=4, le=60)] | None = None  # the pair nearest to the neck's end
    bore_mm: Annotated[Mm, Field(ge=1.5, le=14)] | None = None
    deep_mm: Annotated[Mm, Field(ge=3, le=40)] | None = None  # below the heel's back

    @property
    def is_known(self) -> bool:
        """Whether they can be drawn."""
        return None not in (self.across_mm, self.along_mm, self.from_end_mm, self.bore_mm, self.deep_mm)


class Head(Model):
    """The headstock. step_mm: its face below the glue plane; thick_mm: from its own face."""

    kind: Literal["stepped", "angled", "none"] = "stepped"  # angled: in one piece with the neck, both faces lean
    form: Literal["leaf", "row", "blunt"] = "leaf"  # row: all tuners on the bass side
    long_mm: Annotated[Mm, Field(ge=60, le=260)] = 178.0  # from scale zero to its tip
    wide_mm: Annotated[Mm, Field(ge=40, le=140)] = 78.0
    step_mm: Annotated[Mm, Field(ge=0, le=15)] = 4.0
    thick_mm: Annotated[Mm, Field(ge=8, le=25)] = 14.5
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=2, le=20)] = 9.0
    shelf_mm: Annotated[Mm, Field(ge=1, le=40)] = 7.0  # the glue plane goes on so far behind scale zero, under the nut
    ramp_mm: Annotated[Mm, Field(ge=3, le=60)] = 18.0  # from there down to its face
    transition_mm: Annotated[Mm, Field(ge=12, le=90)] = 42.0  # at the back, from the shaft to its own back
    volute_mm: Annotated[Mm, Field(ge=0, le=6)] = 0.0  # a crest raised behind the nut
    retainer_mm: Annotated[Mm, Field(ge=10, le=120)] | None = None  # a string retainer so far behind scale zero
    retainer_strings: Annotated[int, Field(ge=1, le=6)] = 2  # it holds down so many, from the treble side
    retainer_high_mm: Annotated[Mm, Field(ge=0, le=12)] = 2.0  # its bearing over the face


class BackStation(Model):
    """A place along the neck where its back is set on purpose. None: as the line between 1st and 12th has it."""

    at_mm: Annotated[Mm, Field(ge=0, le=700)]
    thick_mm: Annotated[Mm, Field(ge=12, le=40)] | None = None  # with the board
    rim: Exponent | None = None
    apex: Exponent | None = None
    shift_mm: Annotated[Mm, Field(ge=-6, le=6)] | None = None  # apex to the treble side


class Neck(Model):
    """A neck. Its width is its board's; thicknesses count with the board, at the crown."""

    board: Board
    thick_1st_mm: Annotated[Mm, Field(ge=15, le=32)]
    thick_12th_mm: Annotated[Mm, Field(ge=15, le=36)]
    shape: Literal["full_round", "flat_oval", "soft_ridge", "square_shoulders", "thin_wide", "slim_round"] = "flat_oval"
    shift_mm: Annotated[Mm, Field(ge=-5, le=5)] = 0.0
    stations: Annotated[list[BackStation], Field(max_length=12)] = []
    heel_from_mm: Annotated[Mm, Field(ge=200, le=700)] = 400.0  # its front end, from scale zero
    heel_mm: Annotated[Mm, Field(ge=8, le=40)] = 19.0  # below the glue plane
    heel_ramp_mm: Annotated[Mm, Field(ge=12, le=90)] = 38.0  # the transition before it
    overhang_mm: Annotated[Mm, Field(ge=0, le=40)] = 0.0  # the board reaches so far past the neck's end
    rod: Rod = Rod()
    bars: Bars = Bars()
    tuners: Tuners = Tuners()
    bolts: Bolts = Bolts()
    head: Head = Head()
    pin_mm: Annotated[Mm, Field(ge=0.8, le=4)] | None = None  # pins that place the board, in two of its slots
    # of USUAL: said or set by hand
    mine: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=30)] = []

    def unsaid(self) -> list[str]:
        """Return which numbers of USUAL nobody has said though they decide a cut of this neck."""
        idle = set(self.mine)
        if self.head.kind != "stepped":
            idle.add("head.step_mm")
        if self.head.kind == "none":
            idle.add("head.thick_mm")
        return [name for name in USUAL if name not in idle]

    @model_validator(mode="after")
    def _can_be(self) -> Neck:
        crown = self.board.thickness_mm
        for name, thick in (("1st", self.thick_1st_mm), ("12th", self.thick_12th_mm)):
            if thick - crown < 8:
                raise ValueError(
                    f"{mm(thick):g} at the {name} fret leaves {mm(thick - crown):g} of neck under a board "
                    f"{mm(crown):g} thick. Measure both again."
                )
        places = [s.at_mm for s in self.stations]
        if places != sorted(set(places)):
            raise ValueError("The stations of the back stand in order, each at a place of its own.")
        return self

    @model_validator(mode="after")
    def _lies_in_order(self) -> Neck:
        """Check what the places along the neck say: the heel within it, the channel within the wood."""
        from .lines import heel_end_mm, outline_points

        end = heel_end_mm(self)
        if self.heel_from_mm > end - 15:
            raise ValueError(
                f"The heel begins {mm(self.heel_from_mm):g} from the nut and the neck ends at {mm(end):.1f}: a heel "
                f"needs 15 at least. Let it begin earlier, or the board reach less far past it."
            )
        if self.heel_from_mm - self.heel_ramp_mm < 60:
            raise ValueError("Between nut and heel stays no shaft to hold. Let the heel begin later.")
        rod = self.rod
        if rod.is_known and rod.from_mm + (rod.long_mm or 0.0) > end:
            raise ValueError(
                f"The rod ends {mm(rod.from_mm + (rod.long_mm or 0.0)):g} from the nut, past the neck's end at "
                f"{mm(end):.1f}. Take a shorter one, or let it begin further out."
            )
        if rod.is_known and (rod.width_mm or 0.0) + 2 * rod.play_mm > self.board.width_nut_mm / 2:
            raise ValueError("A channel wider than half the neck leaves no walls beside the rod.")
        ring = Polygon(outline_points(self))
        if not ring.is_valid or ring.area < 1:
            raise ValueError(
                "With these numbers the outline crosses itself behind the nut. Make the headstock longer or wider, or "
                "stand its tuners nearer together."
            )
        return self
