"""The motion of a small job: stretches with stops between, written in the machine's words and read back."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from ..data import figures
from ..errors import InputError
from ..motion.arcs import fit_arcs
from ..motion.timing import move_times
from ..motion.toolpath import PathBuilder, Toolpath, join
from ..programs.lines import ProgramLines
from ..programs.reader import read_program
from ..quantities import mm, named_mm
from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind

if TYPE_CHECKING:
    from ..machines import Machine

AGREE_MM = 0.01
CIRCLE_STEPS = 72


@dataclass
class Stretch:
    """A motion from stop to stop. say: what the hand does before it."""

    say: str
    path: Toolpath


@dataclass
class Moves:
    """Motion in the frame of the scrap: x to the right, y away, z up from its top; zero at the lower left corner of
    its top. turns: the spindle does."""

    turns: bool
    stretches: list[Stretch] = field(default_factory=list)

    def minutes(self, machine: Machine) -> float:
        """Return how long the machine moves, min."""
        return sum(float(move_times(s.path, machine).sum()) for s in self.stretches) / 60


class Scrap:
    """Builds stretches that cut scrap: shallow passes with one bit."""

    def __init__(self, machine: Machine, x_mm: float = 0.0, y_mm: float = 0.0) -> None:
        fig = figures()["measuring"]
        self.safe, self.step = fig["safe_mm"], fig["pass_mm"]
        self.feed = min(fig["feed_mm_min"], machine.greatest_feed_mm_min)
        self.plunge = min(fig["plunge_mm_min"], machine.greatest_plunge_mm_min)
        self.path = PathBuilder(x_mm, y_mm, self.safe)

    def done(self) -> Toolpath:
        """Return the motion, ending above the scrap."""
        self.path.rapid(z_mm=self.safe)
        return self.path.done()

    def hole(self, x: float, y: float, deep: float, come: tuple[float, float]) -> None:
        """Plunge a hole in pecks; come: the last way to it in x and y, so that play lies to a known side."""
        self.path.rapid(z_mm=self.safe)
        self.path.rapid(x - come[0], y - come[1])
        self.path.rapid(x, y)
        at = 0.0
        while at > -deep + 1e-9:
            down = max(at - self.step, -deep)
            self.path.to(x, y, down, MoveKind.ENTRY, self.plunge)
            if down > -deep:
                self.path.to(x, y, self.safe, MoveKind.RAPID, 0.0)
                self.path.to(x, y, down + 0.5, MoveKind.RAPID, 0.0)
            at = down
        self.path.rapid(z_mm=self.safe)

    def along(self, points: list[tuple[float, float]], deep: float) -> None:
        """Cut along a way in passes, each from its begin."""
        ring = np.asarray(points, float)
        at = 0.0
        while at > -deep + 1e-9:
            at = max(at - self.step, -deep)
            self.path.rapid(z_mm=self.safe)
            self.path.rapid(*points[0])
            self.path.to(*points[0], at, MoveKind.ENTRY, self.plunge)
            self.path.along(ring[1:], at, MoveKind.CUT, self.feed)
        self.path.rapid(z_mm=self.safe)


def circle(x: float, y: float, radius: float, steps: int = CIRCLE_STEPS) -> list[tuple[float, float]]:
    """Return points round a circle against the clock, the first again at the end."""
    turn = np.linspace(0, 2 * np.pi, steps + 1)
    return [(float(a), float(b)) for a, b in zip(x + radius * np.cos(turn), y + radius * np.sin(turn), strict=True)]


def program_text(machine: Machine, title: str, steps: list[str], moves: Moves, bit_mm: float) -> str:
    """Return the program of a small job in the machine's words, read back.

    Raises:
        InputError: what is written is not read back as it was meant.
    """
    lines, speed = ProgramLines(machine.dialect, (0.0, 0.0, 0.0)), figures()["measuring"]["speed_rpm"]
    for words in (f"Birch Route: {title}", f"machine: {machine.name}", *steps):
        lines.comment(words)
    lines.comment("zero: X Y at the lower left corner of the scrap, Z 0 on its top")
    lines.comment("Eyes, ears, lungs covered. Stay in reach of the stop. The machine maker's instructions come first.")
    lines.block("G20" if machine.dialect.inch else "G21")
    lines.block("G17 G90 G94 G40 G49")
    lines.block("G54")
    for number, stretch in enumerate(moves.stretches):
        if number == 0 and moves.turns:
            _bit_in(lines, machine, bit_mm)
        lines.comment(stretch.say)
        if number or not moves.turns:
            lines.block("M0")
        if moves.turns:
            _start(lines, machine, speed)
        _write(lines, machine, stretch.path)
        if moves.turns:
            lines.block("M5")
    lines.block(machine.dialect.end_word.value)
    text = lines.text()
    _read_back(machine, text, moves)
    return text


def _bit_in(lines: ProgramLines, machine: Machine, bit_mm: float) -> None:
    lines.comment(f"put in T1: a flat bit, {named_mm(bit_mm):g} across")
    if machine.dialect.change_word:
        lines.block("T1 M6")
    else:
        lines.block("T1")
        lines.block("M0")


def _start(lines: ProgramLines, machine: Machine, speed: float) -> None:
    turns = machine.nearest_speed(speed)
    if machine.dialect.speed_word:
        lines.block(f"S{turns:.0f} M3")
    else:
        lines.comment(f"set the {machine.speed_words(turns)}")
        lines.block("M3")
    if machine.dialect.warm_up_s > 0:
        lines.block(f"G4 P{machine.dialect.warm_up_s:g}")


def _write(lines: ProgramLines, machine: Machine, path: Toolpath) -> None:
    lines.come_to(path.points[0])
    cutting = path.kinds >= MOVE_CODES[MoveKind.ENTRY]
    arcs = fit_arcs(path.points, cutting, np.round(path.feeds).astype(int)) if machine.dialect.arcs else []
    at, i = {a.first: a for a in arcs}, 0
    while i < len(path):
        feed = None if path.kinds[i] == RAPID_CODE else float(path.feeds[i])
        if i in at:
            arc, here = at[i], lines.position()
            code = "G2" if arc.clockwise else "G3"
            lines.move(code, path.points[arc.last], feed, (arc.cx - here[0], arc.cy - here[1]))
            i = arc.last
        else:
            lines.move("G0" if feed is None else "G1", path.points[i + 1], feed)
            i += 1


def _read_back(machine: Machine, text: str, moves: Moves) -> None:
    """Refuse a text that is read otherwise than it was meant: points passed and seconds taken."""
    read = read_program(text, "the program", machine.dialect)
    if read.problems:
        raise InputError(f"What would be written is not read back: {read.problems[0].sentence}", where="dialect")
    back = join([s.path((0.0, 0.0, 0.0)) for s in read.sections if len(s.kinds)])
    meant = join([s.path for s in moves.stretches])
    corners = (back.points.min(axis=0), back.points.max(axis=0))
    wanted = (meant.points.min(axis=0), meant.points.max(axis=0))
    off = max(float(np.abs(a - b).max()) for a, b in zip(corners, wanted, strict=True))
    ways = [np.linalg.norm(np.diff(p.points, axis=0), axis=1).sum() for p in (back, meant)]
    if off > AGREE_MM or abs(ways[0] - ways[1]) > AGREE_MM * max(len(meant), 10):
        raise InputError(
            f"Read back, the program goes {mm(off):.3f} beside what it is meant to do. Look at the words of the "
            f"machine.",
            where="dialect",
        )
