"""Proposed cut settings, each with its reason and the limit that binds it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..bits.model import Bit
from ..data import Wood, figures
from ..machines import Machine
from ..quantities import mm, named_rate
from ..route import Settings
from ..vocabulary import CutKind, Limit, OperationKind
from .limits import DEEPER_MM, LOWER, MOST_MM, Question, parts
from .mechanics import chip_load_window, load, thinned_feed_factor
from .question import SHARED, careful, shares_words


@dataclass(frozen=True)
class Proposal:
    """Settings with a reason a field."""

    settings: Settings
    reasons: dict[str, str]


def propose_settings(kind: OperationKind, bit: Bit, wood: Wood, machine: Machine) -> Proposal:
    """Return settings inside every window for one kind of operation: the careful answer to a slot of the bit's whole width, or to skimming a face; a drill by its own rule."""
    fig, d = figures(), bit.cut_diameter_mm
    rim = fig["surface_speed"]["rim_m_s"]
    rpm = rim * 60_000 / (math.pi * d)
    reach = f"the spindle turns no slower than {machine.least_rpm:g}" if rpm < machine.least_rpm else f"the spindle turns no faster than {machine.greatest_rpm:g}" if rpm > machine.greatest_rpm else "within the spindle's range"
    reasons = {"speed_rpm": f"{rim:g} m/s at the rim asks for {rpm:,.0f}; {'the nearest step of the dial' if machine.speeds_rpm else reach}"}
    wanted = machine.nearest_speed(rim * 60_000 / (math.pi * d))
    if kind is OperationKind.DRILL:
        return _drilling(bit, machine, wanted, reasons)
    steps, face = fig["stepover"], kind is OperationKind.FACE
    q = Question(machine, bit, wood, CutKind.FACE if face else CutKind.SLOT, d * (steps["facing"] if face else 1.0))
    feed, speed, depth = careful(q)
    window, chip = q.window, feed / (speed * bit.flutes)
    reasons["feed_mm_min"] = (
        f"chip load {mm(chip):.3f}, nearer the careful end of {mm(window.careful):.3f} to {mm(window.bold):.3f} in "
        f"{wood.name.lower()}; {shares_words(q, feed, speed, depth)}"
    )
    if speed < wanted - 1:
        reasons["speed_rpm"] = (
            f"slower, so that {named_rate(q.feed_share * machine.greatest_feed_mm_min):.0f}, a careful part of what "
            f"{machine.name} feeds, still gives a full chip"
        )
    part = sum(fig["depth_per_pass"][machine.machine_class.value]) / 2
    reasons["depth_of_cut_mm"] = f"{part:.2f} of the diameter for a {machine.machine_class.value} machine" + _less(q, feed, speed, depth, d * part)
    stepover = d * (steps["facing"] if face else steps["clearing"])
    reasons["stepover_mm"] = f"{stepover / d:.2f} of the diameter"
    ramp = fig["plunge"]["part"]
    reasons["plunge_mm_min"] = f"{ramp:.1f} of the feed rate"
    settings = Settings(
        feed_mm_min=feed, plunge_mm_min=max(50.0, _neat(feed * ramp, 10)), speed_rpm=speed,
        depth_of_cut_mm=_deep(depth), stepover_mm=_floor(stepover, 0.05),
    )
    return Proposal(settings, reasons)


def _less(q: Question, feed: float, speed: float, depth: float, customary: float) -> str:
    """Return why a depth of cut is less than is customary."""
    if depth >= customary - 0.06 or q.kind is CutKind.FACE:
        return ""
    found = parts(q, feed, speed, min(customary, 1.1 * depth + 0.1), q.side_mm)
    binds = max(
        (k for k in found if k not in (*LOWER, Limit.CHIP, Limit.FEED, Limit.FINISH)),
        key=lambda k: float(found[k]) / (q.force_share if k in SHARED else 1.0),
    )
    return {Limit.POWER: ", less for the spindle's power", Limit.BEND: ", less so that the bit bends less", Limit.BREAKAGE: ", less so that the bit does not break", Limit.DEPTH: ", no deeper than its edge is long"}.get(binds, "")


