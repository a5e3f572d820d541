"""One feature of a piece as plain geometry."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import Polygon, box

from ..vocabulary import Face, FinishClass
from .bevels import BevelSurface
from .carves import CarvedFace
from .channels import ChannelFloor
from .floors import FollowingFloor, TiltedFloor
from .reliefs import ReliefFace

if TYPE_CHECKING:
    from ..fretboard.surfaces import BoardFace, SlotFloors
    from ..neck.surfaces import HeadFace, NeckBack

CONTOURS = ("bevel", "carve", "relief", "board_face", "neck_back", "head_slope")
OPEN_OVERRUN_MM = 2.0  # an open pocket is cleared this far past the mouth, besides the bit


@dataclass(frozen=True)
class Solid:
    """One feature as geometry in the piece's frame. floor_mm is z: the floor of what is cut from the front, the roof of what is cut from
    the back; None goes through. rests_on: places of parts its size or place comes from, measured or not."""

    id: str
    name: str
    kind: str
    region: Polygon
    floor_mm: float | None
    finish_class: FinishClass = FinishClass.HIDDEN
    points: tuple[tuple[float, float], ...] = ()
    diameter_mm: float = 0.0
    part_corner_mm: float | None = None
    least_floor_mm: float = 0.0
    is_open: bool = False
    unmeasured: tuple[str, ...] = ()  # places of parts this rests on that were never measured
    must_be_measured: bool = False
    face: Face = Face.FRONT
    rests_on: tuple[str, ...] = ()
    hidden_by: str = ""  # the plate or cap nobody sees it under
    under_mm: float = 0.0  # it begins so far below its face, under layers glued on after it was cut
    surface: (
        BevelSurface | CarvedFace | ReliefFace | BoardFace | NeckBack | HeadFace
        | ChannelFloor | TiltedFloor | FollowingFloor | SlotFloors | None
    ) = None  # of a contour or a floor that is not level, in a frame where its face lies at z = 0

    @property
    def is_contour(self) -> bool:
        """Whether it slopes down from its face, without a wall of its own."""
        return self.kind in CONTOURS

    @property
    def has_walls(self) -> bool:
        """Whether it leaves walls that count: a contour slopes, and what stands beside a fret slot is held by it."""
        return not self.is_contour and self.kind != "fret_slots"

    def span_mm(self, thickness_mm: float) -> tuple[float, float]:
        """Return z of the lowest and highest wood it takes from a piece of a thickness."""
        if self.floor_mm is None:
            return -thickness_mm, 0.0
        return (self.floor_mm, -self.under_mm) if self.face is Face.FRONT else (-thickness_mm + self.under_mm, self.floor_mm)

    def deep_mm(self, thickness_mm: float) -> float:
        """Return how deep it goes from its own face; the thickness where it goes through."""
        low, high = self.span_mm(thickness_mm)
        return high - low + self.under_mm


def cut_region(solid: Solid, bit_radius_mm: float) -> Polygon:
    """Return the region an operation clears for a feature: an open pocket runs out over its mouth."""
    return open_region(solid.region, bit_radius_mm) if solid.is_open else solid.region


def open_region(region: Polygon, bit_radius_mm: float) -> Polygon:
    """Return a region that runs out over its mouth, at its least x, as far as a bit needs."""
    xmin, ymin, xmax, ymax = region.bounds
    mouth = region.intersection(box(xmin - 1, ymin, xmin + 0.5, ymax))
    if mouth.is_empty:
        return region
    _, low, _, high = mouth.bounds
    reach = 2 * bit_radius_mm + OPEN_OVERRUN_MM
    return largest(region.union(box(xmin - reach, low, xmin + 0.5, high)))


def largest(region: shapely.Geometry) -> Polygon:
    """Return the largest part of a region, its ring counter-clockwise."""
    parts = [region] if isinstance(region, Polygon) else sorted(region.geoms, key=lambda g: -g.area)
    return shapely.geometry.polygon.orient(parts[0])
