"""The lines of a program in the words of a dialect: comments, blocks, moves; nothing is said twice."""

from __future__ import annotations

import numpy as np

from ..machines import Dialect, LineEnding
from ..quantities import MM_PER_INCH, Unit, say


class ProgramLines:
    """Collects the lines of one program. origin: program zero in the frame of the moves, mm."""

    def __init__(self, dialect: Dialect, origin: tuple[float, float, float]) -> None:
        self.dialect, self.origin = dialect, np.asarray(origin)
        self._lines: list[str] = []
        self._last: dict[str, str] = {}
        self._blocks = 0

    def text(self) -> str:
        """Return the whole file."""
        end = "\r\n" if self.dialect.line_ending is LineEnding.CRLF else "\n"
        lines = ["%", *self._lines, "%"] if self.dialect.percent else self._lines
        return end.join(lines) + end

    def comment(self, words: str) -> None:
        """Write a comment in the unit of the program, in plain letters."""
        unit = Unit.INCH if self.dialect.inch else Unit.MM
        plain = (
            say(words, unit)
            .replace("−", "-")
            .encode("ascii", "replace")
            .decode()
            .replace("(", "[")
            .replace(")", "]")
            .replace(";", ",")
            .replace("\n", " ")
        )
        for start in range(0, max(len(plain), 1), 100):
            part = plain[start : start + 100]
            self._lines.append(f"; {part}" if self.dialect.semicolon_comments else f"({part})")

    def block(self, words: str) -> None:
        """Write one block as it stands."""
        self._blocks += 1
        number = f"N{10 * self._blocks} " if self.dialect.line_numbers else ""
        self._lines.append(number + words)

    def length(self, letter: str, mm: float) -> str:
        """Return the word for a length in mm."""
        value = mm / MM_PER_INCH if self.dialect.inch else mm
        text = f"{value:.{self.dialect.decimals}f}"
        return letter + ("0." + "0" * self.dialect.decimals if float(text) == 0 else text)

    def move(
        self, code: str, target: np.ndarray, feed: float | None, centre: tuple[float, float] | None = None
    ) -> None:
        """Write one move; words that have not changed are left out, except in arcs."""
        x, y, z = target - self.origin
        words = []
        for letter, value in (("X", x), ("Y", y), ("Z", z)):
            word = self.length(letter, value)
            if centre is not None and letter != "Z" or self._last.get(letter) != word:
                words.append(word)
                self._last[letter] = word
        if not words:
            return
        if centre is not None:
            words += [self.length("I", centre[0]), self.length("J", centre[1])]
        if feed is not None:
            rate = feed / MM_PER_INCH if self.dialect.inch else feed
            word = f"F{rate:.2f}" if self.dialect.inch else f"F{rate:.0f}"
            if self._last.get("F") != word:
                words.append(word)
                self._last["F"] = word
        self.block(f"{code} " + " ".join(words))

    def forget(self) -> None:
        """Forget the last words, so that the next move says everything."""
        self._last.clear()

    def come_to(self, start: np.ndarray, *, over: bool = False) -> None:
        """Go to where a stretch begins without cutting, Z first, or, where the bit is at the top, Z last; everything is
        said anew."""
        self.forget()
        x, y, z = start - self.origin
        ways = ["G0 " + self.length("Z", z), "G0 " + self.length("X", x) + " " + self.length("Y", y)]
        for words in reversed(ways) if over else ways:
            self.block(words)
        for letter, value in (("X", x), ("Y", y), ("Z", z)):
            self._last[letter] = self.length(letter, value)

    def position(self) -> np.ndarray:
        """Return where the machine believes it is after rounding, in the piece's frame, mm."""
        scale = MM_PER_INCH if self.dialect.inch else 1.0
        at = np.array([float(self._last[k][1:]) * scale for k in "XYZ"])
        return np.asarray(at + self.origin)
