"""The run sheet as PDF: what to load, zero, put in, touch off and check, bit by bit."""

from __future__ import annotations

from typing import Any

from ..core.holding.zero import ZeroStep, touch_z_mm, zero_steps
from ..core.instrument.edges import edge_plan
from ..core.programs.touching import by_hand, stops_before, touches
from ..core.programs.writer import Program, bit_numbers, program_origin
from ..core.proving.prove import Proof
from ..core.proving.rules_measuring import resting
from ..core.proving.simulate import Simulation
from ..core.quantities import Unit, mm, named_mm, rate, say
from ..core.route import Route, Setup
from ..core.traveller import begins_anew, steps_after
from ..core.vocabulary import ZeroXY, ZeroZ
from .bed import bed_plan, draw_bed, jog_words
from .page import Page

SAFETY = (
    "Eyes, ears and lungs covered; extraction on for dust.",
    "Hands away while the bit turns; hold the feed before reaching in.",
    "Never leave a cutting machine alone; stay within reach of the stop.",
    "The machine maker's instructions and local rules come before this sheet.",
)


def run_plan(*simulations: Simulation) -> dict[str, Any]:
    """Return the run as data: setup by setup what to load and zero, then each bit with its checks and operations. The first setup's load, zero
    and hardware also stand at the top. order: bench steps, setups and bits as they come one after another."""
    numbers = bit_numbers(*simulations)
    setups = [_setup_plan(sim, numbers) for sim in simulations]
    first = setups[0]
    return {
        **{k: first[k] for k in ("load", "zero_xy", "zero_z", "hardware")},
        "setups": setups,
        "bits": [b for s in setups for b in s["bits"]],
        "safety": list(SAFETY),
        "order": _order(simulations[0].whole, setups),
    }


