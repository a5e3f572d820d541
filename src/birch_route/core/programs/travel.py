"""Where the bit is while a program is read: moves, arcs and drilling cycles as points of sections."""

from __future__ import annotations

from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind
from .arc_words import ArcError, arc_points
from .cycles import hole_moves
from .sections import Section
from .telling import Telling
from .words import Block

CUT_CODE = MOVE_CODES[MoveKind.CUT]


class Travel(Telling):
    """Places and moves. What must be so before a cut, who reads the other words knows."""

    def __init__(self, decimals: int) -> None:
        super().__init__()
        self.sections = [Section(None)]
        self.offsets: set[int] = set()
        self.dwell_s = 0.0
        self._decimals = decimals
        self._scale, self._absolute, self._motion = 1.0, True, None
        self._said = {"units": False, "distance": False}
        self._centres_absolute, self._to_r = False, False
        self._feed, self._on, self._speed = 0.0, False, None
        self._at: list[float | None] = [None, None, None]
        self._raised = False  # its height is known to the machine only
        self._before_cycle = 0.0
        self._cycle: dict[str, float] = {}
        self._moved_in: int | None = None  # offset that moves were made in

    def _cutting(self, number: int) -> None:
        raise NotImplementedError

    @property
    def _turns(self) -> bool:
        return self._on and (self._speed is None or self._speed > 0)

    def _first_move(self, number: int) -> None:
        """What a file should have said before it moves, and where moves are counted from."""
        if not self._said["units"]:
            self.once("units", "program.assumed", number, "the file moves before it says G20 or G21; read as mm.")
        if not self._said["distance"]:
            self.once("distance", "program.assumed", number, "the file moves before it says G90 or G91; read as "
                "absolute.")
        if self._moved_in is None:
            self._moved_in = max(self.offsets) if len(self.offsets) == 1 else 1
            if len(self.offsets) > 1:
                self.problem(
                    "program.not_understood",
                    number,
                    "more than one work offset is selected before the first move; which zero is meant is not known.",
                )

    def _target(self, number: int, block: Block) -> list[float | None]:
        target = list(self._at)
        for k, letter in enumerate("XYZ"):
            if letter in block.values:
                v = block.get(letter) * self._scale
                if not self._absolute and (self._at[k] is None or (letter == "Z" and self._raised)):
                    self.problem("program.not_understood", number, f"a step along {letter} from a place that is not "
                        f"known.")
                target[k] = v if self._absolute or self._at[k] is None else self._at[k] + v
                self._raised = self._raised and letter != "Z"
        return target

    def _to(self, number: int, target: list[float | None], *, rapid: bool) -> None:
        if None in self._at or None in target:
            if not rapid:
                self.problem("program.not_understood", number, "a cutting move before the bit's place is known on "
                    "all three axes.")
            self._at = target
            self._begin()
            return
        if not rapid:
            self._cutting(number)
        self._at = target
        self._append(number, tuple(target), RAPID_CODE if rapid else CUT_CODE)  # type: ignore[arg-type]

    def _begin(self) -> None:
        """Let the section begin where the bit is, once that is known."""
        section = self.sections[-1]
        if not section.kinds and None not in self._at:
            section.points[:], section.raised[:] = [tuple(self._at)], [0] if self._raised else []  # type: ignore[list-item]

    def _append(self, number: int, target: tuple[float, float, float], kind: int) -> None:
        section = self.sections[-1]
        if not section.points:
            section.points.append(target)
            return
        if max(abs(a - b) for a, b in zip(section.points[-1], target, strict=True)) < 1e-9:
            return
        section.points.append(target)
        if self._raised:
            section.raised.append(len(section.points) - 1)
        section.kinds.append(kind)
        section.feeds.append(0.0 if kind == RAPID_CODE else self._feed)
        section.lines.append(number)
        section.on.append(self._turns)

    def _arc(self, number: int, target: list[float | None], block: Block) -> None:
        words = {letter: block.get(letter) for letter in "IJKRP" if letter in block.values}
        if None in self._at or None in target:
            self.problem("program.arc", number, "an arc before the bit's place is known.")
            self._at = target
            return
        self._cutting(number)
        try:
            points, words_off = arc_points(
                tuple(self._at),
                tuple(target),
                words,
                clockwise=self._motion == 2,
                scale=self._scale,  # type: ignore[arg-type]
                centres_absolute=self._centres_absolute,
                decimals=self._decimals,
            )
        except ArcError as exc:
            self.problem("program.arc", number, str(exc))
        else:
            if words_off:
                self.problem("program.arc", number, words_off)
            for point in points:
                self._append(number, point, CUT_CODE)
        self._at = target

    def _drill(self, number: int, block: Block) -> None:
        """Carry out a drilling cycle: over each place at the height it had, down to R, to Z, and back to R or to where
        it began."""
        start = self._at[2]
        if (
            start is None
            or (self._raised and not self._absolute)
            or (None in self._at[:2] and not {"X", "Y"} <= set(block.values))
        ):
            self.problem("program.not_understood", number, "a drilling cycle needs a known place.")
            block.used |= set("XYZRQPL")
            return
        for key in "RZQP":
            if key in block.values:
                self._cycle[key] = block.get(key) * (1.0 if key == "P" else self._scale)
        if "R" not in self._cycle or "Z" not in self._cycle:
            self.problem("program.not_understood", number, "a drilling cycle needs R and Z.")
            block.used |= set("XYL")
            return
        times = block.get("L", 1.0)
        if times != int(times) or not 1 <= times <= 1000:
            self.problem("program.not_understood", number, f"L{times:g} is no number of repeats.")
            times = 1.0
        if self._motion == 83 and self._cycle.get("Q", 0.0) <= 0:
            self.problem("program.not_understood", number, "G83 needs the depth of a peck, Q.")
        over = self._cycle["R"] + (0.0 if self._absolute else start)
        deep = self._cycle["Z"] + (0.0 if self._absolute else over)
        if deep > over + 1e-9:
            self.problem("program.not_understood", number, "the cycle's bottom Z lies above R.")
            return
        step = [block.get(a) * self._scale if a in block.values else None for a in "XY"]
        for _ in range(int(times)):
            place = [
                at if s is None else s if self._absolute or at is None else at + s
                for s, at in zip(step, self._at[:2], strict=True)
            ]
            self._hole(number, place, over, deep)

    def _hole(self, number: int, place: list[float | None], over: float, deep: float) -> None:
        start, peck = self._at[2] or 0.0, self._cycle.get("Q", 0.0) if self._motion == 83 else 0.0
        high, self._raised = over if self._to_r else max(self._before_cycle, over), False
        for z, sideways, rapid in hole_moves(max(start, over), over, deep, high, peck):
            x, y = place if sideways else self._at[:2]
            self._to(number, [x, y, z], rapid=rapid)
        if self._motion == 82:
            self.dwell_s += self._cycle.get("P", 0.0)
