"""From an area of cells to the lines along its middle."""

from __future__ import annotations

import numba as nb
import numpy as np

_ROUND = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))  # the cells round one, in order


@nb.njit(cache=True, nogil=True)
def thinned(area):
    """Return the middle lines of an area, one cell wide and connected as it is, bool [ny, nx]; its border cells count as empty.

    Source: Zhang and Suen 1984, two passes that take away border cells until none goes.
    """
    out = area.copy()
    ny, nx = out.shape
    out[0, :] = False
    out[ny - 1, :] = False
    out[:, 0] = False
    out[:, nx - 1] = False
    gone = np.empty((ny * nx, 2), np.int64)
    while True:
        taken = 0
        for odd in range(2):
            count = 0
            for j in range(1, ny - 1):
                for i in range(1, nx - 1):
                    if not out[j, i]:
                        continue
                    a, b, c, d = out[j - 1, i], out[j - 1, i + 1], out[j, i + 1], out[j + 1, i + 1]
                    e, f, g, h = out[j + 1, i], out[j + 1, i - 1], out[j, i - 1], out[j - 1, i - 1]
                    near = int(a) + int(b) + int(c) + int(d) + int(e) + int(f) + int(g) + int(h)
                    if near < 2 or near > 6:
                        continue
                    turns = int(not a and b) + int(not b and c) + int(not c and d) + int(not d and e) + int(not e and f) + int(not f and g) + int(not g and h) + int(not h and a)
                    if turns != 1:
                        continue
                    if (odd == 0 and (a and c and e or c and e and g)) or (odd == 1 and (a and c and g or a and e and g)):
                        continue
                    gone[count, 0], gone[count, 1] = j, i
                    count += 1
            for k in range(count):
                out[gone[k, 0], gone[k, 1]] = False
            taken += count
        if taken == 0:
            return out


def traced(lines: np.ndarray, least: int = 4) -> list[np.ndarray]:
    """Return thin lines as ways from cell to cell, int [n, 2] (row, column), split where lines meet; shorter ones than `least` cells are left out."""
    cells = {(int(j), int(i)) for j, i in np.argwhere(lines)}

    def beside(cell: tuple[int, int]) -> list[tuple[int, int]]:
        near = [(cell[0] + dj, cell[1] + di) for dj, di in _ROUND]
        straight = [c for c in near[::2] if c in cells]
        return straight + [c for c in near[1::2] if c in cells and not any(abs(c[0] - s[0]) + abs(c[1] - s[1]) == 1 for s in straight)]  # no short cut round a corner

    ends = {c for c in cells if len(beside(c)) != 2}
    out: list[list[tuple[int, int]]] = []
    done: set[tuple[tuple[int, int], tuple[int, int]]] = set()
    for start in sorted(ends) + sorted(cells - ends):
        for first in beside(start):
            if (start, first) in done or (start not in ends and out and any(start in way for way in out)):
                continue
            way = [start, first]
            done |= {(start, first), (first, start)}
            while way[-1] not in ends:
                onward = [c for c in beside(way[-1]) if (way[-1], c) not in done]
                if not onward:
                    break
                done |= {(way[-1], onward[0]), (onward[0], way[-1])}
                way.append(onward[0])
            out.append(way)
    return [np.array(way) for way in out if len(way) >= least]
