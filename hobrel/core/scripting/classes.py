"""Jobs about results side by side: comparison, pool, groups, outliers."""

from __future__ import annotations

from collections.abc import Mapping

from hobrel.core.errors import CoreError
from hobrel.core.scripting.fields import Job, Outputs, maybe_number, need, need_number, read_choice, read_list
from hobrel.core.sentences import told
from hobrel.core.statistics.comparison import compare_values
from hobrel.core.statistics.groups import compare_groups
from hobrel.core.statistics.outliers import check_outlier
from hobrel.core.statistics.pool import BenchResult, pool_results


def compare_two(job: Job) -> Outputs:
    """Jobs ``compare``.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_job``.
    """
    pairs = []
    for side in ("a", "b"):
        entry = need(job, side)
        if not isinstance(entry, Mapping):
            raise CoreError("bad_job", "{side} is an object with value and u.", side=side)
        u = maybe_number(entry, "u") or 0.0
        if u < 0:
            raise CoreError("bad_number", "{side}: an uncertainty cannot be negative.", side=side)
        pairs.append((need_number(entry, "value"), u))
    found = compare_values(*pairs[0], *pairs[1])
    if found.z is None:
        raise CoreError("bad_number", "To compare two values, at least one of them needs an uncertainty.")
    return {"difference": found.difference, "u": found.u, "z": found.z, "percent": found.percent, "verdict": found.verdict}


def pool_benches(job: Job) -> Outputs:
    """Jobs ``pool``.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    entries = need(job, "results")
    if not isinstance(entries, list):
        raise CoreError("bad_job", "results must be a list.")
    results = []
    for entry in entries:
        if not isinstance(entry, Mapping):
            raise CoreError("bad_job", "Every result is an object with bench, value and u.")
        results.append(BenchResult(str(need(entry, "bench")), need_number(entry, "value"), need_number(entry, "u")))
    pool = pool_results(results)
    w, dl, mp = pool.weighted, pool.dersimonian_laird, pool.mandel_paule
    return {
        "n": pool.n, "mean": pool.mean, "sd": pool.sd, "standard_error": pool.standard_error, "median": pool.median, "mad": pool.mad,
        "weighted": {"value": w.value, "u_internal": w.u_internal, "u_external": w.u_external, "birge_ratio": w.birge_ratio},
        "dersimonian_laird": {"value": dl.value, "u": dl.u, "tau": dl.tau},
        "mandel_paule": {"value": mp.value, "u": mp.u, "tau": mp.tau},
        "chi2": pool.chi2, "dof": pool.dof, "p_value": pool.p_value, "recommended": pool.recommended, "reason": told(pool.reason),
        "pointed_out": [{"bench": p.bench, "reason": told(p.reason), "factor": p.factor} for p in pool.pointed_out],
    }  # fmt: skip


def compare_many(job: Job) -> Outputs:
    """Jobs ``groups``.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    given = need(job, "groups")
    if not isinstance(given, list):
        raise CoreError("bad_job", "groups is a list of lists.")
    groups = [[v for v in read_list(g, f"groups[{i}]") if v is not None] for i, g in enumerate(given)]
    found = compare_groups(groups)
    return {
        "dof_between": found.dof_between, "dof_within": found.dof_within, "ms_between": found.ms_between, "ms_within": found.ms_within,
        "f": found.f, "p_value": found.p_value, "pooled_sd": found.pooled_sd, "means": list(found.means), "grand_mean": found.grand_mean,
    }  # fmt: skip


def find_outlier(job: Job) -> Outputs:
    """Jobs ``outlier``."""
    values = read_list(need(job, "values"), "values")
    kept = [(i, v) for i, v in enumerate(values) if v is not None]
    alpha = maybe_number(job, "alpha")
    found = check_outlier([v for _, v in kept], read_choice(job, "test", ("grubbs", "dixon"), "grubbs"), 0.05 if alpha is None else alpha)
    suspect = None if found.suspect is None else kept[found.suspect][0]
    return {"statistic": found.statistic, "critical": found.critical, "suspect": suspect, "left_out": len(values) - len(kept)}
