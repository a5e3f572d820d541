"""Rules over what the machine can hold and change by itself: slots of its changer, collets, forms of bits."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures
from ..quantities import named_mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def slots(sim: Simulation) -> Iterator[Finding]:
    """A changer with fewer slots than the job has bits calls one that is not in it."""
    dialect, name = sim.route.machine.dialect, sim.route.machine.name
    bits = list(dict.fromkeys(o.bit for o in sim.whole.operations))
    if not dialect.change_word or dialect.changer_slots is None or len(bits) <= dialect.changer_slots:
        return
    first = sim.whole.bit(bits[dialect.changer_slots])
    yield finding(
        "machine.slots",
        f"The job uses {len(bits)} bits and the changer of {name} has {dialect.changer_slots} slots: T"
        f"{dialect.changer_slots + 1}, {first.name}, is in none. Use fewer bits, or have them put in by hand.",
        operation=next(o.id for o in sim.whole.operations if o.bit == first.id),
        facts=[
            Fact(name="bits", value=len(bits)),
            Fact(name="slots", value=dialect.changer_slots, source="machine"),
        ],
        cures=[
            Cure(
                sentence="Have bits put in by hand",
                edits=[
                    set_edit("machine.dialect.changer_slots", None),
                    set_edit("machine.dialect.preselect", False),
                    set_edit("machine.dialect.change_word", False),
                ],
            ),
        ],
    )


@rule_once
def collets(sim: Simulation) -> Iterator[Finding]:
    """No collet of the machine takes the shank of a bit that is used."""
    machine, off = sim.whole.machine, figures()["machine_spans"]["collet_off_mm"]
    if not machine.collets_mm:
        return
    for bit_id in dict.fromkeys(o.bit for o in sim.whole.operations):
        bit = sim.whole.bit(bit_id)
        shank = bit.shank_diameter_mm
        if min(abs(shank - c) for c in machine.collets_mm) <= off:
            continue
        have = ", ".join(f"{named_mm(c):g}" for c in sorted(machine.collets_mm))
        yield finding(
            "bit.no_collet",
            f"No collet of {machine.name} takes {bit.name}, shank {named_mm(shank):.2f}: it has {have}. Never "
            f"force one.",
            operation=next(o.id for o in sim.whole.operations if o.bit == bit_id),
            facts=[Fact(name="shank", value=shank, source="bit"), Fact(name="collets", value=len(machine.collets_mm))],
            cures=[
                Cure(
                    sentence=f"It has one of {named_mm(shank):.2f}",
                    edits=[set_edit("machine.collets_mm", [*machine.collets_mm, shank])],
                )
            ],
        )
