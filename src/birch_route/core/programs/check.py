"""Check any program: read it, cut a block of stock with it, say what is wrong."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

import numpy as np
from pydantic import ValidationError

from ..bits.model import UNDERCUTS, Bit
from ..errors import InputError
from ..heights import kernels
from ..heights.field import CELL_MM, Grid, Wood, cut_path
from ..heights.pieces import label_pieces
from ..machines import Machine
from ..motion.timing import move_times
from ..proving.findings import Fact, Finding, by_severity, finding
from ..quantities import cm2, mm, named_rate, rate
from ..tolerances import TOLERANCES
from ..vocabulary import RAPID_CODE
from .reader import read_program
from .sections import ReadProgram, Section

MOST_CELLS = 40_000_000
_KEYS = {"cut": "cutting_length_mm", "out": "stickout_mm", "shank": "shank_diameter_mm", "flutes": "flutes",
         "corner": "corner_radius_mm", "angle": "included_angle_deg", "tip": "tip_diameter_mm"}


@dataclass(frozen=True)
class Stock:
    """A block: its lower left corner at 0, 0, its top at z = 0, and where the program's zero lies in that frame."""

    length_mm: float
    width_mm: float
    thickness_mm: float
    zero_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Checked:
    """What a program does to its stock."""

    findings: list[Finding]
    machine_s: float | None
    removed_mm3: float
    cut_length_mm: float
    bounds_mm: tuple[tuple[float, float], tuple[float, float], tuple[float, float]]
    lines: int
    wood: Wood


def parse_bit(spec: str) -> tuple[int, Bit]:
    """Read `T1=flat:6,cut=22,out=30`; forms flat, ball, bull, v, drill; keys cut, out, shank, flutes, corner, angle, tip.

    Raises:
        InputError: says which part is wrong.
    """
    match = re.fullmatch(r"[Tt](\d{1,4})=([a-z]+):([0-9.]+)((?:,[a-z]+=[0-9.]+)*)", spec.strip())
    if match is None:
        raise InputError(f"“{spec}” does not describe a bit. Write it like T1=flat:6,cut=22,out=30.", where="--bit")
    try:
        diameter = float(match[3])
        values: dict[str, object] = {"id": f"t{match[1]}", "name": f"T{match[1]} {match[2]} {diameter:g}", "form": match[2],
                                     "diameter_mm": diameter, "cutting_length_mm": 4 * diameter, "shank_diameter_mm": diameter}
        for pair in filter(None, match[4].split(",")):
            key, value = pair.split("=")
            if key not in _KEYS:
                raise InputError(f"“{key}” is not known of a bit. Use {', '.join(_KEYS)}.", where="--bit")
            values[_KEYS[key]] = int(float(value)) if key == "flutes" else float(value)
        values.setdefault("stickout_mm", float(values["cutting_length_mm"]) + 8)  # type: ignore[arg-type]
        if match[2] == "v":
            values.setdefault("included_angle_deg", 90.0)
        bit = Bit.model_validate(values)
    except (ValidationError, ValueError) as exc:
        words = exc.errors()[0]["msg"].removeprefix("Value error, ") if isinstance(exc, ValidationError) else str(exc)
        raise InputError(f"Bit “{spec}”: {words}", where="--bit") from exc
    if bit.undercuts:
        raise InputError(f"Bit “{spec}” cannot be checked: {UNDERCUTS}.", where="--bit")
    return int(match[1]), bit


