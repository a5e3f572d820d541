"""The shop's settings by bit and wood on a page, each with its origin."""

from __future__ import annotations

from typing import Any

from ..core.quantities import Quantity, Unit, mm, rate
from .page import Page
from .run_sheet import SAFETY

COLUMNS = (("bit", 48), ("wood", 34), ("cut", 18), ("feed_mm_min", 24), ("plunge_mm_min", 24), ("speed_rpm", 22), ("depth_of_cut_mm", 22), ("stepover_mm", 22), ("origin", 26))
HEADS = {
    "feed_mm_min": "feed",
    "plunge_mm_min": "plunge",
    "speed_rpm": "rpm",
    "depth_of_cut_mm": "deep",
    "stepover_mm": "side",
}
SAID: dict[str, type[Quantity]] = {"feed_mm_min": rate, "plunge_mm_min": rate, "depth_of_cut_mm": mm, "stepover_mm": mm}


def settings_sheet_pdf(machine: str, rows: list[dict[str, Any]], unit: Unit = Unit.MM) -> bytes:
    """Return the sheet as PDF bytes. What was cut here with a record stands in bold; all else is computed."""
    pdf = Page(unit, orientation="L", format="A4")
    pdf.set_margin(12)
    pdf.set_auto_page_break(True, 12)
    pdf.set_title(pdf.words(f"Settings of {machine}"))
    pdf.add_page()
    pdf.line_of(f"Settings of {machine}", 15, bold=True)
    pdf.line_of(
        f"Bold: proven, cut in this shop with a record. All else is computed from unverified starting figures: "
        f"begin slower, listen, and keep a record. Lengths in {unit}, rates in {unit} a minute.",
        9,
    )
    pdf.ln(1)
    for bold, row in ((True, {k: HEADS.get(k, k) for k, _ in COLUMNS}), *((r["origin"] == "proven", r) for r in rows)):
        pdf.set_font("Helvetica", "B" if bold else "", 8)
        for key, wide in COLUMNS:
            value = row[key]
            pdf.cell(wide, 4.6, pdf.words(_shown(key, value)), border="B")
        pdf.ln()
    pdf.ln(2)
    for line in SAFETY:
        pdf.line_of(line, 7)
    return bytes(pdf.output())


def _shown(key: str, value: Any) -> str:
    if not isinstance(value, float):
        return str(value)
    return f"{SAID[key](value):g}" if key in SAID else f"{value:g}"
