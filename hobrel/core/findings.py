"""From a gradient to a number with a name: the finding, its budget, and its comparison with an accepted value."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.core.columns import RunColumns, in_wanted_unit
from hobrel.core.compare import Comparison, compare_values
from hobrel.core.curves import FittedCurve
from hobrel.core.documents import Finding
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.lines import FittedLine
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature, contributions


@dataclass(frozen=True)
class BudgetLine:
    """What one source contributes to an uncertainty.

    `contribution` is |∂f/∂x|·u(x) in the unit of the result, `share` its square over the sum of squares; `shared` marks a
    constant measured once.
    """

    key: str
    symbol: str
    sensitivity: float
    contribution: float
    share: float
    shared: bool


@dataclass(frozen=True)
class ComputedFinding:
    """A finding in its own unit, with standard uncertainty `u` (shared constants included, once)."""

    finding: Finding
    node: Node
    inputs: dict[str, Traced]
    traced: Traced
    value: float
    u: float
    budget: tuple[BudgetLine, ...]
    comparison: Comparison | None
    accepted: tuple[float, float] | None
    sources: dict[str, Source]


def compute_finding(finding: Finding, fitted: FittedLine | FittedCurve, columns: RunColumns) -> ComputedFinding:
    """Compute a finding from a fitted line or curve and the lab book's constants; a parameter comes before a constant of its name.

    Raises
    ------
    CoreError
        ``bad_formula``, ``bad_unit``, ``outside_domain``: with what to look at.
    """
    constants = {canonical_name(c.quantity.symbol): c for c in columns.columns.values() if c.quantity.kind == "constant"}
    node = read_formula(finding.formula, {*constants, *fitted.outputs})
    inputs = dict(fitted.outputs)
    for name in symbols_in(node) & (set(constants) - set(inputs)):
        traced = constants[name].traced
        if traced is None:
            raise CoreError("bad_formula", f"{finding.symbol} needs {constants[name].quantity.symbol}, which has no value yet.")
        inputs[name] = traced
    sources = dict(fitted.sources)
    traced = in_wanted_unit(evaluate(node, inputs, sources), finding.unit, finding.symbol)
    value = float(traced.value)
    u = float(combine_quadrature(traced, sources, correlations=fitted.correlations))
    accepted, comparison = None, None
    if finding.accepted is not None:
        accepted = (
            float(parse_reading(finding.accepted.value, finding.unit).value),
            float(parse_reading(finding.accepted.u, finding.unit).value) if finding.accepted.u.strip() else 0.0,
        )
        comparison = compare_values(value, u, *accepted)
    used = {k: v for k, v in inputs.items() if k in symbols_in(node)}
    return ComputedFinding(finding, node, used, traced, value, u, make_budget(traced, sources), comparison, accepted, sources)


def make_budget(traced: Traced, sources: dict[str, Source]) -> tuple[BudgetLine, ...]:
    """The contributions to a single number, largest first."""
    parts = {key: float(part) for key, part in contributions(traced, sources).items()}
    total = sum(p * p for p in parts.values())
    lines = [
        BudgetLine(
            key, sources[key].symbol, float(traced.slopes[key]), abs(part), part * part / total if total else 0.0, sources[key].shared
        )
        for key, part in parts.items()
    ]
    return tuple(sorted(lines, key=lambda line: -line.share))