def check_program(text: str, stock: Stock, bits: dict[int, Bit], machine: Machine | None = None, *, name: str = "program",
                  nut_diameter_mm: float = 25.0, waste_cut_mm: float = 0.6, cell_mm: float | None = None) -> Checked:
    """Read and simulate a program on a block of stock.

    Args:
        text: the program.
        stock: its size and the program's zero.
        bits: by T number.
        machine: gives collet nut, waste board allowance, time and travel; without it the two defaults count.

    Raises:
        InputError: no program, or stock that cannot be.
    """
    if not all(0.2 <= v <= 3000 and math.isfinite(v) for v in (stock.length_mm, stock.width_mm, stock.thickness_mm)):
        raise InputError("The stock's sizes must lie between 0.2 and 3000 mm. Write them like 400x300x45.", where="--stock")
    read = read_program(text, name, machine.dialect if machine else None)
    findings = list(read.problems)
    if machine:
        findings += _beyond(read, machine)
    cell = cell_mm or CELL_MM
    while stock.length_mm * stock.width_mm / cell**2 > MOST_CELLS:
        cell *= 2
    grid = Grid.over(0.0, 0.0, stock.length_mm, stock.width_mm, cell)
    wood = Wood.block(grid, 0.0, -stock.thickness_mm)
    before = wood.volume_mm3()
    if machine:
        nut_diameter_mm, waste_cut_mm = machine.nut_diameter_mm, machine.waste_cut_mm
    seconds, length, bounds = 0.0, 0.0, []
    for section in read.sections:
        path = section.path(stock.zero_mm)
        known = _known(section, path.points)
        bounds.append((np.nanmin(known, 0), np.nanmax(known, 0)))
        length += path.cut_length_mm()
        if machine:
            seconds += float(move_times(path, machine).sum())
            findings += _travel(section, known, machine)
        bit = bits.get(section.tool) if section.tool is not None else (next(iter(bits.values())) if len(bits) == 1 else None)
        if bit is None:
            called = "no bit" if section.tool is None else f"T{section.tool}"
            findings.append(finding("program.unknown_bit", f"Line {section.lines[0]}: the program calls {called}; describe it with --bit.",
                                    line=section.lines[0], facts=[Fact(name="bit", value=called, unit="")]))
            continue
        metrics = cut_path(wood, path, bit, nut_diameter_mm, 0.0)
        findings += _metric_findings(section, path.points, metrics, bit, waste_cut_mm)
        findings += _loose(wood, section, findings)
    low = np.min([b[0] for b in bounds], axis=0)
    high = np.max([b[1] for b in bounds], axis=0)
    extent = tuple((float(a), float(b)) for a, b in zip(low, high, strict=True))
    return Checked(by_severity(findings), seconds + read.dwell_s if machine else None, before - wood.volume_mm3(), length,
                   extent, read.lines, wood)  # type: ignore[arg-type]


def _metric_findings(section: Section, points: np.ndarray, metrics: np.ndarray, bit: Bit, waste_cut_mm: float) -> list[Finding]:
    tol, out = TOLERANCES.depth_mm, []
    point = bit.point_height_mm if bit.form.value == "drill" else 0.0
    rapid = np.asarray(section.kinds) == RAPID_CODE
    off = ~np.asarray(section.on) & (metrics[:, kernels.DEPTH] > tol) & ~rapid
    rows = [
        ("rapid.through_wood", metrics[:, kernels.RAPID_HIT], tol, "a rapid move goes {0:.2f} through wood."),
        ("bit.too_short", metrics[:, kernels.REACH], tol, "wood stands {0:.2f} above the bit's cutting length."),
        ("bit.nut_hits_wood", metrics[:, kernels.NUT], tol, "the collet nut goes {0:.2f} into wood."),
        ("waste_board.hit", metrics[:, kernels.BELOW] - point, waste_cut_mm + 1e-6, "the bit goes {0:.2f} into the waste board."),
        ("program.spindle_off", np.where(off, metrics[:, kernels.DEPTH], 0.0), tol, "the bit enters wood {0:.2f} deep while the spindle stands still."),
    ]
    for code, amount, limit, words in rows:
        if len(amount) and amount.max() > limit:
            k = int(np.argmax(amount))
            x, y, z = points[k + 1]
            out.append(finding(code, f"Line {section.lines[k]}: " + words.format(float(amount[k])), line=section.lines[k],
                               place=(float(x), float(y), float(z)), facts=[Fact(name="amount", value=round(float(amount[k]), 3))]))
    return out


