"""Rules over layers glued on between setups: what is cut from above must leave enough of them over the hollows they close."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from ..data import figures
from ..instrument.clearances import opens_into
from ..piece import Pocket
from ..quantities import mm
from .findings import Fact, Finding, finding
from .registry import rule_on_wood
from .simulate import Simulation

LEAST_MM2 = 2.0


@rule_on_wood
def over_hollows(sim: Simulation) -> Iterator[Finding]:
    """A cut from above leaves a layer thin over a hollow, or opens it where that is not meant."""
    if sim.hollow is None or sim.frame.about is not None:
        return
    least = figures()["chamber"]["cap_mm"]
    over = np.where(sim.hollow.there, sim.result - sim.hollow.roof, np.inf)
    for feature in (f for f in sim.whole.piece.features if isinstance(f, Pocket) and f.covered and f.id in sim.whole_resolved.solids):
        region = sim.whole_resolved.solid(feature.id).region
        part, at = sim.grid.window(*region.bounds)
        here = np.where(shapely.contains_xy(region, *np.meshgrid(part.x_centres(), part.y_centres())), over[at], np.inf)
        for meant in (s for s in sim.resolved.solids.values() if s.kind != "outline" and opens_into(sim.whole, sim.whole_resolved, feature.id, s.id)):
            here[shapely.contains_xy(meant.region.buffer(0.6), *np.meshgrid(part.x_centres(), part.y_centres()))] = np.inf
        thin = here < least - sim.tol.depth_mm
        if thin.sum() * sim.grid.cell_mm**2 < LEAST_MM2:
            continue
        j, i = (int(v) for v in np.unravel_index(np.argmin(here), here.shape))
        x, y, left = float(part.x_centres()[i]), float(part.y_centres()[j]), float(here[j, i])
        what = next((s for s in sim.resolved.solids.values() if s.kind != "outline" and s.region.contains(shapely.Point(x, y))), None)
        by = what.name if what is not None else "What is cut from the front"
        facts = [Fact(name="left", value=round(max(left, 0.0), 2)), Fact(name="least", value=least, source="figures, unverified"), Fact(name="area", value=round(float(thin.sum()) * sim.grid.cell_mm**2, 1), unit="mm2")]
        if left <= 0.01:
            yield finding("cap.broken", f"{by} breaks through the layer into {feature.name}. Move one of them, or say that they are meant to open into each other.", feature=feature.id, place=(x, y, float(sim.hollow.roof[at][j, i])), facts=facts)
        else:
            yield finding(
                "cap.thin",
                f"{by} leaves {mm(left):.1f} of the layer over {feature.name}; {mm(least):g} is asked for.",
                feature=feature.id,
                place=(x, y, float(sim.hollow.roof[at][j, i]) + left),
                facts=facts,
            )
