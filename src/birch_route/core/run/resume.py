"""A program that goes on where one stopped: the place by its line or by the machine's display, a way back into wood
that is cut already, the rest of the program word for word, read back and cut from both woods that there may be."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..data import figures
from ..errors import InputError
from ..heights import kernels
from ..heights.field import Wood, cut_path
from ..motion.timing import move_times
from ..motion.toolpath import Toolpath
from ..programs.lines import ProgramLines
from ..programs.numbers import BLANK, with_number
from ..programs.reader import read_program
from ..programs.sections import ReadProgram, Section
from ..programs.writer import Program
from ..proving.simulate import Simulation
from ..quantities import mm
from ..vocabulary import RAPID_CODE

SETS_UP = re.compile(r"(?:N\d+\s*)?G[0-9. G]+$")  # a block of G words alone, before anything turns or moves
SPEED = re.compile(r"S(\d+)")
HEAD_LINES = 200


@dataclass(frozen=True)
class Spot:
    """A place in a program: line, its section (stretch with one bit) and the move there; where the bit is at the
    line's start, program coordinates, mm. away_mm: of the display's numbers from the line's path."""

    line: int
    section: int
    move: int
    operation: str
    at_mm: tuple[float, float, float]
    away_mm: float = 0.0


@dataclass(frozen=True)
class Resumed:
    """A program that goes on. back_mm: how far before the stop it comes down; problems: why it is not released;
    differs_mm: of the wood at its end from that of the whole program, the worse of both woods."""

    spot: Spot
    name: str
    text: str
    minutes: float
    back_mm: float
    down_at_mm: tuple[float, float, float]
    problems: tuple[str, ...]
    differs_mm: float


def spot_at_line(read: ReadProgram, program: Program, sim: Simulation, line: int) -> Spot:
    """Return the place of a line: the first move at or after it.

    Raises:
        InputError: the program has no such line, or nothing moves from there on.
    """
    if not 1 <= line <= read.lines:
        raise InputError(f"The program has {read.lines} lines. Type the one at which it stopped.", where="line")
    for k, section in enumerate(read.sections):
        for move, number in enumerate(section.lines):
            if number >= line:
                return _spot(read, program, sim, k, move)
    raise InputError("Nothing moves from that line on: the program is through.", where="line")


def spots_near(
    read: ReadProgram, program: Program, sim: Simulation, at_mm: tuple[float, float, float], most: int = 5
) -> list[Spot]:
    """Return where in a program the bit may have been, by what the machine's display says (program coordinates, mm):
    the nearest place of every pass that comes near, nearest first."""
    reach = figures()["run"]["display_mm"]
    found: list[Spot] = []
    for k, section in enumerate(read.sections):
        if len(section.lines) == 0:
            continue
        away = _away(np.asarray(section.points, float), np.asarray(at_mm, float))
        near = np.flatnonzero(away <= max(reach, float(away.min()) + 1e-6))
        for run in np.split(near, np.flatnonzero(np.diff(near) > 1) + 1):
            if len(run):
                move = int(run[np.argmin(away[run])])
                found.append(_spot(read, program, sim, k, move, float(away[move])))
    return sorted(found, key=lambda s: (round(s.away_mm, 2), s.line))[:most]


def _away(points: np.ndarray, at: np.ndarray) -> np.ndarray:
    """Return the distance of a point from every move, mm."""
    a, d = points[:-1], np.diff(points, axis=0)
    t = np.clip(((at - a) * d).sum(1) / np.maximum((d * d).sum(1), 1e-12), 0, 1)
    return np.asarray(np.linalg.norm(a + t[:, None] * d - at, axis=1))


def _spot(
    read: ReadProgram, program: Program, sim: Simulation, k: int, move: int, away_mm: float = 0.0
) -> Spot:
    section = read.sections[k]
    first = section.lines.index(section.lines[move])  # an arc is several moves of one line
    x, y, z = section.points[first]
    return Spot(section.lines[move], k, first, _operation(program, sim, k, section, first), (x, y, z), away_mm)


def _operation(program: Program, sim: Simulation, k: int, section: Section, move: int) -> str:
    """Return the operation that a move of a section belongs to: the one whose path passes nearest its end, of those
    that its bit cuts."""
    steps = [s for s in sim.steps if s.operation.id in program.operations]
    mine = [s for s in steps if program.bits.get(section.tool or 0) in (None, s.bit.id)] or steps
    end = np.asarray(section.points[move + 1], float) + np.asarray(program.origin_mm)
    return min(mine, key=lambda s: float(_away(s.path.points, end).min())).operation.id


