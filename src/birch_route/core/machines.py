"""Machine profiles and program dialects: data, not code. Lengths mm, rates mm/min, accelerations mm/s2."""

from __future__ import annotations

from datetime import date
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

Positive = Annotated[float, Field(allow_inf_nan=False, ge=1e-4, le=1e6)]
OnBed = Annotated[float, Field(allow_inf_nan=False, ge=0, le=5000)]
Place = tuple[OnBed, OnBed]
Zone = tuple[OnBed, OnBed, Positive, Positive]
Hour = Annotated[float, Field(allow_inf_nan=False, ge=0, le=24)]
Hours = tuple[Hour, Hour]
Triple = tuple[Positive, Positive, Positive]


class MachineClass(StrEnum):
    BELT = "belt"
    BENCH = "bench"
    INDUSTRIAL = "industrial"


class Split(StrEnum):
    PER_SETUP = "per_setup"
    PER_BIT = "per_bit"
    PER_OPERATION = "per_operation"


class LineEnding(StrEnum):
    LF = "lf"
    CRLF = "crlf"


class EndWord(StrEnum):
    M30 = "M30"
    M2 = "M2"


class FigureOrigin(StrEnum):
    """Where a figure of a machine comes from. What is not said is assumed."""

    ASSUMED = "assumed"
    TOLD = "told"
    MEASURED = "measured"


class Known(BaseModel):
    """How a figure of a machine is known. on: the day it was told or measured. spread: of what was measured, half of
    the 90 % range, in the figure's own unit."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    origin: FigureOrigin = FigureOrigin.ASSUMED
    on: date | None = None
    spread: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)] | None = None
    note: Annotated[str, Field(max_length=200)] = ""


class Dialect(BaseModel):
    """How a machine wants its programs written."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    id: Annotated[str, Field(min_length=1, max_length=40)]
    inch: bool = False
    arcs: bool = True
    decimals: Annotated[int, Field(ge=2, le=6)] = 3
    line_numbers: bool = False
    split: Split = Split.PER_SETUP
    change_word: bool = False  # write M6 Tn at a bit change; otherwise a plain stop M0
    changer_slots: Annotated[int, Field(ge=1, le=60)] | None = None  # of a changer; None: bits are put in by hand
    preselect: bool = False  # the next bit is called right after a change, so that the changer can bring it
    speed_word: bool = True  # write S; a router with a dial takes none
    warm_up_s: Annotated[float, Field(ge=0, le=120)] = 3.0
    probe_word: Literal["G38.2", "G38.3"] | None = None  # Z is touched off by the program; None: by hand
    probe_down_mm: Annotated[float, Field(ge=2, le=300)] = 120.0  # the bit looks for the plate so far down
    probe_feed_mm_min: Annotated[float, Field(ge=5, le=500)] = 60.0
    set_word: Literal["G10 L20", "G92"] = "G10 L20"  # sets Z to where the plate says that it is
    extraction: bool = False  # M8 and M9 switch the extraction
    semicolon_comments: bool = False
    extension: Annotated[str, Field(pattern=r"^\.[A-Za-z0-9]{1,5}$")] = ".nc"
    percent: bool = False  # a line with % before and after it all
    end_word: EndWord = EndWord.M30
    line_ending: LineEnding = LineEnding.LF
    name_length: Annotated[int, Field(ge=8, le=120)] = 120  # letters a file's name may have, with its ending
    largest_kb: Annotated[int, Field(ge=4, le=100_000)] | None = None  # of a file, 1000 bytes; None: any


class Pump(BaseModel):
    """A vacuum pump: what it moves with nothing in its way, and the deepest it draws."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    free_l_min: Annotated[float, Field(allow_inf_nan=False, gt=0, le=20_000)]
    deepest_bar: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1)]


Small = Annotated[float, Field(allow_inf_nan=False, ge=-100, le=100)]


class Precision(BaseModel):
    """How true a machine is, as far as it was measured; None: not yet. Shares are thousandths: of a length for scale,
    of the reach for angles. Signs: see core/measuring, where each is read."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    scale_x: Small | None = None  # plus: it goes too far
    scale_y: Small | None = None
    scale_z: Small | None = None
    square: Small | None = None  # plus: the angle between x and y is less than a right one
    backlash_x_mm: Small | None = None  # plus: it stays behind where it comes back from the right
    backlash_y_mm: Small | None = None
    backlash_z_mm: Small | None = None
    pair_x_mm: Small | None = None  # plus: what the front cut lies to the right, seen from the back
    pair_y_mm: Small | None = None
    pair_turn: Small | None = None
    slot_over_mm: Small | None = None  # a slot is so much wider than its bit
    tilt_x: Small | None = None  # plus: the top of the spindle leans to the right
    tilt_y: Small | None = None  # plus: away from you
    flat_mm: Small | None = None
    repeat_mm: Small | None = None  # nine times in ten within so much, plus and minus
    homing_mm: Small | None = None
    lost_x_mm: Small | None = None
    lost_y_mm: Small | None = None
    warm_up_mm: Small | None = None  # plus: the bit comes lower


