"""What cut settings ask of wood, bit and machine, each as a part of what is allowed: 1 is the limit. Arrays in, arrays out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..bits.model import Bit
from ..data import Wood, figures
from ..machines import Machine
from ..vocabulary import CutKind, Limit
from .mechanics import Window, chip_load_window

LOWER = (Limit.RUBBING,)  # limits that are kept by more feed, not by less
DEEPER_MM = 0.05  # the least depth of a cut that is asked about
MOST_MM = 100.0  # the greatest depth and side that settings have


@dataclass(frozen=True)
class Question:
    """What a cut is to be. side_mm: how much of the bit meets wood from the side, at the most its diameter. deep_mm: how deep the feature is, if known.
    holds_n: the greatest pull the holding bears with its factor of safety, if known. quiet: no louder than
        figures.quiet. went_mm_min: the greatest feed that went well in this shop on this
    ground; went_part: the greatest part of power, bend and breakage that did; 0 where nothing was cut."""

    machine: Machine
    bit: Bit
    wood: Wood
    kind: CutKind
    side_mm: float
    deep_mm: float | None = None
    holds_n: float | None = None
    quiet: bool = False
    went_mm_min: float = 0.0
    went_part: float = 0.0

    @property
    def feed_share(self) -> float:
        """Part of the machine's greatest feed that careful settings use at most (figures.careful), more where that
        went well here."""
        return min(1.0, max(figures()["careful"]["feed"], self.went_mm_min / self.machine.greatest_feed_mm_min))

    @property
    def force_share(self) -> float:
        """Part of power, bend and breakage that careful settings use at most, more where that went well here."""
        return min(1.0, max(figures()["careful"]["force"], self.went_part))

    @property
    def window(self) -> Window:
        """The chip load window, mm per tooth, before thinning."""
        return chip_load_window(self.bit, self.wood)

    @property
    def deepest_mm(self) -> float:
        """The deepest one pass may go: by the class of machine in a slot, by the edge from the side."""
        d, (_, bold) = self.bit.cut_diameter_mm, figures()["depth_per_pass"][self.machine.machine_class.value]
        most = {CutKind.SLOT: bold * d, CutKind.FACE: min(bold * d, figures()["stepover"]["face_deep_mm"]), CutKind.SIDE: figures()["engaged"]["depth_times"] * bold * d,
                CutKind.FINISH: figures()["finish_pass"]["depth_diameters"] * d}[self.kind]
        return min(most, self.bit.cutting_length_mm, self.deep_mm or np.inf)


def customary_side(bit: Bit, kind: CutKind) -> float:
    """Return how much of a bit meets wood from the side where nothing is said, mm. Source: figures.stepover."""
    fig = figures()["stepover"]
    return bit.cut_diameter_mm * {CutKind.SLOT: 1.0, CutKind.FACE: fig["facing"], CutKind.SIDE: fig["side"], CutKind.FINISH: fig["last"]}[kind]


@dataclass(frozen=True)
class Asked:
    """What cuts ask for, arrays of one shape: mm, N, W, N/mm2."""

    chip_mm: np.ndarray
    mean_mm: np.ndarray
    force_n: np.ndarray
    power_w: np.ndarray
    bend_mm: np.ndarray
    stress_n_mm2: np.ndarray
    rim_m_s: np.ndarray


def asked(q: Question, feed: np.ndarray, speed: np.ndarray, depth: np.ndarray, side: np.ndarray) -> Asked:
    """Return what cuts ask for; feed mm/min, speed rpm, depth and side mm, broadcast.

    Source: as mechanics.load, for arrays; stress at the root of the flutes 32 F l / (pi d^3), the fluted part as 0.8 of the diameter.
    """
    bit, d = q.bit, q.bit.cut_diameter_mm
    feed, speed, depth, side = np.broadcast_arrays(*(np.asarray(v, float) for v in (feed, speed, depth, side)))
    side = np.clip(side, 1e-6, d)
    chip = feed / (speed * bit.flutes)
    phi = np.arccos(np.clip(1 - side / (d / 2), -1.0, 1.0))
    mean = chip * np.minimum(side / (d / 2), 2.0) / phi
    greatest = chip * np.sin(np.minimum(phi, np.pi / 2))
    teeth = bit.flutes * phi / (2 * np.pi)
    force = forces_per_width(greatest, q.wood) * depth * np.maximum(1.0, teeth)
    rim = np.pi * d / 1000 * speed / 60
    power = forces_per_width(mean, q.wood) * depth * teeth * rim
    fig = figures()
    modulus, fluted = fig["elastic_gpa"][bit.material] * 1000, min(bit.cutting_length_mm, bit.stickout_mm)
    core, shank = np.pi * (0.8 * d) ** 4 / 64, np.pi * bit.shank_diameter_mm**4 / 64
    gives = (fluted**3 / core + (bit.stickout_mm**3 - fluted**3) / shank) / (3 * modulus) + 1 / (q.machine.stiffness_n_um * 1000)
    arm = np.maximum(fluted - depth / 2, 0.0)
    root = 32 * np.maximum(arm / (np.pi * (0.8 * d) ** 3), (bit.stickout_mm - depth / 2) / (np.pi * max(bit.shank_diameter_mm, 0.8 * d) ** 3))
    return Asked(chip, mean, force, power, force * gives, force * root, rim)


def around_the_turn(q: Question, feed: float, speed: float, depth: float, side: float, places: int = 72) -> np.ndarray:
    """Return the force on the bit at places evenly round one turn, N [places]: every tooth in the wood cuts a chip as thick as fz sin(angle) there, the teeth evenly apart; the edges taken as straight.

    Source: circle geometry; up-milling and down-milling meet the same chips in another order.
    """
    d = q.bit.cut_diameter_mm
    phi = np.arccos(np.clip(1 - min(side, d) / (d / 2), -1.0, 1.0))
    turn = np.arange(places) * 2 * np.pi / places
    teeth = (turn[:, None] + np.arange(q.bit.flutes) * 2 * np.pi / q.bit.flutes) % (2 * np.pi)
    chip = np.where(teeth <= phi, feed / (speed * q.bit.flutes) * np.sin(np.minimum(teeth, np.pi)), 0.0)
    return (forces_per_width(chip, q.wood) * (chip > 0)).sum(axis=1) * depth


def forces_per_width(chip_mm: np.ndarray, wood: Wood) -> np.ndarray:
    """Return mechanics.force_per_width of an array."""
    f = figures()["cutting_force"]
    by_class = {"mdf": f["mdf"], "plywood": f["plywood"]}.get(wood.cutting_class, 1.0)
    scale = wood.cuts_as_kg_m3 / f["reference_kg_m3"] * by_class
    knee = f["curved_below_mm"]
    at_knee = f["a_n_mm"] + f["b_n_mm2"] * knee
    return scale * np.where(chip_mm >= knee, f["a_n_mm"] + f["b_n_mm2"] * chip_mm, at_knee * (np.maximum(chip_mm, 0.0) / knee) ** (f["b_n_mm2"] * knee / at_knee))


def thinning(q: Question, side: np.ndarray | float) -> np.ndarray:
    """Return by how much the feed per tooth may rise for a thin side engagement. Source: mechanics.thinned_feed_factor, for arrays."""
    part = np.clip(np.asarray(side, float) / q.bit.cut_diameter_mm, 1e-6, 0.5)
    return 1 / (2 * np.sqrt(part - part * part))


def parts(q: Question, feed: np.ndarray | float, speed: np.ndarray | float, depth: np.ndarray | float, side: np.ndarray | float) -> dict[Limit, np.ndarray]:
    """Return for every limit which part of it settings use; over 1 it is passed. Those of LOWER fall as the feed rises."""
    fig, d = figures(), q.bit.cut_diameter_mm
    a = asked(q, feed, speed, depth, side)
    window, thin = q.window, thinning(q, side)
    deep = np.interp(np.asarray(depth, float) / d, *np.array(fig["chip_load_deep"]["rows"]).T)
    rub = window.careful * thin / np.maximum(a.chip_mm, 1e-9)
    if d >= fig["rubbing"]["from_diameter_mm"] and q.wood.cutting_class != "foam":
        rub = np.maximum(rub, fig["rubbing"]["chip_mm"] / np.maximum(a.mean_mm, 1e-9))
    out = {
        Limit.RUBBING: rub,
        Limit.CHIP: a.chip_mm / (window.bold * thin * np.where(q.kind in (CutKind.SIDE, CutKind.FINISH), 1.0, deep)),
        Limit.POWER: a.power_w / (fig["power_part"]["care"] * q.machine.power_w * np.minimum(1.0, np.asarray(speed, float) / q.machine.rated_rpm)),
        Limit.BEND: a.bend_mm / fig["bend"]["finish_mm" if q.kind is CutKind.FINISH else "rough_mm"],
        Limit.BREAKAGE: a.stress_n_mm2 / fig["strength_n_mm2"][q.bit.material],
        Limit.FEED: np.asarray(feed, float) / q.machine.greatest_feed_mm_min,
        Limit.DEPTH: np.asarray(depth, float) / q.deepest_mm,
    }
    if q.holds_n is not None:
        out[Limit.HOLDING] = a.force_n / q.holds_n
    if q.kind is CutKind.FINISH:
        out[Limit.FINISH] = (a.chip_mm * q.bit.flutes) ** 2 / (4 * d) / fig["feed_marks_mm"]["finish"]
    if q.quiet:
        out[Limit.LOUDNESS] = np.maximum(a.rim_m_s / fig["quiet"]["rim_m_s"], a.power_w / fig["quiet"]["power_w"])
    return {k: np.broadcast_to(v, a.force_n.shape) for k, v in out.items()}


def worst(found: dict[Limit, np.ndarray]) -> tuple[np.ndarray, list[Limit]]:
    """Return the greatest part at each place, flattened, and which limit that is."""
    names = list(found)
    stack = np.stack([np.ravel(found[k]) for k in names])
    at = np.argmax(stack, axis=0)
    return stack[at, np.arange(stack.shape[1])], [names[k] for k in at]
