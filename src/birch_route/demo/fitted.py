"""The demo body fitted out: pots in the plate, a toggle over a cavity on the back, strap pins, edges, another bridge to compare."""

from __future__ import annotations

from typing import Any

from ..core.edits import apply_edits, read_edit
from ..core.route import Route
from .jobs import body_route
from .shop import MORE_BITS

READINGS: dict[str, tuple[str, str, dict[str, str]]] = {  # id as it is given: kind, name, readings taken twice
    "pot": (
        "pot",
        "Volume pot",
        {
            "bush_diameter": "7.0",
            "bush_length": "8.2",
            "body_diameter": "16.6",
            "body_height": "18.4",
            "knob_diameter": "18",
        },
    ),
    "pot1": (
        "pot",
        "Tone pot",
        {
            "bush_diameter": "7.0",
            "bush_length": "8.2",
            "body_diameter": "16.6",
            "body_height": "18.4",
            "knob_diameter": "18",
        },
    ),
    "switch": (
        "switch",
        "Toggle",
        {
            "body_length": "30",
            "body_width": "16",
            "body_depth": "22",
            "slot_length": "16",
            "slot_width": "8.2",
            "screw_pitch": "24",
        },
    ),
    "strap_pin": (
        "strap_pin",
        "Strap pin",
        {"head_diameter": "14", "head_height": "13", "thread_diameter": "3.6", "thread_length": "26"},
    ),
    "screw": ("screw", "Neck screw", {"head_diameter": "8.1", "thread_diameter": "4.5", "thread_length": "44"}),
    "bridge1": (
        "bridge",
        "Low bridge",
        {
            "plate_length": "38.0",
            "plate_width": "71.0",
            "plate_to_saddle": "21.5",
            "saddle_low": "11.0",
            "saddle_high": "15.0",
            "plate_corner": "3",
            "string_spread": "31.5",
            "post_spacing": "90.0",
            "post_diameter": "11.0",
        },
    ),
}
PLACEMENTS: list[dict[str, Any]] = [
    {"id": "pot_1", "part": "pot", "x_mm": 286, "y_mm": -88.2, "angle_deg": 12, "cavity": "control_cavity"},
    {"id": "pot1_1", "part": "pot1", "x_mm": 326, "y_mm": -79.8, "angle_deg": 12, "cavity": "control_cavity"},
    {"id": "switch_1", "part": "switch", "x_mm": 168, "y_mm": 82, "angle_deg": 90, "cavity": "switch_cavity"},
    {"id": "pin_tail", "part": "strap_pin", "mount": "side", "x_mm": 409, "y_mm": 0},
    {"id": "pin_neck", "part": "strap_pin", "mount": "side", "x_mm": 30, "y_mm": -118},
]

BEVELS: list[dict[str, Any]] = [
    {"kind": "bevel", "id": "arm", "name": "Arm bevel", "face": "front", "start": 0.352, "end": 0.486, "blend_mm": 4,
     "stations": [{"at": 0, "width_mm": 5, "drop_mm": 0}, {"at": 0.55, "width_mm": 18, "drop_mm": 7}, {"at": 1, "width_mm": 5, "drop_mm": 0}]},
    {"kind": "bevel", "id": "belly", "name": "Belly bevel", "face": "back", "start": 0.18, "end": 0.335, "blend_mm": 8,
     "stations": [{"at": 0, "width_mm": 6, "drop_mm": 0}, {"at": 0.45, "width_mm": 46, "drop_mm": 12}, {"at": 1, "width_mm": 6, "drop_mm": 0}]},
]


COVER: list[dict[str, Any]] = [  # a cover over the switch cavity, let into the back
    {"kind": "pocket", "id": "cover_rebate", "name": "Cover rebate", "shape": {"kind": "rectangle", "x_mm": 168, "y_mm": 82, "length_mm": 58, "width_mm": 62, "corner_radius_mm": 8}, "depth_mm": 2.2, "face": "back", "finish_class": "shown"},
    {"kind": "hole", "id": "cover_screws", "name": "Cover screws", "points": [[144.5, 56.5], [191.5, 56.5], [144.5, 107.5], [191.5, 107.5]], "diameter_mm": 3.0, "depth_mm": 14, "face": "back"},
]


