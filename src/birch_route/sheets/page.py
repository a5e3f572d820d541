"""A page of a sheet: sentences in the reader's unit, in a font that knows Latin letters only."""

from __future__ import annotations

from typing import Any

from fpdf import FPDF
from fpdf.enums import XPos, YPos

from ..core.quantities import Unit, say

PLAIN = str.maketrans({"“": '"', "”": '"', "’": "'", "−": "-"})


class Page(FPDF):
    """A PDF whose words are said in one unit."""

    def __init__(self, unit: Unit, **more: Any) -> None:
        super().__init__(**more)
        self.unit = unit

    def words(self, text: str) -> str:
        """Return a sentence as it is printed."""
        return say(text, self.unit).translate(PLAIN).encode("latin-1", "replace").decode("latin-1")

    def line_of(self, text: str, size: int, *, bold: bool = False) -> None:
        """Print a sentence over the width of the page; it breaks where it has to. size: of the letters, points."""
        self.set_font("Helvetica", "B" if bold else "", size)
        self.multi_cell(0, size * 0.5, self.words(text), new_x=XPos.LMARGIN, new_y=YPos.NEXT)
