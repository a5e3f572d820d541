"""Pieces made at random, one after another, each kept as it is done: a run that ends is taken up where it stood."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

Row = dict[str, Any]


def many(what: str, words: str | None, one: Callable[[int], Row], refused: Row, summary: Callable[[list[Row]], str],
         every: int) -> list[Row]:
    """Make and prove what the state file does not hold yet, say what came out, and return all of it.

    Args:
        what: the pieces, as the option that counts them. one: from a seed to a row. refused: a row of what numbers of
            no piece give, beside their seed and why. every: after so many a line is said.
    """
    parser = argparse.ArgumentParser(description=words)
    parser.add_argument(f"--{what}", type=int, default=300)
    parser.add_argument("--seed", type=int, default=5)
    parser.add_argument("--state", type=Path, required=True)
    asked = parser.parse_args()
    rows: list[Row] = json.loads(asked.state.read_text()) if asked.state.exists() else []
    done = {r["seed"] for r in rows}
    for k in range(getattr(asked, what)):
        seed = asked.seed * 100_000 + k
        if seed in done:
            continue
        try:
            rows.append(one(seed))
        except ValueError as exc:
            rows.append({"seed": seed, "codes": ["refused"], "seconds": 0, **refused, "said": str(exc)[:200]})
        asked.state.write_text(json.dumps(rows))
        if len(rows) % every == 0:
            print(summary(rows), flush=True)
    print(summary(rows))
    return rows


def counted(rows: list[Row]) -> dict[str, int]:
    """Return how often each code was found."""
    told: dict[str, int] = {}
    for row in rows:
        for code in row["codes"]:
            told[code] = told.get(code, 0) + 1
    return told
