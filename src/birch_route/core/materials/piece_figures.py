"""The figures of piece, blank and what is checked on them, by name and type."""

from __future__ import annotations

from .cutting_figures import Block, Part


class FloorsMm(Block):
    neck_pocket: float
    cavity: float
    recess: float
    rod_channel: float


class WallsMm(Block):
    to_outside: float
    between: float
    hole_to_rim: float


class FitGapMm(Block):
    bare: tuple[float, float]


class FitMemory(Block):
    past_mm: float
    count: int


class StockToLeaveMm(Block):
    wall: float


class Tab(Block):
    width_mm: float
    height_mm: float
    spacing_mm: float
    least: float
    shear_n_mm2: float
    shear_plastic_n_mm2: float
    safety: float
    tip_radius_mm: float
    saw_radius_mm: float
    end_grain_deg: float
    near_feature_mm: float
    ramp_deg: float


class Outline(Block):
    skin_mm: float
    skin_least_mm: float
    groove_part: float
    groove_over_bearing_mm: float
    wall_over_bearing_mm: float
    saw_mm: float
    saw_min_m: float
    trim_min_m: float
    skin_min_m: float
    sand_tab_min: float


class Minutes(Block):
    bit_change: float
    load: float
    turn_over: float
    clear_chips: float
    chisel_corner: float
    cut_tab: float


class BlankMargin(Block):
    screw_mm: float
    start_mm: float


class Sloped(Part):
    face: str
    side: str
    from_part: float
    to_part: float
    blend_mm: float
    stations: list[tuple[float, float, float]]


class AtHeel(Part):
    face: str
    from_mm: float
    to_mm: float
    half_mm: float
    blend_mm: float
    stations: list[tuple[float, float, float]]


class Contours(Block):
    arm: Sloped
    belly: Sloped
    heel: AtHeel
    carve_stations: list[tuple[float, float]]
    binding_mm: tuple[float, float]
    purfling_mm: tuple[float, float]


class DrawnByHand(Block):
    copy_gap_mm: float
    row_diameters: float
    wire_drill_mm: float
    wire_rim_mm: float
    wire_floor_mm: float
    wire_min: float
    wedge_mm: float


class AtTheMachine(Block):
    back_mm: float
    display_mm: float
    agrees_mm: float
    way_in_mm3: float


class Flaws(Block):
    near_joint_mm: float
    thickness_mm: float


class Layout(Block):
    scale_mm: float
    string_edge_mm: float
    pole_mm: float
    screw_tip_mm: float
    drill_mm: float


class Controls(Block):
    bush_clear_mm: float
    body_clear_mm: float
    nut_mm: float
    knob_gap_mm: float
    overlap_mm: float
    rebate_gap_mm: float
    switch_screw_mm: float
    plate_pilot_mm: float
    plate_screw_mm: float
    post_depth_mm: float
    block_gap_mm: float
    wiring_mm: float
    cavity_corner_mm: float
    roof_mm: float


class Screws(Block):
    clear_mm: float
    pilot_part: float
    core_part: float
    insert_diameters: float
    insert_least_mm: float
    strap_wood_mm: float
    tip_wood_mm: float
    bite_diameters: float


class Edges(Block):
    bearing_mm: float
    stop_mm: float


class Chamber(Block):
    to_outside_mm: float
    between_mm: float
    loaded_mm: float
    spine_mm: float
    unmeasured_mm: float
    corner_mm: float
    least_mm2: float
    floor_mm: float
    cap_mm: float
    span_mm: float


class Glue(Block):
    most_apart_mm: float
    first_from_end_mm: float
    clamp_min: float
    wait_min: float
    joint_min: float
    dry_fit_min: float
    plane_min: float
    mark_min: float


class ToleranceMm(Block):
    shown: float
    fitted: float
    glued: float
    hidden: float
    free: float


class TiedRod(Part):
    wide: tuple[float, float]
    long: tuple[float, float]
    deep: tuple[float, float]


class TiedNut(Part):
    wide: tuple[float, float]
    long: tuple[float, float]


class TiedPlate(Part):
    wide: tuple[float, float]
    long: tuple[float, float]
    deep: tuple[float, float]


class TiedPickup(Part):
    wide: tuple[float, float]
    long: tuple[float, float]
    deep: tuple[float, float]


class TiedSwitch(Part):
    wide: tuple[float, float]
    long: tuple[float, float]
    deep: tuple[float, float]


class PickupPocket(Block):
    gap_mm: float
    below_mm: float
    depth_mm: float
    floor_mm: float


class Tied(Block):
    apart_mm: float
    pressed_mm: float
    hole_mm: float
    bush_mm: float
    rod: TiedRod
    nut: TiedNut
    plate: TiedPlate
    pickup: TiedPickup
    switch: TiedSwitch


class Careful(Block):
    feed: float
    feed_most: float
    force: float


class Covers(Block):
    land_mm: float
    under_board_mm: float


class Drilled(Block):
    short_grain_diameters: float
    floor_mm: float
    hard_times: float
    hard_kg_m3: float


class Heights(Block):
    pocket_mm: tuple[float, float]
    travel_care_mm: float
    travel_stop_mm: float
    action_mm: tuple[float, float]
    angle_deg: tuple[float, float]
    frets: tuple[float, float]


class Cells(Block):
    thin_bit_mm: float


class PlayMm(Part):
    pressed: tuple[float, float]
    hammered: tuple[float, float]
    glued: tuple[float, float]


class Neck(Block):
    rod_floor_mm: float
    rod_stop_mm: float
    beside_mm: float
    head_least_mm: float
    pin_deep_mm: float
    pin_beside_mm: float
    sheet_mm: float
    keep_mm: float
    least_break_deg: float
    most_side_deg: float
    string_clear_mm: float
    string_over_mm: float
    housing_mm: float
    edge_mm: float
    bush_floor_mm: float
    bore_floor_mm: float
    bar_wall_mm: float
    rim_short_mm: float
    hand_back_min: float
    hand_head_min: float
    hand_channel_min: float
    hand_outline_min: float
    rod_min: float
    board_glue_min: float
    dry_min: float
    nut_min: float
    bore_min: float
    run_out_deg: float
    rest_min: float
    rough_leave_mm: float
    rough_part: float
    finish_mm: float


class Fretboard(Block):
    play_mm: PlayMm
    holds_mm: float
    under_mm: float
    depth_part: float
    blind_mm: float
    under_care_mm: float
    under_stop_mm: float
    edge_care_mm: float
    shallow_mm: float
    single: tuple[int, ...]
    double: tuple[int, ...]
    apart_part: float
    dot_floor_mm: float
    dot_wall_mm: float
    end_care_mm: float
    ends_mm: float
    slots_only_mm: float
    gauge_min: float
    block_min: float
    ledge_floor_mm: float
    seat_fret_min: float
    nip_fret_min: float
    bind_min: float
    bind_dry_min: float
    side_dot_min: float
    least_spread_mm: float
    clear_of_ends_mm: float
    beside_station_mm: float
    beside_ledge_mm: float
    usual_frets: int