def _order(route: Route, setups: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return what is done one after another: kind bench (a step), setup (load and zero), bit (its number within the
    setup)."""
    def bench(operation: str | None) -> list[dict[str, Any]]:
        return [
            {
                "kind": "bench", "step": s.id, "name": s.name, "minutes": s.minutes, "wait": s.wait, "gate": s.gate,
                "note": s.note, "where": s.where, "tool": s.tool, "grit": s.grit, "check": s.check,
                "in_sight": s.in_sight,
            }
            for s in steps_after(route, operation)
        ]

    out = bench(None)
    for setup in setups:
        out.append({"kind": "setup", "setup": setup["id"]})
        for number, group in enumerate(setup["bits"]):
            out.append({"kind": "bit", "setup": setup["id"], "bit": number})
            out += [step for operation in group["operations"] for step in bench(operation["id"])]
    return out


def _setup_plan(sim: Simulation, numbers: dict[str, int]) -> dict[str, Any]:
    blank, zero, setup = sim.route.blank, sim.setup.zero, sim.setup
    groups: list[dict[str, Any]] = []
    for index, step in enumerate(sim.steps):
        b = step.bit
        if step.bit_changes or not groups or steps_after(sim.whole, sim.steps[index - 1].operation.id):
            found = _checks(sim, index) if step.bit_changes or not groups else _stays(sim, index)
            groups.append(
                {
                    "t": numbers[b.id],
                    "bit": b.id,
                    "name": b.name,
                    "stickout_mm": b.stickout_mm,
                    "setup": setup.id,
                    "checks": [words for _, words in found],
                    "check_kinds": [kind for kind, _ in found],
                    "operations": [],
                }
            )
        elif todo := stops_before(sim.route.machine, step, sim.steps[index - 1]):
            groups[-1]["checks"].append(f"Before {step.operation.name.lower()} it stops: {'; '.join(todo)}")
            groups[-1]["check_kinds"].append("stops")
        s = step.operation.settings
        groups[-1]["operations"].append({
            "id": step.operation.id, "name": step.operation.name, "minutes": round(step.minutes, 2), "feed_mm_min": s.feed_mm_min,
            "speed_rpm": s.speed_rpm, "depth_of_cut_mm": s.depth_of_cut_mm, "rests_on": resting(sim, step.operation.features)})
    turned = "" if sim.index == 0 else f", turned over about its {sim.frame.about or 'length'}" if sim.frame.about else ", turned over again"
    steps = _zero_steps(sim)
    datum = next((f.name.lower() for f in sim.whole.features if f.id == setup.datum), None)
    return {
        "id": setup.id,
        "name": setup.name,
        "face_up": sim.up.value,
        "load": _how_many(setup) + f"{sim.species.name}, {mm(blank.length_mm):g} x {mm(blank.width_mm):g} x "
                f"{named_mm(blank.thickness_mm):g}, {sim.up} face up{turned}, lower left corner at "
        f"{mm(setup.blank_at_mm[0]):g}, {mm(setup.blank_at_mm[1]):g} on the bed"
        + (f", {datum} on their pins" if datum and sim.index else ""),
        "zero_xy": "lower left corner of the blank" if zero.xy is ZeroXY.LOWER_LEFT else "centre of the blank",
        "zero_z": f"{setup.stands_on} beside the blank"
        if zero.z is ZeroZ.BED
        else f"top of the blank, at {mm(zero.touch_x_mm):g}, {mm(zero.touch_y_mm):g} from the piece's zero",
        "hardware": [
            {
                "id": h.id,
                "kind": h.kind.value,
                "x_mm": round(h.x_mm - blank.x_mm, 1),
                "y_mm": round(h.y_mm - blank.y_mm, 1),
                "top_mm": h.top_mm,
            }
            for h in setup.hardware
        ],
        "offset": zero.offset,
        "way": zero.way.value,
        "zero_steps": [
            {
                "do": z.do,
                **{
                    name: {k: round(v, 3) + 0.0 for k, v in values.items()}
                    for name, values in (("sets", z.sets), ("goes", z.goes))
                },
            }
            for z in steps
        ],
        "bed": bed_plan(sim, steps),
        "bits": groups,
    }


def _how_many(setup: Setup) -> str:
    return f"{1 + len(setup.more_at)} blanks alike, each " if setup.more_at else ""


def _zero_steps(sim: Simulation) -> list[ZeroStep]:
    return zero_steps(sim.whole, sim.route, sim.frame, sim.resolved.outline, program_origin(sim), sim.steps[0].bit if sim.steps else None)


def _stays(sim: Simulation, index: int) -> list[tuple[str, str]]:
    """Return the checks, kind and words, where the machine goes on with the bit that is in, after work at the bench."""
    step = sim.steps[index]
    anew = begins_anew(sim.route, index)
    todo = [] if anew else stops_before(sim.route.machine, step, sim.steps[index - 1])
    out = [("bit", f"{step.bit.name} still in, {mm(step.bit.stickout_mm):g} out of the collet nut")]
    if anew and step.operation.touch_off_before:
        out.append(("touch", "Z touched off again"))
    if todo:
        out.append(("stops", f"It stops: {'; '.join(todo)}"))
    return [*out, ("clear", "Nothing left on the bed, dust on")]


def _checks(sim: Simulation, index: int) -> list[tuple[str, str]]:
    """Return the checks, kind and words, before a bit starts."""
    step = sim.steps[index]
    out = [("bit", f"{step.bit.name} in, {mm(step.bit.stickout_mm):g} out of the collet nut")]
    if touches(sim, step):
        lays = "; it stops for the plate to be laid and taken away" if by_hand(sim) else " at the fixed place"
        words = f"The program touches Z off{lays}. Try first that the machine sees bit and plate meet"
        out.append(("touch", words))
    elif step.operation.touch_off_before:
        changed = "" if index == 0 else ", because the bit changed"
        out.append(("touch", f"Z touched off {_touched_where(sim)}{changed}"))
    if not sim.route.machine.dialect.speed_word:
        speed = _upper(sim.route.machine.speed_words(step.operation.settings.speed_rpm))
        out.append(("speed", f"{speed}: the program does not set it"))
    if index == 0:
        again = " again" if sim.index else ""
        face = round(-program_origin(sim)[2], 2) + 0.0  # never -0.00
        stands = f"Touched on the finished face, Z should read {mm(face):.2f}" if sim.index else (
            f"Blank {mm(sim.route.blank.thickness_mm):.2f} thick; the finished face will lie {mm(face):.2f} over zero")
        out += [
            ("face", stands),
            ("zero", f"X and Y zero found{again}, machine homed"),
            ("clamps", f"{len(sim.setup.hardware)} screws and clamps as drawn"),
        ]
    if sim.setup.more_at:
        words = (
            f"Run for each of the {1 + len(sim.setup.more_at)} pieces by its own program, X and Y zero left as it is, "
            f"Z touched off anew before each"
        )
        out.append(("pieces", words))
    return [*out, ("clear", "Screws and clamps clear, dust on")]


def _touched_where(sim: Simulation) -> str:
    if sim.route.machine.probe_mm is not None and not sim.setup.in_vice:
        return f"at the fixed place, Z set to {mm(touch_z_mm(sim.route, program_origin(sim)[2])):.2f}"
    return f"on the {sim.setup.stands_on}" if sim.setup.zero.z is ZeroZ.BED else "on top of the blank"


def _upper(words: str) -> str:
    return words[0].upper() + words[1:]


def run_sheet_pdf(proof: Proof, programs: list[Program], unit: Unit = Unit.MM) -> bytes:
    """Return the run sheet as PDF bytes, its lengths in a unit."""
    sim = proof.simulation
    plan = run_plan(*proof.simulations)
    pdf = Page(unit, format="A4")
    pdf.set_auto_page_break(True, 15)
    pdf.set_title(pdf.words(f"{sim.route.job}, run sheet"))
    pdf.add_page()
    pdf.line_of(sim.route.job, 20, bold=True)
    pdf.line_of(
        f"{sim.route.piece.name}. {', then '.join(s.setup.name.lower() for s in proof.simulations).capitalize()}. "
        f"{sim.route.machine.name}. Computed, not proven.",
        10,
    )
    pdf.ln(3)
    edges = edge_plan(sim.whole, sim.resolved)
    if not programs:
        pdf.line_of("No program is released: stops stand. See below.", 10, bold=True)
    _traveller(pdf, plan, programs, _also(sim.route, unit))
    pdf.ln(2)
    for edge in edges:
        sharp = "; ".join(
            f"{mm(abs(s.to_mm - s.from_mm)):.0f} at {mm(s.at[0]):.0f}, {mm(s.at[1]):.0f}, {s.why}"
            for s in edge.stretches[:6]
        )
        pdf.line_of(f"Edge: {edge.words}." + (f" Stays sharp: {sharp}." if sharp else ""), 10)
    if proof.findings:
        pdf.ln(2)
        pdf.line_of("Findings", 13, bold=True)
        for one in proof.findings:
            why = f" Meant so: {one.meant}" if one.meant else ""
            pdf.line_of(f"{one.severity.value}: {one.sentence}{why}", 9)
    pdf.ln(2)
    pdf.line_of("Safety", 13, bold=True)
    for line in SAFETY:
        pdf.line_of(line, 9)
    return bytes(pdf.output())


def _traveller(pdf: Page, plan: dict[str, Any], programs: list[Program], other: Unit | None) -> None:
    """Write the run in its order: bench, setup, bit, bench, turn over, and so on."""
    setups, at_bench = {s["id"]: s for s in plan["setups"]}, False
    for entry in plan["order"]:
        if entry["kind"] == "bench":
            if not at_bench:
                pdf.ln(2)
                pdf.line_of("At the bench", 13, bold=True)
            pdf.line_of(f"   [  ] {step_words(entry)}", 9)
        elif entry["kind"] == "setup":
            _setup_lines(pdf, setups[entry["setup"]], other)
        else:
            group = setups[entry["setup"]]["bits"][entry["bit"]]
            for program in (
                p for p in programs if p.operations and p.operations[0] in [o["id"] for o in group["operations"]]
            ):
                pdf.line_of(f"File {program.name}, {program.minutes:.1f} min", 10)
            _bit_lines(pdf, group)
        at_bench = entry["kind"] == "bench"


def step_words(entry: dict[str, Any]) -> str:
    """Return a step at the bench in one line."""
    words = f"{entry['name']}, {entry['minutes']:g} min{' of waiting' if entry['wait'] else ''}"
    words += ". What follows waits for it" if entry["gate"] else ""
    with_it = [entry["tool"], f"paper {entry['grit']}" if entry["grit"] else ""]
    said = [
        ("Where", entry["where"]), ("With", ", ".join(w for w in with_it if w)), ("Check", entry["check"]),
        ("", "While the machine runs, in sight of its stop" if entry["in_sight"] else ""), ("", entry["note"]),
    ]
    more = [f"{head}: {text}" if head else text for head, text in said if text]
    return ". ".join([words, *(m.rstrip(".") for m in more)]) + "."


def _setup_lines(pdf: Page, setup: dict[str, Any], other: Unit | None) -> None:
    pdf.ln(2)
    pdf.line_of(f"{setup['name']}: load and zero", 13, bold=True)
    pdf.line_of(setup["load"], 10)
    pdf.line_of(f"X Y zero: {setup['zero_xy']}.  Z zero: {setup['zero_z']}.", 10)
    for h in setup["hardware"]:
        pdf.line_of(
            f"   {h['kind'].replace('_', ' ')} {h['id']} at {mm(h['x_mm']):g}, {mm(h['y_mm']):g} from the blank's "
            f"corner, top {mm(h['top_mm']):+g}",
            9,
        )
    for n, step in enumerate(setup["zero_steps"], 1):
        pdf.line_of(f"   [  ] {n}. {zero_words(step, other)}", 9)
    pdf.line_of(jog_words(setup["bed"]), 10)
    draw_bed(pdf, setup["bed"])


def _also(route: Route, unit: Unit) -> Unit | None:
    """Return the unit of the machine's programs where it is another than the reader's: what is set there is said in
    both."""
    machines = Unit.INCH if route.machine.dialect.inch else Unit.MM
    return None if machines is unit else machines


def zero_words(step: dict[str, Any], other: Unit | None) -> str:
    """Return one thing to do for the zero, in words; with the machine's own unit beside it where that is another."""
    def axes(values: dict[str, float]) -> str:
        return ", ".join(
            f"{axis} {mm(value):.3f}" + (f" ({say(f'{named_mm(value):.3f}', other)})" if other else "")
            for axis, value in values.items()
        )

    return step["do"] + (f": go to {axes(step['goes'])}" if step["goes"] else "") + (f": set {axes(step['sets'])}" if step["sets"] and not step["goes"] else f", set {axes(step['sets'])} there" if step["sets"] else "")


def _bit_lines(pdf: Page, group: dict[str, Any]) -> None:
    pdf.ln(2)
    pdf.line_of(f"T{group['t']}  {group['name']}, {mm(group['stickout_mm']):g} out", 12, bold=True)
    for check in group["checks"]:
        pdf.line_of(f"   [  ] {check}", 10)
    for op in group["operations"]:
        pdf.line_of(
            f"   {op['name']}: {op['minutes']:.1f} min, feed {rate(op['feed_mm_min']):g}, {op['speed_rpm']:g} rpm, "
            f"{mm(op['depth_of_cut_mm']):g} deep a pass",
            9,
        )
        for words in caution(op["rests_on"]):
            pdf.line_of(f"      {words}", 9, bold=True)


def caution(rests_on: dict[str, Any]) -> list[str]:
    """Return what a person should know before cutting what rests on a single or a missing reading."""
    out = [f"Measured only once: {', '.join(rests_on['once'][:4])}. Hold the part against it first."] if rests_on["once"] else []
    if rests_on["told"]:
        out.append(f"Came with a file, not measured here: {', '.join(rests_on['told'][:4])}.")
    return out + ([f"Never measured: {', '.join(rests_on['never'][:4])}."] if rests_on["never"] else [])
