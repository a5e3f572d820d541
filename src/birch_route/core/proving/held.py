"""What holds each piece of wood at the end of a setup: hardware that goes through or grips it, tabs or a skin to another that is held."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..fretboard.features import LEDGES, SLOTS
from ..gluing import Hollow
from ..heights.field import Grid
from ..heights.pieces import label_pieces
from ..heights.raster import mask_of
from ..instrument.balance import layers_of
from ..plane.regions import buffer_round, polygons
from ..quantities import mm
from ..route import Operation, Tab
from ..vocabulary import OperationKind, School
from .rules_holding import held_by
from .simulate import Simulation

LOOK_MM = 1.5  # a rim is looked at so far to every side
OVER_MM = 0.1  # wood this much above tabs and skins is a piece's own


@dataclass(frozen=True)
class HeldPiece:
    """A piece of wood once what joins it to others is thought away. x, y: a place inside, in the setup's frame; joined: by tabs or a skin to one that hardware holds."""

    name: str
    area_mm2: float
    kg: float
    x_mm: float
    y_mm: float
    hardware: list[str]
    tabs: int
    skin_mm: float
    joined: bool

    @property
    def is_loose(self) -> bool:
        return not self.hardware and not self.joined

    @property
    def words(self) -> str:
        """What holds it, in words."""
        if self.hardware:
            return ", ".join(self.hardware)
        if not self.joined:
            return "nothing"
        return (
            f"{self.tabs} tab{'s' if self.tabs != 1 else ''} to wood that is held"
            if self.tabs
            else f"a skin of {mm(self.skin_mm):.1f} all round"
            if self.skin_mm
            else "wood beside it that is not cut through"
        )


def own_wood(sim: Simulation, grid: Grid, top: np.ndarray, bottom: np.ndarray, level_mm: float) -> np.ndarray:
    """Return the wood's top where it is a piece's own, above tabs and skins, and its bottom elsewhere.

    A board stays one piece where its fret slots and the ledges of its binding go down below these.
    """
    whole = top - np.maximum(bottom, sim.route.blank.bottom_mm) > level_mm + OVER_MM
    for solid in (s for s in sim.resolved.solids.values() if s.id in (SLOTS, *LEDGES)):
        within = buffer_round(solid.region, grid.cell_mm).intersection(sim.resolved.outline)
        whole |= mask_of(within, grid) & (top > bottom)
    return np.where(whole, top, bottom)


