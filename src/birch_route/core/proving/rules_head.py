"""Rules over a headstock: its tuners, its grain, how strings run over it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np
import shapely

from ..data import figures
from ..neck.changed import Change, first_that
from ..neck.features import BUSHES, POSTS, RAMP
from ..neck.lines import outline_points, posts_of
from ..neck.loft import Loft
from ..neck.numbers import Neck
from ..neck.strings import head_strings, retainer_for
from ..neck.under import least_head
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .neck_cures import neck_cure
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def headstock(sim: Simulation) -> Iterator[Finding]:
    """A headstock against its tuners: thick enough to clamp, bores within it, housings beside each other."""
    neck = sim.whole.piece.neck
    if neck is None or neck.head.kind == "none":
        return
    head, tuners, fig = neck.head, neck.tuners, figures()["neck"]
    for limit, sign, words in ((tuners.least_thick_mm, 1, "need at least"), (tuners.most_thick_mm, -1, "take at most")):
        if limit is not None and sign * (limit - head.thick_mm) > 1e-6:
            yield finding(
                "neck.head_thick",
                f"The headstock is {mm(head.thick_mm):.1f} thick; these tuners {words} {mm(limit):.1f}.",
                feature=POSTS, facts=[Fact(name="thick", value=head.thick_mm),
                                      Fact(name="tuners", value=limit, source="reading")],
                cures=[Cure(sentence=f"Headstock {mm(limit):g} thick",
                            edits=[set_edit("piece.neck.head.thick_mm", limit)])],
            )
    deep = tuners.bush_deep_mm
    if deep is not None and deep > head.thick_mm - fig["bush_floor_mm"]:
        most = round(head.thick_mm - fig["bush_floor_mm"], 2)
        yield finding(
            "neck.bush_through",
            f"Bores for the bushes go {mm(deep):.1f} into a headstock {mm(head.thick_mm):.1f} thick: no shoulder stays "
            f"for the post's bore.",
            feature=BUSHES, facts=[Fact(name="deep", value=deep), Fact(name="thick", value=head.thick_mm)],
            cures=[Cure(sentence=f"Bushes {mm(most):g} deep",
                        edits=[set_edit("piece.neck.tuners.bush_deep_mm", most)])],
        )
    if tuners.pitch_mm is not None and tuners.pitch_mm < tuners.body_mm + fig["housing_mm"]:
        wanted = round(tuners.body_mm + fig["housing_mm"], 2)
        yield finding(
            "neck.housings",
            f"Housings {mm(tuners.body_mm):.1f} wide stand {mm(tuners.pitch_mm):.1f} apart: they overlap.",
            feature=POSTS, facts=[Fact(name="apart", value=tuners.pitch_mm), Fact(name="wide", value=tuners.body_mm)],
            cures=[Cure(sentence=f"Tuners {mm(wanted):g} apart",
                        edits=[set_edit("piece.neck.tuners.pitch_mm", wanted)])],
        )
    yield from _posts(sim, neck)


def _posts(sim: Simulation, neck: Neck) -> Iterator[Finding]:
    """Wood beside each bore, and whether its tuner stands on a level face, before and behind."""
    least, posts = figures()["neck"]["edge_mm"], posts_of(neck)
    if not posts:
        return
    rim = sim.whole_resolved.outline.exterior

    def beside(other: Neck) -> float:
        ring = rim if other is neck else shapely.Polygon(outline_points(other)).exterior
        wide = max(other.tuners.bush_mm or 0.0, other.tuners.post_mm or 0.0) / 2
        inside = shapely.Polygon(ring)
        return min(
            (float(ring.distance(shapely.Point(p.x_mm, p.y_mm))) if inside.contains(shapely.Point(p.x_mm, p.y_mm))
             else -1.0) - wide for p in posts_of(other))

    left = beside(neck)
    if left < least - 1e-6:
        tried = [(f"Posts {mm(v):g} from the edge", {"tuners.in_mm": v})
                 for v in (round(neck.tuners.in_mm + k, 1) for k in (1, 2, 3, 4, 6, 8))]
        tried += [(f"Headstock {mm(v):g} long", {"head.long_mm": v})
                  for v in (neck.head.long_mm + k for k in (5.0, 10.0, 20.0, 30.0, 45.0))]
        cures = neck_cure(first_that(neck, tried, lambda n: beside(n) >= least))
        yield finding(
            "neck.bore_edge",
            (f"{mm(left):.1f} of wood stands" if left > 0 else "No wood stands")
            + f" beside a tuner's bore; {mm(least):.1f} should."
            + ("" if cures else " Draw the headstock larger there, or its tuners nearer together."),
            feature=POSTS, facts=[Fact(name="stands", value=round(left, 2)),
                                  Fact(name="asked", value=least, source="figures")], cures=cures,
        )
    if neck.head.kind != "stepped":
        return
    first = max(p.x_mm for p in posts)
    room = max(neck.tuners.body_mm, neck.tuners.bush_mm or 0.0) / 2
    level = -max(neck.head.transition_mm, neck.head.shelf_mm + neck.head.ramp_mm)
    if first + room > level + 1e-6:
        wanted = round(room - level + 0.1, 1)
        yield finding(
            "neck.tuner_on_slope",
            f"The first tuner reaches to {mm(-(first + room)):.1f} behind the nut, where the headstock is not level "
            f"yet: it is from {mm(-level):.1f} on.",
            feature=POSTS, place=(first, 0.0, 0.0),
            facts=[Fact(name="reaches to", value=round(-(first + room), 2)), Fact(name="level from", value=-level)],
            cures=[Cure(sentence=f"First tuner {mm(wanted):g} from the nut",
                        edits=[set_edit("piece.neck.tuners.first_mm", wanted)])],
        )


@rule_once
def strings_over_head(sim: Simulation) -> Iterator[Finding]:
    """How strings break over the nut, turn aside there, and pass the posts of others."""
    neck = sim.whole.piece.neck
    if neck is None or neck.head.kind == "none":
        return
    fig, strings = figures()["neck"], head_strings(neck)
    loose = [s for s in strings if s.break_deg is not None and s.break_deg < fig["least_break_deg"]]
    if loose:
        found = retainer_for(neck)
        steeper = first_that(neck, _lower(neck), lambda n: all(
            s.break_deg is None or s.break_deg >= fig["least_break_deg"] for s in head_strings(n)))
        cures = neck_cure(steeper)
        if found is not None:
            at, count = found
            cures.append(Cure(
                sentence=f"A retainer {mm(at):g} behind the nut, over {count} strings",
                edits=[set_edit("piece.neck.head.retainer_mm", at),
                       set_edit("piece.neck.head.retainer_strings", count)]))
        worst = min(loose, key=lambda s: s.break_deg or 0.0)
        told = ", ".join(str(s.string) for s in loose)
        yield finding(
            "neck.string_loose",
            f"String{'s' if len(loose) > 1 else ''} {told} from the bass side break{'' if len(loose) > 1 else 's'} by "
            f"{worst.break_deg:.1f}° over the nut at the least; {fig['least_break_deg']:g}° keep a string in its "
            "slot.",
            feature=POSTS, facts=[Fact(name="breaks", value=round(worst.break_deg or 0.0, 2), unit="deg"),
                                  Fact(name="asked", value=fig["least_break_deg"], unit="deg", source="figures")],
            cures=cures,
        )
    for one in strings:
        if one.passes_mm is not None and one.passes_mm < fig["string_clear_mm"] - 1e-6:
            helps = first_that(neck, _spread(neck), lambda n: all(
                s.passes_mm is None or s.passes_mm >= fig["string_clear_mm"] for s in head_strings(n)))
            yield finding(
                "neck.string_post",
                f"String {one.string} from the bass side passes the post of string {one.passes} with "
                f"{mm(max(one.passes_mm, 0.0)):.1f} to spare; {mm(fig['string_clear_mm']):.1f} keeps it free.",
                feature=POSTS, cures=neck_cure(helps),
                facts=[Fact(name="to spare", value=round(one.passes_mm, 2)),
                       Fact(name="asked", value=fig["string_clear_mm"], source="figures")],
            )
            break
    turned = max(strings, key=lambda s: s.side_deg, default=None)
    if turned is not None and turned.side_deg > fig["most_side_deg"]:
        helps = first_that(neck, _spread(neck), lambda n: all(
            s.side_deg <= fig["most_side_deg"] for s in head_strings(n)))
        yield finding(
            "neck.string_turns",
            f"String {turned.string} from the bass side turns aside by {turned.side_deg:.1f}° at the nut; over "
            f"{fig['most_side_deg']:g}° it binds in its slot.",
            feature=POSTS, cures=neck_cure(helps),
            facts=[Fact(name="turns", value=round(turned.side_deg, 2), unit="deg"),
                   Fact(name="at most", value=fig["most_side_deg"], unit="deg", source="figures")],
        )


def _lower(neck: Neck) -> Iterable[Change]:
    if neck.head.kind == "stepped":
        for k in range(1, 17):
            step = round(neck.head.step_mm + 0.5 * k, 2)
            yield f"Headstock {mm(step):g} below the glue plane", {"head.step_mm": step}


def _spread(neck: Neck) -> Iterable[Change]:
    for more in (2.0, 4.0, 6.0, 9.0, 12.0, 16.0):
        into = round(neck.tuners.in_mm + more, 1)
        yield f"Posts {mm(into):g} from the edge", {"tuners.in_mm": into}
    for more in (2.0, 4.0, 6.0):
        into = round(neck.tuners.in_mm - more, 1)
        if into >= 5:
            yield f"Posts {mm(into):g} from the edge", {"tuners.in_mm": into}
    for more in (8.0, 16.0, 26.0):
        first = neck.tuners.first_mm + more
        yield f"First tuner {mm(first):g} from the nut", {"tuners.first_mm": first}


@rule_once
def thin_behind_nut(sim: Simulation) -> Iterator[Finding]:
    """The wood between a headstock's face and its back, where the neck bends over into it."""
    neck, least = sim.whole.piece.neck, figures()["neck"]["head_least_mm"]
    if neck is None or neck.head.kind == "none":
        return
    left, x = least_head(Loft(neck))
    if left >= least - 1e-6:
        return
    tried: list[Change] = [
        (f"Transition at the back {mm(v):g} long", {"head.transition_mm": v})
        for v in np.arange(neck.head.transition_mm - 3, 15, -3).tolist()
    ]
    tried += [(f"Ramp {mm(v):g} long", {"head.ramp_mm": v})
              for v in np.arange(neck.head.ramp_mm + 4, 58, 4).tolist()]
    tried += [(f"Crest of {mm(v):g} behind the nut", {"head.volute_mm": v})
              for v in np.arange(neck.head.volute_mm + 0.5, 6.0, 0.5).tolist()]
    tried += [(f"Headstock {mm(v):g} thick", {"head.thick_mm": v})
              for v in np.arange(neck.head.thick_mm + 0.5, 20, 0.5).tolist()]
    cures = neck_cure(first_that(neck, tried, lambda n: least_head(Loft(n))[0] >= least))
    yield finding(
        "neck.head_thin",
        f"{mm(left):.1f} of wood stays behind the nut, {mm(-x):.0f} from it, between the headstock's face and its "
        f"back; "
        f"{mm(least):.1f} should." + ("" if cures else " Let its face lie less low, or the neck be deeper there."),
        feature=RAMP, place=(x, 0.0, 0.0), cures=cures,
        facts=[Fact(name="stays", value=round(left, 3)), Fact(name="asked", value=least, source="figures")],
    )


@rule_once
def short_grain(sim: Simulation) -> Iterator[Finding]:
    """A headstock that leans, cut from the neck's own wood, has its grain run out through both faces."""
    neck, fig = sim.whole.piece.neck, figures()["neck"]
    if neck is None or neck.head.kind != "angled" or neck.head.angle_deg <= fig["run_out_deg"]:
        return
    yield finding(
        "neck.short_grain",
        f"The headstock leans by {neck.head.angle_deg:g}° in the neck's own wood: its grain runs out by that much, "
        f"and short grain breaks behind the nut when the neck falls. {fig['run_out_deg']:g}° is held to be safe.",
        feature=RAMP,
        facts=[Fact(name="runs out", value=neck.head.angle_deg, unit="deg"),
               Fact(name="asked", value=fig["run_out_deg"], unit="deg", source="figures")],
        cures=[Cure(sentence="A level headstock, stepped down",
                    edits=[set_edit("piece.neck.head.kind", "stepped")])],
    )