def fitted_route(turned: bool = False) -> Route:
    """Return the demo body with its hardware placed.

    Args:
        turned: with a second setup that cuts the back and the outline.
    """
    edits: list[dict[str, Any]] = [{"do": "set", "path": "job", "value": "Siskin tenor, fitted out"},
                                   {"do": "set", "path": "note", "value": "The same body with its hardware placed, a toggle over a cavity on the back, and its edges."}]
    for part, (kind, name, places) in READINGS.items():
        edits.append({"do": "add_part", "kind": kind, "name": name})
        edits += [{"do": "keep_reading", "part": part, "place": place, "typed": typed, "by": "Ada", "at": "2026-03-16", "using": "caliper"} for place, typed in places.items() for _ in range(2)]
    edits.append({"do": "put_item", "list": "features", "item": {
        "kind": "pocket", "id": "switch_cavity", "name": "Switch cavity", "shape": {"kind": "rectangle", "x_mm": 168, "y_mm": 82, "length_mm": 38, "width_mm": 46, "corner_radius_mm": 12}, "depth_mm": 38,
        "face": "back", "least_floor_mm": 5}})
    edits += [{"do": "put_item", "list": "placements", "item": p} for p in PLACEMENTS]
    edits += [*({"do": "put_item", "list": "bits", "item": b} for b in MORE_BITS if b["id"] not in ("ball12", "down6", "round5", "round8")),
              {"do": "set", "path": "piece.features.neck_screws.diameter_mm", "value": 4.8}, {"do": "set", "path": "piece.features.neck_screws.measured_from", "value": "screw"}]
    if turned:
        edits += [{"do": "put_item", "list": "features", "item": f} for f in (*BEVELS, *COVER)]
    edits += [{"do": "put_item", "list": "edges", "item": e} for e in (
        {"id": "edge_1", "feature": "outline", "face": "front", "kind": "round", "size_mm": 5, "machined": turned}, {"id": "edge_2", "feature": "outline", "face": "back", "kind": "round", "size_mm": 8, "machined": turned})]
    if turned:
        edits += [{"do": "put_item", "list": "bits", "item": b} for b in MORE_BITS if b["id"] in ("round5", "round8")]
    edits.append({"do": "put_item", "list": "variants", "item": {"id": "low", "name": "With the low bridge", "parts": {"bridge": "bridge1"}}})
    edits += [{"do": "set", "path": "choices.neck_kg", "value": 0.58}, {"do": "set", "path": "choices.neck_balance_mm", "value": 262}, {"do": "propose"}, *([{"do": "turn_over"}] if turned else []), {"do": "plan_bench"}]
    route = apply_edits(body_route(), [read_edit(e) for e in edits])
    last = route.operations[-1].id
    return route.model_copy(update={"bench_steps": [s.model_copy(update={"after": last}) if s.id == "tabs" else s for s in route.bench_steps]})


CAP_MM = 6.8


def hollow_route() -> Route:
    """Return the fitted body with a maple cap that is glued on once its core is chambered; the chambers' floors follow the belly bevel of the back."""
    base = fitted_route(True)
    edits: list[dict[str, Any]] = [
        {"do": "set", "path": "job", "value": "Siskin hollow"}, {"do": "set", "path": "note", "value": "The fitted body, lighter: chambers in the core, closed by a maple cap that is glued on between setups."},
        {"do": "put_item", "list": "layers", "item": {"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": CAP_MM}},
        {"do": "put_item", "list": "layers", "item": {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": round(base.blank.thickness_mm - CAP_MM, 3)}},
        {"do": "glue_between", "layer": "cap"}, {"do": "add_chambers", "face": "front", "number": 1}, {"do": "add_chambers", "face": "front", "number": 1},
        {"do": "propose_for", "feature": "chamber_1"}, {"do": "propose_for", "feature": "chamber_2"}, {"do": "renew_settings"},
        {"do": "put_item", "list": "bits", "item": next(b for b in MORE_BITS if b["id"] == "down6")}, {"do": "clean_rim"}]  # figured maple on top frays under a bit that cuts upward
    return apply_edits(base, [read_edit(e) for e in edits])
