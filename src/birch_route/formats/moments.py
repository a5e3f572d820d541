"""Inside one operation, packed for the screen: the bit's way and the tiles of wood that change from moment to moment.

Layout: 4 bytes little-endian length of a JSON header, the header, then zlib streams: `points` float32 [n + 1, 3] (x, y, z in the setup's frame, mm),
`kinds` uint8 [n] (the header's `kinds` names them), `clock` float32 [n + 1] (seconds since the start), then one for each moment with its tiles as in
view.py. Tiles not named in any moment so far are those of the step before.
"""

from __future__ import annotations

import json
import struct
import zlib
from typing import Any

import numpy as np

from ..core.proving.moments import moments
from ..core.proving.simulate import Simulation
from ..core.vocabulary import MOVE_CODES
from .view import SKIP, TILE, pack_tiles, tiles_between

COUNT = 60


def encode_moments(sim: Simulation, index: int, offset_mm: float, count: int = COUNT) -> bytes:
    """Return one operation of a setup from inside.

    Args:
        index: of the step in its setup. offset_mm: height that the view of the whole route counts from.
    """
    step = sim.steps[index]
    clock = np.concatenate([[0.0], np.cumsum(step.times_s)])
    streams = [step.path.points.astype("<f4"), step.path.kinds.astype(np.uint8), clock.astype("<f4")]
    packed, rows = [zlib.compress(s.tobytes(), 1) for s in streams], []
    known: dict[int, np.ndarray] = {}
    if index == 0:  # what a setup begins with stands in no step of the view once the piece was turned
        most = [-(-(n // SKIP) // TILE) - 1 for n in (sim.grid.nx, sim.grid.ny)]
        names, blocks = tiles_between(sim.blank_top, sim.bottom, offset_mm, 0, 0, *most)
        packed.append(pack_tiles(blocks))
        rows.append({"at_s": 0.0, "tiles": names, "bytes": len(packed[-1])})
    for moment in moments(sim, index, count):
        row: dict[str, Any] = {"at_s": round(moment.at_s, 4), "tiles": [], "bytes": 0}
        if moment.box_mm is not None:
            names, blocks = tiles_between(moment.top, sim.bottom, offset_mm, *_cells(sim, moment.box_mm))
            fresh = [k for k, (name, block) in enumerate(zip(names, blocks, strict=True)) if name not in known or not np.array_equal(known[name], block)]
            known |= {names[k]: blocks[k] for k in fresh}
            packed.append(pack_tiles(blocks[fresh]))
            row |= {"tiles": [names[k] for k in fresh], "bytes": len(packed[-1])}
        rows.append(row)
    header = json.dumps({"points": len(step.path) + 1, "path_bytes": [len(p) for p in packed[:3]], "kinds": {code: kind.value for kind, code in MOVE_CODES.items()},
                         "lead_moves": step.lead_moves, "moments": rows}).encode()
    return struct.pack("<I", len(header)) + header + b"".join(packed)


def _cells(sim: Simulation, box: tuple[float, float, float, float]) -> tuple[int, int, int, int]:
    """Return the first and last tile, across and up, that a box of the plan touches."""
    side = TILE * SKIP * sim.grid.cell_mm
    most = [-(-(n // SKIP) // TILE) - 1 for n in (sim.grid.nx, sim.grid.ny)] * 2
    low = (sim.grid.x0_mm, sim.grid.y0_mm)
    i0, j0, i1, j1 = (max(0, min(m, int((v - low[k % 2]) // side))) for k, (v, m) in enumerate(zip(box, most, strict=True)))
    return i0, j0, i1, j1
