"""Cut settings for a question: what is suggested, the window of each setting, and the limit that binds."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..bits.model import Bit
from ..data import figures
from ..quantities import mm, named_mm
from ..route import Settings
from ..vocabulary import Aim, CutKind, Direction, Entry, Limit
from .limits import DEEPER_MM, LOWER, Question, asked, parts, thinning, worst

SETTINGS = ("feed_mm_min", "speed_rpm", "depth_of_cut_mm", "stepover_mm")
ASKED_AS = dict(zip(SETTINGS, ("feed", "speed", "depth", "side"), strict=True))
SCAN = 160  # places at which a window is looked for
FASTEST = (14, 14)  # speeds, depths tried
FINER = (7, 12)  # and round the best of these
JUST_UNDER = 1e-4  # as a part, so that it stays on the side that keeps
CLOSED_IN = 11  # times, for the feed
WORDS = {
    Limit.RUBBING: "a thinner chip rubs and burns", Limit.CHIP: "a thicker chip breaks bit or wood", Limit.POWER: "the spindle has no more power", Limit.BEND: "the bit would bend more",
    Limit.BREAKAGE: "the bit might break", Limit.HOLDING: "the holding bears no more", Limit.FINISH: "the feed would leave marks", Limit.LOUDNESS: "louder than neighbours bear",
    Limit.FEED: "the machine feeds no faster", Limit.DEPTH: "no deeper with this machine and bit",
}


@dataclass(frozen=True)
class Range:
    """The window of one setting with all others as they are: from low, where low_by binds, to high, where high_by does; None: the machine's own end. Empty where something else is passed."""

    low: float
    high: float
    low_by: Limit | None
    high_by: Limit | None
    is_empty: bool = False


@dataclass(frozen=True)
class Answer:
    """Suggested settings, why, the window of each, and the limit they come nearest to with the part of it they use."""

    settings: Settings
    entry: Entry
    ramp_deg: float
    direction: Direction
    ranges: dict[str, Range]
    parts: dict[Limit, float]
    binds: Limit
    force_n: float
    power_w: float
    bend_mm: float
    chip_mm: float
    mean_mm: float
    removes_cm3_min: float
    reasons: dict[str, str]

    @property
    def way_mm(self) -> float:
        """How far the bit travels in plan until it is one depth of cut down its ramp, mm: depth over the ramp's tangent."""
        return self.settings.depth_of_cut_mm / math.tan(math.radians(self.ramp_deg))

    def turns(self, bit: Bit) -> float:
        """Return how often a helix goes round until it is one depth of cut down, where there is room for its whole circle (figures.entry.helix_radius_part), as operations.entry spirals."""
        return max(1.0, self.way_mm / (2 * math.pi * figures()["entry"]["helix_radius_part"] * bit.cut_diameter_mm))

    @property
    def keeps(self) -> bool:
        """Whether every limit is kept."""
        return max(self.parts.values()) <= 1.0 + 1e-6


def answer(q: Question, aim: Aim = Aim.CAREFUL) -> Answer:
    """Return settings for a question. Where no settings keep every limit, those that pass them least, and `binds` says which.

    careful: a share of every limit, speed from the rim speed aimed at, chip in the careful part of its window, depth
        in the middle of what the class of machine does, less where a share binds. fast: the most wood a minute that
        keeps
    every limit. quiet: the same inside figures.quiet.
    """
    q = replace(q, quiet=aim is Aim.QUIET or q.quiet)
    if aim is Aim.CAREFUL and not q.quiet:
        feed, speed, depth = careful(q)
        depth = max(depth, DEEPER_MM)
        found = judge(q, feed, speed, depth)
        return replace(found, reasons={**found.reasons, "feed_mm_min": f"{found.reasons['feed_mm_min']}; "
            f"{shares_words(q, feed, speed, depth)}"})
    feed, speed, depth = _fastest(q)
    return judge(q, feed, speed, max(depth, DEEPER_MM))  # one that cannot go even so deep passes a limit, and says so


