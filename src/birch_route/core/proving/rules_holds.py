"""Rules over how well the wood is held: the pull of every cut against what the contacts balance; wood that lies free; a vacuum that a cut opens."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Point

from ..cutting.mechanics import chip_load_window, load
from ..data import figures
from ..holding.balance import Balance, ask
from ..holding.clearance import footprint, no_go_heights
from ..holding.contacts import elements_of, lifts_by
from ..holding.vacuum import vacuum_bar
from ..quantities import cm2, mm, mm2, rate
from ..route import Hardware, Tab
from ..vocabulary import Clearing, HardwareKind, OperationKind, School
from .findings import Cure, Fact, Finding, finding
from .holds import Hold, holds, lying_of, places_of
from .registry import rule_on_force, rule_on_wood, set_edit
from .rules_holding import tab_cure
from .simulate import Simulation, Step
from .spans import spacer_for, spans


@rule_on_force
def held_too_weakly(sim: Simulation) -> Iterator[Finding]:
    """The contacts balance less than the factor of safety times what a cut pulls with; told of the weakest operation of a setup."""
    if not sim.setup.hardware:
        return
    weak = [(h, s) for h, s in zip(holds(sim), sim.steps, strict=True) if h is not None and h.factor < h.needs * 0.999]
    if not weak:
        return
    hold, step = min(weak, key=lambda w: w[0].factor / w[0].needs)
    others = f" {len(weak) - 1} more of its operations {'is' if len(weak) == 2 else 'are'} under that." if len(weak) > 1 else ""
    rests = next((k for k in hold.parts if hold.parts[k] > 0.05), "")
    by = f"Most of it rests on {_words(sim, rests)}." if rests else ""
    where = "Once it is cut free, tabs" if hold.joined and rests.startswith("tab") else "Once it is cut free, the skin" if hold.joined else "Toward the " + toward(sim, hold.worst_deg) + " it"
    tail = f" toward the {toward(sim, hold.worst_deg)}" if hold.joined else ""
    verb = "hold" if where.endswith("tabs") else "holds"
    yield finding(
        "holding.weak", f"{where} {verb} {hold.factor:.1f} times the pull of {step.operation.name}{tail}; {hold.needs:g} is the least. {by}{others}".replace("  ", " ").strip(),
        operation=step.operation.id, place=hold.place, cures=_cures(sim, step, hold),
        facts=[Fact(name="pulls", value=round(hold.pulls_n, 1), unit="N", source="figures, unverified"), Fact(name="holds", value=round(hold.least_n, 1), unit="N", source="figures, unverified"),
               Fact(name="factor", value=round(hold.factor, 2), unit=""), Fact(name="least", value=hold.needs, unit="", source="figures, unverified")])


def _words(sim: Simulation, contact: str) -> str:
    one = next((h for h in sim.setup.hardware if h.id == contact), None)
    return contact if one is None else one.words.lower()


def toward(sim: Simulation, deg: float) -> str:
    """Return which way a direction of the setup's plan points on the piece, in words."""
    sx, sy = sim.frame.signs
    x, y = sx * math.cos(math.radians(deg)), sy * math.sin(math.radians(deg))
    words = ([("tail" if x > 0 else "neck")] if abs(x) > 0.38 else [])
    side = [("treble" if y > 0 else "bass")] if abs(y) > 0.38 else []
    return " ".join(side + words) if side and words else (side or words)[0] + (" side" if side else "")


def _cures(sim: Simulation, step: Step, hold: Hold) -> list[Cure]:
    """Return what would bring the factor up, each computed: wider tabs or more screws, a slower feed, a smaller depth of cut."""
    more = _more_screws(sim, step, hold) if hold.base else _more_tabs(sim, step, hold) or tab_cure(sim, step)
    return [*more, *_less_pull(sim, step, hold), *_other_way(sim, step, hold)]