def resume(sim: Simulation, program: Program, spot: Spot) -> Resumed:
    """Return the program that goes on from a place, read back and cut from both woods: as far as the line before it,
    and as far as its end.

    Source: the bit comes down upright at a place of its own path so far before the stop: what is under it there was
    cut when it passed, whichever of both woods it is.
    """
    read = read_program(program.text, program.name, sim.route.machine.dialect)
    section = read.sections[spot.section]
    down = _back(section, spot.move)
    text = _text(sim, program, section, spot, down)
    points = np.asarray(section.points, float)
    back = float(np.linalg.norm(np.diff(points[down: spot.move + 1], axis=0), axis=1).sum())
    problems, differs, seconds = _judged(sim, program, read, spot, (text, section.lines[down]))
    stem, _, ending = program.name.rpartition(".")
    ending = f"_on.{ending}"
    name = stem[: sim.route.machine.dialect.name_length - len(ending)] + ending
    x, y, z = section.points[down]
    return Resumed(spot, name, text, seconds / 60, back, (x, y, z), tuple(problems), differs)


def _back(section: Section, move: int) -> int:
    """Return the move from which to go on: so far before, at the start of a line, never across a rapid move."""
    wanted, gone = figures()["run"]["back_mm"], 0.0
    while move > 0 and gone < wanted and section.kinds[move - 1] != RAPID_CODE:
        line = section.lines[move - 1]
        while move > 0 and section.lines[move - 1] == line:
            move -= 1
            gone += float(np.linalg.norm(np.subtract(section.points[move + 1], section.points[move])))
    return move


def _text(sim: Simulation, program: Program, section: Section, spot: Spot, down: int) -> str:
    """Return the text: what sets up, the way in, the rest word for word."""
    dialect = sim.route.machine.dialect
    lines = re.split(r"\r\n|\n", program.text)
    w = ProgramLines(dialect, (0.0, 0.0, 0.0))
    part = re.search(r"Birch Route program (\d+ of \d+)", program.text[:400])
    w.comment(f"Birch Route program {part[1] if part else ''} from line {section.lines[down]}, {BLANK}")
    w.comment(f"goes on with {program.name}, which stopped at line {spot.line}. Computed, not proven")
    bit = program.bits.get(section.tool or 0, "")
    if bit:
        w.comment(f"T{section.tool} stays in or was put in again and touched off: {sim.route.bit(bit).name}")
    for line in lines[:HEAD_LINES]:
        if SETS_UP.match(line.strip()):
            w.block(re.sub(r"^N\d+\s*", "", line.strip()))
        elif line and line[0] not in "(;%":
            break
    clear = max(p[2] for k, p in enumerate(section.points) if k not in section.raised)
    x, y, z = section.points[down]
    speed = _speed_before(lines[: section.lines[down] - 1])
    w.block(f"S{speed} M3" if dialect.speed_word and speed else "M3")
    if dialect.warm_up_s > 0:
        w.block(f"G4 P{dialect.warm_up_s:g}")
    if dialect.extraction:
        w.block("M8")
    w.block("G0 " + w.length("Z", clear))
    w.block(f"G0 {w.length('X', x)} {w.length('Y', y)}")
    scale, digits = (25.4, 2) if dialect.inch else (1.0, 0)
    slow = min((f for f in section.feeds if f > 0), default=0.0) / scale
    if z < clear - 1e-6 and slow:
        w.block(f"G1 {w.length('Z', z)} F{slow:.{digits}f}")
    in_force = [f for f in section.feeds[: down + 1] if f > 0]  # what the rest may leave unsaid
    if in_force:
        w.block(f"G1 F{in_force[-1] / scale:.{digits}f}")
    end = "\r\n" if "\r\n" in program.text else "\n"
    body = [line for line in re.split(r"\r\n|\n", w.text()) if line and line != "%"]
    rest = lines[section.lines[down] - 1:]
    return with_number(end.join([*(["%"] if dialect.percent else []), *body, *rest]))


def _speed_before(lines: Sequence[str]) -> str:
    """Return the digits of the spindle speed that the last of some lines asked for; empty where none did. A stretch
    with one bit may change it between two operations."""
    for line in reversed(lines):
        found = SPEED.search(re.sub(r"\(.*?\)|;.*", "", line))
        if found:
            return found[1]
    return ""


