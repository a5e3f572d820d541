"""The layout arithmetic of a piece."""

from __future__ import annotations

from typing import Literal

from ..core.instrument.wires import Window
from .base import Edit, Number, Point, Trust, Wire


class HeightsFailed(Wire):
    """Why the stack has no answer."""

    unknown: str
    failed: str


class HeightStack(Wire):
    saddle_low_mm: Number | None = None
    saddle_high_mm: Number | None = None
    unknown: str
    failed: None
    heel_mm: Number
    fret_mm: Number
    depth_mm: Number
    angle_deg: Number
    saddle_mm: Number
    recess_mm: Number
    action_12th_mm: Number
    at_nut_mm: Number
    reach_mm: Number
    heel_length_mm: Number
    shim_mm: Number
    wedge_thick_mm: Number
    travel_down_mm: Number | None
    travel_up_mm: Number | None


class Ghost(Wire):
    part: str
    name: str
    what: str
    placement: str
    ring: list[Point]


class EdgePlanStretches(Wire):
    from_mm: Number
    to_mm: Number
    why: str
    at: Point
    points: list[Point]


class EdgePlanMeets(Wire):
    name: str
    gap_mm: Number


class EdgePlan(Wire):
    at: Point
    edge: str
    feature: str
    words: str
    kind: str
    face: str
    inward_mm: Number
    down_mm: Number
    length_mm: Number
    sharp_mm: Number
    stretches: list[EdgePlanStretches]
    land_mm: Number | None
    bearing_mm: Number
    meets: list[EdgePlanMeets]


class Chamber(Wire):
    follows: bool
    number: Number
    face: str
    depth_mm: Number
    area_mm2: Number
    grams: Number
    balance_moves_mm: Number
    floor_mm: Number
    span_mm: Number
    needs_cap: bool
    words: str
    ring: list[Point]


class VariantViewMoved(Wire):
    what: str
    before_mm: Number | None
    after_mm: Number | None


class VariantView(Wire):
    id: str
    name: str
    failed: str | None
    moved: list[VariantViewMoved]
    pocket_mm: Number | None
    saddle_mm: Number | None
    saddle_low_mm: Number | None
    saddle_high_mm: Number | None
    shim_mm: Number | None
    serves: bool | None


class LayoutPins(Wire):
    x_mm: Number
    y_mm: Number
    wood_mm: Number


class LayoutClashes(Wire):
    code: str
    placement: str
    words: str
    has_mm: Number
    needs_mm: Number
    place: Point
    edits: list[Edit]
    label: str


class LayoutHang(Wire):
    nose_deg: Number
    x_mm: Number
    y_mm: Number
    kg: Number
    pins: list[Point]
    most_deg: Number


class LayoutFits(Wire):
    feature: str
    name: str
    finish_class: str
    hidden_by: str
    tolerance_mm: Number
    gap_mm: Number | None
    film_mm: Number
    cut_gap_mm: Number | None


class LayoutCornersSpots(Wire):
    x_mm: Number
    y_mm: Number
    area_mm2: Number


class LayoutCorners(Wire):
    feature: str
    name: str
    radius_mm: Number
    bit: str
    smaller: list[str]
    spots: list[LayoutCornersSpots]


class LayoutAxis(Wire):
    offset_mm: Number
    at_saddle_mm: Number
    box_middle_mm: Number


class LayoutSaddlePoints(Wire):
    name: str
    x_mm: Number
    from_heel_mm: Number
    words: str


class LayoutSaddle(Wire):
    x_mm: Number
    from_heel_mm: Number
    words: str
    again_mm: Number | None
    again_words: str | None
    differ_mm: Number | None
    points: list[LayoutSaddlePoints]


class LayoutScale(Wire):
    stated_mm: Number
    measured_mm: Number
    difference_mm: Number
    agrees: bool


class LayoutStringsGaps(Wire):
    x_mm: Number
    place: str
    bass_mm: Number
    treble_mm: Number
    least_mm: Number
    enough: bool


class LayoutStringsSaddles(Wire):
    number: Number
    x_mm: Number
    y_mm: Number
    behind_mm: Number


