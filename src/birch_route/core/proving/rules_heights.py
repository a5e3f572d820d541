"""Rules over heights: what the joint comes to as it is cut, and whether the readings of neck and bridge can be."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from shapely.geometry import Point

from ..data import figures
from ..instrument.heights import Unknown, solve_heights
from ..instrument.joint import Joint, frets_meant, joint_of, neck_pocket
from ..instrument.room import standing
from ..instrument.stack import find_part
from ..quantities import mm, mm2
from ..vocabulary import PartKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation

UNVERIFIED = "figures, unverified"


@rule_once
def pocket_depth(sim: Simulation) -> Iterator[Finding]:
    """A neck pocket shallower or deeper than a bolt-on joint bears, or a neck angle outside what one has."""
    fig, pocket = figures()["heights"], neck_pocket(sim.whole, sim.resolved)
    if pocket is None or pocket.floor_mm is None or pocket.unmeasured:
        return
    joint = joint_of(sim.whole, sim.resolved)
    deep = pocket.deep_mm(sim.resolved.thickness_mm) if joint is None else joint.heights.depth_mm
    low, high = fig["pocket_mm"]
    x, y = pocket.region.representative_point().coords[0]
    place = (x, y, pocket.floor_mm)
    if not low - 0.005 <= deep <= high + 0.005:
        words = (
            "too little wood holds the heel" if deep < low else "little wood is left under it, and the neck lies deep"
        )
        yield finding(
            "height.pocket",
            f"{pocket.name} is {mm(deep):.1f} deep: {words}; {mm(low):g} to {mm(high):g} is usual for a flat "
            f"bolt-on joint. Look "
            f"at the heel's thickness, the saddles' height and the bridge's recess.",
            feature=pocket.id,
            place=place,
            facts=[
                Fact(name="deep", value=round(deep, 2)),
                Fact(name="least", value=low, source=UNVERIFIED),
                Fact(name="most", value=high, source=UNVERIFIED),
            ],
        )
    angle = next((f.tilt_deg for f in sim.whole.piece.features if f.id == pocket.id), 0.0)
    least, most = fig["angle_deg"]
    if not least - 1e-9 <= angle <= most + 1e-9:
        yield finding(
            "height.angle",
            f"The floor of {pocket.name} falls {angle:g}° toward the nut; {least:g} to {most:g} is what such a joint "
            f"has.",
            feature=pocket.id,
            place=place,
            facts=[
                Fact(name="angle", value=angle, unit="°", source="route"),
                Fact(name="most", value=most, unit="°", source=UNVERIFIED),
            ],
            cures=[
                Cure(sentence=f"Make it {most if angle > most else least:g}°",
                    edits=[set_edit(f"piece.features.{pocket.id}.tilt_deg", most if angle > most else least)],
                )
            ],
        )


@rule_once
def action(sim: Simulation) -> Iterator[Finding]:
    """The action that is wanted is lower or higher than what is played."""
    if neck_pocket(sim.whole, sim.resolved) is None:
        return
    (low, high), wanted = figures()["heights"]["action_mm"], sim.whole.choices.action_12th_mm
    if low - 1e-9 <= wanted <= high + 1e-9:
        return
    near = low if wanted < low else high
    yield finding(
        "height.action",
        f"{mm(wanted):.2f} of action over the 12th fret is wanted; {mm(low):g} to {mm(high):g} is what is played. "
        f"Lower, strings "
        f"rattle on the frets; higher, they are hard to press.",
        facts=[
            Fact(name="action", value=wanted, source="choices"),
            Fact(name="least", value=low, source=UNVERIFIED),
            Fact(name="most", value=high, source=UNVERIFIED),
        ],
        cures=[Cure(sentence=f"Make it {mm(near):g}", edits=[set_edit("choices.action_12th_mm", near)])],
    )


@rule_once
def saddle_heights(sim: Simulation) -> Iterator[Finding]:
    """With the pocket as it is cut the saddles stand near the end of their travel up or down, or beyond it."""
    joint = joint_of(sim.whole, sim.resolved)
    if joint is None or sim.resolved.saddle_x_mm is None:
        return
    fig, left = figures()["heights"], min(joint.down_mm, joint.up_mm)
    if left >= fig["travel_care_mm"] - 0.005:
        return
    way = "down" if joint.down_mm <= joint.up_mm else "up"
    code, least = (
        ("height.saddle_out", fig["travel_stop_mm"])
        if left < fig["travel_stop_mm"] - 0.005
        else ("height.saddle_end", fig["travel_care_mm"])
    )
    stand = (
        f"The saddles have to stand {mm(joint.saddle_mm):.2f} high for {mm(joint.heights.action_12th_mm):g} of action"
    )
    words = (
        f"{stand}: {mm(-left):.2f} beyond the end of their travel {way}."
        if left < 0
        else f"{stand}: {mm(left):.2f} of travel is left {way}; {mm(least):g} is the least."
    )
    yield finding(
        code,
        words,
        feature=joint.pocket.id,
        place=(sim.resolved.saddle_x_mm, 0.0, 0.0),
        cures=_stack_cures(sim, joint),
        facts=[
            Fact(name="saddles stand", value=round(joint.saddle_mm, 2)),
            Fact(name="travel left", value=round(left, 2)),
            Fact(name="least", value=least, source=UNVERIFIED),
        ],
    )


def _stack_cures(sim: Simulation, joint: Joint) -> list[Cure]:
    """Offer the saddles in the middle of their travel with the pocket that asks for, where it lies within what a joint
    bears; or a pocket that follows the stack."""
    feature = next(f for f in sim.whole.piece.features if f.id == joint.pocket.id)
    middle = (joint.low_mm + joint.high_mm) / 2
    low, high = figures()["heights"]["pocket_mm"]
    wanted = solve_heights(replace(joint.heights, saddle_mm=middle), Unknown.DEPTH).heights.depth_mm
    keep = figures()["heights"]["travel_care_mm"]
    if (
        joint.high_mm - joint.low_mm < 2 * keep
        or wanted > sim.resolved.thickness_mm - joint.pocket.least_floor_mm
        or wanted < 0.5
    ):
        return []
    if getattr(feature, "depth_from", None) is not None:
        return [
            Cure(
                sentence=f"Saddles in the middle, pocket {mm(wanted):.1f}", edits=[set_edit("choices.saddle_part", 0.5)]
            )
        ]
    return (
        [
            Cure(sentence=f"Pocket {mm(wanted):.1f} deep",
                edits=[set_edit(f"piece.features.{joint.pocket.id}.depth_mm", round(wanted, 2))],
            )
        ]
        if low <= wanted <= high
        else []
    )


@rule_once
def frets_on_the_board(sim: Simulation) -> Iterator[Finding]:
    """Scale and the reading from the heel's end to the 12th fret mean a number of frets that no board has, or fewer
    than are asked for."""
    meant = frets_meant(sim.whole)
    if meant is None or neck_pocket(sim.whole, sim.resolved) is None:
        return
    low, high = figures()["heights"]["frets"]
    neck = find_part(sim.whole.parts, PartKind.NECK)
    scale = sim.whole.choices.scale_mm or 0.0
    told = "beyond the strings' end" if meant == float("inf") else f"where fret {meant:.1f} would be"
    if not low - 1e-9 <= meant <= high + 1e-9:
        yield finding(
            "reading.frets",
            f"By a scale of {mm(scale):g} the board of {neck.name if neck else 'the neck'} ends {told}; {low:g} to "
            f"{high:g} frets is what boards hold. The reading from the heel's end to the 12th fret or the scale is "
            f"wrong.",
            facts=[
                Fact(name="frets meant", value=round(min(meant, 99.0), 2), unit=""),
                Fact(name="least", value=low, unit="", source=UNVERIFIED),
                Fact(name="most", value=high, unit="", source=UNVERIFIED),
            ],
        )
    elif sim.whole.choices.frets > meant + 0.35:
        yield finding(
            "reading.frets",
            f"{sim.whole.choices.frets} frets are asked for; by scale and readings the board of "
            f"{neck.name if neck else 'the neck'} ends {told}.",
            facts=[
                Fact(name="frets meant", value=round(meant, 2), unit=""),
                Fact(name="asked", value=sim.whole.choices.frets, unit="", source="choices"),
            ],
            cures=[Cure(sentence=f"{int(meant + 0.35)} frets", edits=[set_edit("choices.frets", int(meant + 0.35))])],
        )


@rule_once
def bridge_on_the_piece(sim: Simulation) -> Iterator[Finding]:
    """The bridge's plate or its posts stand over the edge of the piece."""
    regions = [(g.name, g.region) for g in standing(sim.whole, sim.resolved) if g.what == "bridge"]
    if (
        not regions
        and sim.resolved.saddle_x_mm is not None
        and find_part(sim.whole.parts, PartKind.BRIDGE) is not None
        and neck_pocket(sim.whole, sim.resolved) is not None
    ):
        regions = [("The saddle line", Point(sim.resolved.saddle_x_mm, 0.0).buffer(0.5))]
    for name, region in regions:
        over = region.difference(sim.resolved.outline)
        if over.area < 0.5:
            continue
        x, y = over.representative_point().coords[0]
        yield finding(
            "bridge.off_piece",
            f"{name} stands over the edge of the piece, by {mm2(over.area):.0f} at {mm(x):.0f}, {mm(y):.0f}. Scale, "
            f"heel "
            f"length or the reading to the 12th fret is wrong, or the outline is too short.",
            place=(x, y, 0.0),
            facts=[Fact(name="over the edge", value=round(float(over.area), 1), unit="mm2")],
        )
