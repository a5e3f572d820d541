"""Rules over how an outline is left for the bench: groove, bearing, skin."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures
from ..quantities import mm
from ..sequence.outline import trim_goes
from ..sequence.tabs import taken_below
from ..vocabulary import OperationKind, School
from .findings import Cure, Fact, Finding, finding
from .registry import rule, set_edit
from .simulate import Simulation


@rule
def groove(sim: Simulation) -> Iterator[Finding]:
    """A groove must leave wall for a bearing, and the bit that follows it must reach what the groove leaves."""
    bearing, over = figures()["edges"]["bearing_mm"], figures()["outline"]["groove_over_bearing_mm"]
    wall = bearing + figures()["outline"]["wall_over_bearing_mm"]
    for step in sim.steps:
        op = step.operation
        if op.kind is not OperationKind.PROFILE or op.groove_mm is None:
            continue
        if op.groove_mm < wall:
            yield finding(
                "outline.no_land",
                f"The groove is {mm(op.groove_mm):.1f} deep; a bearing of {mm(bearing):g} needs a wall of "
                f"{mm(wall):g} to run on.",
                operation=op.id,
                facts=[
                    Fact(name="groove", value=op.groove_mm, source="route"),
                    Fact(name="bearing", value=bearing, source="figures, unverified"),
                ],
                cures=[
                    Cure(
                        sentence=f"Groove {mm(bearing + over):.0f} deep",
                        edits=[set_edit(f"operations.{op.id}.groove_mm", bearing + over)],
                    )
                ],
            )
        left = sim.route.blank.piece_mm - op.groove_mm
        goes = trim_goes(sim.route, op)
        if goes is None:
            yield finding(
                "outline.trim_bit",
                f"{mm(left):.1f} of wood stays below the groove. How long the edge of the trimming bit is has not "
                f"been told; a shorter one trims in goes.",
                operation=op.id,
                facts=[Fact(name="below the groove", value=round(left, 1))],
            )
        elif goes > 1:
            bit = sim.route.choices.trim_bit_mm or 0.0
            deeper = round(op.groove_mm + left - bit, 1)
            yield finding(
                "outline.trim_bit",
                f"{mm(left):.1f} of wood stays below the groove and the trimming bit reaches {mm(bit):.1f}: {goes} "
                f"goes, each along what the one before trimmed.",
                operation=op.id,
                facts=[
                    Fact(name="below the groove", value=round(left, 1)),
                    Fact(name="trimming bit", value=bit, source="told"),
                ],
                cures=[
                    Cure(
                        sentence=f"Groove {mm(deeper):.1f} deep",
                        edits=[set_edit(f"operations.{op.id}.groove_mm", deeper)],
                    )
                ],
            )


@rule
def skin(sim: Simulation) -> Iterator[Finding]:
    """A skin thinner than the zero may be off is cut through here and there."""
    off = figures()["corners"]["bed_mm"] + figures()["flaws"]["thickness_mm"]
    for step in sim.steps:
        op = step.operation
        gone = taken_below(sim.resolved)
        if op.kind is OperationKind.PROFILE and op.school is School.SKIN and op.skin_mm - gone < off - 1e-9:
            alone = not any(h.lies_under for h in sim.setup.hardware) and sim.setup.nest is None
            yield finding(
                "holding.skin"
                if alone and op.skin_mm - gone < figures()["outline"]["skin_least_mm"] - 1e-9
                else "outline.skin_thin",
                f"A skin of {mm(max(0.0, op.skin_mm - gone)):.2f} is "
                f"left{f' where the edge below took {mm(gone):g}' if gone else ''}; zero and blank may be off by "
                f"{mm(off):.2f}, so it may be cut through and the piece come free.",
                operation=op.id,
                facts=[
                    Fact(name="skin", value=op.skin_mm, source="route"),
                    Fact(name="may be off", value=round(off, 2), source="figures, unverified"),
                ],
                cures=[
                    Cure(sentence=f"Leave {mm(gone + 2 * off):.1f}",
                        edits=[set_edit(f"operations.{op.id}.skin_mm", round(gone + 2 * off, 1))],
                    )
                ],
            )