class Machine(BaseModel):
    """A CNC router of the shop."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    OFFSETS: ClassVar[int] = 6  # work offsets a machine has, G54 to G59
    id: str
    name: Annotated[str, Field(min_length=1, max_length=80)]
    machine_class: MachineClass
    travel_mm: Triple
    rapid_mm_min: Triple
    acceleration_mm_s2: Triple
    home_right: bool = False  # it homes at the right end of x, not at the left
    home_rear: bool = False  # at the far end of y, not at the near
    keep_in_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=50)] = 0.0  # soft limits: before the ends of x, y
    junction_deviation_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1)] = 0.02
    greatest_feed_mm_min: Positive
    refuses_over: bool = False  # it stops at a feed above its greatest, instead of going as fast as it can
    chords: bool = False  # it runs arcs as short straight moves; else they are limited by what keeps it on the circle
    speeds_rpm: list[Positive] = []  # the steps of a dial; empty: free between least and greatest
    least_rpm: Positive
    greatest_rpm: Positive
    rated_rpm: Positive  # power falls in proportion below this
    power_w: Positive
    brushes_h: Annotated[float, Field(allow_inf_nan=False, gt=0, le=10_000)] | None = None  # how long a set of brushes lasts at the greatest speed, hours; None: a spindle without any
    stiffness_n_um: Positive
    nut_diameter_mm: Positive
    nut_length_mm: Positive
    spindle_diameter_mm: Positive  # its nose, above the collet nut
    shoe_diameter_mm: Positive | None = None  # rigid part of a dust shoe round the spindle; brushes do not count
    shoe_up_mm: Annotated[float, Field(allow_inf_nan=False, ge=-100, le=200)] = 10.0  # its lower edge above the collet nut's face; minus: below
    nut_clear_mm: Positive  # collet nut above the waste board with Z fully up
    waste_board_mm: Positive = 18.0
    waste_cut_mm: Annotated[float, Field(ge=0, le=10)] = 0.6  # how far through cuts may enter it
    touch_off_min: Positive = 1.0
    touch_plate_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=100)] | None = None  # thickness of the plate Z is touched off on; None: paper
    edge_finder_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=50)] | None = None  # diameter of its tip; None: there is none
    index_holes_mm: Annotated[list[Place], Field(max_length=60)] = []  # permanent, from the near left end
    index_hole_mm: Annotated[float, Field(allow_inf_nan=False, gt=1, le=30)] = 8.0  # their diameter
    bit_change_mm: Place | None = None  # where bits are changed, from the near left end; None: at the park place
    probe_mm: Place | None = None  # where every bit touches Z off, from the near left end; None: at the setup's own
    pump: Pump | None = None  # of its vacuum
    zones_mm: Annotated[list[Zone], Field(max_length=24)] = []  # x, y from the near left end, length, width
    collets_mm: Annotated[list[Positive], Field(max_length=20)] = []  # shanks it takes; empty: not said
    quiet_h: Annotated[list[Hours], Field(max_length=6)] = []  # hours of the day in which it is not run, from and to
    least_people: Annotated[int, Field(ge=1, le=10)] = 1  # in the shop while it runs
    stop_reach_mm: Positive | None = None  # nobody who watches it stands further from its emergency stop
    precision: Precision | None = None  # None: nothing of it was measured
    known: dict[str, Known] = {}  # by figure; one that is not here is assumed
    dialect: Dialect

    @model_validator(mode="after")
    def _ordered(self) -> Machine:
        if self.least_rpm > self.greatest_rpm:
            raise ValueError(f"{self.name}: least spindle speed is above the greatest.")
        words: Dialect | None = self.dialect  # a report's machine comes without
        if words is not None and words.probe_word is not None and self.touch_plate_mm is None:
            raise ValueError(
                f"{self.name}: a program that touches Z off by itself sets it to the touch plate's thickness. Say how "
                f"thick that is first, or let Z be touched off by hand."
            )
        return self

    def from_home(self, place: Place) -> Place:
        """Return a place of the bed, told from the near left end of the travel, as the machine counts it from home."""
        return (
            place[0] - (self.travel_mm[0] if self.home_right else 0.0),
            place[1] - (self.travel_mm[1] if self.home_rear else 0.0),
        )

    @property
    def slot_over_mm(self) -> float:
        """How much wider than its bit a slot comes, as far as that was measured; 0 where it was not."""
        over = None if self.precision is None else self.precision.slot_over_mm
        return max(0.0, over or 0.0)

    @property
    def heads(self) -> tuple[tuple[str, float, float], ...]:
        """What turns or rides above the collet nut: name, radius, and height of its lower face above the nut's face, mm."""
        nose = ("spindle nose", self.spindle_diameter_mm / 2, self.nut_length_mm)
        return (nose,) if self.shoe_diameter_mm is None else (nose, ("dust shoe", self.shoe_diameter_mm / 2, self.shoe_up_mm))

    def speed_words(self, speed_rpm: float) -> str:
        """Return how a person sets a speed by hand: the step of the dial, counted from the slowest, and what it turns."""
        steps = sorted(self.speeds_rpm)
        return f"dial at {steps.index(speed_rpm) + 1} of {len(steps)}, {speed_rpm:g} rpm" if speed_rpm in steps else f"speed at {speed_rpm:g} rpm"

    @property
    def greatest_plunge_mm_min(self) -> float:
        """How fast Z goes into wood at most."""
        return min(self.greatest_feed_mm_min, self.rapid_mm_min[2])

    def nearest_speed(self, wanted_rpm: float) -> float:
        """Return the spindle speed this machine can give that is nearest the wanted one."""
        if self.speeds_rpm:
            return min(self.speeds_rpm, key=lambda s: abs(s - wanted_rpm))
        return round(min(max(wanted_rpm, self.least_rpm), self.greatest_rpm) / 100) * 100

    def power_at(self, speed_rpm: float) -> float:
        """Return the power in W at a speed: in proportion below the rated speed (starting figure)."""
        return self.power_w * min(1.0, speed_rpm / self.rated_rpm)
