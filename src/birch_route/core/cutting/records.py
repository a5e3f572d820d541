"""What the shop's own records say of cut settings: the range that is trusted, what stands against it, and what the nearest ground lends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..bits.model import Bit
from ..data import Wood, figures, wood
from ..document import Model
from ..machines import Machine
from ..quantities import mm, named_mm, named_rate
from ..route import Operation, Settings
from ..vocabulary import BitForm, CutKind, Limit, OperationKind, Origin, Outcome, Standing
from .limits import DEEPER_MM, Question, parts
from .mechanics import engaged_angle

GOOD = (Outcome.FINE, Outcome.SLOW)
HARD = (Outcome.CHATTER, Outcome.TORN, Outcome.BROKE)


class Trial(Model):
    """One cut that somebody made, or tells of: on which machine, with which bit, in what, how, and what became of it."""

    machine: Annotated[str, Field(min_length=1, max_length=80)]
    machine_class: Annotated[str, Field(max_length=20)]
    bit: Bit
    wood: Annotated[str, Field(max_length=40)]
    kind: CutKind
    settings: Settings  # stepover_mm: what met the wood from the side
    outcome: Outcome
    origin: Literal[Origin.OWN, Origin.TOLD, Origin.COMPUTED] = Origin.OWN  # only the first can prove anything
    note: Annotated[str, Field(max_length=1000)] = ""
    species: Annotated[Wood | None, Field(exclude=True)] = None  # of a wood of the shop's own, put in when it is read

    @property
    def chip_mm(self) -> float:
        return self.settings.feed_mm_min / (self.settings.speed_rpm * self.bit.flutes)

    @property
    def mean_mm(self) -> float:
        return mean_chip(self.chip_mm, self.settings.stepover_mm, self.bit)

    @property
    def words(self) -> str:
        """The cut in words."""
        s = self.settings
        return (
            f"{named_rate(s.feed_mm_min):g} at {s.speed_rpm:g}, {mm(s.depth_of_cut_mm):g} deep, "
            f"{mm(s.stepover_mm):g} wide: {self.outcome.value}"
        )


def mean_chip(chip_mm: float, side_mm: float, bit: Bit) -> float:
    """Return the mean chip over the arc of engagement, mm."""
    phi = engaged_angle(side_mm, bit.cut_diameter_mm)
    return chip_mm * min(side_mm / bit.radius_mm, 2.0) / phi if phi > 1e-9 else 0.0


@dataclass(frozen=True)
class Trust:
    """What records say of one cut. low_mm, high_mm: feed per tooth from the thinnest to the thickest chip that was cut well here no less hard (None: nothing was); fails_mm: the least
    that failed here no harder; burns_mm: the most that burned. count: own records of this ground; doubted: those not counted, each with why."""

    standing: Standing
    low_mm: float | None
    high_mm: float | None
    fails_mm: float | None
    burns_mm: float | None
    beyond: float  # how many times the nearest that was cut here it asks for; 1 inside
    count: int
    near: list[Trial]
    doubted: list[tuple[Trial, str]]


def on_ground(trials: Sequence[Trial], q: Question) -> list[Trial]:
    """Return the records of this shop on the same machine, with the same bit, in the same wood and kind of cut."""
    return [t for t in trials if t.origin is Origin.OWN and t.machine == q.machine.name and t.bit.id == q.bit.id and t.wood == q.wood.id and t.kind is q.kind]


def as_cut(machine: Machine, bit: Bit, operation: Operation, met: tuple[float, float], species: Wood) -> tuple[Question, Settings] | None:
    """Return an operation as a cut: its question, and its settings with what its proof met; None for a drill, or what meets next to no wood.

    Args:
        met: depth and side engagement, mm, where the cut was heaviest.
    """
    deep, side = met[0], min(met[1], bit.cut_diameter_mm)
    if operation.kind is OperationKind.DRILL or bit.form is BitForm.DRILL or deep < DEEPER_MM or side < DEEPER_MM:
        return None
    kind = CutKind.FACE if operation.kind is OperationKind.FACE else CutKind.SLOT if side >= figures()["records"]["slot_part"] * bit.cut_diameter_mm else CutKind.SIDE
    return Question(machine, bit, species, kind, side), operation.settings.model_copy(update={"depth_of_cut_mm": deep, "stepover_mm": side})


@dataclass(frozen=True)
class Heard:
    """The own records of one ground, looked through once: what counts, and what does not with why. count: of all."""

    kept: list[Trial]
    doubted: list[tuple[Trial, str]]
    count: int

    @cached_property
    def good(self) -> list[Trial]:
        """Those of them that went well."""
        return [t for t in self.kept if t.outcome in GOOD]

    @cached_property
    def numbers(self) -> np.ndarray:
        """Chip, depth, width, mm, speed, rpm, and mean chip, mm, of those that went well, [n, 5]."""
        return _numbers(self.good)


def hear(q: Question, trials: Sequence[Trial]) -> Heard:
    """Return the records that count, and those that do not with why: what the machine cannot do was mistyped; of
    records that contradict each other the fewer give way; a lone leap waits for a second.

    A cut that went well speaks for every easier one, a cut that failed for every harder one; a good and a bad record
    contradict each other where the good one was no easier.
    """
    own = on_ground(trials, q)
    fastest = max(q.machine.speeds_rpm) if q.machine.speeds_rpm else q.machine.greatest_rpm
    mine, doubted = [], []
    for t in own:
        s = t.settings
        too_fast = s.feed_mm_min > q.machine.greatest_feed_mm_min * 1.001 or s.speed_rpm > fastest * 1.001
        if too_fast or s.depth_of_cut_mm > t.bit.cutting_length_mm * 1.5:
            doubted.append((t, f"{q.machine.name} cannot do that; was it mistyped?"))
        else:
            mine.append(t)
    good = [t for t in mine if t.outcome in GOOD]
    bad = [t for t in mine if t.outcome in HARD]
    burnt = [t for t in mine if t.outcome is Outcome.BURNING]
    against = bad + burnt
    dropped_good, dropped_bad = _give_way(_contradicting(*(_numbers(some) for some in (good, bad, burnt))))
    doubted += [(good[g], f"{n} {'cuts' if n > 1 else 'cut'} no harder failed") for g, n in dropped_good.items()]
    doubted += [
        (against[b], f"{n} {'cuts' if n > 1 else 'cut'} no easier went well") for b, n in dropped_bad.items()
    ]
    left, leaps = _without_leaps([t for g, t in enumerate(good) if g not in dropped_good])
    doubted += [(t, "far beyond every other; it waits for a second like it") for t in leaps]
    kept = left + [t for b, t in enumerate(against) if b not in dropped_bad]
    return Heard(kept, doubted, len(own))


def _numbers(trials: Sequence[Trial]) -> np.ndarray:
    """Return chip, depth, width, mm, speed, rpm, and mean chip, mm, of cuts, [n, 5]."""
    rows = [
        (t.chip_mm, t.settings.depth_of_cut_mm, t.settings.stepover_mm, t.settings.speed_rpm, t.mean_mm)
        for t in trials
    ]
    return np.array(rows, dtype=float).reshape(-1, 5)


def _contradicting(good: np.ndarray, bad: np.ndarray, burnt: np.ndarray) -> np.ndarray:
    """Return which good cuts contradict which others, [good, bad and burnt]: a failed one was no harder, or a burnt one
    had no thinner a chip.

    Args:
        good, bad, burnt: numbers of cuts, [n, 5].
    """
    wide = (bad[None, :, :3] <= good[:, None, :3] * 1.001).all(axis=2)
    thin = good[:, None, 4] <= burnt[None, :, 4] * 1.001
    return np.hstack([wide, thin])


def _without_leaps(good: Sequence[Trial]) -> tuple[list[Trial], list[Trial]]:
    """Return good cuts without those far beyond every other, and those."""
    leap, near = figures()["records"]["leap"], figures()["records"]["like_part"]
    chips = np.array([t.chip_mm for t in good])
    stands = np.ones(len(good), dtype=bool)
    for n in range(len(good)):
        if chips[n] < chips[stands].max():
            continue
        others = chips[stands & (np.arange(len(good)) != n)]
        alone = len(others) > 1 and chips[n] > leap * others.max() and not (abs(others / chips[n] - 1) <= near).any()
        stands[n] = not alone
    return [t for t, stays in zip(good, stands, strict=True) if stays], [
        t for t, stays in zip(good, stands, strict=True) if not stays]


def knowing(q: Question, heard: Heard) -> Question:
    """Return a question that knows what went well on its ground: the greatest feed, and the greatest part of power,
    bend and breakage, of records that are believed."""
    if not heard.good:
        return q
    _, deep, side, speed, _ = heard.numbers.T
    feed = np.array([t.settings.feed_mm_min for t in heard.good])
    used = parts(q, feed, speed, deep, side)
    most = max(float(used[k].max()) for k in (Limit.POWER, Limit.BEND, Limit.BREAKAGE))
    return replace(q, went_mm_min=float(feed.max()), went_part=most)


def _give_way(against: np.ndarray) -> tuple[dict[int, int], dict[int, int]]:
    """Return which good and which bad records give way so that no contradicting pair is left, each with how many
    stood against it: the one with the most goes first, of two alike the good one.

    Args:
        against: which good record contradicts which bad one, [good, bad].
    """
    good: dict[int, int] = {}
    bad: dict[int, int] = {}
    left = against.copy()
    while left.any():
        votes = [left.sum(axis=1 - side) for side in (0, 1)]
        side = 0 if votes[0].max() >= votes[1].max() else 1
        record = len(votes[side]) - 1 - int(votes[side][::-1].argmax())  # of several the newest
        (good, bad)[side][record] = int(votes[side][record])
        if side == 0:
            left[record] = False
        else:
            left[:, record] = False
    return good, bad


def trust(q: Question, s: Settings, heard: Heard) -> Trust:
    """Return what the shop's own records say of settings.

    Proven is only what was cut here: every setting within figures.records.near_part of a record that went well and is
    believed. Covered is what is no harder than one that did, with no thinner a chip. All else is untried.
    """
    near_part = figures()["records"]["near_part"]
    chip, depth, side = s.feed_mm_min / (s.speed_rpm * q.bit.flutes), s.depth_of_cut_mm, s.stepover_mm
    chips, depths, sides, _, means = heard.numbers.T
    as_hard = chips[(depths >= depth * 0.999) & (sides >= side * 0.999)]
    high = float(as_hard.max()) if len(as_hard) else None
    scale = mean_chip(1.0, side, q.bit)
    low = float(means.min() / scale) if scale > 0 and len(means) else None
    bad = [t for t in heard.kept if t.outcome in HARD]
    burnt = [t for t in heard.kept if t.outcome is Outcome.BURNING]
    fails = min((t.chip_mm for t in bad if t.settings.depth_of_cut_mm <= depth * 1.001
                 and t.settings.stepover_mm <= side * 1.001), default=None)
    burns = max((t.mean_mm / scale for t in burnt), default=None) if scale > 0 else None
    asked = np.array([chip, depth, side, s.speed_rpm])
    is_near = (abs(heard.numbers[:, :4] / asked - 1) <= near_part).all(axis=1)
    near = [heard.good[n] for n in np.flatnonzero(is_near)]
    failed = (fails is not None and chip >= fails * 0.999) or (burns is not None and chip <= burns * 1.001)
    if near and not failed:
        standing = Standing.PROVEN
    elif failed:
        standing = Standing.FAILED
    elif high is not None and low is not None and low * 0.999 <= chip <= high * 1.001:
        standing = Standing.COVERED
    else:
        standing = Standing.UNTRIED
    beyond = 1.0
    if standing is Standing.UNTRIED and heard.good:
        more = [chip / chips, depth / depths, side / sides, means / max(chip * scale, 1e-9)]
        beyond = max(1.0, float(np.max(more, axis=0).min()))
    return Trust(standing, low, high, fails, burns, beyond, heard.count, near, heard.doubted)


@dataclass(frozen=True)
class Lent:
    """Settings that the nearest ground lends: a record scaled to this bit, wood and machine. far: 0 is the same ground. risk: which way it may go wrong. derated: part of the depth that is left for a machine of a weaker class; 1 where it is none."""

    trial: Trial
    settings: Settings
    far: float
    words: str
    risk: str
    derated: float


def lend(q: Question, trials: Sequence[Trial]) -> list[Lent]:
    """Return what records of other ground would make of a cut, the nearest first: chip load in proportion to its window, depth and side engagement to the diameter, less where the bit would bend more for its diameter.

    Nothing of it is proven here.
    """
    fig = figures()["records"]
    out, here = [], {id(t) for t in on_ground(trials, q)}
    for t in trials:
        if t.outcome is not Outcome.FINE or t.kind is not q.kind or id(t) in here:
            continue
        there = t.species or wood(t.wood)
        d, other = q.bit.cut_diameter_mm, t.bit.cut_diameter_mm
        of = Question(q.machine, t.bit, there, t.kind, t.settings.stepover_mm)
        chip = t.chip_mm * q.window.bold / of.window.bold
        depth, side = t.settings.depth_of_cut_mm * d / other, t.settings.stepover_mm * d / other
        harder = q.wood.cuts_as_kg_m3 / there.cuts_as_kg_m3
        slender = (q.bit.stickout_mm / d) ** 3 / (t.bit.stickout_mm / other) ** 3 * harder
        rigid = min(1.0, figures()["depth_per_pass"][q.machine.machine_class.value][1] / figures()["depth_per_pass"][t.machine_class][1]) if t.machine_class in figures()["depth_per_pass"] else 1.0
        depth = min(depth / max(1.0, slender) * rigid, q.deepest_mm)
        speed = q.machine.nearest_speed(t.settings.speed_rpm * other / d)
        feed = min(q.machine.greatest_feed_mm_min, chip * speed * q.bit.flutes)
        elsewhere = fig["far_machine"] if t.machine_class == q.machine.machine_class.value else fig["far_class"]
        far = (
            abs(math.log(d / other))
            + abs(math.log(harder))
            + (0.0 if t.machine == q.machine.name else elsewhere)
            + (0.0 if t.origin is Origin.OWN else fig["far_told"])
        )
        away = [
            f"a {named_mm(other):g} bit"
            if abs(d / other - 1) > 0.005
            else ""
            if t.bit.id == q.bit.id
            else "another bit",
            there.name.lower() if there.id != q.wood.id else "",
            t.machine if t.machine != q.machine.name else "",
            {Origin.TOLD: "told by others", Origin.COMPUTED: "computed"}.get(t.origin, ""),
        ]
        settings = Settings(feed_mm_min=max(10.0, round(feed / 10) * 10), plunge_mm_min=max(10.0, min(t.settings.plunge_mm_min, round(feed * 0.3 / 10) * 10)), speed_rpm=speed, depth_of_cut_mm=max(0.05, round(depth, 2)), stepover_mm=max(0.03, round(min(side, d), 3)))
        out.append(Lent(t, settings, far, "; ".join(w for w in away if w) or "the same ground", _risk(q.wood, there, d, other), rigid))
    return sorted(out, key=lambda x: x.far)


def _risk(here: Wood, there: Wood, d: float, other: float) -> str:
    """Return which way settings taken from other ground may go wrong."""
    words = []
    if here.cuts_as_kg_m3 > there.cuts_as_kg_m3 * 1.05:
        more = here.cuts_as_kg_m3 / there.cuts_as_kg_m3 - 1
        how = "denser: more force" if here.force_kg_m3 is None else "harder to cut: more force"
        words.append(f"{here.name.lower()} is {more:.0%} {how}, the bit bends and breaks sooner")
    elif here.cuts_as_kg_m3 < there.cuts_as_kg_m3 * 0.95:
        words.append(f"{here.name.lower()} is lighter: the cut is slower than it need be, and a thin chip may fuzz")
    if here.tear_out != there.tear_out and here.tear_out != "plain":
        words.append(f"its {here.tear_out} grain tears sooner")
    if d < other * 0.95:
        words.append("a thinner bit breaks sooner")
    return "; ".join(words) or "no risk that these figures show"


@dataclass(frozen=True)
class Step:
    """One cut of a test plan: a slot on scrap with these settings."""

    number: int
    settings: Settings
    chip_mm: float
    standing: Standing


def test_plan(q: Question, begin: Settings, trials: Sequence[Trial], steps: int = 8) -> tuple[list[Step], str]:
    """Return slots to cut on scrap, each with a thicker chip than the one before, from what is trusted upward, and the rule to stop by.

    The plan never begins beyond what was cut here, and ends where the machine feeds no faster or figures.records.beyond times the bold end of the chip load is reached.
    """
    fig = figures()["records"]
    top = min(q.window.bold * fig["beyond"], q.machine.greatest_feed_mm_min / (begin.speed_rpm * q.bit.flutes))
    heard = hear(q, trials)
    high = trust(q, begin, heard).high_mm
    chip = min(top, high if high is not None else q.window.careful)
    out = []
    for k in range(steps):
        feed = min(math.ceil(chip * begin.speed_rpm * q.bit.flutes / 10 - 1e-6) * 10, math.floor(q.machine.greatest_feed_mm_min))
        settings = begin.model_copy(update={"feed_mm_min": max(10.0, float(feed)), "plunge_mm_min": max(10.0, min(begin.plunge_mm_min, feed * 0.3))})
        chip_now = settings.feed_mm_min / (begin.speed_rpm * q.bit.flutes)
        out.append(Step(k + 1, settings, chip_now, trust(q, settings, heard).standing))
        if chip >= top * 0.999:
            break
        chip = min(top, chip * fig["step"])
    return out, ("Clamp the scrap like the piece. Listen at every slot; stop at the first that sings, smokes, tears or bends the bit, and note it. The slot before it, cut once more, is your limit; work "
                 "one step under it. Stop at once if the bit turns colour or the wood moves. Glasses, ears, hands away; never hold the scrap by hand.")