def propose_engaged(bit: Bit, wood: Wood, machine: Machine, before: Settings, engaged_deg: float, depth_mm: float) -> Proposal:
    """Return settings for clearing with a bounded engagement: deeper passes, and a feed that makes up for thinner chips.

    Args:
        before: settings of the same operation cut by rings; speed and plunge rate stay. depth_mm: how deep the feature is.

    Source: side engagement R (1 - cos arc); chip thinning 2 sqrt(ae/D - (ae/D)^2); the depth of a slot times figures.engaged, no
    deeper than the edge is long, less where power or bend bind. The feature's depth is shared out evenly.
    """
    fig, d = figures(), bit.cut_diameter_mm
    side = d / 2 * (1 - math.cos(math.radians(engaged_deg)))
    window = chip_load_window(bit, wood)
    chip = min(window.bold * 0.95, before.feed_mm_min / (before.speed_rpm * bit.flutes) * thinned_feed_factor(side, d))
    feed = min(
        max(fig["careful"]["feed"] * machine.greatest_feed_mm_min, before.feed_mm_min),
        _neat(chip * before.speed_rpm * bit.flutes, 50),
    )
    most = min(bit.cutting_length_mm, depth_mm, d * fig["depth_per_pass"][machine.machine_class.value][1] * fig["engaged"]["depth_times"])
    depth, why = _within_limits(bit, wood, machine, feed, before.speed_rpm, most, side)
    depth = max(0.1, math.ceil(depth_mm / max(1, math.ceil(depth_mm / depth - 1e-9)) * 100) / 100)
    settings = before.model_copy(update={"feed_mm_min": feed, "depth_of_cut_mm": depth, "stepover_mm": _floor(side, 0.01)})
    return Proposal(
        settings,
        {
            "depth_of_cut_mm": f"no more than {engaged_deg:g} degrees of the rim in wood: up to "
                               f"{fig['engaged']['depth_times']:g} times the depth of a slot{why}",
            "feed_mm_min": f"chip load {mm(feed / (before.speed_rpm * bit.flutes)):.3f}: up for the thinner chip of "
                           f"{mm(side):.1f} side engagement, within {mm(window.careful):.3f} to {mm(window.bold):.3f}",
            "stepover_mm": f"what {engaged_deg:g} degrees of the rim take from the side",
        },
    )


def reaches_chip_load(bit: Bit, wood: Wood, machine: Machine) -> bool:
    """Say whether a machine can feed a bit fast enough, at a speed it has, for the careful end of its chip load window."""
    slowest = min(machine.speeds_rpm) if machine.speeds_rpm else machine.least_rpm
    return (
        figures()["careful"]["feed_most"] * machine.greatest_feed_mm_min / (slowest * bit.flutes)
        >= chip_load_window(bit, wood).careful * 0.999
    )


def propose_finish_depth(bit: Bit, wood: Wood, machine: Machine, settings: Settings, allowance_mm: float, depth_mm: float) -> tuple[float, str]:
    """Return the depth of cut of a pass along the wall, mm, and why.

    As deep as figures.finish_pass lets it be, less where the bit would bend more than figures.bend.finish_mm. The feature's depth is
    shared out evenly.

    Args:
        allowance_mm: what the rough passes leave on the wall. depth_mm: how deep the feature is.
    """
    fig = figures()
    most = min(bit.cutting_length_mm, fig["finish_pass"]["depth_diameters"] * bit.cut_diameter_mm)
    deep, why = min(most, depth_mm), f"{fig['finish_pass']['depth_diameters']:g} diameters at most"
    for count in range(1, 200):
        deep = depth_mm / count
        if deep > most + 1e-9:
            continue
        cut = load(bit, wood, machine, settings.feed_mm_min, settings.speed_rpm, deep, max(allowance_mm, 0.1))
        if cut.bend_mm <= fig["careful"]["force"] * fig["bend"]["finish_mm"] or deep <= fig["finish_pass"]["least_mm"]:
            break
        why = (
            f"so that the bit bends less than {mm(fig['careful']['force'] * fig['bend']['finish_mm']):g} along the wall"
        )
    return max(LEAST_FINISH_MM, math.ceil(deep * 100 - 1e-6) / 100), why


LEAST_FINISH_MM = 0.1  # a depth of cut that can be typed


def _within_limits(bit: Bit, wood: Wood, machine: Machine, feed: float, speed: float, depth: float, side: float | None = None) -> tuple[float, str]:
    """Lower the depth of a cut (a full slot where no side engagement is given) until power and bend are within limits; say which one bound."""
    fig, why = figures(), ""
    share = fig["careful"]["force"]
    while depth > 0.15:
        cut = load(bit, wood, machine, feed, speed, depth, bit.cut_diameter_mm if side is None else side)
        if cut.power_w > share * fig["power_part"]["care"] * machine.power_at(speed):
            why = ", less for the spindle's power"
        elif cut.bend_mm > share * fig["bend"]["rough_mm"]:
            why = ", less so that the bit bends less"
        else:
            break
        depth *= 0.93
    return depth, why


def _drilling(bit: Bit, machine: Machine, speed: float, reasons: dict[str, str]) -> Proposal:
    fig = figures()["drilling"]
    speed = machine.nearest_speed(min(speed, 12_000.0))
    plunge = max(60.0, _neat(speed * fig["feed_per_turn_part"] * bit.cut_diameter_mm * 0.5, 10))
    reasons["plunge_mm_min"] = f"{fig['feed_per_turn_part'] * 0.5:g} of the diameter a turn"
    settings = Settings(
        feed_mm_min=plunge, plunge_mm_min=plunge, speed_rpm=speed,
        depth_of_cut_mm=_deep(bit.cut_diameter_mm * fig["peck_diameters"]), stepover_mm=bit.cut_diameter_mm,
    )
    return Proposal(settings, reasons)


def _deep(depth_mm: float) -> float:
    """Return a depth that settings can have."""
    return min(max(depth_mm, DEEPER_MM), MOST_MM)


def _neat(value: float, step: float) -> float:
    return max(step, round(value / step) * step)


def _floor(value: float, step: float) -> float:
    return max(step, math.floor(value / step + 1e-9) * step)
