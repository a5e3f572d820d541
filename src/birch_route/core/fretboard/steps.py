"""What is done at the bench for a board besides its machining: steps from its numbers, and how they follow these."""

from __future__ import annotations

from typing import Any

from ..bench import BenchStep
from ..data import figures
from ..route import Route
from .numbers import Board

MEASURED = "slot_measured"


def before(board: Board) -> list[dict[str, Any]]:
    """Return what comes before its programs: a slot tried in scrap, where slots are cut at all."""
    if not _has_slots(board):
        return []
    return [{
        "id": "slot_gauge", "name": "Cut a slot in scrap, try the wire", "minutes": figures()["fretboard"]["gauge_min"],
        "kind": "inspect", "gate": True, "where": "offcut of the same wood",
        "check": "the tang goes in as it is meant to be seated, and the crown comes down on the wood",
        "note": "A bit runs out a little and cuts wider than it measures: what this slot shows comes before the "
        "figures. Touch the slot bit off anew before every board: its tip gets shorter.",
    }]


def after(board: Board) -> list[dict[str, Any]]:
    """Return what comes after them, in the order it is done."""
    fig = figures()["fretboard"]
    out: list[dict[str, Any]] = []
    if _has_slots(board):
        out.append({
            "id": MEASURED, "name": "Measure the first and the last slot", "kind": "measure",
            "minutes": fig["gauge_min"] / 2, "where": "first and last fret, crown and both edges",
            "tool": "depth gauge, an offcut of the wire", "check": "as deep as the board's page says, the wire goes in",
            "note": "Before the board is taken off: a shallow slot is cut deeper only while it lies where it lay.",
        })
    same = board.radius_nut_mm == board.radius_end_mm
    out.append({
        "id": "board_block", "name": "Block the face along the strings", "kind": "sand", "grit": 320,
        "minutes": fig["block_min"],
        "tool": "block hollowed to the radius" if same else "straight beam along each string's line; a hollowed block "
        "fits a board of more than one radius only where it lies",
        "check": "no ridge of a pass in light from the side; the slots are still as deep as the tang asks for",
    })
    if board.binding_mm is not None:
        out += [
            {"id": "binding_glue", "name": "Glue the binding on", "kind": "glue", "minutes": fig["bind_min"],
             "where": "both edges", "tool": "tape, or the cord it is wound with",
             "check": "shut along its whole length, over the ends of the slots too"},
            {"id": "binding_dry", "name": "Let the binding dry", "kind": "wait", "wait": True,
             "minutes": fig["bind_dry_min"], "check": "nothing gives under a nail at its ends"},
        ]
    if board.side_dots:
        frets = [*fig["single"], *fig["double"]]
        told = ", ".join(str(n) for n in sorted(frets) if n <= board.frets)
        out.append({
            "id": "side_dots", "name": "Drill and glue the side dots", "kind": "drill",
            "minutes": fig["side_dot_min"] * sum(n <= board.frets for n in frets),
            "where": f"in the edge the player sees, half way between frets: before {told}; two at 12 and its doubles",
            "tool": "template laid against the slots, a drill of the dots' size with a stop",
            "check": "all at one height, none into a slot",
        })
    if not _has_slots(board):
        return out
    if board.blind or board.binding_mm is not None:
        out.append({
            "id": "nip_tangs", "name": "Nip the tangs", "kind": "other", "minutes": fig["nip_fret_min"] * board.frets,
            "where": "both ends of every fret",
            "tool": "tang nipper, file",
            "check": "the tang ends before the edge of its slot; the crown reaches over it",
        })
    how = {"pressed": "press and a caul of the radius there", "hammered": "hammer of soft metal, board on a bag of "
           "sand", "glued": "glue in the slot, a caul until it holds"}[board.seat]
    out.append({
        "id": "seat_frets", "name": "Seat the frets", "kind": "other", "minutes": fig["seat_fret_min"] * board.frets,
        "where": "from the ends towards the middle", "tool": how,
        "check": "no light under a crown at its middle or its ends; a straight edge lies on all of them",
    })
    return out


def with_steps_of(was: Route, route: Route) -> Route:
    """Return a changed route whose steps follow its board: those that its numbers newly ask for come, those they no
    longer ask for go; what a person added, changed or took away stays so."""
    old, new = was.piece.board, route.piece.board
    if new is None or old is None or old == new:
        return route
    had = {s["id"]: s for s in [*before(old), *after(old)]}
    first, then = before(new), after(new)
    wanted = {s["id"] for s in [*first, *then]}
    kept = [s for s in route.bench_steps if s.id not in had or s.id in wanted or _touched(s, had[s.id])]
    there = {s.id for s in kept}
    last = route.operations[-1].id if route.operations else None
    came = [(s, None if s in first else last) for s in [*first, *then] if s["id"] not in had and s["id"] not in there]
    order = [s["id"] for s in then]
    for step, place in came:
        one = BenchStep.model_validate({**step, "after": place})
        later = set(order[order.index(one.id) + 1 :]) if one.id in order else {s.id for s in kept}
        later |= {"tabs"} if one.id == MEASURED else set()  # it is measured while the board lies where it was cut
        at = next((k for k, s in enumerate(kept) if s.id in later), len(kept))
        kept = [*kept[:at], one, *kept[at:]]
    return route.model_copy(update={"bench_steps": kept})


def _has_slots(board: Board) -> bool:
    return board.wire.tang_mm is not None and board.wire.tang_depth_mm is not None


def _touched(step: BenchStep, proposed: dict[str, Any]) -> bool:
    """Whether a person changed a step that came from the numbers."""
    return any(step.model_dump(mode="json").get(k) != v for k, v in proposed.items())
