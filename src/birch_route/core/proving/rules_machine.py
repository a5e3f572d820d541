"""Rules over what the machine can hold and change by itself."""

from __future__ import annotations

from collections.abc import Iterator

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