def _judged(
    sim: Simulation, program: Program, read: ReadProgram, spot: Spot, written: tuple[str, int]
) -> tuple[list[str], float, float]:
    """Cut a text from both woods; return what speaks against it, how far the wood differs at the worst, and its
    seconds. written: the text, and the program's line from which it is the program's own."""
    text, own_from = written
    again = read_program(text, program.name, sim.route.machine.dialect)
    problems = [p.sentence for p in again.problems]
    goes_on = _lines(text) - (_lines(program.text) - own_from)  # the text's line from which it is the program's own
    whole = _wood_before(sim, program)
    for section in read.sections:
        _cut(sim, program, whole, section, section.tool)
    differs, seconds = 0.0, 0.0
    for upto in (spot.move, _end_of_line(read.sections[spot.section], spot.move)):
        wood = _wood_before(sim, program)
        for k, section in enumerate(read.sections[: spot.section + 1]):
            _cut(sim, program, wood, section, section.tool, upto if k == spot.section else None)
        seconds = 0.0
        for k, section in enumerate(again.sections):
            tool = section.tool if section.tool is not None else read.sections[spot.section + k].tool
            metrics, path = _cut(sim, program, wood, section, tool)
            problems += _against(sim, program, tool, metrics)
            way_in = np.asarray(section.lines) < goes_on if k == 0 else np.zeros(len(metrics), bool)
            taken = float(metrics[way_in, kernels.VOLUME].sum())
            if taken > figures()["run"]["way_in_mm3"]:
                problems.append(f"It would come down into wood that is not cut yet: {taken:.0f} cubic millimetres.")
            seconds += float(move_times(path, sim.route.machine).sum())
        got, wanted = (np.maximum(w.top, w.bottom) for w in (wood, whole))
        differs = max(differs, float(np.abs(got - wanted).max(initial=0.0)))
    if differs > figures()["run"]["agrees_mm"]:
        problems.append(f"The wood would differ by {mm(differs):.2f} from that of the whole program.")
    return list(dict.fromkeys(problems)), differs, seconds


def _lines(text: str) -> int:
    return len(re.split(r"\r\n|\n", text))


def _end_of_line(section: Section, move: int) -> int:
    line = section.lines[move]
    while move < len(section.lines) and section.lines[move] == line:
        move += 1
    return move


def _wood_before(sim: Simulation, program: Program) -> Wood:
    """Return the wood as the program found it, in its setup's frame."""
    first = next(k for k, s in enumerate(sim.steps) if s.operation.id == program.operations[0])
    return Wood(sim.grid, sim.top_before(first).copy(), sim.bottom)


def _cut(
    sim: Simulation, program: Program, wood: Wood, section: Section, tool: int | None, upto: int | None = None
) -> tuple[np.ndarray, Toolpath]:
    path = section.path(program.origin_mm)
    if upto is not None:
        path = Toolpath(path.points[: upto + 1], path.kinds[:upto], path.feeds[:upto])
    bit = sim.route.bit(program.bits[tool or 0])
    nut = sim.route.machine.nut_diameter_mm
    return cut_path(wood, path, bit, nut, float(wood.top.max())), path


def _against(sim: Simulation, program: Program, tool: int | None, metrics: np.ndarray) -> list[str]:
    """Return what moves do that those of the proof with the same bit did not."""
    out = []
    bit = program.bits[tool or 0]
    for column, words in (
        (kernels.RAPID_HIT, "A rapid move would go through wood"),
        (kernels.REACH, "It would cut beyond the bit's reach"),
        (kernels.NUT, "The collet nut would meet wood"), (kernels.BELOW, "It would cut deeper into the waste board"),
    ):
        known = max((float(s.metrics[:, column].max(initial=0.0)) for s in sim.steps if s.bit.id == bit), default=0.0)
        found = float(metrics[:, column].max(initial=0.0))
        if found > known + 0.05:
            out.append(f"{words}, by {mm(found):.2f}.")
    return out


def program_named(programs: Sequence[Program], name: str) -> Program:
    """Return a program by its file.

    Raises:
        InputError: there is none of this name.
    """
    for one in programs:
        if one.name == name:
            return one
    raise InputError(f"There is no program {name} in this release.", where="program")
