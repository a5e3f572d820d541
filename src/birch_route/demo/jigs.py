"""Jigs of the demo shop, each a job of its own: a board for the body, a carrier to turn it over in, a vacuum board for the neck, a plate for the vice."""

from __future__ import annotations

from typing import Any

from ..core.bits.model import Bit
from ..core.edits import apply_edits, read_edit
from ..core.jigs.board import board_for
from ..core.jigs.carrier import carrier_for
from ..core.jigs.vice import AngleBudget, vice_plate_for
from ..core.route import Route
from ..core.vocabulary import TurnAxis
from .fitted import fitted_route
from .jobs import EXAMPLES
from .shop import BITS, MORE_BITS


def neck_on_vacuum() -> Route:
    """Return the demo neck held by a vacuum inside its outline and against a rail, not by screws."""
    edits: list[dict[str, Any]] = [
        *({"do": "remove_hardware", "setup": "front", "hardware": f"s{k}"} for k in (1, 2, 3, 4)),
        {"do": "put_hardware", "setup": "front", "hardware": {"id": "v1", "kind": "vacuum", "x_mm": 270, "y_mm": 0, "length_mm": 440, "width_mm": 44}},
        {"do": "put_hardware", "setup": "front", "hardware": {"id": "r1", "kind": "rail", "x_mm": 274, "y_mm": 55, "angle_deg": 90, "width_mm": 400, "length_mm": 30, "top_mm": -8}}]
    return apply_edits(EXAMPLES["siskin_neck_face"](), [read_edit(e) for e in edits])


def jig_routes() -> list[Route]:
    """Return the jigs."""
    rack = [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]]
    vice = vice_plate_for(EXAMPLES["siskin_neck_face"](), "front", AngleBudget(4.5, 2.0, 0.0), rack)
    return [vice, board_for(neck_on_vacuum(), "front", rack), carrier_for(EXAMPLES["siskin_body"](), "front", TurnAxis.LENGTH, rack), board_for(fitted_route(True), "back", rack)]
