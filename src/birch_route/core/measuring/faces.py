"""Test pair: what is cut from the front against what is cut from the back, after turning over on pins."""

from __future__ import annotations

from collections.abc import Mapping

from ..data import figures
from ..errors import InputError
from ..machines import Machine
from ..quantities import mm, named_mm
from .jobs import Ask, Drawn, Reading, SmallJob, apart, told
from .moves import Moves, Scrap, Stretch, circle
from .spread import fit

LONG, WIDE, APART = 140.0, 60.0, 80.0
HOLE, BOSS, WALLS = 12.0, 32.0, ("left", "right", "near", "far")
PINS = ((LONG / 2, 9.0), (LONG / 2, WIDE - 9.0))
BOSSES = ((LONG / 2 - APART / 2, WIDE / 2), (LONG / 2 + APART / 2, WIDE / 2))
INTO_BOARD_MM, LEFT_OF_BOARD_MM, LEAST_IN_BOARD_MM = 6.0, 2.0, 3.0


def pair(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job: two holes from the front, two pins on the line it turns about, a square round each hole from the
    back."""
    thick, bit = given["thickness"], given["bit"]
    into = min(INTO_BOARD_MM, machine.waste_board_mm - LEFT_OF_BOARD_MM)
    if into < LEAST_IN_BOARD_MM:
        raise InputError(
            f"Pins need {named_mm(LEAST_IN_BOARD_MM):g} of the waste board and it is "
            f"{named_mm(machine.waste_board_mm):g} thick. Put a board on it, and say how thick it is then.",
            where="waste_board_mm",
        )
    front, back = Scrap(machine), Scrap(machine)
    for pin in PINS:
        front.hole(*pin, thick + into, (5.0, 5.0))
    for x, y in BOSSES:
        front.along(circle(x, y, (HOLE - bit) / 2), thick + machine.waste_cut_mm / 2)
    for x, y in BOSSES:
        for out in (BOSS / 2 + bit / 2, BOSS / 2 + 1.3 * bit):
            back.along(
                [(x - out, y - out), (x + out, y - out), (x + out, y + out), (x - out, y + out), (x - out, y - out)],
                thick / 2,
            )
    nominal = (BOSS - HOLE) / 2
    asks = [
        Ask(f"{side}_{wall}", f"{side} square, its {wall} wall", expected=nominal, line=_wall(spot, wall))
        for side, spot in zip(("left", "right"), BOSSES, strict=True)
        for wall in WALLS
    ]
    return SmallJob(
        "pair",
        "Two holes from the front, a square round each from the back: their walls say how the faces lie.",
        [
            f"Scrap {mm(LONG):g} by {mm(WIDE):g} by {named_mm(thick):g}, held so that it can be turned over "
            f"left to right.",
            "Zero X and Y at its lower left corner, Z on its top. Run the program to its stop.",
            f"Put pins of {named_mm(bit):g} through both pin holes, turn the scrap over left to right about them, "
            f"hold it "
            f"again, touch off Z; leave X and Y. Go on.",
            "Read each wall between hole and square, the back up, left and right as you see them.",
        ],
        asks,
        Moves(
            True,
            [
                Stretch("pin holes and two holes, from the front", front.done()),
                Stretch("turn over left to right on the pins, touch off Z; the squares, from the back", back.done()),
            ],
        ),
        [
            Drawn("board", (0, 0, LONG, WIDE)),
            *(Drawn("hole", (*p, bit)) for p in PINS),
            *(Drawn("hole", (*c, HOLE)) for c in BOSSES),
            *(Drawn("square", (x - BOSS / 2, y - BOSS / 2, BOSS, BOSS)) for x, y in BOSSES),
        ],
        lambda readings: _tell(asks, readings),
        (LONG, WIDE, thick),
    )


def _wall(spot: tuple[float, float], wall: str) -> tuple[tuple[float, float], tuple[float, float]]:
    way = {"left": (-1, 0), "right": (1, 0), "near": (0, -1), "far": (0, 1)}[wall]
    ends = [(spot[0] + way[0] * r, spot[1] + way[1] * r) for r in (HOLE / 2, BOSS / 2)]
    return ends[0], ends[1]


def _tell(asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    """wall = W + e on the side it lies away from, W - e on the other; turned, e in y differs by the turn x distance."""
    fig = figures()["measuring"]
    rows: list[list[float]] = []
    for side in (-1.0, 1.0):
        turn = side * APART / 2 / 1000
        rows += [[1, 1, 0, 0], [1, -1, 0, 0], [1, 0, 1, turn], [1, 0, -1, -turn]]
    found = fit(rows, [readings[a.name] for a in asks], fig["caliper_sd_mm"])
    _, x, y, turn = (float(v) for v in found.values)
    _, hx, hy, ht = (float(h) for h in found.half)
    right, off = ("right" if x >= 0 else "left"), ("further off" if y >= 0 else "nearer")
    say_x = f"What the front cut lies {mm(abs(x)):.3f} to the {right}, seen from the back, within {mm(hx):.3f}."
    say_y = f"What the front cut lies {mm(abs(y)):.3f} {off}, seen from the back, within {mm(hy):.3f}."
    say_turn = f"The faces are turned by {turn:.2f} in a thousand, within {ht:.2f}."
    enough = "That is less than is known: leave it."
    fix_x = f"Set X zero of the back {mm(x):+.3f}." if abs(x) > hx else enough
    fix_y = f"Set Y zero of the back {mm(y):+.3f}." if abs(y) > hy else enough
    fix_turn = "New pin holes, straight above one another; or true x to y first." if abs(turn) > ht else enough
    return Reading(
        [
            told("precision.pair_x_mm", x, hx, say_x, fix_x),
            told("precision.pair_y_mm", y, hy, say_y, fix_y),
            told("precision.pair_turn", turn, ht, say_turn, fix_turn),
        ],
        apart(asks, [float(v) for v in found.out], fig["out_sd"]),
    )
