"""What each contact can do to the wood: hardware, waste board, tabs and skin as elements of the load balance."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import LinearRing

from ..bits.model import Bit
from ..data import Wood, figures
from ..heights.field import Grid
from ..machines import Pump
from ..route import Hardware, Tab
from ..vocabulary import Flute, HardwareKind
from .balance import MOST_N, Element
from .vacuum import vacuum_bar

UP, DOWN = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0)
AREA_POINTS = 4  # tape and vacuum act at so many points each way
RAGGED = 0.03  # the cells of an area differ from it by less than this part, if all of it lies over the grid
BAR_N_MM2 = 0.1
LEAST_BAR = 0.02


@dataclass(frozen=True)
class Lying:
    """How a piece of wood lies in a setup: heights of the waste board and of the blank's top, the corners of what rests on the board [n, 2], and
    its cells: bool [ny, nx] of a coarse grid; any: those of all wood there; down: those that rest on the board; pump: of the machine's vacuum."""

    bed_mm: float
    top_mm: float
    rests: np.ndarray
    grid: Grid
    wood: np.ndarray
    any: np.ndarray
    down: np.ndarray
    pump: Pump | None = None
    board_mm: float = 100.0  # waste board that screws find


def elements_of(hardware: Sequence[Hardware], lying: Lying) -> list[Element]:
    """Return what hardware can do to a piece of wood that it touches.

    Clamps, screws, tape and vacuum press with their least preload and no more; rails and pins react up to their strength; the waste board reacts
    where wood rests on it, not under what a vice grips. Friction acts on preload only. The wood's own weight is left out.

    Source: limits and friction from figures.holding, or as the hardware says.
    """
    fig = figures()["holding"]
    out: list[Element] = []
    for h in hardware:
        out += _MAKERS[h.kind](h, lying, hardware, fig)
    if any(h.kind is HardwareKind.VICE for h in hardware):
        return out
    return out + [Element(BED, (float(x), float(y), lying.bed_mm), UP, MOST_N) for x, y in lying.rests]


BED = "waste board"