def judge(q: Question, feed: float, speed: float, depth: float, plunge: float | None = None) -> Answer:
    """Return what given settings ask for and the windows round them."""
    entry, ramp, plunge_part, why_entry = _entry(q)
    a = asked(q, feed, speed, depth, q.side_mm)
    found = parts(q, feed, speed, depth, q.side_mm)
    used = {k: float(v) for k, v in found.items()}
    binds = max(used, key=lambda k: used[k])
    settings = Settings(feed_mm_min=feed, plunge_mm_min=plunge or _plunge(feed, plunge_part), speed_rpm=speed, depth_of_cut_mm=depth, stepover_mm=_side(q))
    return Answer(settings, entry, ramp, _direction(q), {**{name: window(q, settings, name) for name in SETTINGS}, "plunge_mm_min": _plunge_range(q, feed)}, used, binds, float(a.force_n), float(a.power_w), float(a.bend_mm), float(a.chip_mm), float(a.mean_mm),
                  feed * depth * min(q.side_mm, q.bit.cut_diameter_mm) / 1000, {**_reasons(q, feed, speed, depth, used, binds), "plunge_mm_min": why_entry, "direction": _why_direction(q)})


def window(q: Question, s: Settings, name: str) -> Range:
    """Return the window of one setting round its value, the others as they are."""
    low, high = {"feed_mm_min": (10.0, q.machine.greatest_feed_mm_min * 1.5), "speed_rpm": _speeds(q), "depth_of_cut_mm": (DEEPER_MM, q.deepest_mm * 1.5), "stepover_mm": (0.02 * q.bit.cut_diameter_mm, q.bit.cut_diameter_mm)}[name]
    now = float(getattr(s, name))
    values = np.unique(np.append(np.geomspace(low, high, SCAN), min(max(now, low), high)))
    fixed = {"feed_mm_min": s.feed_mm_min, "speed_rpm": s.speed_rpm, "depth_of_cut_mm": s.depth_of_cut_mm, "stepover_mm": s.stepover_mm, name: values}
    ask = {ASKED_AS[k]: np.broadcast_to(fixed[k], values.shape) for k in SETTINGS}
    use, by = worst(parts(q, **ask))
    at, good = int(np.searchsorted(values, min(max(now, low), high))), use <= 1.0 + 1e-6
    if not good[at]:
        inside = np.flatnonzero(good)
        if not len(inside):
            return Range(now, now, by[at], by[at], True)
        at = int(inside[np.argmin(np.abs(np.log(values[inside] / max(now, 1e-9))))])
    a = at
    while a > 0 and good[a - 1]:
        a -= 1
    b = at
    while b < len(values) - 1 and good[b + 1]:
        b += 1

    def edge(ok: int, beyond: int) -> tuple[float, Limit | None]:
        if beyond < 0 or beyond >= len(values):
            return float(values[ok]), None
        between = np.linspace(values[ok], values[beyond], SCAN)
        fine = {**{k: np.broadcast_to(v[0], between.shape) for k, v in ask.items()}, ASKED_AS[name]: between}
        passed = np.flatnonzero(worst(parts(q, **fine))[0] > 1.0 + 1e-6)
        return float(between[max(0, passed[0] - 1)] if len(passed) else between[-1]), by[beyond]
    (lowest, low_by), (highest, high_by) = edge(a, a - 1), edge(b, b + 1)
    return Range(lowest, highest, low_by, high_by)


def _speeds(q: Question) -> tuple[float, float]:
    m = q.machine
    return (min(m.speeds_rpm), max(m.speeds_rpm)) if m.speeds_rpm else (m.least_rpm, m.greatest_rpm)


SHARED = (Limit.POWER, Limit.BEND, Limit.BREAKAGE)


