"""What a small job is: what it asks, what it draws, what it moves, what its readings say."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from ..quantities import named_mm
from ..workshop.machine_figures import BY_NAME
from .moves import Moves

TITLES = {
    "square": "Square and scale",
    "backlash": "Backlash",
    "pair": "Test pair",
    "stair": "Stair in z",
    "slot": "Slot",
    "time": "Time",
    "tram": "Tram",
    "stiffness": "Stiffness",
    "dial": "Dial",
    "flatness": "Flat bed",
    "repeatability": "Coming back",
    "lost": "Lost steps",
    "warm_up": "Warming up",
}

FIGURES_OF = {
    "square": ("precision.scale_x", "precision.scale_y", "precision.square"),
    "backlash": ("precision.backlash_x_mm", "precision.backlash_y_mm"),
    "pair": ("precision.pair_x_mm", "precision.pair_y_mm", "precision.pair_turn"),
    "stair": ("precision.scale_z", "precision.backlash_z_mm"),
    "slot": ("precision.slot_over_mm",),
    "time": (
        *(f"{name}.{axis}" for name in ("rapid_mm_min", "acceleration_mm_s2") for axis in range(3)),
        "greatest_feed_mm_min",
        "junction_deviation_mm",
        "chords",
    ),
    "tram": ("precision.tilt_x", "precision.tilt_y"),
    "stiffness": ("stiffness_n_um",),
    "dial": ("speeds_rpm",),
    "flatness": ("precision.flat_mm",),
    "repeatability": ("precision.repeat_mm", "precision.homing_mm"),
    "lost": ("precision.lost_x_mm", "precision.lost_y_mm"),
    "warm_up": ("precision.warm_up_mm",),
}
MEASURED_BY = {figure: kind for kind, all_of in FIGURES_OF.items() for figure in all_of}


class Gauge(StrEnum):
    """What is read, which says how it is typed."""

    LENGTH = "length"
    SECONDS = "seconds"
    SPEED = "speed"
    NUMBER = "number"


@dataclass(frozen=True)
class Ask:
    """One reading. expected: on a machine that is true, in mm or the gauge's own unit; None: nobody knows. line: on
    the drawing, mm."""

    name: str
    words: str
    gauge: Gauge = Gauge.LENGTH
    expected: float | None = None
    line: tuple[tuple[float, float], tuple[float, float]] | None = None


@dataclass(frozen=True)
class Given:
    """What a builder has for a job: least and greatest, and what is taken until he says."""

    name: str
    words: str
    value: float
    least: float
    greatest: float
    gauge: Gauge = Gauge.LENGTH


@dataclass(frozen=True)
class Drawn:
    """A shape of the drawing, mm: a rectangle (x, y, length, width), a hole (x, y, diameter) or a way (points)."""

    kind: str
    at: tuple[float, ...]


@dataclass(frozen=True)
class Told:
    """What the readings say. figure: of the machine it becomes, or "" where it is only said; value, low, high in the
    figure's own unit, low and high the 90 % range. fix: what to do at the machine, in its own terms."""

    figure: str
    sentence: str
    value: float | bool
    low: float
    high: float
    fix: str = ""


@dataclass(frozen=True)
class SmallJob:
    """A small job as a machine gets it. moves: None where a hand does it all; tell: what its readings say, by the name
    of each; wood_mm: the least scrap."""

    kind: str
    about: str
    steps: list[str]
    asks: list[Ask]
    moves: Moves | None
    drawn: list[Drawn]
    tell: Callable[[Mapping[str, float]], Reading]
    wood_mm: tuple[float, float, float] | None = None
    given: list[Given] = field(default_factory=list)

    @property
    def title(self) -> str:
        """What the job is called."""
        return TITLES[self.kind]


@dataclass(frozen=True)
class Reading:
    """What all readings of a job say, and which of them lie apart from the others, in standard deviations."""

    told: list[Told]
    apart: dict[str, float] = field(default_factory=dict)


def apart(asks: Sequence[Ask], out: Sequence[float], more_than: float) -> dict[str, float]:
    """Return the readings that lie apart, by name."""
    return {a.name: round(abs(float(o)), 1) for a, o in zip(asks, out, strict=True) if abs(o) > more_than}


def told(figure: str, value: float, half: float, sentence: str, fix: str = "") -> Told:
    """Return a figure with a range of the same half to both sides."""
    return Told(figure, sentence, float(value), float(value - half), float(value + half), fix)


def said_of(figure: str, value: float) -> str:
    """Return what a figure of the machine is called with its value."""
    suffix = BY_NAME[figure].suffix
    return f"{value:.3g} {suffix}".strip() if suffix else f"{named_mm(value):.3f}"
