"""The number of a program: four digits from all of its text, said in its first line and asked at the machine before it
starts, so that an older file on the stick is noticed."""

from __future__ import annotations

import hashlib
import re

BLANK = "number 0000"
_SAID = re.compile(r"(Birch Route program [^\r\n]{1,40}?, number )(\d{4})")


def with_number(text: str) -> str:
    """Return a program's text with its number where BLANK stands in its first line."""
    number = 1000 + int(hashlib.sha256(text.encode()).hexdigest(), 16) % 9000
    return text.replace(BLANK, f"number {number}", 1)


def number_of(text: str) -> str:
    """Return the number a program says in its first lines; empty where it says none."""
    found = _SAID.search(text[:400])
    return found[2] if found else ""


def is_whole(text: str) -> bool:
    """Whether a program's text still gives the number it says."""
    found = _SAID.search(text[:400])
    if not found:
        return False
    bare = text[: found.start(2)] + "0000" + text[found.end(2):]
    return with_number(bare) == text
