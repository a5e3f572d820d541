"""The wood after every operation, packed for the screen: half-size cells, 16 bits, only the tiles that change.

Layout: 4 bytes little-endian length of a JSON header, the header, then one zlib stream a step. Each step's stream holds,
for each tile listed in the header in order, TILE x TILE uint16 little-endian heights, row by row, each value the
difference to the one before it in the tile (modulo 65536). Height z = z_offset_mm + value * z_scale_mm.
"""

from __future__ import annotations

import json
import struct
import zlib
from collections.abc import Callable
from typing import Any

import numpy as np

from ..core.holding.clearance import no_go_heights
from ..core.proving.simulate import Simulation

TILE = 64
VIEW_SCALE_MM = 0.01
SKIP = 2


def _tiles(field: np.ndarray, bottom: float, ny: int, nx: int) -> np.ndarray:
    """Return a field at half size as uint16 [tiles, TILE * TILE]."""
    tiles_y, tiles_x = -(-ny // TILE), -(-nx // TILE)
    small = np.maximum(field[SKIP // 2:: SKIP, SKIP // 2:: SKIP][:ny, :nx], bottom)
    padded = np.zeros((tiles_y * TILE, tiles_x * TILE), np.uint16)
    padded[:ny, :nx] = np.rint((small - bottom) / VIEW_SCALE_MM).clip(0, 65535).astype(np.uint16)
    return padded.reshape(tiles_y, TILE, tiles_x, TILE).swapaxes(1, 2).reshape(-1, TILE * TILE)


Keep = Callable[[str, Callable[[], Any]], Any]


def make_anew(_key: str, make: Callable[[], Any]) -> Any:
    """Keep nothing."""
    return make()


def encode_view(sim: Simulation, keep: Keep = make_anew) -> bytes:
    """Return the packed view of a simulation. Step 0 is the blank; step k the wood after operation k.

    keep: gives back what was made for a key before, or makes it.
    """
    bottom = float(sim.bottom.min())
    fields = [(f"blank {sim.route.blank.model_dump_json()}", sim.blank_top), *[(s.wood_id, s.top) for s in sim.steps]]
    ny, nx = (n // SKIP for n in sim.blank_top.shape)
    tiles_x = -(-nx // TILE)
    before: np.ndarray | None = None
    source: np.ndarray | None = None
    steps, streams = [], []
    for key, field in fields:
        if source is not None and field is source:
            steps.append({"tiles": [], "bytes": 0})
            streams.append(b"")
            continue
        blocks = keep(f"tiles {key}", lambda field=field: _tiles(field, bottom, ny, nx))
        changed = np.arange(len(blocks)) if before is None else np.flatnonzero((blocks != before).any(axis=1))
        picked = blocks[changed]
        delta = picked.copy()
        delta[:, 1:] -= picked[:, :-1]
        stream = zlib.compress(delta.astype("<u2").tobytes(), 1)
        steps.append({"tiles": changed.tolist(), "bytes": len(stream)})
        streams.append(stream)
        before, source = blocks, field
    header = json.dumps({
        "nx": nx, "ny": ny, "tile": TILE, "tiles_x": tiles_x, "cell_mm": sim.grid.cell_mm * SKIP, "x0_mm": sim.grid.x0_mm, "y0_mm": sim.grid.y0_mm,
        "z_offset_mm": bottom, "z_scale_mm": VIEW_SCALE_MM, "steps": steps}).encode()
    return struct.pack("<I", len(header)) + header + b"".join(streams)


def no_go_rows(sim: Simulation, keep: Keep = make_anew) -> dict[str, object]:
    """Return where nothing may stand that is as high as the blank: cells as runs [row, first column, last column + 1]."""
    lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], sim.route.machine.nut_diameter_mm, sim.route.blank, 0.0, keep)
    mask = lowest.top < sim.route.blank.top_mm - 1e-6
    edges = np.diff(np.pad(mask, ((0, 0), (1, 1))).astype(np.int8), axis=1)
    rows, first = np.nonzero(edges == 1)
    _, last = np.nonzero(edges == -1)
    return {"x0_mm": lowest.grid.x0_mm, "y0_mm": lowest.grid.y0_mm, "cell_mm": lowest.grid.cell_mm,
            "runs": np.column_stack([rows, first, last]).tolist()}
