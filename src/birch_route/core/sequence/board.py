"""Propose how the slots of a fretboard are cut, and when."""

from __future__ import annotations

from ..cutting.settings import propose_settings
from ..data import figures
from ..fretboard.features import SLOTS
from ..fretboard.numbers import Board
from ..fretboard.surfaces import SlotFloors
from ..fretboard.ways import sideways, slot_bits
from ..instrument.resolve import Solid
from ..materials.layers import wood_met
from ..quantities import mm
from ..route import Operation, Route
from ..vocabulary import Entry, OperationKind, Side


def propose_slots(route: Route, solid: Solid) -> list[Operation]:
    """Return the operation that cuts all slots of a board; none where no bit of the rack is thin enough."""
    floors = solid.surface
    assert isinstance(floors, SlotFloors)
    runs_out = route.machine.slot_over_mm
    bits = slot_bits(route.bits, floors, runs_out)
    if not bits:
        return []
    bit, species = bits[0], wood_met(route, solid.floor_mm)
    proposal = propose_settings(OperationKind.PROFILE, bit, species, route.machine)
    part = figures()["fretboard"]["depth_part"]
    settings = proposal.settings.model_copy(
        update={"depth_of_cut_mm": round(min(proposal.settings.depth_of_cut_mm, part * bit.cut_diameter_mm), 3)}
    )
    ways = len(sideways(floors, bit.cut_diameter_mm + runs_out))
    why = f"the widest that goes into a slot of {mm(floors.width_mm):.2f}"
    if runs_out:
        why += f"; slots of {route.machine.name} come {mm(runs_out):.2f} wider than the bit"
    reasons = {
        **proposal.reasons,
        "bit": why if ways == 1 else f"{why}; {ways} ways through each make its width",
        "depth_of_cut_mm": f"{part:g} of its diameter: a thin bit breaks before anything else gives",
        "entry": "down along the slot, to and fro, without lifting inside it",
        "order": order_words(floors),
    }
    return [
        Operation(
            id=f"{OperationKind.PROFILE.value}_{solid.id}", name=solid.name, kind=OperationKind.PROFILE,
            setup=route.setups[0].id, features=[solid.id], bit=bit.id, settings=settings, side=Side.ON,
            entry=Entry.RAMP, finish_pass=False, overcut_mm=0.0, reasons=reasons,
            made_for=(species.id, route.machine.name),
        )
    ]


def order_words(floors: SlotFloors) -> str:
    """Return why slots are cut before the radius or after it, and what a bit that breaks costs then."""
    if floors.flat:
        return (
            "before the radius, while the blank is flat: a bit that breaks here costs the least work, and every floor "
            "is level; more wood goes under the crown"
        )
    return (
        "after the radius: every floor follows the face, and more wood stays under the crown; a bit that breaks now "
        "costs a board whose face is done"
    )


def in_board_order(operations: list[Operation], board: Board | None) -> list[Operation]:
    """Return operations of a board as it is worked: all dots by one, the slots after its face where their floors follow
    that."""
    if board is None:
        return operations
    slots = [o for o in operations if SLOTS in o.features and board.floors == "following"]
    return [*_dots_together([o for o in operations if o not in slots]), *slots]


def _dots_together(operations: list[Operation]) -> list[Operation]:
    """Return operations with those on dots that one bit makes alike as one, where the first of them stands."""
    out: list[Operation] = []
    for one in operations:
        first = next((k for k, o in enumerate(out) if _is_dots(o) and _is_dots(one) and _alike(o, one)), None)
        if first is None:
            out.append(one)
        else:
            features = [*out[first].features, *one.features]
            out[first] = out[first].model_copy(update={"features": features, "name": f"Dots at {len(features)} frets"})
    return out


def _is_dots(operation: Operation) -> bool:
    return all(f.startswith("dot") for f in operation.features) and operation.features != []


def _alike(one: Operation, other: Operation) -> bool:
    return all(getattr(one, k) == getattr(other, k) for k in ("kind", "bit", "settings", "peck_mm"))
