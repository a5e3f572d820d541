"""The shop's settings by bit and wood on a page, each with its origin."""

from __future__ import annotations

from typing import Any

from fpdf import FPDF

from .run_sheet import SAFETY, _line, _plain

COLUMNS = (("bit", 48), ("wood", 34), ("cut", 18), ("feed_mm_min", 24), ("plunge_mm_min", 24), ("speed_rpm", 22), ("depth_of_cut_mm", 22), ("stepover_mm", 22), ("origin", 26))
HEADS = {"feed_mm_min": "feed mm/min", "plunge_mm_min": "plunge", "speed_rpm": "rpm", "depth_of_cut_mm": "deep mm", "stepover_mm": "side mm"}


def settings_sheet_pdf(machine: str, rows: list[dict[str, Any]]) -> bytes:
    """Return the sheet as PDF bytes. What was cut here with a record stands in bold; all else is computed."""
    pdf = FPDF(orientation="L", format="A4")
    pdf.set_margin(12)
    pdf.set_auto_page_break(True, 12)
    pdf.set_title(_plain(f"Settings of {machine}"))
    pdf.add_page()
    _line(pdf, f"Settings of {machine}", 15, bold=True)
    _line(pdf, "Bold: proven, cut in this shop with a record. All else is computed from unverified starting figures: begin slower, listen, and keep a record.", 9)
    pdf.ln(1)
    for bold, row in ((True, {k: HEADS.get(k, k) for k, _ in COLUMNS}), *((r["origin"] == "proven", r) for r in rows)):
        pdf.set_font("Helvetica", "B" if bold else "", 8)
        for key, wide in COLUMNS:
            value = row[key]
            pdf.cell(wide, 4.6, _plain(f"{value:g}" if isinstance(value, float) else str(value)), border="B")
        pdf.ln()
    pdf.ln(2)
    for line in SAFETY:
        _line(pdf, line, 7)
    return bytes(pdf.output())
