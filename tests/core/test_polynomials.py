"""Models that are linear in their coefficients, against statsmodels (PyPI) and NIST's Longley data that ship with it."""

from __future__ import annotations

import unittest

import numpy as np
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.polynomial import fit_multilinear, fit_polynomial, is_only_noise

# NIST StRD Longley, certified values (from memory, confirmed by the data in statsmodels)
LONGLEY = [
    -3482258.63459582,
    15.0618722713733,
    -0.358191792925910e-01,
    -2.02022980381683,
    -1.03322686717359,
    -0.511041056535807e-01,
    1829.15146461355,
]
LONGLEY_U = [
    890420.383607373,
    84.9149257747669,
    0.334910077722432e-01,
    0.488399681651699,
    0.214274163161675,
    0.226073200069370,
    455.478499142212,
]


class LinearModels(unittest.TestCase):
    def test_longley_to_the_certified_digits(self) -> None:
        data = sm.datasets.longley.load_pandas()
        fit = fit_multilinear([data.exog[c].to_numpy() for c in data.exog], data.endog.to_numpy())
        np.testing.assert_allclose(fit.coefficients, LONGLEY, rtol=1e-11)
        np.testing.assert_allclose(fit.u, LONGLEY_U, rtol=1e-11)
        self.assertAlmostEqual(fit.residual_sd, 304.854073561965, places=8)
        assert fit.r2 is not None
        self.assertAlmostEqual(fit.r2, 0.995479004577296, places=12)

    @settings(max_examples=30)
    @given(st.integers(1, 4), st.integers(0, 10_000), st.booleans())
    def test_weighted_polynomials_agree_with_an_independent_implementation(self, degree: int, seed: int, origin: bool) -> None:
        random = np.random.default_rng(seed)
        x = np.sort(random.uniform(-3, 8, 15))
        u = random.uniform(0.1, 2, 15)
        y = random.normal(size=15) * 3 + x**2
        columns = np.column_stack([x**k for k in range(1 if origin else 0, degree + 1)])
        reference = sm.WLS(y, columns, weights=1 / u**2).fit(cov_type="fixed scale")
        fit = fit_polynomial(x, y, degree, u, through_origin=origin)
        np.testing.assert_allclose(fit.coefficients[1 if origin else 0 :], reference.params, rtol=1e-6, atol=1e-8)
        np.testing.assert_allclose(fit.u[1 if origin else 0 :], reference.bse, rtol=1e-6)
        if origin:
            self.assertEqual((fit.coefficients[0], fit.u[0]), (0.0, 0.0))

    def test_degree_one_is_the_line(self) -> None:
        x, y, u = [1.0, 2, 4, 5, 9], [2.1, 3.8, 8.3, 9.9, 18.2], [0.1, 0.2, 0.1, 0.3, 0.2]
        for bars in (None, u):
            line, polynomial = fit_line(x, y, bars), fit_polynomial(x, y, 1, bars)
            np.testing.assert_allclose(polynomial.coefficients, [line.intercept, line.gradient], rtol=1e-13)
            np.testing.assert_allclose(polynomial.u, [line.u_intercept, line.u_gradient], rtol=1e-12)
            self.assertAlmostEqual(polynomial.covariance[0, 1], line.covariance, places=14)

    def test_a_coefficient_that_is_only_rounding_is_known_as_such(self) -> None:
        x = np.linspace(0.3, 3, 9)
        fit = fit_polynomial(x, 0.1 * x**2 + 0.7, 3)
        self.assertEqual(is_only_noise(fit.coefficients, x, 0.1 * x**2 + 0.7), [False, True, False, True])

    def test_what_the_data_do_not_fix_is_refused(self) -> None:
        with self.assertRaises(CoreError) as caught:
            fit_polynomial([1, 2, 2, 1], [1, 2, 3, 4], 2)
        self.assertEqual(caught.exception.code, "too_few_points")
        with self.assertRaises(CoreError) as caught:
            fit_multilinear([[1, 2, 3, 4], [2, 4, 6, 8]], [1, 2, 3, 5])
        self.assertIn("Column 2", caught.exception.message)
        with self.assertRaises(CoreError):
            fit_polynomial([1, 2, 3], [1, 2, 3], 40)
