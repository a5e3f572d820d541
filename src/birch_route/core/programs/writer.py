"""Write programs: RS-274 words, by dialect, from a simulated route."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..holding.datums import correction
from ..holding.pieces import places_of
from ..machines import Split
from ..motion.arcs import fit_arcs
from ..proving.findings import Finding
from ..proving.simulate import Simulation, Step
from ..quantities import mm, named_mm, named_rate, rate
from ..route import content_hash
from ..traveller import begins_anew
from ..vocabulary import MOVE_CODES, MoveKind, ZeroXY, ZeroZ
from .lines import ProgramLines
from .numbers import BLANK, with_number
from .touching import TOUCH_OFF, stops_before, touch_off, touches

BYTES_PER_KB = 1000


@dataclass(frozen=True)
class Program:
    """A file a machine reads. bits: what each T number means; origin_mm: program zero in its setup's frame."""

    name: str
    text: str
    setup: str
    operations: list[str]
    bits: dict[int, str]
    origin_mm: tuple[float, float, float]
    minutes: float
    piece: int = 1  # of those that lie side by side in its setup


def program_origin(sim: Simulation, piece: int = 1) -> tuple[float, float, float]:
    """Return the program's zero in its setup's frame: program coordinates = coordinates there - origin. A test pair
    moves it, so that both faces agree; of a piece beside the first it lies that much nearer, since zero stays."""
    blank, zero = sim.route.blank, sim.setup.zero
    x, y = blank.x_mm, blank.y_mm
    if zero.xy is ZeroXY.CENTRE:
        x, y = x + blank.length_mm / 2, y + blank.width_mm / 2
    moved = correction(sim.setup, sim.frame.signs)
    dx, dy = places_of(sim.setup.more_at)[piece - 1]
    return x - moved[0] - dx, y - moved[1] - dy, blank.bottom_mm if zero.z is ZeroZ.BED else blank.top_mm


def write_all(simulations: list[Simulation], overrides: Sequence[tuple[Finding, str]] = ()) -> list[Program]:
    """Return the programs of every setup of a route, numbered through; a bit keeps its number in all of them."""
    numbers = bit_numbers(*simulations)
    groups = sum(len(_groups(sim, overrides)) * (1 + len(sim.setup.more_at)) for sim in simulations)
    out: list[Program] = []
    for sim in simulations:
        out += write_programs(sim, overrides, numbers, len(out) + 1, groups)
    return out


def _groups(sim: Simulation, overrides: Sequence[tuple[Finding, str]]) -> list[list[int]]:
    """Return which steps stand in which file: by dialect, and no file larger than the machine takes where that can
    be."""
    dialect = sim.route.machine.dialect
    groups: list[list[int]] = []
    for index, step in enumerate(sim.steps):
        splits = dialect.split is Split.PER_OPERATION or (dialect.split is Split.PER_BIT and step.bit_changes)
        if not groups or splits or begins_anew(sim.route, index):
            groups.append([])
        groups[-1].append(index)
    return groups if dialect.largest_kb is None else [part for g in groups for part in _small_enough(sim, g, overrides)]


def _small_enough(
    sim: Simulation, group: list[int], overrides: Sequence[tuple[Finding, str]]
) -> list[list[int]]:
    """Split a file between two steps until each part is no larger than the machine takes; one step is never split."""
    most = (sim.route.machine.dialect.largest_kb or 0) * BYTES_PER_KB
    out: list[list[int]] = []
    for index in group:
        if out and len(_text(sim, [*out[-1], index], bit_numbers(sim), "999 of 999", overrides)) <= most:
            out[-1].append(index)
        else:
            out.append([index])
    return out


def write_programs(
    sim: Simulation,
    overrides: Sequence[tuple[Finding, str]] = (),
    numbers: dict[str, int] | None = None,
    first: int = 1,
    of: int | None = None,
) -> list[Program]:
    """Return the programs of one setup, one for all of it or one for each stretch with one bit, by dialect.

    Args:
        sim: the simulated setup.
        overrides: stops that a person has overridden, each with the reason typed; printed in the header.
        numbers: T numbers of bits where other setups have given some. first, of: this setup's first file among all.
    """
    dialect = sim.route.machine.dialect
    numbers = numbers or bit_numbers(sim)
    places = range(1, 2 + len(sim.setup.more_at))
    groups = [(group, piece) for group in _groups(sim, overrides) for piece in places]
    programs = []
    for number, (group, piece) in enumerate(groups, first):
        steps = [sim.steps[k] for k in group]
        text = _text(sim, group, numbers, f"{number} of {of or len(groups)}", overrides, piece)
        name = _name(sim, steps, number, piece)
        programs.append(
            Program(
                name + dialect.extension,
                text,
                sim.setup.id,
                [s.operation.id for s in steps],
                {numbers[s.bit.id]: s.bit.id for s in steps},
                program_origin(sim, piece),
                sum(s.minutes for s in steps),
                piece,
            )
        )
    return programs


