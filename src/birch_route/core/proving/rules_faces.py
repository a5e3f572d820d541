"""Rules over both faces of a piece: what lies between their cuts, contours that run into features, the face that nobody turns up."""

from __future__ import annotations

from collections.abc import Iterator

from ..instrument.clearances import least_between, opens_into
from ..instrument.resolve import Solid
from ..neck.features import OF_NECK
from ..quantities import mm
from ..route import Pocket
from ..vocabulary import Face, FinishClass
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, rule_once, set_edit
from .simulate import Simulation


def _breaks_through(sim: Simulation, one: Solid, other: Solid, left: float, least: float, place: tuple[float, float]) -> Finding:
    """Two pockets from opposite faces meet and nobody said that they should."""
    drawn = {f.id: f for f in sim.whole.piece.features}
    cures = []
    for solid in (other, one):
        feature = drawn.get(solid.id)
        shallower = solid.deep_mm(sim.resolved.thickness_mm) - (least - left)
        if feature is not None and getattr(feature, "depth_from", None) is None and shallower > 0.5:
            cures.append(
                Cure(
                    sentence=f"{solid.name} {mm(least - left):.1f} shallower",
                    edits=[set_edit(f"piece.features.{solid.id}.depth_mm", round(shallower - 0.01, 2))],
                )
            )
            break
    cures += _follow(sim, one, other, least)
    if one.id in drawn:
        cures.append(
            Cure(
                sentence="It is meant to open",
                edits=[set_edit(f"piece.features.{one.id}.opens_into", [*drawn[one.id].opens_into, other.id])],
            )
        )
    return finding(
        "feature.break_through",
        f"{one.name} and {other.name} on the back meet: their depths are {mm(-left):.1f} more than the piece is thick.",
        feature=one.id,
        place=(*place, -one.deep_mm(sim.resolved.thickness_mm)),
        cures=cures,
        facts=[Fact(name="floor", value=round(left, 2)), Fact(name="asked", value=least, source="feature")],
    )


def _follow(sim: Simulation, one: Solid, other: Solid, keep_mm: float) -> list[Cure]:
    """Offer that a hidden pocket's floor keeps away from what is cut from the other face."""
    drawn = {f.id: f for f in sim.whole.piece.features}
    able = next((s for s in (one, other) if isinstance(drawn.get(s.id), Pocket) and s.surface is None and s.finish_class in (FinishClass.HIDDEN, FinishClass.FREE) and drawn[s.id].depth_from is None), None)
    return (
        [
            Cure(
                sentence=f"Let the floor of {able.name} stay {mm(keep_mm):g} away",
                edits=[set_edit(f"piece.features.{able.id}.follows_mm", keep_mm)],
            )
        ]
        if able and keep_mm >= 1
        else []
    )


@rule_on_wood
def between_faces(sim: Simulation) -> Iterator[Finding]:
    """The wood between what is cut from the front and what is cut from the back over it is thinner than either asks."""
    if sim.index > 0:
        return
    thick = sim.resolved.thickness_mm
    whole = sim.whole_resolved if sim.frame.about is None else sim.resolved  # with what lies under glued layers
    solids = [s for s in whole.solids.values() if s.kind != "outline" and s.floor_mm is not None]
    for one in (s for s in solids if s.face is Face.FRONT):
        for other in (s for s in solids if s.face is Face.BACK):
            shared = one.region.intersection(other.region)
            if shared.area < 0.5 or (other.kind == "neck_back" and one.id in OF_NECK):  # told with what it is about
                continue
            left = least_between(one, other, shared, thick)
            least = max(one.least_floor_mm, other.least_floor_mm)
            if left >= least - sim.tol.depth_mm:
                continue
            x, y = shared.representative_point().coords[0]
            if left <= 0.01:
                if not opens_into(sim.whole, sim.resolved, one.id, other.id):
                    yield _breaks_through(sim, one, other, left, least, (x, y))
                continue
            yield finding(
                "feature.floor_thin",
                f"{mm(left):.1f} is left between {one.name} and {other.name} on the back. {mm(least):.1f} was asked "
                f"for.",
                feature=one.id,
                place=(x, y, -one.deep_mm(thick)),
                cures=_follow(sim, one, other, least),
                facts=[Fact(name="floor", value=round(left, 2)), Fact(name="asked", value=least, source="feature")],
            )


@rule_once
def contour_clash(sim: Simulation) -> Iterator[Finding]:
    """A bevel runs into a pocket, a hole or a joint of its face: a plate, ring or heel would sit on the slope there."""
    solids = [s for s in sim.whole_resolved.solids.values() if s.kind != "outline"]
    whole = ("board_face", "neck_back", "head_slope")  # round all over; tuners on a slope are told with the neck's
    for one in (s for s in solids if s.is_contour and s.kind not in whole):
        walled = (s for s in solids if s.has_walls and s.kind != "channel")
        for other in (s for s in walled if s.face is one.face or s.floor_mm is None):
            shared = one.region.intersection(other.region)
            if shared.area < 0.5 or (one.kind in ("carve", "relief") and any(j.is_open and j.region.covers(other.region) for j in solids)):  # a heel stands in its pocket, not on the carve
                continue
            x, y, deep = one.surface.samples(shared, 0.25)
            if not len(x) or deep.max() <= 0.1:
                continue
            k = int(deep.argmax())
            yield finding(
                "feature.contour_clash",
                f"{one.name} drops {mm(deep[k]):.1f} within {other.name}. What sits there would stand on the slope. "
                f"Make it narrower there, or move one of them.",
                feature=one.id,
                place=(float(x[k]), float(y[k]), 0.0),
                facts=[
                    Fact(name="drop there", value=round(float(deep[k]), 2)),
                    Fact(name="shared", value=round(float(shared.area), 1), unit="mm2"),
                ],
            )


@rule_once
def on_the_other_face(sim: Simulation) -> Iterator[Finding]:
    """Features of the face that this route does not turn up."""
    turned = {s.face for s in sim.whole.setups}
    other = [s for s in sim.whole_resolved.solids.values() if s.kind != "outline" and s.floor_mm is not None and s.face not in turned]
    if other:
        x, y = other[0].region.representative_point().coords[0]
        yield finding(
            "feature.other_face",
            f"{', '.join(s.name for s in other[:4])}{' and more' if len(other) > 4 else ''}: on the "
            f"{other[0].face.value}, which this route does not turn up. "
            "Turn it over in a second setup, or cut it by hand.",
            feature=other[0].id,
            place=(x, y, other[0].floor_mm or 0.0),
            facts=[Fact(name="features", value=len(other), unit="")],
            cures=[Cure(sentence="Turn it over", edits=[{"do": "turn_over"}])],
        )
