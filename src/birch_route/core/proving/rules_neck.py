"""Rules over a neck: wood under its rod, the shape of its back, what a ball can reach of it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Any

import shapely

from ..data import figures
from ..neck.changed import Change, first_that
from ..neck.features import ADJUSTER, BACK, BARS, BOLTS, ROD, bolt_places, neck_features
from ..neck.lines import neck_plan, outline_points
from ..neck.loft import Loft
from ..neck.numbers import USUAL, Neck
from ..neck.under import least_under
from ..quantities import mm
from ..vocabulary import BitForm, OperationKind
from .findings import Cure, Fact, Finding, finding
from .neck_cures import neck_cure
from .registry import rule, rule_once, set_edit
from .simulate import Simulation

UNDER_WORDS = {ROD: "the rod's channel", ADJUSTER: "the room for the rod's adjuster", BARS[0]: "the slot of a bar",
               BARS[1]: "the slot of a bar"}


def _said(neck: Neck, path: str) -> str:
    at: Any = neck
    for name in path.split("."):
        at = getattr(at, name)
    return f"{mm(at):.2f}"


@rule_once
def neck_said(sim: Simulation) -> Iterator[Finding]:
    """What nobody has said of a neck: usual numbers that decide a cut hold it; what has no size is not cut."""
    neck = sim.whole.piece.neck
    if neck is None:
        return
    unsaid = neck.unsaid()
    for cut in dict.fromkeys(USUAL[n][1] for n in unsaid):
        names = [n for n in unsaid if USUAL[n][1] == cut]
        told = "; ".join(f"{USUAL[n][0]} {_said(neck, n)}" for n in names)
        yield finding(
            "neck.unsaid",
            f"{cut}: nobody said for this neck what decides it, and the usual stands there: {told}. Type what it is "
            f"to be, or say that it is meant.",
            feature=BACK,
            facts=[Fact(name="numbers nobody said", value=len(names), unit="")],
            cures=[Cure(sentence=f"{cut}: meant as it stands",
                        edits=[{"do": "say_mine", "path": f"piece.neck.{n}"} for n in names])],
        )
    if not neck.rod.is_known:
        yield finding(
            "neck.no_rod",
            "No channel is cut for a rod: nobody said how wide, high and long it is. Read it off the rod and type it "
            "on the neck's page.",
        )
    if neck.head.kind != "none" and not neck.tuners.is_known:
        yield finding(
            "neck.no_tuners",
            "No tuner is bored for: nobody said how wide its post's bore is and how far apart they stand. Read them "
            "off the tuners and type them on the neck's page.",
        )


@rule_once
def wood_under(sim: Simulation) -> Iterator[Finding]:
    """The wood between what is cut into a neck's face and its back."""
    neck = sim.whole.piece.neck
    if neck is None:
        return
    fig = figures()["neck"]
    for one in _under(neck):
        if one.left_mm >= fig["rod_floor_mm"] - 1e-6:
            continue
        asked, name = fig["rod_floor_mm"], one.feature

        def helps(other: Neck, name: str = name, asked: float = asked) -> bool:
            return all(u.left_mm >= asked - 1e-6 for u in _under(other) if u.feature == name)

        code = "neck.rod_through" if one.left_mm < fig["rod_stop_mm"] else "neck.rod_floor"
        cures = neck_cure(first_that(neck, _thicker(neck, asked - one.left_mm, name), helps))
        words = "" if cures else " No small change of the neck's numbers helps: take another rod, or a deeper neck."
        yield finding(
            code,
            f"{mm(max(one.left_mm, 0.0)):.1f} of wood stays under {UNDER_WORDS[name]}, {mm(one.x_mm):.0f} from the "
            f"nut; {mm(asked):.1f} should.{words}",
            feature=name, place=(one.x_mm, one.y_mm, 0.0), cures=cures,
            facts=[Fact(name="stays", value=round(one.left_mm, 3)),
                   Fact(name="asked", value=asked, source="figures")],
        )


def _under(neck: Neck) -> list[Any]:
    loft = Loft(neck)
    return least_under(loft, [f for f in neck_features(neck, loft.blank_mm) if f.kind == "pocket"])


def _thicker(neck: Neck, short_mm: float, feature: str) -> Iterable[Change]:
    """Yield changes that may leave more wood under a cut, the least first."""
    if feature in BARS and neck.bars.deep_mm is not None:
        less = round(neck.bars.deep_mm - short_mm - 0.05, 2)
        yield f"Bars {mm(less):g} deep", {"bars.deep_mm": less}
    for part in (1.05, 1.25, 1.6):
        more = math.ceil(short_mm * part * 10) / 10
        first, twelfth = round(neck.thick_1st_mm + more, 2), round(neck.thick_12th_mm + more, 2)
        if first <= neck.thick_12th_mm:
            yield f"Neck {mm(first):g} thick at the 1st fret", {"thick_1st_mm": first}
        yield (f"Neck {mm(first):g} thick at the 1st fret, {mm(twelfth):g} at the 12th",
               {"thick_1st_mm": first, "thick_12th_mm": twelfth})
    for transition in range(int(neck.head.transition_mm) - 4, 19, -4):
        yield f"Transition to the headstock {mm(float(transition)):g} long", {"head.transition_mm": float(transition)}
    if neck.rod.kind == "one_way" and neck.rod.bow_mm > short_mm:
        less = round(neck.rod.bow_mm - short_mm - 0.05, 2)
        yield f"A bow of {mm(less):g}", {"rod.bow_mm": less}


