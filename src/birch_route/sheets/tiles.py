"""The drawing of a piece 1:1 on pages that are joined: each with marks that meet its neighbours' and a ruler to check
the printer by. A4 where mm are read, letter where inches are."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..core.instrument.plan import RULER_MM, Plan, plan_of
from ..core.quantities import MM_PER_INCH, Unit, mm, named_mm
from ..core.route import Route
from .jig_sheet import draw_plan
from .page import Page

PAPER_MM = {Unit.MM: (210.0, 297.0), Unit.INCH: (8.5 * MM_PER_INCH, 11 * MM_PER_INCH)}
EDGE_MM = 12.0  # that printers leave white, at every edge
FOOT_MM = 26.0  # for the ruler and the words under it
OVERLAP_MM = 10.0  # that two neighbours both show
ROUND_MM = 4.0  # of paper round the piece


@dataclass(frozen=True)
class Tiles:
    """How a drawing falls on pages: columns and rows, and the part of it that one page shows, mm."""

    columns: int
    rows: int
    wide_mm: float
    high_mm: float

    def corner(self, column: int, row: int) -> tuple[float, float]:
        """Return the lower left corner of what a page shows, in the frame of the drawing, mm."""
        step_x, step_y = self.wide_mm - OVERLAP_MM, self.high_mm - OVERLAP_MM
        return column * step_x - ROUND_MM, row * step_y - ROUND_MM


def tiles_of(length_mm: float, width_mm: float, unit: Unit) -> Tiles:
    """Return how many upright pages show a drawing whole."""
    paper = PAPER_MM[unit]
    wide, high = paper[0] - 2 * EDGE_MM, paper[1] - 2 * EDGE_MM - FOOT_MM

    def count(needs: float, shows: float) -> int:
        return 1 + max(0, math.ceil((needs + 2 * ROUND_MM - shows) / (shows - OVERLAP_MM) - 1e-9))

    return Tiles(count(length_mm, wide), count(width_mm, high), wide, high)


def tiles_pdf(route: Route, unit: Unit = Unit.MM) -> bytes:
    """Return the pages as PDF bytes: first how they are joined, then one after another from the lower left."""
    plan = plan_of(route)
    tiles = tiles_of(plan.length_mm, plan.width_mm, unit)
    pdf = Page(unit, orientation="P", format=PAPER_MM[unit])
    pdf.set_margin(EDGE_MM)
    pdf.set_auto_page_break(False)
    pdf.set_title(pdf.words(f"{route.job}, 1:1 on pages"))
    _how(pdf, route, plan, tiles)
    for row in range(tiles.rows):
        for column in range(tiles.columns):
            _page(pdf, route, plan, tiles, (column, row))
    return bytes(pdf.output())


def name_of(column: int, row: int) -> str:
    """Return what a page is called: columns by letters, rows by numbers from the bottom."""
    return f"{chr(ord('A') + column % 26)}{row + 1}"


def _how(pdf: Page, route: Route, plan: Plan, tiles: Tiles) -> None:
    pdf.add_page()
    pdf.line_of(route.job, 16, bold=True)
    pdf.line_of("Scale 1 : 1 on the pages that follow", 16, bold=True)
    ruler = RULER_MM[pdf.unit]
    for words in (
        f"{mm(plan.length_mm):.1f} x {mm(plan.width_mm):.1f} x {mm(plan.thick_mm):g}; {tiles.columns} pages across, "
        f"{tiles.rows} up. Dashed: from the back. Computed, not proven.",
        "Print at 100 %, not fitted to the page. Then measure the ruler on every page: "
        f"it is {named_mm(ruler):g} long, or the page is not 1:1 and is good for nothing.",
        f"Cut a page along its frame, lay it over its neighbour so that their crosses meet ({named_mm(OVERLAP_MM):g} "
        "are on both), and glue it. Measure the whole across before you trust it: paper grows with the weather.",
    ):
        pdf.line_of(words, 10)
    across = tiles.columns * (tiles.wide_mm - OVERLAP_MM) + OVERLAP_MM
    up = tiles.rows * (tiles.high_mm - OVERLAP_MM) + OVERLAP_MM
    scale = max(across / 180.0, up / 150.0)
    corner = EDGE_MM + ROUND_MM / scale, pdf.get_y() + 10.0 + (up - ROUND_MM) / scale
    draw_plan(pdf, plan, scale, corner)
    pdf.set_font("Helvetica", "B", 9)
    for row in range(tiles.rows):
        for column in range(tiles.columns):
            x, y = tiles.corner(column, row)
            left, low = corner[0] + x / scale, corner[1] - y / scale
            pdf.rect(left, low - tiles.high_mm / scale, tiles.wide_mm / scale, tiles.high_mm / scale)
            pdf.text(left + tiles.wide_mm / scale / 2 - 2, low - tiles.high_mm / scale / 2, name_of(column, row))


def _page(pdf: Page, route: Route, plan: Plan, tiles: Tiles, at: tuple[int, int]) -> None:
    pdf.add_page()
    x, y = tiles.corner(*at)
    low = EDGE_MM + tiles.high_mm
    with pdf.rect_clip(EDGE_MM, EDGE_MM, tiles.wide_mm, tiles.high_mm):
        draw_plan(pdf, plan, 1.0, (EDGE_MM - x, low + y))
    pdf.set_line_width(0.1)
    pdf.rect(EDGE_MM, EDGE_MM, tiles.wide_mm, tiles.high_mm)
    for mark_x in (EDGE_MM + OVERLAP_MM / 2, EDGE_MM + tiles.wide_mm - OVERLAP_MM / 2):
        for mark_y in (EDGE_MM + OVERLAP_MM / 2, low - OVERLAP_MM / 2):
            pdf.line(mark_x - 4, mark_y, mark_x + 4, mark_y)
            pdf.line(mark_x, mark_y - 4, mark_x, mark_y + 4)
    _ruler(pdf, low + 9.0)
    pdf.set_font("Helvetica", "B", 14)
    pdf.text(EDGE_MM + 118.0, low + 12.0, f"{name_of(*at)}   1 : 1")
    pdf.set_font("Helvetica", "", 8)
    pdf.text(EDGE_MM, low + 22.0, pdf.words(f"{route.job}. Measure the ruler: {named_mm(RULER_MM[pdf.unit]):g}."))


def _ruler(pdf: Page, y: float) -> None:
    """Draw a ruler to check the printer by, tens of mm or halves of an inch."""
    long = RULER_MM[pdf.unit]
    step = 10.0 if pdf.unit is Unit.MM else MM_PER_INCH / 2
    pdf.set_line_width(0.25)
    pdf.line(EDGE_MM, y, EDGE_MM + long, y)
    for k in range(round(long / step) + 1):
        pdf.line(EDGE_MM + k * step, y - (4 if k % 2 == 0 else 2.5), EDGE_MM + k * step, y)
    pdf.set_font("Helvetica", "", 7)
    pdf.text(EDGE_MM - 0.6, y + 3.5, "0")
    pdf.text(EDGE_MM + long - 3, y + 3.5, pdf.words(f"{mm(long):g}"))
