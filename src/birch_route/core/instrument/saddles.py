"""The saddle of each string, the bridge's own points, and the frets of one scale or two."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..data import figures
from ..quantities import mm
from ..vocabulary import PartKind
from .parts import PartOnHand, read_place
from .scale import fan_lines, fret_distance
from .stack import find_part
from .strings import StringLine

if TYPE_CHECKING:
    from ..route import Route


@dataclass(frozen=True)
class StringSaddle:
    """One string's saddle: its number from the treble side, where it stands, and how far behind the saddle line that is."""

    number: int
    x_mm: float
    y_mm: float
    behind_mm: float


@dataclass(frozen=True)
class Travel:
    """What the saddles need of the bridge's travel against what it has, mm; None where it was not measured."""

    forward_needed_mm: float
    back_needed_mm: float
    forward_mm: float | None
    back_mm: float | None

    @property
    def short_mm(self) -> float:
        """By how much the travel does not suffice, 0 where it does or is not known."""
        lacks = [n - h for n, h in ((self.forward_needed_mm, self.forward_mm), (self.back_needed_mm, self.back_mm)) if h is not None]
        return max([0.0, *lacks])


def string_saddles(route: Route, lines: list[StringLine], saddle_x_mm: float) -> list[StringSaddle]:
    """Return each string's saddle.

    Args:
        lines: treble first. saddle_x_mm: the saddle line, where the treble string's scale and its compensation end.

    Source: the string's own scale (straight between the outer two of two scales), the choice of compensation, and what is chosen for it
    beyond. With two scales the nut ends differ as the straight fret asks.
    """
    choices, count = route.choices, len(lines)
    extra = list(choices.string_extra_mm[:count]) + [0.0] * (count - len(choices.string_extra_mm[:count]))
    lean = 0.0
    if choices.bass_scale_mm is not None and choices.scale_mm is not None:
        bass_end, treble_end = choices.bass_scale_mm, _treble_end(choices.bass_scale_mm, choices.scale_mm, choices.straight_fret)
        lean = bass_end - treble_end  # how far the bass saddle lies behind the treble one
    out = []
    for k, line in enumerate(lines):
        behind = extra[k] + lean * k / (count - 1)
        out.append(StringSaddle(line.number, saddle_x_mm + behind, line.y_at(saddle_x_mm), behind))
    return out


def _treble_end(bass: float, treble: float, straight: int) -> float:
    """Return where the treble string ends along x from the bass string's nut."""
    return fret_distance(bass, straight) - fret_distance(treble, straight) + treble


def travel(extra_mm: list[float], bridge: PartOnHand | None) -> Travel | None:
    """Return how the saddles' places sit in the bridge's travel, with figures.saddles.reserve_mm to spare both ways.

    Args:
        extra_mm: how far each string's saddle stands behind the saddle line; the slant of two scales is the bridge's, not the saddles'.
    """
    if bridge is None:
        return None
    reserve = figures()["saddles"]["reserve_mm"]
    behind = extra_mm or [0.0]
    forward, back = (read_place(bridge, n).value_mm for n in ("travel_forward", "travel_back"))
    return Travel(max(0.0, -min(behind)) + reserve, max(0.0, max(behind)) + reserve, forward, back)


def bridge_points(route: Route, saddle_x_mm: float, heel_end_mm: float) -> list[dict[str, object]]:
    """Return the bridge's own points by name, along the centre line: front edge, middle and back edge of its plate, post line, string holes."""
    bridge = find_part(route.parts, PartKind.BRIDGE)
    if bridge is None:
        return []
    value = {n: read_place(bridge, n).value_mm for n in ("plate_length", "plate_to_saddle", "post_behind", "post_spacing", "strings_behind")}
    rows: list[tuple[str, float, str]] = [("Saddle line", saddle_x_mm, "")]
    front, long = value["plate_to_saddle"], value["plate_length"]
    if front is not None and long is not None:
        rows += [
            ("Plate, front edge", saddle_x_mm - front, f"saddle line − {mm(front):.2f}"),
            ("Plate, middle", saddle_x_mm - front + long / 2, f"front edge + half of {mm(long):.2f}"),
            ("Plate, back edge", saddle_x_mm - front + long, f"front edge + {mm(long):.2f}"),
        ]
    if value["post_spacing"] is not None:
        rows.append(
            (
                "Post line",
                saddle_x_mm + (value["post_behind"] or 0.0),
                f"saddle line + {mm(value['post_behind'] or 0.0):.2f}",
            )
        )
    if value["strings_behind"] is not None:
        rows.append(
            ("String holes", saddle_x_mm + value["strings_behind"], f"saddle line + {mm(value['strings_behind']):.2f}")
        )
    return [{"name": n, "x_mm": x, "from_heel_mm": x - heel_end_mm, "words": w} for n, x, w in rows]


def fret_rows(route: Route, nut_x_mm: float, half_nut_mm: float, half_saddle_mm: float, saddle_x_mm: float) -> list[list[float]]:
    """Return every fret from the nut on as a line: x, y of its bass end, x, y of its treble end, on the outer strings.

    nut_x_mm: of the treble string.
    """
    choices = route.choices
    assert choices.scale_mm is not None
    treble = [nut_x_mm + fret_distance(choices.scale_mm, n) for n in range(choices.frets + 1)]
    bass = treble
    if choices.bass_scale_mm is not None:
        rows = fan_lines(choices.bass_scale_mm, choices.scale_mm, 2 * half_nut_mm, choices.straight_fret, choices.frets)
        bass = [nut_x_mm + b - rows[0][1] for b, _ in rows]

    def half(x: float) -> float:
        return half_nut_mm + (half_saddle_mm - half_nut_mm) * (x - nut_x_mm) / (saddle_x_mm - nut_x_mm)

    return [[b, -half(b), t, half(t)] for b, t in zip(bass, treble, strict=True)]


def pilot_mm(thread_mm: float, core_mm: float | None) -> float:
    """Return the pilot hole of a wood screw: figures.screws.pilot_part of the way from core to thread; a core that was not measured is taken
    as figures.screws.core_part of the thread."""
    fig = figures()["screws"]
    core = core_mm if core_mm is not None else fig["core_part"] * thread_mm
    return core + fig["pilot_part"] * (thread_mm - core)
