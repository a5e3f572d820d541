"""Rules over cut settings: chip load, power, bend, depth, speed, feed, stepover."""

from __future__ import annotations

from collections.abc import Iterator

from ..cutting.mechanics import chip_load_window, load
from ..data import figures
from ..materials.own import known_name
from ..quantities import mm, rate
from ..route import Operation
from ..sequence.renew import stale
from ..vocabulary import Clearing, OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule, rule_once, set_edit
from .simulate import Simulation, Step


def _set(step: Step, field: str, value: float) -> dict[str, object]:
    return set_edit(f"operations.{step.operation.id}.settings.{field}", value)


def _cutting(sim: Simulation) -> list[Step]:
    return [s for s in sim.steps if s.operation.kind is not OperationKind.DRILL]


@rule
def chip_load(sim: Simulation) -> Iterator[Finding]:
    """The chip load is outside its window: too thin rubs and burns, too thick breaks."""
    for step in _cutting(sim):
        window = chip_load_window(step.bit, step.species)
        chip = step.load.chip_load_mm
        if window.careful * 0.999 <= chip <= window.bold * 1.001:
            continue
        settings = step.operation.settings
        feed = min(sim.route.machine.greatest_feed_mm_min, round(window.middle * settings.speed_rpm * step.bit.flutes / 50) * 50)
        thin = chip < window.careful
        words = "Too little: the bit rubs and runs hot." if thin else "Too much: the bit may break and the wood tears."
        cures = [Cure(sentence=f"Feed {rate(feed):.0f}", edits=[_set(step, "feed_mm_min", feed)])]
        if feed / (settings.speed_rpm * step.bit.flutes) < window.careful:
            speed = sim.route.machine.nearest_speed(feed / (window.middle * step.bit.flutes))
            cures = [Cure(sentence=f"Speed {speed:.0f}, feed {rate(feed):.0f}",
                          edits=[_set(step, "speed_rpm", speed), _set(step, "feed_mm_min", feed)])]
            if feed / (speed * step.bit.flutes) < window.careful * 0.999:  # it would rub all the same
                cures, words = (
                    [],
                    f"{words} {sim.route.machine.name} feeds no faster and turns no slower; a bit with fewer flutes, "
                    f"or a narrower one, would get its chip.",
                )
        yield finding(
            "settings.chip_load",
            f"Chip load {mm(chip):.3f} at {step.operation.name}; {mm(window.careful):.3f} to {mm(window.bold):.3f} "
            f"suits "
            f"{step.species.name.lower()}. {words}",
            operation=step.operation.id,
            cures=cures,
            facts=[
                Fact(name="chip load", value=round(chip, 4)),
                Fact(name="careful", value=round(window.careful, 4), source="figures, unverified"),
                Fact(name="bold", value=round(window.bold, 4), source="figures, unverified"),
            ],
        )


@rule
def power(sim: Simulation) -> Iterator[Finding]:
    """The cut asks for more power than the spindle gives at this speed."""
    part = figures()["power_part"]["care"]
    for step in _cutting(sim):
        have = sim.route.machine.power_at(step.operation.settings.speed_rpm)
        finishing = step.finish_load is not None and step.finish_load.power_w > step.load.power_w
        asked = step.finish_load.power_w if finishing and step.finish_load else step.load.power_w
        if asked > part * have:
            yield finding(
                "settings.power", f"{step.operation.name} asks for {asked:.0f} W; the spindle gives {have:.0f} W at this speed.",
                operation=step.operation.id, cures=_shallower_finish(sim, step) if finishing else _shallower(sim, step),
                facts=[Fact(name="power asked", value=round(asked), unit="W"), Fact(name="power there", value=round(have), unit="W", source="machine")],
            )


@rule
def bend(sim: Simulation) -> Iterator[Finding]:
    """The bit bends more than rough passes, or the pass along the wall, allow."""
    limits = figures()["bend"]
    for step in _cutting(sim):
        passes = ((step.load, limits["rough_mm"], "rough work", _shallower), (step.finish_load, limits["finish_mm"], "a pass along the wall", _shallower_finish))
        over = [p for p in passes if p[0] is not None and p[0].bend_mm > p[1] * MARGIN]
        if not over:
            continue
        cut, limit, words, _ = max(over, key=lambda p: p[0].bend_mm / p[1])
        cures = [cure(sim, step)[:1] for _, _, _, cure in over]
        both = [c for found in cures for c in found]
        yield finding(
            "settings.bend",
            f"The {step.bit.name} gives way {mm(cut.bend_mm):.2f} at {step.operation.name}; {mm(limit):.2f} is the "
            f"most for {words}.",
            operation=step.operation.id,
            cures=[Cure(sentence=", ".join(c.sentence for c in both), edits=[e for c in both for e in c.edits])]
            if all(cures)
            else [],
            facts=[
                Fact(name="bend", value=round(cut.bend_mm, 3)),
                Fact(name="force", value=round(cut.force_n, 1), unit="N"),
                Fact(name="most", value=limit, source="figures, unverified"),
            ],
        )