def _known(section: Section, points: np.ndarray) -> np.ndarray:
    """Return the points with the height of those left out that only machine coordinates know."""
    known = points.copy()
    known[section.raised, 2] = np.nan
    if np.isnan(known[:, 2]).all():
        known[:, 2] = points[:, 2]
    return known


def _beyond(read: ReadProgram, machine: Machine) -> list[Finding]:
    """Return what the program asks of a machine that it does not do: feeds and speeds, and a speed that no word
    sets."""
    out = []
    fast = {feed: line for feed, line in read.feeds.items() if feed > machine.greatest_feed_mm_min * (1 + 1e-9)}
    if fast:
        feed, line = max(fast), min(fast.values())
        out.append(
            finding(
                "program.beyond_machine",
                f"Line {line}: a feed of {named_rate(feed):.0f} is asked; "
                f"{machine.name} goes {rate(machine.greatest_feed_mm_min):.0f} at most.",
                line=line,
                facts=[
                    Fact(name="feed", value=round(feed, 1), unit="mm/min"),
                    Fact(name="greatest", value=machine.greatest_feed_mm_min, unit="mm/min", source="machine"),
                ],
            )
        )
    if not machine.dialect.speed_word:
        return out
    wrong = {
        speed: line
        for speed, line in read.speeds.items()
        if speed > 0 and not machine.least_rpm * (1 - 1e-9) <= speed <= machine.greatest_rpm * (1 + 1e-9)
    }
    for speed, line in list(wrong.items())[:1]:
        out.append(
            finding(
                "program.beyond_machine",
                f"Line {line}: {speed:.0f} rpm are asked; {machine.name} turns "
                f"{machine.least_rpm:.0f} to {machine.greatest_rpm:.0f}.",
                line=line,
                facts=[
                    Fact(name="speed", value=speed, unit="rpm"),
                    Fact(name="greatest", value=machine.greatest_rpm, unit="rpm", source="machine"),
                ],
            )
        )
    if not read.speeds:
        line = read.sections[0].lines[0]
        out.append(finding("program.beyond_machine", f"Line {line}: no S stands anywhere; {machine.name} takes its "
            f"speed from the program.", line=line))
    return out


def _travel(section: Section, points: np.ndarray, machine: Machine) -> list[Finding]:
    size = np.nanmax(points, 0) - np.nanmin(points, 0)
    for k, axis in enumerate("XYZ"):
        if size[k] > machine.travel_mm[k] + 1e-6:
            return [
                finding(
                    "travel.outside",
                    f"The program spans {mm(size[k]):.1f} along {axis}; {machine.name} travels "
                    f"{mm(machine.travel_mm[k]):.1f}.",
                    line=section.lines[0],
                    facts=[
                        Fact(name="span", value=round(float(size[k]), 2)),
                        Fact(name="travel", value=machine.travel_mm[k], source="machine"),
                    ],
                )
            ]
    return []


def _loose(wood: Wood, section: Section, known: list[Finding]) -> list[Finding]:
    """Return pieces cut free: wood that does not reach the edge of the stock."""
    labels, count = label_pieces(wood.top, wood.bottom)
    if count <= 1:
        return []
    edge = set(np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]]))) - {0}
    areas = np.bincount(labels.ravel()) * wood.grid.cell_mm**2
    out = []
    for piece in range(1, count + 1):
        if piece not in edge and areas[piece] >= TOLERANCES.least_piece_mm2:
            j, i = (int(v[len(v) // 2]) for v in np.nonzero(labels == piece))
            place = ((i + 0.5) * wood.grid.cell_mm, (j + 0.5) * wood.grid.cell_mm, 0.0)
            if any(f.code == "piece.freed" and f.place and math.dist(f.place[:2], place[:2]) < 5 for f in known + out):
                continue
            out.append(
                finding(
                    "piece.freed",
                    f"Line {section.lines[-1]}: a piece of {cm2(areas[piece] / 100):.1f} is cut free by then and "
                    f"nothing joins it to the stock's edge.",
                    line=section.lines[-1],
                    place=place,
                    facts=[Fact(name="area", value=round(float(areas[piece]), 1), unit="mm2")],
                )
            )
    return out
