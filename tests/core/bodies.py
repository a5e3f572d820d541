"""A body with parts placed on it: the demo body with a cavity on its back, pots, a switch, a jack on the side and strap pins."""

from __future__ import annotations

from functools import cache
from typing import Any

from birch_route.core.route import Route
from tests.support import changed, route_named

CAVITY = {"kind": "pocket", "id": "back_cavity", "name": "Back cavity", "shape": {"kind": "rectangle", "x_mm": 300, "y_mm": 95, "length_mm": 100, "width_mm": 54, "corner_radius_mm": 12},
          "depth_mm": 39, "face": "back", "least_floor_mm": 5}
PARTS: dict[str, tuple[str, dict[str, str]]] = {
    "pot": ("Volume pot", {"bush_diameter": "9.4", "bush_length": "9.5", "body_diameter": "24", "body_height": "22", "knob_diameter": "19"}),
    "switch": ("Toggle", {"body_length": "34", "body_width": "14", "body_depth": "24", "slot_length": "18", "slot_width": "4", "screw_pitch": "26"}),
    "jack": ("Jack", {"bush_diameter": "9.4", "bush_length": "20", "body_diameter": "16", "body_height": "30"}),
    "strap_pin": ("Strap pin", {"head_diameter": "14", "head_height": "12", "thread_diameter": "3.5", "thread_length": "28"}),
    "insert": ("Insert", {"body_diameter": "8", "body_height": "12"}),
    "screw": ("Neck screw", {"head_diameter": "8", "thread_diameter": "4.5", "thread_length": "44"}),
}


def measured(kind: str, part: str | None = None, **instead: str) -> list[dict[str, Any]]:
    """Return the edits that put a part on the list and measure every place twice."""
    name, readings = PARTS[kind]
    part = part or kind
    return [{"do": "add_part", "kind": kind, "name": name}] + [
        {"do": "keep_reading", "part": part, "place": place, "typed": typed} for place, typed in {**readings, **instead}.items() for _ in range(2)]


def placed(part: str, place: str | None = None, **more: Any) -> dict[str, Any]:
    """Return the edit that places a part."""
    return {"do": "put_item", "list": "placements", "item": {"id": place or f"{part}_1", "part": part, **more}}


@cache
def with_cavity() -> Route:
    """Return the demo body with an empty cavity on its back; every part of PARTS is on the list and measured."""
    edits = [e for kind in PARTS for e in measured(kind)]
    drill = {"id": "drill4_8", "name": "4.8 mm drill", "form": "drill", "diameter_mm": 4.8, "cutting_length_mm": 52, "shank_diameter_mm": 4.8, "stickout_mm": 62, "material": "hss"}
    return changed(route_named("siskin_body"), {"do": "put_item", "list": "features", "item": CAVITY}, {"do": "put_item", "list": "bits", "item": drill}, *edits,
                   {"do": "put_item", "list": "features", "item": {"id": "neck_screws", "diameter_mm": 4.8}}, {"do": "propose"})


@cache
def equipped() -> Route:
    """Return the body with everything placed where it fits, and operations proposed anew."""
    return changed(with_cavity(), placed("pot", x_mm=275.0, y_mm=95.0, cavity="back_cavity"), placed("switch", x_mm=330.0, y_mm=95.0, angle_deg=90.0, cavity="back_cavity"),
                   placed("jack", mount="side", x_mm=315.0, y_mm=140.0, deep_mm=26.0, cavity="back_cavity"), placed("strap_pin", "pin_tail", mount="side", x_mm=409.0, y_mm=0.0),
                   placed("strap_pin", "pin_neck", mount="side", x_mm=66.0, y_mm=128.0), {"do": "propose"})
