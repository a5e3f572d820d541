"""The state of a control while it reads a program, word by word."""

from __future__ import annotations

import re

from ..errors import InputError
from ..machines import Dialect
from ..quantities import MM_PER_INCH, mm
from ..vocabulary import RAPID_CODE
from .groups import CYCLES, GROUP, M_GROUPS
from .sections import ReadProgram, Section
from .travel import Travel
from .words import Block, block_of, code_of

MOST_TOLD = 5
TOP_MM = 200.0  # a retract in machine coordinates comes to rest so high: clear of any stock
LONG_DWELL = 120.0  # a control that counts a dwell in milliseconds writes more than this
BLEND_MM = 0.05  # a path mode that rounds corners by no more than this is harmless


class Control(Travel):
    """The state of the control while it reads."""

    def __init__(self, decimals: int, dialect: Dialect | None, file_changes: bool) -> None:
        super().__init__(decimals)
        self.feeds: dict[float, int] = {}
        self.speeds: dict[float, int] = {}
        self.count, self.stops, self.ended = 0, 0, False
        self._dialect = dialect
        self._file_changes = file_changes  # M6 stands somewhere in it
        self._feed_unit_gone = False
        self._selected: int | None = None  # by T, not yet in
        self._selected_at = 0
        self._changing: int | None = None  # line of a change by hand that nothing has stopped for
        self._tape = False
        self._touched = False  # on the plate, and Z not set yet
        self.touch_offs: list[float] = []

    def result(self, name: str) -> ReadProgram:
        """Return what was read."""
        sections = [s for s in self.sections if s.kinds]
        if not sections and not self.problems:
            raise InputError(f"{name} holds no move that could be read. It may not be a program.", where=name)
        if not sections:
            words = " ".join(p.sentence for p in self.problems[:MOST_TOLD])
            raise InputError(
                f"{name} holds no move that could be read. {words}",
                where=name,
                problems=[p.sentence for p in self.problems],
            )
        if not self.ended:
            self.problem("program.no_end", self.count, "the file ends without M2 or M30; a part of it may be missing.")
        return ReadProgram(
            sections,
            self.all_told(self.count),
            self.count,
            self.dwell_s,
            self.stops,
            frozenset(self.offsets),
            self.feeds,
            self.speeds,
            self.touch_offs,
            self._on,
        )

    def line(self, number: int, raw: str) -> None:
        if raw.strip() == "%":
            # a tape ends here; what follows is not read by a machine
            if self._tape or any(s.kinds for s in self.sections):
                self.count, self.ended = number, True
                self.problem("program.no_end", number, "the file ends without M2 or M30; spindle and extraction may "
                    "stay on.")
            self._tape = True
            return
        if not raw.strip():
            return
        self.count = number
        code, wrong = code_of(raw)
        if wrong:
            self.problem("program.not_understood", number, wrong)
            return
        if code.startswith("/"):
            self.problem("program.not_understood", number, "a line that a switch on the machine can skip: whether it "
                "runs is not known.")
            code = code[1:].strip()
        if not code or re.fullmatch(r"[Oo]\d+", code):
            return
        block = block_of(code)
        for words in block.wrong:
            self.problem("program.not_understood", number, words)
        try:
            self._block(number, block)
        except OverflowError:
            self.problem("program.not_understood", number, "a number is too large.")

    def _block(self, number: int, block: Block) -> None:
        """Carry out one line in the order controls do: modes, feed and speed, bit, change, spindle, dwell, motion,
        stop."""
        groups = [GROUP[g] for g in block.g if g in GROUP]
        for group in {g for g in groups if groups.count(g) > 1}:
            self.problem("program.not_understood", number, f"two words of one kind ({group}) stand in one line.")
        for g in block.g:
            if g not in GROUP:
                self.problem("program.not_understood", number, f"G{g:g} is not known here.")
        kinds = [M_GROUPS[m] for m in block.m if m in M_GROUPS]
        if len(kinds) != len(set(kinds)):
            self.problem("program.not_understood", number, "two M words of one kind stand in one line.")
        for m in block.m:
            if m not in M_GROUPS:
                self.problem("program.not_understood", number, f"M{m} is not known here.")
        self._modes(number, block)
        self._rates(number, block)
        if "T" in block.values:
            self._select(number, block.get("T"))
        for m in sorted(block.m, key=lambda m: m != 6):
            if m == 6:
                self._change(number)
            elif m == 3:
                self._on = True
            elif m == 5:
                self._on = False
        if 4 in block.g:
            self._dwell(number, block)
        elif 53 in block.g:
            self._machine_frame(number, block)
        elif 38.2 in block.g or 38.3 in block.g:
            self._touch(number, block)
        elif 10 in block.g or 92 in block.g:
            self._set_z(number, block)
        else:
            self._motion_of(number, block)
        for m in block.m:
            if m in (0, 1):
                self._stop(number)
            elif m in (2, 30):
                self.ended = True
        if idle := block.idle:
            self.problem(
                "program.not_understood",
                number,
                f"{', '.join(f'{k}{block.values[k]:g}' for k in idle)} {'has' if len(idle) == 1 else 'have'} no "
                f"effect that is known here.",
            )

    def _modes(self, number: int, block: Block) -> None:
        for g in block.g:
            if GROUP.get(g) == "offset":
                self._offset(number, int(g) - 53)
            elif g in (20, 21):
                scale = MM_PER_INCH if g == 20 else 1.0
                if scale != self._scale and self._feed > 0:
                    self._feed_unit_gone = True
                self._scale, self._said["units"] = scale, True
            elif g in (90, 91):
                self._absolute, self._said["distance"] = g == 90, True
            elif g in (90.1, 91.1):
                self._centres_absolute = g == 90.1
            elif g in (98, 99):
                self._to_r = g == 99
            elif g == 43:
                h = block.get("H", -1.0)
                known = self._selected if self._selected is not None else self.sections[-1].tool
                if h >= 0 and known is not None and int(h) != known:
                    self.problem("program.not_understood", number, f"H{h:g} takes the length of another bit than "
                        f"T{known}, which is in.")
            elif g == 64 and block.get("P") * self._scale > BLEND_MM:
                self.problem(
                    "program.not_understood",
                    number,
                    f"corners may be rounded by {mm(block.get('P') * self._scale):.2f}, which is not simulated.",
                )
            elif GROUP.get(g) == "motion":
                if g in CYCLES and self._motion not in CYCLES and self._at[2] is not None:
                    self._before_cycle = self._at[2]
                if g not in CYCLES:
                    self._cycle = {}
                self._motion = None if g == 80 else int(g)

    def _offset(self, number: int, offset: int) -> None:
        self.offsets.add(offset)
        if self._moved_in not in (None, offset):
            self.problem(
                "program.not_understood",
                number,
                f"G{53 + offset} begins another zero than G{53 + self._moved_in}, in which moves were made; where it "
                f"lies is not known.",
            )  # type: ignore[operator]

    def _rates(self, number: int, block: Block) -> None:
        if "F" in block.values:
            self._feed, self._feed_unit_gone = block.get("F") * self._scale, False
            self.feeds.setdefault(self._feed, number)
            if self._feed < 0:
                self.problem("program.no_feed", number, "a feed rate below zero.")
        if "S" in block.values:
            self._speed = block.get("S")
            self.sections[-1].speed_rpm = self._speed
            self.speeds.setdefault(self._speed, number)
        if (
            self._speed is not None
            and self._speed <= 0
            and (3 in block.m or (self._on and "S" in block.values and 5 not in block.m))
        ):
            self.problem("program.spindle_off", number, f"S{self._speed:g}: the spindle stands still.")

    def _select(self, number: int, tool: float) -> None:
        """T selects; whether it also changes the bit the dialect says, else whether the file has M6."""
        if tool != int(tool) or tool < 0:
            self.problem("program.not_understood", number, f"T{tool:g} is no number of a bit.")
            return
        self._selected, self._selected_at = int(tool), number
        if self._selected == self.sections[-1].tool:
            self._selected = None
            return
        alone = not self._dialect.change_word if self._dialect is not None else not self._file_changes
        if alone:
            self._changing = (
                number if self.sections[-1].kinds or len(self.sections) > 1 or self._dialect is None else None
            )
            self._put_in(self._selected)
            if self._dialect is not None:
                self._selected = None

    def _change(self, number: int) -> None:
        """M6 puts the bit in that T selected, and stops the spindle."""
        self._on = False
        if self._selected is None and self.sections[-1].tool is None:
            self.problem("program.bit_change", number, "M6 without a T before it: which bit is put in is not known.")
        if self._selected is not None:
            self._put_in(self._selected)
        if self._dialect is not None and not self._dialect.change_word:
            self._changing = number
        else:
            self._changing = None
        self._selected = None

    def _stop(self, number: int) -> None:
        self.stops += 1
        if self._changing is not None:
            if self._turns:
                self.problem("program.bit_change", number, "the spindle still turns where the bit is changed by hand.")
            if self._dialect is None and self._selected is not None:
                self.once(
                    "by hand",
                    "program.assumed",
                    self._selected_at,
                    f"T{self._selected} is called without M6; the program stops at line {number}, and the bit is "
                    f"taken to be changed there by hand.",
                )
                self._selected = None
            self._changing = None

    def _cutting(self, number: int) -> None:
        """What must be so before anything is cut."""
        if self._selected is not None and self._dialect is None:
            self.problem(
                "program.bit_change",
                self._selected_at,
                f"T{self._selected} is called and no M6 comes before the next cut, line {number}: whether the bit is "
                f"changed depends on the machine.",
            )
            self._selected = self._changing = None
        if self._changing is not None:
            self.problem(
                "program.bit_change",
                self._changing,
                f"the bit is changed by hand on this machine, and nothing stops it before the next cut, line {number}.",
            )
            self._changing = None
        if self._feed_unit_gone:
            self.problem("program.no_feed", number, "the unit has changed since the feed rate was given.")
            self._feed_unit_gone = False
        elif self._feed <= 0:
            self.problem("program.no_feed", number, "a cutting move without a feed rate.")

    def _put_in(self, tool: int) -> None:
        if self.sections[-1].tool == tool:
            return
        if self.sections[-1].tool is None and not self.sections[-1].kinds:
            self.sections[-1].tool = tool
            return
        new = Section(tool, speed_rpm=self._speed or 0.0)
        if None not in self._at:
            new.points.append(tuple(self._at))  # type: ignore[arg-type]
            new.raised += [0] if self._raised else []
        self.sections.append(new)

    def _dwell(self, number: int, block: Block) -> None:
        if "P" not in block.values or block.values["P"] < 0:
            self.problem("program.not_understood", number, "a dwell needs P, in seconds.")
            return
        seconds = block.get("P")
        self.dwell_s += seconds
        if seconds > LONG_DWELL:
            self.once(
                "dwell",
                "program.assumed",
                number,
                f"a dwell of {seconds:g} is read as seconds; a control that counts milliseconds waits "
                f"{seconds / 1000:g}.",
            )

    def _machine_frame(self, number: int, block: Block) -> None:
        axes = {a: block.get(a) for a in "XYZ" if a in block.values}
        if set(axes) != {"Z"} or axes["Z"] != 0.0 or self._motion not in (0, 1):
            self.problem(
                "program.not_understood",
                number,
                "a move in machine coordinates cannot be placed on the blank; only G53 G0 Z0, to the top, is.",
            )
            return
        self._at[2], self._raised = max(self._at[2] or 0.0, TOP_MM), True
        if self.sections[-1].kinds:
            self._append(number, tuple(self._at), RAPID_CODE)  # type: ignore[arg-type]
        else:
            self._begin()

    def _touch(self, number: int, block: Block) -> None:
        """Down onto the touch plate: where that is the program does not know until it sets Z there."""
        axes = {a: block.get(a) for a in "XYZ" if a in block.values}
        if set(axes) != {"Z"} or self._absolute or axes["Z"] >= 0 or self._turns or self._feed <= 0:
            self.problem("program.not_understood", number, "a touch-off goes down along Z alone, in steps (G91), with "
                "a feed rate and the spindle still.")
            return
        last = self.sections[-1]
        if last.points:
            self.sections.append(Section(last.tool, speed_rpm=self._speed or 0.0))
        self._at, self._raised, self._touched = [None, None, None], False, True

    def _set_z(self, number: int, block: Block) -> None:
        """Z is set where the plate was met; nothing else is set anew here."""
        axes = {a: block.get(a) for a in "XYZ" if a in block.values}
        sets = 92 in block.g or (block.get("L") == 20 and block.get("P") == max(self.offsets, default=0))
        if not self._touched or set(axes) != {"Z"} or not sets:
            self.problem("program.not_understood", number, "zero is set anew in the program; only Z is, right after a "
                "touch-off, in the work offset that is in use.")
            return
        self._touched = False
        self.touch_offs.append(axes["Z"] * self._scale)

    def _motion_of(self, number: int, block: Block) -> None:
        axes = [a for a in "XYZ" if a in block.values]
        arc = self._motion in (2, 3) and (axes or any(a in block.values for a in "IJR"))
        if not axes and not arc:
            return
        if self._motion is None:
            self.problem("program.not_understood", number, "coordinates without a G0, G1, G2 or G3 before them.")
            block.used |= set(axes)
            return
        self._first_move(number)
        if self._motion in CYCLES:
            self._drill(number, block)
            return
        target = self._target(number, block)
        if arc:
            self._arc(number, target, block)
        else:
            self._to(number, target, rapid=self._motion == 0)
