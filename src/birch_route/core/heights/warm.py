"""Compile the numeric kernels once, during set-up, so that no first use waits for it."""

from __future__ import annotations

import time

import numpy as np
from shapely.geometry import box

from ..bits.model import Bit
from ..motion.toolpath import PathBuilder
from ..vocabulary import BitForm, MoveKind
from .field import Grid, Wood, cut_path
from .pieces import label_pieces
from .raster import mask_of


def compile_kernels(*, clearing: bool = True) -> float:
    """Run every kernel once on a tiny block; return the seconds it took. clearing: those too that only bounded engagement needs."""
    began = time.perf_counter()
    grid = Grid.over(0, 0, 10, 10)
    wood = Wood.block(grid, 0.0, -5.0)
    path = PathBuilder(1, 1, 2)
    path.to(1, 1, -1, MoveKind.PLUNGE, 100)
    path.to(8, 2, -1, MoveKind.CUT, 500)
    path.to(8, 8, -2, MoveKind.ENTRY, 500)
    path.rapid(z_mm=2)
    for form in BitForm:
        bit = Bit(id="warm", name="warm", form=form, diameter_mm=3, corner_radius_mm=0.5, included_angle_deg=60,
                  cutting_length_mm=2, shank_diameter_mm=3, stickout_mm=2)
        if not bit.undercuts:
            cut_path(wood, path.done(), bit, 10.0, 0.0)
    wood.volume_mm3()
    mask_of(box(1, 1, 5, 5), grid)
    label_pieces(wood.top, wood.bottom)
    from ..motion.straight import needed
    from ..motion.timing import _plan
    needed(np.arange(3.0), np.ones(3), 0.1)
    from ..motion.arcs import fit_arcs
    from ..proving.target import _differ
    _differ(wood.top, wood.bottom, wood.top, wood.top > 0)
    from .drop import between, drop, drop_grid
    drop_grid(wood.top, np.zeros((3, 3), np.float32), 1, np.empty_like(wood.top))
    between(wood.top, np.ones(2), np.ones(2), np.empty(2))
    drop(wood.top, 0.0, 0.0, 0.25, np.ones(2), np.ones(2), 1, 1.5, 0.0, 0.0, 1.0, np.zeros(2))
    toolpath = path.done()
    fit_arcs(toolpath.points, toolpath.kinds > 1, np.round(toolpath.feeds).astype(int))
    _plan(
        toolpath.points,
        toolpath.feeds,
        toolpath.kinds == 0,
        np.ones(3),
        np.ones(3),
        0.02,
        np.full(len(toolpath), np.inf),
        np.zeros(len(toolpath)),
    )
    if clearing:
        from ..clearing.engaged import clear_engaged
        clear_engaged(box(0, 0, 8, 8).difference(box(2.5, 2.5, 5.5, 5.5)), 3.0, 60.0)  # round an island, so that ways are looked for too
    return time.perf_counter() - began
