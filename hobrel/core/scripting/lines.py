"""Jobs about lines, polynomials, residuals and read-offs."""

from __future__ import annotations

from hobrel.core.errors import CoreError
from hobrel.core.fitting.extreme import find_extreme_lines
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.polynomial import LinearFit, fit_multilinear, fit_polynomial
from hobrel.core.fitting.read_off import read_off
from hobrel.core.fitting.residuals import study_residuals
from hobrel.core.scripting.fields import (
    Columns,
    Job,
    Outputs,
    known_or_none,
    maybe_number,
    maybe_whole,
    need,
    need_number,
    read_choice,
    read_columns,
    read_flag,
    read_list,
)

LINE_FIELDS = frozenset({"x", "y", "uy", "ux", "correlation_xy", "through_origin", "scale"})


def _fit(job: Job) -> tuple[LineFit, Columns]:
    columns = read_columns(job, "uy", "ux", "correlation_xy")
    scale = read_choice(job, "scale", ("absolute", "scatter"), "absolute")
    with columns.naming_places():
        fit = fit_line(
            columns["x"], columns["y"], columns.maybe("uy"), columns.maybe("ux"), columns.maybe("correlation_xy"),
            through_origin=read_flag(job, "through_origin"), scale=scale,
        )  # fmt: skip
    return fit, columns


def fit_a_line(job: Job) -> Outputs:
    """Jobs ``line``."""
    fit, columns = _fit(job)
    return {
        "gradient": fit.gradient, "intercept": fit.intercept, "u_gradient": known_or_none(fit.u_gradient),
        "u_intercept": known_or_none(fit.u_intercept), "covariance": known_or_none(fit.covariance),
        "dof": fit.dof, "chi2": fit.chi2, "reduced_chi2": fit.reduced_chi2, "p_value": fit.p_value,
        "r": fit.r, "r2": fit.r2, "residual_sd": fit.residual_sd, "method": fit.method, "left_out": columns.left_out,
    }  # fmt: skip


def study_a_line(job: Job) -> Outputs:
    """Jobs ``residuals``."""
    fit, columns = _fit(job)
    study = study_residuals(
        columns["x"], columns["y"], fit, columns.maybe("uy"), columns.maybe("ux"), correlation_xy=columns.maybe("correlation_xy")
    )
    return {
        "residuals": study.residuals.tolist(), "standardised": study.standardised.tolist(), "runs": study.runs,
        "expected_runs": study.expected_runs, "runs_p": study.runs_p, "curvature_t": study.curvature_t,
        "within_1u": study.within_1u, "within_2u": study.within_2u, "sentence": study.sentence.text, "left_out": columns.left_out,
    }  # fmt: skip


def read_off_a_line(job: Job) -> Outputs:
    """Jobs ``read_off``."""
    fit, columns = _fit(job)
    direction = read_choice(job, "direction", ("forward", "back"), "forward")
    x = columns["x"]
    found = read_off(
        fit, (min(x), max(x)), direction, need_number(job, "at"), maybe_number(job, "u_at"), repeats=maybe_whole(job, "repeats")
    )
    return {"value": found.value, "u": found.u, "extrapolated": found.extrapolated, "left_out": columns.left_out}


def find_extremes(job: Job) -> Outputs:
    """Jobs ``extreme_lines``."""
    need(job, "uy")
    columns = read_columns(job, "uy", "ux")
    with columns.naming_places():
        found = find_extreme_lines(columns["x"], columns["y"], columns["uy"], columns.maybe("ux"), most_removed=6)
    return {
        "steepest": {"gradient": found.steepest.gradient, "intercept": found.steepest.intercept},
        "shallowest": {"gradient": found.shallowest.gradient, "intercept": found.shallowest.intercept},
        "u_gradient": found.u_gradient, "u_intercept": found.u_intercept, "left_out": columns.left_out,
    }  # fmt: skip


def fit_a_polynomial(job: Job) -> Outputs:
    """Jobs ``polynomial``."""
    columns = read_columns(job, "uy")
    need(job, "degree")
    degree = maybe_whole(job, "degree")
    assert degree is not None
    with columns.naming_places():
        fit = fit_polynomial(columns["x"], columns["y"], degree, columns.maybe("uy"), read_flag(job, "through_origin"))
    return {**_linear_outputs(fit), "left_out": columns.left_out}


def fit_several_predictors(job: Job) -> Outputs:
    """Jobs ``multilinear``.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    given = need(job, "columns")
    if not isinstance(given, list) or not given:
        raise CoreError("bad_job", "columns is a list of lists.")
    y = read_list(need(job, "y"), "y")
    columns = [read_list(c, f"columns[{i}]") for i, c in enumerate(given)]
    if any(len(c) != len(y) for c in columns):
        raise CoreError("bad_job", "The lists must be of equal length.")
    kept = [i for i in range(len(y)) if y[i] is not None and all(c[i] is not None for c in columns)]
    fit = fit_multilinear([[v for i in kept if (v := c[i]) is not None] for c in columns], [v for i in kept if (v := y[i]) is not None])
    return {**_linear_outputs(fit), "left_out": len(y) - len(kept)}


def _linear_outputs(fit: LinearFit) -> Outputs:
    return {
        "coefficients": fit.coefficients.tolist(), "u": [known_or_none(u) for u in fit.u.tolist()],
        "residual_sd": fit.residual_sd, "r2": fit.r2, "dof": fit.dof, "chi2": fit.chi2,
    }  # fmt: skip
