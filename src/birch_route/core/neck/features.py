"""What a neck's numbers make of its piece: outline, back, headstock, channel of the rod, bars, bores."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from pydantic import Field

from ..data import figures
from ..piece import Hole, OnFace, Pocket
from ..vocabulary import Face, FinishClass
from .lines import heel_end_mm, neck_plan, outline_points, posts_of, sides_of
from .loft import Loft
from .numbers import Neck
from .surfaces import HeadFace

if TYPE_CHECKING:
    from ..piece import Feature

BACK, HEAD, RAMP, HEAD_BACK, HEEL = "neck_back", "head_face", "head_ramp", "head_back", "heel_back"
ROD, ADJUSTER, POSTS, BUSHES, PINS = "rod_channel", "rod_adjuster", "tuner_posts", "tuner_bushes", "board_pins"
BOLTS = "heel_bores"
BARS = ("bar_low", "bar_high")
OF_NECK = (ROD, ADJUSTER, *BARS, HEAD, RAMP)  # what lies under them is judged by rules of its own
LEAST_CUT_MM = 0.05  # a face that lies no lower than this is not cut


class Lofted(OnFace):
    """The back of a neck from headstock to heel."""

    kind: Literal["neck_back"] = "neck_back"
    face: Face = Face.BACK
    depth_mm: float = Field(ge=0)


class Headed(OnFace):
    """The ramp down to a headstock's face, or a headstock's face that leans."""

    kind: Literal["head_slope"] = "head_slope"
    depth_mm: float = Field(ge=0)


def outline_of(neck: Neck) -> dict[str, Any]:
    """Return the outline that a neck's numbers give, as the JSON of a shape."""
    return {"kind": "chain", "vertices": [[round(x, 6), round(y, 6), 0.0] for x, y in outline_points(neck)]}


def neck_features(neck: Neck, thick_mm: float) -> list[Feature]:
    """Return what follows from a neck's numbers, in the order it is cut.

    Args:
        thick_mm: of the finished piece: from its glue plane to its blank's back.
    """
    out: list[Any] = []
    out += _head(neck)
    out += _rod(neck)
    out += _bars(neck)
    out += _bores(neck)
    out += _behind(neck, thick_mm)
    return out


def _head(neck: Neck) -> list[Any]:
    """The face of the headstock, cut from the front: level and lower, or leaning."""
    head = neck.head
    if head.kind == "none" or (head.kind == "stepped" and head.step_mm < LEAST_CUT_MM):
        return []
    slope = Headed(id=RAMP, name="Headstock face" if head.kind == "angled" else "Ramp to the headstock",
                   depth_mm=HeadFace(neck).deepest_mm, finish_class=FinishClass.SHOWN, least_floor_mm=0.0)
    if head.kind == "angled":
        return [slope]
    level = _beside(neck, HEAD, "Headstock face", -head.shelf_mm - head.ramp_mm, head.step_mm, Face.FRONT)
    return [level, slope]


def _beside(neck: Neck, name: str, words: str, ends_mm: float, deep_mm: float, face: Face) -> Pocket:
    """Return a level face from the headstock's tip to a place along the neck, open to its sides."""
    over = figures()["neck"]["beside_mm"]
    sides = sides_of(neck)
    x = np.linspace(sides.begins_mm, ends_mm, 60)
    begin = sides.begins_mm - over
    low, high = float(sides.half(x, -1.0).max()) + over, float(sides.half(x, 1.0).max()) + over
    ring = [(begin, -low), (ends_mm, -low), (ends_mm, high), (begin, high)]
    return _level(name, words, ring, deep_mm, face)


def _level(name: str, words: str, ring: list[tuple[float, float]], deep_mm: float, face: Face) -> Pocket:
    return Pocket.model_validate({
        "id": name, "name": words, "depth_mm": round(deep_mm, 6), "finish_class": "shown", "face": face.value,
        "shape": {"kind": "chain", "vertices": [[round(x, 6), round(y, 6), 0.0] for x, y in ring]},
        "opens_side": True, "least_floor_mm": figures()["neck"]["head_least_mm"],
    })


def _rectangle(x0: float, x1: float, y: float, width: float, corner: float) -> dict[str, Any]:
    return {"kind": "rectangle", "x_mm": round((x0 + x1) / 2, 6), "y_mm": round(y, 6),
            "length_mm": round(x1 - x0, 6), "width_mm": round(width, 6), "corner_radius_mm": round(corner, 6)}


def _rod(neck: Neck) -> list[Any]:
    """The channel the rod lies in, and the room its adjuster needs, both from the glue plane."""
    rod, fig = neck.rod, figures()["neck"]
    if not rod.is_known:
        return []
    wide = (rod.width_mm or 0.0) + 2 * rod.play_mm
    begin, end = rod.from_mm, rod.from_mm + (rod.long_mm or 0.0)
    out: list[Any] = []
    if None not in (rod.adjuster_wide_mm, rod.adjuster_long_mm, rod.adjuster_deep_mm):
        long = rod.adjuster_long_mm or 0.0
        x0, x1 = (begin - long, begin + 1.0) if rod.adjuster == "head" else (end - 1.0, end + long)
        x1 = min(x1, heel_end_mm(neck) + 6.0)
        out.append(Pocket.model_validate({
            "id": ADJUSTER, "name": "Room for the rod's adjuster", "depth_mm": rod.adjuster_deep_mm,
            "shape": _rectangle(x0, x1, 0.0, rod.adjuster_wide_mm or 0.0, (rod.adjuster_wide_mm or 0.0) / 2 - 0.01
                                if rod.adjuster == "head" else 0.0),
            "opens_into": [ROD, *([HEAD, RAMP] if rod.adjuster == "head" else [])],
            "opens_side": rod.adjuster == "heel", "finish_class": "hidden", "least_floor_mm": fig["rod_floor_mm"],
        }))
    out.append(Pocket.model_validate({
        "id": ROD, "name": "Rod channel", "depth_mm": round(rod.deepest_mm, 6),
        "shape": _rectangle(begin, end, 0.0, wide, wide / 2 - 0.001 if rod.round_ends else 0.0),
        "opens_into": [ADJUSTER, HEAD, RAMP], "finish_class": "fitted", "least_floor_mm": fig["rod_floor_mm"],
    }))
    return out


