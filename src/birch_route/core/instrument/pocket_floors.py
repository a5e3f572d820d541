"""Which floor a pocket gets: tilted, or following what is cut from the other face."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from shapely.geometry import Polygon

from ..errors import InputError
from ..piece import Pocket
from ..plane.regions import buffer_round
from ..quantities import mm
from ..vocabulary import Face
from .floors import FollowingFloor, TiltedFloor, cells_of, fall_of
from .placing import thickness_of
from .solids import Solid, open_region

if TYPE_CHECKING:
    from ..route import Route


def floor_height(route: Route, face: Face, depth_mm: float) -> float:
    """Return z of a floor a depth below the front, or above the back, face."""
    return -depth_mm if face is Face.FRONT else -thickness_of(route) + depth_mm


def tilted_floor(feature: Pocket, region: Polygon, deep: float | None) -> TiltedFloor | None:
    """Return the floor of a pocket that has one tilted.

    Raises:
        InputError: it would come out of the face, or has no floor.
    """
    if feature.tilt_deg == 0.0:
        return None
    if deep is None:
        raise InputError(f"{feature.name} goes through; it has no floor to tilt.", where=feature.id)
    floor = TiltedFloor(region, region.bounds[2], deep, fall_of(feature.tilt_deg))
    if floor.shallowest_mm < 0.1:
        raise InputError(f"Tilted by {feature.tilt_deg:g}° the floor of {feature.name} comes out of the face. Tilt it less, or make it deeper.", where=feature.id)
    return floor


def following(route: Route, feature: Pocket, solid: Solid, other: list[Solid]) -> Solid:
    """Return a pocket with a floor that keeps away from what is cut from the other face and is not meant to be met.

    Raises:
        InputError: it goes through, is tilted as well, or finds no room for a floor.
    """
    keep, thick = feature.follows_mm or 0.0, thickness_of(route)
    if solid.floor_mm is None or solid.surface is not None:
        raise InputError(f"{feature.name} {'goes through' if solid.floor_mm is None else 'has a tilted floor'}; its floor cannot follow the other face.", where=feature.id)
    met = [s for s in other if s.kind != "outline" and s.floor_mm is not None and s.id not in feature.opens_into and s.region.distance(solid.region) <= keep]
    if not met and solid.deep_mm(thick) <= thick - keep + 1e-9:
        return solid
    floor = following_floor(solid.region, solid.deep_mm(thick), thick, keep, met)
    if floor.shallowest_mm < 0.1:
        raise InputError(
            f"Somewhere in {feature.name} there is no room over {mm(keep):g} of wood above what is cut from the "
            f"other face. Draw it smaller, or keep less.",
            where=feature.id,
        )
    return replace(solid, floor_mm=floor_height(route, feature.face, floor.deepest_mm), surface=floor)


def following_floor(region: Polygon, most_mm: float, thick_mm: float, keep_mm: float, met: list[Solid]) -> FollowingFloor:
    """Return the floor over what is cut from the other face: it follows the contours and stays level over every other floor."""
    floor = FollowingFloor(region, most_mm, thick_mm, keep_mm, tuple(s.surface for s in met if s.is_contour and s.surface is not None))  # type: ignore[misc]
    level = []
    for solid in (s for s in met if not s.is_contour):
        stays = buffer_round(solid.region, keep_mm, 0.02)
        _, _, deep = cells_of(stays.intersection(region), 0.5, floor.sloped)
        most = thick_mm - keep_mm - solid.deep_mm(thick_mm)
        level.append((stays, min(most, float(deep.min())) if len(deep) else most))
    return replace(floor, level=tuple(level))


def over_mouth(floor: TiltedFloor | None, region: Polygon, feature: Pocket) -> TiltedFloor | None:
    """Return a tilted floor that goes on over the mouth of an open pocket, where the bit runs out."""
    if floor is None or not feature.open_at_neck:
        return floor
    return replace(floor, region=open_region(region, 12.0))
