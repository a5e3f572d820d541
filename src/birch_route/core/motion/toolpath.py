"""Toolpaths: the motion of one operation as arrays, and a builder that keeps track of where the bit is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind

LEAST_MOVE_MM = 1e-7


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
        self._at = (float(x_mm), float(y_mm), float(z_mm))
        self._blocks: list[tuple[np.ndarray, np.ndarray, np.ndarray]] = []
        self._first = self._at
        self._loose: list[tuple[float, float, float, int, float]] = []  # single moves not yet in a block

    @property
    def at(self) -> tuple[float, float, float]:
        return self._at

    def to(self, x_mm: float, y_mm: float, z_mm: float, kind: MoveKind, feed_mm_min: float) -> None:
        """Add one straight move."""
        target = (float(x_mm), float(y_mm), float(z_mm))
        at = self._at
        if max(abs(target[0] - at[0]), abs(target[1] - at[1]), abs(target[2] - at[2])) < LEAST_MOVE_MM:
            return
        self._loose.append((*target, MOVE_CODES[kind], 0.0 if kind is MoveKind.RAPID else float(feed_mm_min)))
        self._at = target

    def rapid(self, x_mm: float | None = None, y_mm: float | None = None, z_mm: float | None = None) -> None:
        """Add a rapid move; what is not given stays."""
        x, y, z = self._at
        self.to(x if x_mm is None else x_mm, y if y_mm is None else y_mm, z if z_mm is None else z_mm, MoveKind.RAPID, 0.0)

    def along(self, ring: np.ndarray, z_mm: float | np.ndarray, kind: MoveKind, feed_mm_min: float) -> None:
        """Add moves through points [n, 2] at one height or a height each."""
        if not len(ring):
            return
        targets = np.column_stack([ring, np.broadcast_to(z_mm, len(ring))])
        if (np.abs(np.diff(targets, axis=0, prepend=[self._at])).max(axis=1) < LEAST_MOVE_MM).any():
            for x, y, z in targets:
                self.to(x, y, z, kind, feed_mm_min)
            return
        self._flush()
        self._blocks.append((targets, np.full(len(targets), MOVE_CODES[kind], np.int8), np.full(len(targets), 0.0 if kind is MoveKind.RAPID else float(feed_mm_min))))
        self._at = tuple(targets[-1].tolist())

    def _flush(self) -> None:
        if self._loose:
            rows = np.array(self._loose)
            self._blocks.append((rows[:, :3], rows[:, 3].astype(np.int8), rows[:, 4]))
            self._loose.clear()

    def done(self) -> Toolpath:
        """Return the toolpath."""
        self._flush()
        if not self._blocks:
            return Toolpath(np.array([self._first]), np.zeros(0, np.int8), np.zeros(0))
        points, kinds, feeds = zip(*self._blocks, strict=True)
        return Toolpath(np.vstack([[self._first], *points]), np.concatenate(kinds), np.concatenate(feeds))


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