def held_pieces(sim: Simulation) -> list[HeldPiece]:
    """Return the pieces after the last step of a setup, or of as many of its steps as a simulation is left with, the largest first."""
    sim = _coarse(sim)
    cuts = [s.operation for s in sim.steps if s.operation.kind is OperationKind.PROFILE]
    level = max([0.0, *_tab_heights(sim, cuts), *(o.skin_mm for o in cuts)])
    under = sim.route.blank.faced_below_mm
    own = own_wood(sim, sim.grid, sim.result, sim.bottom, level + under) if level else sim.result
    labels, count = label_pieces(own, sim.bottom)
    whole, _ = label_pieces(sim.result, sim.bottom)
    gripped, held_whole = held_by(sim, labels), {k for held in held_by(sim, whole).values() for k in held}
    areas = np.bincount(labels.ravel(), minlength=count + 1) * sim.grid.cell_mm**2
    weights = np.bincount(labels.ravel(), weights=_kg(sim).ravel(), minlength=count + 1)
    out = []
    for k in range(1, count + 1):
        if areas[k] < sim.tol.least_piece_mm2:
            continue
        rows, columns = np.nonzero(labels == k)
        j, i = rows[len(rows) // 2], columns[len(rows) // 2]
        x, y = sim.grid.x0_mm + (i + 0.5) * sim.grid.cell_mm, sim.grid.y0_mm + (j + 0.5) * sim.grid.cell_mm
        name, tabs, skin = _what(sim, x, y, cuts)
        out.append(HeldPiece(name, float(areas[k]), float(weights[k]), float(x), float(y), [h for h, held in gripped.items() if k in held], tabs, skin, int(whole[j, i]) in held_whole))
    return sorted(out, key=lambda p: -p.area_mm2)


def _tab_heights(sim: Simulation, cuts: list[Operation]) -> list[float]:
    """Return how high tabs stand over the wood that is there."""
    out = []
    for op in cuts:
        solid = sim.resolved.solids.get(op.features[0]) if op.features and op.school is School.TABS else None
        if solid is not None and op.tabs:
            out += [
                t.height_mm - g
                for t, g in zip(op.tabs, gone_under(sim, polygons(solid.region)[0].exterior, op.tabs), strict=True)
            ]
    return out


def gone_under(sim: Simulation, rim: shapely.LinearRing, tabs: Sequence[Tab]) -> np.ndarray:
    """Return how much of the lowest wood is gone under each tab, mm: what a setup before has cut from the face that
    lies below."""
    out, low = np.zeros(len(tabs)), sim.route.blank.bottom_mm + sim.route.blank.faced_below_mm
    for k, tab in enumerate(tabs):
        for shift in (-0.5, -0.25, 0.0, 0.25, 0.5):
            x, y = rim.interpolate((tab.at * rim.length + shift * tab.width_mm) % rim.length).coords[0]
            for dx, dy in ((0.0, 0.0), (LOOK_MM, 0.0), (-LOOK_MM, 0.0), (0.0, LOOK_MM), (0.0, -LOOK_MM)):
                cell = sim.grid.cell_of(x + dx, y + dy)
                if cell is not None and sim.steps and sim.result[cell] > sim.bottom[cell]:
                    out[k] = max(out[k], float(sim.bottom[cell]) - low)
    return np.minimum(out, [t.height_mm for t in tabs])


def _coarse(sim: Simulation) -> Simulation:
    """Return the end of a simulation on every other cell: a piece worth telling is much wider."""
    fine = sim.grid
    top, bottom = sim.result[::2, ::2], np.ascontiguousarray(sim.bottom[::2, ::2])
    grid = Grid(fine.x0_mm - fine.cell_mm / 2, fine.y0_mm - fine.cell_mm / 2, top.shape[1], top.shape[0], 2 * fine.cell_mm)
    steps = [*sim.steps[:-1], replace(sim.steps[-1], top=np.ascontiguousarray(top))] if sim.steps else []
    hollow = None if sim.hollow is None else Hollow(sim.hollow.floor[::2, ::2], sim.hollow.roof[::2, ::2])
    return replace(sim, grid=grid, bottom=bottom, hollow=hollow, blank_top=sim.blank_top[::2, ::2], steps=steps)


def _what(sim: Simulation, x: float, y: float, cuts: list[Operation]) -> tuple[str, int, float]:
    """Return what a piece is called, how many tabs it has, and the skin around it."""
    for op in cuts:
        for feature in op.features:
            solid = sim.resolved.solids.get(feature)
            if solid is not None and solid.floor_mm is None and shapely.contains_xy(solid.region, x, y):
                tabs = len(op.tabs) if op.school is School.TABS else 0
                return ("The piece" if solid.kind == "outline" else f"Cut out of {solid.name}"), tabs, op.skin_mm
    if not any(sim.resolved.solids[f].kind == "outline" for op in cuts for f in op.features if f in sim.resolved.solids):
        return "The blank", 0, 0.0
    inside = shapely.contains_xy(sim.resolved.outline, x, y)
    return ("The piece" if inside else "The wood around it"), 0, 0.0


def _kg(sim: Simulation) -> np.ndarray:
    """Return the weight over every cell, kg."""
    top, bottom = sim.in_piece
    out = np.zeros(top.shape)
    for density, high, low in layers_of(sim.whole):
        out += density * np.clip(np.minimum(top, high) - np.maximum(bottom, low), 0, None)
    if sim.hollow is not None:
        density, _, _ = layers_of(sim.whole)[-1]
        axis = None if sim.frame.about is None else (0 if sim.frame.about.value == "length" else 1)
        taken = sim.hollow.taken(sim.result, sim.bottom)
        out -= density * (taken if axis is None else np.flip(taken, axis))
    out *= sim.grid.cell_mm**2 * 1e-9
    axis = None if sim.frame.about is None else (0 if sim.frame.about.value == "length" else 1)
    return out if axis is None else np.flip(out, axis)