def _other_way(sim: Simulation, step: Step, hold: Hold) -> list[Cure]:
    """Return a bit that does not lift, and clearing with a bounded engagement, where either is enough."""
    op, places, out = step.operation, places_of(step), []
    if hold.lifts > 0 and places is not None and min(ask(Balance(hold.elements, hold.place), places, 0.0)[0]) >= hold.pulls_n * hold.needs * 1.01:
        deep = max(step.deepest_mm, step.finish_deepest_mm)
        other = next((b for b in sim.route.bits if b.form is step.bit.form and abs(b.cut_diameter_mm - step.bit.cut_diameter_mm) < 0.02 and lifts_by(b) <= 0 and b.cutting_length_mm >= min(deep, step.bit.cutting_length_mm)), None)
        if other is not None:
            out.append(
                Cure(
                    sentence=f"Take the {other.name}: it does not lift",
                    edits=[set_edit(f"operations.{op.id}.bit", other.id)],
                )
            )
    clears = op.kind is OperationKind.POCKET and op.clearing is Clearing.RINGS and not op.rest and not op.along_wall
    if clears and step.finish_load is None and step.load.force_n > 0:
        for deg in ENGAGED_DEG:
            narrow = step.bit.radius_mm * (1 - math.cos(math.radians(deg))) * figures()["holding"]["engaged_met_part"]  # at its entry it meets more
            pull = load(step.bit, step.species, sim.route.machine, op.settings.feed_mm_min, op.settings.speed_rpm, step.deepest_mm, narrow).force_n
            if narrow < step.widest_mm and hold.least_n >= pull * hold.needs * 1.02:
                out.append(
                    Cure(
                        sentence=f"Clear with at most {deg:.0f}° of the rim in wood",
                        edits=[
                            set_edit(f"operations.{op.id}.clearing", Clearing.ENGAGED.value),
                            set_edit(f"operations.{op.id}.engaged_deg", deg),
                        ],
                    )
                )
                break
    return out


def _less_pull(sim: Simulation, step: Step, hold: Hold) -> list[Cure]:
    """Return the feed, and the depth of cut or of the pass along the wall, at which the pull is as small as the holding asks."""
    s, op, places, out = step.operation.settings, step.operation, places_of(step), []
    deep, wide = step.deepest_mm or s.depth_of_cut_mm, step.widest_mm or step.bit.cut_diameter_mm

    def rough(feed: float, depth: float) -> float:
        return load(step.bit, step.species, sim.route.machine, feed, s.speed_rpm, depth, wide).force_n

    def along_wall(feed: float, depth: float) -> float:
        return load(step.bit, step.species, sim.route.machine, feed, s.speed_rpm, depth, step.finish_widest_mm).force_n if step.finish_load else 0.0

    least = max(chip_load_window(step.bit, step.species).careful * s.speed_rpm * step.bit.flutes, FEED_STEP)
    feed = s.feed_mm_min
    while feed >= least and max(rough(feed, deep), along_wall(feed, step.finish_deepest_mm)) > hold.least_n / hold.needs:
        feed -= FEED_STEP
    if least <= feed < s.feed_mm_min:
        out.append(
            Cure(
                sentence=f"Feed {rate(feed):.0f}, {s.feed_mm_min / feed:.1f} times as long",
                edits=[set_edit(f"operations.{op.id}.settings.feed_mm_min", round(feed))],
            )
        )
    by_wall = along_wall(s.feed_mm_min, step.finish_deepest_mm) > rough(s.feed_mm_min, deep)
    now, pull = (step.finish_deepest_mm, along_wall) if by_wall else (deep, rough)
    for part in (0.85, 0.7, 0.55, 0.4, 0.3, 0.2):
        depth = math.floor(now * part * 20) / 20
        if depth < figures()["holding"]["least_depth_mm"] or places is None:
            continue
        higher = places + [0.0, 0.0, 0.0 if by_wall and deep >= now else (now - depth) / 2]  # a pass that is not so deep pulls higher up
        holds_n = min(ask(Balance(hold.elements, hold.place), higher, hold.lifts)[0])
        asked = max(pull(s.feed_mm_min, depth), rough(s.feed_mm_min, deep) if by_wall else along_wall(s.feed_mm_min, step.finish_deepest_mm))
        if holds_n >= asked * hold.needs * 1.01:
            field, words = (
                (f"operations.{op.id}.finish_depth_mm", f"Wall pass {mm(depth):.2f} deep at a time")
                if by_wall
                else (f"operations.{op.id}.settings.depth_of_cut_mm", f"Depth of cut {mm(depth):.2f}")
            )
            out.append(Cure(sentence=words, edits=[set_edit(field, depth)]))
            break
    return out


