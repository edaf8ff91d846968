"""Chance that comes out the same whenever it is asked: each draw is a digest of a seed and a name."""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass
from statistics import NormalDist

_NORMAL = NormalDist()
_STEPS = 2**53


@dataclass(frozen=True)
class Chance:
    """Draws by name. There is no order in them: the third dip scatters the same, whatever was drawn before it."""

    seed: str

    def named(self, name: str) -> Chance:
        """Another chance, independent of this one."""
        return Chance(f"{self.seed}/{name}")

    def share(self, *names: str | int) -> float:
        """Evenly between 0 and 1, neither of them."""
        digest = hashlib.blake2b("/".join([self.seed, *map(str, names)]).encode(), digest_size=8).digest()
        return ((int.from_bytes(digest, "big") >> 11) + 0.5) / _STEPS

    def between(self, low: float, high: float, *names: str | int) -> float:
        """Evenly from `low` to `high`."""
        return low + (high - low) * self.share(*names)

    def either_side(self, low: float, high: float, *names: str | int) -> float:
        """From `low` to `high` above zero, or as far below it."""
        return self.between(low, high, *names) * (1 if self.share("side", *names) < 0.5 else -1)

    def normal(self, *names: str | int) -> float:
        """Of mean 0 and standard deviation 1."""
        return _NORMAL.inv_cdf(self.share(*names))

    def poisson(self, mean: float, *names: str | int) -> int:
        """A count of so large a mean, by inversion of the distribution.

        Raises
        ------
        ValueError
            For a mean that is not finite or below zero.
        """
        if not 0 <= mean < math.inf:
            raise ValueError(f"no count has the mean {mean}")
        whole, left = 0, mean
        # the sum of independent counts is a count: pieces whose exp(-mean) is well above the smallest number
        piece = 0
        while left > 0:
            part = min(left, 50.0)
            whole += _invert_poisson(part, self.share(*names, "piece", piece))
            left, piece = left - part, piece + 1
        return whole


def _invert_poisson(mean: float, share: float) -> int:
    count, term = 0, math.exp(-mean)
    total = term
    while share > total and count < 400:
        count += 1
        term *= mean / count
        total += term
    return count