@rule_once
def bars_beside(sim: Simulation) -> Iterator[Finding]:
    """Walls between a bar's slot, the rod's channel and the neck's edges; a bar under a tuner's post."""
    neck = sim.whole.piece.neck
    if neck is None or not neck.bars.is_known:
        return
    bars, least = neck.bars, figures()["neck"]["bar_wall_mm"]
    inner = bars.apart_mm / 2 - (bars.width_mm or 0.0) / 2
    channel = (neck.rod.width_mm or 0.0) / 2 + neck.rod.play_mm if neck.rod.is_known else 0.0
    edge = neck_plan(neck).half_mm(bars.from_mm) - bars.apart_mm / 2 - (bars.width_mm or 0.0) / 2
    for left, where in ((inner - channel, "the rod's channel"), (edge, "the neck's edge")):
        if left >= least - 1e-6:
            continue
        middle = round((channel + neck_plan(neck).half_mm(bars.from_mm)), 1)
        fits = neck_plan(neck).half_mm(bars.from_mm) - channel - (bars.width_mm or 0.0) >= 2 * least
        yield finding(
            "neck.bar_wall",
            f"{mm(left):.1f} of wood stands between the slot of a bar and {where}; {mm(least):.1f} should."
            + ("" if fits else " There is no room for bars so wide: take thinner ones."),
            feature=BARS[1], place=(bars.from_mm, bars.apart_mm / 2, 0.0),
            facts=[Fact(name="stands", value=round(left, 3)), Fact(name="asked", value=least, source="figures")],
            cures=[Cure(sentence=f"Bars {mm(middle):g} apart", edits=[set_edit("piece.neck.bars.apart_mm", middle)])]
            if fits else [],
        )


@rule_once
def heel_bores(sim: Simulation) -> Iterator[Finding]:
    """Bores of the heel against the board over it, the rod's channel, the bars and the heel's edges."""
    neck, fig = sim.whole.piece.neck, figures()["neck"]
    if neck is None or not neck.bolts.is_known:
        return
    bolts = neck.bolts
    floor = neck.heel_mm - (bolts.deep_mm or 0.0)
    if floor < fig["bore_floor_mm"] - 1e-6:
        most = round(neck.heel_mm - fig["bore_floor_mm"], 2)
        yield finding(
            "neck.bore_deep",
            f"Bores in the heel leave {mm(max(floor, 0.0)):.1f} under the board; {mm(fig['bore_floor_mm']):.1f} should "
            "stay, or a screw comes out through it." + (" They reach the board." if floor <= 0 else ""),
            feature=BOLTS, facts=[Fact(name="stays", value=round(floor, 3)),
                                  Fact(name="asked", value=fig["bore_floor_mm"], source="figures")],
            cures=[Cure(sentence=f"Bores {mm(most):g} deep",
                        edits=[set_edit("piece.neck.bolts.deep_mm", most)])] if most >= 3 else [],
        )
    walls = [(beside, words) for beside, words in _beside_bores(neck) if beside < fig["bar_wall_mm"] - 1e-6]
    if walls:
        left, words = min(walls, key=lambda w: w[0])
        tried = [(f"Bores {mm(v):g} apart across", {"bolts.across_mm": v})
                 for k in range(1, 30) for v in (round((bolts.across_mm or 0.0) + s * k, 1) for s in (1, -1))
                 if 10 <= v <= 60]
        tried += [(f"Bores {mm(v):g} from the end", {"bolts.from_end_mm": v})
                  for v in (round((bolts.from_end_mm or 0.0) + k, 1) for k in range(1, 25)) if v <= 60]
        helps = first_that(neck, tried, lambda n: all(w >= fig["bar_wall_mm"] for w, _ in _beside_bores(n)))
        yield finding(
            "neck.bore_beside",
            (f"{mm(left):.1f} of wood stands" if left > 0 else "No wood stands")
            + f" between a bore of the heel and {words}; {mm(fig['bar_wall_mm']):.1f} should."
            + ("" if helps else " Let them stand nearer together along the neck, or the rod end earlier."),
            feature=BOLTS, facts=[Fact(name="stands", value=round(left, 3)),
                                  Fact(name="asked", value=fig["bar_wall_mm"], source="figures")],
            cures=neck_cure(helps),
        )


