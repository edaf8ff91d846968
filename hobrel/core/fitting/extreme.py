"""Steepest and shallowest lines that still pass through every error bar, and which points stand in the way where none does.

A line y = m x + c with m ≥ 0 passes through all bars when it runs below every upper left corner (x − u(x), y + u(y)) and
above every lower right corner (x + u(x), y − u(y)); for m ≤ 0 left and right change places. For a given m the room left
for c is g(m) = min(upper − m x) − max(lower − m x), a concave function made of straight pieces: the possible gradients are where
g ≥ 0, and Newton's method from outside reaches the end of that range in a few exact steps. This is the linear programme
“largest m” of two unknowns, solved at its vertices, so that no bar is missed by a solver's tolerance.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import NoReturn

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Floats

TOUCHES = 1e-12
MOST_REMOVED = 3
MOST_TRIES = 3000
Used = np.ndarray[tuple[int], np.dtype[np.bool_]]


@dataclass(frozen=True)
class PlainLine:
    """y = gradient·x + intercept."""

    gradient: float
    intercept: float


@dataclass(frozen=True)
class ExtremeLines:
    """The two extreme lines through all error bars (common practice in schools).

    Attributes
    ----------
    steepest, shallowest : PlainLine
        With the larger and the smaller |gradient|.
    u_gradient : float
        (m_max − m_min)/2, signs kept; `u_intercept` likewise from the two intercepts.
    """

    steepest: PlainLine
    shallowest: PlainLine
    u_gradient: float
    u_intercept: float


def find_extreme_lines(
    x: ArrayLike, y: ArrayLike, uy: ArrayLike, ux: ArrayLike | None = None, most_removed: int = MOST_REMOVED
) -> ExtremeLines:
    """Find the steepest and the shallowest line through all error bars.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    uy, ux : array_like, shape (N,) or scalar
        Half lengths of the bars. A bar touched exactly counts as passed.
    most_removed : int
        How many blocking points to look for before giving up, where no line passes.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than two points or bars that a vertical line passes; ``no_line_through_bars`` with
        ``blocking``: the indices of the fewest points whose removal would allow a line (empty where more would be needed).
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    sy = np.broadcast_to(np.asarray(uy, dtype=np.float64), xs.shape)
    sx = np.broadcast_to(np.asarray(0.0 if ux is None else ux, dtype=np.float64), xs.shape)
    if xs.size < 2:
        raise CoreError("too_few_points", "Steepest and shallowest lines need at least two points.")
    if np.any(~np.isfinite(sy) | (sy < 0) | ~np.isfinite(sx) | (sx < 0)):
        raise CoreError("bad_job", "Some error bars are missing or negative.")
    if not np.any(sy) and not np.any(sx):
        raise CoreError("bad_job", "Steepest and shallowest lines need error bars.")
    if float(np.min(xs + sx)) >= float(np.max(xs - sx)):
        raise CoreError("too_few_points", "The bars in x are so wide that a vertical line passes through all of them.")
    # about the middle, where digits are not lost
    x0, y0 = float(xs.mean()), float(ys.mean())
    bars = _Bars(xs - x0, ys - y0, sx, sy)
    high, low = bars.largest(), -bars.mirrored().largest()
    if not np.isfinite(high):
        _refuse(bars, most_removed)
    extremes = [PlainLine(m, y0 + bars.intercept(m) - m * x0) for m in (high, low)]
    shallowest, steepest = sorted(extremes, key=lambda line: abs(line.gradient))
    return ExtremeLines(steepest, shallowest, (high - low) / 2, abs(steepest.intercept - shallowest.intercept) / 2)


def _refuse(bars: _Bars, most_removed: int) -> NoReturn:
    blocking = bars.blocking(most_removed)
    if not blocking:
        raise CoreError(
            "no_line_through_bars",
            "No line passes through all error bars, and more than {most} points would have to be left out. "
            "Look at the size of the bars, or at whether this is a line.",
            most=most_removed,
            blocking=[],
        )
    names = ", ".join(str(i + 1) for i in blocking)
    which = f"point {names} were" if len(blocking) == 1 else f"points {names} were"
    raise CoreError(
        "no_line_through_bars", "No line passes through all error bars. One would if {which} left out.", which=which, blocking=blocking
    )


