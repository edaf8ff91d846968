"""Walking along a model from its start values: by steps of one length, or as closely as SciPy's adaptive solver can."""

from __future__ import annotations

import math
import warnings
from dataclasses import dataclass

import numpy as np

from hobrel.core.stepping.loops import Equations, StepWay, make_loop, make_rates
from hobrel.core.uncertainty.traced import Floats

MOST_STEPS_ALONG = 100_000
_MOST_LOOKS = 50_000
_CLOSELY = 1e-9
_ROUNDING = 1e-9
"""Share of a step by which rounding may put a place past an end."""
_REASONS: dict[type[Exception], str] = {ZeroDivisionError: "a division by zero", OverflowError: "a number beyond all bounds"}


@dataclass(frozen=True)
class Path:
    """Where a model has been.

    Attributes
    ----------
    along : ndarray, shape (n,)
        Rising.
    values, rates : ndarray, shape (states, n)
    straight : bool
        Between two places it goes straight on (simple steps); otherwise along the cubic through values and rates.
    stopped : str
        Why it has no value beyond its end; empty where it went as far as it was asked to.
    """

    along: Floats
    values: Floats
    rates: Floats
    straight: bool
    stopped: str = ""

    def reaches(self, place: float) -> bool:
        """Whether it has a value there, or cannot have one."""
        if self.stopped:
            return True
        # as `at`: what rounding puts past an end is at the end, or the same way would be walked at every look
        slack = _ROUNDING * (self.along[1] - self.along[0])
        return bool(self.along[0] - slack <= place <= self.along[-1] + slack)

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """Values and slopes of all states, shapes (states, N); NaN beyond the ends."""
        if self.along.size < 2:
            nowhere = np.full((self.values.shape[0], places.size), math.nan)
            return nowhere, nowhere
        left = np.clip(np.searchsorted(self.along, places, side="right") - 1, 0, self.along.size - 2)
        h = self.along[left + 1] - self.along[left]
        s = (places - self.along[left]) / h
        # what rounding puts past an end is at the end
        inside = (s >= -_ROUNDING) & (s <= 1 + _ROUNDING)
        s = np.clip(s, 0.0, 1.0)
        a, b, m, n = (kept[:, left + i] for kept in (self.values, self.rates) for i in (0, 1))
        if self.straight:
            values, slopes = a + s * (b - a), (b - a) / h
        else:
            # E. Hairer, S. P. Nørsett, G. Wanner, Solving Ordinary Differential Equations I, II.6: cubic Hermite
            t = s - 1
            values = -t * a + s * b + s * t * ((1 - 2 * s) * (b - a) + t * h * m + s * h * n)
            slopes = (b - a) / h * (-6 * s * t) + m * t * (3 * s - 1) + n * s * (3 * s - 2)
        return np.where(inside, values, math.nan), np.where(inside, slopes, math.nan)


@dataclass(frozen=True)
class Beginning:
    """Where a model begins, and what its states and constants are there; all in base units."""

    begins: float
    starts: tuple[float, ...]
    constants: tuple[float, ...]


def step_along(equations: Equations, beginning: Beginning, to: float, step: float, way: StepWay) -> Path:
    """Go from where it begins to `to` (on either side) in steps of one length; the last of them reaches `to` or goes beyond."""
    count = max(1, math.ceil(abs(to - beginning.begins) / step - _ROUNDING))
    h = math.copysign(step, to - beginning.begins)
    kept: list[list[float]] = [[] for _ in range(2 * len(equations.states))]
    stopped = ""
    try:
        make_loop(equations, way)(beginning.begins, h, count, *(each.append for each in kept), *beginning.starts, *beginning.constants)
    except (ZeroDivisionError, OverflowError, ValueError) as trouble:
        stopped = _REASONS.get(type(trouble), "a root or a logarithm of what has none")
    n = len(kept[-1])
    along = beginning.begins + h * np.arange(n)
    numbers = np.array([each[:n] for each in kept], dtype=np.float64).reshape(len(kept), n)
    finite = np.all(np.isfinite(numbers), axis=0)
    if not np.all(finite):
        n = int(np.argmin(finite))
        stopped = "a number beyond all bounds"
    turn = slice(None, None, 1 if h > 0 else -1)
    return Path(
        np.asarray(along[:n][turn], dtype=np.float64), numbers[0::2, :n][:, turn], numbers[1::2, :n][:, turn], way == "simple", stopped
    )


def solve_closely(equations: Equations, beginning: Beginning, places: Floats, sizes: Floats) -> Floats | None:
    """The same by SciPy's LSODA, to 10⁻⁹ of the states' `sizes`, at places on one side of where it begins, in the order from there.

    Returns
    -------
    ndarray, shape (states, N), or None
        None where the solver gives up, or looks at more than 50 000 places.
    """
    from scipy.integrate import solve_ivp

    rates, looks = make_rates(equations), 0

    def slopes(along: float, states: Floats) -> tuple[float, ...]:
        nonlocal looks
        looks += 1
        if looks > _MOST_LOOKS:
            raise OverflowError
        return rates(along, *states.tolist(), *beginning.constants)

    try:
        with np.errstate(all="ignore"), warnings.catch_warnings():
            warnings.simplefilter("ignore")  # it tells of what it gives up in `success` as well
            found = solve_ivp(
                slopes,
                (beginning.begins, float(places[-1])),
                beginning.starts,
                method="LSODA",
                t_eval=places,
                rtol=_CLOSELY,
                atol=_CLOSELY * np.where(sizes > 0, sizes, 1.0),
            )
    except (ZeroDivisionError, OverflowError, ValueError):
        return None
    return np.asarray(found.y) if found.success and np.all(np.isfinite(found.y)) else None