FEED_STEP = 50.0
ENGAGED_DEG = (60.0, 45.0, 30.0)


def _more_tabs(sim: Simulation, step: Step, hold: Hold) -> list[Cure]:
    """Return wider tabs that bring the factor up: what they bear grows with their width."""
    op = next((s.operation for s in sim.steps if s.operation.tabs), None)
    if op is None or op.school is not School.TABS or hold.factor < 0.1:
        return []
    width = math.ceil(max(t.width_mm for t in op.tabs) * hold.needs / hold.factor * 1.02 * 2) / 2
    if width > figures()["holding"]["tab_most_mm"]:
        return []
    tabs: list[Tab] = [t.model_copy(update={"width_mm": max(t.width_mm, width)}) for t in op.tabs]
    return [
        Cure(
            sentence=f"Tabs {mm(width):.1f} wide",
            edits=[set_edit(f"operations.{op.id}.tabs", [t.model_dump(mode="json") for t in tabs])],
        )
    ]


TRIES = 10
RASTER_MM = 15.0


def _more_screws(sim: Simulation, step: Step, hold: Hold) -> list[Cure]:
    """Return as many more screws as it takes, each where it makes the weakest direction strongest, of places in waste that nothing passes over."""
    places = places_of(step)
    if places is None:
        return []
    first = next((h for h in sim.setup.hardware if h.kind is HardwareKind.SCREW), Hardware(id="s", kind=HardwareKind.SCREW, x_mm=0.0, y_mm=0.0, top_mm=-1.5))
    lying, free = lying_of(sim, step), _free_places(sim, first)
    used, added, elements, best = {h.id for h in sim.setup.hardware}, [], list(hold.elements), 0.0
    while len(added) < figures()["holding"]["more_screws"] and best < hold.needs * 1.02:
        spots = [p for p in free if all(math.hypot(p[0] - h.x_mm, p[1] - h.y_mm) > figures()["holding"]["screw_apart_mm"] + first.head_diameter_mm for h in added)]
        number = next(k for k in range(1, 200) if f"s{k}" not in used)
        tried = []
        for x, y in spots[:: max(1, len(spots) // TRIES)]:
            one = first.model_copy(update={"id": f"s{number}", "x_mm": round(x, 1), "y_mm": round(y, 1)})
            own = elements_of([one], lying)[:1]
            balance, lifts = Balance([*elements, *own], hold.place), lifts_by(step.bit)
            tried.append((min(balance.most((math.cos(k * math.pi / 3), math.sin(k * math.pi / 3), lifts), p) for p in places[::2] for k in range(6)), one, own))
        if not tried:
            break
        _, one, own = max(tried, key=lambda t: t[0])
        added.append(one)
        used.add(one.id)
        elements += own
        best = min(ask(Balance(elements, hold.place), places, lifts_by(step.bit))[0]) / hold.pulls_n
    if not added or best < hold.needs:
        return []
    label = (
        f"One more screw at {mm(added[0].x_mm):.0f}, {mm(added[0].y_mm):.0f}"
        if len(added) == 1
        else f"{len(added)} more screws"
    )
    return [
        Cure(
            sentence=f"{label}: holds {best:.1f} times",
            edits=[{"do": "put_hardware", "setup": sim.setup.id, "hardware": h.model_dump(mode="json")} for h in added],
        )
    ]


def _free_places(sim: Simulation, screw: Hardware) -> list[tuple[float, float]]:
    """Return places in waste where a screw stands clear of every move, of other hardware and of the blank's edge."""
    blank = sim.route.blank
    lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], sim.route.machine.nut_diameter_mm, blank, sim.tol.near_hardware_mm + 0.5, heads=sim.route.machine.heads, up_to_mm=blank.top_mm + screw.top_mm + 0.01)
    edge, others = 2.5 * screw.shaft_diameter_mm, [footprint(h) for h in sim.setup.hardware if not h.lies_under]
    out = []
    for x in np.arange(blank.x_mm + edge, blank.x_mm + blank.length_mm - edge + 1, RASTER_MM).tolist():
        for y in np.arange(blank.y_mm + edge, blank.y_mm + blank.width_mm - edge + 1, RASTER_MM).tolist():
            cell, spot = lowest.grid.cell_of(x, y), Point(x, y).buffer(screw.head_diameter_mm / 2)
            if cell is None or sim.resolved.outline.intersects(spot) or min((o.distance(spot) for o in others), default=99.0) <= figures()["holding"]["screw_apart_mm"]:
                continue
            j, i = cell
            if (lowest.top[j - 2: j + 3, i - 2: i + 3] >= blank.top_mm + screw.top_mm).all():
                out.append((x, y))
    return out


