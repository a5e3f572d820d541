"""The words of a program's lines: letters with numbers, comments taken out, and what is no word."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

_WORD = re.compile(r"([A-Za-z])[ \t]*([+-]?(?:\d+\.?\d*|\.\d+))")
_COORDINATE = re.compile(r"[XYZIJKRxyzijkr][ \t]*[+-]?\d*\.(\d+)")
LOOK_AT = 400_000  # characters of a file that tell how many decimals it writes


@dataclass
class Block:
    """One line: its G and M words in order, its other words by letter, and what is wrong with it. used: letters whose
    word has had its effect."""

    g: list[float] = field(default_factory=list)
    m: list[int] = field(default_factory=list)
    values: dict[str, float] = field(default_factory=dict)
    wrong: list[str] = field(default_factory=list)
    used: set[str] = field(default_factory=set)

    def get(self, letter: str, otherwise: float = 0.0) -> float:
        """Return a word's number and take the word as used."""
        self.used.add(letter)
        return self.values.get(letter, otherwise)

    @property
    def idle(self) -> list[str]:
        """The words that had no effect."""
        return [letter for letter in self.values if letter not in self.used]


def code_of(raw: str) -> tuple[str, str]:
    """Return a line without its comments, and what is wrong with these."""
    out, inside = [], False
    for letter in raw:
        if letter == "(" and inside or letter == ")" and not inside:
            return "", "a comment is not closed, or one stands in another."
        if letter == "(":
            inside = True
        elif letter == ")":
            inside = False
            out.append(" ")
        elif letter == ";" and not inside:
            break
        elif not inside:
            out.append(letter)
    return ("", "a comment is not closed, or one stands in another.") if inside else ("".join(out).strip(), "")


def decimals_of(text: str) -> int:
    """Return how many decimals a file writes in its coordinates, at most."""
    return max((len(m[1]) for m in _COORDINATE.finditer(text[:LOOK_AT])), default=0)


def block_of(code: str) -> Block:
    """Return the words of a line that has no comments."""
    block, lines = Block(), 0
    rest = _WORD.sub(" ", code).strip()
    if rest:
        block.wrong.append(f"“{rest[:30]}” is not a word this reader knows.")
        return block
    for letter, number in _WORD.findall(code):
        letter, value = letter.upper(), float(number)
        if letter == "N":
            lines += 1
        elif letter == "G":
            block.g.append(round(value, 4))
        elif letter == "M":
            if value != int(value):
                block.wrong.append(f"M{value:g} is not known here.")
            else:
                block.m.append(int(value))
        elif letter in block.values:
            block.wrong.append(f"the word {letter} stands twice.")
        else:
            block.values[letter] = value
    if lines > 1:
        block.wrong.append("the word N stands twice.")
    return block
