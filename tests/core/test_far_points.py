"""Which points are named as far from a line, against a second derivation: SciPy's t distribution on residuals by hand."""

from __future__ import annotations

import unittest

import numpy as np
from scipy import stats

from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from tests.builders import lab_book

HAND = (3, -2, 4, -5, 1, 5, -4, 2, -3, 5, -1, -4)
"""Hundredths of a second by which single readings are off: far more than a display's last digit."""


class FarPoints(unittest.TestCase):
    def look(self, off: float) -> tuple[float, bool]:
        """How often chance puts one of two dozen points so far off, by how the others scatter; and whether it is named."""
        by = [h / 100 + (off if i == 9 else 0.0) for i, h in enumerate(2 * HAND)]
        book = lab_book([(f"{i + 1:.3f}", [f"{3 + 2 * (i + 1) + d:.2f}"]) for i, d in enumerate(by)])
        line = compute(book).fits["f"]
        assert isinstance(line, FittedLine)
        self.assertEqual(line.scatter, "more")
        sizes = np.abs(line.residuals.standardised)
        usual = 1.4826 * np.median(np.delete(sizes, 9))
        # the median of so many tells as much as the standard deviation of 0.37 of them (Rousseeuw and Croux 1993)
        chance = 2 * stats.t.sf(sizes[9] / usual, 0.37 * (24 - 2)) * 24
        far = analyse(book).fits[0].far
        self.assertLessEqual({*far}, {"s10"})
        return float(chance), bool(far)

    def test_where_all_scatter_more_than_their_bars_the_others_say_what_is_far(self) -> None:
        looked = [self.look(off / 100) for off in range(10, 120, 2)]
        for chance, named in looked:
            self.assertEqual(named, chance < 0.01, chance)
        self.assertEqual({named for _, named in looked}, {True, False})


if __name__ == "__main__":
    unittest.main()
