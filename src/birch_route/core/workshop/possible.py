"""Whether a machine can be: what is refused before it is kept, each with what to type instead."""

from __future__ import annotations

from dataclasses import dataclass

from ..data import figures
from ..machines import Machine
from ..quantities import mm
from .before import clock
from .machine_figures import BY_NAME
from .moved import said

SPAN_OF = {  # figure: name of its span in figures.json
    "travel_mm.0": "travel_xy_mm",
    "travel_mm.1": "travel_xy_mm",
    "travel_mm.2": "travel_z_mm",
    "nut_clear_mm": "nut_clear_mm",
    "nut_diameter_mm": "nut_diameter_mm",
    "nut_length_mm": "nut_length_mm",
    "spindle_diameter_mm": "spindle_diameter_mm",
    "waste_board_mm": "waste_board_mm",
    "stiffness_n_um": "stiffness_n_um",
    "power_w": "power_w",
    "least_rpm": "least_rpm",
    "greatest_rpm": "greatest_rpm",
    "greatest_feed_mm_min": "feed_mm_min",
    "rapid_mm_min.0": "feed_mm_min",
    "rapid_mm_min.1": "feed_mm_min",
    "rapid_mm_min.2": "feed_z_mm_min",
    "acceleration_mm_s2.0": "acceleration_mm_s2",
    "acceleration_mm_s2.1": "acceleration_mm_s2",
    "acceleration_mm_s2.2": "acceleration_mm_s2",
    "junction_deviation_mm": "junction_deviation_mm",
    "touch_off_min": "touch_off_min",
}


@dataclass(frozen=True)
class Cannot:
    """A figure that cannot be. where: its name; words say what and what to do."""

    where: str
    words: str


def cannot_be(machine: Machine) -> list[Cannot]:
    """Return what in a machine cannot be, figure by figure."""
    return [*_out_of_span(machine), *_spindle(machine), *_on_the_bed(machine), *_in_use(machine), *_not_known(machine)]


def _said(name: str, value: float) -> str:
    figure = BY_NAME[name]
    return said(figure, value)


def _out_of_span(machine: Machine) -> list[Cannot]:
    out = []
    spans = figures()["machine_spans"]
    for name, span in SPAN_OF.items():
        least, greatest = spans[span]
        field, _, part = name.partition(".")
        value = getattr(machine, field)[int(part)] if part else getattr(machine, field)
        if not least <= value <= greatest:
            words = BY_NAME[name].words
            out.append(
                Cannot(
                    name,
                    f"{words[0].upper()}{words[1:]} {_said(name, value)} cannot be: type "
                    f"{_said(name, least)} to {_said(name, greatest)}.",
                )
            )
    return out


def _spindle(machine: Machine) -> list[Cannot]:
    out, steps = [], machine.speeds_rpm
    for before, after in zip(steps, steps[1:], strict=False):
        if after <= before:
            words = f"The dial does not rise: after {before:g} rpm comes {after:g}. Type its steps slowest first."
            out.append(Cannot("speeds_rpm", words))
            break
    if steps and (steps[0] < machine.least_rpm or steps[-1] > machine.greatest_rpm):
        words = (
            f"The dial goes from {steps[0]:g} to {steps[-1]:g} rpm, the spindle from {machine.least_rpm:g} to "
            f"{machine.greatest_rpm:g}. Make them agree."
        )
        out.append(Cannot("speeds_rpm", words))
    if not machine.least_rpm <= machine.rated_rpm <= machine.greatest_rpm:
        words = (
            f"The rated speed {machine.rated_rpm:g} rpm is none it turns: type {machine.least_rpm:g} to "
            f"{machine.greatest_rpm:g}."
        )
        out.append(Cannot("rated_rpm", words))
    return out


def _on_the_bed(machine: Machine) -> list[Cannot]:
    out = []
    x, y = machine.travel_mm[:2]
    places = [("bit_change_mm", p) for p in [machine.bit_change_mm] if p]
    places += [("probe_mm", p) for p in [machine.probe_mm] if p]
    places += [("index_holes_mm", p) for p in machine.index_holes_mm]
    for name, (px, py) in places:
        if px > x or py > y:
            words = (
                f"{BY_NAME[name].words[0].upper()}{BY_NAME[name].words[1:]}: {mm(px):g}, {mm(py):g} lies beyond the "
                f"travel of {mm(x):g} by {mm(y):g}."
            )
            out.append(Cannot(name, words))
    if machine.dialect.preselect and not machine.dialect.change_word:
        words = "The next bit can be called ahead only where a word changes bits. Say that M6 changes them."
        out.append(Cannot("dialect.preselect", words))
    if machine.dialect.changer_slots is not None and not machine.dialect.change_word:
        words = "A changer needs the word that changes bits. Say that M6 changes them, or leave its slots out."
        out.append(Cannot("dialect.changer_slots", words))
    return out


def _in_use(machine: Machine) -> list[Cannot]:
    return [
        Cannot("quiet_h", f"Quiet hours from {clock(a)} to {clock(b)} are none: type begin and end.")
        for a, b in machine.quiet_h
        if a % 24 == b % 24
    ]


def _not_known(machine: Machine) -> list[Cannot]:
    return [
        Cannot(f"known.{name}", f"“{name}” is no figure of a machine.")
        for name in machine.known
        if name not in BY_NAME
    ]
