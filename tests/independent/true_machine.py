"""A machine with errors put in, to be measured: it runs the programs of the small jobs with its own reader and its own
motion, and is read with gauges that scatter. It shares no code with the product but the stop-by-stop parser here.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field

import numpy as np

from tests.independent.simulator import read_moves

CALIPER, DEPTH, DIAL, CLOCK, BALANCE, TACHO = 0.015, 0.02, 0.002, 0.25, 1.0, 0.004


@dataclass
class TrueMachine:
    """What nobody knows of a machine, drawn from a seed. Lengths mm, angles and scales as parts, seconds."""

    rng: np.random.Generator
    rapid: np.ndarray  # mm/s
    up: np.ndarray  # mm/s2
    feed: float  # mm/s
    speeds: list[float]
    scale: np.ndarray = field(init=False)

    def __post_init__(self) -> None:
        r = self.rng
        self.scale = 1 + r.normal(0, 4e-4, 3)
        self.lean = r.normal(0, 4e-4)
        self.play = np.abs(r.normal(0, 0.06, 3))
        self.repeat, self.homing = r.uniform(0.003, 0.012), r.uniform(0.01, 0.04)
        self.pair, self.turn = r.normal(0, 0.08, 2), r.normal(0, 4e-4)
        self.over = r.uniform(0.0, 0.08)
        self.tilt = r.normal(0, 5e-4, 2)
        self.stiff = r.uniform(0.3, 3.0, 2)  # N/um
        self.rapid = self.rapid * r.uniform(0.75, 1.1, 3)
        self.up = self.up * r.uniform(0.7, 1.3, 3)
        self.feed *= r.uniform(0.8, 1.0)
        self.deviation, self.chords = float(np.exp(r.normal(math.log(0.02), 0.4))), bool(r.integers(2))
        self.speeds = [s * r.uniform(0.93, 1.07) for s in self.speeds]
        self.bed = r.normal(0, 0.06, 12)
        self.lost = np.where(r.random(2) < 0.5, 0.0, r.uniform(-0.2, 0.2, 2))
        self.warm, self.quick = r.uniform(0.02, 0.12), r.uniform(4, 12)
        self.caliper_off, self.jaws_off = r.normal(0, 1e-4), r.normal(0, 0.01)

    def caliper(self, length: float, sd: float = CALIPER) -> float:
        return round(length * (1 + self.caliper_off) + self.rng.normal(0, sd), 2)

    def dial(self, height: float) -> float:
        return round(height + self.rng.normal(0, DIAL), 3)

    def truths(self) -> dict[str, float | bool]:
        """Return what the small jobs should find, by the names of a machine's figures."""
        axes = ("x", "y", "z")
        nine = 1.6448536
        return {
            **{f"precision.scale_{a}": 1000 * (s - 1) for a, s in zip(axes, self.scale, strict=True)},
            "precision.square": 1000 * self.lean,
            **{f"precision.backlash_{a}_mm": p for a, p in zip(axes, self.play, strict=True)},
            "precision.pair_x_mm": self.pair[0],
            "precision.pair_y_mm": self.pair[1],
            "precision.pair_turn": 1000 * self.turn,
            "precision.slot_over_mm": self.over,
            "precision.tilt_x": 1000 * self.tilt[0],
            "precision.tilt_y": 1000 * self.tilt[1],
            "stiffness_n_um": float(self.stiff.min()),
            **{f"rapid_mm_min.{k}": 60 * v for k, v in enumerate(self.rapid)},
            **{f"acceleration_mm_s2.{k}": v for k, v in enumerate(self.up)},
            "greatest_feed_mm_min": 60 * self.feed,
            "junction_deviation_mm": self.deviation,
            **{f"speeds_rpm.{k}": v for k, v in enumerate(self.speeds)},
            "precision.flat_mm": float(self.bed.max() - self.bed.min()),
            "precision.repeat_mm": nine * self.repeat,
            "precision.homing_mm": nine * self.homing,
            "precision.lost_x_mm": self.lost[0],
            "precision.lost_y_mm": self.lost[1],
            "precision.warm_up_mm": self.warm * (1 - math.exp(-30 / self.quick)),
        }

    def at(self, x: float, y: float, from_left: bool, from_near: bool) -> np.ndarray:
        """Return where a hole comes: play where it comes from the right, scale, lean, and how it comes back."""
        x += 0 if from_left else self.play[0]
        y += 0 if from_near else self.play[1]
        true = np.array([x * self.scale[0] + y * self.lean, y * self.scale[1]])
        return true + self.rng.normal(0, self.repeat / 3, 2)


