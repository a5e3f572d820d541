"""Read programs, ours and others': RS-274 words into motion.

Every word of every line has an effect that is simulated, or is harmless and known to be, or is named with its line.
"""

from __future__ import annotations

import re

from ..errors import InputError
from ..machines import Dialect
from .control import Control
from .sections import ReadProgram
from .words import decimals_of

LARGEST_CHARS = 60_000_000


def read_program(text: str, name: str = "program", dialect: Dialect | None = None) -> ReadProgram:
    """Read a program.

    Args:
        text: the whole file. dialect: of the machine it is for, which says whether T alone changes the bit; None: not
            known.

    Returns:
        sections of motion, arcs flattened, and a finding for each line that is not understood.

    Raises:
        InputError: not a program at all: empty, binary, or without a move or anything that could have been one.
    """
    text = text.removeprefix("\ufeff")
    if not text.strip():
        raise InputError(f"{name} is empty.", where=name)
    if "\x00" in text[:4096]:
        raise InputError(f"{name} is not text. Choose the program file itself.", where=name)
    if len(text) > LARGEST_CHARS:
        raise InputError(f"{name} is larger than {LARGEST_CHARS // 1_000_000} MB, the most that is read.", where=name)
    selects = re.search(r"(?i)(?<![A-Z0-9.])M\s*0*6(?![\d.])", text) is not None
    reader = Control(decimals_of(text), dialect, selects)
    for number, line in enumerate(re.split(r"\r\n|\r|\n", text), 1):
        reader.line(number, line)
        if reader.ended:
            break
    return reader.result(name)
