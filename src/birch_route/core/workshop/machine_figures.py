"""Every figure of a machine: what it means, what rests on it, and which are only assumed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any

from ..data import figures
from ..machines import FigureOrigin, Known, Machine


class Group(StrEnum):
    """Where a figure stands on the drawing of a machine."""

    BED = "bed"
    MOTION = "motion"
    HEAD = "head"
    SPINDLE = "spindle"
    PRECISION = "precision"
    USE = "use"


class Kind(StrEnum):
    """How a figure is typed and said."""

    LENGTH = "length"
    RATE = "rate"
    ACCELERATION = "acceleration"
    NUMBER = "number"
    SPEEDS = "speeds"
    PLACE = "place"
    PLACES = "places"
    ZONES = "zones"
    CHOICE = "choice"
    LENGTHS = "lengths"
    HOURS = "hours"


@dataclass(frozen=True)
class Figure:
    """One figure of a machine. name: of the field, with the axis after a point where there are three. rests: what is
    judged with it, in words; worst figures first in the list."""

    name: str
    words: str
    group: Group
    kind: Kind
    means: str
    rests: tuple[str, ...]
    suffix: str = ""
    may_be_missing: bool = False


def _true(name: str, words: str, means: str, rests: str, suffix: str = "") -> Figure:
    """Return a figure of how true a machine is: missing until it was measured."""
    kind = Kind.NUMBER if suffix else Kind.LENGTH
    return Figure(f"precision.{name}", words, Group.PRECISION, kind, means, (rests,), suffix, may_be_missing=True)


_L, _R, _N, _A = Kind.LENGTH, Kind.RATE, Kind.NUMBER, Kind.ACCELERATION
FIGURES: tuple[Figure, ...] = (
    Figure("travel_mm.0", "travel x", Group.BED, _L, "How far it goes from left to right.",
           ("whether the piece and its clamps are reached",)),
    Figure("travel_mm.1", "travel y", Group.BED, _L, "How far it goes away from you.",
           ("whether the piece and its clamps are reached",)),
    Figure("travel_mm.2", "travel z", Group.HEAD, _L, "How far the spindle goes up and down.",
           ("whether long bits clear the wood",)),
    Figure("nut_clear_mm", "nut above the board", Group.HEAD, _L,
           "From the waste board to the collet nut with Z fully up.",
           ("whether a bit can be put in over the wood", "travel in z")),
    Figure("nut_diameter_mm", "nut wide", Group.HEAD, _L, "Widest place of the collet nut.",
           ("whether the nut meets wood or clamps",)),
    Figure("nut_length_mm", "nut long", Group.HEAD, _L, "From its lower face to the spindle's nose.",
           ("whether the nose meets wood or clamps",)),
    Figure("spindle_diameter_mm", "nose wide", Group.HEAD, _L, "The spindle above the collet nut.",
           ("whether the nose meets wood or clamps",)),
    Figure("shoe_diameter_mm", "dust shoe wide", Group.HEAD, _L, "The rigid part of a dust shoe; brushes do not count.",
           ("whether the shoe meets clamps",), may_be_missing=True),
    Figure("shoe_up_mm", "shoe above the nut's face", Group.HEAD, _L,
           "Its lower edge above the face of the nut; minus is below.", ("whether the shoe meets clamps",)),
    Figure("waste_board_mm", "waste board thick", Group.HEAD, _L, "What lies under every piece.",
           ("how deep a cut may go through",)),
    Figure("waste_cut_mm", "cut into the board", Group.HEAD, _L, "How far a cut through may enter the waste board.",
           ("cuts through the wood",)),
    Figure("stiffness_n_um", "stiffness at the bit", Group.SPINDLE, _N, "Force at the bit over how far it gives way.",
           ("how far walls and slots are off", "depth of a pass"), "N/µm"),
    Figure("power_w", "power", Group.SPINDLE, _N, "What the spindle gives at its rated speed.",
           ("depth and feed with wide bits",), "W"),
    Figure("rated_rpm", "rated speed", Group.SPINDLE, _N, "Below it the power falls in proportion.",
           ("depth and feed at low speed",), "rpm"),
    Figure("least_rpm", "slowest", Group.SPINDLE, _N, "The slowest it turns.", ("speed, chip load",), "rpm"),
    Figure("greatest_rpm", "fastest", Group.SPINDLE, _N, "The fastest it turns.", ("speed, chip load",), "rpm"),
    Figure("speeds_rpm", "steps of the dial", Group.SPINDLE, Kind.SPEEDS,
           "What each step of a dial turns, slowest first. Empty: any speed between.", ("speed, chip load",), "rpm",
           may_be_missing=True),
    Figure("brushes_h", "brushes last", Group.SPINDLE, _N, "Hours of a set of brushes at the greatest speed.",
           ("whether brushes last through a job",), "h", may_be_missing=True),
    Figure("greatest_feed_mm_min", "greatest feed", Group.MOTION, _R, "The fastest it cuts.", ("feed, minutes",)),
    Figure("rapid_mm_min.0", "rapid x", Group.MOTION, _R, "How fast it goes without cutting.", ("minutes",)),
    Figure("rapid_mm_min.1", "rapid y", Group.MOTION, _R, "How fast it goes without cutting.", ("minutes",)),
    Figure("rapid_mm_min.2", "rapid z", Group.MOTION, _R, "How fast it goes up and down.", ("minutes", "plunge")),
    Figure("acceleration_mm_s2.0", "picks up in x", Group.MOTION, _A, "How quickly it comes to speed.",
           ("minutes", "feed in short moves")),
    Figure("acceleration_mm_s2.1", "picks up in y", Group.MOTION, _A, "How quickly it comes to speed.",
           ("minutes", "feed in short moves")),
    Figure("acceleration_mm_s2.2", "picks up in z", Group.MOTION, _A, "How quickly it comes to speed.",
           ("minutes", "feed in contour passes")),
    Figure("junction_deviation_mm", "corner deviation", Group.MOTION, _L, "How far it cuts a corner to keep its pace.",
           ("minutes", "corners")),
    Figure("touch_off_min", "a touch-off takes", Group.MOTION, _N, "By hand, each time.", ("minutes by hand",), "min"),
    Figure("touch_plate_mm", "touch plate thick", Group.BED, _L, "What Z is touched off on. Missing: paper.",
           ("height of Z zero",), may_be_missing=True),
    Figure("edge_finder_mm", "edge finder across", Group.BED, _L, "Diameter of its tip. Missing: none.",
           ("zero in x and y",), may_be_missing=True),
    Figure("bit_change_mm", "bits are changed at", Group.BED, Kind.PLACE,
           "From the near left end of the travel. Missing: where it parks.",
           ("whether there is room to change a bit",), may_be_missing=True),
    Figure("probe_mm", "bits touch off at", Group.BED, Kind.PLACE,
           "From the near left end of the travel. Missing: at the setup's own place.",
           ("whether the place is free",), may_be_missing=True),
    Figure("index_holes_mm", "index holes", Group.BED, Kind.PLACES, "Permanent ones in the waste board, from the near "
           "left end of the travel.",
           ("cuts keep away from them", "pieces put over them"), may_be_missing=True),
    Figure("index_hole_mm", "index holes across", Group.BED, _L, "Their diameter.", ("pins that fit",)),
    Figure("home_right", "homes at the right", Group.BED, Kind.CHOICE, "Which end of x it goes to when it homes.",
           ("how far to jog from home",)),
    Figure("home_rear", "homes at the far end", Group.BED, Kind.CHOICE, "Which end of y it goes to when it homes.",
           ("how far to jog from home",)),
    Figure("keep_in_mm", "soft limits before the ends", Group.BED, _L,
           "So far before the ends of x and y its control stops it.",
           ("whether the piece and its clamps are reached",)),
    Figure("pump.free_l_min", "pump moves", Group.BED, _N, "Air with nothing in its way.", ("holding by vacuum",),
           "l/min", may_be_missing=True),
    Figure("pump.deepest_bar", "pump draws down to", Group.BED, _N, "Below the air's pressure.",
           ("holding by vacuum",), "bar", may_be_missing=True),
    Figure("zones_mm", "vacuum zones", Group.BED, Kind.ZONES, "Lower left corner from the near left end of the "
           "travel, length, width of each.",
           ("holding by vacuum",), may_be_missing=True),
    Figure("refuses_over", "stops at a feed above its greatest", Group.MOTION, Kind.CHOICE,
           "Else it goes as fast as it can.", ("programs",)),
    Figure("chords", "runs arcs as short straight moves", Group.MOTION, Kind.CHOICE,
           "Else what keeps it on the circle limits its feed in an arc.", ("minutes", "feed in arcs")),
    _true("scale_x", "too long in x",
          "Over a length, plus where it goes too far.", "holes and pockets in their places", "‰"),
    _true("scale_y", "too long in y",
          "Over a length, plus where it goes too far.", "holes and pockets in their places", "‰"),
    _true("scale_z", "too deep in z", "Over a depth, plus where it goes too far.", "depth of pockets", "‰"),
    _true("square", "out of square",
          "How far y leans over its length; plus: to the right.", "body and neck in line", "‰"),
    _true("backlash_x_mm", "backlash x", "How far it stays behind where it turns round.", "width of pockets"),
    _true("backlash_y_mm", "backlash y", "How far it stays behind where it turns round.", "width of pockets"),
    _true("backlash_z_mm", "backlash z", "How far it stays behind where it turns round.", "depth of pockets"),
    _true("pair_x_mm", "faces apart in x",
          "What the front cut lies to the right, seen from the back.", "what both faces share"),
    _true("pair_y_mm", "faces apart in y",
          "What the front cut lies further off, seen from the back.", "what both faces share"),
    _true("pair_turn", "faces turned", "How far one face is turned against the other.", "what both faces share", "‰"),
    _true("slot_over_mm", "slot over its bit", "A slot is so much wider than the bit across.", "width of pockets"),
    _true("tilt_x", "spindle leans in x", "Over its reach; plus: its top to the right.", "floors and glue faces", "‰"),
    _true("tilt_y", "spindle leans in y",
          "Over its reach; plus: its top away from you.", "floors and glue faces", "‰"),
    _true("flat_mm", "bed out of flat", "Between its highest and its lowest place.", "thickness, glue faces"),
    _true("repeat_mm", "comes back within", "Nine times in ten, plus and minus.", "fits cut in two goes"),
    _true("homing_mm", "homes within", "Nine times in ten, plus and minus.", "a job gone on with after a stop"),
    _true("lost_x_mm", "lost in x", "After a hard program, back at its mark.", "all of a job"),
    _true("lost_y_mm", "lost in y", "After a hard program, back at its mark.", "all of a job"),
    _true("warm_up_mm", "lower when warm", "How much lower the bit comes within half an hour.", "depth of pockets"),
    Figure("collets_mm", "collets", Group.USE, Kind.LENGTHS, "Shanks that its collets take.",
           ("whether a bit can be put in",), may_be_missing=True),
    Figure("quiet_h", "quiet hours", Group.USE, Kind.HOURS, "When it is not run.", ("when a run may begin",),
           may_be_missing=True),
    Figure("least_people", "people, at least", Group.USE, _N, "In the shop while it runs.", ("before a start",)),
    Figure("stop_reach_mm", "from its stop, at most", Group.USE, _L, "Where one stands who watches it.",
           ("before a start",), may_be_missing=True),
)
BELONGS = {"shoe_up_mm": "shoe_diameter_mm", "index_hole_mm": "index_holes_mm"}  # without that it means nothing
BY_NAME = {f.name: f for f in FIGURES}


def value_of(machine: Machine, name: str) -> Any:
    """Return a figure's value as it is in the profile; None where it is missing."""
    field, _, part = name.partition(".")
    value = getattr(machine, field)
    if value is None or not part:
        return value
    return value[int(part)] if part.isdigit() else getattr(value, part)


def known(machine: Machine, name: str) -> Known:
    """Return how a figure is known; what was never said is assumed."""
    return machine.known.get(name, Known())


def is_missing(machine: Machine, figure: Figure) -> bool:
    """Return whether a figure that may be missing is, or what it belongs to."""
    of = BELONGS.get(figure.name)
    if of is not None:
        return is_missing(machine, BY_NAME[of])
    value = value_of(machine, figure.name)
    return figure.may_be_missing and (value is None or value == [])


def assumed(machine: Machine) -> list[Figure]:
    """Return the figures that are only assumed, what most rests on first; those that are missing are no figures."""
    return [
        f for f in FIGURES
        if known(machine, f.name).origin is FigureOrigin.ASSUMED and not is_missing(machine, f)
    ]


def is_old(machine: Machine, name: str, today: date) -> bool:
    """Return whether a measured figure was measured so long ago that it asks to be measured again."""
    how = known(machine, name)
    days = figures()["machine_spans"]["measured_again_days"]
    return how.origin is FigureOrigin.MEASURED and how.on is not None and (today - how.on).days > days
