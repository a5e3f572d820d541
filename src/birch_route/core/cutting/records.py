"""What the shop's own records say of cut settings: the range that is trusted, what stands against it, and what the nearest ground lends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

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


def no_harder(a: Trial, chip: float, depth: float, side: float) -> bool:
    """Say whether a cut was no harder than one with these: no thicker a chip, no deeper, no wider."""
    return a.chip_mm <= chip * 1.001 and a.settings.depth_of_cut_mm <= depth * 1.001 and a.settings.stepover_mm <= side * 1.001


def no_easier(a: Trial, chip: float, depth: float, side: float) -> bool:
    """Say whether a cut was no easier than one with these."""
    return a.chip_mm >= chip * 0.999 and a.settings.depth_of_cut_mm >= depth * 0.999 and a.settings.stepover_mm >= side * 0.999


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


def believed(trials: Sequence[Trial], q: Question) -> tuple[list[Trial], list[tuple[Trial, str]]]:
    """Return the records that count, and those that do not with why: what the machine cannot do was mistyped; of records that contradict each other the fewer give way; a lone leap waits for a second.

    A cut that went well speaks for every easier one, a cut that failed for every harder one; a good and a bad record contradict each other where the good one was no easier.
    """
    mine, doubted = [], []
    for t in on_ground(trials, q):
        s = t.settings
        if s.feed_mm_min > q.machine.greatest_feed_mm_min * 1.001 or s.speed_rpm > (max(q.machine.speeds_rpm) if q.machine.speeds_rpm else q.machine.greatest_rpm) * 1.001 or s.depth_of_cut_mm > t.bit.cutting_length_mm * 1.5:
            doubted.append((t, f"{q.machine.name} cannot do that; was it mistyped?"))
        else:
            mine.append(t)
    good, bad = [t for t in mine if t.outcome in GOOD], [t for t in mine if t.outcome in HARD]

    burnt = [t for t in mine if t.outcome is Outcome.BURNING]
    wide = {(g, b) for g, t in enumerate(good) for b, o in enumerate(bad) if no_harder(o, t.chip_mm, t.settings.depth_of_cut_mm, t.settings.stepover_mm)}
    thin = {(g, b + len(bad)) for g, t in enumerate(good) for b, o in enumerate(burnt) if t.mean_mm <= o.mean_mm * 1.001}
    against = bad + burnt
    dropped_good, dropped_bad = _give_way(wide | thin)
    doubted += [(good[g], f"{n} {'cuts' if n > 1 else 'cut'} no harder failed") for g, n in dropped_good.items()]
    doubted += [(against[b], f"{n} {'cuts' if n > 1 else 'cut'} no easier went well") for b, n in dropped_bad.items()]
    left = [t for g, t in enumerate(good) if g not in dropped_good]
    leap, near = figures()["records"]["leap"], figures()["records"]["like_part"]
    for t in list(left):
        others = [o for o in left if o is not t]
        if len(others) > 1 and t.chip_mm > leap * max(o.chip_mm for o in others) and not any(abs(o.chip_mm / t.chip_mm - 1) <= near for o in others):
            doubted.append((t, "far beyond every other; it waits for a second like it"))
            left.remove(t)
    kept = left + [t for b, t in enumerate(against) if b not in dropped_bad]
    return kept, doubted


def knowing(q: Question, trials: Sequence[Trial]) -> Question:
    """Return a question that knows what went well on its ground: the greatest feed, and the greatest part of power,
    bend and breakage, of records that are believed."""
    kept, _ = believed(trials, q)
    good = [t for t in kept if t.outcome in GOOD]
    if not good:
        return q
    used = [
        max(
            float(v)
            for k, v in parts(
                q, t.settings.feed_mm_min, t.settings.speed_rpm, t.settings.depth_of_cut_mm, t.settings.stepover_mm
            ).items()
            if k in (Limit.POWER, Limit.BEND, Limit.BREAKAGE)
        )
        for t in good
    ]
    return replace(q, went_mm_min=max(t.settings.feed_mm_min for t in good), went_part=max(used))


def _give_way(pairs: set[tuple[int, int]]) -> tuple[dict[int, int], dict[int, int]]:
    """Return which good and which bad records give way so that no contradicting pair is left, each with how many stood against it: the one with the most goes first, of two alike the good one."""
    good: dict[int, int] = {}
    bad: dict[int, int] = {}
    left = set(pairs)
    while left:
        votes: dict[tuple[int, int], int] = {}  # side, record
        for g, b in left:
            votes[0, g] = votes.get((0, g), 0) + 1
            votes[1, b] = votes.get((1, b), 0) + 1
        side, record = max(votes, key=lambda k: (votes[k], -k[0], k[1]))
        (good, bad)[side][record] = votes[side, record]
        left = {p for p in left if p[side] != record}
    return good, bad


def trust(q: Question, s: Settings, trials: Sequence[Trial]) -> Trust:
    """Return what the shop's own records say of settings.

    Proven is only what was cut here: every setting within figures.records.near_part of a record that went well and is believed. Covered is what is no harder than one that did, with no thinner a chip. All else is untried.
    """
    kept, doubted = believed(trials, q)
    near_part = figures()["records"]["near_part"]
    chip, depth, side = s.feed_mm_min / (s.speed_rpm * q.bit.flutes), s.depth_of_cut_mm, s.stepover_mm
    good = [t for t in kept if t.outcome in GOOD]
    as_hard = [t for t in good if t.settings.depth_of_cut_mm >= depth * 0.999 and t.settings.stepover_mm >= side * 0.999]
    high = max((t.chip_mm for t in as_hard), default=None)
    scale = mean_chip(1.0, side, q.bit)
    low = min((t.mean_mm / scale for t in good), default=None) if scale > 0 else None
    fails = min((t.chip_mm for t in kept if t.outcome in HARD and t.settings.depth_of_cut_mm <= depth * 1.001 and t.settings.stepover_mm <= side * 1.001), default=None)
    burns = max((t.mean_mm / scale for t in kept if t.outcome is Outcome.BURNING), default=None) if scale > 0 else None

    def within(a: float, b: float) -> bool:
        return abs(a / b - 1) <= near_part
    near = [t for t in good if within(t.chip_mm, chip) and within(t.settings.depth_of_cut_mm, depth) and within(t.settings.stepover_mm, side) and within(t.settings.speed_rpm, s.speed_rpm)]
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
    if standing is Standing.UNTRIED and good:
        beyond = min(max(chip / t.chip_mm, depth / t.settings.depth_of_cut_mm, side / t.settings.stepover_mm, t.mean_mm / max(chip * scale, 1e-9), 1.0) for t in good)
    return Trust(standing, low, high, fails, burns, beyond, len(on_ground(trials, q)), near, doubted)


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
        there = wood(t.wood)
        d, other = q.bit.cut_diameter_mm, t.bit.cut_diameter_mm
        of = Question(q.machine, t.bit, there, t.kind, t.settings.stepover_mm)
        chip = t.chip_mm * q.window.bold / of.window.bold
        depth, side = t.settings.depth_of_cut_mm * d / other, t.settings.stepover_mm * d / other
        slender = (q.bit.stickout_mm / d) ** 3 / (t.bit.stickout_mm / other) ** 3 * q.wood.density_kg_m3 / there.density_kg_m3
        rigid = min(1.0, figures()["depth_per_pass"][q.machine.machine_class.value][1] / figures()["depth_per_pass"][t.machine_class][1]) if t.machine_class in figures()["depth_per_pass"] else 1.0
        depth = min(depth / max(1.0, slender) * rigid, q.deepest_mm)
        speed = q.machine.nearest_speed(t.settings.speed_rpm * other / d)
        feed = min(q.machine.greatest_feed_mm_min, chip * speed * q.bit.flutes)
        far = abs(math.log(d / other)) + abs(math.log(q.wood.density_kg_m3 / there.density_kg_m3)) + (0.0 if t.machine == q.machine.name else fig["far_machine"] if t.machine_class == q.machine.machine_class.value else fig["far_class"]) + (0.0 if t.origin is Origin.OWN else fig["far_told"])
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
    if here.density_kg_m3 > there.density_kg_m3 * 1.05:
        words.append(f"{here.name.lower()} is {here.density_kg_m3 / there.density_kg_m3 - 1:.0%} denser: more force, the bit bends and breaks sooner")
    elif here.density_kg_m3 < there.density_kg_m3 * 0.95:
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
    high = trust(q, begin, trials).high_mm
    chip = min(top, high if high is not None else q.window.careful)
    out = []
    for k in range(steps):
        feed = min(math.ceil(chip * begin.speed_rpm * q.bit.flutes / 10 - 1e-6) * 10, math.floor(q.machine.greatest_feed_mm_min))
        settings = begin.model_copy(update={"feed_mm_min": max(10.0, float(feed)), "plunge_mm_min": max(10.0, min(begin.plunge_mm_min, feed * 0.3))})
        out.append(Step(k + 1, settings, settings.feed_mm_min / (begin.speed_rpm * q.bit.flutes), trust(q, settings, trials).standing))
        if chip >= top * 0.999:
            break
        chip = min(top, chip * fig["step"])
    return out, ("Clamp the scrap like the piece. Listen at every slot; stop at the first that sings, smokes, tears or bends the bit, and note it. The slot before it, cut once more, is your limit; work "
                 "one step under it. Stop at once if the bit turns colour or the wood moves. Glasses, ears, hands away; never hold the scrap by hand.")
