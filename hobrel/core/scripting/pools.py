"""The pools of a lab book's findings, over the lab books of other benches."""

from __future__ import annotations

import math
from typing import Any

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding, LabBook, read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.presentation.shares import pure_constants
from hobrel.core.scripting.fields import Outputs
from hobrel.core.statistics.pool import BenchResult, pool_results
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import parse_unit, write_unit


def pool_documents(book: LabBook, documents: object) -> list[Outputs]:
    """Every finding of a lab book, pooled over those of the same id in other lab books.

    Raises
    ------
    CoreError
        ``bad_job`` where what is given is no list of lab books.
    """
    if not isinstance(documents, list):
        raise CoreError("bad_job", "pool is a list of lab books.")
    benches = [compute(read_lab_book(document)) for document in documents]
    constants = pure_constants(compute(book))
    return [_pool(finding, benches, constants) for finding in book.findings]


def _pool(finding: Finding, benches: list[Computation], constants: dict[str, float]) -> Outputs:
    made = (bench.findings.get(finding.id) for bench in benches)
    unit = finding.unit or next((write_unit(f.traced.unit) for f in made if isinstance(f, ComputedFinding)), "")
    shares = [contain(f"share of {n}", _share, bench, finding.id, unit) for n, bench in enumerate(benches)]
    results = [BenchResult(str(n), *s) for n, s in enumerate(shares) if not isinstance(s, CoreError)]
    named: Outputs = {"finding": finding.id, "unit": unit, "n": len(results)}
    pooled = contain(f"pool of {finding.id}", pool_results, results, unit, constants)
    if isinstance(pooled, CoreError):
        return {**named, "error": {"code": pooled.code, "message": pooled.message}}
    value, u = pooled.recommended_value
    pointed = {p.bench: p for p in pooled.pointed_out}
    rows: list[Outputs] = []
    for n, share in enumerate(shares):
        if isinstance(share, CoreError):
            rows.append({"bench": n, "error": {"code": share.code, "message": share.message}})
            continue
        out = pointed.get(str(n))
        causes: list[dict[str, Any]] = [{"code": c.code, "factor": c.factor} for c in out.causes] if out else []
        rows.append({"bench": n, "value": share[0], "u": share[1], "pointed_out": out is not None, "causes": causes})
    return {**named, "recommended": {"kind": pooled.recommended, "value": value, "u": u}, "benches": rows}


def _share(bench: Computation, finding: str, unit: str) -> tuple[float, float]:
    found = bench.finding(finding)
    traced = in_wanted_unit(found.traced, unit, found.finding.symbol) if parse_unit(unit) != found.traced.unit else found.traced
    value, u = float(traced.value), float(combine_quadrature(traced))
    if not (u > 0 and math.isfinite(u) and math.isfinite(value)):
        raise CoreError("bad_number", "To be pooled, a finding needs a ±.")
    return value, u