def holes(text: str) -> list[tuple[float, float, bool, bool]]:
    """Return where each hole is plunged, in order, and whether x and y came to it from the left and from near you."""
    out: list[tuple[float, float, bool, bool]] = []
    for part in read_moves(text):
        left = near = True
        for a, b in zip(part.points, part.points[1:], strict=False):
            left = b[0] > a[0] if abs(b[0] - a[0]) > 1e-6 else left
            near = b[1] > a[1] if abs(b[1] - a[1]) > 1e-6 else near
            if b[2] < 0 <= a[2] and not (out and math.dist(out[-1][:2], b[:2]) < 0.01):
                out.append((b[0], b[1], left, near))
    return out


def stops(text: str) -> list[str]:
    """Return the stretches of a program between its stops, each with the words before it that still hold."""
    head = "\n".join(k for k in text.splitlines() if re.search(r"G2[01]", k))
    return [f"{head}\n{part}" for part in re.split(r"(?m)^(?:N\d+ )?M0\s*$", text)]


def square(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    spots = [m.at(*h) for h in holes(text)]
    by = {1: spots[0], 2: spots[1], 3: spots[2], 4: spots[3]}
    out = {}
    for a, b in ((1, 2), (4, 3), (1, 4), (2, 3), (1, 3), (2, 4)):
        way = float(np.linalg.norm(by[b] - by[a]))
        out[f"{a}_{b}_far"] = m.caliper(way + given["bit"] + m.over)
        out[f"{a}_{b}_near"] = m.caliper(way - given["bit"] - m.over)
    return out


def backlash(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    spots = [m.at(*h) for h in holes(text)]
    out, half = {}, len(spots) // 2
    for axis, row in (("x", spots[:half]), ("y", spots[half:])):
        for k, (a, b) in enumerate(zip(row, row[1:], strict=False)):
            out[f"{axis}_{k + 1}"] = m.caliper(float(np.linalg.norm(b - a)) + given["bit"] + m.over)
    return out


def pair(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    front, back = stops(text)[-2:]
    long, bit = 140.0, given["bit"]
    bored, round_ = [], []
    for part in read_moves(front):
        low = part.points[part.points[:, 2] < -1]
        for x in (30.0, 110.0):
            ring = low[np.abs(low[:, 0] - x) < 10]
            bored.append(
                np.array([long - (ring[:, 0].min() + ring[:, 0].max()) / 2, (ring[:, 1].min() + ring[:, 1].max()) / 2])
            )
            round_.append((ring[:, 0].max() - ring[:, 0].min()) / 2 + bit / 2)
    middle = np.array([long / 2, 30.0])
    turn = np.array([[1, -m.turn], [m.turn, 1]])
    out = {}
    for hole, radius in zip(bored, round_, strict=True):
        true = middle + turn @ (hole - middle) + m.pair
        low = np.vstack([p.points[p.points[:, 2] < -1] for p in read_moves(back)])
        inner = low[np.max(np.abs(low[:, :2] - hole), axis=1) < 16 + bit * 0.8]
        left, right = inner[:, 0].min() + bit / 2, inner[:, 0].max() - bit / 2
        near, far = inner[:, 1].min() + bit / 2, inner[:, 1].max() - bit / 2
        side = "left" if hole[0] < long / 2 else "right"
        for wall, thick in (
            ("left", true[0] - radius - left),
            ("right", right - true[0] - radius),
            ("near", true[1] - radius - near),
            ("far", far - true[1] - radius),
        ):
            out[f"{side}_{wall}"] = m.caliper(float(thick))
    return out


def stair(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    """The floor of a lane is what its last way along leaves: z behind by its play where it came down."""
    floors: dict[tuple[float, float], tuple[float, bool]] = {}
    for part in read_moves(text):
        down = True
        for a, b in zip(part.points, part.points[1:], strict=False):
            down = b[2] < a[2] if abs(b[2] - a[2]) > 1e-6 else down
            if a[2] < -0.1 and abs(b[0] - a[0]) > 5:
                floors[(round(float(a[0]), 1), round(float(a[1]), 1))] = (float(b[2]), down)
    zero = m.rng.normal(0, 0.05)
    out = {}
    for step, x in enumerate(sorted({k[0] for k in floors}), 1):
        for lane, y in zip(("lowered", "raised"), sorted({k[1] for k in floors}), strict=True):
            z, down = floors[(x, y)]
            out[f"{step}_{lane}"] = m.caliper(-z * m.scale[2] - (m.play[2] if down else 0) + zero, DEPTH)
    return out


def slot(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    wide = given["bit"] + m.over
    out = {f"slot_{k + 1}": m.caliper(wide + m.jaws_off) for k in range(5)}
    return out | {f"bit_{k + 1}": m.caliper(given["bit"]) for k in range(3)}


def time(m: TrueMachine, text: str, given: dict[str, float]) -> dict[str, float]:
    names = given["names"]
    parts = stops(text)[1:]
    took = [round(seconds(m, p) + m.rng.normal(0, CLOCK), 1) for p in parts]
    return dict(zip(names, took, strict=True))  # type: ignore[arg-type,call-overload]


def seconds(m: TrueMachine, text: str) -> float:
    """Return how long a stretch takes on this machine: arcs whole, speeds at corners by the deviation, both ways."""
    at, mode, moves, feed = np.zeros(3), 0, [], m.feed
    begun, unit = False, 25.4 if "G20" in text else 1.0
    for raw in text.splitlines():
        line = re.sub(r"\(.*?\)", "", raw).split(";")[0]
        value = {a: float(n) for a, n in re.findall(r"([A-Z])([-+]?[0-9.]+)", line)}
        value |= {a: v * unit for a, v in value.items() if a in "XYZIJF"}
        if "G" in value and value["G"] in (0, 1, 2, 3):
            mode = int(value["G"])
        feed = min(value["F"] / 60, m.feed) if "F" in value else feed
        if not set("XYZ") & set(value) or "G" in value and value["G"] not in (0, 1, 2, 3):
            continue
        to = np.array([value.get(a, at[k]) for k, a in enumerate("XYZ")])
        if begun or mode:
            moves.append(_move(m, at, to, mode, value, feed))
        begun, at = begun or {"X", "Y"} <= set(value), to
    moves = [k for k in moves if k is not None]
    return _run(moves, m.deviation)


def _move(m: TrueMachine, at: np.ndarray, to: np.ndarray, mode: int, value: dict[str, float], feed: float):
    """length, way in, way out, greatest speed, how it picks up."""
    if mode in (2, 3):
        centre = at[:2] + [value.get("I", 0.0), value.get("J", 0.0)]
        radius = float(np.linalg.norm(at[:2] - centre))
        first, last = (math.atan2(p[1] - centre[1], p[0] - centre[0]) for p in (at, to))
        sign = 1 if mode == 3 else -1
        sweep = (sign * (last - first)) % (2 * math.pi) or 2 * math.pi
        into, out = (sign * np.array([-math.sin(t), math.cos(t), 0.0]) for t in (first, last))
        up = float(m.up[:2].min())
        return sweep * radius, into, out, feed if m.chords else min(feed, math.sqrt(up * radius)), up
    way = to - at
    length = float(np.linalg.norm(way))
    if length < 1e-9:
        return None
    unit = way / length
    with np.errstate(divide="ignore"):
        fastest = float((m.rapid / np.abs(unit)).min())
        up = float((m.up / np.abs(unit)).min())
    return length, unit, unit, fastest if mode == 0 else min(fastest, feed), up


def _run(moves: list, deviation: float) -> float:
    """Return the seconds of moves from rest to rest."""
    ends = [0.0]
    for a, b in zip(moves, moves[1:], strict=False):
        cosine = float(a[2] @ b[1])
        top = min(a[3], b[3])
        if cosine < -0.999999:
            ends.append(0.0)
        elif cosine > 0.999999:
            ends.append(top)
        else:
            half = math.sqrt((1 + cosine) / 2)
            ends.append(min(top, math.sqrt(min(a[4], b[4]) * deviation * half / (1 - half))))
    ends.append(0.0)
    for k in range(len(moves) - 1, -1, -1):
        ends[k] = min(ends[k], math.sqrt(ends[k + 1] ** 2 + 2 * moves[k][4] * moves[k][0]))
    total = 0.0
    for k, (length, _, _, top, up) in enumerate(moves):
        ends[k + 1] = min(ends[k + 1], math.sqrt(ends[k] ** 2 + 2 * up * length))
        peak = min(top, math.sqrt(up * length + (ends[k] ** 2 + ends[k + 1] ** 2) / 2))
        run_up = (2 * peak**2 - ends[k] ** 2 - ends[k + 1] ** 2) / (2 * up)
        total += (2 * peak - ends[k] - ends[k + 1]) / up + max(length - run_up, 0.0) / peak
    return total


def tram(m: TrueMachine, _text: str, given: dict[str, float]) -> dict[str, float]:
    ways = {"left": (-1, 0), "right": (1, 0), "near": (0, -1), "far": (0, 1)}
    return {
        f"{side}_{go}": m.dial(0.5 + given["arm"] * (x * m.tilt[0] + y * m.tilt[1]))
        for side, (x, y) in ways.items()
        for go in (1, 2)
    }


def stiffness(m: TrueMachine, _text: str, given: dict[str, float]) -> dict[str, float]:
    return {
        f"{axis}_{k + 1}": m.dial((given["pull"] + m.rng.normal(0, BALANCE)) / m.stiff[i] / 1000)
        for i, axis in enumerate("xy")
        for k in range(4)
    }


def dial(m: TrueMachine, _text: str, _given: dict[str, float]) -> dict[str, float]:
    return {
        f"{k + 1}_{go}": round(s * (1 + m.rng.normal(0, TACHO)), -1) for k, s in enumerate(m.speeds) for go in (1, 2)
    }


def flatness(m: TrueMachine, _text: str, _given: dict[str, float]) -> dict[str, float]:
    return {f"{k + 1}_{go}": m.dial(0.4 + h) for k, h in enumerate(m.bed) for go in (1, 2)}


def repeatability(m: TrueMachine, _text: str, _given: dict[str, float]) -> dict[str, float]:
    spread = {"left": (0.0, m.repeat), "right": (m.play[0], m.repeat), "home": (0.0, m.homing)}
    return {
        f"{case}_{k + 1}": m.dial(0.3 + off + m.rng.normal(0, sd))
        for case, (off, sd) in spread.items()
        for k in range(10)
    }


def lost(m: TrueMachine, _text: str, _given: dict[str, float]) -> dict[str, float]:
    return {
        f"{axis}_{when}_{k + 1}": m.dial(0.3 + (m.lost[i] if when == "after" else 0.0))
        for i, axis in enumerate("xy")
        for when in ("before", "after")
        for k in range(3)
    }


def warm_up(m: TrueMachine, _text: str, _given: dict[str, float]) -> dict[str, float]:
    return {
        f"{t}_{go}": m.dial(0.2 + m.warm * (1 - math.exp(-t / m.quick)))
        for t in (0, 2, 5, 10, 15, 20, 30)
        for go in (1, 2)
    }


RUNS = {
    f.__name__: f
    for f in (square, backlash, pair, stair, slot, time, tram, stiffness, dial, flatness, repeatability, lost, warm_up)
}