def careful(q: Question) -> tuple[float, float, float]:
    """Return feed, speed and depth that keep a share of every limit (figures.careful): the machine is not known to
    bear more until it has.

    A slower step of the dial goes before a thinner chip, that before more of the machine's feed.
    """
    fig, d, m = figures(), q.bit.cut_diameter_mm, q.machine
    speed = m.nearest_speed(fig["surface_speed"]["rim_m_s"] * 60_000 / (math.pi * d))
    w, thin, teeth = q.window, float(thinning(q, q.side_mm)), q.bit.flutes
    chip, least = ((w.careful + part * (w.bold - w.careful)) * thin for part in (fig["chip_load_mm"]["aim"], 0.0))
    top = q.feed_share * m.greatest_feed_mm_min
    if chip * speed * teeth > top:
        slower = [s for s in sorted(m.speeds_rpm, reverse=True) if chip * s * teeth <= top]
        speed = slower[0] if slower else min(m.speeds_rpm) if m.speeds_rpm else m.nearest_speed(top / (chip * teeth))
    feed = neat(min(top, chip * speed * teeth), down=chip * speed * teeth >= top)
    if feed < least * speed * teeth:
        feed = min(
            math.ceil(least * speed * teeth / 5) * 5.0, max(top, fig["careful"]["feed_most"] * m.greatest_feed_mm_min)
        )
    low, high = fig["depth_per_pass"][m.machine_class.value]
    depth = min(q.deepest_mm, d * (low + high) / 2 if q.kind is CutKind.SLOT else q.deepest_mm)
    upper = [k for k in Limit if k not in (*LOWER, Limit.FEED, Limit.CHIP, Limit.FINISH)]
    tried = depth * 0.93 ** np.arange(0, 60)
    found = parts(q, feed, speed, tried, q.side_mm)
    use, _ = worst({k: v / (q.force_share if k in SHARED else 1.0) for k, v in found.items() if k in upper})
    fits = np.flatnonzero(use <= 1.0)
    depth = float(tried[fits[0]] if len(fits) else tried[-1])
    if Limit.FINISH in found and float(found[Limit.FINISH][0]) > 1.0:  # marks go with the square of the feed
        feed = neat(feed / math.sqrt(float(found[Limit.FINISH][0])), down=True)
    return feed, speed, _even(q, depth)


def shares_words(q: Question, feed: float, speed: float, depth: float) -> str:
    """Return which share of its limits careful settings come up to, in words."""
    found = parts(q, feed, speed, depth, q.side_mm)
    used = {
        Limit.FEED: feed / (q.feed_share * q.machine.greatest_feed_mm_min),
        **{k: float(found[k]) / q.force_share for k in SHARED},
    }
    binds = max(used, key=lambda k: used[k])
    if used[Limit.FEED] > 1.0 + 1e-6:
        needs = feed / q.machine.greatest_feed_mm_min
        return f"careful would use {q.feed_share:.0%} of what {q.machine.name} feeds; a full chip needs {needs:.0%}"
    share = q.feed_share if binds is Limit.FEED else q.force_share
    what = {
        Limit.FEED: "the machine's feed",
        Limit.POWER: "the spindle's power",
        Limit.BEND: "the bend allowed",
        Limit.BREAKAGE: "what breaks the bit",
    }[binds]
    until = (
        "as went well here"
        if share > figures()["careful"]["feed" if binds is Limit.FEED else "force"]
        else "until cuts of this shop allow more"
    )
    return f"careful uses {share:.0%} of {what} at most {until}; {used[binds] * share:.0%} is used"


