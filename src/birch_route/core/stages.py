"""A route's setups as stages: each lies in its own frame with the face that is up at z = 0, and begins with the wood the one before left.

Turning over is a rotation by 180 degrees about a plan axis; nothing of the piece is mirrored. In the turned frame the piece is worked like
any other from above, so one set of operations, simulation and rules serves both faces.
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.affinity import scale

from .bits.model import Bit
from .data import figures
from .gluing import blank_at
from .heights.field import CELL_MM, FINE_MM, Grid, Wood
from .instrument.resolve import Resolved, Solid
from .machines import Machine
from .route import Blank, Hardware, Operation, Route, Setup
from .vocabulary import MILLS, ROUNDED, Face, OperationKind, TurnAxis

MOST_FINE = 8_000_000  # cells of a board, or of a piece that a thin bit mills


@dataclass(frozen=True)
class Frame:
    """How a setup lies against the piece's frame. about: the plan axis it was turned over about; None: not turned.

    About the length: (x, y, z) -> (x, -y, -z - t); about the width: (-x, y, -z - t), t the thickness of the finished piece.
    """

    about: TurnAxis | None
    thickness_mm: float

    @property
    def signs(self) -> tuple[float, float]:
        """Signs of x and y."""
        if self.about is None:
            return 1.0, 1.0
        return (1.0, -1.0) if self.about is TurnAxis.LENGTH else (-1.0, 1.0)

    def point(self, x: float, y: float, z: float) -> tuple[float, float, float]:
        """Return a point of the piece in this frame, or one of this frame in the piece's: the rotation is its own inverse."""
        sx, sy = self.signs
        return sx * x, sy * y, z if self.about is None else -z - self.thickness_mm

    def fields(self, top: np.ndarray, bottom: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return top and bottom of the wood in this frame from those of the piece's, or back. Where nothing is left both are set to the height of
        the face that lies below."""
        if self.about is None:
            return top, bottom
        axis = 0 if self.about is TurnAxis.LENGTH else 1
        turned = [np.ascontiguousarray(np.flip(-f - np.float32(self.thickness_mm), axis)) for f in (bottom, top)]
        gone = turned[0] <= turned[1]
        turned[0][gone] = turned[1][gone] = np.float32(-self.thickness_mm)
        return turned[0], turned[1]

    def grid(self, grid: Grid) -> Grid:
        """Return the grid of this frame that holds the same cells."""
        sx, sy = self.signs
        x0 = grid.x0_mm if sx > 0 else -(grid.x0_mm + grid.nx * grid.cell_mm)
        y0 = grid.y0_mm if sy > 0 else -(grid.y0_mm + grid.ny * grid.cell_mm)
        return Grid(x0, y0, grid.nx, grid.ny, grid.cell_mm)

    def angle(self, angle_deg: float) -> float:
        """Return a direction of the plan in this frame, degrees."""
        if self.about is None:
            return angle_deg
        turned = -angle_deg if self.about is TurnAxis.LENGTH else 180.0 - angle_deg
        return (turned + 180.0) % 360.0 - 180.0

    def hardware(self, one: Hardware) -> Hardware:
        """Return hardware in this frame, or back."""
        x, y, _ = self.point(one.x_mm, one.y_mm, 0.0)
        return one.model_copy(update={"x_mm": x, "y_mm": y, "angle_deg": self.angle(one.angle_deg)})

    def region(self, region: shapely.Geometry) -> shapely.Geometry:
        """Return a region of the plan in this frame."""
        sx, sy = self.signs
        turned = scale(region, sx, sy, origin=(0.0, 0.0))
        return shapely.geometry.polygon.orient(turned) if isinstance(turned, shapely.Polygon) else turned


def frame_of(setup: Setup, thickness_mm: float) -> Frame:
    """Return the frame of a setup."""
    return Frame(None if setup.face is Face.FRONT else setup.turned_about, thickness_mm)


_kept: deque[tuple[Resolved, Frame, Resolved]] = deque(maxlen=12)


def turned_resolved(resolved: Resolved, frame: Frame) -> Resolved:
    """Return a piece's geometry as it lies in a frame: what is cut from the face that is up has face front there; the newest are kept."""
    if frame.about is None:
        return resolved
    for one, lay, turned in _kept:
        if one is resolved and lay == frame:
            return turned
    turned = replace(resolved, outline=frame.region(resolved.outline), solids={k: _solid(s, frame) for k, s in resolved.solids.items()}, rims={k: r.turned(frame) for k, r in resolved.rims.items()}, heel=None, saddle_x_mm=None, derivations=[])
    _kept.append((resolved, frame, turned))
    return turned


def _solid(solid: Solid, frame: Frame) -> Solid:
    other = Face.BACK if solid.face is Face.FRONT else Face.FRONT
    floor = None if solid.floor_mm is None else -solid.floor_mm - frame.thickness_mm
    points = tuple(frame.point(x, y, 0.0)[:2] for x, y in solid.points)
    return replace(solid, region=frame.region(solid.region), floor_mm=floor, points=points, face=other, surface=None if solid.surface is None else solid.surface.turned(frame.signs))


def stage_route(route: Route, setup: Setup, frame: Frame, lowest_mm: float | None = None) -> Route:
    """Return the route of one setup in its frame: its blank, holding and operations. Features stay as the piece has them; their geometry in
    this frame is turned_resolved.

    Args:
        lowest_mm: z in this frame of the lowest wood, on which it lies; None: the blank as it is.
    """
    operations = [within_machine(route, o) for o in route.operations if o.setup == setup.id]
    if frame.about is None:
        return route.model_copy(update={"setups": [setup], "operations": operations, "blank": blank_at(route, setup)})
    blank = _turned_blank(route.blank, frame, lowest_mm)
    order = [s.id for s in route.setups]
    if any(o.kind is OperationKind.FACE and order.index(o.setup) < order.index(setup.id) for o in route.operations):
        blank = blank.model_copy(update={"faced_below_mm": max(0.0, -frame.thickness_mm - blank.bottom_mm)})
    x, y, _ = frame.point(setup.zero.touch_x_mm, setup.zero.touch_y_mm, 0.0)
    zero = setup.zero.model_copy(update={"touch_x_mm": x, "touch_y_mm": y})
    turned = setup.model_copy(update={"face": Face.FRONT, "zero": zero, "hardware": [frame.hardware(h) for h in setup.hardware]})
    return route.model_copy(update={"setups": [turned], "operations": operations, "blank": blank})


def cuts_under_mm(setup: Setup, machine: Machine) -> float:
    """Return how far bits may go below the wood in a setup: into the waste board as far as the machine's profile says,
    or into the sheet of scrap it lies on, of which some stays whole."""
    return float(max(machine.waste_cut_mm, setup.sheet_mm - figures()["neck"]["keep_mm"]))


def within_machine(route: Route, operation: Operation) -> Operation:
    """Return an operation at the rates the machine really runs: what is asked beyond its greatest is cut down to
    that."""
    settings, machine = operation.settings, route.machine
    feed, plunge = (
        min(settings.feed_mm_min, machine.greatest_feed_mm_min),
        min(settings.plunge_mm_min, machine.greatest_plunge_mm_min),
    )
    if (feed, plunge) == (settings.feed_mm_min, settings.plunge_mm_min):
        return operation
    return operation.model_copy(
        update={"settings": settings.model_copy(update={"feed_mm_min": feed, "plunge_mm_min": plunge})}
    )


def _turned_blank(blank: Blank, frame: Frame, lowest_mm: float | None) -> Blank:
    sx, sy = frame.signs
    x = blank.x_mm if sx > 0 else -(blank.x_mm + blank.length_mm)
    y = blank.y_mm if sy > 0 else -(blank.y_mm + blank.width_mm)
    thick = frame.thickness_mm if lowest_mm is None else -lowest_mm
    return blank.model_copy(update={"x_mm": x, "y_mm": y, "skim_mm": blank.skim_back_mm, "skim_back_mm": 0.0, "thickness_mm": thick + blank.skim_back_mm, "layers": list(reversed(blank.layers))})


def cell_for(route: Route) -> float:
    """Return the size of the cells a route is proved in, mm: small where a board has slots or a thin bit mills, as far
    as MOST_FINE go."""
    fits = route.blank.length_mm * route.blank.width_mm <= MOST_FINE * FINE_MM**2
    return FINE_MM if fits and (route.piece.board is not None or thin_bits(route)) else CELL_MM


def thin_bits(route: Route) -> list[Bit]:
    """Return the bits of a route's operations that mill and are thin against cells of the usual size."""
    thin = figures()["cells"]["thin_bit_mm"]
    used = {o.bit for o in route.operations if o.kind is not OperationKind.DRILL}
    return [b for b in route.bits if b.id in used and b.form in (*MILLS, *ROUNDED) and b.cut_diameter_mm < thin]


def first_wood(route: Route, cell_mm: float) -> Wood:
    """Return the blank as it comes to the first setup, in the piece's frame."""
    blank = blank_at(route, route.setups[0])
    grid = Grid.over(blank.x_mm, blank.y_mm, blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm, cell_mm)
    return Wood.block(grid, blank.top_mm, blank.bottom_mm)


def bed_points(route: Route, setup: Setup, points: list[tuple[float, float]], thickness_mm: float) -> list[tuple[float, float]]:
    """Return where points of the piece stand on the machine's bed in a setup, mm from the bed's corner."""
    frame = frame_of(setup, thickness_mm)
    blank = stage_route(route.model_copy(update={"operations": []}), setup, frame).blank
    placed = [frame.point(x, y, 0.0) for x, y in points]
    return [(setup.blank_at_mm[0] + x - blank.x_mm, setup.blank_at_mm[1] + y - blank.y_mm) for x, y, _ in placed]


def pins_between(first: list[tuple[float, float]], second: list[tuple[float, float]]) -> tuple[tuple[float, float], float]:
    """Return the shift that brings the holes of a second setup onto the pins of the first as well as a shift can, and the greatest distance
    that then remains between a hole and its nearest pin, mm."""
    a, b = np.asarray(first, float), np.asarray(second, float)
    shift = a.mean(0) - b.mean(0)
    apart = np.hypot(*(a[:, None, :] - (b + shift)[None, :, :]).transpose(2, 0, 1))
    return (float(shift[0]), float(shift[1])), float(max(apart.min(0).max(), apart.min(1).max()))


def onto_holes(holes: list[tuple[float, float]], points: list[tuple[float, float]], within_mm: float) -> tuple[float, float] | None:
    """Return the least shift that brings points on the bed onto holes there, each onto one; None where no shift does."""
    best: tuple[float, float] | None = None
    for a in holes:  # the first point goes onto each in turn
        moved = np.asarray(points, float) + np.asarray(a, float) - np.asarray(points[0], float)
        apart = np.hypot(*(moved[:, None, :] - np.asarray(holes, float)[None]).transpose(2, 0, 1))
        if apart.min(1).max() >= within_mm:
            continue
        shift, left = pins_between([tuple(holes[k]) for k in apart.argmin(1)], points)
        if left < within_mm and (best is None or np.hypot(*shift) < np.hypot(*best)):
            best = shift
    return best
