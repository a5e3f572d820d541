"""Shapes moved, turned, scaled and mirrored, curve by curve, so that arcs stay arcs."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .curves import Chain, Drawn, Oval, Path, Rectangle, Spline


@dataclass(frozen=True)
class Move:
    """Mirror across the centre line first (y becomes -y), then scale about 0, turn by angle_rad, shift by dx_mm, dy_mm."""

    dx_mm: float = 0.0
    dy_mm: float = 0.0
    angle_rad: float = 0.0
    scale: float = 1.0
    mirror: bool = False

    def point(self, x: float, y: float) -> tuple[float, float]:
        """Return where a point goes."""
        y = -y if self.mirror else y
        c, s = math.cos(self.angle_rad) * self.scale, math.sin(self.angle_rad) * self.scale
        return x * c - y * s + self.dx_mm, x * s + y * c + self.dy_mm


def moved(shape: Drawn, move: Move) -> Drawn:
    """Return a shape after a move. A mirrored arc turns the other way.

    Args:
        shape: a drawn shape; shapes that come from parts are never mirrored or scaled.
    """
    sign = -1.0 if move.mirror else 1.0
    if isinstance(shape, Chain):
        return Chain(vertices=[(*move.point(x, y), sign * b) for x, y, b in shape.vertices])
    if isinstance(shape, Spline):
        return Spline(points=[move.point(x, y) for x, y in shape.points])
    if isinstance(shape, Rectangle):
        x, y = move.point(shape.x_mm, shape.y_mm)
        return Rectangle(x_mm=x, y_mm=y, length_mm=shape.length_mm * move.scale, width_mm=shape.width_mm * move.scale,
                         corner_radius_mm=shape.corner_radius_mm * move.scale, angle_deg=sign * shape.angle_deg + math.degrees(move.angle_rad))
    if isinstance(shape, Oval):
        x, y = move.point(shape.x_mm, shape.y_mm)
        angle = sign * shape.angle_deg + math.degrees(move.angle_rad)
        long, wide = shape.length_mm * move.scale, shape.width_mm * move.scale
        return Oval(x_mm=x, y_mm=y, length_mm=long, width_mm=wide, angle_deg=angle)
    segments = []
    for segment in shape.segments:
        if segment[0] == "arc":
            segments.append(("arc", *move.point(segment[1], segment[2]), sign * segment[3]))
        else:
            numbers = segment[1:]
            segments.append((segment[0], *(v for k in range(0, len(numbers), 2) for v in move.point(numbers[k], numbers[k + 1]))))
    return Path(start=move.point(*shape.start), segments=segments)