def _fastest(q: Question) -> tuple[float, float, float]:
    """Return the settings that take the most wood a minute inside every limit, looked for on a grid and then once more, finer, round the best; where none are, those that pass them least."""
    m, d = q.machine, q.bit.cut_diameter_mm
    low, high = _speeds(q)
    speeds = np.array(sorted(m.speeds_rpm)) if m.speeds_rpm else np.array(sorted({m.nearest_speed(v) for v in np.geomspace(low, high, FASTEST[0])}))
    depths = q.deep_mm / (math.ceil(q.deep_mm / q.deepest_mm - 1e-9) + np.arange(FASTEST[1])) if q.deep_mm else np.geomspace(min(0.05 * d, q.deepest_mm), q.deepest_mm, FASTEST[1])
    feed, speed, depth, good = _best_of(q, speeds, depths)
    if good:
        near = speeds if m.speeds_rpm else np.array(sorted({m.nearest_speed(v) for v in np.geomspace(max(low, speed * (low / high) ** (1 / FASTEST[0])), min(high, speed * (high / low) ** (1 / FASTEST[0])), FINER[0])}))
        step = 1.0 if q.deep_mm else (depths[-1] / depths[0]) ** (1 / (FASTEST[1] - 1))  # whole passes are all there are
        feed, speed, depth, _ = _best_of(q, np.union1d(near, [speed]), np.geomspace(depth, min(q.deepest_mm, depth * step), 1 if q.deep_mm else FINER[1]))
    depth, sure = depth if q.deep_mm else _even(q, depth), careful(q)

    def keeps(f: float, n: float, a: float) -> bool:
        return float(worst(parts(q, f, n, a, q.side_mm))[0][0]) <= 1.0 + 1e-6
    feeds = (neat(feed, down=True), math.floor(feed), feed)  # where a neat feed makes too thin a chip, one that is less so
    found = next((f for f in feeds if keeps(f, speed, depth)), feeds[0]), speed, depth
    return sure if keeps(*sure) and _rate(q, *sure) > _rate(q, *found) else found  # rounding may lose more than looking gained


def _most_feed(q: Question, speed: np.ndarray, depth: np.ndarray) -> np.ndarray:
    """Return the greatest feed that keeps every limit but rubbing, mm/min: all others are passed sooner by more feed.

    Source: halving and false position in turns, in logarithms (every limit is near to a power of the feed); what is returned keeps the limits.
    """
    def over(feed: np.ndarray) -> np.ndarray:
        return np.log(worst({k: v for k, v in parts(q, feed, speed, depth, q.side_mm).items() if k not in (*LOWER, Limit.DEPTH)})[0])
    a, b = np.zeros(speed.shape), np.full(speed.shape, math.log(q.machine.greatest_feed_mm_min))
    at_a, at_b = over(np.exp(a)), over(np.exp(b))
    whole = at_b <= 1e-9
    for k in range(CLOSED_IN):
        x = (a + b) / 2 if k % 2 == 0 else np.clip(a - at_a * (b - a) / np.maximum(at_b - at_a, 1e-12) - JUST_UNDER, a, b)
        at_x = over(np.exp(x))
        keeps = at_x <= 0
        at_a, at_b, a, b = np.where(keeps, at_x, at_a), np.where(keeps, at_b, at_x), np.where(keeps, x, a), np.where(keeps, b, x)
    return np.where(whole, q.machine.greatest_feed_mm_min, np.exp(a))


def _rate(q: Question, feed: float, _speed: float, depth: float) -> float:
    """Return how fast settings are: feed over whole passes where the depth of all is known, else times depth."""
    return feed / math.ceil(q.deep_mm / depth - 1e-9) if q.deep_mm else feed * depth


def _best_of(q: Question, speeds: np.ndarray, depths: np.ndarray) -> tuple[float, float, float, bool]:
    """Return feed, speed and depth that take the most wood a minute of these speeds and depths, and whether they keep every limit."""
    speed, depth = (v.ravel() for v in np.meshgrid(speeds, depths, indexing="ij"))
    lowest = _most_feed(q, speed, depth)
    found = parts(q, lowest, speed, depth, q.side_mm)
    rubs = np.max([found[k] for k in LOWER], axis=0) > 1.0 + 1e-3
    feed = np.where(rubs, np.minimum(lowest * np.max([found[k] for k in LOWER], axis=0), q.machine.greatest_feed_mm_min), lowest)  # where not all can be kept, at least a chip
    use, _ = worst(parts(q, feed, speed, depth, q.side_mm))
    good = use <= 1.0 + 1e-3
    rate = feed * depth if not q.deep_mm else feed / np.ceil(q.deep_mm / depth - 1e-9)
    best = int(np.argmax(np.where(good, rate, -1.0))) if good.any() else int(np.argmin(use))
    return float(feed[best]), float(speed[best]), float(depth[best]), bool(good.any())


