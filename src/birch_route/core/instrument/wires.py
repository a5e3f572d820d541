"""A long drill from one cavity to another: the angles at which it neither nicks the rim it enters over nor comes
through the back."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..bench import BenchStep
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..quantities import mm
from ..route import Route
from ..vocabulary import BenchKind
from .resolve import resolve
from .solids import Solid

LEAST_WALL_MM = 0.5  # cavities nearer than this meet
FAR_MM = 1e4


@dataclass(frozen=True)
class WireHole:
    """In the vertical plane through both cavities; heights below the face, mm, downwards.

    The drill lies over the far rim of the first cavity, goes down through the cavity, enters its near wall (towards the
    second cavity) and must come out in the second cavity's wall above that floor.

    first_length_mm: opening of the first cavity along the hole. first_depth_mm, second_depth_mm: their floors. wall_mm:
    wood between them. second_length_mm: opening of the second along the hole. thickness_mm: of the body. drill_mm:
    diameter. rim_mm: how far the drill must stay above the far rim's edge (0: it may lie on it). floor_mm: wood wanted
    under the hole.
    """

    first_length_mm: float
    first_depth_mm: float
    wall_mm: float
    second_length_mm: float
    second_depth_mm: float
    thickness_mm: float
    drill_mm: float
    rim_mm: float = 0.5
    floor_mm: float = 4.0


@dataclass(frozen=True)
class Window:
    """The angles that work, degrees below the face, and at the middle one the places and the drill that is needed."""

    least_deg: float
    most_deg: float
    enters_deep_mm: float  # axis below the face at the first cavity's near wall
    leaves_deep_mm: float  # axis below the face at the second cavity's wall
    drill_length_mm: float


def works(hole: WireHole, angle_deg: float, enters_deep_mm: float) -> bool:
    """Say whether a drill at an angle whose axis meets the entry wall at a depth does its work and harms nothing."""
    t, r = math.tan(math.radians(angle_deg)), hole.drill_mm / 2
    half = r / math.cos(math.radians(angle_deg))  # of the drill, measured upright
    over_rim = enters_deep_mm - t * hole.first_length_mm  # axis at the far rim, below the face
    leaves = enters_deep_mm + t * hole.wall_mm
    deepest = leaves + half
    return (
        over_rim + half <= -hole.rim_mm + 1e-12  # the whole drill passes above the rim
        and enters_deep_mm - half >= 0.0  # and enters the wall below the face, leaving the near edge whole
        and enters_deep_mm + half <= hole.first_depth_mm  # within the wall that the first cavity shows
        and leaves + half <= hole.second_depth_mm  # comes out above the second floor
        and hole.thickness_mm - deepest >= hole.floor_mm)


def angle_window(hole: WireHole) -> Window | None:
    """Return the angles that work, or None where none does.

    For an angle the axis may enter between two depths: from above by the near edge, and from below by the rim the drill
    lies over, by both floors and by the wood under the hole. The window is where the second is not above the first;
    both are monotonous in the angle, so its ends are found by bisection from the best angle.

    Raises:
        InputError: a length that is not above zero.
    """
    names = ("first_length_mm", "first_depth_mm", "wall_mm", "second_length_mm", "second_depth_mm", "thickness_mm")
    for name in (*names, "drill_mm"):
        if getattr(hole, name) <= 0:
            raise InputError(f"{name.replace('_mm', '').replace('_', ' ')} must be above zero.", where=name)

    def room(angle: float) -> float:
        low, high = _entry(hole, angle)
        return high - low

    angles = [0.05 + 0.05 * k for k in range(1500)]
    best = max(angles, key=room)
    if room(best) < 0:
        return None
    least, most = _edge(room, best, 0.0), _edge(room, best, 80.0)
    low, high = _entry(hole, (least + most) / 2)
    enters, t = (low + high) / 2, math.tan(math.radians((least + most) / 2))
    length = (hole.first_length_mm + hole.wall_mm) / math.cos(math.radians((least + most) / 2)) + hole.drill_mm
    return Window(least, most, enters, enters + t * hole.wall_mm, length)


def _entry(hole: WireHole, angle_deg: float) -> tuple[float, float]:
    """Return the least and greatest depth at which the axis may enter the wall at an angle."""
    t = math.tan(math.radians(angle_deg))
    half = hole.drill_mm / 2 / math.cos(math.radians(angle_deg))
    high = min(
        t * hole.first_length_mm - half - hole.rim_mm, hole.first_depth_mm - half,
        hole.second_depth_mm - half - t * hole.wall_mm, hole.thickness_mm - hole.floor_mm - half - t * hole.wall_mm,
    )
    return half, high


def _edge(room, inside: float, outside: float) -> float:
    """Return the last angle with room on the way from one inside the window to one outside it."""
    if room(outside) >= 0:
        return outside
    for _ in range(60):
        middle = (inside + outside) / 2
        inside, outside = (middle, outside) if room(middle) >= 0 else (inside, middle)
    return inside


@dataclass(frozen=True)
class Joined:
    """Two cavities and the drill that is to join them, with the angles that work."""

    first: Solid
    second: Solid
    hole: WireHole
    window: Window | None

    @property
    def step_id(self) -> str:
        """Of the bench step that keeps it."""
        return f"wire_{self.first.id}_{self.second.id}"[:40]

    @property
    def middle_deg(self) -> float:
        assert self.window is not None
        return (self.window.least_deg + self.window.most_deg) / 2


def hole_between(
    route: Route, first: str, second: str, drill_mm: float | None = None, floor_mm: float | None = None
) -> Joined:
    """Return a long drill from one cavity into another along the line through their middles; None takes the figures'.

    Raises:
        InputError: a cavity that is not there, the same twice, other faces, or two that meet.
    """
    resolved = resolve(route)
    pair = [resolved.solids.get(one) for one in (first, second)]
    for one, solid in zip(("first", "second"), pair, strict=True):
        if solid is None or solid.kind != "pocket" or solid.floor_mm is None:
            raise InputError("Choose two cavities that are cut and have a floor.", where=one)
    a, b = (s for s in pair if s is not None)
    if a.id == b.id or a.face != b.face:
        raise InputError("Choose two cavities of one face.", where="second")
    middles = [np.array(s.region.centroid.coords[0]) for s in (a, b)]
    apart = float(np.hypot(*(middles[1] - middles[0])))
    if apart < 1:
        raise InputError("These two lie over one another; no hole is needed.", where="second")
    along = (middles[1] - middles[0]) / apart
    (a0, a1), (b0, b1) = (_reach(s.region, middles[0], along) for s in (a, b))
    if b0 - a1 <= LEAST_WALL_MM:
        raise InputError("These two meet already; no hole is needed.", where="second")
    usual, thick = figures()["drawn"], resolved.thickness_mm
    hole = WireHole(
        a1 - a0, a.deep_mm(thick), b0 - a1, b1 - b0, b.deep_mm(thick), thick,
        usual["wire_drill_mm"] if drill_mm is None else drill_mm, usual["wire_rim_mm"],
        usual["wire_floor_mm"] if floor_mm is None else floor_mm,
    )
    return Joined(a, b, hole, angle_window(hole))


def _reach(region: Polygon, origin: np.ndarray, along: np.ndarray) -> tuple[float, float]:
    """Return how far a cavity reaches along a line, from its first wall to its last, mm from the line's origin."""
    line = LineString([origin - FAR_MM * along, origin + FAR_MM * along])
    ends = shapely.get_coordinates(region.intersection(line))
    if len(ends) == 0:
        raise InputError("The line through both middles misses one of them. Choose other cavities.", where="second")
    places = (ends - origin) @ along
    return float(places.min()), float(places.max())


