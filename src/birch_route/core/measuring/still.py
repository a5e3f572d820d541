"""What is read while the machine stands: tram, stiffness, the dial of the spindle, flatness of the bed."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from ..data import figures
from ..errors import InputError
from ..machines import Machine
from ..motion.toolpath import PathBuilder
from ..quantities import mm, named_mm
from .jobs import Ask, Drawn, Gauge, Reading, SmallJob, Told, apart, told
from .moves import Moves, Stretch
from .spread import fit

GOES = 2
AROUND = {"left": (-1, 0), "right": (1, 0), "near": (0, -1), "far": (0, 1)}
GRID = (4, 3)
DRAWS, SEED = 400, 7


def tram(_machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: a dial on an arm in the collet, swept round by hand."""
    arm = given["arm"]
    asks = [
        Ask(f"{side}_{go + 1}", f"at the {side}{', again' if go else ''}", line=((0, 0), (arm * x, arm * y)))
        for go in range(GOES)
        for side, (x, y) in AROUND.items()
    ]
    return SmallJob(
        "tram",
        "A dial on an arm, swept round by hand: whether the spindle stands square on the bed.",
        [
            "Spindle off at the switch. A dial on an arm in the collet, its tip on a flat plate on the bed.",
            "Turn the spindle by hand. Read at the left, right, near and far place; then all again. More is nearer.",
        ],
        asks,
        None,
        [Drawn("circle", (0, 0, 2 * arm))],
        lambda readings: _tell_tram(given, asks, readings),
    )


