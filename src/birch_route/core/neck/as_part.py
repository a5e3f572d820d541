"""A neck made here as the body sees it: the sizes its numbers give at the places a caliper would read."""

from __future__ import annotations

from .lines import heel_end_mm, neck_plan
from .loft import Loft
from .numbers import Neck

STATION_MM = 50.0  # the heel's width is told a second time so far from its end, or where it begins


def sizes_of(neck: Neck) -> dict[str, float]:
    """Return the sizes of a neck by place of a measured neck, mm: heel, board, scale."""
    plan, end, board = neck_plan(neck), heel_end_mm(neck), neck.board
    long = end - neck.heel_from_mm
    station = min(STATION_MM, long)
    twelfth = plan.lines[min(12, len(plan.lines) - 1)].centre_mm
    loft = Loft(neck)
    sizes = {
        "heel_width_end": 2 * plan.half_mm(end),
        "heel_width_station": 2 * plan.half_mm(end - station),
        "heel_station": station,
        "heel_length": long,
        "heel_thickness": neck.heel_mm + board.thickness_mm,
        "heel_corner": 0.0,
        "nut_to_12th": twelfth,
        "board_thickness": board.thickness_mm,
        "board_width_nut": board.width_nut_mm,
        "board_width_end": board.width_end_mm,
        "board_overhang": neck.overhang_mm,
        "string_spread_nut": board.width_nut_mm - 2 * board.edge_land_mm,
        "neck_length": end - loft.sides.begins_mm,
        "neck_thick_1st": neck.thick_1st_mm,
        "neck_thick_12th": neck.thick_12th_mm,
    }
    if neck.bolts.is_known:
        sizes |= {"holes_from_end": neck.bolts.from_end_mm or 0.0, "holes_along": neck.bolts.along_mm or 0.0,
                  "holes_across": neck.bolts.across_mm or 0.0}
    if twelfth < end:
        sizes["heel_to_12th"] = end - twelfth
    if board.wire.crown_mm is not None:
        sizes["fret_height"] = board.wire.crown_mm
    return {k: round(v, 4) for k, v in sizes.items()}
