"""Shapes drawn by hand on a piece: made from sizes, and where they stand moved, turned, mirrored, copied."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

import numpy as np
from pydantic import TypeAdapter
from shapely.geometry import Polygon

from ..data import figures
from ..errors import InputError
from ..piece import Hole, Piece, Pocket, Relief
from ..plane.curves import Around, Chain, Drawn, HeelShape, Oval, PartRectangle, Rectangle, flatten
from ..plane.moved import Move, moved
from ..plane.regions import crossing_of
from ..quantities import mm
from ..vocabulary import Face, FinishClass

MOST_HOLES = 200
SAME_MM = 0.005  # places of holes that differ by less lie in one row
_DRAWN: TypeAdapter[Any] = TypeAdapter(Drawn)


class Drawing(StrEnum):
    """What can be drawn by its sizes."""

    HOLE = "hole"
    ROW = "row"
    POCKET = "pocket"
    SLOT = "slot"
    OVAL = "oval"
    FREE = "free"  # through points, with its corners rounded


NAMES = {
    Drawing.HOLE: "Hole", Drawing.ROW: "Row of holes", Drawing.POCKET: "Pocket", Drawing.SLOT: "Slot",
    Drawing.OVAL: "Oval", Drawing.FREE: "Free shape",
}


@dataclass(frozen=True)
class Grid:
    """Holes in rows: how many along and across before it is turned, and how far apart, mm; turned by angle_deg."""

    along: int
    across: int
    apart_mm: float
    rows_mm: float
    angle_deg: float = 0.0

    def points(self, x_mm: float, y_mm: float) -> list[tuple[float, float]]:
        """Return the middles of the holes about a middle.

        Raises:
            InputError: more than a feature may have, or holes on one another.
        """
        if self.along * self.across > MOST_HOLES:
            raise InputError(
                f"{self.along * self.across} holes are more than {MOST_HOLES}. Draw them as two features.",
                where="along",
            )
        if (self.along > 1 and self.apart_mm <= 0) or (self.across > 1 and self.rows_mm <= 0):
            raise InputError("Say how far the holes are apart from middle to middle.", where="apart_mm")
        c, s = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        out = []
        for j in range(self.across):
            for i in range(self.along):
                x = (i - (self.along - 1) / 2) * self.apart_mm
                y = (j - (self.across - 1) / 2) * self.rows_mm
                out.append((round(x_mm + x * c - y * s, 4), round(y_mm + x * s + y * c, 4)))
        return out


def grid_of(points: Sequence[tuple[float, float]]) -> Grid | None:
    """Return the rows in which holes stand as `Grid.points` would lay them; None where they stand otherwise."""
    places = np.asarray(points, float)
    if len(places) == 1:
        return Grid(1, 1, 0.0, 0.0)
    middle = places.mean(axis=0)
    first = places[1] - places[0]
    apart = float(np.hypot(*first))
    for along in (n for n in range(2, len(places) + 1) if len(places) % n == 0):
        across = len(places) // along
        rows = 0.0 if across == 1 else float(np.hypot(*(places[along] - places[0])))
        for flipped in (0.0, 180.0):
            angle = math.degrees(math.atan2(first[1], first[0])) + flipped
            grid = Grid(along, across, apart, rows, (angle + 180.0) % 360.0 - 180.0)
            if rows >= 0 and np.abs(np.asarray(grid.points(*middle)) - places).max() <= SAME_MM:
                return grid
    return None


def new_feature(what: Drawing, feature_id: str, name: str, face: Face, sizes: dict[str, Any]) -> dict[str, Any]:
    """Return the document of a feature that is drawn by its sizes.

    Args:
        sizes: x_mm, y_mm, depth_mm (None: through) and, as the kind needs them, length_mm, width_mm, corner_mm,
            diameter_mm, along, across, apart_mm, rows_mm, angle_deg, points (of a free shape, in the piece's frame).

    Raises:
        InputError: a size is missing or cannot be; where names it.
    """
    for key, words in _NEEDS[what].items():
        if not sizes.get(key) or sizes[key] <= 0:
            raise InputError(f"Say {words}.", where=key)
    floor = figures()["floors_mm"]["cavity"]
    base = {"id": feature_id, "name": name, "face": face.value, "depth_mm": sizes["depth_mm"]}
    if what in (Drawing.HOLE, Drawing.ROW):
        rows = what is Drawing.ROW
        grid = Grid(
            sizes.get("along", 1) if rows else 1, sizes.get("across", 1) if rows else 1,
            sizes.get("apart_mm") or 0.0, sizes.get("rows_mm") or 0.0, sizes.get("angle_deg", 0.0),
        )
        if rows and grid.along * grid.across < 2:
            raise InputError("A row has at least two holes. Say how many.", where="along")
        points = grid.points(sizes["x_mm"], sizes["y_mm"])
        return {**base, "kind": "hole", "points": points, "diameter_mm": sizes["diameter_mm"]}
    least = 0.0 if sizes["depth_mm"] is None else floor
    pocket = {**base, "kind": "pocket", "finish_class": FinishClass.HIDDEN.value, "least_floor_mm": least}
    if what is Drawing.FREE:
        shape = rounded_chain(sizes.get("points") or [], sizes.get("corner_mm") or 0.0)
        return {**pocket, "shape": shape.model_dump(mode="json")}
    return {**pocket, "shape": _boxed(what, sizes)}


def _boxed(what: Drawing, sizes: dict[str, Any]) -> dict[str, Any]:
    """Return the document of a rectangle, slot or oval."""
    long, wide = sizes["length_mm"], sizes["width_mm"]
    if what is Drawing.SLOT and long <= wide:
        raise InputError(
            f"A slot is longer than wide: {mm(long):.2f} long, {mm(wide):.2f} wide. Turn it by its angle, or draw a "
            "hole.", where="length_mm",
        )
    place = {"x_mm": sizes["x_mm"], "y_mm": sizes["y_mm"], "length_mm": long, "width_mm": wide}
    shape: dict[str, Any] = {"kind": "oval" if what is Drawing.OVAL else "rectangle", **place}
    shape["angle_deg"] = sizes.get("angle_deg", 0.0)
    if what is not Drawing.OVAL:
        corner = wide / 2 if what is Drawing.SLOT else sizes.get("corner_mm") or 0.0
        if corner > min(long, wide) / 2 + 1e-9:
            raise InputError(
                f"Corners of {mm(corner):.2f} do not fit into {mm(min(long, wide)):.2f}: at most half of it.",
                where="corner_mm",
            )
        shape["corner_radius_mm"] = corner
    return shape


def rounded_chain(points: Sequence[tuple[float, float]], corner_mm: float) -> Chain:
    """Return a closed run of lines through points with its corners rounded to a radius.

    Raises:
        InputError: fewer than three points, two on each other, an edge too short for the rounding at its ends,
            or a line that crosses itself.

    Source: a corner of interior angle t leaves its edges r / tan(t / 2) before it; bulge = tan(sweep / 4).
    """
    if len(points) < 3:
        raise InputError("A free shape goes through at least three points.", where="points")
    places = np.asarray(points, float)
    count, out = len(places), []
    cut, turn = np.zeros(count), np.zeros(count)
    for k in range(count):
        a, b = places[k] - places[k - 1], places[(k + 1) % count] - places[k]
        if min(np.hypot(*a), np.hypot(*b)) < 0.05:
            raise InputError(f"Point {k + 1} lies on the one beside it. Take one of them out.", where=f"points.{k}")
        turn[k] = math.atan2(a[0] * b[1] - a[1] * b[0], float(a @ b))
        cut[k] = corner_mm * math.tan(abs(turn[k]) / 2)
    for k in range(count):
        j = (k + 1) % count
        long = float(np.hypot(*(places[j] - places[k])))
        if cut[k] + cut[j] > long + 1e-9:
            most = corner_mm * long / (cut[k] + cut[j])
            raise InputError(
                f"The edge from point {k + 1} to point {j + 1}, {mm(long):.1f} long, is too short for corners of "
                f"{mm(corner_mm):.1f}: at most {mm(math.floor(100 * most) / 100):.2f}.",
                where="corner_mm",
            )
    for k in range(count):
        back, on = places[k - 1] - places[k], places[(k + 1) % count] - places[k]
        first = places[k] + back / np.hypot(*back) * cut[k]
        last = places[k] + on / np.hypot(*on) * cut[k]
        if cut[k] < 1e-6:
            out.append((float(places[k][0]), float(places[k][1]), 0.0))
        else:
            out.append((float(first[0]), float(first[1]), math.tan(turn[k] / 4)))
            out.append((float(last[0]), float(last[1]), 0.0))
    chain = Chain(vertices=out)
    where = crossing_of(Polygon(flatten(chain)))
    if where is not None:
        raise InputError(
            f"The shape crosses itself at x {mm(where[0]):.1f}, y {mm(where[1]):.1f}. Move the points there apart, "
            "or give them in the order in which they follow one another round it.", where="points",
        )
    return chain


_ACROSS = {"diameter_mm": "how far the hole is across"}
_BOTH = {"length_mm": "how long it is", "width_mm": "how wide it is"}
_NEEDS: dict[Drawing, dict[str, str]] = {
    Drawing.FREE: {}, Drawing.HOLE: _ACROSS, Drawing.ROW: _ACROSS, Drawing.POCKET: _BOTH, Drawing.SLOT: _BOTH,
    Drawing.OVAL: _BOTH,
}


def middle_of(feature: Hole | Pocket) -> tuple[float, float] | None:
    """Return the middle a drawn feature is placed by: of its holes, of its rectangle or oval, else of the box round it;
    None where it follows something else and has no place of its own."""
    if isinstance(feature, Hole):
        x, y = np.asarray(feature.points, float).mean(axis=0)
        return float(x), float(y)
    shape = feature.shape
    if isinstance(shape, Rectangle | Oval):
        return shape.x_mm, shape.y_mm
    if isinstance(shape, PartRectangle):
        return None if shape.at_saddle else (shape.x_mm, shape.y_mm)
    if isinstance(shape, HeelShape | Around):
        return None
    points = flatten(shape, 0.01)
    x, y = (points.min(axis=0) + points.max(axis=0)) / 2
    return float(x), float(y)


def why_fixed(piece: Piece, feature_id: str, datums: Collection[str | None] = ()) -> str:
    """Return why a feature cannot be moved by hand; empty where it can.

    Args:
        datums: ids of the holes by which setups find the piece again.
    """
    if feature_id in datums:
        return "setups find the piece again by it, over pins in the bed"
    feature = next((f for f in piece.features if f.id == feature_id), None)
    if feature is None:
        placed = next((p for p in piece.placements if feature_id.startswith(f"{p.id}_")), None)
        if placed is not None:
            return f"it follows from where {placed.part.replace('_', ' ')} stands: move that part"
        return "the piece has no such feature"
    if isinstance(feature, Relief):
        return ""
    if not isinstance(feature, Hole | Pocket):
        return "it follows the outline of the piece"
    if feature.locked:
        return "it is locked: unlock it first"
    if isinstance(feature, Pocket):
        if isinstance(feature.shape, HeelShape):
            return "it is the heel of the neck, and stands where that is glued or screwed in"
        if isinstance(feature.shape, Around):
            return f"it goes round {feature.shape.feature.replace('_', ' ')}: move that"
        if isinstance(feature.shape, PartRectangle) and feature.shape.at_saddle:
            return "it stands by the saddle line, which follows from the readings of the neck"
    return ""


@dataclass(frozen=True)
class Placing:
    """How a feature is placed anew: mirrored across the centre line, turned about its middle, then shifted."""

    dx_mm: float = 0.0
    dy_mm: float = 0.0
    turn_deg: float = 0.0
    mirror: bool = False


def placed_anew(feature: Hole | Pocket | Relief, by: Placing) -> Hole | Pocket | Relief:
    """Return a feature placed anew; its sizes and what it rests on stay.

    Raises:
        InputError: a surface is turned or mirrored, or a part's own recess is mirrored out of its shape.
    """
    if isinstance(feature, Relief):
        if by.turn_deg or by.mirror:
            raise InputError("A surface that was brought in is shifted, not turned.", where=feature.id)
        return feature.model_copy(update={"x0_mm": feature.x0_mm + by.dx_mm, "y0_mm": feature.y0_mm + by.dy_mm})
    middle = middle_of(feature)
    assert middle is not None
    if isinstance(feature, Pocket) and isinstance(feature.shape, PartRectangle):
        return feature.model_copy(update={"shape": _part_moved(feature.shape, by)})
    about = about_middle(middle, by)
    if isinstance(feature, Hole):
        points = [tuple(round(v, 4) for v in about.point(x, y)) for x, y in feature.points]
        return feature.model_copy(update={"points": points})
    shape = moved(_DRAWN.validate_python(feature.shape.model_dump()), about)
    if isinstance(shape, Rectangle | Oval):
        shape = shape.model_copy(update={"angle_deg": (shape.angle_deg + 180.0) % 360.0 - 180.0})
    return feature.model_copy(update={"shape": shape})


def about_middle(middle: tuple[float, float], by: Placing) -> Move:
    """Return the move of the plane that places a shape of this middle anew."""
    turn = Move(angle_rad=math.radians(by.turn_deg), mirror=by.mirror)
    x, y = turn.point(*middle)
    to_x, to_y = middle[0] + by.dx_mm, (-middle[1] if by.mirror else middle[1]) + by.dy_mm
    return replace(turn, dx_mm=to_x - x, dy_mm=to_y - y)


def _part_moved(shape: PartRectangle, by: Placing) -> PartRectangle:
    y = -shape.y_mm if by.mirror else shape.y_mm
    angle = (-shape.angle_deg if by.mirror else shape.angle_deg) + by.turn_deg
    place = {"x_mm": shape.x_mm + by.dx_mm, "y_mm": y + by.dy_mm}
    return shape.model_copy(update={**place, "angle_deg": (angle + 180.0) % 360.0 - 180.0})


def free_id(taken: Iterable[str], stem: str) -> str:
    """Return the first id of a stem that is not taken: stem, stem_2, stem_3, ..."""
    used, stem = set(taken), stem[:34]
    number = 1
    while True:
        name = stem if number == 1 else f"{stem}_{number}"
        if name not in used:
            return name
        number += 1


def free_name(taken: Iterable[str], stem: str) -> str:
    """Return the first name of a stem that is not taken: Pocket, Pocket 2, Pocket 3, ..."""
    used, number = set(taken), 1
    while True:
        name = stem[:76] if number == 1 else f"{stem[:76]} {number}"
        if name not in used:
            return name
        number += 1