MARGIN = 1.15  # the load is approximate: a bend this much over its limit is not yet told


def _shallower(sim: Simulation, step: Step) -> list[Cure]:
    """Return the depth of cut at which power and bend of a full slot are within limits, found by trying."""
    fig, settings = figures(), step.operation.settings
    depth = min(settings.depth_of_cut_mm, step.deepest_mm or settings.depth_of_cut_mm)
    while depth > 0.2:
        depth *= 0.9
        cut = load(step.bit, step.species, sim.route.machine, settings.feed_mm_min, settings.speed_rpm, depth, step.bit.cut_diameter_mm)
        if cut.power_w <= fig["power_part"]["care"] * sim.route.machine.power_at(settings.speed_rpm) and cut.bend_mm <= fig["bend"]["rough_mm"]:
            depth = max(0.1, round(depth, 1) - 0.05 if depth > 0.3 else round(depth, 2))
            return [
                Cure(sentence=f"Depth of cut {mm(depth):.2f}", edits=[_set(step, "depth_of_cut_mm", round(depth, 2))])
            ]
    return []


def _shallower_finish(sim: Simulation, step: Step) -> list[Cure]:
    """Return the depth of the pass along the wall at which power and bend are within limits."""
    fig, settings, machine = figures(), step.operation.settings, sim.route.machine
    depth = step.finish_deepest_mm
    while depth > fig["finish_pass"]["least_mm"]:
        depth *= 0.9
        cut = load(step.bit, step.species, machine, settings.feed_mm_min, settings.speed_rpm, depth, step.finish_widest_mm)
        if cut.power_w <= fig["power_part"]["care"] * machine.power_at(settings.speed_rpm) and cut.bend_mm <= fig["bend"]["finish_mm"]:
            depth = round(depth, 1)
            return [
                Cure(
                    sentence=f"Wall pass {mm(depth):.1f} deep at a time",
                    edits=[set_edit(f"operations.{step.operation.id}.finish_depth_mm", depth)],
                )
            ]
    return []


@rule
def depth_of_cut(sim: Simulation) -> Iterator[Finding]:
    """A pass is deeper than the bold end for this class of machine. A thin finish pass may be."""
    bold = figures()["depth_per_pass"][sim.route.machine.machine_class.value][1]
    for step in _cutting(sim):
        limit = bold * step.bit.cut_diameter_mm
        if step.operation.clearing is Clearing.ENGAGED:
            limit *= figures()["engaged"]["depth_times"]
        asked = step.operation.settings.depth_of_cut_mm
        if asked > limit * 1.001:
            yield finding(
                "settings.depth_of_cut",
                f"{step.operation.name} goes {mm(asked):.1f} deep a pass; {mm(limit):.1f} is bold for a "
                f"{sim.route.machine.machine_class.value} machine with this bit.",
                operation=step.operation.id,
                facts=[
                    Fact(name="depth of cut", value=asked, source="route"),
                    Fact(name="bold", value=round(limit, 2), source="figures, unverified"),
                ],
                cures=[
                    Cure(
                        sentence=f"Depth of cut {mm(limit * 0.9):.1f}",
                        edits=[_set(step, "depth_of_cut_mm", round(limit * 0.9, 1))],
                    )
                ],
            )


@rule
def speed(sim: Simulation) -> Iterator[Finding]:
    """The spindle cannot run at this speed: not a step of its dial, or out of its range."""
    machine = sim.route.machine
    for step in sim.steps:
        asked = step.operation.settings.speed_rpm
        known = any(abs(asked - s) < 1 for s in machine.speeds_rpm) if machine.speeds_rpm else machine.least_rpm <= asked <= machine.greatest_rpm
        if not known:
            near = machine.nearest_speed(asked)
            why = "no step of its dial" if machine.speeds_rpm else f"outside {machine.least_rpm:.0f} to {machine.greatest_rpm:.0f}"
            yield finding(
                "settings.speed", f"{asked:.0f} rpm at {step.operation.name} is {why}.", operation=step.operation.id,
                facts=[Fact(name="spindle speed", value=asked, unit="rpm", source="route"), Fact(name="nearest", value=near, unit="rpm", source="machine")],
                cures=[Cure(sentence=f"Speed {near:.0f}", edits=[_set(step, "speed_rpm", near)])],
            )


