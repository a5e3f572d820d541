"""The wood as drawn, packed for the screen, to be held against the simulated wood of view.py.

Layout: 4 bytes little-endian length of a JSON header, the header, then for each setup two zlib streams: all tiles of the target's heights as in view.py,
and all tiles of one byte a cell: 0 not of the piece, 1 of the piece but not judged (beside walls, round corners), 2 judged.
"""

from __future__ import annotations

import json
import struct
import zlib

import numpy as np

from ..core.heights.raster import kept_mask
from ..core.proving.simulate import Simulation
from ..core.proving.target import target_of
from .view import SKIP, TILE, lowest_mm, pack_tiles, tiles_between

OUTSIDE, UNJUDGED, JUDGED = 0, 1, 2


def encode_target(simulations: list[Simulation]) -> bytes:
    """Return the target of every setup, in its own frame, at its end."""
    offset, packed, rows = lowest_mm(simulations), [], []
    for sim in simulations:
        drawn = target_of(sim)
        most = [-(-(n // SKIP) // TILE) - 1 for n in (sim.grid.nx, sim.grid.ny)]
        _, blocks = tiles_between(drawn.height, sim.bottom, offset, 0, 0, *most)
        state = np.where(drawn.judged, np.float32(JUDGED), np.where(kept_mask(sim.resolved.outline, sim.grid), np.float32(UNJUDGED), np.float32(OUTSIDE)))
        _, states = tiles_between(state / 100, np.full_like(state, -1.0), 0.0, 0, 0, *most)  # counts of a hundredth
        streams = [pack_tiles(blocks), zlib.compress(states.astype(np.uint8).tobytes(), 1)]
        rows.append({"setup": sim.setup.id, "bytes": [len(s) for s in streams]})
        packed += streams
    header = json.dumps({"tolerance_mm": simulations[0].tol.depth_mm, "setups": rows}).encode()
    return struct.pack("<I", len(header)) + header + b"".join(packed)