def _beside_bores(neck: Neck) -> list[tuple[float, str]]:
    """Return the wood between the heel's bores and what lies beside them, and what that is."""
    points = shapely.MultiPoint(bolt_places(neck))
    radius = (neck.bolts.bore_mm or 0.0) / 2
    loft = Loft(neck)
    edge = shapely.Polygon(outline_points(neck)).intersection(
        shapely.box(neck.heel_from_mm, -200.0, 2000.0, 200.0))
    inside = 1.0 if edge.covers(points) else -1.0
    out = [(inside * float(edge.exterior.distance(points)) - radius, "the heel's edge")]
    reaches: dict[str, Any] = {f.id: f for f in neck_features(neck, loft.blank_mm) if f.id in UNDER_WORDS}
    for name, feature in reaches.items():
        if neck.heel_mm - (neck.bolts.deep_mm or 0.0) >= (getattr(feature, "depth_mm", 0.0) or 0.0):
            continue  # the bore ends before it
        s = feature.shape
        ring = shapely.box(s.x_mm - s.length_mm / 2, s.y_mm - s.width_mm / 2, s.x_mm + s.length_mm / 2,
                           s.y_mm + s.width_mm / 2)
        out.append((float(ring.distance(points)) - radius if not ring.intersects(points) else -radius,
                    UNDER_WORDS[name]))
    return out


@rule_once
def back_shape(sim: Simulation) -> Iterator[Finding]:
    """The shape of a neck's back: a ridge by its exponents, waves by its stations, a blank too thin for it."""
    neck = sim.whole.piece.neck
    if neck is None:
        return
    from ..neck.view import turns_of

    loft = Loft(neck)
    thin = loft.blank_mm - sim.whole_resolved.thickness_mm
    if thin > figures()["fretboard"]["shallow_mm"]:
        wanted = round(sim.whole.blank.thickness_mm + thin, 3)
        yield finding(
            "neck.blank_thin",
            f"The neck is {mm(loft.blank_mm):.2f} deep at its deepest, below its glue plane; its blank gives "
            f"{mm(sim.whole_resolved.thickness_mm):.2f}.",
            feature=BACK, facts=[Fact(name="deep", value=loft.blank_mm),
                                 Fact(name="blank gives", value=round(sim.whole_resolved.thickness_mm, 3))],
            cures=[Cure(sentence=f"Blank {mm(wanted):g} thick", edits=[set_edit("blank.thickness_mm", wanted)])],
        )
    turns = turns_of(loft)
    if turns:
        places = ", ".join(f"{mm(v):.0f}" for v in turns[:6])
        yield finding(
            "neck.waves",
            f"Along the shaft the back's curve changes from hollow to round, or back, at {places} from the nut. Set "
            f"stations do that; a hand feels it.",
            feature=BACK, facts=[Fact(name="changes", value=len(turns), unit="")],
            cures=[Cure(sentence="No thickness set between 1st and 12th", edits=[set_edit("piece.neck.stations", [
                {**s.model_dump(mode="json"), "thick_mm": None} for s in neck.stations])])],
        )


@rule
def ball_reaches(sim: Simulation) -> Iterator[Finding]:
    """The ball that finishes a back against its hollows, and how far below the rim it may go."""
    neck = sim.whole.piece.neck
    if neck is None:
        return
    hollow, at = Loft(neck).least_hollow_mm()
    for step in sim.steps:
        op = step.operation
        if BACK not in op.features or op.kind is not OperationKind.SURFACE_FINISH or step.bit.form is not BitForm.BALL:
            continue
        if step.bit.radius_mm >= hollow:
            narrow = [b for b in sim.route.bits if b.form is BitForm.BALL and b.radius_mm < hollow]
            bit = max(narrow, key=lambda b: b.radius_mm, default=None)
            yield finding(
                "neck.ball_wide",
                f"{step.bit.name} has a radius of {mm(step.bit.radius_mm):.1f}; the transition {mm(at):.0f} from the "
                f"nut is hollow by {mm(hollow):.1f}, and the ball cuts into both its sides."
                + ("" if bit else " Make the transition longer: no ball of the rack fits it."),
                operation=op.id, feature=BACK, place=(at, 0.0, 0.0),
                facts=[Fact(name="ball", value=step.bit.radius_mm), Fact(name="hollow", value=round(hollow, 2))],
                cures=[Cure(sentence=f"Cut it with the {bit.name}", edits=[
                    set_edit(f"operations.{op.id}.bit", bit.id)])] if bit else [],
            )
        short = step.bit.radius_mm - op.overcut_mm
        if short > figures()["neck"]["rim_short_mm"]:
            sheet = round(step.bit.radius_mm + figures()["neck"]["keep_mm"] + 0.5, 1)
            yield finding(
                "neck.rim_left",
                f"{op.name} stops {mm(op.overcut_mm):.1f} below the glue plane: its ball touches the back down to "
                f"{mm(short):.1f} over that plane, and a strip along both rims stays too full.",
                operation=op.id, feature=BACK,
                facts=[Fact(name="strip", value=round(short, 2)), Fact(name="radius", value=step.bit.radius_mm)],
                cures=[Cure(sentence=f"Lay it on a sheet of scrap {mm(sheet):g} thick and let the ball past the rim",
                            edits=[set_edit(f"setups.{sim.setup.id}.sheet_mm", sheet),
                                   set_edit(f"operations.{op.id}.overcut_mm", round(step.bit.radius_mm + 0.02, 3))])],
            )

