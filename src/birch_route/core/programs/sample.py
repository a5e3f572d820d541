"""A sample program in a machine's own words, written and read back, so that a dialect is seen before it is kept."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import groupby

from ..data import starting_shop
from ..errors import BirchError
from ..machines import Dialect, Machine
from ..plane.curves import Rectangle
from ..proving.simulate import Simulation, simulate_all
from ..sequence.start import Inner, Start, start_route
from ..vocabulary import PieceKind, ZeroZ
from .readback import read_back_all
from .writer import Program, write_all

BITS = ("flat6", "drill3")
SHOWN = 4  # of a run of moves or of notes, at its begin; one more at its end
SAYS = {
    "%": "the tape begins or ends",
    "G20": "lengths are inches",
    "G21": "lengths are millimetres",
    "G17": "flat arcs, from zero, no offsets left on",
    "M0": "stops for a hand",
    "M2": "ends",
    "M3": "spindle on",
    "M5": "spindle off",
    "M6": "puts the bit in",
    "M8": "extraction on",
    "M9": "extraction off",
    "M30": "ends",
    "G0": "goes without cutting",
    "G1": "cuts straight",
    "G2": "cuts an arc to the right",
    "G3": "cuts an arc to the left",
    "G4": "waits for the spindle",
    "G10": "sets Z to the plate's height",
    "G38.2": "down onto the touch plate",
    "G38.3": "down onto the touch plate",
    "G53": "up to the machine's top",
    "G90": "places, not steps",
    "G91": "steps from where it is",
    "G92": "sets Z to the plate's height",
    "T": "calls a bit",
    "S": "sets the speed",
}


@dataclass(frozen=True)
class SampleLine:
    """A line as it stands in the file: its number from 1, or what is left out (number 0). says: what it does."""

    number: int
    text: str
    says: str


@dataclass(frozen=True)
class SampleFile:
    name: str
    lines: list[SampleLine]
    count: int
    bytes: int


@dataclass(frozen=True)
class Sample:
    """Files of the sample, and why it cannot be read back; longest: letters of its longest line."""

    files: list[SampleFile]
    problems: list[str]
    longest: int
    difference_mm: float


def sample_of(machine: Machine) -> Sample:
    """Write the sample in a machine's words and read it back.

    Returns:
        The sample; with problems where the machine cannot make it or what is written cannot be read back.
    """
    try:
        touches = machine.dialect.probe_word is not None and machine.probe_mm is None
        simulations = [_with_words(sim, machine) for sim in _simulated(_without_words(machine), touches)]
        programs = write_all(simulations)
        back = read_back_all(simulations, programs)
    except BirchError as exc:
        return Sample([], [exc.sentence], 0, 0.0)
    problems = [f.sentence for f in back.findings]
    longest = max(len(line) for p in programs for line in p.text.splitlines())
    return Sample([_shown(p) for p in programs], problems, longest, back.greatest_difference_mm)


def _without_words(machine: Machine) -> str:
    plain = Dialect(id="plain", speed_word=machine.dialect.speed_word)
    return machine.model_copy(update={"dialect": plain, "known": {}, "name": "Sample"}).model_dump_json()


@lru_cache(maxsize=16)
def _simulated(machine: str, on_top: bool = False) -> list[Simulation]:
    """Return the simulated sample: a small plate with a hole, a pocket and an outline, two bits. on_top: Z is touched
    off on top of it."""
    shop = starting_shop()
    plate = Start(
        job="Sample",
        kind=PieceKind.PLATE,
        outline=Rectangle(x_mm=30, y_mm=0, length_mm=60, width_mm=40, corner_radius_mm=8),
        wood="alder",
        thickness_mm=8.0,
        machine=Machine.model_validate_json(machine).model_dump(mode="json"),
        bits=[b for b in shop["bits"] if b["id"] in BITS],
        inner=[
            Inner(Rectangle(x_mm=22, y_mm=0, length_mm=24, width_mm=16, corner_radius_mm=6), "Pocket", 3.0),
            Inner(Rectangle(x_mm=48, y_mm=0, length_mm=3.0, width_mm=3.0, corner_radius_mm=1.5), "Hole", None),
        ],
    )
    route = start_route(plate)
    if on_top:
        zero = route.setups[0].zero.model_copy(update={"z": ZeroZ.STOCK_TOP, "touch_x_mm": 30.0})
        route = route.model_copy(update={"setups": [route.setups[0].model_copy(update={"zero": zero})]})
    return simulate_all(route)


def _with_words(sim: Simulation, machine: Machine) -> Simulation:
    return replace(
        sim,
        route=sim.route.model_copy(update={"machine": machine}),
        whole=sim.whole.model_copy(update={"machine": machine}),
    )


def _shown(program: Program) -> SampleFile:
    lines = program.text.splitlines()
    numbered = list(enumerate(lines, 1))
    shown: list[SampleLine] = []
    for kind, run in groupby(numbered, key=lambda one: _kind(one[1])):
        part = list(run)
        left = len(part) - SHOWN - 1
        if not kind or left < 2:
            shown += _told(part)
            continue
        shown += _told(part[:SHOWN])
        shown.append(SampleLine(0, f"{left} more {kind}", ""))
        shown += _told(part[-1:])
    return SampleFile(program.name, shown, len(lines), len(program.text))


def _kind(line: str) -> str:
    if line.startswith(("(", ";")):
        return "notes: what it is for, zero, stock, bits, settings, cautions"
    return "moves" if re.match(r"(N\d+ )?G[0-3] ", line) else ""


def _told(part: list[tuple[int, str]]) -> Iterator[SampleLine]:
    for number, text in part:
        yield SampleLine(number, text, _says(text))


def _says(text: str) -> str:
    if text.startswith(("(", ";")):
        return ""
    words = [w for w in text.split() if not w.startswith("N")]
    for word in words:
        if word in SAYS and word != "G0":
            return SAYS[word] + (_lengths(words) if word in ("G1", "G2", "G3") else "")
    if words and words[0] == "G0":
        return SAYS["G0"]
    if words and re.fullmatch(r"G5[4-9]", words[0]):
        return "the work offset of the setup"
    return SAYS.get(words[0][:1], "") if words else ""


def _lengths(words: list[str]) -> str:
    return " at a new feed" if any(w.startswith("F") for w in words) else ""
