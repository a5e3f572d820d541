"""Touching Z off by the program itself, on a touch plate: the words, and how often it stops for a hand."""

from __future__ import annotations

from ..holding.pieces import places_of
from ..holding.touch import plate_by_hand, touch_place
from ..holding.zero import touch_z_mm
from ..machines import Machine
from ..proving.simulate import Simulation, Step
from ..quantities import MM_PER_INCH
from .lines import ProgramLines

TOUCH_OFF = "touch off Z again"


def stops_before(machine: Machine, step: Step, before: Step) -> list[str]:
    """Return what is done where a program stops before a step that keeps the bit of the one before: Z is touched off
    again, or the speed is set on a machine that takes none from programs. Empty: it does not stop."""
    speed, was = step.operation.settings.speed_rpm, before.operation.settings.speed_rpm
    by_hand = not machine.dialect.speed_word and speed != was
    return [
        *([TOUCH_OFF] if step.operation.touch_off_before else []),
        *([f"set the {machine.speed_words(speed)}"] if by_hand else []),
    ]


def touches(sim: Simulation, step: Step) -> bool:
    """Whether the program touches Z off by itself before a step."""
    return step.operation.touch_off_before and touch_place(sim.route) is not None


def by_hand(sim: Simulation) -> bool:
    """Whether a hand lays the plate and takes it away."""
    return plate_by_hand(sim.route.machine, in_vice=sim.setup.in_vice)


def stops_of(sim: Simulation, step: Step, before: Step | None) -> int:
    """Return how often a program stops before a step. before: the step before it in the same file; None: its first."""
    machine = sim.route.machine
    plate = 2 if touches(sim, step) and by_hand(sim) else 0
    if before is None or step.bit_changes:
        return plate + (0 if machine.dialect.change_word else 1)
    todo = [t for t in stops_before(machine, step, before) if t != TOUCH_OFF or not touches(sim, step)]
    return plate + bool(todo)


def touch_off(w: ProgramLines, sim: Simulation, origin: tuple[float, float, float], piece: int) -> None:
    """Write one touch-off: up to the top, over the place, down onto the plate, Z set to what that is, up again.

    Args:
        origin: the program's zero in the setup's frame, of the piece it is for, mm.
    """
    dialect, place = sim.route.machine.dialect, touch_place(sim.route)
    assert place is not None
    dx, dy = (0.0, 0.0) if by_hand(sim) else places_of(sim.setup.more_at)[piece - 1]  # a fixed place stays
    x, y = place[0] - origin[0] - dx, place[1] - origin[1] - dy
    feed = dialect.probe_feed_mm_min / (MM_PER_INCH if dialect.inch else 1.0)
    w.block("G53 G0 Z0")
    w.block("G0 " + w.length("X", x) + " " + w.length("Y", y))
    if by_hand(sim):
        w.comment("lay the touch plate under the bit, its clip on the bit; try that the machine sees them meet")
        w.block("M0")
    w.block("G91")
    w.block(f"{dialect.probe_word} " + w.length("Z", -dialect.probe_down_mm) + f" F{feed:.{2 if dialect.inch else 0}f}")
    w.block("G90")
    height = w.length("Z", touch_z_mm(sim.route, origin[2]))
    w.block(f"G10 L20 P{sim.setup.zero.offset} {height}" if dialect.set_word == "G10 L20" else f"G92 {height}")
    w.block("G53 G0 Z0")
    if by_hand(sim):
        w.comment("plate and clip away")
        w.block("M0")
