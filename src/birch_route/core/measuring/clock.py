"""Time: straight ways of three lengths, a zigzag and small circles, timed by hand, give true feeds, accelerations,
corner deviation, and whether arcs are slowed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from scipy import optimize

from ..data import figures
from ..errors import InputError
from ..machines import Machine
from ..motion.timing import move_times
from ..motion.toolpath import PathBuilder, Toolpath
from ..quantities import acceleration, mm, named_rate
from ..vocabulary import MoveKind
from .jobs import Ask, Drawn, Gauge, Reading, SmallJob, Told, apart, told
from .moves import Moves, Stretch, circle
from .spread import OFF_BY, Fitted, fit, fit_curve

WAYS = (10.0, 50.0, 200.0)
GOES, LEG, START = 2, 8.0, 20.0
REACHED = 1.05  # the longest way is so much longer than it takes to come to speed
LEAST_REPEATS, MOST_REPEATS = 5, 600


@dataclass(frozen=True)
class Timed:
    """A stretch there and back, so many times. way: mm; axis: 0 to 2; kind: ways, zigzag, circle, feed."""

    name: str
    kind: str
    axis: int
    way: float
    repeats: int
    path: Toolpath


def time(machine: Machine, given: Mapping[str, float]) -> SmallJob:
    """Return the job. Nothing is cut: the bit is out, the spindle stands."""
    timed = _timed(machine, given)
    asks, stretches = [], []
    for one in timed:
        for go in range(GOES):
            again = ", again" if go else ""
            words = f"{_words(one)}{again}"
            seconds = float(move_times(one.path, machine).sum())
            asks.append(Ask(f"{one.name}_{go + 1}", words, Gauge.SECONDS, seconds))
            stretches.append(Stretch(f"{words}: start the clock as you go on, stop it as it stands", one.path))
    minutes = sum((a.expected or 0) for a in asks) / 60
    return SmallJob(
        "time",
        f"Straight ways, a zigzag and small circles in the air, timed by hand. {minutes:.0f} minutes.",
        [
            "No bit in the collet, the bed clear, the spindle standing.",
            f"Zero X and Y so that there is {mm(_reach(machine) + START):g} free to the right and away from you, Z "
            f"so that "
            f"there is room below {mm(given['room_z']):g}.",
            "Run the program. At each stop start the clock as you press on and stop it as the machine stands.",
        ],
        asks,
        Moves(False, stretches),
        _drawn(machine),
        lambda readings: _tell(machine, timed, asks, readings),
    )


def _drawn(machine: Machine) -> list[Drawn]:
    long = _reach(machine)
    leg = LEG / math.sqrt(2)
    zigzag = [v for k in range(21) for v in (START + leg * k, START + 30 + leg * (k % 2))]
    return [
        Drawn("board", (0, 0, long + START, long + START)),
        Drawn("way", (START, START, START + long, START)),
        Drawn("way", (START, START, START, START + long)),
        Drawn("way", tuple(zigzag)),
        Drawn("circle", (START + long / 2, START + long / 2, long / 4)),
    ]


def _reach(machine: Machine) -> float:
    return min(WAYS[-1], math.floor(min(machine.travel_mm[:2]) / 10) * 10 - 2 * START)


def _words(one: Timed) -> str:
    if one.kind == "zigzag":
        return f"{one.repeats} zigzags"
    if one.kind == "circle":
        return f"{one.repeats} circles"
    how = "at its greatest feed, " if one.kind == "feed" else ""
    return f"{how}{one.repeats} times {mm(one.way):g} there and back in {'xyz'[one.axis]}"


def _timed(machine: Machine, given: Mapping[str, float]) -> list[Timed]:
    long = _reach(machine)
    deep = min(given["room_z"], machine.travel_mm[2] - 5)
    ways = [(axis, way) for axis in (0, 1) for way in (WAYS[0], WAYS[0] + (long - WAYS[0]) / 5, long)]
    ways += [(2, round(deep * part, 1)) for part in (0.2, 0.6, 1.0)]
    made = [_repeated(f"{'xyz'[axis]}{k}", "ways", axis, way, machine) for k, (axis, way) in enumerate(ways)]
    made.append(_repeated("feed", "feed", 0, long, machine))
    made.append(_repeated("zigzag", "zigzag", 0, LEG, machine))
    if machine.dialect.arcs:
        speed = machine.greatest_feed_mm_min / 60
        radius = min(max((speed / 2) ** 2 / min(machine.acceleration_mm_s2[:2]), 3.0), long / 4)
        made.append(_repeated("circle", "circle", 0, round(radius, 1), machine))
    return made


def _repeated(name: str, kind: str, axis: int, way: float, machine: Machine) -> Timed:
    """Return a stretch as often as it takes for a hand clock to be good enough, by the figures that stand now."""
    wanted = figures()["measuring"]["timed_s"]
    few = float(move_times(_path(kind, axis, way, 3, machine), machine).sum()) / 3
    repeats = max(LEAST_REPEATS, min(MOST_REPEATS, math.ceil(wanted / few)))
    return Timed(name, kind, axis, way, repeats, _path(kind, axis, way, repeats, machine))


def _path(kind: str, axis: int, way: float, repeats: int, machine: Machine) -> Toolpath:
    feed = machine.greatest_feed_mm_min
    path = PathBuilder(START, START, 0.0)
    if kind == "circle":
        ring = np.asarray(circle(START + way, START + way, way))
        path = PathBuilder(float(ring[0, 0]), float(ring[0, 1]), 0.0)
        path.along(np.vstack([ring[:1], *[ring[1:]] * repeats])[1:], 0.0, MoveKind.CUT, feed)
        return path.done()
    if kind == "zigzag":
        leg, turns = way / math.sqrt(2), 20
        there = [(START + leg * (k + 1), START + leg * ((k + 1) % 2)) for k in range(turns)]
        path.along(np.asarray((there + [*reversed(there[:-1]), (START, START)]) * repeats), 0.0, MoveKind.CUT, feed)
        return path.done()
    to = [START, START, 0.0]
    to[axis] += way if axis < 2 else -way
    moves = MoveKind.CUT if kind == "feed" else MoveKind.RAPID
    there_and_back = np.tile([to, [START, START, 0.0]], (repeats, 1))
    path.along(there_and_back[:, :2], there_and_back[:, 2], moves, feed)
    return path.done()


def _seconds(timed: list[Timed], speed: float, picks_up: float) -> np.ndarray:
    """T of n ways there and back from rest to rest: d / v + v / a, or 2 sqrt(d / a) where speed is never reached."""
    out = []
    for one in timed:
        once = (
            one.way / speed + speed / picks_up if one.way * picks_up >= speed**2 else 2 * math.sqrt(one.way / picks_up)
        )
        out += [2 * one.repeats * once] * GOES
    return np.asarray(out)


def _tell(machine: Machine, timed: list[Timed], asks: list[Ask], readings: Mapping[str, float]) -> Reading:
    fig, out, beside = figures()["measuring"], list[Told](), dict[str, float]()
    true = machine
    halves = []
    for axis in range(3):
        mine = [t for t in timed if t.kind == "ways" and t.axis == axis]
        names = [a for a in asks if any(a.name.startswith(f"{t.name}_") for t in mine)]
        got = [readings[a.name] for a in names]
        found = _axis(machine, axis, mine, got, fig["clock_sd_s"])
        speed, picks_up = (float(v) for v in np.abs(found.values))
        half_speed, half_up = (float(h) for h in found.half)
        reached = max(t.way for t in mine) * picks_up > speed**2 * REACHED
        halves.append(half_up / OFF_BY)
        letter = "xyz"[axis]
        if reached:
            sentence = f"{letter} runs at {named_rate(speed * 60):.0f}, within {named_rate(half_speed * 60):.0f}."
            out.append(told(f"rapid_mm_min.{axis}", speed * 60, half_speed * 60, sentence))
        out.append(
            told(
                f"acceleration_mm_s2.{axis}",
                picks_up,
                half_up,
                f"{letter} picks up {acceleration(picks_up):.0f}, within {acceleration(half_up):.0f}.",
            )
        )
        rapid = [*true.rapid_mm_min]
        rapid[axis] = speed * 60 if reached else rapid[axis]
        up = [*true.acceleration_mm_s2]
        up[axis] = picks_up
        true = true.model_copy(update={"rapid_mm_min": tuple(rapid), "acceleration_mm_s2": tuple(up)})
        beside |= apart(names, [float(v) for v in found.out], fig["out_sd"])
    feed = _feed(true, next(t for t in timed if t.kind == "feed"), readings)
    out.append(feed)
    true = true.model_copy(update={"greatest_feed_mm_min": feed.value})
    out += _corners(true, next(t for t in timed if t.kind == "zigzag"), readings, halves)
    out += [_arcs(true, t, readings) for t in timed if t.kind == "circle"]
    return Reading(out, beside)


def _axis(machine: Machine, axis: int, mine: list[Timed], got: list[float], sd: float) -> Fitted:
    begin = [machine.rapid_mm_min[axis] / 60, machine.acceleration_mm_s2[axis]]
    longest = max(t.way for t in mine)
    try:
        found = fit_curve(lambda p: _seconds(mine, abs(float(p[0])), abs(float(p[1]))), begin, got, sd)
    except InputError:  # where it never comes to speed, only how it picks up shows
        found = None
    if found is not None and longest * abs(found.values[1]) > found.values[0] ** 2 * REACHED:
        return found
    alone = fit_curve(lambda p: _seconds(mine, 1e6, abs(float(p[0]))), begin[1:], got, sd)
    return replace(alone, values=np.asarray([begin[0], alone.values[0]]), half=np.asarray([begin[0], alone.half[0]]))


def _mean(one: Timed, readings: Mapping[str, float]) -> tuple[float, float]:
    """Return the mean of the goes and its deviation, s."""
    got = [readings[f"{one.name}_{k + 1}"] for k in range(GOES)]
    found = fit([[1.0]] * GOES, got, figures()["measuring"]["clock_sd_s"])
    return float(found.values[0]), float(found.half[0])


def _feed(true: Machine, one: Timed, readings: Mapping[str, float]) -> Told:
    """d / v + v / a = T / 2n, the slower root."""
    mean, half = _mean(one, readings)
    a = true.acceleration_mm_s2[0]

    def speed(seconds: float) -> float:
        once = seconds / (2 * one.repeats)
        inside = (once * a) ** 2 - 4 * a * one.way
        if inside <= 0:
            return math.sqrt(a * one.way)
        return (once * a - math.sqrt(inside)) / 2

    value = speed(mean) * 60
    off = abs(speed(mean + half) - speed(mean - half)) / 2 * 60
    return told(
        "greatest_feed_mm_min", value, off, f"It cuts at {named_rate(value):.0f} at most, within {named_rate(off):.0f}."
    )


def _corners(true: Machine, one: Timed, readings: Mapping[str, float], halves: list[float]) -> list[Told]:
    """The corner deviation that makes the model take as long; none where corners do not slow it."""
    mean, half = _mean(one, readings)

    def seconds(deviation: float, machine: Machine) -> float:
        able = machine.model_copy(update={"junction_deviation_mm": deviation})
        return float(move_times(one.path, able).sum())

    def deviation(wanted: float, machine: Machine) -> float:
        low, high = 1e-5, 1.0
        if not seconds(high, machine) < wanted < seconds(low, machine):
            raise InputError("Corners do not slow it as the model has it.", where="readings")
        return float(optimize.brentq(lambda d: seconds(d, machine) - wanted, low, high, xtol=1e-7))

    slower = [a * (1 + h / a) for a, h in zip(true.acceleration_mm_s2, halves, strict=True)]
    try:
        value = deviation(mean, true)
        by_time = (deviation(mean - half, true) - deviation(mean + half, true)) / 2
        by_axis = deviation(mean, true.model_copy(update={"acceleration_mm_s2": tuple(slower)})) - value
    except InputError:
        sentence = "The zigzag does not tell how far it cuts a corner: no deviation makes the model take as long."
        return [Told("", sentence, mean, mean - half, mean + half)]
    off = math.hypot(by_time, OFF_BY * by_axis)
    return [told("junction_deviation_mm", value, off, f"It cuts a corner by {mm(value):.3f}, within {mm(off):.3f}.")]


def _arcs(true: Machine, one: Timed, readings: Mapping[str, float]) -> Told:
    """Which of two ways of running arcs takes as long as was read; the misfit of both is told."""
    mean, _ = _mean(one, readings)
    misfit = {
        chords: abs(float(move_times(one.path, true.model_copy(update={"chords": chords})).sum()) - mean) / mean
        for chords in (True, False)
    }
    chords = misfit[True] < misfit[False]
    how = "as short straight moves" if chords else "as arcs that what keeps it on the circle slows"
    sentence = (
        f"It runs arcs {how}: that misses the time by {100 * misfit[chords]:.1f} %, the other by "
        f"{100 * misfit[not chords]:.1f} %."
    )
    return Told("chords", sentence, chords, float(chords), float(chords))
