"""The demo shop: the starting machines and bits, and boards of our own invention."""

from __future__ import annotations

from typing import Any

from ..core.data import starting_shop

_SHOP = starting_shop()
MACHINES: list[dict[str, Any]] = _SHOP["machines"][:2]
BENCH_MACHINE, BELT_MACHINE = MACHINES
BITS: list[dict[str, Any]] = _SHOP["bits"]
MORE_BITS: list[dict[str, Any]] = _SHOP["drawer"]  # in the drawer: added to a route when it needs them
BITS_BY_ID = {b["id"]: b for b in BITS}

BOARDS: list[dict[str, Any]] = [
    {
        "name": "Alder, shelf 2",
        "wood": "alder",
        "length_mm": 1180.0,
        "width_mm": 182.0,
        "thickness_mm": 52.0,
        "weighed_kg": 5.31,
        "figure": "plain, quartered",
        "note": "Cup of 1 on the heart side",
        "state": "on_hand",
        "route": None,
    },
    {
        "name": "Alder, its neighbour",
        "wood": "alder",
        "length_mm": 1165.0,
        "width_mm": 179.0,
        "thickness_mm": 52.0,
        "weighed_kg": 5.02,
        "figure": "plain, quartered",
        "note": "",
        "state": "on_hand",
        "route": None,
    },
    {
        "name": "Maple, barn end",
        "wood": "hard_maple",
        "length_mm": 760.0,
        "width_mm": 120.0,
        "thickness_mm": 26.0,
        "weighed_kg": 1.74,
        "figure": "light curl",
        "note": "For necks",
        "state": "on_hand",
        "route": None,
    },
    {
        "name": "Limba offcut",
        "wood": "limba",
        "length_mm": 430.0,
        "width_mm": 210.0,
        "thickness_mm": 47.0,
        "weighed_kg": None,
        "figure": "",
        "note": "Not weighed yet",
        "state": "on_hand",
        "route": None,
    },
]
