"""What is read as a machine comes back: repeatability, steps lost by a hard program, drift of z as it warms up."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from ..data import figures
from ..machines import Machine
from ..motion.timing import move_times
from ..motion.toolpath import PathBuilder
from ..quantities import mm
from .jobs import Ask, Drawn, Reading, SmallJob, Told, apart, told
from .moves import Moves, Stretch
from .spread import fit, fit_curve, scatter, widened

TIMES, THRICE = 10, 3
CASES = {
    "left": "after a long way from the left",
    "right": "after a long way from the right",
    "home": "after homing again",
}
FAR, BESIDE = 150.0, 20.0
MINUTES, GOES = (0, 2, 5, 10, 15, 20, 30), 2


def repeatability(machine: Machine, _given: Mapping[str, float]) -> SmallJob:
    """Return the job: back to one place from the left, from the right, and after homing, ten times each."""
    safe = figures()["measuring"]["safe_mm"]
    reach = min(FAR, machine.travel_mm[0] / 2 - BESIDE)
    at = reach + BESIDE
    stretches = []
    for case, way in (("left", -reach), ("right", reach)):
        for k in range(TIMES):
            path = PathBuilder(at, 20.0, safe)
            path.rapid(at + way, 20.0)
            path.rapid(at, 20.0)
            stretches.append(Stretch(f"{CASES[case]}, {k + 1} of {TIMES}: then read the dial", path.done()))
    asks = [
        Ask(f"{case}_{k + 1}", f"{words}, {k + 1} of {TIMES}") for case, words in CASES.items() for k in range(TIMES)
    ]
    return SmallJob(
        "repeatability",
        "One place ten times from the left, ten from the right, ten after homing again.",
        [
            "Spindle off at the switch. A dial fixed to the bed, its tip against the side of the spindle's nose "
            "along x, "
            "to the right of it and clear of the way.",
            f"Zero X so that the dial meets the nose at X {mm(at):g}. Run the program and read the dial at every stop.",
            "Then home the machine, go to the place again and read; ten times. More is further to the right.",
        ],
        asks,
        Moves(False, stretches),
        [Drawn("way", (at - reach, 20.0, at, 20.0)), Drawn("way", (at + reach, 20.0, at, 20.0))],
        lambda readings: _tell_repeats(asks, readings),
    )


def _tell_repeats(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig = figures()["measuring"]
    by = {case: [readings[a.name] for a in asks if a.name.startswith(case)] for case in CASES}
    value, low, high = scatter([by["left"], by["right"]], fig["dial_sd_mm"])
    homing, least, most = scatter([by["home"]], fig["dial_sd_mm"])
    both = [*by["left"], *by["right"]]
    rows = [[1.0, 0.0]] * TIMES + [[1.0, 1.0]] * TIMES
    found = fit(rows, both, max(float(np.std(by["left"], ddof=1)), fig["dial_sd_mm"]))
    play, half = float(found.values[1]), float(found.half[1])
    return Reading(
        [
            Told(
                "precision.repeat_mm",
                f"It comes back within {mm(value):.3f}, nine times in ten ({mm(low):.3f} to {mm(high):.3f}).",
                value,
                low,
                high,
            ),
            Told(
                "precision.homing_mm",
                f"After homing it stands within {mm(homing):.3f}, nine times in ten "
                f"({mm(least):.3f} to {mm(most):.3f}).",
                homing,
                least,
                most,
                "After homing again find zero anew where a fit counts." if homing > 2 * value else "",
            ),
            told(
                "",
                play,
                half,
                f"From the right it stands {mm(play):+.3f} beside where it stands from the left, within "
                f"{mm(half):.3f}: its play.",
            ),
        ],
        apart(asks[: 2 * TIMES], [float(v) for v in found.out], fig["out_sd"]),
    )


def lost_steps(machine: Machine, _given: Mapping[str, float]) -> SmallJob:
    """Return the job: a dial read before and after two minutes of hard turns."""
    fig = figures()["measuring"]
    reach = min(FAR, min(machine.travel_mm[:2]) - 40)
    path = PathBuilder(20.0, 20.0, fig["safe_mm"])
    turn = [(20 + reach, 20 + reach), (20 + reach, 20.0), (20.0, 20 + reach), (20.0, 20.0)]
    for x, y in turn:
        path.rapid(x, y)
    once = float(move_times(path.done(), machine).sum())
    path = PathBuilder(20.0, 20.0, fig["safe_mm"])
    for _ in range(math.ceil(fig["hard_s"] / once)):
        for x, y in turn:
            path.rapid(x, y)
    asks = [
        Ask(f"{axis}_{when}_{k + 1}", f"{axis} {when}, {k + 1} of {THRICE}")
        for axis in "xy"
        for when in ("before", "after")
        for k in range(THRICE)
    ]
    return SmallJob(
        "lost",
        "Two minutes of hard turns, and whether it comes back to its mark.",
        [
            "No bit in the collet, the bed clear. Dials against the spindle's nose along x and y, or one "
            "after the other.",
            "Read each three times at the place the program begins. Run it. Read again where it ends.",
        ],
        asks,
        Moves(False, [Stretch("hard turns: stay in reach of the stop", path.done())]),
        [Drawn("way", (20.0, 20.0, *[v for p in turn for v in p]))],
        lambda readings: _tell_lost(asks, readings),
    )


def _tell_lost(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig = figures()["measuring"]
    out, beside = list[Told](), dict[str, float]()
    for axis in "xy":
        mine = [a for a in asks if a.name.startswith(axis)]
        rows = [[1.0, 0.0]] * THRICE + [[1.0, 1.0]] * THRICE
        found = fit(rows, [readings[a.name] for a in mine], fig["dial_sd_mm"])
        lost, half = float(found.values[1]), float(found.half[1])
        bad = abs(lost) - half > fig["lost_told_mm"]
        fix = (
            f"Lower the acceleration of {axis} by a fifth, look at belt and coupling, and run it again." if bad else ""
        )
        sentence = f"{axis} comes back {mm(lost):+.3f} beside its mark, within {mm(half):.3f}."
        out.append(told(f"precision.lost_{axis}_mm", lost, half, sentence, fix))
        beside |= apart(mine, [float(v) for v in found.out], fig["out_sd"])
    return Reading(out, beside)


def warm_up(_machine: Machine, _given: Mapping[str, float]) -> SmallJob:
    """Return the job: a dial under the spindle over half an hour of running."""
    asks = [
        Ask(f"{minute}_{go + 1}", f"after {minute} min{', again' if go else ''}")
        for minute in MINUTES
        for go in range(GOES)
    ]
    return SmallJob(
        "warm_up",
        "How far the bit comes down as the spindle warms up, read over half an hour.",
        [
            "A smooth rod in the collet, a dial on the bed. The machine cold, Z at one height.",
            "Stop the spindle for each reading, touch the rod with the dial, start it again. More is lower.",
        ],
        asks,
        None,
        [Drawn("clock", (float(MINUTES[-1]),))],
        lambda readings: _tell_warm(asks, readings),
    )


def _tell_warm(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    """z = c + D (1 - e^(-t / T)) / (1 - e^(-30 / T)): D within half an hour, T how quickly."""
    fig = figures()["measuring"]
    minutes = np.repeat(np.asarray(MINUTES, float), GOES)
    got = np.asarray([readings[a.name] for a in asks])

    def model(p: np.ndarray) -> np.ndarray:
        quick = min(max(abs(float(p[2])), 0.5), 200.0)
        return np.asarray(p[0] + p[1] * -np.expm1(-minutes / quick) / -np.expm1(-MINUTES[-1] / quick))

    drop = float(got[-GOES:].mean() - got[:GOES].mean())
    if abs(drop) < 3 * fig["dial_sd_mm"]:  # too little to tell how quickly
        rows = [[1.0, -math.expm1(-t / 10.0) / -math.expm1(-MINUTES[-1] / 10.0)] for t in minutes]
        found = fit(rows, got.tolist(), fig["dial_sd_mm"])
        wait = ""
    else:
        start = [float(got[:GOES].mean()) or 1e-3, drop, 10.0]
        found = fit_curve(model, start, got.tolist(), fig["dial_sd_mm"])
        quick = abs(float(found.values[2]))
        wait = f"Let it run {math.ceil(min(2.3 * quick, MINUTES[-1])):d} minutes before you touch off Z."
    value, half = float(found.values[1]), widened(float(found.half[1]), 0.0)
    sentence = f"Within half an hour the bit comes {mm(value):.3f} lower, within {mm(half):.3f}."
    return Reading(
        [told("precision.warm_up_mm", value, half, sentence, wait)],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )
