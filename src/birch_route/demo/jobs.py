"""The demo jobs, an invention of our own: a four-string tenor body, the face of its neck blank, a cover plate."""

from __future__ import annotations

from typing import Any

from ..core.route import SCHEMA, Route, read_route
from ..core.sequence.propose import propose_route
from .shop import BELT_MACHINE, BENCH_MACHINE, BITS, BITS_BY_ID

BODY_OUTLINE = [
    (0, 14), (1, 33), (34, 38), (60, 46), (72, 62), (60, 84), (50, 104), (66, 128), (112, 139), (165, 129), (212, 121), (262, 131),
    (320, 138), (372, 116), (402, 64), (409, 0), (401, -66), (371, -118), (320, -146), (262, -150), (208, -135), (160, -130), (110, -140),
    (62, -136), (26, -106), (10, -66), (1, -33), (0, -14),
]


def _readings(*rows: tuple[str, list[str]]) -> list[dict[str, Any]]:
    from ..core.units import Unit, parse_length
    out = []
    for place, typed in rows:
        for text in typed:
            length = parse_length(text, Unit.MM)
            out.append({"place": place, "value_mm": length.mm, "typed": text, "unit": length.unit.value, "by": "Ada", "at": "2026-03-14"})
    return out


def _parts() -> list[dict[str, Any]]:
    return [
        {
            "id": "neck",
            "kind": "neck",
            "name": "Tenor neck",
            "readings": _readings(
                ("heel_width_end", ["46.10", "46.13", "46.12"]),
                ("heel_width_station", ["44.36", "44.34", "44.38"]),
                ("heel_station", ["60", "60.0"]),
                ("heel_length", ["62.00", "62.05"]),
                ("heel_thickness", ["25.40", '1"', "25.42"]),
                ("heel_to_12th", ["108.50", "108.54", "108.47"]),
                ("fret_height", ["1.10", "1.09"]),
                ("heel_corner", ["4", "4.0"]),
                ("nut_to_12th", ["292.15", "292.05"]),
                ("board_thickness", ["6.2", "6.25"]),
                ("board_width_nut", ["36.0", "36.05"]),
                ("board_width_end", ["46.4", "46.4"]),
                ("string_spread_nut", ["28.0", "28.0"]),
            ),
        },
        {
            "id": "bridge",
            "kind": "bridge",
            "name": "Four-saddle bridge",
            "readings": _readings(
                ("plate_length", ["35.18", "35.17", "35.19"]),
                ("plate_width", ["73.40", "73.41", "73.39"]),
                ("plate_to_saddle", ["20.0", "20.02"]),
                ("string_spread", ["31.5", "31.52"]),
                ("saddle_low", ["13.20", "13.22", "13.18"]),
                ("saddle_high", ["17.55", "17.53"]),
                ("plate_corner", ["4.0", "4.02"]),
                ("post_spacing", ["90.00", "90.02"]),
                ("post_diameter", ["11.00", "11.02"]),
            ),
        },
        {
            "id": "pickup",
            "kind": "pickup",
            "name": "Ring pickup",
            "readings": _readings(
                ("ring_length", ["28.00", "28.02"]),
                ("ring_width", ["66.00", "66.03", "66.01"]),
                ("depth", ["17.5", "17.52"]),
                ("ring_corner", ["4", "4"]),
                ("pole_spread", ["30.4", "30.4"]),
                ("pole_line", ["14", "14.0"]),
            ),
        },
        {
            "id": "plate",
            "kind": "plate",
            "name": "Control plate",
            "readings": _readings(("plate_thickness", ["2.50", "2.51", "2.50"])),
        },
    ]


def body_route() -> Route:
    """Return the demo body with a proposed route."""
    saddle_x = 62.025 - 0.0  # heel end; the saddle line itself comes from the readings
    document: dict[str, Any] = {
        "schema": SCHEMA, "job": "Siskin tenor", "note": "Four-string tenor body, alder in two pieces. Front face in this route.",
        "piece": {"kind": "body", "name": "Siskin tenor body", "features": [
            {"kind": "pocket", "id": "neck_pocket", "name": "Neck pocket", "shape": {"kind": "heel", "part": "neck", "corner_radius_mm": 4},
             "depth_mm": 16.0, "depth_from": {"kind": "stack"}, "finish_class": "fitted", "least_floor_mm": 15, "open_at_neck": True},
            {"kind": "pocket", "id": "pickup_pocket", "name": "Pickup pocket", "shape": {"kind": "part_rectangle", "part": "pickup", "gap_mm": 0.6,
             "x_mm": 168, "y_mm": 0}, "depth_mm": 19, "depth_from": {"kind": "reading", "part": "pickup", "place": "depth", "plus_mm": 1.5}, "least_floor_mm": 8},
            {"kind": "pocket", "id": "bridge_recess", "name": "Bridge recess", "shape": {"kind": "part_rectangle", "part": "bridge", "gap_mm": 0.2,
             "at_saddle": True}, "depth_mm": 2.5, "finish_class": "shown", "least_floor_mm": 15},
            {"kind": "pocket", "id": "plate_rebate", "name": "Plate rebate", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -84, "length_mm": 118,
             "width_mm": 50, "corner_radius_mm": 10, "angle_deg": 12}, "depth_mm": 2.5,
             "depth_from": {"kind": "reading", "part": "plate", "place": "plate_thickness"}, "finish_class": "shown", "least_floor_mm": 5},
            {"kind": "pocket", "id": "control_cavity", "name": "Control cavity", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -84, "length_mm": 98,
             "width_mm": 34, "corner_radius_mm": 8, "angle_deg": 12}, "depth_mm": 33, "finish_class": "hidden", "least_floor_mm": 6},
            {"kind": "hole", "id": "post_holes", "name": "Bridge post holes", "points": [[saddle_x + 216, -45], [saddle_x + 216, 45]], "diameter_mm": 11,
             "depth_mm": 18, "measured_from": "bridge", "fitted": True, "least_floor_mm": 10},
            {"kind": "hole", "id": "string_holes", "name": "String holes", "points": [[300, -15.75], [300, -5.25], [300, 5.25], [300, 15.75]], "diameter_mm": 3},
            {"kind": "hole", "id": "neck_screws", "name": "Neck screw holes", "points": [[16, -13], [16, 13], [48, -13], [48, 13]], "diameter_mm": 3},
            {"kind": "outline", "id": "outline", "name": "Outline", "shape": {"kind": "spline", "points": BODY_OUTLINE}, "finish_class": "shown"},
        ]},
        "parts": _parts(),
        "choices": {"scale_mm": 584.2, "action_12th_mm": 1.6, "string_at_nut_mm": 0.5, "compensation_mm": 2.4,
                    "saddle_part": 0.53, "fit_gap_mm": 0.08, "strings": 4, "frets": 20,
                    "mine": ["action_12th_mm", "compensation_mm", "fit_gap_mm", "saddle_part", "string_at_nut_mm"]},
        "blank": {"wood": "alder", "length_mm": 470, "width_mm": 352, "thickness_mm": 45.8, "x_mm": -31, "y_mm": -181, "skim_mm": 0.8, "boards": 2,
                  "planks": [{"id": "a", "width_mm": 178, "name": "Alder, heart side down"}, {"id": "b", "width_mm": 177, "name": "Alder, its neighbour"}], "joint_loss_mm": 1.0,
                  "thickness_readings_mm": [45.8, 45.8, 45.9, 45.7], "defects": [{"id": "k1", "name": "Pin knot", "x_mm": 424, "y_mm": 120, "radius_mm": 4, "top_mm": 0, "deep_mm": 20}]},
        "machine": BENCH_MACHINE, "bits": BITS,
        "setups": [{"id": "front", "name": "Front face up", "face": "front", "blank_at_mm": [60, 60], "zero": {"xy": "lower_left", "z": "bed"},
                    "clearance_mm": 6, "park_mm": [0, 0], "hardware": [
            {"id": "s1", "kind": "screw", "x_mm": -21, "y_mm": -171, "top_mm": -1.5}, {"id": "s2", "kind": "screw", "x_mm": 429, "y_mm": -171, "top_mm": -1.5},
            {"id": "s3", "kind": "screw", "x_mm": 429, "y_mm": 161, "top_mm": -1.5}, {"id": "s4", "kind": "screw", "x_mm": -21, "y_mm": 161, "top_mm": -1.5},
            {"id": "c1", "kind": "edge_clamp", "x_mm": 200, "y_mm": -181, "angle_deg": -90, "top_mm": -14},
            {"id": "c2", "kind": "edge_clamp", "x_mm": 200, "y_mm": 171, "angle_deg": 90, "top_mm": -14}]}],
        "bench_steps": [
            {"id": "glue", "name": "Glue line dries", "minutes": 1440, "wait": True},
            {"id": "tabs", "name": "Saw the tabs, trim flush", "minutes": 12, "after": None},
        ],
    }
    return _closing(propose_route(read_route(document)), "tabs")


def _closing(route: Route, *steps: str) -> Route:
    """Put the named bench steps after the last operation."""
    last = route.operations[-1].id
    return route.model_copy(update={"bench_steps": [s.model_copy(update={"after": last}) if s.id in steps else s for s in route.bench_steps]})


def neck_face_route() -> Route:
    """Return the face of a neck blank: rod channel, tuner holes, outline with tabs."""
    head = [(6, -30), (28, -33), (66, -31), (100, -26), (124, -22.4), (132, -21)]
    shaft = [(220, -22.4), (330, -24), (450, -25.7), (500, -26.4), (536, -26.9)]
    points = [*head, *shaft, (544, -22), (545, 0), (544, 22), *[(x, -y) for x, y in reversed([*head, *shaft])], (1, 22), (0, 0), (1, -22)]
    bits = [BITS_BY_ID[i] for i in ("face25", "flat8", "flat6", "drill3")]
    document: dict[str, Any] = {
        "schema": SCHEMA, "job": "Siskin neck, face", "note": "Rod channel, tuner holes and outline from the face. The back comes later.",
        "piece": {"kind": "neck", "name": "Siskin neck", "features": [
            {"kind": "pocket", "id": "rod_channel", "name": "Rod channel", "shape": {"kind": "rectangle", "x_mm": 330, "y_mm": 0, "length_mm": 386, "width_mm": 6.2,
             "corner_radius_mm": 3.0}, "depth_mm": 9.2, "depth_from": {"kind": "reading", "part": "rod", "place": "rod_depth", "plus_mm": 0.2}, "least_floor_mm": 3.5},
            {"kind": "hole", "id": "tuner_holes", "name": "Tuner holes", "points": [[36, -18], [84, -16], [36, 18], [84, 16]], "diameter_mm": 8.8,
             "measured_from": "tuner", "fitted": True},
            {"kind": "hole", "id": "index_holes", "name": "Index holes", "points": [[150, 0], [524.5, 10]], "diameter_mm": 3, "depth_mm": 8},
            {"kind": "outline", "id": "outline", "name": "Outline", "shape": {"kind": "spline", "points": _dedupe(points)}, "finish_class": "shown"},
        ][0:2] + [
            {"kind": "hole", "id": "index_holes", "name": "Index holes", "points": [[122, 0], [534, 0]], "diameter_mm": 3, "depth_mm": 8},
            {"kind": "outline", "id": "outline", "name": "Outline", "shape": {"kind": "spline", "points": _dedupe(points)}, "finish_class": "shown"},
        ]},
        "parts": [
            {"id": "rod", "kind": "rod", "name": "Truss rod", "readings": _readings(("rod_width", ["6.0", "6.02"]), ("rod_depth", ["9.0", "9.02"]), ("rod_length", ["380", "380"]))},
            {"id": "tuner", "kind": "tuner", "name": "Tuner", "readings": _readings(("post_hole", ["8.7", "8.72", "8.7"]))},
        ],
        "blank": {"wood": "hard_maple", "length_mm": 600, "width_mm": 110, "thickness_mm": 22, "x_mm": -26, "y_mm": -55, "skim_mm": 0, "boards": 1},
        "machine": BENCH_MACHINE, "bits": bits,
        "setups": [{"id": "front", "name": "Front face up", "blank_at_mm": [60, 120], "zero": {"xy": "lower_left", "z": "stock_top", "touch_x_mm": -15, "touch_y_mm": 0},
                    "hardware": [{"id": "s1", "kind": "screw", "x_mm": -18, "y_mm": -45, "top_mm": -1.5}, {"id": "s2", "kind": "screw", "x_mm": 566, "y_mm": -45, "top_mm": -1.5},
                                 {"id": "s3", "kind": "screw", "x_mm": 566, "y_mm": 45, "top_mm": -1.5}, {"id": "s4", "kind": "screw", "x_mm": -18, "y_mm": 45, "top_mm": -1.5}]}],
        "bench_steps": [{"id": "tabs", "name": "Saw the tabs, trim flush", "minutes": 8}],
    }
    return _closing(propose_route(read_route(document)), "tabs")


def _dedupe(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    return [p for k, p in enumerate(points) if p != points[k - 1]]


def cover_plate_route() -> Route:
    """Return a control plate from ABS sheet, on the belt machine with a dial."""
    bits = [{**BITS_BY_ID["flat3"], "flute": "up_cut", "cutting_length_mm": 12}, BITS_BY_ID["drill3"]]
    corner = 0.41421356
    document: dict[str, Any] = {
        "schema": SCHEMA, "job": "Control plate", "note": "From sheet stock; the plate that closes the control cavity.",
        "piece": {"kind": "plate", "name": "Control plate", "features": [
            {"kind": "hole", "id": "pot_holes", "name": "Pot holes", "points": [[36, 25], [82, 25]], "diameter_mm": 9.6},
            {"kind": "hole", "id": "screw_holes", "name": "Screw holes", "points": [[7, 7], [111, 7], [111, 43], [7, 43]], "diameter_mm": 3},
            {"kind": "outline", "id": "outline", "name": "Outline", "shape": {"kind": "chain", "vertices": [
                [9.8, 0.2, 0], [108.2, 0.2, corner], [117.8, 9.8, 0], [117.8, 40.2, corner], [108.2, 49.8, 0], [9.8, 49.8, corner], [0.2, 40.2, 0], [0.2, 9.8, corner]]}},
        ]},
        "blank": {"wood": "abs", "length_mm": 170, "width_mm": 100, "thickness_mm": 2.5, "x_mm": -26, "y_mm": -25, "skim_mm": 0},
        "machine": BELT_MACHINE, "bits": bits,
        "setups": [{"id": "front", "name": "Front face up", "blank_at_mm": [80, 80], "zero": {"xy": "lower_left", "z": "stock_top", "touch_x_mm": -18, "touch_y_mm": 25},
                    "hardware": [{"id": "s1", "kind": "screw", "x_mm": -17, "y_mm": -16, "top_mm": 2.0}, {"id": "s2", "kind": "screw", "x_mm": 135, "y_mm": -16, "top_mm": 2.0},
                                 {"id": "s3", "kind": "screw", "x_mm": 135, "y_mm": 66, "top_mm": 2.0}, {"id": "s4", "kind": "screw", "x_mm": -17, "y_mm": 66, "top_mm": 2.0}]}],
        "bench_steps": [{"id": "tabs", "name": "Cut the tabs, scrape the edge", "minutes": 4}],
    }
    return _closing(propose_route(read_route(document)), "tabs")


EXAMPLES = {"siskin_body": body_route, "siskin_neck_face": neck_face_route, "control_plate": cover_plate_route}
