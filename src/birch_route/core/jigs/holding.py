"""Whether the holding that a jig is drawn from holds: kept with the jig, and judged in its own proof."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from ..route import Route
from .model import JigHolding, JigKind

HOLDS = (JigKind.BOARD, JigKind.NEST)  # drawn from a setup's hardware; a carrier is wedged, a vice plate carries a vice
GREATEST = 1e6


def weakest(operations: Iterable[Mapping[str, Any]], setups: Iterable[str]) -> JigHolding | None:
    """Return how the holding of some setups holds at the operation that asks most of it.

    Args:
        operations: as a report has them: name, setup, hold with factor and needs (None: it asks for nothing).
    """
    wanted, found = set(setups), []
    for one in operations:
        hold = one.get("hold")
        if one["setup"] in wanted and hold:
            found.append(
                JigHolding(factor=min(GREATEST, max(0.0, hold["factor"])), needs=hold["needs"], operation=one["name"])
            )
    return min(found, key=lambda h: h.factor / max(h.needs, 1e-9), default=None)


def with_holding(jig: Route, holding: JigHolding | None) -> Route:
    """Return a jig's job with how its holding holds."""
    if jig.jig is None or jig.jig.kind not in HOLDS:
        return jig
    return jig.model_copy(update={"jig": jig.jig.model_copy(update={"holding": holding})})
