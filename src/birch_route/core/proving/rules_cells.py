"""Rules over the cells of a proof: what they are too large to show."""

from __future__ import annotations

from collections.abc import Iterator

from ..quantities import mm
from ..stages import thin_bits
from .findings import Fact, Finding, finding
from .registry import rule_once
from .simulate import Simulation

LEAST_CELLS = 8  # across a bit, so that a wall it leaves is judged to an eighth of it


@rule_once
def thin_bit_in_large_cells(sim: Simulation) -> Iterator[Finding]:
    """A thin bit mills a blank so large that it is proved in cells of the usual size."""
    if sim.whole.piece.board is not None:
        return  # slots have a rule of their own
    for bit in thin_bits(sim.whole):
        if bit.cut_diameter_mm < LEAST_CELLS * sim.grid.cell_mm:
            yield finding(
                "bit.unseen",
                f"The blank is so large that it is proved in cells of {mm(sim.grid.cell_mm):.2f}: what the {bit.name} "
                f"leaves is judged no finer. Take a smaller blank for work with it.",
                facts=[Fact(name="bit", value=bit.cut_diameter_mm, source="bit"),
                       Fact(name="cells", value=sim.grid.cell_mm)],
            )
