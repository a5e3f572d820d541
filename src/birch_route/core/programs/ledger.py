"""The ledger of thickness and Z zero through the setups of a route: what a caliper and a touch-off should find."""

from __future__ import annotations

from dataclasses import dataclass

from ..proving.simulate import Simulation
from ..quantities import mm
from ..vocabulary import OperationKind, ZeroZ
from .writer import program_origin


@dataclass(frozen=True)
class Entry:
    """One line. thick_mm: of the wood as it lies on the machine, at its thickest; piece_mm: of the piece itself, so far as its faces are cut; face_over_zero_mm:
    the finished face that is up over the program's Z zero."""

    setup: str
    when: str
    thick_mm: float
    piece_mm: float
    face_over_zero_mm: float


def ledger(simulations: list[Simulation]) -> list[Entry]:
    """Return what the wood measures and where the zero lies, at the start of every setup and after each skim."""
    out = []
    for sim in simulations:
        blank, face = sim.route.blank, -program_origin(sim)[2]
        zero = sim.setup.stands_on if sim.setup.zero.z is ZeroZ.BED else "top of the blank"
        above = max(0.0, blank.top_mm)  # still to skim off the face that is up
        piece = blank.thickness_mm - blank.faced_below_mm
        out.append(Entry(sim.setup.id, f"Z zero on the {zero}", blank.thickness_mm, piece, face))
        if above > 0 and any(s.operation.kind is OperationKind.FACE for s in sim.steps):
            out.append(
                Entry(
                    sim.setup.id,
                    f"After {mm(above):g} are skimmed off",
                    float((sim.result - sim.bottom).max()),
                    piece - above,
                    face,
                )
            )
    return out
