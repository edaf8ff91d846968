"""Jobs about a whole lab book: everything that is computed from it, in full precision, with code words beside the texts as shown.

The numbers are those of the computation, the texts those of the analysis that people look at; nothing is computed here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding, Fit, LabBook, Run, read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import Column
from hobrel.core.pipeline.comparing import compare_intercept
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.findings import ComputedFinding, compare_findings
from hobrel.core.pipeline.ingredients import read_unknown
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.columns import write_rows
from hobrel.core.presentation.results import Analysis, ColumnResult, FindingResult, FitResult, ShownValue
from hobrel.core.presentation.rows import write_logged
from hobrel.core.questions.board import make_board
from hobrel.core.scripting.fields import Job, Outputs, known_or_none, need
from hobrel.core.scripting.pools import pool_documents
from hobrel.core.statistics.comparison import Comparison, VerdictRule
from hobrel.core.uncertainty.traced import Floats, Traced, combine_quadrature, covary_all, effective_dof
from hobrel.core.units.calculus import write_unit

VERDICTS = {"agree": "agrees", "agree_within_two": "near", "differ": "differs", "unknown": "unknown"}


def examine_lab_book(job: Job) -> Outputs:
    """Everything that is computed from a lab book.

    Raises
    ------
    CoreError
        ``bad_job`` for what is no lab book, or a run or a quantity that it does not have.
    """
    whole = read_lab_book(need(job, "document"))
    book = whole.seen_from(whole.run(str(job["run"])).id) if job.get("run") is not None else whole
    computation = compute(book)
    analysis = present(computation, finished=True)
    outputs: Outputs = {
        "runs": [_describe_run(run, computation, analysis) for run in whole.runs],
        "graphs": [_each({"graph": g.id}, _describe_points, computation, computation.points[g.id]) for g in book.graphs],
        "fits": [_each({"fit": f.id}, _describe_fit, computation, f, r) for f, r in zip(book.fits, analysis.fits, strict=True)],
        "findings": [
            _each({"finding": f.id}, _describe_finding, computation, f, r) for f, r in zip(book.findings, analysis.findings, strict=True)
        ],
        "slips": [
            {"kind": s.kind, "run": s.run, "setting": None if s.whole_column else s.setting, "quantity": s.quantity, "repeat": s.repeat}
            for s in analysis.slips
        ],
    }
    if job.get("board") is not None:
        outputs["board"] = _describe_board(book, job["board"])
    if job.get("pool") is not None:
        outputs["pools"] = pool_documents(book, job["pool"])
    return outputs


def _each(key: Outputs, work: Callable[..., Outputs], *arguments: Any) -> Outputs:
    """An item under its key, or the error that stands in its place."""
    found = contain(f"item {key}", work, *arguments)
    if isinstance(found, CoreError):
        return {**key, "error": {"code": found.code, "message": found.message}}
    return {**key, **found}


def _number(value: float) -> float | None:
    return known_or_none(float(value))


def _numbers(values: Floats) -> list[float | None]:
    return [_number(v) for v in values.tolist()]


def _describe_run(run: Run, computation: Computation, analysis: Analysis) -> Outputs:
    columns = computation.columns[run.id].columns
    written = next(r for r in analysis.runs if r.run == run.id).columns
    return {
        "run": run.id,
        "columns": [
            _each({"quantity": shown.quantity}, _describe_column, computation, run, columns[shown.quantity], shown) for shown in written
        ],
    }


def _describe_column(computation: Computation, run: Run, column: Column, written: ColumnResult) -> Outputs:
    if column.words is not None:
        return {"words": list(column.words)}
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "This column has no values.")
    unit = write_unit(column.traced.unit)
    u_all = column.u_all
    if column.quantity.kind == "constant":
        assert written.constant is not None
        return {
            "unit": unit, "value": _number(float(column.traced.value)), "u": _number(float(column.u)), "u_all": _number(float(u_all)),
            "value_text": written.constant.value_text, "u_text": written.constant.u_text, "text": written.constant.text,
        }  # fmt: skip
    values, u, u_all = (np.broadcast_to(v, (run.count,)) for v in (column.traced.value, column.u, u_all))
    known = np.isfinite(values)
    if written.constant is not None:
        pairs = [(written.constant.value_text, written.constant.u_text)] * run.count
    elif run.log is not None and column.node is None:
        pairs = [(text, "") for text in write_logged(column, run.log, 0, run.count)]
    else:
        pairs = write_rows(column, run, computation.book.convention)
    return {
        "unit": unit,
        "values": _numbers(values),
        "u": [_number(v) if k else None for v, k in zip(u.tolist(), known.tolist(), strict=True)],
        "u_all": [_number(v) if k else None for v, k in zip(u_all.tolist(), known.tolist(), strict=True)],
        "value_texts": [v for v, _ in pairs],
        "u_texts": [u for _, u in pairs],
    }


def _describe_points(computation: Computation, points: GraphPoints | CoreError) -> Outputs:
    if isinstance(points, CoreError):
        raise points
    run = computation.book.run(points.run)
    columns = zip(points.rows, *(v.tolist() for v in (points.x, points.ux, points.y, points.uy, points.used)), strict=True)
    return {
        "points": [
            {"setting": run.row_id(row), "x": x, "ux": _number(ux), "y": y, "uy": _number(uy), "used": bool(used)}
            for row, x, ux, y, uy, used in columns
        ]
    }


def _describe_fit(computation: Computation, fit: Fit, written: FitResult) -> Outputs:
    fitted, points, run = computation.fitted(fit.id)
    found = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    shown = _shown_parameters(fitted, written)
    weighted = found.method != "ols"
    residuals = fitted.residuals
    outputs = fitted.outputs
    settings = [run.row_id(points.rows[i]) for i in np.flatnonzero(fitted.fitted).tolist()]
    return {
        "run": run.id, "shape": fit.shape, "method": found.method if isinstance(fitted, FittedLine) else "curve",
        "n": fitted.n, "dof": found.dof,
        "parameters": [_describe_parameter(name, number, shown[name]) for name, number in outputs.items()],
        "covariance": [_numbers(row) for row in covary_all(list(outputs.values()), shared=False)],
        "chi2": found.chi2, "reduced_chi2": found.reduced_chi2, "p_value": found.p_value,
        "settings": settings, "residuals": _numbers(residuals.residuals),
        "sigmas": _numbers(residuals.sigmas) if weighted else None,
        "standardised": _numbers(residuals.standardised) if weighted else None,
        "scatter": fitted.scatter, "bends": fitted.bends, "text": written.equation_text,
        "agrees_with_zero": _agrees_with_zero(fitted, computation.book),
        "unknowns": [_each({"unknown": u.id}, _describe_unknown, computation, fit, u.id) for u in fit.unknowns],
    }  # fmt: skip


def _shown_parameters(fitted: FittedLine | FittedCurve, written: FitResult) -> dict[str, ShownValue | None]:
    if isinstance(fitted, FittedLine):
        return {"gradient": written.gradient, "intercept": written.intercept}
    return {p.name: p.value for p in written.parameters}


def _describe_parameter(name: str, number: Traced, shown: ShownValue | None) -> Outputs:
    return {
        "name": name, "value": _number(float(number.value)), "u": _number(float(combine_quadrature(number, shared=False))),
        "u_all": _number(float(combine_quadrature(number))), "unit": write_unit(number.unit),
        "value_text": shown.value_text if shown else "", "u_text": shown.u_text if shown else "", "text": shown.text if shown else "",
    }  # fmt: skip


def _agrees_with_zero(fitted: FittedLine | FittedCurve, book: LabBook) -> bool | None:
    found = compare_intercept(fitted, book.convention.verdict) if isinstance(fitted, FittedLine) else None
    return None if found is None or found.verdict == "unknown" else found.verdict != "differ"


def _describe_unknown(computation: Computation, fit: Fit, unknown_id: str) -> Outputs:
    unknown = next(u for u in fit.unknowns if u.id == unknown_id)
    found = read_unknown(computation, fit.id, unknown, f"unknown:{fit.id}:{unknown.id}")
    return {
        "value": _number(float(found.traced.value)), "u": _number(float(combine_quadrature(found.traced))),
        "unit": write_unit(found.traced.unit), "extrapolated": found.extrapolated,
    }  # fmt: skip


def _describe_finding(computation: Computation, finding: Finding, written: FindingResult) -> Outputs:
    found = computation.finding(finding.id)
    if written.value is None:
        trouble = written.trouble
        raise CoreError.told(trouble.code, trouble.message, trouble.fields) if trouble else CoreError("bad_job", "It has no value.")
    return {
        "value": _number(found.value), "u": _number(found.u), "unit": write_unit(found.traced.unit),
        "dof": _number(effective_dof(found.traced)),
        "value_text": written.value.value_text, "u_text": written.value.u_text, "text": written.value.text,
        "budget": [{"symbol": " and ".join(b.symbols), "share": b.share, "shared": b.shared} for b in found.budget],
        "comparisons": list(_comparisons(computation, found)),
        "rounded_right": written.rounding.right if written.rounding else None,
    }  # fmt: skip


def _comparisons(computation: Computation, found: ComputedFinding) -> Iterable[Outputs]:
    book, key = computation.book, found.finding.id
    if found.comparison is not None and found.accepted is not None:
        yield {"kind": "accepted", "of": "", **_describe_comparison(*found.accepted, found.comparison)}
    for other in found.finding.compare:
        yield _each({"kind": "finding", "of": other}, _compare_with, found, computation.findings.get(other), book.convention.verdict)
    for run in book.runs[1:]:
        yield _each({"kind": "run", "of": run.id}, _compare_with_run, book, found, run.id, key)


def _compare_with(found: ComputedFinding, other: ComputedFinding | CoreError | None, rule: VerdictRule) -> Outputs:
    if not isinstance(other, ComputedFinding):
        raise other or CoreError("bad_job", "This finding is no longer in the lab book.")
    beside = compare_findings(found, other, rule)
    if isinstance(beside.comparison, CoreError):
        raise beside.comparison
    return _describe_comparison(beside.value, beside.u, beside.comparison)


def _compare_with_run(book: LabBook, found: ComputedFinding, run: str, key: str) -> Outputs:
    return _compare_with(found, compute(book.seen_from(run)).findings.get(key), book.convention.verdict)


def _describe_comparison(value: float, u: float, comparison: Comparison) -> Outputs:
    return {
        "value": _number(value), "u": _number(u), "difference": comparison.difference, "u_difference": comparison.u, "z": comparison.z,
        "p": comparison.p, "verdict": VERDICTS[comparison.verdict],
    }  # fmt: skip


def _describe_board(book: LabBook, asked: object) -> Outputs:
    if not isinstance(asked, Mapping) or set(asked) != {"x", "y"}:
        raise CoreError("bad_job", "board is an object with x and y, the ids of two quantities.")
    x, y = (book.quantity(str(asked[axis])).id for axis in ("x", "y"))
    found = contain("board", make_board, replace(book, bench_judges=False), x, y, True)
    if isinstance(found, CoreError):
        return {"error": {"code": found.code, "message": found.message}}
    words = {"straight": "straight", "bends": "bends"}
    return {"squares": [{"x": s.x_form, "y": s.y_form, "verdict": words.get(s.verdict or "", "unknown")} for s in found.squares]}
