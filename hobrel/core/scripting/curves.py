"""Jobs about shapes, slopes, rates, areas, and what to plot."""

from __future__ import annotations

import math

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.area import find_area
from hobrel.core.fitting.curve import CurveFit, fit_shape
from hobrel.core.fitting.shapes import Shape, find_shape, own_shape
from hobrel.core.fitting.steepest import find_steepest_point
from hobrel.core.fitting.straightness import Bars
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.linearising.forms import read_form, try_forms
from hobrel.core.linearising.relation import find_straight_plots
from hobrel.core.scripting.fields import (
    Columns,
    Job,
    Outputs,
    known_or_none,
    maybe_number,
    need,
    need_text,
    read_choice,
    read_columns,
    read_list,
    read_names,
)
from hobrel.core.statistics.rates import find_rates

SHAPE_FIELDS = frozenset({"x", "y", "uy", "ux", "shape", "formula", "parameters", "start", "scale"})


def _shape(job: Job) -> Shape:
    if job.get("formula") is not None:
        if job.get("shape") is not None:
            raise CoreError("bad_job", "Give either shape or formula.")
        return own_shape(need_text(job, "formula"), tuple(read_names(job, "parameters")), log_is_ln=True)
    return find_shape(need_text(job, "shape"))


def _fit(job: Job) -> tuple[CurveFit, Columns]:
    shape, columns = _shape(job), read_columns(job, "uy", "ux")
    start = None
    if job.get("start") is not None:
        start = [v for v in read_list(job["start"], "start") if v is not None]
    scale = read_choice(job, "scale", ("absolute", "scatter"), "absolute")
    with columns.naming_places():
        return fit_shape(columns["x"], columns["y"], shape, columns.maybe("uy"), columns.maybe("ux"), start=start, scale=scale), columns


def fit_a_shape(job: Job) -> Outputs:
    """Jobs ``shape``."""
    fit, columns = _fit(job)
    pairs = zip(fit.shape.parameters, fit.values.tolist(), fit.u.tolist(), strict=True)
    return {
        "parameters": {name: {"value": value, "u": known_or_none(u)} for name, value, u in pairs},
        "residual_ss": fit.residual_ss, "residual_sd": fit.residual_sd, "dof": fit.dof, "chi2": fit.chi2,
        "reduced_chi2": fit.reduced_chi2, "p_value": fit.p_value, "method": fit.method, "left_out": columns.left_out,
    }  # fmt: skip


def find_slopes(job: Job) -> Outputs:
    """Jobs ``tangents``."""
    fit, columns = _fit(job)
    at = [v for v in read_list(need(job, "at"), "at") if v is not None]
    found = find_tangents(fit, at)
    return {"slopes": found.slopes.tolist(), "u": [known_or_none(u) for u in found.u.tolist()], "left_out": columns.left_out}


def find_rates_of_change(job: Job) -> Outputs:
    """Jobs ``rates``."""
    columns = read_columns(job, "ux", "uy")
    method = read_choice(job, "method", ("neighbours", "centred", "smoothed"), "neighbours")
    found = find_rates(columns["x"], columns["y"], columns.maybe("uy"), columns.maybe("ux"), method)
    outputs: Outputs = {"x": found.x.tolist(), "rates": found.rates.tolist(), "left_out": columns.left_out}
    if found.u is not None:
        outputs["u"] = found.u.tolist()
    return outputs


def find_steepest(job: Job) -> Outputs:
    """Jobs ``steepest_point``."""
    columns = read_columns(job)
    fraction = maybe_number(job, "fraction")
    found = find_steepest_point(columns["x"], columns["y"], 0.5 if fraction is None else fraction)
    return {
        "at": found.at, "u": found.u, "refined": found.refined, "rate": found.rate,
        "reading_at_fraction": {"x": found.fraction_x, "y": found.fraction_y}, "left_out": columns.left_out,
    }  # fmt: skip


def find_area_under(job: Job) -> Outputs:
    """Jobs ``area``."""
    columns = read_columns(job, "uy")
    found = find_area(columns["x"], columns["y"], columns.maybe("uy"))
    return {"value": found.value, "u": found.u, "left_out": columns.left_out}


def _bars(columns: Columns) -> Bars | None:
    ux, uy = columns.maybe("ux"), columns.maybe("uy")
    if ux is None and uy is None:
        return None
    nothing = np.zeros(len(columns["x"]))
    return Bars(nothing if ux is None else np.array(ux), nothing if uy is None else np.array(uy), nothing, math.inf)


def straighten(job: Job) -> Outputs:
    """Jobs ``straighten``."""
    columns = read_columns(job, "ux", "uy")
    forms = None if job.get("forms") is None else [read_form(text) for text in read_names(job, "forms")]
    plots = try_forms(columns["x"], columns["y"], _bars(columns), forms, forms)
    return {
        "plots": [
            {
                "x_form": p.x_form.of("x"), "y_form": p.y_form.of("y"), "curvature_t": p.curvature_t, "runs": p.residuals.runs,
                "expected_runs": p.residuals.expected_runs, "reduced_chi2": p.line.reduced_chi2,
            }
            for p in plots
        ],
        "left_out": columns.left_out,
    }  # fmt: skip


def solve_relation(job: Job) -> Outputs:
    """Jobs ``relation``."""
    plots = find_straight_plots(need_text(job, "relation"), need_text(job, "x"), need_text(job, "y"), need_text(job, "unknown"))
    return {
        "plots": [
            {
                "x_form": p.x_form, "y_form": p.y_form, "gradient_means": p.gradient_means, "intercept_means": p.intercept_means,
                "unknown_from_gradient": p.unknown_from_gradient, "unknown_from_intercept": p.unknown_from_intercept,
            }
            for p in plots
        ]
    }  # fmt: skip
