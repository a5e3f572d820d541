"""Rules over the blank: its boards, glue lines, flaws and measured thickness."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures
from ..materials.boards import Verdict, flatness, glue_up, judge_defect
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def boards_narrow(sim: Simulation) -> Iterator[Finding]:
    """The boards, once jointed, are narrower than the blank."""
    blank = sim.route.blank
    if not blank.planks:
        return
    joined = glue_up([p.width_mm for p in blank.planks], blank.joint_loss_mm, blank.y_mm, blank.width_mm)
    if joined.short_mm > 0.05:
        yield finding(
            "blank.boards_narrow",
            f"{len(blank.planks)} boards give {mm(joined.width_mm):.1f} once jointed; the blank is "
            f"{mm(blank.width_mm):.1f} wide. {mm(joined.short_mm):.1f} is missing.",
            facts=[
                Fact(name="boards give", value=round(joined.width_mm, 2)),
                Fact(name="blank", value=blank.width_mm, source="route"),
            ],
            cures=[
                Cure(
                    sentence=f"Blank {mm(joined.width_mm):.1f} wide",
                    edits=[
                        set_edit("blank.width_mm", round(joined.width_mm - 0.05, 1)),
                        set_edit("blank.y_mm", round(blank.y_mm + joined.short_mm / 2, 2)),
                    ],
                )
            ],
        )


@rule_once
def glue_line_in_hole(sim: Simulation) -> Iterator[Finding]:
    """A glue line runs through a hole that something is pressed into."""
    blank = sim.route.blank
    if len(blank.planks) < 2:
        return
    lines = glue_up([p.width_mm for p in blank.planks], blank.joint_loss_mm, blank.y_mm, blank.width_mm).lines
    for solid in sim.resolved.solids.values():
        if solid.kind != "hole" or not solid.must_be_measured:
            continue
        for x, y in solid.points:
            near = min(lines, key=lambda line: abs(line - y))
            if abs(near - y) < solid.diameter_mm / 2:
                yield finding(
                    "blank.glue_line_in_hole",
                    f"The glue line at {mm(near):.1f} runs through {solid.name}, {mm(abs(near - y)):.1f} off its "
                    f"middle. It may open when the bush is pressed in.",
                    feature=solid.id,
                    place=(x, y, 0.0),
                    facts=[
                        Fact(name="off the middle", value=round(abs(near - y), 2)),
                        Fact(name="hole", value=solid.diameter_mm, source="feature"),
                    ],
                )


@rule_once
def defects(sim: Simulation) -> Iterator[Finding]:
    """A knot or crack that will show, or that lies where the piece carries load."""
    thick = sim.route.blank.piece_mm
    for one in sim.route.blank.defects:
        judged = judge_defect(one.id, one.x_mm, one.y_mm, one.radius_mm, one.top_mm, one.deep_mm, sim.resolved, thick)
        if judged.verdict in (Verdict.CUT_AWAY, Verdict.HIDDEN):
            continue
        loaded = judged.verdict is Verdict.STRUCTURAL
        words = (f"{one.name} {one.id} lies at {judged.by}, where the piece carries load. Turn or shift the boards, or choose another." if loaded
                 else f"{one.name} {one.id} will show on {judged.by}. Shift the outline on the blank, or fill it.")
        yield finding("blank.defect_structural" if loaded else "blank.defect_shows", words, place=(one.x_mm, one.y_mm, 0.0), facts=[Fact(name="reach", value=one.radius_mm, source="route"), Fact(name="depth", value=one.deep_mm, source="route")])


@rule_once
def thickness_off(sim: Simulation) -> Iterator[Finding]:
    """The measured thickness disagrees with the route's, or is more uneven than the skim takes."""
    blank = sim.route.blank
    flat = flatness(blank.thickness_readings_mm)
    if flat is None:
        return
    off, within = flat.mean_mm - blank.thickness_mm, figures()["flaws"]["thickness_mm"]
    uneven = flat.spread_mm > blank.skim_mm + blank.skim_back_mm + within
    if abs(off) <= max(within, flat.spread_mm / 2) and not uneven:
        return
    words = (
        f"The blank measures {mm(flat.least_mm):.2f} to {mm(flat.most_mm):.2f}; the route says "
        f"{mm(blank.thickness_mm):.2f}. "
        if abs(off) > within
        else f"The blank is uneven by {mm(flat.spread_mm):.2f} and {mm(blank.skim_mm + blank.skim_back_mm):.2f} is "
             f"skimmed. "
    )
    yield finding(
        "blank.thickness_off",
        words + "Depths to the back and through cuts follow the thickness.",
        facts=[
            Fact(name="least", value=flat.least_mm, source="reading"),
            Fact(name="most", value=flat.most_mm, source="reading"),
            Fact(name="route says", value=blank.thickness_mm, source="route"),
        ],
        cures=[
            Cure(
                sentence=f"Thickness {mm(flat.most_mm):.2f}",
                edits=[set_edit("blank.thickness_mm", round(flat.most_mm, 2))],
            )
        ]
        if abs(off) > within and not uneven
        else [],
    )


@rule_once
def grain_differs(sim: Simulation) -> Iterator[Finding]:
    """Neighbouring boards whose grain runs differently: the joint moves with the seasons, and planing tears one of them."""
    planks, most = sim.route.blank.planks, figures()["grain"]["differ_deg"]
    for one, other in zip(planks, planks[1:], strict=False):
        differ = abs(one.grain_deg - other.grain_deg)
        if differ > most + 1e-9:
            yield finding("blank.grain_differs", f"The grain of boards {one.id} and {other.id} differs by {differ:.0f}°; {most:.0f}° is the most for a joint that stays. Turn one end for end, or take a nearer match.",
                          facts=[Fact(name="differ", value=round(differ, 1), unit="deg", source="route"), Fact(name="most", value=most, unit="deg", source="figures, unverified")])


@rule_once
def layers_off(sim: Simulation) -> Iterator[Finding]:
    """The layers together are not as thick as the blank."""
    blank = sim.route.blank
    total = sum(layer.thickness_mm for layer in blank.layers)
    if blank.layers and abs(total - blank.thickness_mm) > figures()["flaws"]["thickness_mm"]:
        yield finding(
            "blank.layers_off",
            f"The layers add up to {mm(total):.2f}; the blank is {mm(blank.thickness_mm):.2f} thick. Depths into "
            f"the layers and the weight follow the layers.",
            facts=[
                Fact(name="layers", value=round(total, 2), source="route"),
                Fact(name="blank", value=blank.thickness_mm, source="route"),
            ],
            cures=[
                Cure(sentence=f"Thickness {mm(total):.2f}", edits=[set_edit("blank.thickness_mm", round(total, 2))])
            ],
        )
