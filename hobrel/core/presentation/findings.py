"""Findings as people read them: the chain with numbers put in, the budget bars, the statement and the number line."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace
from typing import Literal

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import Symbol
from hobrel.core.formulas.typeset import RichRun, RichText, formula_tex, rich_symbol, symbol_expression_tex, write_symbol
from hobrel.core.pipeline.budget import BudgetLine
from hobrel.core.pipeline.findings import ComparedWith, ComputedFinding
from hobrel.core.presentation.judging import judge_rounding
from hobrel.core.presentation.results import (
    BudgetBar,
    ComparedFinding,
    FindingResult,
    JudgedRounding,
    LineMark,
    ShownValue,
    Trouble,
    UsedNumber,
)
from hobrel.core.presentation.showing import ROUNDING_WORDS, draw_number_line, numbers_put_in, show_trouble, show_typed, show_value
from hobrel.core.readings.instruments import common_share
from hobrel.core.rounding import RoundingRule, to_decimal, with_unit, write_number
from hobrel.core.sentences import Sentences, said_by, say
from hobrel.core.statistics.comparison import Comparison, say_verdict
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units.calculus import write_unit


def name_symbol(symbol: str, instruments: Collection[str] = ()) -> RichText:
    """A quantity's symbol, or the word gradient or intercept or an instrument's name as words."""
    return (RichRun(symbol),) if symbol in ("gradient", "intercept", *instruments) else rich_symbol(symbol)


def present_budget(
    budget: tuple[BudgetLine, ...], unit: str, book: LabBook, words: Mapping[str, str] | None = None
) -> tuple[BudgetBar, ...]:
    """The budget as bars, with each source's name; `words` says what names of a finding's own stand for."""
    names = {canonical_name(t.symbol): t.name for t in book.plan.tables} | {canonical_name(q.symbol): q.name for q in book.quantities}
    scales = {i.name: f"its scale, known to {i.common} %" for q in book.quantities if (i := q.instrument) is not None and common_share(i)}
    names |= {canonical_name(name): scale for name, scale in scales.items()}
    names |= {"gradient": "of the line", "slope": "of the line", "intercept": "of the line"} | dict(words or {})
    return tuple(
        BudgetBar(
            symbol=tuple(run for i, s in enumerate(line.symbols) for run in ((RichRun(" and "),) if i else ()) + name_symbol(s, scales)),
            words=", ".join(dict.fromkeys(w for s in line.symbols if (w := names.get(canonical_name(s), "")))),
            share=line.share,
            share_text=_percent(line.share),
            contribution=with_unit(write_number(line.contribution, 2), unit),
            shared=line.shared,
        )
        for line in budget
    )


def shown_input(name: str, traced: Traced, computed: ComputedFinding, book: LabBook) -> ShownValue:
    """An input of a finding as people know it: a constant with its own digits, anything else rounded with its ±."""
    u, rule = float(combine_quadrature(traced)), book.convention.rounding
    for q in book.quantities:
        if q.kind == "constant" and canonical_name(q.symbol) == name and name not in computed.words:
            return show_typed(float(traced.value), u, (q.value, q.u), write_unit(traced.unit), rule)
    return show_value(float(traced.value), u or None, traced.unit, rule)


def _percent(share: float) -> str:
    percent = 100 * share
    return f"{percent:.0f} %" if percent >= 1 or percent == 0 else "under 1 %"


def present_finding(computed: ComputedFinding, book: LabBook) -> FindingResult:
    """Write a finding for people."""
    finding, rule = computed.finding, book.convention.rounding
    unit = write_unit(computed.traced.unit)
    value = show_value(computed.value, computed.u or None, unit, rule)
    shown = {name: shown_input(name, t, computed, book) for name, t in computed.inputs.items()}
    numbers = numbers_put_in(computed.node, {name: v.value_tex for name, v in shown.items()}, computed.inputs, rule)
    if isinstance(computed.node, Symbol) and numbers.get(computed.node.name) == value.value_tex:
        # it is that number itself, which is said next
        numbers = {}
    symbol = symbol_expression_tex(finding.symbol)
    accepted, verdict = None, None
    words: Sentences = ()
    marks = [LineMark("this finding", computed.value, computed.u)]
    if finding.accepted is not None and computed.accepted is not None and computed.comparison is not None:
        a, u_a = computed.accepted
        accepted, verdict = show_typed(a, u_a, (finding.accepted.value, finding.accepted.u), unit, rule), _known(computed.comparison)
        words = (say_verdict(computed.comparison, "the accepted value"), *_percent_apart(computed.comparison, "it"))
        marks.append(LineMark("accepted", a, u_a))
    compared = tuple(_present_compared(c, unit, rule) for c in computed.compared)
    marks += [LineMark(c.finding.name, c.value, c.u) for c in computed.compared if isinstance(c.comparison, Comparison)]
    rounding, rounding_trouble = _judge(computed, unit, book)
    shown_result = FindingResult(
        finding=finding.id,
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=unit,
        value=value,
        formula_tex=f"{symbol} = {formula_tex(computed.node)}",
        numbers_tex=f"{symbol} = {formula_tex(computed.node, numbers)}",
        statement=f"{write_symbol(finding.symbol)} = {value.text}",
        rounding_words=(ROUNDING_WORDS[rule],) if computed.u else (),
        budget=present_budget(computed.budget, unit, book, computed.words) if computed.u else (),
        accepted=accepted,
        accepted_source=finding.accepted.source if finding.accepted else "",
        verdict=verdict,
        comparison=words,
        number_line=draw_number_line(tuple(marks), unit) if len(marks) > 1 else None,
        trouble=None,
        used=tuple(UsedNumber(n, name_symbol(n), shown[n], computed.words[n], computed.targets.get(n, "")) for n in computed.words),
        compared=compared,
        in_full=_write_in_full(computed, unit) if book.rounds_first(finding) and computed.u else "",
        rounding=rounding,
        rounding_trouble=rounding_trouble,
        needed=finding.needed.strip() if book.bench_foresees else "",
    )
    return _without_verdicts(shown_result) if book.foresees_first(finding) and len(marks) > 1 else shown_result


def _without_verdicts(result: FindingResult) -> FindingResult:
    """A finding before the bench has written what it would need to see."""
    compared = tuple(replace(c, verdict=None, words=()) for c in result.compared)
    return replace(result, verdict=None, comparison=(), number_line=None, compared=compared, awaits_needed=True)


def _known(comparison: Comparison) -> Literal["agree", "agree_within_two", "differ"] | None:
    return None if comparison.verdict == "unknown" else comparison.verdict


def _percent_apart(comparison: Comparison, other: str) -> Sentences:
    if comparison.percent is None:
        return ()
    side = "above" if comparison.difference >= 0 else "below"
    return (
        say("percent_apart", "It is {percent} % {side} {other}.", percent=write_number(abs(comparison.percent), 2), side=side, other=other),
    )


def _present_compared(compared: ComparedWith, unit: str, rule: RoundingRule) -> ComparedFinding:
    other, comparison = compared.finding, compared.comparison
    value = show_value(compared.value, compared.u or None, unit if isinstance(comparison, Comparison) else other.unit, rule)
    if isinstance(comparison, CoreError):
        return ComparedFinding(other.id, other.name, value, None, (said_by(comparison),))
    difference = show_value(comparison.difference, comparison.u or None, unit, rule).text
    words = say_verdict(comparison, other.name), say("difference", "The difference is {difference}.", difference=difference)
    return ComparedFinding(other.id, other.name, value, _known(comparison), (*words, *_percent_apart(comparison, "the other")))


def _write_in_full(computed: ComputedFinding, unit: str) -> str:
    """Value and ± with more figures than will be kept, so that there is something to round."""
    figures = max(6, to_decimal(computed.value).adjusted() - to_decimal(computed.u).adjusted() + 4)
    return f"{write_number(computed.value, figures)}, with ± {with_unit(write_number(computed.u, 4), unit)}"


def _judge(computed: ComputedFinding, unit: str, book: LabBook) -> tuple[JudgedRounding | None, Trouble | None]:
    """How the bench's own rounding stands, or what is wrong with the way it is written."""
    text = computed.finding.rounded
    if not (book.rounds_first(computed.finding) and text.strip() and computed.u):
        return None, None
    try:
        return judge_rounding(text, computed.value, computed.u, unit, book.convention.rounding), None
    except CoreError as trouble:
        return None, show_trouble(trouble)


def present_or_fail(finding: Finding, found: ComputedFinding | CoreError, book: LabBook) -> FindingResult:
    """Write a finding for people, or why there is none."""
    written = found if isinstance(found, CoreError) else contain(f"writing of {finding.symbol}", present_finding, found, book)
    return fail_finding(finding, written) if isinstance(written, CoreError) else written


def fail_finding(finding: Finding, error: CoreError) -> FindingResult:
    """A finding that there is none of, with the reason."""
    return FindingResult(
        finding=finding.id,
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=finding.unit,
        value=None,
        formula_tex="",
        numbers_tex="",
        statement="",
        rounding_words=(),
        budget=(),
        accepted=None,
        accepted_source="",
        verdict=None,
        comparison=(),
        number_line=None,
        trouble=show_trouble(error),
    )
