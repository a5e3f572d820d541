"""Where each number of cut settings comes from: its formula, the figures in it with their values, and how far it can be trusted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..data import figures

ASSUMED = "The form is a closed one; its figures are starting figures of the trade, unverified, until your own records say otherwise."
GEOMETRY = "Plain geometry: as good as the diameters and depths it is given."
SIMULATED = "Met in the simulated wood of this route, every move of it; as good as the blank and the bit are measured."


@dataclass(frozen=True)
class Source:
    """What a number rests on. formula in words; figures: blocks of figures.json, with the names that are used of each (none named: all); confidence in words."""

    name: str
    unit: str
    formula: str
    figures: tuple[tuple[str, tuple[str, ...]], ...]
    confidence: str


SOURCES: dict[str, Source] = {
    "feed": Source("Feed rate", "mm/min", "chip load times flutes times speed; the chip load lies between the careful and the bold end for the bit's diameter, times the factor of the wood, thicker where little meets the wood from the side",
                   (("chip_load_mm", ("aim",)), ("chip_load_factor", ())), ASSUMED),
    "speed": Source("Spindle speed", "rpm", "rim speed aimed at, over the circumference of the bit; the nearest the machine can turn", (("surface_speed", ()),), ASSUMED),
    "depth": Source("Depth of cut", "mm", "a part of the diameter by the class of machine, no more than the edge is long, less where power, bend or the bit's strength bind", (("depth_per_pass", ()), ("bend", ()), ("power_part", ()), ("strength_n_mm2", ())), ASSUMED),
    "stepover": Source("Stepover", "mm", "a part of the diameter by the kind of cut; over a surface what keeps the ridge under what its class allows", (("stepover", ()), ("cusp_mm", ())), ASSUMED),
    "plunge": Source("Plunge rate", "mm/min", "a part of the feed rate for a bit whose middle cuts; a drill by its feed a turn", (("plunge", ()), ("entry", ("plunge_part", "ramp_deg")), ("drilling", ())), ASSUMED),
    "chip": Source("Chip load", "mm", "feed rate over speed and flutes; its window is that of the bit's diameter times the factor of the wood", (("chip_load_factor", ()), ("rubbing", ()), ("chip_load_deep", ())), ASSUMED),
    "force": Source("Cutting force", "N", "F = (A + B h) w for each tooth in the wood, h the chip's greatest thickness and w the depth, in proportion to density; a curve through nothing below the knee", (("cutting_force", ()),), ASSUMED),
    "power": Source("Power", "W", "the same force at the mean chip, times the teeth that are in the wood, times the rim speed; the spindle gives less below its rated speed", (("cutting_force", ()), ("power_part", ())), ASSUMED),
    "bend": Source("Bit bend", "mm", "a bar fixed in the collet nut, F l³ / 3 E I for its fluted part (0.8 of the diameter) and its shank one after the other, and what the machine gives", (("elastic_gpa", ()), ("bend", ())), ASSUMED),
    "breakage": Source("Stress at the flutes", "N/mm²", "32 F l / π d³ at the root of the flutes, against what a bit bears for long", (("strength_n_mm2", ()),), ASSUMED),
    "loudness": Source("Loudness", "", "rim speed and power at the bit, each against what neighbours bear; no sound is computed", (("quiet", ()),), ASSUMED),
    "ridge": Source("Ridge between passes", "mm", "what a ball leaves standing, r - √(r² - s²/4), measured in the simulated wood along the normal", (("cusp_mm", ()), ("surface", ("ridge_part", "most_stepover"))), GEOMETRY),
    "met": Source("What the bit met", "mm", "volume cut over way gives area, area over depth gives width; told of the cut that pulls harder than 99 of 100", (), SIMULATED),
    "minutes": Source("Minutes", "min", "every move timed with the machine's greatest feeds, its acceleration and its deviation at corners", (), "Computed; note what a run took and the two can be compared."),
    "tear": Source("Splinters", "", "how steeply the fibres dive into the kept wood ahead of the edge, times figures of wood, direction and bite", (("tear_out", ("wood", "climb", "conventional", "some", "likely")),), ASSUMED),
    "life": Source("Life of an edge", "m", "metres cut, each times how fast its wood wears, against what an edge of this size lasts in hardwood", (("bit_life", ()),), ASSUMED),
    "holding": Source("What the holding bears", "N", "limit equilibrium over all contacts, divided by the factor of safety", (("holding", ("factor", "factor_freed")),), ASSUMED),
    "pull": Source(
        "What the cut pulls", "N",
        "the cutting force of every move this operation makes, in the direction it pulls, the greatest of them; a bit "
        "that climbs out of its flutes lifts by a part of it",
        (("cutting_force", ()), ("holding", ())), ASSUMED),
    "pieces": Source(
        "Pieces the wood has come to", "kg",
        "the wood of the simulated cells that hang together, times its density", (), SIMULATED),
    "wall": Source(
        "Wall", "mm",
        "the shortest way between two edges in plan, of all features that take wood at the same height",
        (("walls_mm", ()),), GEOMETRY),
    "floor": Source(
        "Wood under the floor", "mm",
        "the thickness of the piece, less the depth, less what is cut below it from the other face",
        (("floors_mm", ()),), GEOMETRY),
    "outside": Source(
        "Wood to the outside", "mm", "the shortest way in plan from the feature's edge to the outline",
        (("walls_mm", ("to_outside",)),), GEOMETRY),
    "deep": Source(
        "Depth", "mm",
        "as drawn, or what a part's reading and what stands above it leave; the mark beside it says how often that "
        "was measured", (), GEOMETRY),
    "gap": Source(
        "Gap and film", "mm",
        "the gap on one wall as it was said for this job or starts, and the film of finish where both walls get it",
        (("fit_gap_mm", ()), ("film_mm", ())), ASSUMED),
    "tolerance": Source(
        "May be off", "mm", "by the finish class of the pocket", (("tolerance_mm", ()),), ASSUMED),
    "weight": Source(
        "Weight", "kg",
        "the volume of the piece as it is drawn, less every feature, times the density of its wood: of the blank you "
        "weighed, or of the table of woods", (), GEOMETRY),
    "hang": Source(
        "How it hangs", "\u00b0",
        "weight and balance of body and neck together, hung from the two strap pins as they are placed",
        (("strap", ()),), GEOMETRY),
    "yours": Source(
        "Minutes at the bench", "min",
        "what the steps of this route ask of a hand: changing bits, loading, turning over, and each bench step",
        (("minutes", ()),), ASSUMED),
}


def origins() -> dict[str, dict[str, Any]]:
    """Return every source as plain data with the values its figures have now."""
    out = {}
    for key, s in SOURCES.items():
        used = [
            {"what": figures()[block]["what"], "values": _values(figures()[block], names)}
            for block, names in s.figures
        ]
        out[key] = {
            "name": s.name, "unit": s.unit, "formula": s.formula, "figures": used, "confidence": s.confidence,
            "source": figures()["source"],
        }
    return out


def _values(block: Any, names: tuple[str, ...]) -> dict[str, Any]:
    """Return the figures of a block by name; a table gives its rows by what stands first in them."""
    if names:
        return {n: block[n] for n in names}
    values = {n: block[n] for n in block if n not in ("what", "rows")}
    return values or {f"{row[0]:g}": row[1:] if len(row) > 2 else row[1] for row in block["rows"]}
