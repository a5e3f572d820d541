"""Read programs, ours and others': RS-274 words into motion, naming by line what is not understood."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field

import numpy as np

from ..errors import InputError
from ..motion.toolpath import Toolpath
from ..proving.findings import Fact, Finding, finding
from ..units import MM_PER_INCH
from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind

CHORD_MM = 0.003
LARGEST_CHARS = 60_000_000
_WORD = re.compile(r"([A-Za-z])\s*([+-]?(?:\d+\.?\d*|\.\d+))")
_KNOWN_G = {0, 1, 2, 3, 4, 17, 20, 21, 40, 43, 49, 53, 54, 55, 56, 57, 58, 59, 61, 64, 80, 81, 82, 83, 90, 91, 94, 98, 99}
_KNOWN_M = {0, 1, 2, 3, 5, 6, 7, 8, 9, 30}


@dataclass
class Section:
    """The motion between two bit changes, program coordinates in mm. lines: line of each move; on: spindle turns."""

    tool: int | None
    points: list[tuple[float, float, float]] = field(default_factory=list)
    kinds: list[int] = field(default_factory=list)
    feeds: list[float] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    on: list[bool] = field(default_factory=list)
    speed_rpm: float = 0.0

    def path(self, offset: tuple[float, float, float]) -> Toolpath:
        """Return the motion with an offset added."""
        points = np.asarray(self.points, float).reshape(-1, 3) + np.asarray(offset)
        return Toolpath(points, np.asarray(self.kinds, np.int8), np.asarray(self.feeds, float))


@dataclass
class ReadProgram:
    """A program as read."""

    sections: list[Section]
    problems: list[Finding]
    lines: int
    dwell_s: float = 0.0
    stops: int = 0
    offsets: frozenset[int] = frozenset()  # work offsets it selects, 1 is G54


def read_program(text: str, name: str = "program") -> ReadProgram:
    """Read a program.

    Args:
        text: the whole file.

    Returns:
        sections of motion, arcs flattened to CHORD_MM, and a finding for each line that is not understood.

    Raises:
        InputError: not a program at all: empty, binary, or without a single move.
    """
    if not text.strip():
        raise InputError(f"{name} is empty.", where=name)
    if "\x00" in text[:4096]:
        raise InputError(f"{name} is not text. Choose the program file itself.", where=name)
    if len(text) > LARGEST_CHARS:
        raise InputError(f"{name} is larger than {LARGEST_CHARS // 1_000_000} MB, the most that is read.", where=name)
    reader = _Reader()
    for number, line in enumerate(text.splitlines(), 1):
        reader.line(number, line)
        if reader.ended:
            break
    sections = [s for s in reader.sections if s.kinds]
    if not sections:
        raise InputError(f"{name} holds no move that could be read. It may not be a program.", where=name)
    return ReadProgram(sections, reader.problems, reader.count, reader.dwell_s, reader.stops, frozenset(reader.offsets))


class _Reader:
    def __init__(self) -> None:
        self.sections = [Section(None)]
        self.problems: list[Finding] = []
        self.offsets: set[int] = set()
        self.count, self.dwell_s, self.stops, self.ended = 0, 0.0, 0, False
        self._scale, self._absolute, self._motion = 1.0, True, None
        self._feed, self._on, self._speed, self._pending_tool = 0.0, False, 0.0, None
        self._at: list[float | None] = [None, None, None]
        self._cycle: dict[str, float] = {}

    def problem(self, code: str, line: int, words: str, **facts: float) -> None:
        if len(self.problems) < 200:
            self.problems.append(finding(code, f"Line {line}: {words}", line=line,
                                         facts=[Fact(name=k.replace("_", " "), value=v) for k, v in facts.items()]))

    def line(self, number: int, raw: str) -> None:
        self.count = number
        code = re.sub(r"\([^)]*\)", " ", raw).split(";", 1)[0].strip()
        if code.startswith("/"):
            code = code[1:]
        if not code or code == "%" or re.fullmatch(r"[Oo]\d+", code):
            return
        words = [(a.upper(), float(b)) for a, b in _WORD.findall(code)]
        rest = _WORD.sub("", code).strip()
        if rest:
            self.problem("program.not_understood", number, f"“{rest[:30]}” is not a word this reader knows.")
            return
        try:
            self._block(number, words)
        except OverflowError:
            self.problem("program.not_understood", number, "a number is too large.")

    def _block(self, number: int, words: list[tuple[str, float]]) -> None:
        gs = [round(v * 10) / 10 for a, v in words if a == "G"]
        ms = [int(v) for a, v in words if a == "M"]
        values = {a: v for a, v in words if a not in "GMN"}
        for g in gs:
            if g not in _KNOWN_G:
                self.problem("program.not_understood", number, f"G{g:g} is not known here.")
        for m in ms:
            if m not in _KNOWN_M:
                self.problem("program.not_understood", number, f"M{m} is not known here.")
        unknown = [a for a in values if a not in "XYZIJKRFSTPQHLD"]
        if unknown:
            self.problem("program.not_understood", number, f"the word {unknown[0]} is not known here.")
        self._modes(gs)
        if "F" in values:
            self._feed = values["F"] * self._scale
        if "S" in values:
            self._speed = values["S"]
            self.sections[-1].speed_rpm = self._speed
        if "T" in values:
            self._tool(int(values["T"]))
        for m in ms:
            self._machine(m)
        if 4 in gs:
            self.dwell_s += values.get("P", 0.0)
            return
        machine_frame = 53 in gs
        axes = {a: values[a] for a in "XYZ" if a in values}
        if axes:
            self._move(number, axes, values, machine_frame)

    def _modes(self, gs: list[float]) -> None:
        for g in gs:
            if 54 <= g <= 59:
                self.offsets.add(int(g) - 53)
            elif g == 20:
                self._scale = MM_PER_INCH
            elif g == 21:
                self._scale = 1.0
            elif g in (90, 91):
                self._absolute = g == 90
            elif g in (0, 1, 2, 3, 81, 82, 83):
                self._motion = int(g)
            elif g == 80:
                self._motion, self._cycle = None, {}

    def _machine(self, m: int) -> None:
        if m == 3:
            self._on = True
        elif m == 5:
            self._on = False
        elif m in (0, 1):
            self.stops += 1
        elif m in (2, 30):
            self.ended = True

    def _tool(self, tool: int) -> None:
        if self.sections[-1].tool == tool:
            return
        if self.sections[-1].tool is None and not self.sections[-1].kinds:
            self.sections[-1].tool = tool
            return
        new = Section(tool, speed_rpm=self._speed)
        if None not in self._at:
            new.points.append(tuple(self._at))  # type: ignore[arg-type]
        self.sections.append(new)

    def _move(self, number: int, axes: dict[str, float], values: dict[str, float], machine_frame: bool) -> None:
        if machine_frame:
            if set(axes) == {"Z"}:
                self._at[2] = max(self._at[2] or 0.0, 200.0)  # up, out of the way, at an unknown height
                self._note()
            else:
                self.problem("program.not_understood", number, "a move in machine coordinates sideways cannot be placed on the blank.")
            return
        target = list(self._at)
        for k, letter in enumerate("XYZ"):
            if letter in axes:
                v = axes[letter] * self._scale
                target[k] = v if self._absolute or self._at[k] is None else self._at[k] + v
        if self._motion is None:
            self.problem("program.not_understood", number, "coordinates without a G0, G1, G2 or G3 before them.")
            return
        if self._motion in (81, 82, 83):
            self._drill(number, target, values)
            return
        if self._motion in (2, 3):
            self._arc(number, target, values)
        else:
            self._to(number, target, rapid=self._motion == 0)

    def _note(self) -> None:
        section = self.sections[-1]
        if not section.kinds and None not in self._at:
            section.points[:] = [tuple(self._at)]  # type: ignore[list-item]
        elif section.kinds:
            self._append(0, tuple(self._at), RAPID_CODE)  # type: ignore[arg-type]

    def _to(self, number: int, target: list[float | None], *, rapid: bool) -> None:
        if None in self._at or None in target:
            if not rapid:
                self.problem("program.not_understood", number, "a cutting move before the bit's place is known on all three axes.")
            self._at = target
            self._note()
            return
        if not rapid and self._feed <= 0:
            self.problem("program.no_feed", number, "a cutting move without a feed rate.")
        self._at = target
        self._append(number, tuple(target), RAPID_CODE if rapid else MOVE_CODES[MoveKind.CUT])  # type: ignore[arg-type]

    def _append(self, number: int, target: tuple[float, float, float], kind: int) -> None:
        section = self.sections[-1]
        if not section.points:
            section.points.append(target)
            return
        if max(abs(a - b) for a, b in zip(section.points[-1], target, strict=True)) < 1e-9:
            return
        section.points.append(target)
        section.kinds.append(kind)
        section.feeds.append(0.0 if kind == RAPID_CODE else self._feed)
        section.lines.append(number)
        section.on.append(self._on)

    def _arc(self, number: int, target: list[float | None], values: dict[str, float]) -> None:
        if None in self._at or None in target:
            self.problem("program.arc", number, "an arc before the bit's place is known.")
            self._at = target
            return
        if self._feed <= 0:
            self.problem("program.no_feed", number, "an arc without a feed rate.")
        x0, y0, z0 = self._at  # type: ignore[misc]
        x1, y1, z1 = target  # type: ignore[misc]
        clockwise = self._motion == 2
        if "R" in values:
            centre = _centre_from_radius(x0, y0, x1, y1, values["R"] * self._scale, clockwise)
            if centre is None:
                self.problem("program.arc", number, "the radius is too small to reach the arc's end.", radius=values["R"])
                self._at = target
                return
        elif "I" in values or "J" in values:
            centre = (x0 + values.get("I", 0.0) * self._scale, y0 + values.get("J", 0.0) * self._scale)
        else:
            self.problem("program.arc", number, "an arc needs I and J, or R.")
            self._at = target
            return
        r0, r1 = math.hypot(x0 - centre[0], y0 - centre[1]), math.hypot(x1 - centre[0], y1 - centre[1])
        if abs(r0 - r1) > max(0.02, 0.002 * r0):
            self.problem("program.arc", number, f"start and end are {abs(r0 - r1):.3f} mm off one circle.", start_radius=r0, end_radius=r1)
        a0, a1 = math.atan2(y0 - centre[1], x0 - centre[0]), math.atan2(y1 - centre[1], x1 - centre[0])
        sweep = a1 - a0
        if clockwise:
            sweep = sweep - 2 * math.pi if sweep >= -1e-12 else sweep
            sweep = sweep + 2 * math.pi if sweep < -2 * math.pi - 1e-12 else sweep
        else:
            sweep = sweep + 2 * math.pi if sweep <= 1e-12 else sweep
        step = 2 * math.acos(max(0.0, 1 - min(CHORD_MM, r0 * 0.5) / max(r0, 1e-9)))
        count = max(1, math.ceil(abs(sweep) / step))
        for k in range(1, count + 1):
            t = k / count
            r = r0 + (r1 - r0) * t
            at = (centre[0] + r * math.cos(a0 + sweep * t), centre[1] + r * math.sin(a0 + sweep * t), z0 + (z1 - z0) * t)
            self._append(number, at if k < count else (x1, y1, z1), MOVE_CODES[MoveKind.CUT])
        self._at = target

    def _drill(self, number: int, target: list[float | None], values: dict[str, float]) -> None:
        for key in "RZQ":
            if key in values:
                self._cycle[key] = values[key] * self._scale
        if None in self._at or "R" not in self._cycle or "Z" not in self._cycle:
            self.problem("program.not_understood", number, "a drilling cycle needs a known place, R and Z.")
            return
        start = self._at[2]
        over, deep, peck = self._cycle["R"], self._cycle["Z"], self._cycle.get("Q", 0.0)
        high = max(start, over)  # type: ignore[type-var]
        self._to(number, [target[0], target[1], high], rapid=True)
        self._to(number, [target[0], target[1], over], rapid=True)
        z = over
        while z > deep + 1e-9:
            z = max(deep, z - peck) if self._motion == 83 and peck > 0 else deep
            self._to(number, [target[0], target[1], z], rapid=False)
            if z > deep + 1e-9:
                self._to(number, [target[0], target[1], over], rapid=True)
                self._to(number, [target[0], target[1], z + 0.3], rapid=True)
        self._to(number, [target[0], target[1], high], rapid=True)


def _centre_from_radius(x0: float, y0: float, x1: float, y1: float, radius: float, clockwise: bool) -> tuple[float, float] | None:
    """Source: the centre lies on the chord's bisector at sqrt(r^2 - (chord/2)^2); a negative R takes the longer arc."""
    dx, dy = x1 - x0, y1 - y0
    chord = math.hypot(dx, dy)
    if chord < 1e-9 or chord / 2 > abs(radius) * (1 + 1e-4):
        return None
    h = math.sqrt(max(0.0, radius**2 - (chord / 2) ** 2))
    side = -1.0 if clockwise == (radius > 0) else 1.0
    return (x0 + x1) / 2 - side * h * dy / chord, (y0 + y1) / 2 + side * h * dx / chord
