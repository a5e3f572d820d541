"""The drawing of a piece or jig as PDF that a stranger can build from: the plan to scale, the table of places, parts, steps, what to check."""

from __future__ import annotations

from ..core.instrument.plan import Plan, plan_of
from ..core.quantities import Unit, mm
from ..core.route import Route
from .page import Page
from .run_sheet import SAFETY

PAGE_MM, HIGH_MM, MARGIN_MM = 277.0, 142.0, 10.0
SCALES = (1.0, 2.0, 2.5, 3.0, 4.0, 5.0, 10.0)
WORDS = {"cut": "cut", "buy": "buy", "hand": "on hand"}


def jig_sheet_pdf(route: Route, unit: Unit = Unit.MM) -> bytes:
    """Return the sheet as PDF bytes: the first page at a scale that fits, then the table, the parts list, the bench steps and the checks."""
    plan, jig = plan_of(route), route.jig
    pdf = Page(unit, orientation="L", format="A4")
    pdf.set_margin(MARGIN_MM)
    pdf.set_auto_page_break(True, 12)
    pdf.set_title(pdf.words(f"{route.job}, drawing"))
    pdf.add_page()
    scale = next((s for s in SCALES if plan.length_mm / s < PAGE_MM - 20 and plan.width_mm / s < HIGH_MM), SCALES[-1])
    pdf.line_of(route.job, 16, bold=True)
    pdf.line_of(f"Scale 1 : {scale:g}{'' if scale == 1 else ', not to be measured from'}", 16, bold=True)
    pdf.line_of(
        f"{route.note} {mm(plan.length_mm):.1f} x {mm(plan.width_mm):.1f} x {mm(plan.thick_mm):g}. "
        "Dashed: from the back. Computed, not proven.",
        9,
    )
    corner = MARGIN_MM + 14.0, pdf.get_y() + 6.0 + plan.width_mm / scale
    draw_plan(pdf, plan, scale, corner)
    _overall(pdf, plan, scale, corner)
    pdf.add_page()
    pdf.line_of(f"Places, {unit} from the lower left corner", 12, bold=True)
    _table(
        pdf,
        ("", "what", "x", "y", "size", "deep"),
        (12, 80, 22, 22, 50, 60),
        [(label, what, f"{mm(x):.2f}", f"{mm(y):.2f}", size, deep) for label, what, x, y, size, deep in plan.rows],
    )
    if jig is not None:
        pdf.ln(3)
        pdf.line_of("Parts", 12, bold=True)
        _table(pdf, ("", "part", "size", "material", "from", "note"), (12, 45, 60, 38, 20, 100), [(str(p.count), p.name, p.size, p.material, WORDS[p.source], p.note) for p in jig.parts])
        pdf.ln(3)
        pdf.line_of("How true it is", 12, bold=True)
        for e in jig.errors:
            pdf.line_of(f"{e.what}: {mm(e.off_mm):.2f}. {e.check}", 9)
        for words in jig.works_with:
            pdf.line_of(words, 9)
    pdf.ln(3)
    pdf.line_of("At the bench", 12, bold=True)
    for step in route.bench_steps:
        pdf.line_of(f"[  ] {step.name}, {step.minutes:g} min. {step.note}", 9)
    pdf.ln(3)
    for line in SAFETY:
        pdf.line_of(line, 8)
    return bytes(pdf.output())


def draw_plan(pdf: Page, plan: Plan, scale: float, corner: tuple[float, float]) -> None:
    """Draw outline, cuts, holes and their labels.

    Args:
        corner: where on the page the lower left corner of the piece stands, mm.
    """
    x0, y0 = corner

    def place(x: float, y: float) -> tuple[float, float]:
        return x0 + x / scale, y0 - y / scale
    pdf.set_line_width(0.4)
    pdf.polygon([place(x, y) for x, y in plan.outline.tolist()], style="D")
    pdf.set_line_width(0.15)
    for ring in plan.rings:
        if ring.back:
            pdf.set_dash_pattern(dash=1.2, gap=0.9)
        pdf.polygon([place(x, y) for x, y in ring.points.tolist()], style="D")
        pdf.set_dash_pattern()
    pdf.set_font("Helvetica", "", 6)
    for c in plan.circles:
        x, y = place(c.x_mm, c.y_mm)
        pdf.circle(x=x, y=y, radius=c.across_mm / 2 / scale, style="D")
        pdf.text(x + c.across_mm / 2 / scale + 0.6, y - 0.8, pdf.words(c.label))
    holes = {c.label for c in plan.circles}
    for label, _, x_mm, y_mm, _, _ in plan.rows:
        if label not in holes:
            x, y = place(x_mm, y_mm)
            pdf.text(x - 1, y + 1, label)


def _overall(pdf: Page, plan: Plan, scale: float, corner: tuple[float, float]) -> None:
    """Draw how long and how wide it is in all."""
    (xa, ya), (xb, yb) = corner, (corner[0] + plan.length_mm / scale, corner[1] - plan.width_mm / scale)
    pdf.set_font("Helvetica", "", 8)
    pdf.line(xa, ya + 6, xb, ya + 6)
    pdf.text((xa + xb) / 2 - 6, ya + 5, pdf.words(f"{mm(plan.length_mm):.2f}"))
    pdf.line(xa - 6, ya, xa - 6, yb)
    with pdf.rotation(90, xa - 7, (ya + yb) / 2):
        pdf.text(xa - 12, (ya + yb) / 2, pdf.words(f"{mm(plan.width_mm):.2f}"))


def _table(pdf: Page, head: tuple[str, ...], wide: tuple[int, ...], rows: list[tuple[str, ...]]) -> None:
    pdf.set_font("Helvetica", "B", 8)
    for text, w in zip(head, wide, strict=True):
        pdf.cell(w, 5, text)
    pdf.ln()
    pdf.set_font("Helvetica", "", 8)
    for row in rows:
        for text, w in zip(row, wide, strict=True):
            words = pdf.words(text)
            while words and pdf.get_string_width(words) > w - 1:
                words = words[:-1]
            pdf.cell(w, 4.6, words)
        pdf.ln()
