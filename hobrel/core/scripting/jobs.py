"""The scripting contract: a list of jobs in, a list of results out, in order; one bad job never stops the rest."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.scripting import averages, classes, curves, lab_books, lines, plans
from hobrel.core.scripting.fields import Job, Outputs

_RELATION_FIELDS = frozenset({"relation", "x", "y", "unknown"})
_KINDS: dict[str, tuple[Callable[[Job], Outputs], frozenset[str]]] = {
    "summary": (averages.summarise_values, frozenset({"values", "resolution", "instrument", "spread", "combine", "coverage"})),
    "propagate": (averages.propagate_formula, frozenset({"formula", "inputs", "correlations", "way"})),
    "round": (averages.round_value, frozenset({"value", "u", "rule", "unit", "power"})),
    "figures": (averages.count_figures, frozenset({"text"})),
    "convert": (averages.convert_value, frozenset({"value", "from", "to", "u"})),
    "constant": (averages.look_up_constant, frozenset({"symbol"})),
    "line": (lines.fit_a_line, lines.LINE_FIELDS),
    "residuals": (lines.study_a_line, lines.LINE_FIELDS),
    "read_off": (lines.read_off_a_line, lines.LINE_FIELDS | {"direction", "at", "u_at", "repeats"}),
    "extreme_lines": (lines.find_extremes, frozenset({"x", "y", "uy", "ux"})),
    "polynomial": (lines.fit_a_polynomial, frozenset({"x", "y", "degree", "uy", "through_origin"})),
    "multilinear": (lines.fit_several_predictors, frozenset({"columns", "y"})),
    "shape": (curves.fit_a_shape, curves.SHAPE_FIELDS),
    "tangents": (curves.find_slopes, curves.SHAPE_FIELDS | {"at"}),
    "rates": (curves.find_rates_of_change, frozenset({"x", "y", "ux", "uy", "method"})),
    "steepest_point": (curves.find_steepest, frozenset({"x", "y", "fraction"})),
    "area": (curves.find_area_under, frozenset({"x", "y", "uy"})),
    "straighten": (curves.straighten, frozenset({"x", "y", "ux", "uy", "forms"})),
    "relation": (curves.solve_relation, _RELATION_FIELDS),
    "compare": (classes.compare_two, frozenset({"a", "b"})),
    "pool": (classes.pool_benches, frozenset({"results"})),
    "groups": (classes.compare_many, frozenset({"groups"})),
    "lab_book": (lab_books.examine_lab_book, frozenset({"document", "run", "board", "pool"})),
    "dry_run": (plans.run_dry, plans.DRY_RUN_FIELDS),
    "outlier": (classes.find_outlier, frozenset({"values", "test", "alpha"})),
}
KINDS = tuple(_KINDS)


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
        if not isinstance(name, str | int | None):
            name = str(name)
        kind = job.get("kind")
        if not isinstance(kind, str) or kind not in _KINDS:
            raise CoreError("bad_job", "There is no kind of job called {kind}.", kind=kind)
        run, fields = _KINDS[kind]
        unknown = sorted(set(job) - fields - {"id", "kind"})
        if unknown:
            raise CoreError("bad_job", "A job of kind {kind} has no field {unknown}.", kind=kind, unknown=unknown[0])
        with np.errstate(all="ignore"):
            return {"id": name, "ok": True, **_finite(run(job))}
    except CoreError as trouble:
        return _failure(name, trouble)
    except (ArithmeticError, np.linalg.LinAlgError):
        return _failure(name, CoreError("too_large", "The numbers are too large, too small or too alike to compute with."))


def _failure(name: object, trouble: CoreError) -> dict[str, Any]:
    return {"id": name, "ok": False, "error": {"code": trouble.code, "message": trouble.message, **trouble.fields}}


def _finite(outputs: Outputs) -> Outputs:
    """Refuse to answer with something that is not a number, and write no negative zero."""

    def check(value: Any) -> Any:
        if isinstance(value, float):
            if not math.isfinite(value):
                raise CoreError("outside_domain", "The result is not a number.")
            return value + 0.0
        if isinstance(value, dict):
            return {key: check(inner) for key, inner in value.items()}
        return [check(inner) for inner in value] if isinstance(value, list) else value

    checked: Outputs = check(outputs)
    return checked
