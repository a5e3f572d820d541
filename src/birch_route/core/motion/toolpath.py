"""Toolpaths: the motion of one operation as arrays, and a builder that keeps track of where the bit is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind


@dataclass(frozen=True)
class Toolpath:
    """Moves as arrays. Move i goes from points[i] to points[i + 1].

    points: float64 [n + 1, 3], piece's frame, mm. kinds: int8 [n], codes of MoveKind. feeds: float64 [n], mm/min
    (0 for rapid moves).
    """

    points: np.ndarray
    kinds: np.ndarray
    feeds: np.ndarray

    def __len__(self) -> int:
        return len(self.kinds)

    def cut_length_mm(self) -> float:
        """Length of everything that is not a rapid move, mm."""
        steps = np.linalg.norm(np.diff(self.points, axis=0), axis=1)
        return float(steps[self.kinds != RAPID_CODE].sum())


class PathBuilder:
    """Collects moves; a move that goes nowhere is dropped."""

    def __init__(self, x_mm: float, y_mm: float, z_mm: float) -> None:
        self._points = [(float(x_mm), float(y_mm), float(z_mm))]
        self._kinds: list[int] = []
        self._feeds: list[float] = []

    @property
    def at(self) -> tuple[float, float, float]:
        return self._points[-1]

    def to(self, x_mm: float, y_mm: float, z_mm: float, kind: MoveKind, feed_mm_min: float) -> None:
        """Add one straight move."""
        target = (float(x_mm), float(y_mm), float(z_mm))
        if max(abs(a - b) for a, b in zip(target, self.at, strict=True)) < 1e-7:
            return
        self._points.append(target)
        self._kinds.append(MOVE_CODES[kind])
        self._feeds.append(0.0 if kind is MoveKind.RAPID else float(feed_mm_min))

    def rapid(self, x_mm: float | None = None, y_mm: float | None = None, z_mm: float | None = None) -> None:
        """Add a rapid move; what is not given stays."""
        x, y, z = self.at
        self.to(x if x_mm is None else x_mm, y if y_mm is None else y_mm, z if z_mm is None else z_mm, MoveKind.RAPID, 0.0)

    def along(self, ring: np.ndarray, z_mm: float | np.ndarray, kind: MoveKind, feed_mm_min: float) -> None:
        """Add moves through points [n, 2] at one height or a height each."""
        heights = np.broadcast_to(z_mm, len(ring))
        for (x, y), z in zip(ring, heights, strict=True):
            self.to(x, y, z, kind, feed_mm_min)

    def done(self) -> Toolpath:
        """Return the toolpath."""
        return Toolpath(np.asarray(self._points, float), np.asarray(self._kinds, np.int8), np.asarray(self._feeds, float))


def join(paths: list[Toolpath]) -> Toolpath:
    """Put toolpaths behind one another; a gap between them becomes a rapid move."""
    points, kinds, feeds = [paths[0].points], [paths[0].kinds], [paths[0].feeds]
    for path in paths[1:]:
        if np.abs(points[-1][-1] - path.points[0]).max() > 1e-9:
            points.append(path.points)
            kinds.append(np.concatenate([[RAPID_CODE], path.kinds]))
            feeds.append(np.concatenate([[0.0], path.feeds]))
        else:
            points.append(path.points[1:])
            kinds.append(path.kinds)
            feeds.append(path.feeds)
    return Toolpath(np.vstack(points), np.concatenate(kinds).astype(np.int8), np.concatenate(feeds))
