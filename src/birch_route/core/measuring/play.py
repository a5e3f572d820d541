"""Backlash of x and y by ladders of holes, scale and play of z by a stair, the width of a slot over its bit."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

from ..data import figures
from ..machines import Machine
from ..quantities import mm, named_mm
from ..vocabulary import MoveKind
from .jobs import Ask, Drawn, Reading, SmallJob, apart, told
from .moves import Moves, Scrap, Stretch
from .spread import fit, widened

PITCH, RUNGS, EDGE = 15.0, 7, 12.0
STEPS, LANE, LONG, RAISED = 5, 16.0, 14.0, 0.5
SLOT, PLACES, TIMES = 60.0, 5, 3


def backlash(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: a ladder of holes along each axis, come to from left and right in turn."""
    bit = given["bit"]
    scrap, asks, spots = Scrap(machine), [], []
    for axis in (0, 1):
        rungs = [(EDGE + PITCH * k, EDGE) if axis == 0 else (EDGE, EDGE + PITCH * (k + 1)) for k in range(RUNGS)]
        spots += rungs
        for k, rung in enumerate(rungs):
            come = [5.0, 5.0]
            come[axis] *= 1 if k % 2 == 0 else -1
            scrap.hole(*rung, figures()["measuring"]["deep_mm"], (come[0], come[1]))
        asks += [
            Ask(
                f"{'xy'[axis]}_{k + 1}",
                f"along {'xy'[axis]}, hole {k + 1} to {k + 2}, over the far edges",
                expected=PITCH + bit,
                line=(a, b),
            )
            for k, (a, b) in enumerate(pairwise(rungs))
        ]
    whole = EDGE + PITCH * (RUNGS + 1)
    return SmallJob(
        "backlash",
        "A ladder of holes along x and y, each come to from the other side than the one before.",
        [
            f"Scrap of at least {mm(whole):g} by {named_mm(whole):g}.",
            "Zero X and Y at its lower left corner, Z on its top. Run the program.",
            "Read from each hole to the next, over the far edges of both.",
        ],
        asks,
        Moves(True, [Stretch("two ladders of holes", scrap.done())]),
        [Drawn("board", (0, 0, whole, whole)), *(Drawn("hole", (*s, bit)) for s in spots)],
        lambda readings: _tell_backlash(asks, readings),
        (whole, whole, figures()["measuring"]["deep_mm"]),
    )


