"""Read our own programs back and simulate them: the file is what was checked, byte for byte."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..heights import kernels
from ..heights.field import Wood, cut_path
from ..holding.zero import touch_z_mm
from ..motion.timing import move_times
from ..motion.toolpath import join
from ..proving.findings import Fact, Finding, finding
from ..proving.simulate import Simulation
from ..quantities import mm
from ..vocabulary import RAPID_CODE
from .reader import read_program
from .sections import Section
from .touching import stops_of, touches
from .writer import BYTES_PER_KB, Program

AGREE_MM = 0.012
SIDEWAYS_MM = 0.01  # what arcs and rounded words may move a path
REACH_MM = 0.02  # what arcs and rounded words may move the ends of a path, in plan and down
STEEP = 4.0  # drop over run
TIME_PART = 0.02


@dataclass(frozen=True)
class ReadBack:
    """What the programs of a route do when read back. digest: SHA-256 over all texts; greatest_difference_mm: of the wood's
    height, clear of walls."""

    findings: list[Finding]
    digest: str
    machine_s: float
    greatest_difference_mm: float


def digest_of(programs: list[Program]) -> str:
    """Return the SHA-256 over names and texts."""
    sha = hashlib.sha256()
    for program in programs:
        sha.update(program.name.encode() + b"\0" + program.text.encode() + b"\0")
    return sha.hexdigest()


def read_back_all(simulations: list[Simulation], programs: list[Program]) -> ReadBack:
    """Read the programs of every setup back, each against its own simulation."""
    known = {sim.setup.id for sim in simulations}
    parts = [
        read_back(sim, [p for p in programs if p.setup == sim.setup.id and p.piece == piece])
        for sim in simulations if sim.steps for piece in range(1, 2 + len(sim.setup.more_at))
    ]
    findings = [f for part in parts for f in part.findings]
    places = {sim.setup.id: 1 + len(sim.setup.more_at) for sim in simulations}
    findings += [_failed(f"{p.name} is for a piece that lies in no setup.") for p in programs
                 if p.setup in known and not 1 <= p.piece <= places[p.setup]]
    findings += [_failed(f"{p.name} belongs to no setup of this route.") for p in programs if p.setup not in known]
    return ReadBack(findings, digest_of(programs), sum(p.machine_s for p in parts), max((p.greatest_difference_mm for p in parts), default=0.0))


def read_back(sim: Simulation, programs: list[Program]) -> ReadBack:
    """Simulate the programs as text and compare with the proof.

    The wood must agree within AGREE_MM, and what SIDEWAYS_MM makes of it on a slope, at every cell but single ones at walls (no two by two cells may differ), where it is steeper than STEEP at least
    with the cells beside; no
    move may do what the proof's did not (rapid through wood, too deep, nut in wood), and the time within TIME_PART.
    """
    findings: list[Finding] = []
    wood = Wood(sim.grid, sim.blank_top.copy(), sim.bottom)
    ceiling, seconds, operations = float(wood.top.max()), 0.0, [o for p in programs for o in p.operations]
    if operations != [s.operation.id for s in sim.steps]:
        findings.append(_failed("The programs do not hold the operations of this revision, in its order."))
    for program in programs:
        findings += _too_large(sim, program)
        read = read_program(program.text, program.name, sim.route.machine.dialect)
        findings += [_failed(f"{program.name}: {p.sentence}") for p in read.problems]
        if read.offsets != {sim.setup.zero.offset}:
            named = ", ".join(f"G{53 + n}" for n in sorted(read.offsets)) or "none"
            findings.append(_failed(f"{program.name} selects work offset {named}; the setup's is G{53 + sim.setup.zero.offset}."))
        if read.stops != (wanted := _stops(sim, program)):
            findings.append(_failed(f"{program.name} stops {read.stops} times; bits, touch-offs and dial ask for {wanted}."))
        if far := _lies_elsewhere(sim, program, read.sections):
            findings.append(far)
        findings += _wrong_touch_off(sim, program, read.touch_offs)
        for section in read.sections:
            if section.tool not in program.bits:
                findings.append(_failed(f"{program.name} calls bit T{section.tool}, which it does not describe."))
                continue
            path = section.path(program.origin_mm)
            metrics = cut_path(wood, path, sim.route.bit(program.bits[section.tool]), sim.route.machine.nut_diameter_mm, ceiling)
            ceiling = float(wood.top.max())
            seconds += float(move_times(path, sim.route.machine)[_timed(section)].sum())
            cuts = metrics[:, kernels.DEPTH] > sim.tol.depth_mm
            if (cuts & ~np.asarray(section.on)).any():
                findings.append(_failed(f"{program.name} cuts while the spindle stands still."))
            findings += _worse(sim, program.name, program.bits[section.tool], metrics)
    difference = np.abs(np.maximum(wood.top, wood.bottom) - np.maximum(sim.result, sim.bottom))
    got, proven = np.maximum(wood.top, wood.bottom), np.maximum(sim.result, sim.bottom)
    highest, lowest = ndimage.maximum_filter(proven, 3), ndimage.minimum_filter(proven, 3)
    steep = highest - lowest > 2 * STEEP * sim.grid.cell_mm  # there a hair sideways is much in height: no worse than the cells beside
    slope = (highest - lowest) / (2 * sim.grid.cell_mm)
    differs = (difference > AGREE_MM + SIDEWAYS_MM * slope) & ~(steep & (got <= highest + AGREE_MM) & (got >= lowest - AGREE_MM))
    solid = ndimage.binary_opening(differs, structure=np.ones((2, 2)))
    flat = highest - lowest < 0.05  # clear of every wall
    worst = float(difference[solid].max() if solid.any() else difference[flat].max(initial=0.0))
    if solid.any():
        j, i = np.unravel_index(np.argmax(np.where(solid, difference, 0)), difference.shape)
        findings.append(_failed(f"Read back, the wood differs by {mm(worst):.2f} from the proof.", worst,
                                (sim.grid.x0_mm + (i + 0.5) * sim.grid.cell_mm, sim.grid.y0_mm + (j + 0.5) * sim.grid.cell_mm, 0.0)))
    planned = sum(float(move_times(join([s.path]), sim.route.machine).sum()) for s in sim.steps)
    if planned > 1 and abs(seconds - planned) > max(TIME_PART * planned, 2.0):
        findings.append(_failed(f"Read back, the programs take {seconds / 60:.1f} min; the proof says {planned / 60:.1f}."))
    return ReadBack(findings, digest_of(programs), seconds, worst)


def _timed(section: Section) -> np.ndarray:
    """Return which moves have a length that is known: none to or from the machine's top."""
    known = np.ones(len(section.points), bool)
    known[section.raised] = False
    return np.asarray(known[:-1] & known[1:])