def _tell_tram(given: Mapping[str, float], asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig, arm = figures()["measuring"], given["arm"]
    rows = [[1.0, arm * x / 1000, arm * y / 1000] for _ in range(GOES) for x, y in AROUND.values()]
    found = fit(rows, [readings[a.name] for a in asks], fig["dial_sd_mm"])
    out = []
    for k, figure, plus, minus in (
        (1, "precision.tilt_x", "right", "left"),
        (2, "precision.tilt_y", "far side", "near side"),
    ):
        lean, half = float(found.values[k]), float(found.half[k])
        ridge, top = abs(lean) / 1000 * given["bit"], abs(lean) / 1000 * given["mount"]
        toward = plus if lean >= 0 else minus
        sentence = (
            f"The spindle leans to the {toward} by {abs(lean):.2f} in a thousand, within {half:.2f}. A bit of "
            f"{named_mm(given['bit']):g} leaves a ridge of {mm(ridge):.3f}."
        )
        fix = (
            f"Shim the mount so that its top comes {mm(top):.3f} to the {minus if lean >= 0 else plus}, over its "
            f"{named_mm(given['mount']):g}."
            if abs(lean) > half
            else "That is less than is known: leave it."
        )
        out.append(told(figure, lean, half, sentence, fix))
    return Reading(out, apart(asks, [float(v) for v in found.out], fig["out_sd"]))


def stiffness(_machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: a pull at the bit by a spring balance, and how far a dial goes."""
    pull, times = given["pull"], figures()["measuring"]["pulls"]
    asks = [Ask(f"{axis}_{k + 1}", f"pulled along {axis}, {k + 1} of {times}") for axis in "xy" for k in range(times)]
    return SmallJob(
        "stiffness",
        "A pull at the bit and how far it gives way: the softer of both ways counts.",
        [
            "Spindle off at the switch, motors holding. A stout bit or rod in the collet, a dial against it.",
            f"Pull with {pull:g} N by a spring balance, read how far the dial goes, let go. So often along x, then "
            f"along y.",
        ],
        asks,
        None,
        [Drawn("pull", (0, 0))],
        lambda readings: _tell_stiffness(given, asks, readings),
    )


def _tell_stiffness(given: Mapping[str, float], asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    """gives = c F; the pull of the hand scatters too, so a reading scatters by the dial and by c times that."""
    fig, pull, beside, ways = figures()["measuring"], given["pull"], dict[str, float](), []
    for axis in "xy":
        mine = [a for a in asks if a.name.startswith(axis)]
        got = [readings[a.name] for a in mine]
        soft = max(float(np.mean(got)) / pull, 1e-9)
        found = fit([[pull]] * len(got), got, math.hypot(fig["dial_sd_mm"], soft * fig["balance_sd_n"]))
        ways.append((float(found.values[0]), float(found.half[0]), axis))
        beside |= apart(mine, [float(v) for v in found.out], fig["out_sd"])
    gives, half, axis = max(ways)
    least = 1 / (gives + half) / 1000
    if gives <= half:
        sentence = f"It is stiffer than this dial can tell: at least {least:.2g} N/µm. Pull harder."
        return Reading([Told("", sentence, least, least, least)], beside)
    value, most = 1 / gives / 1000, 1 / (gives - half) / 1000
    sentence = f"{value:.3g} N/µm along {axis}, {least:.3g} to {most:.3g}: {mm(100 * gives):.3f} under 100 N."
    return Reading([Told("stiffness_n_um", sentence, value, least, most)], beside)


def dial(machine: Machine, _given: Mapping[str, float]) -> SmallJob:
    """Return the job: the speed of each step of a dial, by a tachometer.

    Raises:
        InputError: the spindle has no dial.
    """
    steps = sorted(machine.speeds_rpm)
    if not steps:
        raise InputError(
            "Its spindle has no dial with steps, so there are none to read. Type the steps among its figures first if "
            "it has some.",
            where="speeds_rpm",
        )
    asks = [
        Ask(f"{k + 1}_{go + 1}", f"step {k + 1}{', again' if go else ''}", Gauge.SPEED, step)
        for k, step in enumerate(steps)
        for go in range(GOES)
    ]
    return SmallJob(
        "dial",
        "What each step of the spindle's dial turns, by a tachometer.",
        [
            "No bit in the collet; a mark on the nut. Hands and sleeves away from what turns.",
            "Set each step, wait until it is steady, read the speed; then all again from the top.",
        ],
        asks,
        None,
        [Drawn("dial", (float(len(steps)),))],
        lambda readings: _tell_dial(len(steps), asks, readings),
    )


def _tell_dial(count: int, asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig = figures()["measuring"]
    rows = [[1.0 if k == step else 0.0 for k in range(count)] for step in range(count) for _ in range(GOES)]
    got = [readings[a.name] for a in asks]
    found = fit(rows, got, fig["tachometer_sd_part"] * np.asarray(got))
    out = [
        told(f"speeds_rpm.{k}", float(v), float(h), f"Step {k + 1} turns {v:.0f} rpm, within {h:.0f}.")
        for k, (v, h) in enumerate(zip(found.values, found.half, strict=True))
    ]
    return Reading(out, apart(asks, [float(v) for v in found.out], fig["out_sd"]))


def flatness(machine: Machine, _given: Mapping[str, float]) -> SmallJob:
    """Return the job: a dial in the collet over a grid of places of the bed."""
    fig = figures()["measuring"]
    edge = fig["edge_mm"]
    spots = [
        (
            edge + (machine.travel_mm[0] - 2 * edge) * i / (GRID[0] - 1),
            edge + (machine.travel_mm[1] - 2 * edge) * j / (GRID[1] - 1),
        )
        for j in range(GRID[1])
        for i in range(GRID[0])
    ]
    asks, stretches, here = [], [], (0.0, 0.0)
    for go in range(GOES):
        for k, spot in enumerate(spots):
            asks.append(Ask(f"{k + 1}_{go + 1}", f"place {k + 1}{', again' if go else ''}", line=(spot, spot)))
            path = PathBuilder(*here, fig["safe_mm"])
            path.rapid(*spot)
            stretches.append(Stretch(f"to place {k + 1}; lower the dial by hand, read it, raise it", path.done()))
            here = spot
    return SmallJob(
        "flatness",
        f"{len(spots)} places of the bed, each read twice by a dial in the collet.",
        [
            "Spindle off at the switch. A dial in the collet. Zero X and Y at home, Z well above the bed.",
            "Run the program. At each stop lower Z to the same height, read, raise it, go on. More is higher.",
        ],
        asks,
        Moves(False, stretches),
        [Drawn("board", (0, 0, *machine.travel_mm[:2])), *(Drawn("hole", (*s, 12.0)) for s in spots)],
        lambda readings: _tell_flat(spots, asks, readings),
    )


def _tell_flat(spots: list[tuple[float, float]], asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    """Highest less lowest; what the scatter of readings adds to it on average is taken off, and its range is drawn
    again and again with the same scatter (parametric bootstrap, seeded)."""
    fig, count = figures()["measuring"], len(spots)
    rows = [[1.0 if k == spot else 0.0 for k in range(count)] for _ in range(GOES) for spot in range(count)]
    found = fit(rows, [readings[a.name] for a in asks], fig["dial_sd_mm"])
    heights = found.values
    raw = float(heights.max() - heights.min())
    sd = float(found.half[0]) / 1.73
    draws = heights + np.random.default_rng(SEED).normal(0, sd, (DRAWS, count))
    ranges = draws.max(axis=1) - draws.min(axis=1)
    more = float(ranges.mean()) - raw
    value = max(raw - more, 0.0)
    half = max(float(np.quantile(ranges, 0.95) - np.quantile(ranges, 0.05)) / 2, 0.0)
    low = spots[int(np.argmin(heights))]
    where = f"{mm(low[0]):g}, {mm(low[1]):g}"
    sentence = f"The bed is {mm(value):.3f} out of flat, within {mm(half):.3f}; lowest at {where}."
    fix = "Skim the waste board if a glue face or an even depth needs less." if value > half else ""
    return Reading(
        [told("precision.flat_mm", value, half, sentence, fix)],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )
