"""Fifty machines with errors nobody knows, measured by the small jobs: what is told against what is true."""

from __future__ import annotations

import unittest
from collections.abc import Iterable

import numpy as np

from birch_route.core.data import starting_shop
from birch_route.core.machines import Machine
from birch_route.core.measuring.jobs import SmallJob
from birch_route.core.measuring.moves import program_text
from birch_route.core.measuring.registry import MAKERS, small_job, tell
from tests.independent.true_machine import RUNS, TrueMachine

MACHINES, QUICK, SEED = 50, 200, 20261130  # QUICK: without the timing, which is slow to simulate


def nominal() -> Machine:
    """Return a machine that can be asked everything: it has a dial and writes arcs."""
    bench = next(Machine.model_validate(m) for m in starting_shop()["machines"] if m["id"] == "bench")
    steps = [9500.0, 13000.0, 17000.0, 21000.0, 24000.0]
    return bench.model_copy(update={"speeds_rpm": steps, "least_rpm": 8000.0})


def measure(asked: Machine, seed: int, kinds: Iterable[str]) -> tuple[dict[str, tuple[float, float, float]], dict]:
    """Return what is told of a machine, value, low and high by figure, and what is true of it."""
    true = TrueMachine(
        np.random.default_rng(seed),
        np.asarray(asked.rapid_mm_min) / 60,
        np.asarray(asked.acceleration_mm_s2, float),
        asked.greatest_feed_mm_min / 60,
        list(asked.speeds_rpm),
    )
    out: dict[str, tuple[float, float, float]] = {}
    for kind in kinds:
        job, text = prepared(asked, kind)
        given = {g.name: g.value for g in job.given}
        names = {"names": [a.name for a in job.asks]}
        said = tell(job, RUNS[kind](true, text, {**given, **names}))  # type: ignore[operator]
        assert said is not None, kind
        out |= {t.figure: (float(t.value), t.low, t.high) for t in said.told if t.figure}
    return out, {k: v for k, v in true.truths().items() if k in out} | (
        {"chords": true.chords} if "time" in kinds else {}
    )


_PREPARED: dict[tuple[str, str], tuple[SmallJob, str]] = {}


def prepared(asked: Machine, kind: str) -> tuple[SmallJob, str]:
    """Return a small job with its program; made once for each machine."""
    if (asked.id, kind) not in _PREPARED:
        job = small_job(asked, kind, {})
        bit = next((g.value for g in job.given if g.name == "bit"), 6.0)
        text = program_text(asked, job.title, job.steps, job.moves, bit) if job.moves else ""
        _PREPARED[asked.id, kind] = job, text
    return _PREPARED[asked.id, kind]


class TestMeasured(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        asked = nominal()
        quick = [k for k in MAKERS if k != "time"]
        cls.pairs = [measure(asked, SEED + k, MAKERS if k < MACHINES else quick) for k in range(QUICK)]

    def told(self, figure: str) -> np.ndarray:
        """Return value, low, high and truth of a figure on every machine that told it: [n, 4]."""
        return np.array([(*told[figure], true[figure]) for told, true in self.pairs if figure in told])

    def test_every_figure_is_told_of_nearly_every_machine(self):
        for figure in self.pairs[0][1]:
            with self.subTest(figure):
                least = 40 if figure == "junction_deviation_mm" else MACHINES
                self.assertGreaterEqual(len(self.told(figure)), least)

    def test_the_range_told_holds_the_truth_nine_times_in_ten_and_is_no_wider_than_it_must_be(self):
        held, of = 0, 0
        for figure in set(self.pairs[0][1]) - {"chords"}:
            rows = self.told(figure)
            inside = (rows[:, 1] <= rows[:, 3]) & (rows[:, 3] <= rows[:, 2])
            held, of = held + int(inside.sum()), of + len(rows)
            width = float((rows[:, 2] - rows[:, 1]).mean() / (rows[:, 0] - rows[:, 3]).std())
            with self.subTest(figure):
                self.assertGreaterEqual(inside.mean(), 0.76)
                self.assertLessEqual(width, 4.0)
        self.assertTrue(0.85 <= held / of <= 0.95, held / of)

    def test_how_arcs_are_run_is_found(self):
        rows = self.told("chords")
        self.assertGreaterEqual((rows[:, 0] == rows[:, 3]).mean(), 0.96)
