"""The path language of SVG: `d` into runs of absolute steps. Ours because drawings of 20 MB must be read in seconds.

Source: the path grammar of the SVG 1.1 recommendation, chapter 8.
"""

from __future__ import annotations

import re

Step = tuple  # ("M" | "L", x, y), ("C", x1, y1, x2, y2, x, y), ("A", rx, ry, turn_deg, large, sweep, x, y)
_PART = re.compile(r"([MmLlHhVvCcSsQqTtAaZz])([^MmLlHhVvCcSsQqTtAaZz]*)")
_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
_ARC = re.compile(r"([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)[\s,]*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)[\s,]*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)"
                  r"[\s,]*([01])[\s,]*([01])[\s,]*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)[\s,]*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)")
LONG = 20_000  # characters; such a path is mostly points
_ONLY_LINES = re.compile(r"[MLZ0-9eE.,+\-\s]*")


def _line_runs(d: str) -> list[list[Step]]:
    """Return the runs of a path that has only M, L and Z with spaces or commas between all numbers."""
    runs = []
    for part in d.replace("L", " ").replace(",", " ").split("M"):
        text, closed, after = part.partition("Z")
        if after.strip(" \n\r\tZ"):
            raise ValueError("lines after a close")
        numbers = list(map(float, text.split()))
        if len(numbers) % 2:
            raise ValueError("an odd number")
        if len(numbers) < 4:
            continue
        xs, ys = numbers[::2], numbers[1::2]
        run: list[Step] = [("M", xs[0], ys[0]), *(("L", x, y) for x, y in zip(xs[1:], ys[1:], strict=True))]
        if closed and (xs[-1], ys[-1]) != (xs[0], ys[0]):
            run.append(("L", xs[0], ys[0]))
        runs.append(run)
    return runs


def path_runs(d: str) -> list[list[Step]]:
    """Return the runs of a path; a closed one ends where it began.

    Raises:
        ValueError: the path does not begin with a move, or a command lacks numbers.
    """
    if len(d) > LONG and _ONLY_LINES.fullmatch(d):
        try:
            return _line_runs(d)
        except ValueError:
            pass  # numbers run together; the long way reads them
    runs: list[list[Step]] = []
    run: list[Step] = []
    x = y = x0 = y0 = 0.0
    mirror: tuple[str, float, float] | None = None  # the control point that S and T reflect
    for letter, text in _PART.findall(d):
        kind, relative = letter.upper(), letter.islower()
        if kind == "Z":
            if run and (x, y) != (x0, y0):
                run.append(("L", x0, y0))
            x, y, mirror = x0, y0, None
            if len(run) > 1:
                runs.append(run)
            run = [("M", x0, y0)]
            continue
        if kind == "A":
            numbers = [float(v) for found in _ARC.findall(text) for v in found]
        else:
            numbers = [float(v) for v in _NUMBER.findall(text)]
        size = {"M": 2, "L": 2, "T": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "A": 7}[kind]
        if not numbers or len(numbers) % size:
            raise ValueError(f"“{letter}” needs {size} numbers at a time, not {len(numbers)}")
        if kind != "M" and not run:
            raise ValueError("a path must begin with a move")
        for at in range(0, len(numbers), size):
            v = numbers[at: at + size]
            bx, by = (x, y) if relative else (0.0, 0.0)
            if kind == "M" and at == 0:
                if len(run) > 1:
                    runs.append(run)
                x, y = bx + v[0], by + v[1]
                x0, y0, run, mirror = x, y, [("M", x, y)], None
            elif kind in "MLHV":
                x = bx + v[0] if kind != "V" else x
                y = by + (v[0] if kind == "V" else v[1]) if kind != "H" else y
                run.append(("L", x, y))
                mirror = None
            elif kind == "A":
                x, y = bx + v[5], by + v[6]
                run.append(("A", *v[:5], x, y))
                mirror = None
            elif kind in "CS":
                if kind == "S":
                    first = (2 * x - mirror[1], 2 * y - mirror[2]) if mirror and mirror[0] == "C" else (x, y)
                    v = [first[0] - bx, first[1] - by, *v]
                c = [value + (bx if k % 2 == 0 else by) for k, value in enumerate(v)]
                run.append(("C", *c))
                x, y, mirror = c[4], c[5], ("C", c[2], c[3])
            else:
                if kind == "T":
                    cx, cy = (2 * x - mirror[1], 2 * y - mirror[2]) if mirror and mirror[0] == "Q" else (x, y)
                    ex, ey = bx + v[0], by + v[1]
                else:
                    cx, cy, ex, ey = bx + v[0], by + v[1], bx + v[2], by + v[3]
                run.append(("C", x + 2 / 3 * (cx - x), y + 2 / 3 * (cy - y), ex + 2 / 3 * (cx - ex), ey + 2 / 3 * (cy - ey), ex, ey))
                x, y, mirror = ex, ey, ("Q", cx, cy)
    if len(run) > 1:
        runs.append(run)
    return runs