def _text(
    sim: Simulation,
    group: list[int],
    numbers: dict[str, int],
    part: str,
    overrides: Sequence[tuple[Finding, str]],
    piece: int = 1,
) -> str:
    steps = [sim.steps[k] for k in group]
    writer = ProgramLines(sim.route.machine.dialect, program_origin(sim, piece))
    _header(writer, sim, steps, numbers, content_hash(sim.whole), overrides, part, piece)
    _body(writer, sim, steps, numbers, piece)
    return with_number(writer.text())


def _name(sim: Simulation, steps: list[Step], number: int, piece: int = 1) -> str:
    """Return the name of a file without its ending: as long as the machine takes, its number always in it."""
    dialect, first = sim.route.machine.dialect, steps[0]
    name = f"{_slug(sim.route.job)}_{number:02d}_{sim.setup.id}"
    if dialect.split is Split.PER_BIT:
        name += f"_{first.bit.id}"
    elif dialect.split is Split.PER_OPERATION:
        name += f"_{first.operation.id}"
    if first.operation.wall_only:
        name += f"_creep_{first.operation.id[-1]}"
    if sim.setup.more_at:
        name += f"_piece_{piece}"
    room = dialect.name_length - len(dialect.extension)
    if len(name) <= room:
        return name
    return _slug(sim.route.job)[: room - len(f"_{number:02d}")] + f"_{number:02d}"


def bit_numbers(*simulations: Simulation) -> dict[str, int]:
    """Return the T number of each bit used, in the order of first use."""
    numbers: dict[str, int] = {}
    for step in (s for sim in simulations for s in sim.steps):
        numbers.setdefault(step.bit.id, len(numbers) + 1)
    return numbers


def _slug(text: str) -> str:
    words = "".join(c if c.isascii() and c.isalnum() else "_" for c in text.lower())
    return "_".join(w for w in words.split("_") if w)[:40] or "route"


def _header(w: ProgramLines, sim: Simulation, steps: list[Step], numbers: dict[str, int], revision: str,
            overrides: Sequence[tuple[Finding, str]], part: str, piece: int = 1) -> None:
    route, blank, zero = sim.route, sim.route.blank, sim.setup.zero
    for line in (
        f"Birch Route program {part}, {BLANK}",
        f"job: {route.job}",
        f"piece: {route.piece.name}",
        f"setup: {sim.setup.name}, {sim.up} face up"
        + ("" if sim.frame.about is None else f", turned over about its {sim.frame.about}"),
        f"zero: X Y at the {'lower left corner' if zero.xy is ZeroXY.LOWER_LEFT else 'centre'} of the blank, Z 0 on the "
        + (f"{sim.setup.stands_on} under it" if zero.z is ZeroZ.BED else "top of the blank as it is loaded"),
        *_which_piece(sim, piece),
        f"work offset {zero.offset} of the machine, G{53 + zero.offset}",
        *(
            [f"moved by X {mm(moved[0]):.3f} Y {mm(moved[1]):.3f} after a test pair of holes"]
            if (moved := correction(sim.setup, sim.frame.signs)) != (0.0, 0.0)
            else []
        ),
        f"stock: {sim.species.name}, {mm(blank.length_mm):g} x {mm(blank.width_mm):g} x "
        f"{named_mm(blank.thickness_mm):g}",
        f"machine: {route.machine.name}",
        f"minutes: {sum(s.minutes for s in steps):.1f} computed, not proven",
    ):
        w.comment(line)
    for step in _bits_of(steps):
        b = step.bit
        w.comment(
            f"bit T{numbers[b.id]}: {b.name}, {b.form.value} {mm(b.cut_diameter_mm):g}, cuts "
            f"{mm(b.cutting_length_mm):g}, out {mm(b.stickout_mm):g}"
        )
    for step in steps:
        s = step.operation.settings
        w.comment(
            f"{step.operation.name}: T{numbers[step.bit.id]}, feed {named_rate(s.feed_mm_min):g}, plunge "
            f"{rate(s.plunge_mm_min):g}, "
            f"{s.speed_rpm:g} rpm, {mm(s.depth_of_cut_mm):g} deep a pass"
        )
    for one, reason in overrides:
        w.comment(f"STOP OVERRIDDEN: {one.code}: {one.sentence} Reason given: {reason}")
    w.comment(f"revision: {revision}")
    w.comment("Eyes, ears, lungs covered. Stay in reach of the stop. The machine maker's instructions come first.")


