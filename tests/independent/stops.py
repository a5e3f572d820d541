"""Random stops: a program broken off at a line, gone on with by the product's own text, cut by the second simulator."""

import re

import numpy as np

from birch_route.core.programs.reader import read_program
from birch_route.core.run.resume import resume, spot_at_line
from tests.independent.simulator import Field, read_moves

RAPID_MM = 0.03  # a bite a rapid move may show at the wall it left


def field_of(sim):
    """Return the blank of a setup that begins with an uncut one, in its program's coordinates shifted to its frame."""
    grid = sim.grid
    low = [grid.x0_mm, grid.y0_mm, float(sim.bottom.min())]
    high = [grid.x0_mm + grid.nx * grid.cell_mm, grid.y0_mm + grid.ny * grid.cell_mm, float(sim.blank_top.max())]
    return Field(low, high)


def cut(field, sim, program, text, tool=0):
    """Cut a text; return the deepest bite of a rapid move, mm. tool: the bit that is in where the text names none."""
    worst = 0.0
    for moves in read_moves(text):
        bit = sim.route.bit(program.bits[moves.tool or tool]).model_dump(mode="json")
        points = moves.points + np.asarray(program.origin_mm)
        for k, rapid in enumerate(moves.rapid):
            _, bite = field.cut(bit, points[k], points[k + 1])
            worst = max(worst, bite if rapid else 0.0)
    return worst


def stopped(sim, program, line):
    """Break a program off before and after a line and go on; return the text, how far both woods differ from the whole
    program's, and the deepest bite of a rapid move."""
    read = read_program(program.text, program.name, sim.route.machine.dialect)
    spot = spot_at_line(read, program, sim, line)
    made = resume(sim, program, spot)
    tool = read.sections[spot.section].tool
    lines = re.split(r"\r\n|\n", program.text)
    whole = field_of(sim)
    cut(whole, sim, program, program.text)
    differs, rapid = 0.0, 0.0
    for upto in (spot.line - 1, spot.line):
        field = field_of(sim)
        cut(field, sim, program, "\n".join(lines[:upto]))
        rapid = max(rapid, cut(field, sim, program, made.text, tool))
        got, wanted = (np.maximum(f.top, f.bottom) for f in (field, whole))
        differs = max(differs, float(np.abs(got - wanted).max()))
    return made, differs, rapid
