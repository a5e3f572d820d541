"""Which wood an operation meets in a blank of layers: the hardest between the surface and its floor decides its settings."""

from __future__ import annotations

from ..data import Wood
from ..route import Route
from .own import species


def wood_met(route: Route, floor_mm: float | None) -> Wood:
    """Return the densest wood between the blank's top and a floor; of a blank without layers its one wood.

    Args:
        floor_mm: z of the floor; None goes through everything.

    Source: cutting force goes with density (figures.cutting_force), so the densest layer asks most.
    """
    blank = route.blank
    if not blank.layers:
        return species(route, blank.wood)
    low = blank.bottom_mm if floor_mm is None else floor_mm
    met = [species(route, w) for w, top, _ in blank.layer_spans() if top > low + 1e-6]
    return max(met or [species(route, blank.layers[0].wood)], key=lambda w: w.cuts_as_kg_m3)


def wood_on_top(route: Route) -> Wood:
    """Return the wood of the blank's upper face, in the frame of the setup the route is staged for."""
    return species(route, route.blank.layers[0].wood if route.blank.layers else route.blank.wood)
