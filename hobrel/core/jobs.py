"""The scripting contract: a list of jobs in, a list of results out, in order; one bad job never stops the rest."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from hobrel.core.constants import find_constant
from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import study_residuals
from hobrel.core.pooling.pool import BenchResult, pool_results
from hobrel.core.readings.instruments import Instrument, reading_uncertainty
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.rounding import round_result
from hobrel.core.uncertainty.spread import average
from hobrel.core.units import convert, convert_difference, parse_unit

Job = Mapping[str, Any]
LARGEST_LIST = 200_000


def run_jobs(jobs: object) -> list[dict[str, Any]]:
    """Run a list of jobs.

    Parameters
    ----------
    jobs : list of mappings, each with ``id`` and ``kind``

    Returns
    -------
    list of dict
        ``{"id", "ok": True, …outputs}`` or ``{"id", "ok": False, "error": {"code", "message"}}``; never NaN or infinity.
    """
    if not isinstance(jobs, list):
        return [_failure(None, CoreError("bad_job", "A list of jobs is needed."))]
    return [_run(job) for job in jobs]


def _run(job: object) -> dict[str, Any]:
    name = job.get("id") if isinstance(job, Mapping) else None
    try:
        if not isinstance(job, Mapping):
            raise CoreError("bad_job", "A job is an object with id and kind.")
        kind = job.get("kind")
        if kind not in _KINDS:
            raise CoreError("bad_job", f"There is no kind of job called {kind}.")
        run, fields = _KINDS[kind]
        unknown = sorted(set(job) - fields - {"id", "kind"})
        if unknown:
            raise CoreError("bad_job", f"A job of kind {kind} has no field {unknown[0]}.")
        return {"id": name, "ok": True, **_finite(run(job))}
    except CoreError as trouble:
        return _failure(name, trouble)
    except OverflowError:
        return _failure(name, CoreError("too_large", "The numbers are too large to compute with."))


def _failure(name: object, trouble: CoreError) -> dict[str, Any]:
    return {"id": name, "ok": False, "error": {"code": trouble.code, "message": trouble.message, **trouble.fields}}


def _finite(outputs: dict[str, Any]) -> dict[str, Any]:
    """Refuse to answer with something that is not a number."""

    def check(value: object) -> None:
        if isinstance(value, float) and not math.isfinite(value):
            raise CoreError("outside_domain", "The result is not a number.")
        for inner in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
            check(inner)

    check(outputs)
    return outputs


def _number(value: object, what: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise CoreError("bad_number", f"{what} must be a number.")
    number = float(parse_reading(value).value) if isinstance(value, str) else float(value)
    if not math.isfinite(number):
        raise CoreError("bad_number", f"{what} must be a finite number.")
    return number


def _need(job: Job, field: str) -> Any:
    if field not in job or job[field] is None:
        raise CoreError("bad_job", f"The field {field} is missing.")
    return job[field]


def _list(job: Job, field: str) -> list[float | None]:
    values = _need(job, field)
    if not isinstance(values, list):
        raise CoreError("bad_job", f"{field} must be a list of numbers.")
    if len(values) > LARGEST_LIST:
        raise CoreError("too_large", f"{field} has more than {LARGEST_LIST} numbers.")
    return [None if v is None else _number(v, f"{field}[{i}]") for i, v in enumerate(values)]


def _choice(job: Job, field: str, allowed: tuple[str, ...], default: str) -> Any:
    value = job.get(field, default)
    if value not in allowed:
        raise CoreError("bad_job", f"{field} must be one of {', '.join(allowed)}.")
    return value


def _columns(job: Job, *names: str) -> tuple[dict[str, list[float] | None], int]:
    """Lists of equal length (optional ones may be scalars or absent), with every row that has a null left out and counted."""
    x = _list(job, names[0])
    lists: dict[str, list[float | None] | None] = {}
    for name in names:
        given = job.get(name)
        if given is None and name not in ("x", "y"):
            lists[name] = None
        elif given is not None and not isinstance(given, list) and name not in ("x", "y"):
            lists[name] = [_number(given, name)] * len(x)
        else:
            lists[name] = _list(job, name)
    if any(column is not None and len(column) != len(x) for column in lists.values()):
        raise CoreError("bad_job", "The lists must be of equal length.")
    keep = [i for i in range(len(x)) if all(c is None or c[i] is not None for c in lists.values())]
    kept = {n: None if c is None else [float(v) for i in keep if (v := c[i]) is not None] for n, c in lists.items()}
    return kept, len(x) - len(keep)


def _summary(job: Job) -> dict[str, Any]:
    values = _list(job, "values")
    kept = [v for v in values if v is not None]
    instrument_u = 0.0
    if job.get("resolution") is not None:
        kind = _choice(job, "instrument", ("scale", "display", "rectangular"), "display")
        resolution = _number(job["resolution"], "resolution")
        if resolution < 0:
            raise CoreError("bad_number", "A resolution cannot be negative.")
        instrument_u = reading_uncertainty(Instrument("", kind, repr(resolution)))
    spread = _choice(job, "spread", ("half_range", "mean_abs_deviation", "largest_deviation", "sd", "standard_error"), "half_range")
    combine = _choice(job, "combine", ("larger", "quadrature"), "larger")
    coverage = _number(job["coverage"], "coverage") if job.get("coverage") is not None else None
    result = average(kept, instrument_u, spread, combine, coverage)
    s = result.summary
    outputs: dict[str, Any] = {
        "n": s.n, "mean": s.mean, "min": s.min, "max": s.max, "median": s.median, "half_range": s.half_range,
        "mean_abs_deviation": s.mean_abs_deviation, "largest_deviation": s.largest_deviation, "sd": s.sd,
        "standard_error": s.standard_error, "u": result.u, "left_out": len(values) - len(kept),
    }  # fmt: skip
    if result.t is not None:
        outputs["t"] = result.t
    return outputs


def _fit(job: Job) -> tuple[LineFit, dict[str, list[float] | None], int]:
    columns, left_out = _columns(job, "x", "y", "uy", "ux", "correlation_xy")
    scale = _choice(job, "scale", ("absolute", "scatter"), "absolute")
    through_origin = job.get("through_origin", False)
    if not isinstance(through_origin, bool):
        raise CoreError("bad_job", "through_origin must be true or false.")
    x, y = columns["x"], columns["y"]
    assert x is not None and y is not None
    fit = fit_line(x, y, columns["uy"], columns["ux"], columns["correlation_xy"], through_origin, scale)
    return fit, columns, left_out


def _line(job: Job) -> dict[str, Any]:
    fit, _, left_out = _fit(job)
    known = math.isfinite(fit.u_gradient)
    return {
        "gradient": fit.gradient, "intercept": fit.intercept, "u_gradient": fit.u_gradient if known else None,
        "u_intercept": fit.u_intercept if known else None, "covariance": fit.covariance if known else None,
        "dof": fit.dof, "chi2": fit.chi2, "reduced_chi2": fit.reduced_chi2, "p_value": fit.p_value,
        "r": fit.r, "r2": fit.r2, "residual_sd": fit.residual_sd, "method": fit.method, "left_out": left_out,
    }  # fmt: skip


def _residuals(job: Job) -> dict[str, Any]:
    fit, columns, left_out = _fit(job)
    x, y = columns["x"], columns["y"]
    assert x is not None and y is not None
    study = study_residuals(x, y, fit, columns["uy"], columns["ux"])
    return {
        "residuals": study.residuals.tolist(), "standardised": study.standardised.tolist(), "runs": study.runs,
        "expected_runs": study.expected_runs, "runs_p": study.runs_p, "curvature_t": study.curvature_t,
        "within_1u": study.within_1u, "within_2u": study.within_2u, "sentence": study.sentence, "left_out": left_out,
    }  # fmt: skip


def _pool(job: Job) -> dict[str, Any]:
    entries = _need(job, "results")
    if not isinstance(entries, list):
        raise CoreError("bad_job", "results must be a list.")
    results = []
    for entry in entries:
        if not isinstance(entry, Mapping):
            raise CoreError("bad_job", "Every result is an object with bench, value and u.")
        results.append(BenchResult(str(_need(entry, "bench")), _number(_need(entry, "value"), "value"), _number(_need(entry, "u"), "u")))
    pool = pool_results(results)
    w, dl, mp = pool.weighted, pool.dersimonian_laird, pool.mandel_paule
    return {
        "n": pool.n, "mean": pool.mean, "sd": pool.sd, "standard_error": pool.standard_error, "median": pool.median, "mad": pool.mad,
        "weighted": {"value": w.value, "u_internal": w.u_internal, "u_external": w.u_external, "birge_ratio": w.birge_ratio},
        "dersimonian_laird": {"value": dl.value, "u": dl.u, "tau": dl.tau},
        "mandel_paule": {"value": mp.value, "u": mp.u, "tau": mp.tau},
        "chi2": pool.chi2, "dof": pool.dof, "p_value": pool.p_value, "recommended": pool.recommended, "reason": pool.reason,
        "pointed_out": [{"bench": p.bench, "reason": p.reason, "factor": p.factor} for p in pool.pointed_out],
    }  # fmt: skip


def _round(job: Job) -> dict[str, Any]:
    rule = _choice(job, "rule", ("one_or_two", "one", "two"), "one_or_two")
    power = _choice(job, "power", ("auto", "none"), "auto")
    pair = []
    for field in ("value", "u"):
        given = _need(job, field)
        _number(given, field)
        pair.append(parse_reading(given).value if isinstance(given, str) else given)
    rounded = round_result(pair[0], pair[1], rule, str(job.get("unit") or ""), power)
    return {"text": rounded.text, "value_text": rounded.value_text, "u_text": rounded.u_text}


def _convert(job: Job) -> dict[str, Any]:
    source, target = (parse_unit(str(_need(job, f))) for f in ("from", "to"))
    outputs: dict[str, Any] = {"value": convert(_number(_need(job, "value"), "value"), source, target)}
    if job.get("u") is not None:
        outputs["u"] = convert_difference(_number(job["u"], "u"), source, target)
    return outputs


def _constant(job: Job) -> dict[str, Any]:
    found = find_constant(str(_need(job, "symbol")))
    return {"value": found.value, "u": found.u, "unit": found.unit, "name": found.name, "source": found.source}


_LINE_FIELDS = frozenset({"x", "y", "uy", "ux", "correlation_xy", "through_origin", "scale"})
_KINDS: dict[object, tuple[Callable[[Job], dict[str, Any]], frozenset[str]]] = {
    "summary": (_summary, frozenset({"values", "resolution", "instrument", "spread", "combine", "coverage"})),
    "line": (_line, _LINE_FIELDS),
    "residuals": (_residuals, _LINE_FIELDS),
    "pool": (_pool, frozenset({"results"})),
    "round": (_round, frozenset({"value", "u", "rule", "unit", "power"})),
    "convert": (_convert, frozenset({"value", "from", "to", "u"})),
    "constant": (_constant, frozenset({"symbol"})),
}