@dataclass(frozen=True)
class _Step:
    """Where Newton's method ended: the gradient (−inf where no line exists), and the points that stand against a larger one."""

    gradient: float
    against: tuple[int, ...]


class _Bars:
    def __init__(self, x: Floats, y: Floats, ux: Floats, uy: Floats) -> None:
        self.x, self.y, self.ux, self.uy = x, y, ux, uy
        self.tolerance = TOUCHES * float(np.max(np.abs(y) + uy))
        self.level = -self.tolerance / float(np.ptp(x) or 1.0)

    def mirrored(self) -> _Bars:
        """Seen in a mirror, where every gradient has the other sign."""
        return _Bars(-self.x, self.y, self.ux, self.uy)

    def intercept(self, m: float) -> float:
        reach = self.uy + abs(m) * self.ux
        return (float(np.max(self.y - reach - m * self.x)) + float(np.min(self.y + reach - m * self.x))) / 2

    def largest(self) -> float:
        """The largest gradient of all lines through the bars; −inf where there is none."""
        every = np.ones(self.x.size, dtype=bool)
        rising = self.rising(every).gradient
        if rising >= self.level:
            return rising
        falling = self.mirrored()
        if falling.rising(every).gradient < self.level:
            return -np.inf
        return self._newton(-self.ux, every, -np.inf).gradient

    def rising(self, used: Used) -> _Step:
        """The largest gradient by the corners of rising lines; a line exists among them where it is not negative."""
        return self._newton(self.ux, used, self.level)

    def _newton(self, shift: Floats, used: Used, stop: float) -> _Step:
        """Step down from a vertical line to the largest gradient, or until below `stop`, or until two pairs exclude each other."""
        away = np.where(used, 0.0, np.inf)
        lx, ly, hx, hy = self.x + shift, self.y - self.uy, self.x - shift, self.y + self.uy
        # from a vertical line: a corner farthest left below, one farthest right above
        j, k = int((lx + away).argmin()), int((hx - away).argmax())
        pair: tuple[int, ...] = ()
        m = np.inf
        while True:
            run = float(hx[k] - lx[j])
            before, pair = pair, (j, k)
            if run <= 0 and not before:
                # bars in x that overlap: a line as steep as one likes passes
                return _Step(np.inf, ())
            if run <= 0:
                return _Step(-np.inf, tuple(dict.fromkeys(before + pair)))
            last, m = m, float(hy[k] - ly[j]) / run
            if m < stop:
                return _Step(m, tuple(dict.fromkeys(pair)))
            if not m < last:
                # every step is smaller than the one before; where it is not, the numbers have no more digits to step by
                return _Step(last, before)
            below, above = ly - m * lx - away, hy - m * hx + away
            j, k = int(below.argmax()), int(above.argmin())
            if above[k] - below[j] >= -self.tolerance:
                return _Step(m, pair)

    def blocking(self, most: int) -> list[int]:
        """The fewest points whose removal allows a line; empty where more than `most` would be needed.

        At least one of the few points that contradict one another has to go, so a search over these finds the fewest. It is
        given up after `MOST_TRIES`, when far too many bars are missed for leaving points out to be the answer.
        """
        every = np.ones(self.x.size, dtype=bool)
        tries = iter(range(MOST_TRIES))
        both = [(bars, bars.least_removed(every, most)) for bars in (self, self.mirrored())]
        for count in range(1, min(most, self.x.size - 2) + 1):
            for bars, least in both:
                if least <= count and (found := bars.remove(every, count, tries)) is not None:
                    return sorted(found)
        return []

    def least_removed(self, used: Used, most: int) -> int:
        """A lower bound on how many points have to go: contradictions that share no point need one each."""
        left, count = used.copy(), 0
        while count <= most and np.count_nonzero(left) > 1:
            step = self.rising(left)
            if step.gradient >= self.level:
                break
            count += 1
            left[list(step.against)] = False
        return count

    def remove(self, used: Used, count: int, tries: Iterator[int]) -> list[int] | None:
        """Up to `count` points without which a rising line exists."""
        step = self.rising(used)
        if np.isposinf(step.gradient):
            return None  # an upright line is no line to compare with
        if step.gradient >= self.level:
            return []
        if count == 0 or next(tries, None) is None:
            return None
        for point in step.against:
            fewer = used.copy()
            fewer[point] = False
            rest = self.remove(fewer, count - 1, tries)
            if rest is not None:
                return [point, *rest]
        return None