def _screw(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    pull = fig["pull_n_mm"] * (h.grip_mm or min(fig["grip_mm"], lying.board_mm - fig["bed_keep_mm"]))
    return [Element(h.id, (h.x_mm, h.y_mm, lying.bed_mm), DOWN, pull, fig["side_n"])]


def _pin(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    return [Element(h.id, (h.x_mm, h.y_mm, lying.bed_mm), UP, 0.0, fig["pin_n"])]


def inward(h: Hardware) -> tuple[float, float, float]:
    """Return the direction a clamp or rail pushes the wood."""
    return -math.cos(math.radians(h.angle_deg)), -math.sin(math.radians(h.angle_deg)), 0.0


_PRESS = {HardwareKind.EDGE_CLAMP: "edge_press_n", HardwareKind.CAM: "cam_press_n", HardwareKind.WEDGE: "wedge_press_n", HardwareKind.TOP_CLAMP: "top_press_n", HardwareKind.BOLT: "bolt_press_n", HardwareKind.STRAP: "strap_press_n", HardwareKind.VICE: "vice_press_n"}


def press_of(h: Hardware) -> float:
    """Return the least preload of a clamp, N."""
    fig = figures()["holding"]
    return h.press_n or fig[_PRESS[h.kind]]


def _reach(h: Hardware, lying: Lying) -> float:
    """Return the middle height of what touches an edge."""
    return (lying.bed_mm + min(lying.top_mm, lying.top_mm + h.top_mm)) / 2


def _edge_clamp(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    return [Element(h.id, (h.x_mm, h.y_mm, _reach(h, lying)), inward(h), press_of(h), friction=fig["friction_pad"])]


def _rail(h: Hardware, lying: Lying, everything: Sequence[Hardware], fig: dict) -> list[Element]:
    way = np.array(inward(h))
    pressed = sum(press_of(o) * max(0.0, -float(np.dot(way, inward(o)))) for o in everything if o.pushes)
    along = np.array([-way[1], way[0]]) * h.width_mm / 2
    out = []
    for side in (-1.0, 1.0):
        at = (h.x_mm + side * along[0], h.y_mm + side * along[1], _reach(h, lying))
        out.append(Element(h.id, at, inward(h), fig["rail_n_mm"] * h.width_mm / 2))
        if pressed > 0:
            out.append(Element(h.id, at, inward(h), pressed / 2, friction=fig["friction_pad"]))
    return out


def _top_clamp(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    press = press_of(h)
    return [Element(h.id, (h.x_mm, h.y_mm, lying.top_mm), DOWN, press), Element(h.id, (h.x_mm, h.y_mm, lying.bed_mm), UP, press, friction=fig["friction_board"])]


def _bolt(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    """A head that presses the wood down on the board: the shaft has play in its hole, so friction bears to the side."""
    top = min(lying.top_mm, lying.top_mm + h.top_mm)
    return [Element(h.id, (h.x_mm, h.y_mm, top), DOWN, press_of(h)), Element(h.id, (h.x_mm, h.y_mm, lying.bed_mm), UP, press_of(h), friction=fig["friction_board"])]


def strap_ends(h: Hardware, lying: Lying) -> list[tuple[float, float]]:
    """Return where a strap bends over the edges of the piece: the farthest of its wood along the strap, either way."""
    x, y = np.meshgrid(lying.grid.x_centres() - h.x_mm, lying.grid.y_centres() - h.y_mm)
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    along, across = x * c + y * s, -x * s + y * c
    under = lying.wood & (np.abs(across) < max(h.width_mm / 2, lying.grid.cell_mm)) & (np.abs(along) < h.length_mm / 2)
    if not under.any():
        return []
    return [(h.x_mm + float(a) * c, h.y_mm + float(a) * s) for a in (along[under].min(), along[under].max())]


def _strap(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    """A strap pulled down at both edges: each bend presses down with the pull, and on the board below with friction; the two pulls inward cancel."""
    return [e for x, y in strap_ends(h, lying) for e in (Element(h.id, (x, y, lying.top_mm), DOWN, press_of(h)), Element(h.id, (x, y, lying.bed_mm), UP, press_of(h), friction=fig["friction_board"]))]


def _vice(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    """Two jaws: the moving one presses at the corners of its face with a quarter of the preload each, the fixed one reacts there up to its strength; friction acts on the preload at both."""
    way = np.array(inward(h))
    along = np.array([-way[1], way[0], 0.0]) * h.width_mm / 2
    top = lying.top_mm + min(0.0, h.top_mm)
    low = top - (h.grip_mm or fig["jaw_mm"])
    press, out = press_of(h) / 4, []
    for side in (-1.0, 1.0):
        for z in (low, top):
            at = np.array([h.x_mm, h.y_mm, z]) + side * along
            fixed, moving = (float(at[0]), float(at[1]), float(z)), (*(float(v) for v in (at + way * h.opens_mm)[:2]), float(z))
            back = tuple(float(-v) for v in way)
            out += [Element(h.id, fixed, inward(h), fig["rail_n_mm"] * h.width_mm / 4), Element(h.id, fixed, inward(h), press, friction=fig["friction_pad"]), Element(h.id, moving, back, press, friction=fig["friction_pad"])]
    return out


def area_points(h: Hardware, lying: Lying) -> tuple[np.ndarray, np.ndarray, float]:
    """Return points of the area of tape or vacuum, the mm2 of the piece's wood over it that each stands for, and the mm2 that wood does not cover or that do not lie on its gasket; 0 where they are no more than the cells' raggedness."""
    n, grid = AREA_POINTS, lying.grid
    x, y = np.meshgrid(grid.x_centres() - h.x_mm, grid.y_centres() - h.y_mm)
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    u, v = (x * c + y * s) / h.length_mm + 0.5, (-x * s + y * c) / h.width_mm + 0.5
    inside = (u >= 0) & (u < 1) & (v >= 0) & (v < 1)
    rim = inside & (np.minimum(np.minimum(u, 1 - u) * h.length_mm, np.minimum(v, 1 - v) * h.width_mm) < figures()["holding"]["gasket_edge_mm"])
    outside = max(0.0, 1 - float(inside.sum()) * grid.cell_mm**2 / (h.length_mm * h.width_mm))
    bare = float(((inside & ~lying.any) | (rim & ~lying.down)).sum()) * grid.cell_mm**2 + (outside * h.length_mm * h.width_mm if outside > RAGGED else 0.0)
    part = (np.minimum((u * n).astype(int), n - 1) * n + np.minimum((v * n).astype(int), n - 1))[inside & lying.wood]
    here = inside & lying.wood
    counts = np.bincount(part, minlength=n * n)
    sums = [np.bincount(part, weights=w[here], minlength=n * n) for w in (x, y)]
    used = counts > 0
    places = np.column_stack([h.x_mm + sums[0][used] / counts[used], h.y_mm + sums[1][used] / counts[used]])
    return places, counts[used] * grid.cell_mm**2, bare


def _tape(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    shear = fig["glued_tape_n_mm2" if h.glued else "tape_n_mm2"]
    places, areas, _ = area_points(h, lying)
    return [Element(h.id, (float(x), float(y), lying.bed_mm), DOWN, shear * fig["peel_part"] * a, shear * a) for (x, y), a in zip(places, areas.tolist(), strict=True)]


def _vacuum(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    places, areas, bare = area_points(h, lying)
    pressure = vacuum_bar(h, lying.pump, bare) * BAR_N_MM2
    if pressure < LEAST_BAR * BAR_N_MM2:
        return []  # it draws air beside the wood, or through it
    return [e for (x, y), a in zip(places, areas.tolist(), strict=True)
            for e in (Element(h.id, (float(x), float(y), lying.bed_mm), DOWN, pressure * a), Element(h.id, (float(x), float(y), lying.bed_mm), UP, pressure * a, friction=fig["friction_gasket"]))]


def _spacer(h: Hardware, lying: Lying, _all: Sequence[Hardware], fig: dict) -> list[Element]:
    places, areas, _ = area_points(h, lying)
    return [Element(h.id, (float(x), float(y), lying.bed_mm), UP, MOST_N) for x, y in farthest(places, 4, 0.5)] if len(areas) else []


_MAKERS = {HardwareKind.BOLT: _bolt, HardwareKind.CAM: _edge_clamp, HardwareKind.WEDGE: _edge_clamp, HardwareKind.STRAP: _strap, HardwareKind.VICE: _vice, HardwareKind.SCREW: _screw, HardwareKind.PIN: _pin, HardwareKind.EDGE_CLAMP: _edge_clamp, HardwareKind.RAIL: _rail, HardwareKind.TOP_CLAMP: _top_clamp,
           HardwareKind.TAPE: _tape, HardwareKind.VACUUM: _vacuum, HardwareKind.SPACER: _spacer}


def joint_shear(species: Wood) -> float:
    """Return what a tab or skin of this wood bears in shear, N/mm2."""
    fig = figures()["tab"]
    return fig["shear_plastic_n_mm2"] if species.cutting_class == "plastic" else fig["shear_n_mm2"]


def tab_joints(
    rim: LinearRing, tabs: Sequence[Tab], species: Wood, taken_mm: np.ndarray | None = None
) -> tuple[np.ndarray, np.ndarray, float]:
    """Return where tabs stand on a rim [n, 2], the section in mm2 each counts for, [n], and the middle of their height over the lowest wood, mm.

    taken_mm: of each tab, what stands where the lowest wood is gone and holds nothing. The grain runs along x; a tab
        that shears across it counts for figures.holding.end_grain of its section.
    """
    spots, sections = [], []
    for k, tab in enumerate(tabs):
        high = max(0.0, tab.height_mm - (0.0 if taken_mm is None else float(taken_mm[k])))
        a, b = rim.interpolate((tab.at - 0.002) % 1.0, normalized=True), rim.interpolate((tab.at + 0.002) % 1.0, normalized=True)
        along = abs(math.degrees(math.atan2(b.y - a.y, b.x - a.x)) % 180 - 90) > 90 - figures()["tab"]["end_grain_deg"]
        spots.append(rim.interpolate(tab.at, normalized=True).coords[0])
        sections.append(
            tab.width_mm
            * high
            * (1.0 if along or species.cutting_class == "plastic" else figures()["holding"]["end_grain"])
        )
    return np.array(spots), np.array(sections), max(t.height_mm for t in tabs) / 2


def lifts_by(bit: Bit) -> float:
    """Return the lift for each N of cutting force: an up-cut bit pulls the wood up its helix."""
    return math.tan(math.radians(bit.helix_deg)) * figures()["holding"]["lift_part"] if bit.flute is Flute.UP_CUT else 0.0


def farthest(points: np.ndarray, count: int, turn: float = 0.0) -> np.ndarray:
    """Return the points farthest out of [n, 2] in so many directions, without doubles; turn: of the first direction, as a part of their spacing."""
    turns = (np.arange(count) + turn) * 2 * math.pi / count
    return points[np.unique(np.argmax(points @ np.array([np.cos(turns), np.sin(turns)]), axis=0))]


def joints(name: str, points: Sequence[tuple[float, float]], mm2: Sequence[float], z_mm: float, shear_n_mm2: float) -> list[Element]:
    """Return tabs or stretches of skin as elements: each bears its section times the working shear, in plane and up or down."""
    out = []
    for k, ((x, y), section) in enumerate(zip(points, mm2, strict=True)):
        bears = section * shear_n_mm2
        label = f"{name} {k + 1}" if name == "tab" else name
        out += [Element(label, (x, y, z_mm), DOWN, bears, bears), Element(label, (x, y, z_mm), UP, bears)]
    return out
