"""The figures of holding, jigs and the shop, by name and type."""

from __future__ import annotations

from .cutting_figures import Block, Part


class FilmMm(Block):
    oil: float
    thin: float
    thick: float


class Strap(Block):
    rise_mm: float
    sinks_deg: float


class Saddles(Block):
    reserve_mm: float


class Grain(Block):
    differ_deg: float


class CuspMm(Block):
    shown: float
    fitted: float
    glued: float
    hidden: float
    free: float


class Surface(Block):
    finish_times: float
    leave_mm: float
    rough_diameters: float
    rough_stepover: float
    most_stepover: float
    ridge_part: float
    widest_mm: float
    flat_deg: float
    overlap_deg: float


class Sanding(Block):
    rows: tuple[tuple[float, float], ...]


class IndexHoles(Block):
    from_end_mm: float
    around_mm: float
    widest_mm: float


class Corners(Block):
    bed_mm: float
    stock_top_mm: float
    blank_mm: float


class Spread(Block):
    within_mm: float
    outlier_mm: float


class TearOutWood(Part):
    plain: float
    figured: float
    interlocked: float


class TearOutRim(Part):
    up_cut: float
    straight: float
    down_cut: float
    compression: float


class TearOut(Block):
    wood: TearOutWood
    no_fibres: tuple[str, str, str]
    dive: tuple[tuple[float, float], ...]
    climb: float
    conventional: float
    bite: tuple[tuple[float, float], ...]
    some: float
    likely: float
    least_mm: float
    rim_told: float
    rim: TearOutRim


class ThinWall(Block):
    across_n_mm2: float
    along_n_mm2: float
    widest_mm: float


class Datums(Block):
    edge_mm: float
    finder_mm: float
    probe_mm: float
    hole_mm: float
    jig_mm: float
    line_mm: float
    paper_mm: float
    pin_mm: float
    touch_mm: float
    wood_mm: float
    square_deg: float


class Creep(Block):
    step_mm: float
    try_min: float


class Rest(Block):
    wider_by: float
    dear_min: float
    worth_part: float
    rest_part: float


class Rim(Block):
    down_to_mm: float
    below_cap_mm: float


class Valley(Block):
    left_mm: float
    least_mm: float
    narrower: float


class OneSided(Block):
    part: float
    rest_min: float
    skim_mm: float


class LevelBit(Block):
    told_mm: float
    channel_mm: float
    hollow_mm2: float


class Holding(Block):
    pull_n_mm: float
    grip_mm: float
    side_n: float
    pin_n: float
    edge_press_n: float
    top_press_n: float
    cam_press_n: float
    wedge_press_n: float
    bolt_press_n: float
    strap_press_n: float
    vice_press_n: float
    jaw_mm: float
    rail_n_mm: float
    tape_n_mm2: float
    glued_tape_n_mm2: float
    peel_part: float
    vacuum_bar: float
    friction_board: float
    friction_gasket: float
    friction_pad: float
    factor: float
    factor_freed: float
    lift_part: float
    end_grain: float
    bed_gap_mm: float
    bed_keep_mm: float
    least_bite_mm: float
    frame_mm: float
    down_part: float
    span_gives_mm: float
    least_span_mm: float
    gasket_edge_mm: float
    tab_most_mm: float
    screw_apart_mm: float
    more_screws: float
    least_depth_mm: float
    engaged_met_part: float


class Jigs(Block):
    sheet_mm: float
    sheets_mm: tuple[float, ...]
    border_mm: float
    waste_mm: float
    bolt_hole_mm: float
    bolt_in_mm: float
    pin_in_mm: float
    pin_out_part: float
    pin_fit_mm: float
    edge_fit_mm: float
    hole_place_mm: float
    dowel_mm: float
    pilot_part: float
    rail_pilot_mm: float
    witness_mm: float
    witness_long_mm: float
    witness_deep_mm: float
    gasket_mm: float
    gasket_squeeze_mm: float
    gasket_crush_mm: float
    rim_mm: float
    recess_mm: float
    slot_mm: float
    slot_deep_mm: float
    slot_apart_mm: float
    port_mm: float
    carrier_border_mm: float
    wedge_mm: float
    window_play_mm: float
    carrier_pin_mm: float
    datum_hole_mm: float
    relief_mm: float
    rib_mm: float
    fence_play_mm: float
    parallel_mm: float
    straight_mm: float
    nest_floor_mm: float
    notch_mm: float
    nest_place_mm: float
    insert_hole_mm: float
    strap_slot_mm: float
    saves_min: float
    play_most_mm: float
    look_after: float
    vice_plate_mm: tuple[float, float]
    vice_most_deg: float
    fence_mm: float
    vice_from_mm: float
    vice_apart_mm: float
    vice_stops_deg: tuple[float, ...]


class Ends(Block):
    stands_mm: float
    trued_mm: float
    jaw_wide_mm: float
    jaw_deep_mm: float
    strip_mm: float
    beyond_mm: float
    beside_mm: float


class Order(Block):
    drill_slope_deg: float


class Vacuum(Block):
    gasket_l_min_bar_m: float
    sealed_l_min_bar_dm2: float
    porous_l_min_bar_dm2: float
    falls_part: float


class Bed(Block):
    keep_mm: float
    pins_fit_mm: float
    hand_mm: float
    move_step_mm: float
    move_most_mm: float


Span = tuple[float, float]


class MachineSpans(Block):
    collet_off_mm: float
    travel_xy_mm: Span
    travel_z_mm: Span
    nut_clear_mm: Span
    nut_diameter_mm: Span
    nut_length_mm: Span
    spindle_diameter_mm: Span
    waste_board_mm: Span
    stiffness_n_um: Span
    power_w: Span
    least_rpm: Span
    greatest_rpm: Span
    feed_mm_min: Span
    feed_z_mm_min: Span
    acceleration_mm_s2: Span
    junction_deviation_mm: Span
    touch_off_min: Span
    measured_again_days: int


class Measuring(Block):
    caliper_sd_mm: float
    caliper_off_part: float
    jaws_off_mm: float
    depth_sd_mm: float
    dial_sd_mm: float
    clock_sd_s: float
    balance_sd_n: float
    tachometer_sd_part: float
    worth_readings: float
    out_sd: float
    bit_mm: float
    caliper_mm: float
    scrap_mm: float
    edge_mm: float
    deep_mm: float
    pass_mm: float
    feed_mm_min: float
    plunge_mm_min: float
    speed_rpm: float
    safe_mm: float
    timed_s: float
    hard_s: float
    pull_n: float
    pulls: int
    arm_mm: float
    mount_mm: float
    widest_bit_mm: float
    lost_told_mm: float


class Materials(Block):
    resists_wood: float
    resists_sheet: float
    resists_plastic: float
    resists_shell: float
    resists_metal: float
    resists: Span
    density_kg_m3: Span
