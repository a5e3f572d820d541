"""Rules over what was measured: missing readings, outliers, spread, single readings."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures, part_places
from ..instrument.parts import read_place
from ..instrument.resolve import trust_of
from ..instrument.tied import WORDS, can_follow, part_of, sizes_of
from ..instrument.waiting import missing_of, words_of
from ..piece import Hole, Pocket
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def unmeasured(sim: Simulation) -> Iterator[Finding]:
    """Sizes of a part that nobody measured decide a cut."""
    for solid in sim.resolved.solids.values():
        if solid.unmeasured:
            missing = ", ".join(label(sim, place) for place in solid.unmeasured[:4])
            x, y = solid.region.representative_point().coords[0]
            yield finding("part.unmeasured", f"{solid.name} rests on what was never measured: {missing}. Put the "
                f"caliper on it first.", feature=solid.id,
                          place=(x, y, 0.0), facts=[Fact(name="readings missing", value=len(solid.unmeasured), unit="")])


@rule_once
def waiting(sim: Simulation) -> Iterator[Finding]:
    """A feature whose part nobody has measured at all waits: nothing is cut for it."""
    for feature in sim.whole.piece.features:
        missing = missing_of(sim.whole, feature)
        if missing:
            words = "; ".join(label(sim, m) for m in missing[:4])
            yield finding(
                "part.waits",
                f"Nothing is cut for {feature.name}: it waits for {words}.",
                feature=feature.id,
                facts=[Fact(name="readings missing", value=len(missing), unit="")],
            )


@rule_once
def drawn_as_read(sim: Simulation) -> Iterator[Finding]:
    """A hole or pocket that is said to be measured from a part does not take that part as it was read."""
    for feature in sim.whole.features:
        part = part_of(sim.whole, feature)
        drawn = any(f.id == feature.id for f in sim.whole.piece.features)
        if part is None or not drawn or feature.id not in sim.resolved.solids:
            continue
        wrong = [s for s in sizes_of(sim.whole, feature) if s.differs]
        if not wrong:
            continue
        solid = sim.resolved.solid(feature.id)
        x, y = solid.points[0] if solid.points else solid.region.representative_point().coords[0]
        told = "; ".join(f"{mm(s.drawn_mm):.2f} {WORDS[s.what]} as drawn, {s.label.lower()} read "
                         f"{mm(s.read_mm or 0.0):.2f}" for s in wrong)
        facts = [
            f
            for s in wrong
            for f in (
                Fact(name=f"drawn {WORDS[s.what]}", value=round(s.drawn_mm, 3), source="route"),
                Fact(name=s.label.lower(), value=round(s.read_mm or 0.0, 3), source="reading"),
            )
        ]
        cures = (
            [Cure(sentence=f"Follow the readings of {part.name}", edits=_tie(feature, part.id))]
            if can_follow(feature)
            else []
        )
        yield finding(
            "part.differs",
            f"{feature.name} and {part.name} disagree: {told}.",
            feature=feature.id,
            place=(x, y, 0.0),
            facts=facts,
            cures=cures,
        )


def _tie(feature: Hole | Pocket, part: str) -> list[dict[str, object]]:
    """Return the edits that make a drawn feature follow its part."""
    return [
        set_edit(f"piece.features.{feature.id}.measured_from", part),
        set_edit(f"piece.features.{feature.id}.follows", True),
    ]


def label(sim: Simulation, place: str) -> str:
    """Return the words for `part.place`."""
    part_id, _, key = place.partition(".")
    part = sim.route.part(part_id)
    if part is None or (key and key not in part_places()[part.kind.value]):
        return place
    return words_of(sim.route.parts, place) if key else part.name


def resting(sim: Simulation, features: list[str]) -> dict[str, object]:
    """Return what features rest on: the worst trust of any ("assumed", "single", "measured" or "told"), and the places that were measured
    only once or never, or came with a file, in words."""
    order = ("assumed", "single", "measured", "told")
    found, once, never, told = "told", [], [], []
    for feature in features:
        solid = sim.resolved.solids.get(feature)
        if solid is None:
            never += [label(sim, p) for p in sim.route.waits_for(feature)]
            found = "assumed"
            continue
        found = min(found, trust_of(solid, sim.route), key=order.index)
        never += [label(sim, p) for p in solid.unmeasured]
        for place in solid.rests_on:
            part_id, _, key = place.partition(".")
            part = sim.route.part(part_id)
            if part is not None and len(read_place(part, key).values_mm) == 1:
                once.append(label(sim, place))
            if part is not None and read_place(part, key).told:
                told.append(label(sim, place))
    return {
        "trust": found,
        "told": list(dict.fromkeys(told)),
        "once": list(dict.fromkeys(once)),
        "never": list(dict.fromkeys(never)),
    }


@rule_once
def readings_told(sim: Simulation) -> Iterator[Finding]:
    """Readings that came with a file: nobody of this shop took them."""
    for part in sim.route.parts:
        told = [r for r in part.readings if r.told]
        if told and all(read_place(part, p).told for p in {r.place for r in told}):
            yield finding(
                "reading.told",
                f"The readings of {part.name} came with a file; nobody here has measured "
                f"it. Take at least those that matter again, or say that they are of this very part.",
                facts=[Fact(name="readings", value=len(told), unit="", source="file")],
                cures=[
                    Cure(
                        sentence="They are of this part", edits=[set_edit(f"parts.{part.id}.readings.each.told", False)]
                    )
                ],
            )


@rule_once
def readings_agree(sim: Simulation) -> Iterator[Finding]:
    """An outlier, a wide spread, or a place measured only once."""
    within = figures()["spread"]["within_mm"]
    for part in sim.route.parts:
        for key, spec in part_places()[part.kind.value].items():
            place = read_place(part, key)
            where = f"{part.name}, {spec['label'].lower()}"
            if place.outlier is not None:
                off = place.values_mm[place.outlier] - (place.value_mm or 0.0)
                yield finding(
                    "reading.outlier",
                    f"Reading {place.outlier + 1} of {where} is {mm(off):+.2f} off the others. Take it again.",
                    facts=[
                        Fact(name="reading", value=place.values_mm[place.outlier], source="reading"),
                        Fact(name="others", value=round(place.value_mm or 0, 3), source="reading"),
                    ],
                    cures=[
                        Cure(
                            sentence="Drop that reading",
                            edits=[{"do": "drop_reading", "part": part.id, "place": key, "index": place.outlier}],
                        )
                    ],
                )
            elif place.spread_mm > within + 1e-9:
                yield finding(
                    "reading.spread",
                    f"Readings of {where} differ by {mm(place.spread_mm):.2f}; {mm(within):.2f} is the most for a fit.",
                    facts=[Fact(name="spread", value=round(place.spread_mm, 3), source="reading")],
                )
            elif len(place.values_mm) == 1 and spec["needed"]:
                yield finding("reading.single", f"{where[0].upper()}{where[1:]} was measured only once.",
                              facts=[Fact(name="reading", value=place.values_mm[0], source="reading")])