def _tell_backlash(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    """d = c + b, c - b in turn: a hole come to from the right lies further right by the play."""
    rungs, fig = RUNGS - 1, figures()["measuring"]
    rows = [
        [float(axis == 0), float(axis == 1), sign * (axis == 0), sign * (axis == 1)]
        for axis in (0, 1)
        for sign in [(-1.0) ** k for k in range(rungs)]
    ]
    found = fit(rows, [readings[a.name] for a in asks], fig["caliper_sd_mm"])
    out = []
    for axis, k in (("x", 2), ("y", 3)):
        play, half = float(found.values[k]), float(found.half[k])
        fix = (
            f"Take up the play of {axis} (screw, nut, belt). If it stays, enter {mm(play):.3f} as the backlash of "
            f"{axis} "
            f"where the controller takes one."
            if play > half
            else f"None that these readings show: leave {axis}."
        )
        sentence = f"{axis} stays {mm(play):.3f} behind where it turns round, within {mm(half):.3f}."
        out.append(told(f"precision.backlash_{axis}_mm", play, half, sentence, fix))
    return Reading(out, apart(asks, [float(v) for v in found.out], fig["out_sd"]))


def stair(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: five steps, each with a lane the bit is lowered to and one it is raised to."""
    thick, bit = given["thickness"], given["bit"]
    deep = [round((thick - 3.0) * (k + 1) / STEPS, 2) for k in range(STEPS)]
    scrap, asks, drawn = Scrap(machine), [], []
    for k, down in enumerate(deep):
        x = EDGE + k * (LONG + 2 * bit)
        for lane, y in (("lowered", EDGE), ("raised", EDGE + LANE + bit)):
            way = [(x, y), (x + LONG, y)]
            if lane == "lowered":
                scrap.along(way, down)
            else:
                scrap.along([(x, y), (x, y + 0.01)], down + RAISED)
                _raised(scrap, way, down)
            spot = (x + LONG * 0.75, y)
            asks.append(
                Ask(
                    f"{k + 1}_{lane}",
                    f"step {k + 1}, the lane near {'you' if lane == 'lowered' else 'the back'}",
                    expected=down,
                    line=(spot, spot),
                )
            )
            drawn.append(Drawn("slot", (x, y, x + LONG, y, bit)))
    long, wide = EDGE * 2 + STEPS * (LONG + 2 * bit), EDGE * 2 + LANE + 2 * bit
    return SmallJob(
        "stair",
        "Five steps, each cut once as the bit comes down and once as it comes up.",
        [
            f"Flat scrap of {mm(long):g} by {mm(wide):g} by {named_mm(thick):g}; the bit cuts at least "
            f"{named_mm(thick - 3 + RAISED):g}.",
            "Zero X and Y at its lower left corner, Z on its top. Run the program.",
            "Read the depth of each lane at its right end with the rod of the caliper.",
        ],
        asks,
        Moves(True, [Stretch("the stair", scrap.done())]),
        [Drawn("board", (0, 0, long, wide)), *drawn],
        lambda readings: _tell_stair(given, deep, asks, readings),
        (long, wide, thick),
    )


def _raised(scrap: Scrap, way: list[tuple[float, float]], down: float) -> None:
    """Go down where it is cut deeper already, come up to the depth and cut along; in passes before, a hair higher."""
    (x, y), (to, _) = way
    at = 0.0
    while at > -down + scrap.step:
        at -= scrap.step
        scrap.path.rapid(x, y)
        scrap.path.to(x, y, at, MoveKind.ENTRY, scrap.plunge)
        scrap.path.to(to, y, at, MoveKind.CUT, scrap.feed)
        scrap.path.rapid(z_mm=scrap.safe)
    scrap.path.rapid(x, y)
    scrap.path.to(x, y, -down - RAISED, MoveKind.ENTRY, scrap.plunge)
    scrap.path.to(x, y, -down, MoveKind.ENTRY, scrap.plunge)
    scrap.path.to(to, y, -down, MoveKind.CUT, scrap.feed)
    scrap.path.rapid(z_mm=scrap.safe)


def _tell_stair(
    given: Mapping[str, float], deep: list[float], asks: list[Ask], readings: Mapping[str, float]
) -> Reading:
    """depth = c + d + d s, less the play where the bit came down."""
    fig = figures()["measuring"]
    rows = [[1.0, d / 1000, -1.0 if lane else 0.0] for d in deep for lane in (True, False)]
    got = [readings[a.name] - (a.expected or 0.0) for a in asks]
    found = fit(rows, got, fig["depth_sd_mm"])
    zero, over, play = (float(v) for v in found.values)
    _, half, half_play = (float(h) for h in found.half)
    factor = 1 / (1 + over / 1000)
    fix = f"Multiply the steps of z by {factor:.5f}."
    if given["steps_z"]:
        fix = f"Enter {given['steps_z'] * factor:.3f} steps for z where {given['steps_z']:g} stands."
    if abs(over) < half:
        fix = "Leave z as it is: that is less than is known."
    last = deep[-1]
    word = "deep" if over >= 0 else "shallow"
    return Reading(
        [
            told(
                "precision.scale_z",
                over,
                half,
                f"z goes {mm(abs(over) * last / 1000):.3f} too {word} in "
                f"{named_mm(last):g}, within {mm(half * last / 1000):.3f}.",
                fix,
            ),
            told(
                "precision.backlash_z_mm",
                play,
                half_play,
                f"z stays {mm(play):.3f} behind where it turns round, within {mm(half_play):.3f}.",
                "Take up the play of z." if play > half_play else "None that shows: leave z.",
            ),
            told(
                "",
                zero,
                float(found.half[0]),
                f"Z was touched off {mm(abs(zero)):.3f} "
                f"{'low' if zero > 0 else 'high'}, within {mm(float(found.half[0])):.3f}.",
            ),
        ],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )


def slot(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: a slot, its width in five places, the bit itself three times."""
    fig, bit = figures()["measuring"], given["bit"]
    scrap = Scrap(machine)
    scrap.along([(EDGE, EDGE), (EDGE + SLOT, EDGE)], fig["deep_mm"])
    spots = [(EDGE + SLOT * (k + 0.5) / PLACES, EDGE) for k in range(PLACES)]
    asks = [
        Ask(
            f"slot_{k + 1}",
            f"width of the slot, place {k + 1}",
            expected=bit,
            line=((x, y - bit / 2), (x, y + bit / 2)),
        )
        for k, (x, y) in enumerate(spots)
    ]
    asks += [
        Ask(f"bit_{k + 1}", "the bit itself, over its edges, turned a little each time", expected=bit)
        for k in range(TIMES)
    ]
    long, wide = SLOT + 2 * EDGE, 2 * EDGE
    return SmallJob(
        "slot",
        "A slot as wide as its bit, and how much wider it comes.",
        [
            f"Scrap of at least {mm(long):g} by {named_mm(wide):g}, of the wood you work in.",
            "Zero X and Y at its lower left corner, Z on its top. Run the program.",
            "Read the width in five places with the inside jaws, and the bit with the outside ones.",
        ],
        asks,
        Moves(True, [Stretch("a slot", scrap.done())]),
        [Drawn("board", (0, 0, long, wide)), Drawn("slot", (EDGE, EDGE, EDGE + SLOT, EDGE, bit))],
        lambda readings: _tell_slot(asks, readings),
        (long, wide, fig["deep_mm"]),
    )


def _tell_slot(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig = figures()["measuring"]
    rows = [[1.0, 1.0]] * PLACES + [[1.0, 0.0]] * TIMES
    found = fit(rows, [readings[a.name] for a in asks], fig["caliper_sd_mm"])
    over, half = float(found.values[1]), widened(float(found.half[1]), fig["jaws_off_mm"])
    word = "wider" if over >= 0 else "narrower"
    fix = (
        f"Give a fit {mm(over / 2):.3f} less a side, or look at collet and nut for runout."
        if over > half
        else "That is less than is known: leave it."
    )
    sentence = f"The slot is {mm(abs(over)):.3f} {word} than the bit, within {mm(half):.3f}."
    return Reading(
        [told("precision.slot_over_mm", over, half, sentence, fix)],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )
