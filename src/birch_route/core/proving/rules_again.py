"""What was proposed before the readings it rests on, and would come out otherwise now."""

from __future__ import annotations

from collections.abc import Iterator

from ..quantities import mm
from ..sequence.made_before import Again, Moved, made_before
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once
from .rules_settings import would_be
from .simulate import Simulation


@rule_once
def proposed_before(sim: Simulation) -> Iterator[Finding]:
    """Operations that were proposed before the readings which what they cut rests on."""
    for one in made_before(sim.whole, sim.whole_resolved):
        standing = next((was for was, _ in one.pairs if was is not None), None)
        moved = "; ".join(_moved(m) for m in one.moved[:3])
        more = f", and {len(one.moved) - 3} more" if len(one.moved) > 3 else ""
        yield finding(
            "operation.made_before",
            f"{one.name}: its operations were proposed before these readings: {moved}{more}. "
            f"Proposed again, {_told(sim, one)}.",
            operation=None if standing is None else standing.id,
            feature=one.feature,
            facts=[Fact(name="operations that change", value=len(one.pairs), unit="")],
            cures=[Cure(
                sentence="Propose it again; what you set by hand stays",
                edits=[{"do": "propose_again", "feature": one.feature}],
            )],
        )


def _moved(one: Moved) -> str:
    if one.was_mm is None and one.now_mm is not None:
        return f"{one.label} {mm(one.now_mm):.2f}"
    if one.now_mm is None or one.was_mm is None:
        return f"{one.label} is not read any more"
    return f"{one.label} {mm(one.now_mm):.2f}, then {mm(one.was_mm):.2f}"


def _told(sim: Simulation, again: Again) -> str:
    """Return what would change, in words: bits first, then how many, then settings."""
    out = []
    bits = {b.id: b.name for b in sim.whole.bits}
    for was, now in again.pairs:
        if was is None and now is not None:
            out.append(f"{now.name} with the {bits[now.bit]} comes in")
        elif was is not None and now is None:
            out.append(f"{was.name} with the {bits[was.bit]} goes")
        elif was is not None and now is not None and was.bit != now.bit:
            out.append(f"{was.name} takes the {bits[now.bit]} instead of the {bits[was.bit]}")
    if not out:
        out = [would_be(k, a, b) for k, (a, b) in again.settings.items()]
    return "; ".join(out)