def _wrong_touch_off(sim: Simulation, program: Program, heights: Sequence[float]) -> list[Finding]:
    """Return a finding where a program sets Z to something else than the plate, or not as often as it must."""
    wanted = [touch_z_mm(sim.route, program.origin_mm[2])] * sum(
        touches(sim, s) for s in sim.steps if s.operation.id in program.operations)
    if len(wanted) == len(heights) and np.allclose(wanted, heights, rtol=0.0, atol=AGREE_MM):
        return []
    told = ", ".join(f"{mm(h):.2f}" for h in heights) or "never"
    return [_failed(f"{program.name} sets Z by itself to {told}; the touch plate asks for {len(wanted)} times "
                    f"{mm(touch_z_mm(sim.route, program.origin_mm[2])):.2f}.")]


def _lies_elsewhere(sim: Simulation, program: Program, sections: Sequence[Section]) -> Finding | None:
    """Return a finding where the feed moves of a program reach to other places than those of the proof, in plan or
    down: wood alone does not show a path that lies beside its own by less than its cells."""
    ours = [s.path.points[1:][s.path.kinds != RAPID_CODE] for s in sim.steps if s.operation.id in program.operations]
    paths = [section.path(program.origin_mm) for section in sections]
    read = [p.points[1:][p.kinds != RAPID_CODE] for p in paths if len(p)]
    if not sum(map(len, ours)) or not sum(map(len, read)):
        return None
    a, b = (np.concatenate(points) for points in (ours, read))
    over = (a.max(0) - b.max(0))[:2]  # how high a chord ends is its own
    off = np.abs(np.concatenate([a.min(0) - b.min(0), over])).max()
    if off <= REACH_MM:
        return None
    return _failed(f"{program.name} reaches {mm(float(off)):.3f} further or less than the proof's path.", float(off))


def _stops(sim: Simulation, program: Program) -> int:
    """Return how often a program must stop: for every bit where no word changes it, where the bit stays in for a
    touch-off or the dial, for a plate that a hand lays and takes away."""
    steps = [s for s in sim.steps if s.operation.id in program.operations]
    return sum(stops_of(sim, s, None if k == 0 else steps[k - 1]) for k, s in enumerate(steps))


def _too_large(sim: Simulation, program: Program) -> list[Finding]:
    """Return a finding where a file is larger than the machine takes. One operation is never split over two files."""
    most, has = sim.route.machine.dialect.largest_kb, len(program.text) / BYTES_PER_KB
    if most is None or has <= most:
        return []
    words = (
        f"{program.name} has {has:.1f} kB and {sim.route.machine.name} takes {most}. One operation is never split: let "
        f"the machine run arcs, write fewer digits, or allow larger files."
    )
    return [_failed(words, has - most)]


def _failed(words: str, amount: float = 0.0, place: tuple[float, float, float] | None = None) -> Finding:
    return finding("program.read_back", words, place=place, facts=[Fact(name="difference", value=round(amount, 4))])


def _worse(sim: Simulation, name: str, bit: str, metrics: np.ndarray) -> list[Finding]:
    """Return findings for what the text does and the proof's motion with the same bit did not."""
    out = []
    for column, words in ((kernels.RAPID_HIT, "a rapid move through wood"), (kernels.REACH, "a cut beyond the bit's reach"),
                          (kernels.NUT, "the collet nut in wood"), (kernels.BELOW, "a deeper cut into the waste board")):
        proven = max((float(s.metrics[:, column].max(initial=0.0)) for s in sim.steps if s.bit.id == bit), default=0.0)
        found = float(metrics[:, column].max(initial=0.0))
        if found > proven + 0.02:
            out.append(_failed(f"{name} does {words}, {mm(found):.2f}, where the proof had {mm(proven):.2f}.", found))
    return out