def settings_of(q: Question, feed: float, speed: float, depth: float) -> Settings:
    """Return settings that are easily set: a neat feed, no faster than asked for, and a depth that shares out the feature's."""
    feed, (_, _, plunge_part, _) = neat(feed, down=True), _entry(q)
    return Settings(feed_mm_min=feed, plunge_mm_min=_plunge(feed, plunge_part), speed_rpm=speed, depth_of_cut_mm=_even(q, depth), stepover_mm=_side(q))


def _plunge_range(q: Question, feed: float) -> Range:
    """Return the window of the plunge rate: parts of the feed; slower rubs where the bit stands longest, faster is more than its end cuts. Source: figures.entry."""
    low, high = figures()["entry"]["plunge_part"]
    return Range(max(10.0, low * feed), max(10.0, high * feed), Limit.RUBBING, Limit.CHIP)


def _plunge(feed: float, part: float) -> float:
    return max(10.0, round(feed * part / 10) * 10)


def _side(q: Question) -> float:
    return max(0.021, min(q.side_mm, q.bit.cut_diameter_mm))


def _even(q: Question, depth: float) -> float:
    """Return a depth that shares out the feature's depth evenly, else one that is easily read."""
    if q.deep_mm:
        return math.ceil(q.deep_mm / max(1, math.ceil(q.deep_mm / depth - 1e-9)) * 1000) / 1000
    step = 0.05 if depth > 0.5 else 0.01
    return max(step, math.floor(depth / step + 1e-9) * step)


def neat(feed: float, down: bool = False) -> float:
    """Return a feed that is easily set: in steps of 50, of 5 where it is slow."""
    step = 50.0 if feed >= 400 else 5.0
    return max(step, (math.floor(feed / step + 1e-9) if down else round(feed / step)) * step)


def _entry(q: Question) -> tuple[Entry, float, float, str]:
    fig = figures()["entry"]
    ramp, part = sum(fig["ramp_deg"]) / 2, figures()["plunge"]["part"]
    low, high = fig["plunge_part"]
    if not q.bit.cuts_at_centre:
        return Entry.RAMP, fig["ramp_deg"][0], part, "its middle does not cut: it goes in beside the wood, or down a slight ramp"
    return Entry.HELIX if q.kind in (CutKind.SLOT, CutKind.SIDE) else Entry.RAMP, ramp, part, f"{part:.1f} of the feed rate, inside {low:g} to {high:g}"


def _direction(q: Question) -> Direction:
    """Climbing leaves the cleaner wall; a machine that gives way is pulled into the wood by it where much is taken."""
    return Direction.CONVENTIONAL if q.machine.machine_class.value == "belt" and q.kind is CutKind.SIDE and q.side_mm > figures()["entry"]["pulled_part"] * q.bit.cut_diameter_mm else Direction.CLIMB


def _why_direction(q: Question) -> str:
    if _direction(q) is Direction.CONVENTIONAL:
        return f"a belt machine that climbs with {q.side_mm / q.bit.cut_diameter_mm:.0%} of the bit in wood is pulled into it; where fibres dive into the wall this way tears sooner, so end with a thin climbing pass"
    return "climbing ends each chip at the wall and leaves it cleaner; the machine must be stiff enough not to be pulled in"


def _reasons(q: Question, feed: float, speed: float, depth: float, used: dict[Limit, float], binds: Limit) -> dict[str, str]:
    w, thin, d = q.window, float(thinning(q, q.side_mm)), q.bit.cut_diameter_mm
    chip = feed / (speed * q.bit.flutes)
    rest = f"; {WORDS[binds]}: {used[binds]:.0%} of that limit is used"
    thinned = f", {thin:.2f} times that for {mm(q.side_mm):g} from the side" if thin > 1.005 else ""
    return {
        "feed_mm_min": f"chip load {named_mm(chip):.3f} of {mm(w.careful):.3f} to {mm(w.bold):.3f} in "
                       f"{q.wood.name.lower()}{thinned}{rest}",
        "speed_rpm": f"{math.pi * d / 1000 * speed / 60:.1f} m/s at the rim",
        "depth_of_cut_mm": f"{depth / d:.2f} of the diameter; {q.deepest_mm / d:.2f} is the most here",
        "stepover_mm": f"{q.side_mm / d:.2f} of the diameter meets wood",
    }
