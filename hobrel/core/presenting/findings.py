"""Findings as people read them: the chain with numbers put in, the budget bars, the statement and the number line."""

from __future__ import annotations

from hobrel.core.compare import say_verdict
from hobrel.core.documents import Finding, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.findings import BudgetLine, ComputedFinding
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.typeset import RichRun, RichText, formula_tex, plain_text, rich_symbol, symbol_expression_tex
from hobrel.core.results import BudgetBar, FindingResult, LineMark, ShownValue
from hobrel.core.rounding import write_number
from hobrel.core.showing import draw_number_line, rounding_words, show_constant, show_trouble, show_value
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units import write_unit


def name_symbol(symbol: str) -> RichText:
    """A quantity's symbol, or the word gradient or intercept as a word."""
    return (RichRun(symbol),) if symbol in ("gradient", "intercept") else rich_symbol(symbol)


def present_budget(budget: tuple[BudgetLine, ...], unit: str, book: LabBook) -> tuple[BudgetBar, ...]:
    """The budget as bars, with each source's name."""
    names = {canonical_name(q.symbol): q.name for q in book.quantities}
    return tuple(
        BudgetBar(
            name_symbol(line.symbol),
            names.get(canonical_name(line.symbol), {"gradient": "of the line", "intercept": "of the line"}.get(line.symbol, "")),
            line.share,
            _percent(line.share),
            f"{write_number(line.contribution, 2)} {unit}".rstrip(),
            line.shared,
        )
        for line in budget
    )


def shown_input(name: str, traced: Traced, computed: ComputedFinding, book: LabBook) -> ShownValue:
    """An input of a finding as people know it: a constant with its own digits, a fitted parameter rounded with its ±."""
    for q in book.quantities:
        if q.kind == "constant" and canonical_name(q.symbol) == name:
            return show_constant(float(traced.value), 0.0, q.value, q.u, write_unit(traced.unit))
    u = float(combine_quadrature(traced, computed.sources))
    return show_value(float(traced.value), u or None, traced.unit, book.convention.rounding)


def _percent(share: float) -> str:
    percent = 100 * share
    return f"{percent:.0f} %" if percent >= 1 or percent == 0 else "under 1 %"


def present_finding(computed: ComputedFinding, book: LabBook) -> FindingResult:
    """Write a finding for people."""
    finding, rule = computed.finding, book.convention.rounding
    unit = write_unit(computed.traced.unit)
    value = show_value(computed.value, computed.u or None, unit, rule)
    numbers = {name: rf"\left({shown_input(name, t, computed, book).value_tex}\right)" for name, t in computed.inputs.items()}
    symbol = symbol_expression_tex(finding.symbol)
    accepted, verdict, words, line = None, None, "", None
    if finding.accepted is not None and computed.accepted is not None and computed.comparison is not None:
        a, u_a = computed.accepted
        accepted = show_value(a, u_a or None, unit, rule)
        verdict = computed.comparison.verdict
        words = say_verdict(computed.comparison, "the accepted value")
        if computed.comparison.percent is not None:
            side = "above" if computed.comparison.difference >= 0 else "below"
            words += f" It is {write_number(abs(computed.comparison.percent), 2)} % {side} it."
        line = draw_number_line((LineMark("this finding", computed.value, computed.u), LineMark("accepted", a, u_a)), unit)
    return FindingResult(
        finding=finding.id,
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=unit,
        value=value,
        formula_tex=f"{symbol} = {formula_tex(computed.node)}",
        numbers_tex=f"{symbol} = {formula_tex(computed.node, numbers)}",
        statement=f"{plain_text(rich_symbol(finding.symbol))} = {value.text}",
        rounding_words=rounding_words(rule),
        budget=present_budget(computed.budget, unit, book),
        accepted=accepted,
        accepted_source=finding.accepted.source if finding.accepted else "",
        verdict=verdict,
        comparison=words,
        number_line=line,
        trouble=None,
    )


def fail_finding(finding: Finding, error: CoreError) -> FindingResult:
    return FindingResult(
        finding.id, finding.name, rich_symbol(finding.symbol), finding.unit, None, "", "", "", "", (), None, "", None, "", None,
        show_trouble(error),
    )  # fmt: skip
