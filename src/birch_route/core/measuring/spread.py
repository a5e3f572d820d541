"""From readings to a figure and the range that holds it nine times in ten.

Readings scatter by their gauge. How much is known beforehand as well as so many readings would tell
(figures, measuring.worth_readings); what the fit leaves tells the rest: s^2 = (n0 s0^2 + sum r^2) / (n0 + n - k), and
the range is Student's with as many degrees of freedom (a scaled inverse chi-squared prior; any text on Bayesian
regression). What a gauge may be off as a whole does not show in its readings and is added in squares.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import optimize, stats

from ..data import figures
from ..errors import InputError

NINE_IN_TEN = 0.95  # of each side
OFF_BY = float(stats.norm.ppf(NINE_IN_TEN))


@dataclass(frozen=True)
class Fitted:
    """Figures with half of their 90 % range; left: what remains of each reading, in its own unit; out: of each, in
    standard deviations of the readings."""

    values: np.ndarray
    half: np.ndarray
    left: np.ndarray
    out: np.ndarray


def fit(rows: Sequence[Sequence[float]], readings: Sequence[float], sd: float | np.ndarray) -> Fitted:
    """Return the figures of a linear model by least squares.

    Args:
        rows: [n, k], what each figure does to each reading. readings: [n]. sd: of a reading as the gauge is known.

    Raises:
        InputError: the readings do not tell the figures apart.
    """
    scale = np.broadcast_to(np.asarray(sd, float), (len(readings),))
    a = np.asarray(rows, float) / scale[:, None]
    y = np.asarray(readings, float) / scale
    if np.linalg.matrix_rank(a) < a.shape[1]:
        raise InputError("These readings do not tell one thing from another.", where="readings")
    values = np.linalg.lstsq(a, y, rcond=None)[0]
    return _fitted(values, a, y - a @ values, scale)


def fit_curve(
    model: Callable[[np.ndarray], np.ndarray], start: Sequence[float], readings: Sequence[float], sd: float
) -> Fitted:
    """Return the figures of a model that is not linear, from where to begin; as `fit` otherwise.

    Raises:
        InputError: no figures make the model meet the readings.
    """
    y, begin = np.asarray(readings, float), np.asarray(start, float)
    try:
        found = optimize.least_squares(
            lambda p: (y - model(p * begin)) / sd, np.ones(len(begin)), method="lm", max_nfev=2000
        )
    except ValueError as exc:
        raise InputError("No machine would give these readings. Take them again.", where="readings") from exc
    if not found.success or not np.isfinite(found.x).all():
        raise InputError("No machine would give these readings. Take them again.", where="readings")
    part = _fitted(found.x, -found.jac, found.fun, np.full(len(y), sd))
    return Fitted(part.values * begin, part.half * np.abs(begin), part.left, part.out)


def _fitted(values: np.ndarray, a: np.ndarray, left: np.ndarray, scale: np.ndarray) -> Fitted:
    worth = figures()["measuring"]["worth_readings"]
    freedom = worth + max(len(left) - len(values), 0)
    variance = (worth + float(left @ left)) / freedom
    try:
        spread = np.sqrt(np.diag(np.linalg.inv(a.T @ a)) * variance)
    except np.linalg.LinAlgError as exc:
        raise InputError("These readings do not tell one thing from another.", where="readings") from exc
    half = spread * float(stats.t.ppf(NINE_IN_TEN, freedom))
    return Fitted(values, half, left * scale, left)


def widened(half: float, off: float) -> float:
    """Return half of a range with what the gauge may be off as a whole (one standard deviation)."""
    return float(np.hypot(half, OFF_BY * off))


def scatter(groups: Sequence[Sequence[float]], gauge_sd: float) -> tuple[float, float, float]:
    """Return within which distance of its mean a thing stays nine times in ten, lowest and highest, from readings in
    groups about means of their own; the scatter of the gauge is taken out.

    Source: chi-squared range of a variance, its shortest form in the standard deviation.
    """
    freedom = sum(len(g) - 1 for g in groups)
    total = sum(float(np.var(g) * len(g)) for g in groups)
    low, high = _shortest(freedom)
    middle = total / freedom
    ends = [max(v - gauge_sd**2, 0.0) for v in (middle, total / high, total / low)]
    value, least, most = (float(OFF_BY * np.sqrt(v)) for v in ends)
    return value, least, most


def _shortest(freedom: int) -> tuple[float, float]:
    """Return the chi-squared values between which nine in ten lie and whose range in the deviation is shortest."""
    begin = np.linspace(0.0005, 0.0995, 199)
    low, high = stats.chi2.ppf(begin, freedom), stats.chi2.ppf(begin + 0.9, freedom)
    best = int(np.argmin(1 / np.sqrt(low) - 1 / np.sqrt(high)))
    return float(low[best]), float(high[best])
