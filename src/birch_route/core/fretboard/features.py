"""What a board's numbers make of its piece: its outline, its face, its slots, its dots and the slot of its nut."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from ..data import figures
from ..piece import Hole, OnFace, Piece, Pocket
from ..vocabulary import FinishClass
from .face import height_mm
from .lines import Plan, plan_of
from .numbers import Board
from .slots import slots_of, width_of
from .surfaces import BoardFace, SlotFloors, outline_points, way_of

if TYPE_CHECKING:
    from ..piece import Feature

FACE, SLOTS, NUT = "board_face", "fret_slots", "nut_slot"
LEDGES = ("binding_low", "binding_high")  # along the edge to -y and to +y


class Rounded(OnFace):
    """The finished face of a board, cut to its radius."""

    kind: Literal["board_face"] = "board_face"
    depth_mm: float = Field(ge=0)


class FretSlots(OnFace):
    """All the fret slots of a board as one feature."""

    kind: Literal["fret_slots"] = "fret_slots"
    depth_mm: float = Field(gt=0)
    count: int


def outline_of(board: Board) -> dict[str, Any]:
    """Return the outline that a board's numbers give, as the JSON of a shape."""
    corners = outline_points(board, plan_of(board))
    return {"kind": "chain", "vertices": [[round(x, 6), round(y, 6), 0.0] for x, y in corners]}


def board_features(piece: Piece) -> list[Feature]:
    """Return what follows from a board's numbers, in the order it is cut; nothing where the piece has none."""
    board = piece.board
    if board is None:
        return []
    plan = plan_of(board)
    out: list[Any] = [
        Rounded(
            id=FACE, name="Radius", depth_mm=BoardFace(board).deepest_mm, finish_class=FinishClass.SHOWN,
            least_floor_mm=0.0,
        )
    ]
    floors = floors_of(board)
    if floors is not None:
        out.append(FretSlots(id=SLOTS, name="Fret slots", depth_mm=floors.deepest_mm, count=len(floors.ways),
                             finish_class=FinishClass.GLUED, least_floor_mm=0.0))
    return [*out, *_dots(board, plan), *_nut(board, plan), *_ledges(board, plan)]


def floors_of(board: Board) -> SlotFloors | None:
    """Return the slots of a board; None while nobody said how wide and deep the wire's tang is."""
    plan, width = plan_of(board), width_of(board)
    slots = slots_of(board, plan)
    if width is None or not slots:
        return None
    shorter = board.off_edge_mm + (figures()["fretboard"]["blind_mm"] if board.blind else 0.0)
    lines = {one.number: one for one in plan.lines}
    ways = tuple(way_of(lines[s.fret], shorter) for s in slots)
    flat = tuple(s.flat_mm for s in slots if s.flat_mm is not None)
    wide = (width.least_mm + width.most_mm) / 2
    return SlotFloors(ways, wide, flat, slots[0].wanted_mm, BoardFace(board), board.blind)


def dots_of(board: Board, plan: Plan) -> list[tuple[int, list[tuple[float, float]]]]:
    """Return the frets that have dots before them, and where these stand: between the fret and the one before."""
    if not board.has_dots:
        return []
    fig = figures()["fretboard"]
    out = []
    for n in range(1, board.frets + 1):
        before, here = plan.lines[n - 1], plan.lines[n]
        y = plan.half_mm((before.centre_mm + here.centre_mm) / 2) * fig["apart_part"]
        beside = [-y, y] if n in fig["double"] else [0.0] if n in fig["single"] else []
        if beside:
            out.append((n, [((before.x_at(v) + here.x_at(v)) / 2, v) for v in beside]))
    return out


def _dots(board: Board, plan: Plan) -> list[Hole]:
    """Dots go so deep below the finished face beside them."""
    if board.marker_mm is None or board.marker_deep_mm is None:
        return []
    return [
        Hole(
            id=f"dot_{n}" if len(points) == 1 else f"dots_{n}",
            name=f"Dot at {n}" if len(points) == 1 else f"Dots at {n}",
            points=[(round(x, 6), round(y, 6)) for x, y in points],
            diameter_mm=board.marker_mm,
            depth_mm=round(board.thickness_mm - height_mm(board, plan, *points[0]) + board.marker_deep_mm, 6),
            least_floor_mm=figures()["fretboard"]["dot_floor_mm"],
        )
        for n, points in dots_of(board, plan)
    ]


def _nut(board: Board, plan: Plan) -> list[Pocket]:
    """The nut's slot runs out through both edges, behind scale zero."""
    if board.nut_slot_mm is None or board.nut_deep_mm is None:
        return []
    zero = plan.lines[0]
    lean = math.atan2(zero.treble[0] - zero.bass[0], zero.treble[1] - zero.bass[1])
    if lean > math.pi / 2 or lean < -math.pi / 2:  # left-handed: the bass end lies at +y
        lean = math.atan2(zero.bass[0] - zero.treble[0], zero.bass[1] - zero.treble[1])
    half = board.nut_slot_mm / 2
    shape = {"kind": "rectangle", "x_mm": round(zero.centre_mm - half * math.cos(lean), 6),
             "y_mm": round(half * math.sin(lean), 6), "length_mm": board.nut_slot_mm,
             "width_mm": round(zero.wide_mm + 4 * half, 6), "angle_deg": round(-math.degrees(lean), 6)}
    return [Pocket.model_validate({
        "id": NUT, "name": "Nut slot", "shape": shape, "depth_mm": board.nut_deep_mm, "finish_class": "fitted",
        "opens_side": True, "least_floor_mm": figures()["fretboard"]["under_care_mm"]})]


def ledges_of(board: Board, plan: Plan) -> list[list[tuple[float, float]]]:
    """Return the ground of the ledges that binding lies on, that along the edge to -y first: from so far inside the
    edge out over the side, and past both ends; none without binding in a ledge."""
    if board.binding_mm is None or board.binding_deep_mm is None:
        return []
    over = figures()["fretboard"]["beside_ledge_mm"]  # past the ends and out over the side: room for a bit
    out = []
    for side in (-1.0, 1.0):
        (ax, ay), (bx, by) = sorted(p for p in outline_points(board, plan) if p[1] * side > 0)
        long = math.hypot(bx - ax, by - ay)
        ux, uy = (bx - ax) / long * over, (by - ay) / long * over
        nx, ny = (uy / over, -ux / over) if side > 0 else (-uy / over, ux / over)  # inward
        out.append([
            (round(x + k * nx, 6), round(y + k * ny, 6))
            for (x, y), k in (
                ((ax - ux, ay - uy), -over), ((bx + ux, by + uy), -over),
                ((bx + ux, by + uy), board.binding_mm), ((ax - ux, ay - uy), board.binding_mm),
            )
        ])
    return out


def _ledges(board: Board, plan: Plan) -> list[Pocket]:
    """The ledges that binding lies on, one along each edge, open to the side and to both ends; their floor is level."""
    out = []
    for name, ring in zip(LEDGES, ledges_of(board, plan), strict=False):
        words = "bass" if (name == LEDGES[0]) != board.left_handed else "treble"
        deep = board.binding_deep_mm or 0.0
        out.append(Pocket.model_validate({
            "id": name, "name": f"Binding ledge, {words} edge", "depth_mm": deep, "finish_class": "glued",
            "shape": {"kind": "chain", "vertices": [[x, y, 0.0] for x, y in ring]}, "opens_side": True,
            "least_floor_mm": min(figures()["fretboard"]["ledge_floor_mm"], board.thickness_mm - deep)}))
    return out