@rule_on_force
def free_span(sim: Simulation) -> Iterator[Finding]:
    """Wood that lies free between its supports gives under the bit."""
    most = figures()["holding"]["span_gives_mm"]
    found = [s for s in spans(sim) if s.gives_mm > most]
    if not found:
        return
    span = max(found, key=lambda s: s.gives_mm)
    others = f" So it is at {len(found) - 1} more operation{'s' if len(found) > 2 else ''}." if len(found) > 1 else ""
    used = {h.id for h in sim.setup.hardware}
    number = next(k for k in range(1, 200) if f"u{k}" not in used)
    x, y, long, wide, angle = spacer_for(span)
    spacer = Hardware(id=f"u{number}", kind=HardwareKind.SPACER, x_mm=round(x, 1), y_mm=round(y, 1), length_mm=round(long, 1), width_mm=round(wide, 1), angle_deg=round(angle, 1))
    yield finding(
        "holding.span",
        f"At {span.step.operation.name} the wood lies free over {mm(span.span_mm):.0f}, {mm(span.thick_mm):.1f} "
        f"thick, and gives {mm(span.gives_mm):.2f} under {span.force_n:.0f} N; {mm(most):g} is the most.{others}",
        operation=span.step.operation.id,
        place=(span.x_mm, span.y_mm, sim.route.blank.top_mm),
        facts=[
            Fact(name="span", value=round(span.span_mm, 1)),
            Fact(name="thick", value=round(span.thick_mm, 2)),
            Fact(name="force", value=round(span.force_n, 1), unit="N", source="figures, unverified"),
            Fact(name="gives", value=round(span.gives_mm, 3)),
            Fact(name="most", value=most, source="figures, unverified"),
        ],
        cures=[
            Cure(
                sentence=f"A spacer {mm(span.spacer_mm):.1f} thick at {mm(spacer.x_mm):.0f}, {mm(spacer.y_mm):.0f}",
                edits=[{"do": "put_hardware", "setup": sim.setup.id, "hardware": spacer.model_dump(mode="json")}],
            )
        ],
    )


