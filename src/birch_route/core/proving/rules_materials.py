"""Rules over materials of a shop's own: their settings are borrowed until a cut of them went well here."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import Wood, wood
from ..materials.own import used
from ..vocabulary import MaterialSort
from .findings import Fact, Finding, finding
from .registry import rule_once
from .simulate import Simulation

HARD = (MaterialSort.METAL, MaterialSort.SHELL)
CAUTIONS = {
    MaterialSort.METAL: "Clamp it so that nothing can lift, clear every chip, keep it cool; hot metal never goes into "
    "the extraction with wood dust.",
    MaterialSort.SHELL: "Its dust harms lungs: extraction at the bit, a mask for fine dust, and water where the bit "
    "allows it.",
}


@rule_once
def borrowed(sim: Simulation) -> Iterator[Finding]:
    """A material of the shop's own that nothing was cut in yet."""
    here = used(sim.whole)
    for one in sim.whole.materials:
        if one.id in here and one.like and not one.went_well:
            yield _hard(one) if one.sort in HARD else _unproven(one)


def _times(one: Wood) -> float:
    return one.cuts_as_kg_m3 / wood(one.like).cuts_as_kg_m3


def _facts(one: Wood) -> list[Fact]:
    return [
        Fact(
            name="force", value=round(one.cuts_as_kg_m3 / wood(one.like).cuts_as_kg_m3, 2), unit="times", source="told"
        ),
        Fact(name="density", value=one.density_kg_m3, unit="kg/m³", source=one.source),
    ]


def _hard(one: Wood) -> Finding:
    caution = CAUTIONS[one.sort or MaterialSort.METAL]
    return finding(
        "material.hard",
        f"Nothing was cut in {one.name} here. Its settings are those of {wood(one.like).name.lower()} at "
        f"{_times(one):.1f} times its force: begin with a test plan on scrap, a "
        f"tenth as deep, and keep what goes well as a record. {caution}",
        facts=_facts(one),
    )


def _unproven(one: Wood) -> Finding:
    lender = wood(one.like)
    times = _times(one)
    risk = (
        "more force than its lender: the bit bends and breaks sooner" if times > 1 else "it may feed faster than needed"
    )
    return finding(
        "material.unproven",
        f"Nothing was cut in {one.name} here. Its settings are borrowed from {lender.name.lower()}, at {times:.2f} "
        f"times its force: {risk}. A cut that went well, kept at the rack, ends this.",
        facts=_facts(one),
    )
