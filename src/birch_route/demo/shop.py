"""The demo shop: two machines and a rack of bits of our own invention."""

from __future__ import annotations

from typing import Any

BENCH_MACHINE: dict[str, Any] = {
    "id": "bench", "name": "Bench router, ball screws", "machine_class": "bench", "travel_mm": [820, 620, 140],
    "rapid_mm_min": [6000, 6000, 3000], "acceleration_mm_s2": [800, 800, 500], "junction_deviation_mm": 0.02,
    "greatest_feed_mm_min": 4000, "speeds_rpm": [], "least_rpm": 8000, "greatest_rpm": 24000, "rated_rpm": 18000, "power_w": 1600,
    "stiffness_n_um": 5, "nut_diameter_mm": 30, "nut_length_mm": 20, "spindle_diameter_mm": 80, "nut_clear_mm": 150,
    "waste_board_mm": 18, "waste_cut_mm": 0.6, "touch_off_min": 1, "touch_plate_mm": 12.0, "edge_finder_mm": 10.0, "bit_change_mm": [790, 590], "pump": {"free_l_min": 140, "deepest_bar": 0.85},
    "index_holes_mm": [[71, 241], [519, 241]], "index_hole_mm": 4.8,
    "dialect": {"id": "stops_arcs", "inch": False, "arcs": True, "decimals": 3, "line_numbers": False, "split": "per_setup",
                "change_word": False, "speed_word": True, "warm_up_s": 4, "extraction": True, "semicolon_comments": False, "extension": ".nc"},
}
BELT_MACHINE: dict[str, Any] = {
    "id": "belt", "name": "Belt router, trim motor with a dial", "machine_class": "belt", "travel_mm": [760, 760, 110],
    "rapid_mm_min": [5000, 5000, 1200], "acceleration_mm_s2": [450, 450, 200], "junction_deviation_mm": 0.02,
    "greatest_feed_mm_min": 3000, "speeds_rpm": [9500, 13000, 17000, 21500, 26000], "least_rpm": 9500, "greatest_rpm": 26000,
    "rated_rpm": 26000, "power_w": 450, "brushes_h": 60, "stiffness_n_um": 1.2, "nut_diameter_mm": 24, "nut_length_mm": 16, "spindle_diameter_mm": 65,
    "nut_clear_mm": 125, "waste_board_mm": 12, "waste_cut_mm": 0.6, "touch_off_min": 1,
    "dialect": {"id": "per_bit_lines", "inch": True, "arcs": False, "decimals": 4, "line_numbers": True, "split": "per_bit",
                "change_word": False, "speed_word": False, "warm_up_s": 0, "extraction": False, "semicolon_comments": True, "extension": ".gcode"},
}
MACHINES = (BENCH_MACHINE, BELT_MACHINE)

BITS: list[dict[str, Any]] = [
    {"id": "face25", "name": "25 mm surfacing", "form": "flat", "diameter_mm": 25, "flutes": 2, "flute": "straight", "helix_deg": 0,
     "cutting_length_mm": 12, "shank_diameter_mm": 8, "stickout_mm": 34, "cuts_at_centre": False},
    {"id": "flat8", "name": "8 mm flat, long", "form": "flat", "diameter_mm": 8, "flutes": 2, "flute": "up_cut",
     "cutting_length_mm": 48, "shank_diameter_mm": 8, "stickout_mm": 54},
    {"id": "flat6", "name": "6 mm flat", "form": "flat", "diameter_mm": 6, "flutes": 2, "flute": "up_cut",
     "cutting_length_mm": 34, "shank_diameter_mm": 6, "stickout_mm": 40},
    {"id": "flat3", "name": "3 mm flat", "form": "flat", "diameter_mm": 3, "flutes": 2, "flute": "down_cut",
     "cutting_length_mm": 12, "shank_diameter_mm": 6, "stickout_mm": 26},
    {"id": "drill3", "name": "3 mm drill", "form": "drill", "diameter_mm": 3, "flutes": 2, "flute": "up_cut", "included_angle_deg": 118,
     "cutting_length_mm": 50, "shank_diameter_mm": 3, "stickout_mm": 56, "material": "hss"},
]
MORE_BITS: list[dict[str, Any]] = [  # in the drawer: added to a route when it needs them
    {
        "id": "ball8",
        "name": "8 mm ball",
        "form": "ball",
        "diameter_mm": 8,
        "flutes": 2,
        "flute": "up_cut",
        "cutting_length_mm": 30,
        "shank_diameter_mm": 8,
        "stickout_mm": 44,
    },
    {
        "id": "down6",
        "name": "6 mm down-cut",
        "form": "flat",
        "diameter_mm": 6,
        "flutes": 2,
        "flute": "down_cut",
        "cutting_length_mm": 20,
        "shank_diameter_mm": 6,
        "stickout_mm": 34,
    },
    {
        "id": "ball12",
        "name": "12 mm ball",
        "form": "ball",
        "diameter_mm": 12,
        "flutes": 2,
        "flute": "up_cut",
        "cutting_length_mm": 30,
        "shank_diameter_mm": 12,
        "stickout_mm": 46,
    },
    {
        "id": "round5",
        "name": "5 mm rounding",
        "form": "round",
        "diameter_mm": 16,
        "corner_radius_mm": 5,
        "tip_diameter_mm": 6,
        "flutes": 2,
        "flute": "straight",
        "helix_deg": 0,
        "cutting_length_mm": 12,
        "shank_diameter_mm": 8,
        "stickout_mm": 40,
    },
    {
        "id": "round8",
        "name": "8 mm rounding",
        "form": "round",
        "diameter_mm": 19,
        "corner_radius_mm": 8,
        "tip_diameter_mm": 3,
        "flutes": 2,
        "flute": "straight",
        "helix_deg": 0,
        "cutting_length_mm": 14,
        "shank_diameter_mm": 8,
        "stickout_mm": 42,
    },
    {
        "id": "drill4_8",
        "name": "4.8 mm drill",
        "form": "drill",
        "diameter_mm": 4.8,
        "flutes": 2,
        "flute": "up_cut",
        "included_angle_deg": 118,
        "cutting_length_mm": 52,
        "shank_diameter_mm": 4.8,
        "stickout_mm": 62,
        "material": "hss",
    },
]
BITS_BY_ID = {b["id"]: b for b in BITS}

BOARDS: list[dict[str, Any]] = [
    {"name": "Alder, shelf 2", "wood": "alder", "length_mm": 1180.0, "width_mm": 182.0, "thickness_mm": 52.0, "weighed_kg": 5.31, "figure": "plain, quartered", "note": "Cup of 1 on the heart side", "state": "on_hand", "route": None},
    {"name": "Alder, its neighbour", "wood": "alder", "length_mm": 1165.0, "width_mm": 179.0, "thickness_mm": 52.0, "weighed_kg": 5.02, "figure": "plain, quartered", "note": "", "state": "on_hand", "route": None},
    {"name": "Maple, barn end", "wood": "hard_maple", "length_mm": 760.0, "width_mm": 120.0, "thickness_mm": 26.0, "weighed_kg": 1.74, "figure": "light curl", "note": "For necks", "state": "on_hand", "route": None},
    {"name": "Limba offcut", "wood": "limba", "length_mm": 430.0, "width_mm": 210.0, "thickness_mm": 47.0, "weighed_kg": None, "figure": "", "note": "Not weighed yet", "state": "on_hand", "route": None},
]
