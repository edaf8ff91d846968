"""Lines, patterns and pools against statsmodels (PyPI), an independent implementation, on many made-up data sets."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.meta_analysis import combine_effects

from hobrel.core.fitting.bend import chance_of_bend, measure_bend
from hobrel.core.fitting.line import fit_line
from hobrel.core.statistics.pool import BenchResult, pool_results
from hobrel.core.statistics.spread import average, summarise

SEEDS = st.integers(0, 100_000)
ONCE = settings(max_examples=25)


def cloud(seed: int, n: int = 9) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    random = np.random.default_rng(seed)
    x, u = np.sort(random.uniform(-4, 9, n)), random.uniform(0.1, 1.5, n)
    return x, 2.5 * x - 1 + u * random.normal(size=n), u


class Lines(unittest.TestCase):
    @ONCE
    @given(SEEDS, st.booleans())
    def test_ordinary_lines(self, seed: int, origin: bool) -> None:
        x, y, _ = cloud(seed)
        reference = sm.OLS(y, x[:, None] if origin else sm.add_constant(x)).fit()
        ours = fit_line(x, y, through_origin=origin)
        np.testing.assert_allclose(ours.gradient, reference.params[-1], rtol=1e-9)
        np.testing.assert_allclose(ours.u_gradient, reference.bse[-1], rtol=1e-9)
        np.testing.assert_allclose(ours.r2, reference.rsquared, rtol=1e-9)
        np.testing.assert_allclose(ours.residual_sd, np.sqrt(reference.mse_resid), rtol=1e-9)
        if not origin:
            np.testing.assert_allclose(ours.covariance, reference.cov_params()[0, 1], rtol=1e-8)
            band = reference.get_prediction(sm.add_constant(np.array([0.5, 7.0]))).se_mean
            np.testing.assert_allclose(ours.u_at([0.5, 7.0]), band, rtol=1e-8)

    @ONCE
    @given(SEEDS)
    def test_weighted_lines_taken_at_their_word(self, seed: int) -> None:
        x, y, u = cloud(seed)
        reference = sm.WLS(y, sm.add_constant(x), weights=1 / u**2).fit(cov_type="fixed scale")
        ours = fit_line(x, y, u)
        np.testing.assert_allclose([ours.intercept, ours.gradient], reference.params, rtol=1e-9)
        np.testing.assert_allclose([ours.u_intercept, ours.u_gradient], reference.bse, rtol=1e-9)
        assert ours.chi2 is not None and ours.p_value is not None
        np.testing.assert_allclose(ours.p_value, stats.chi2.sf(ours.chi2, 7), rtol=1e-10)

    @ONCE
    @given(SEEDS, st.booleans())
    def test_curvature_is_the_t_of_a_quadratic_term(self, seed: int, weighted: bool) -> None:
        x, y, u = cloud(seed)
        columns = np.column_stack([np.ones_like(x), x, x**2])
        reference = sm.WLS(y, columns, weights=1 / u**2 if weighted else np.ones_like(u)).fit()
        bend = measure_bend(x, y, u if weighted else None)
        assert bend is not None
        np.testing.assert_allclose(bend.t, reference.tvalues[2], rtol=1e-6)
        np.testing.assert_allclose(chance_of_bend(replace(bend, swing=0.0), x.size), reference.pvalues[2], rtol=1e-6)

    @ONCE
    @given(SEEDS, st.booleans())
    def test_the_bend_both_ways_is_the_t_of_a_cubic_term(self, seed: int, weighted: bool) -> None:
        x, y, u = cloud(seed)
        columns = np.column_stack([np.ones_like(x), x, x**2, x**3])
        reference = sm.WLS(y, columns, weights=1 / u**2 if weighted else np.ones_like(u)).fit()
        bend = measure_bend(x, y, u if weighted else None)
        assert bend is not None
        np.testing.assert_allclose(bend.swing, reference.tvalues[3], rtol=1e-5)
        np.testing.assert_allclose(chance_of_bend(replace(bend, t=0.0), x.size), min(1.0, 10 * reference.pvalues[3]), rtol=1e-5)


class Pools(unittest.TestCase):
    @ONCE
    @given(SEEDS, st.integers(3, 12))
    def test_weighted_means_and_random_effects(self, seed: int, k: int) -> None:
        random = np.random.default_rng(seed)
        u = random.uniform(0.1, 0.5, k)
        values = 9.8 + random.normal(0, 0.3, k) + u * random.normal(size=k)
        ours = pool_results([BenchResult(str(i), float(v), float(s)) for i, (v, s) in enumerate(zip(values, u, strict=True))])
        one_step = combine_effects(values, u**2, method_re="chi2")
        np.testing.assert_allclose(
            [ours.weighted.value, ours.weighted.u_internal], [one_step.mean_effect_fe, one_step.sd_eff_w_fe], rtol=1e-9
        )
        np.testing.assert_allclose(ours.chi2, one_step.q, rtol=1e-9)
        dl, mp = ours.dersimonian_laird, ours.mandel_paule
        if one_step.tau2 > 0:
            np.testing.assert_allclose([dl.value, dl.tau**2], [one_step.mean_effect_re, one_step.tau2], rtol=1e-6)
            np.testing.assert_allclose(dl.u, one_step.sd_eff_w_re, rtol=1e-6)
        else:
            self.assertEqual(dl.tau, 0.0)
        # Mandel and Paule 1970: the scatter for which Σ(v − v̄)²/(u² + τ²) is k − 1; none where it is less without any
        weights = 1 / (u**2 + mp.tau**2)
        scatter = float(np.sum(weights * (values - np.average(values, weights=weights)) ** 2))
        if mp.tau > 0:
            self.assertAlmostEqual(scatter, k - 1, places=6)
        else:
            self.assertLessEqual(scatter, k - 1)

    @ONCE
    @given(SEEDS, st.sampled_from([1e-3, 60.0]), st.floats(-5, 5))
    def test_units_and_order_do_not_matter(self, seed: int, scale: float, _shift: float) -> None:
        random = np.random.default_rng(seed)
        values, u = random.normal(10, 0.4, 6), random.uniform(0.1, 0.5, 6)
        order = random.permutation(6)
        a = pool_results([BenchResult(str(i), float(values[i]), float(u[i])) for i in range(6)])
        b = pool_results([BenchResult(str(i), float(values[i] * scale), float(u[i] * scale)) for i in order])
        for name in ("mean", "median", "sd"):
            np.testing.assert_allclose(getattr(b, name), getattr(a, name) * scale, rtol=1e-9)
        np.testing.assert_allclose(b.mandel_paule.value, a.mandel_paule.value * scale, rtol=1e-6)
        self.assertEqual(a.recommended, b.recommended)


class Averages(unittest.TestCase):
    @ONCE
    @given(st.lists(st.integers(900, 1100).map(lambda v: v / 100), min_size=2, max_size=12))
    def test_spreads(self, values: list[float]) -> None:
        """NumPy and SciPy on the same readings."""
        s = summarise(values)
        assert s.sd is not None and s.standard_error is not None
        np.testing.assert_allclose(
            [s.mean, s.median, s.sd], [np.mean(values), np.median(values), np.std(values, ddof=1)], rtol=1e-12, atol=1e-14
        )
        np.testing.assert_allclose(s.standard_error, stats.sem(values), rtol=1e-12, atol=1e-15)
        np.testing.assert_allclose(s.mean_abs_deviation, np.mean(np.abs(np.array(values) - np.mean(values))), rtol=1e-10, atol=1e-14)
        self.assertAlmostEqual(s.half_range, np.ptp(values) / 2, places=12)
        if s.sd > 0:
            low, high = stats.t.interval(0.95, len(values) - 1, s.mean, s.standard_error)
            self.assertAlmostEqual(average(values, 0.0, "standard_error", coverage=0.95).u, (high - low) / 2, places=9)