def _bars(neck: Neck) -> list[Any]:
    bars, fig = neck.bars, figures()["neck"]
    if not bars.is_known:
        return []
    width = bars.width_mm or 0.0
    return [
        Pocket.model_validate({
            "id": name, "name": f"Slot for a bar, {'bass' if (side < 0) != neck.board.left_handed else 'treble'} side",
            "depth_mm": bars.deep_mm, "finish_class": "glued", "least_floor_mm": fig["rod_floor_mm"],
            "shape": _rectangle(bars.from_mm, bars.from_mm + (bars.long_mm or 0.0), side * bars.apart_mm / 2, width,
                                width / 2 - 0.001),
        })
        for name, side in zip(BARS, (-1.0, 1.0), strict=True)
    ]


def _bores(neck: Neck) -> list[Any]:
    """Bores of tuners, square to a level face; those of a leaning one are drilled at the bench. Pins of the board."""
    tuners, out = neck.tuners, []
    posts = [(round(p.x_mm, 6), round(p.y_mm, 6)) for p in posts_of(neck)]
    if posts and neck.head.kind == "stepped" and tuners.post_mm is not None:
        if tuners.bush_mm is not None and tuners.bush_deep_mm is not None and tuners.bush_mm > tuners.post_mm:
            out.append(Hole(
                id=BUSHES, name="Bores for the tuners' bushes", points=posts, diameter_mm=tuners.bush_mm,
                depth_mm=round(neck.head.step_mm + tuners.bush_deep_mm, 6), opens_into=[POSTS, HEAD],
                least_floor_mm=0.0))
        out.append(Hole(id=POSTS, name="Bores for the tuners' posts", points=posts, diameter_mm=tuners.post_mm,
                        opens_into=[BUSHES, HEAD, HEAD_BACK]))
    if neck.pin_mm is not None:
        out.append(Hole(id=PINS, name="Pins that place the board", points=pin_places(neck), diameter_mm=neck.pin_mm,
                        depth_mm=figures()["neck"]["pin_deep_mm"], least_floor_mm=figures()["neck"]["rod_floor_mm"]))
    return out


def pin_places(neck: Neck) -> list[tuple[float, float]]:
    """Return where the board's pins stand: in a slot near the nut and in one near the heel, one to each side, beside
    the rod, so that the board goes on one way round only."""
    lines, fig = neck_plan(neck).lines, figures()["neck"]
    first, last = lines[min(2, len(lines) - 1)], lines[min(14, len(lines) - 1)]
    y = max((neck.rod.width_mm or 0.0) / 2 + neck.rod.play_mm, 0.0) + fig["pin_beside_mm"]
    return [(round(line.x_at(v), 6), round(v, 6)) for line, v in ((first, -y), (last, y))]


def bolt_places(neck: Neck) -> list[tuple[float, float]]:
    """Return where the four bores of the heel stand, those nearest to the neck's end first."""
    bolts, end = neck.bolts, heel_end_mm(neck)
    near = end - (bolts.from_end_mm or 0.0)
    half = (bolts.across_mm or 0.0) / 2
    return [(round(x, 6), round(y, 6)) for x in (near, near - (bolts.along_mm or 0.0)) for y in (-half, half)]


def _behind(neck: Neck, thick_mm: float) -> list[Any]:
    """What is cut from the back: the level backs of headstock and heel where they lie lower than the blank's, and the
    loft between them."""
    out: list[Any] = []
    head = neck.head
    loft = Loft(neck)
    if head.kind == "stepped" and thick_mm - head.step_mm - head.thick_mm > LEAST_CUT_MM:
        deep = thick_mm - head.step_mm - head.thick_mm
        out.append(_beside(neck, HEAD_BACK, "Headstock back", loft.head_end_mm, deep, Face.BACK))
    if thick_mm - neck.heel_mm > LEAST_CUT_MM:
        over = figures()["neck"]["beside_mm"]
        end, half = heel_end_mm(neck), neck_plan(neck).half_mm(heel_end_mm(neck)) + over
        ring = [(neck.heel_from_mm, -half), (end + over, -half), (end + over, half), (neck.heel_from_mm, half)]
        out.append(_level(HEEL, "Heel back", ring, thick_mm - neck.heel_mm, Face.BACK))
    bolts = neck.bolts
    if bolts.is_known:
        out.append(Hole(
            id=BOLTS, name="Bores in the heel", points=bolt_places(neck), diameter_mm=bolts.bore_mm or 0.0,
            depth_mm=round(thick_mm - neck.heel_mm + (bolts.deep_mm or 0.0), 6), face=Face.BACK,
            opens_into=[HEEL], least_floor_mm=0.0))
    out.append(Lofted(id=BACK, name="Neck back", depth_mm=thick_mm, finish_class=FinishClass.SHOWN,
                      least_floor_mm=0.0))
    return out
