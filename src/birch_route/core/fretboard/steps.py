"""What is done at the bench for a board besides its machining."""

from __future__ import annotations

from typing import Any

from ..data import figures


def before() -> list[dict[str, Any]]:
    """Return what comes before its programs: a slot tried in scrap."""
    return [{
        "id": "slot_gauge", "name": "Cut a slot in scrap, try the wire", "minutes": figures()["fretboard"]["gauge_min"],
        "kind": "inspect", "gate": True, "where": "offcut of the same wood",
        "check": "the tang goes in as it is meant to be seated, and the crown comes down on the wood",
        "note": "A bit runs out a little and cuts wider than it measures: what this slot shows comes before the "
        "figures. Then measure the first and the last slot of the board before it is taken off.",
    }]


def after() -> list[dict[str, Any]]:
    """Return what comes after them."""
    return [{
        "id": "board_block", "name": "Block the face along the strings", "kind": "sand", "grit": 320,
        "minutes": figures()["fretboard"]["block_min"], "tool": "block hollowed to the radius at each end in turn",
        "check": "no ridge of a pass in light from the side; the slots are still as deep as the tang asks for",
    }]