class LayoutStringsTravel(Wire):
    forward_needed_mm: Number
    back_needed_mm: Number
    forward_mm: Number | None
    back_mm: Number | None
    short_mm: Number


class LayoutStringsPoles(Wire):
    part: str
    x_mm: Number
    strings_mm: Number
    poles_mm: Number
    differ_mm: Number
    within: bool


class LayoutStrings(Wire):
    lines: list[tuple[Number, Number, Number, Number]]
    gaps: list[LayoutStringsGaps]
    saddles: list[LayoutStringsSaddles]
    frets: list[tuple[Number, Number, Number, Number]]
    travel: LayoutStringsTravel | None
    poles: list[LayoutStringsPoles]


class LayoutClearances(Wire):
    feature: str
    name: str
    depth_mm: Number | None
    to_outside_mm: Number
    nearest: str | None
    wall_mm: Number | None
    floor_mm: Number | None
    meets: list[str]
    face: str
    trust: Trust
    rests_on: list[str]


class LayoutWeightShares(Wire):
    volume_mm3: Number
    feature: str
    name: str
    grams: Number


class LayoutWeightByWood(Wire):
    wood: str
    kg: Number


class LayoutWeight(Wire):
    kg: Number
    x_mm: Number
    y_mm: Number
    z_mm: Number
    solid_kg: Number
    density_kg_m3: Number
    density_from: str
    shares: list[LayoutWeightShares]
    by_wood: list[LayoutWeightByWood]
    taken_g: dict[str, Number]


class LayoutBlankBoards(Wire):
    width_mm: Number
    strips: list[Point]
    lines: list[Number]
    short_mm: Number


class LayoutBlankDefects(Wire):
    x_mm: Number
    y_mm: Number
    defect: str
    verdict: Literal["cut_away", "hidden", "shows", "structural"]
    by: str


class LayoutBlankOffcuts(Wire):
    side: str
    length_mm: Number
    width_mm: Number
    use: str


class LayoutBlankLayers(Wire):
    wood: str
    top_mm: Number
    under_mm: Number


class LayoutBlankThickness(Wire):
    least_mm: Number
    most_mm: Number
    mean_mm: Number
    spread_mm: Number


class LayoutBlank(Wire):
    boards: LayoutBlankBoards | None
    defects: list[LayoutBlankDefects]
    offcuts: list[LayoutBlankOffcuts]
    layers: list[LayoutBlankLayers]
    thickness: LayoutBlankThickness | None


class LayoutScrews(Wire):
    part: str
    long_mm: Number
    body_mm: Number
    bite_mm: Number
    heel_wood_mm: Number
    clear: bool
    board_known: bool
    clearance_mm: Number | None
    pilot_mm: Number | None


class StationRead(Wire):
    at: float
    x_mm: float
    y_mm: float
    drop_mm: float
    edge_left_mm: float
    shows: list[str]


class ContourRead(Wire):
    id: str
    stations: list[StationRead]


class Layout(Wire):
    edges: list[EdgePlan]
    chambers: list[Chamber]
    variants: list[VariantView]
    pins: list[LayoutPins]
    clashes: list[LayoutClashes]
    hang: LayoutHang | None
    fits: list[LayoutFits]
    corners: list[LayoutCorners]
    axis: LayoutAxis | None
    missing: list[str]
    frets: list[Number]
    saddle: LayoutSaddle | None
    scale: LayoutScale | None
    strings: LayoutStrings | None
    heights: HeightStack | HeightsFailed | None
    ghosts: list[Ghost]
    clearances: list[LayoutClearances]
    weight: LayoutWeight
    blank: LayoutBlank
    screws: list[LayoutScrews]
    contours: list[ContourRead]


class HeightsAnswer(Wire):
    heights: HeightStack | HeightsFailed | None


class WireHole(Wire):
    """A long drill from one cavity into another, in the plane through both middles, mm."""

    first_length_mm: float
    first_depth_mm: float
    wall_mm: float
    second_length_mm: float
    second_depth_mm: float
    thickness_mm: float
    drill_mm: float
    rim_mm: float
    floor_mm: float


class WireHoleAnswer(Wire):
    hole: WireHole
    window: Window | None
    middle_deg: float | None
    step: str
