"""Tear-out along a wall: how likely the edge lifts splinters out of the wood that stays, from grain, side and direction of the cut, bite and wood."""

from __future__ import annotations

import numpy as np

from ..data import Wood, figures
from ..vocabulary import Flute


def dive_deg(toward_wood: np.ndarray, grain_deg: np.ndarray | float) -> np.ndarray:
    """Return how steeply fibres run into the wood that stays, ahead of the edge that cuts the wall; below 0 they run out of it.

    Args:
        toward_wood: unit vectors [n, 2] from the bit's axis square to the wall. grain_deg: run of the fibres from x.

    Source: a spindle that turns clockwise seen from above moves its edge along (ny, -nx) where n points into the wood, whichever way the bit
    travels; planing against the grain is cutting toward fibres that dive away under the surface.
    """
    a = np.radians(grain_deg)
    grain = np.column_stack([np.broadcast_to(np.cos(a), len(toward_wood)), np.broadcast_to(np.sin(a), len(toward_wood))])
    edge = np.column_stack([toward_wood[:, 1], -toward_wood[:, 0]])
    ahead = np.where((grain * edge).sum(1) < 0, -1.0, 1.0)
    return np.degrees(np.arcsin(np.clip((grain * toward_wood).sum(1) * ahead, -1, 1)))


def is_climb(motion: np.ndarray, toward_wood: np.ndarray) -> np.ndarray:
    """Say for each piece of a path whether it climbs: the wood lies on its right."""
    return motion[:, 0] * toward_wood[:, 1] - motion[:, 1] * toward_wood[:, 0] < 0


def wall_risk(wood: Wood, dive: np.ndarray, climb: np.ndarray, bite_part: float) -> np.ndarray:
    """Return the risk of tear-out, 0 to 1, along a wall.

    Args:
        dive: degrees, of dive_deg. climb: bool. bite_part: width of the last cut over the bit's diameter.

    Source: figures.tear_out, starting figures: fibres that dive ahead of the edge split; climbing ends each cut at the wall against fibres that
    are already severed, so little is left to split.
    """
    fig = figures()["tear_out"]
    if wood.cutting_class in fig["no_fibres"]:
        return np.zeros(len(dive))
    angles, parts = np.array(fig["dive"]).T
    bites, by_bite = np.array(fig["bite"]).T
    return fig["wood"][wood.tear_out] * np.interp(dive, angles, parts) * np.where(climb, fig["climb"], fig["conventional"]) * float(np.interp(bite_part, bites, by_bite))


def rim_risk(wood: Wood, flute: Flute) -> float:
    """Return the risk that the upper rim of a cut frays, 0 to 1, where it runs across the fibres."""
    fig = figures()["tear_out"]
    return 0.0 if wood.cutting_class in fig["no_fibres"] else fig["wood"][wood.tear_out] * fig["rim"][flute.value]