@rule
def feed(sim: Simulation) -> Iterator[Finding]:
    """The feed or plunge rate is above what the machine can do: it is written and computed at the machine's
    greatest."""
    machine = sim.route.machine
    for step in sim.steps:
        asked = next((o.settings for o in sim.whole.operations if o.id == step.operation.id), step.operation.settings)
        over = [
            (name, field, want, most)
            for name, field, want, most in (
                ("feed", "feed_mm_min", asked.feed_mm_min, machine.greatest_feed_mm_min),
                ("plunge", "plunge_mm_min", asked.plunge_mm_min, machine.greatest_plunge_mm_min),
            )
            if want > most + 1e-6
        ]
        if not over:
            continue
        said = " and ".join(f"{name} {rate(want):.0f} where it does {rate(most):.0f}" for name, _, want, most in over)
        chip = asked.feed_mm_min / (asked.speed_rpm * step.bit.flutes)
        after = (
            f" {machine.name} refuses such a line and stops."
            if machine.refuses_over
            else f" It is written and computed with the machine's greatest: the chip is "
                 f"{mm(step.load.chip_load_mm):.3f} "
            f"instead of {mm(chip):.3f}."
            if over[0][0] == "feed"
            else " It is written and computed with the machine's greatest."
        )
        yield finding(
            "settings.feed_refused" if machine.refuses_over else "settings.feed",
            f"{step.operation.name} asks {machine.name} for {said}.{after}",
            operation=step.operation.id,
            facts=[
                Fact(name=f"{over[0][0]} rate", value=over[0][2], unit="mm/min", source="route"),
                Fact(name="greatest", value=over[0][3], unit="mm/min", source="machine"),
            ],
            cures=[
                Cure(sentence=", ".join(f"{name.capitalize()} {rate(most):.0f}" for name, _, _, most in over),
                    edits=[_set(step, field, most) for _, field, _, most in over],
                )
            ],
        )


@rule
def stepover(sim: Simulation) -> Iterator[Finding]:
    """A clearing stepover above the bit's radius leaves ridges in the corners of the rings."""
    for step in sim.steps:
        if step.operation.kind is not OperationKind.POCKET or step.operation.clearing is Clearing.ENGAGED:
            continue
        asked, radius = step.operation.settings.stepover_mm, step.bit.radius_mm
        if asked > radius * 1.001:
            better = round(step.bit.cut_diameter_mm * figures()["stepover"]["clearing"], 2)
            yield finding(
                "settings.stepover",
                f"Stepover {mm(asked):.1f} at {step.operation.name} is above the bit's radius {mm(radius):.1f}: "
                f"ridges stay between the rings.",
                operation=step.operation.id,
                cures=[Cure(sentence=f"Step over {mm(better):.1f}", edits=[_set(step, "stepover_mm", better)])],
                facts=[
                    Fact(name="stepover", value=asked, source="route"),
                    Fact(name="radius", value=radius, source="bit"),
                ],
            )


STALE: dict[str, tuple[str, str, type[float]]] = {
    "feed_mm_min": ("feed", ".0f", rate),
    "speed_rpm": ("speed", ".0f", float),
    "depth_of_cut_mm": ("depth of cut", ".2f", mm),
    "stepover_mm": ("stepover", ".2f", mm),
    "plunge_mm_min": ("plunge", ".0f", rate),
}


def _changes(old: Operation, new: Operation) -> dict[str, float]:
    """Return by how much of itself each setting differs that differs as it is told."""
    out = {}
    for name, (_, shown, _) in STALE.items():
        a, b = getattr(old.settings, name), getattr(new.settings, name)
        if f"{a:{shown}}" != f"{b:{shown}}":
            out[name] = abs(b / a - 1)
    return out


def would_be(name: str, was: float, now: float) -> str:
    """Return what one of the settings would be instead, in words."""
    words, shown, unit = STALE[name]
    return f"the {words} would be {unit(now):{shown}} instead of {unit(was):{shown}}"


@rule_once
def stale_settings(sim: Simulation) -> Iterator[Finding]:
    """Settings that were proposed for another wood or another machine."""
    found = stale(sim.whole, sim.whole_resolved)
    if not found:
        return
    old, new = max(found, key=lambda pair: max(_changes(*pair).values(), default=0.0))
    was, now = old.made_for, new.made_for
    if was is None or now is None:
        return
    if was[0] != now[0]:
        what = f"{known_name(sim.whole, was[0]).lower()}, this is {known_name(sim.whole, now[0]).lower()}"
    else:
        what = f"{was[1]}, this is {now[1]}"
    changed = _changes(old, new)
    told = ", ".join(would_be(k, getattr(old.settings, k), getattr(new.settings, k)) for k in changed)
    yield finding("settings.stale", f"The settings of {len(found)} operation{'s were' if len(found) > 1 else ' was'} "
        f"proposed for {what}: at {old.name} {told or 'passes along the wall would be others'}.",
                  operation=old.id, cures=[Cure(sentence="Propose them anew", edits=[{"do": "renew_settings"}])],
                  facts=[Fact(name="operations", value=len(found), unit=""), Fact(name="feed rate", value=old.settings.feed_mm_min, unit="mm/min", source="route"), Fact(name="feed proposed", value=round(new.settings.feed_mm_min), unit="mm/min")])