@rule_on_wood
def vacuum_opened(sim: Simulation) -> Iterator[Finding]:
    """A cut goes through where vacuum lies under the wood, or the wood does not cover it: it draws air."""
    for h in sim.setup.hardware:
        if h.kind is not HardwareKind.VACUUM:
            continue
        shape = footprint(h)
        xs, ys = sim.grid.x_centres(), sim.grid.y_centres()
        xmin, ymin, xmax, ymax = shape.bounds
        a, b = np.searchsorted(xs, [xmin, xmax]), np.searchsorted(ys, [ymin, ymax])
        inside = shapely.contains_xy(shape, *np.meshgrid(xs[a[0]: a[1]], ys[b[0]: b[1]]))
        before = sim.blank_top[b[0]: b[1], a[0]: a[1]] > sim.bottom[b[0]: b[1], a[0]: a[1]]
        bare = float((inside & ~before).sum()) * sim.grid.cell_mm**2 + max(0.0, shape.area - float(inside.sum()) * sim.grid.cell_mm**2 - 0.02 * shape.area)
        if bare > LEAK_MM2:
            yield finding(
                "holding.leaks",
                f"{h.words} is not covered by wood over {cm2(bare / 100):.1f}: it draws air and holds nothing.",
                hardware=h.id,
                place=(h.x_mm, h.y_mm, sim.route.blank.bottom_mm),
                facts=[Fact(name="bare", value=round(bare, 1), unit="mm2")],
            )
            continue
        bed = float(sim.bottom[sim.blank_top > sim.bottom].min())
        rim = inside & ~shapely.contains_xy(shape.buffer(-figures()["holding"]["gasket_edge_mm"]), *np.meshgrid(xs[a[0]: a[1]], ys[b[0]: b[1]]))
        off = rim & (sim.bottom[b[0]: b[1], a[0]: a[1]] > bed + figures()["holding"]["bed_gap_mm"])
        if off.sum() * sim.grid.cell_mm**2 > LEAK_MM2:
            j, i = (int(v[len(v) // 2]) for v in np.nonzero(off))
            yield finding(
                "holding.leaks",
                f"{h.words} does not seal: the wood does not lie on its gasket over "
                f"{cm2(off.sum() * sim.grid.cell_mm**2 / 100):.1f}, where the face below is cut.",
                hardware=h.id,
                place=(float(xs[a[0] + i]), float(ys[b[0] + j]), sim.route.blank.bottom_mm),
                facts=[Fact(name="off the gasket", value=round(float(off.sum()) * sim.grid.cell_mm**2, 1), unit="mm2")],
            )
            continue
        for step in sim.steps:
            gone = inside & (step.top[b[0]: b[1], a[0]: a[1]] <= sim.bottom[b[0]: b[1], a[0]: a[1]])
            if gone.sum() * sim.grid.cell_mm**2 > LEAK_MM2:
                j, i = (int(v[len(v) // 2]) for v in np.nonzero(gone))
                if sim.route.machine.pump is not None:
                    yield from _falls(sim, step, h, float(gone.sum()) * sim.grid.cell_mm**2, (float(xs[a[0] + i]), float(ys[b[0] + j]), sim.route.blank.bottom_mm))
                    break
                yield finding("holding.leaks", f"{step.operation.name} cuts through over {h.words.lower()}: it draws air there and holds nothing from then on.", operation=step.operation.id, hardware=h.id,
                              place=(float(xs[a[0] + i]), float(ys[b[0] + j]), sim.route.blank.bottom_mm), facts=[Fact(name="opened", value=round(float(gone.sum()) * sim.grid.cell_mm**2, 1), unit="mm2")])
                break


def _falls(sim: Simulation, step: Step, h: Hardware, open_mm2: float, place: tuple[float, float, float]) -> Iterator[Finding]:
    """Tell how far the pressure falls once a cut has opened a vacuum; what that does to the holding is the load balance's."""
    before, after = vacuum_bar(h, sim.route.machine.pump), vacuum_bar(h, sim.route.machine.pump, open_mm2)
    if after < before * (1 - figures()["vacuum"]["falls_part"]):
        yield finding(
            "holding.vacuum_falls",
            f"{step.operation.name} opens {mm2(open_mm2):.0f} over {h.words.lower()}: the pump keeps {after:.2f} "
            f"bar there from then on, not {before:.2f}.",
            operation=step.operation.id,
            hardware=h.id,
            place=place,
            facts=[
                Fact(name="opened", value=round(open_mm2, 1), unit="mm2"),
                Fact(name="before", value=round(before, 3), unit="bar"),
                Fact(name="after", value=round(after, 3), unit="bar", source="pump curve"),
            ],
        )


LEAK_MM2 = 2.0
