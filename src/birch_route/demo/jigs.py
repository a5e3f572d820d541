"""Jigs of the demo shop, each a job of its own: a board for the body, a carrier to turn it over in, a vacuum board for the neck, a plate for the vice."""

from __future__ import annotations

from typing import Any

from ..core.bits.model import Bit
from ..core.edits import apply_edits, read_edit
from ..core.jigs.board import board_for
from ..core.jigs.carrier import carrier_for
from ..core.jigs.holding import weakest, with_holding
from ..core.jigs.vice import AngleBudget, vice_plate_for
from ..core.proving.holds import holds
from ..core.proving.simulate import simulate_all
from ..core.route import Route
from ..core.vocabulary import TurnAxis
from .fitted import fitted_route
from .jobs import EXAMPLES
from .shop import BITS, MORE_BITS


def neck_on_vacuum() -> Route:
    """Return the demo neck held by a vacuum where nothing is cut through, against a rail and by a clamp at either end,
    not by screws."""
    edits: list[dict[str, Any]] = [
        *({"do": "remove_hardware", "setup": "front", "hardware": f"s{k}"} for k in (1, 2, 3, 4)),
        {
            "do": "put_hardware",
            "setup": "front",
            "hardware": {"id": "v1", "kind": "vacuum", "x_mm": 320, "y_mm": 0, "length_mm": 380, "width_mm": 44},
        },
        {
            "do": "put_hardware",
            "setup": "front",
            "hardware": {
                "id": "r1",
                "kind": "rail",
                "x_mm": 274,
                "y_mm": 55,
                "angle_deg": 90,
                "width_mm": 400,
                "length_mm": 30,
                "top_mm": -8,
            },
        },
        *(
            {
                "do": "put_hardware",
                "setup": "front",
                "hardware": {"id": f"c{k}", "kind": "top_clamp", "x_mm": x, "y_mm": 0, "angle_deg": a, "top_mm": 12},
            }
            for k, x, a in ((1, -26, 180), (2, 574, 0))
        ),
    ]
    return apply_edits(EXAMPLES["siskin_neck_face"](), [read_edit(e) for e in edits])


def jig_routes() -> list[Route]:
    """Return the jigs."""
    rack = [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]]
    vice = vice_plate_for(EXAMPLES["siskin_neck_face"](), "front", AngleBudget(4.5, 2.0, 0.0), rack)
    carrier = carrier_for(EXAMPLES["siskin_body"](), "front", TurnAxis.LENGTH, rack)
    return [vice, _board(neck_on_vacuum(), "front", rack), carrier, _board(fitted_route(True), "back", rack)]


def _board(route: Route, setup: str, rack: list[Bit]) -> Route:
    """Return a board with how the holding it is drawn from holds."""
    rows = [
        {
            "name": s.operation.name,
            "setup": sim.setup.id,
            "hold": None if h is None else {"factor": h.factor, "needs": h.needs},
        }
        for sim in simulate_all(route)
        for s, h in zip(sim.steps, holds(sim), strict=True)
    ]
    return with_holding(board_for(route, setup, rack), weakest(rows, [setup]))
