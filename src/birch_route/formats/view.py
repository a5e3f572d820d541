"""The wood after every operation, packed for the screen: half-size cells, 16 bits, only the tiles that change.

Layout: 4 bytes little-endian length of a JSON header, the header, then one zlib stream a step, then one for each setup's underside. A step is
shown as it lies on the machine: the header says how long each stream is, its `mark` (the same for the same stream) and its tiles; `setups` say from which step on which setup counts, how it was turned, and where its grid
begins. Each stream holds, for each tile listed in the header in order, TILE x TILE uint16 little-endian heights, row by row, each value the
difference to the one before it in the tile (modulo 65536). Height z = z_offset_mm + value * z_scale_mm.
"""

from __future__ import annotations

import hashlib
import json
import struct
import zlib
from collections.abc import Callable, Sequence
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


def lowest_mm(simulations: Sequence[Simulation]) -> float:
    """Return the height that the tiles of a route count from."""
    return min(float(sim.bottom.min()) for sim in simulations)


def tiles_between(top: np.ndarray, bottom: np.ndarray, offset: float, i0: int, j0: int, i1: int, j1: int) -> tuple[list[int], np.ndarray]:
    """Return the numbers and the cells, uint16 [tiles, TILE * TILE], of the tiles from column i0 to i1 and row j0 to j1 of a wood."""
    nx, ny = top.shape[1] // SKIP, top.shape[0] // SKIP
    tiles_x, side = -(-nx // TILE), TILE * SKIP
    at = slice(j0 * side, (j1 + 1) * side), slice(i0 * side, (i1 + 1) * side)
    wide, high = min(nx, (i1 + 1) * TILE) - i0 * TILE, min(ny, (j1 + 1) * TILE) - j0 * TILE
    blocks = _tiles(_standing(top[at], bottom[at], offset), offset, high, wide)
    return [j * tiles_x + i for j in range(j0, j1 + 1) for i in range(i0, i1 + 1)], blocks


def pack_tiles(blocks: np.ndarray) -> bytes:
    """Return tiles as one stream: each value the difference to the one before it in its tile."""
    delta = blocks.copy()
    delta[:, 1:] -= blocks[:, :-1]
    return zlib.compress(delta.astype("<u2").tobytes(), 1)


Keep = Callable[[str, Callable[[], Any]], Any]


def make_anew(_key: str, make: Callable[[], Any]) -> Any:
    """Keep nothing."""
    return make()


def encode_view(*simulations: Simulation, keep: Keep = make_anew) -> bytes:
    """Return the packed view of a route. Step 0 is the blank; step k the wood after operation k, in its setup's frame.

    keep: gives back what was made for a key before, or makes it.
    """
    first = simulations[0]
    offset = lowest_mm(simulations)
    ny, nx = (n // SKIP for n in first.blank_top.shape)
    tiles_x = -(-nx // TILE)
    before: tuple[str, np.ndarray] | None = None
    source: np.ndarray | None = None
    steps, streams, setups = [], [], []

    def add(key: str, make: Callable[[], np.ndarray], known: tuple[str, np.ndarray] | None) -> tuple[dict[str, Any], tuple[str, np.ndarray]]:
        blocks = keep(f"tiles {key} {offset}", make)

        def packed() -> tuple[list[int], bytes]:
            changed = np.arange(len(blocks)) if known is None else np.flatnonzero((blocks != known[1]).any(axis=1))
            return changed.tolist(), pack_tiles(blocks[changed])
        tiles, stream = keep(f"packed {known[0] if known else ''} {key} {offset}", packed)
        streams.append(stream)
        return {"tiles": tiles, "bytes": len(stream), "mark": hashlib.blake2b(stream, digest_size=8).hexdigest()}, (key, blocks)

    for sim in simulations:
        fields = [(s.wood_id, s.top) for s in sim.steps]
        if sim.index == 0:
            fields.insert(0, (f"blank {sim.route.blank.model_dump_json()}", sim.blank_top))
        setups.append({"id": sim.setup.id, "name": sim.setup.name, "face": sim.up.value, "turned_about": None if sim.frame.about is None else sim.frame.about.value,
                       "x0_mm": sim.grid.x0_mm, "y0_mm": sim.grid.y0_mm, "first_step": len(steps), "thickness_mm": sim.frame.thickness_mm})
        for key, field in fields:
            if source is not None and field is source:
                steps.append({"tiles": [], "bytes": 0, "mark": ""})
                streams.append(b"")
                continue
            step, before = add(key, lambda field=field, sim=sim: _tiles(_standing(field, sim.bottom, offset), offset, ny, nx), before)
            steps.append(step)
            source = field
    for sim, row in zip(simulations, setups, strict=True):
        row["under"], _ = add(f"under {sim.index} {sim.wood_key}" if sim.index else f"under {offset}", lambda sim=sim: _tiles(sim.bottom, offset, ny, nx), None)
        if sim.hollow is not None:  # what glued layers have closed
            row["hollow"] = {side: add(f"{side} {sim.index} {sim.wood_key}", lambda field=field: _tiles(field, offset, ny, nx), None)[0] for side, field in (("floor", sim.hollow.floor), ("roof", sim.hollow.roof))}
    header = json.dumps({
        "nx": nx, "ny": ny, "tile": TILE, "tiles_x": tiles_x, "cell_mm": first.grid.cell_mm * SKIP, "x0_mm": first.grid.x0_mm, "y0_mm": first.grid.y0_mm,
        "z_offset_mm": offset, "z_scale_mm": VIEW_SCALE_MM, "steps": steps, "setups": setups}).encode()
    return struct.pack("<I", len(header)) + header + b"".join(streams)


def _standing(field: np.ndarray, bottom: np.ndarray, offset: float) -> np.ndarray:
    """Return the wood's top, at the lowest height where nothing is left."""
    return np.where(field <= bottom, np.float32(offset), field)


def no_go_rows(sim: Simulation, keep: Keep = make_anew) -> dict[str, object]:
    """Return where nothing may stand that is as high as the blank in a setup's frame: cells as runs [row, first column, last column + 1]."""
    lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], sim.route.machine.nut_diameter_mm, sim.route.blank, 0.0, keep, sim.route.machine.heads, sim.route.blank.top_mm)
    mask = lowest.top < sim.route.blank.top_mm - 1e-6
    edges = np.diff(np.pad(mask, ((0, 0), (1, 1))).astype(np.int8), axis=1)
    rows, first = np.nonzero(edges == 1)
    _, last = np.nonzero(edges == -1)
    return {"x0_mm": lowest.grid.x0_mm, "y0_mm": lowest.grid.y0_mm, "cell_mm": lowest.grid.cell_mm,
            "runs": np.column_stack([rows, first, last]).tolist()}
