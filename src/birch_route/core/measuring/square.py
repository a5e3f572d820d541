"""Square and scale: four holes at the corners of a square, read over their far and their near edges."""

from __future__ import annotations

import math
from collections.abc import Mapping

from ..data import figures
from ..errors import InputError
from ..machines import Machine
from ..quantities import mm, named_mm
from .jobs import Ask, Drawn, Reading, SmallJob, Told, apart, told
from .moves import Moves, Scrap, Stretch
from .spread import fit, widened

PAIRS = ((1, 2), (4, 3), (1, 4), (2, 3), (1, 3), (2, 4))
LEAST_MM = 60.0


def square(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job. All holes are come to from the same side, so that play does not show."""
    fig = figures()["measuring"]
    edge, bit = fig["edge_mm"], given["bit"]
    room = min(machine.travel_mm[:2]) - 2 * edge
    side = math.floor(min((given["caliper"] - 2 * bit) / math.sqrt(2), room) / 5) * 5.0
    if side < LEAST_MM:
        raise InputError(
            f"A caliper of {named_mm(given['caliper']):g} reads a square of {named_mm(max(side, 0)):g} across its "
            f"corners; {named_mm(LEAST_MM):g} is the least that tells anything.",
            where="given.caliper",
        )
    at = {1: (edge, edge), 2: (edge + side, edge), 3: (edge + side, edge + side), 4: (edge, edge + side)}
    scrap = Scrap(machine)
    for corner in at.values():
        scrap.hole(*corner, fig["deep_mm"], (5.0, 5.0))
    asks = [
        Ask(
            f"{a}_{b}_{way}",
            f"{a} to {b}, over the {way} edges",
            expected=math.dist(at[a], at[b]) + (bit if way == "far" else -bit),
            line=(at[a], at[b]),
        )
        for a, b in PAIRS
        for way in ("far", "near")
    ]
    whole = side + 2 * edge
    return SmallJob(
        "square",
        f"Four holes at the corners of a square of {named_mm(side):g}, and the six ways between them.",
        [
            f"Scrap of at least {mm(whole):g} by {named_mm(whole):g}, thicker than {named_mm(fig['deep_mm']):g}, "
            f"held at "
            f"its edges.",
            "Zero X and Y at its lower left corner, Z on its top.",
            "Run the program. Then read every way twice: over the far edges of both holes, and over the near ones.",
        ],
        asks,
        Moves(True, [Stretch("four holes", scrap.done())]),
        [Drawn("board", (0, 0, whole, whole)), *(Drawn("hole", (*c, bit)) for c in at.values())],
        lambda readings: _tell(machine, given, at, asks, readings),
        (whole, whole, fig["deep_mm"]),
    )


def _tell(
    machine: Machine,
    given: Mapping[str, float],
    at: Mapping[int, tuple[float, float]],
    asks: list[Ask],
    readings: Mapping[str, float],
) -> Reading:
    """d = L + (X^2 sx + Y^2 sy + X Y g) / L, plus or minus the hole: first order of a scaled and sheared square."""
    fig = figures()["measuring"]
    rows, off = [], []
    for a, b in PAIRS:
        x, y = at[b][0] - at[a][0], at[b][1] - at[a][1]
        length = math.hypot(x, y)
        for way in (1.0, -1.0):
            rows.append([x * x / length, y * y / length, x * y / length, way])
            off.append(length)
    got = [readings[k.name] - length for k, length in zip(asks, off, strict=True)]
    found = fit(rows, got, fig["caliper_sd_mm"])
    sx, sy, lean = (1000 * float(v) for v in found.values[:3])
    half = [1000 * float(h) for h in found.half[:3]]
    scale_half = [widened(h, 1000 * fig["caliper_off_part"]) for h in half[:2]]
    side = at[2][0] - at[1][0]
    return Reading(
        [
            _scale("x", sx, scale_half[0], side, given["steps_x"]),
            _scale("y", sy, scale_half[1], side, given["steps_y"]),
            _lean(machine, lean, half[2], side),
        ],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )


def _scale(axis: str, over: float, half: float, side: float, steps: float) -> Told:
    off = over * side / 1000
    word = "long" if off >= 0 else "short"
    sentence = f"{axis} runs {word} by {mm(abs(off)):.3f} in {named_mm(side):g}, within {mm(half * side / 1000):.3f}."
    if abs(over) < half:
        return told(
            f"precision.scale_{axis}", over, half, sentence, f"Leave {axis} as it is: that is less than is known."
        )
    factor = 1 / (1 + over / 1000)
    fix = f"Multiply the steps of {axis} by {factor:.5f}."
    if steps:
        fix = f"Enter {steps * factor:.3f} steps for {axis} where {steps:g} stands."
    return told(f"precision.scale_{axis}", over, half, sentence, fix)


def _lean(machine: Machine, lean: float, half: float, side: float) -> Told:
    way = "to the right" if lean >= 0 else "to the left"
    off = abs(lean) * side / 1000
    sentence = f"y leans {way} by {mm(off):.3f} in {named_mm(side):g}, within {mm(half * side / 1000):.3f}."
    if abs(lean) < half:
        return told("precision.square", lean, half, sentence, "Leave the beam as it is: that is less than is known.")
    end = abs(lean) / 1000 * machine.travel_mm[0]
    fix = (
        f"Bring the right end of the beam {'towards' if lean > 0 else 'away from'} you by {mm(end):.2f}, over its "
        f"{named_mm(machine.travel_mm[0]):g}."
    )
    return told("precision.square", lean, half, sentence, fix)