def wire_step(route: Route, joined: Joined) -> BenchStep:
    """Return a hole as work for the bench: after whatever cuts both cavities, with the wedge that guides the drill.

    Raises:
        InfeasibleError: no angle works.
    """
    window = joined.window
    if window is None:
        raise InfeasibleError(
            "No angle works: the rim, a floor or the back would be cut. Try a thinner drill, another cavity to start "
            "from, or a longer opening.",
            where="drill_mm",
        )
    usual, both = figures()["drawn"], {joined.first.id, joined.second.id}
    last = next((o.id for o in reversed(route.operations) if both & set(o.features)), None)
    if last is None and route.operations:
        last = route.operations[-1].id
    rise = usual["wedge_mm"] * math.tan(math.radians(joined.middle_deg))
    note = (
        f"Drill {mm(joined.hole.drill_mm):.1f}, at least {mm(window.drill_length_mm):.0f} long, "
        f"{joined.middle_deg:.1f} degrees below the face. It enters {mm(window.enters_deep_mm):.1f} down and comes out "
        f"{mm(window.leaves_deep_mm):.1f} down. Wedge for its guide: {mm(rise):.1f} rise on "
        f"{mm(usual['wedge_mm']):.0f}."
    )
    name = f"Drill the wire hole: {joined.first.name} into {joined.second.name}"[:80]
    return BenchStep(
        id=joined.step_id, name=name, minutes=usual["wire_min"], kind=BenchKind.DRILL, note=note, after=last,
    )
