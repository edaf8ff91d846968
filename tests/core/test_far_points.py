"""Which points are named as far from a line, against a second derivation: SciPy's t distribution on residuals by hand."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from scipy import stats

from hobrel.core.document.lab_book import Fit
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from tests.builders import lab_book

HAND = (3, -2, 4, -5, 1, 5, -4, 2, -3, 5, -1, -4)
"""Hundredths of a second by which single readings are off: far more than a display's last digit."""


class FarPoints(unittest.TestCase):
    def look(self, off: float, shape: str) -> tuple[float, bool]:
        """How often chance puts one of a dozen points so far off what the eleven others lead to, and whether it is named."""
        by = [h / 100 + (off if i == 9 else 0.0) for i, h in enumerate(HAND)]
        book = lab_book([(f"{i + 1:.3f}", [f"{3 + 2 * (i + 1) + d:.2f}"]) for i, d in enumerate(by)])
        book = replace(book, fits=(Fit("f", "g", shape=shape, weights="y_bars"),))
        fitted = compute(book).fits["f"]
        assert not isinstance(fitted, CoreError)
        self.assertEqual(fitted.scatter, "more")
        x, y = np.arange(1.0, 13.0), np.array([3 + 2 * (i + 1) + d for i, d in enumerate(by)])
        # all bars are alike: fitted without it, by NumPy, and the ± of a further point there
        basis = np.vander(np.delete(x, 9), {"line": 2, "quadratic": 3}[shape])
        values, (squares,), *_ = np.linalg.lstsq(basis, np.delete(y, 9), rcond=None)
        dof = 11 - basis.shape[1]
        at = np.vander(x[[9]], basis.shape[1])[0]
        u = np.sqrt(squares / dof * (1 + at @ np.linalg.inv(basis.T @ basis) @ at))
        chance = 2 * stats.t.sf(abs(y[9] - at @ values) / u, dof) * 12
        far = analyse(book).fits[0].far
        self.assertLessEqual({*far}, {"s10"})
        return float(chance), bool(far)

    def test_where_all_scatter_more_than_their_bars_the_others_say_what_is_far(self) -> None:
        for shape in ("line", "quadratic"):
            looked = [self.look(off / 100, shape) for off in range(10, 60, 2)]
            for chance, named in looked:
                self.assertEqual(named, chance < 0.01, chance)
            self.assertEqual({named for _, named in looked}, {True, False})

    def test_of_three_points_nobody_can_tell_which(self) -> None:
        rows = [("1.000", ["1.00"]), ("2.000", ["2.60"]), ("3.000", ["3.00"])]
        self.assertEqual(analyse(lab_book(rows)).fits[0].far, ())


if __name__ == "__main__":
    unittest.main()