def _which_piece(sim: Simulation, piece: int) -> list[str]:
    """Return the line that says which of several pieces a program is for, and where that lies."""
    places = places_of(sim.setup.more_at)
    if len(places) == 1:
        return []
    x, y = places[piece - 1]
    where = "the first" if piece == 1 else f"X {mm(x):+.3f} Y {mm(y):+.3f} from the first, whose zero stays"
    return [f"piece {piece} of {len(places)}: {where}. Touch the bit off before each"]


def _bits_of(steps: list[Step]) -> list[Step]:
    seen: dict[str, Step] = {}
    for step in steps:
        seen.setdefault(step.bit.id, step)
    return list(seen.values())


def _body(w: ProgramLines, sim: Simulation, steps: list[Step], numbers: dict[str, int], piece: int) -> None:
    dialect = w.dialect
    w.block("G20" if dialect.inch else "G21")
    w.block("G17 G90 G94 G40 G49")
    w.block(f"G{53 + sim.setup.zero.offset}")
    for index, step in enumerate(steps):
        if index == 0 or step.bit_changes:
            _bit_change(w, sim, step, numbers[step.bit.id], first=index == 0, piece=piece)
            following = next((s for s in steps[index + 1 :] if s.bit_changes), None)
            if dialect.preselect and dialect.change_word and following is not None:
                w.block(f"T{numbers[following.bit.id]}")
        elif todo := stops_before(sim.route.machine, step, steps[index - 1]):
            _stop(w, sim, step, todo, piece)
        elif step.operation.settings.speed_rpm != steps[index - 1].operation.settings.speed_rpm:
            w.block(f"S{step.operation.settings.speed_rpm:.0f}")
        w.comment(step.operation.name)
        _moves(w, step)
    w.block("M5")
    if dialect.extraction:
        w.block("M9")
    w.block(dialect.end_word.value)


def _bit_change(w: ProgramLines, sim: Simulation, step: Step, number: int, *, first: bool, piece: int) -> None:
    dialect, b = w.dialect, step.bit
    if not first:
        _rest(w)
    again = ", touch off Z again" if step.operation.touch_off_before and not touches(sim, step) else ""
    w.comment(f"put in T{number}: {b.name}, {mm(b.stickout_mm):g} out of the collet nut{again}")
    if not dialect.speed_word:
        w.comment(f"set the {sim.route.machine.speed_words(step.operation.settings.speed_rpm)}")
    if dialect.change_word:
        w.block(f"T{number} M6")
    else:
        w.block(f"T{number}")
        w.block("M0")
    _touch_and_begin(w, sim, step, piece)


def _stop(w: ProgramLines, sim: Simulation, step: Step, todo: list[str], piece: int) -> None:
    """Stop with the bit that is in, say what for, and begin again."""
    _rest(w)
    by_hand = [words for words in todo if words != TOUCH_OFF or not touches(sim, step)]
    for words in by_hand:
        w.comment(words)
    if by_hand:
        w.block("M0")
    _touch_and_begin(w, sim, step, piece)


def _touch_and_begin(w: ProgramLines, sim: Simulation, step: Step, piece: int) -> None:
    touched = touches(sim, step)
    if touched:
        touch_off(w, sim, program_origin(sim, piece), piece)
    _begin(w, step, over=touched)


def _rest(w: ProgramLines) -> None:
    w.block("M5")
    if w.dialect.extraction:
        w.block("M9")


def _begin(w: ProgramLines, step: Step, *, over: bool = False) -> None:
    """Start the spindle and come to where a step begins, Z first; over: from the top, Z last."""
    dialect = w.dialect
    w.block(f"S{step.operation.settings.speed_rpm:.0f} M3" if dialect.speed_word else "M3")
    if dialect.warm_up_s > 0:
        w.block(f"G4 P{dialect.warm_up_s:g}")
    if dialect.extraction:
        w.block("M8")
    w.come_to(step.path.points[0], over=over)


def _moves(w: ProgramLines, step: Step) -> None:
    path, dialect = step.path, w.dialect
    cutting = path.kinds >= MOVE_CODES[MoveKind.ENTRY]
    arcs = fit_arcs(path.points, cutting, np.round(path.feeds).astype(int)) if dialect.arcs else []
    at = {a.first: a for a in arcs}
    i = 0
    while i < len(path):
        feed = None if path.kinds[i] == 0 else min(float(path.feeds[i]), 1e6)
        if i in at:
            arc = at[i]
            here = w.position()
            w.move("G2" if arc.clockwise else "G3", path.points[arc.last], feed, (arc.cx - here[0], arc.cy - here[1]))
            i = arc.last
        else:
            w.move("G0" if feed is None else "G1", path.points[i + 1], feed)
            i += 1
