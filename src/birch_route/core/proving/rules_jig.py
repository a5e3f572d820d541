"""Rules over a job that makes a jig: whether the holding it is drawn from holds what it is for."""

from __future__ import annotations

from collections.abc import Iterator

from ..jigs.holding import HOLDS
from .findings import Fact, Finding, finding
from .registry import rule_once
from .simulate import Simulation


@rule_once
def drawn_from_what_holds(sim: Simulation) -> Iterator[Finding]:
    """A jig drawn from a holding that does not hold the piece, or of which nobody knows."""
    jig = sim.whole.jig
    if jig is None or jig.kind not in HOLDS:
        return
    if jig.holding is None:
        yield finding(
            "jig.holding_unknown",
            f"{jig.made_for} was not proved when this was drawn: whether its holding holds is not known. Prove it, "
            f"then draw the jig again.",
            facts=[Fact(name="factor", value="not known", unit="", source="route")],
        )
    elif not jig.holding.is_enough:
        yield finding(
            "jig.holding_weak",
            f"The holding this is drawn from holds {jig.holding.factor:.1f} times the pull of "
            f"{jig.holding.operation} on {jig.made_for}; {jig.holding.needs:g} is the least. Mend the holding there, "
            f"then draw the jig again.",
            facts=[
                Fact(name="factor", value=round(jig.holding.factor, 2), unit="", source="route"),
                Fact(name="needed", value=jig.holding.needs, unit="", source="figures, unverified"),
            ],
        )
