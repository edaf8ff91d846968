"""From fits, means and read-offs to a number with a name: the finding, its budget, and what it is compared with."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.linearising.algebra import names_in
from hobrel.core.pipeline.budget import BudgetLine, budget_by_part, share_linearly
from hobrel.core.pipeline.carrying import Step, carry_finding, stretch_to
from hobrel.core.pipeline.comparing import TwoFold, compare_numbers
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.ingredients import Gathered, gather_ingredient
from hobrel.core.pipeline.tables import read_tables
from hobrel.core.readings.known import parse_known
from hobrel.core.statistics.comparison import Comparison, VerdictRule
from hobrel.core.uncertainty.traced import Source, Traced, chain, combine_quadrature, measured
from hobrel.core.units.calculus import write_unit


@dataclass(frozen=True)
class ComparedWith:
    """Another finding beside this one, in this one's unit, and how far apart they are; or why they cannot be compared."""

    finding: Finding
    value: float
    u: float
    comparison: Comparison | CoreError


@dataclass(frozen=True)
class ComputedFinding:
    """A finding in its own unit, with standard uncertainty `u` (shared constants included, once).

    `traced` is the number as it is said, by the class's way; `first_order` what another finding carries on from, so that nothing is added
    twice; `judged` the number as verdicts take it. `words` says of each ingredient what it is, `targets` names their workings.
    """

    finding: Finding
    node: Node
    inputs: dict[str, Traced]
    traced: Traced
    first_order: Traced
    judged: Traced
    value: float
    u: float
    budget: tuple[BudgetLine, ...]
    comparison: Comparison | None
    accepted: tuple[float, float] | None
    words: dict[str, str]
    targets: dict[str, str]
    compared: tuple[ComparedWith, ...] = ()


def compute_findings(ground: Ground) -> dict[str, ComputedFinding | CoreError]:
    """Compute every finding of a lab book; one may use others, but not go round in a circle. Each is a result or a named error."""
    made = _Making(ground)
    done = {finding.id: made.make(finding.id) for finding in ground.book.findings}
    return {key: _compare_with(found, done, ground.book.convention.verdict) for key, found in done.items()}


class _Making:
    """Findings in the order in which they need one another."""

    def __init__(self, ground: Ground) -> None:
        self._ground = ground
        self._known = {f.id: f for f in ground.book.findings}
        self._done: dict[str, ComputedFinding | CoreError] = {}
        self._begun: list[str] = []

    def make(self, finding_id: str) -> ComputedFinding | CoreError:
        if finding_id not in self._done:
            self._begun.append(finding_id)
            finding = self._known[finding_id]
            self._done[finding_id] = contain(f"finding {finding.symbol}", compute_finding, finding, self._ground, self._use)
            self._begun.pop()
        return self._done[finding_id]

    def _use(self, finding_id: str) -> Gathered:
        """A finding in another one.

        Raises
        ------
        CoreError
            ``bad_job``, ``bad_formula`` for a circle; the trouble that stands in its place.
        """
        if finding_id not in self._known:
            raise CoreError("bad_job", "A finding that is used here is no longer in the lab book.")
        if finding_id in self._begun:
            circle = " and ".join(self._known[f].symbol for f in self._begun)
            raise CoreError(
                "bad_formula", "These findings go round in a circle: {circle}. One of them must start from a fit or a mean.", circle=circle
            )
        found = self.make(finding_id)
        if isinstance(found, CoreError):
            raise found
        return _as_ingredient(found)


def _as_ingredient(found: ComputedFinding) -> Gathered:
    return Gathered(found.first_order, found.judged, found.finding.name, f"finding:{found.finding.id}")


def compute_finding(finding: Finding, ground: Ground, finding_of: Callable[[str], Gathered]) -> ComputedFinding:
    """Compute a finding. A name means first what the finding uses, then a parameter of its fit, then a constant of the lab book.

    Raises
    ------
    CoreError
        ``bad_formula``, ``bad_unit``, ``outside_domain``: with what to look at; or the trouble of what it uses.
    """
    columns = ground.seen
    constants = {canonical_name(c.quantity.symbol): c for c in columns.columns.values() if c.quantity.kind == "constant"}
    uses = {canonical_name(i.symbol): i for i in finding.uses}
    inputs: dict[str, Traced] = {}
    judging: dict[str, Traced] = {}
    words: dict[str, str] = {}
    targets: dict[str, str] = {}
    if finding.fit:
        try:
            fitted = ground.fitted(finding.fit)[0]
        except CoreError as trouble:
            fields = trouble.kept().fields | {"trouble": trouble.message, "lacks": "fit"}
            raise CoreError(trouble.code, "There is no fit yet: {trouble}", **fields) from None
        inputs.update(fitted.outputs)
        judging.update(fitted.judged)
        targets.update({name: f"fit:{finding.fit}:{name}" for name in fitted.outputs})
    _refuse_clashes(finding, {*constants}, {*inputs}, {*uses})
    if "gradient" in inputs and "slope" not in {*constants, *uses}:
        # the other word for it, whichever the class says
        inputs["slope"], judging["slope"], targets["slope"] = inputs["gradient"], judging["gradient"], targets["gradient"]
    _ask_for_a_fit(finding, {*constants, *inputs, *uses})
    node = read_formula(finding.formula, {*constants, *inputs, *uses}, tables=read_tables(ground.book.plan.tables))
    used = symbols_in(node)
    # in the order in which the bench has listed them
    for name in [*(n for n in uses if n in used), *(n for n in sorted(used) if n not in uses)]:
        if name in uses:
            gathered = gather_ingredient(ground, uses[name], f"{finding.id}:{name}", finding_of)
            inputs[name], judging[name] = gathered.traced, gathered.judged
            words[name] = gathered.words
            targets[name] = gathered.target
        elif name in constants and name not in inputs:
            constant = constants[name].traced
            if constant is None:
                raise CoreError(
                    "bad_formula",
                    "{symbol} needs {needed}, which has no value yet.",
                    symbol=write_symbol(finding.symbol),
                    needed=write_symbol(constants[name].quantity.symbol),
                )
            inputs[name] = judging[name] = constant
    inputs = {k: v for k, v in inputs.items() if k in used}
    made = _evaluate_once(node, finding, inputs)
    first_order, judged = made.of(inputs), made.of(judging)
    budget, way = budget_by_part(made.parts(inputs)), ground.book.convention.propagation
    step = Step("", node, finding.unit, finding.symbol)
    traced = stretch_to(first_order, carry_finding(step, inputs, first_order, way, [line.contribution for line in budget]))
    budget = share_linearly(budget) if way in ("sum", "extremes") else budget
    value, u = float(traced.value), float(combine_quadrature(traced))
    accepted, comparison = None, None
    if finding.accepted is not None:
        written = parse_known(finding.accepted.value, finding.accepted.u, finding.unit)
        accepted = float(written.value), float(written.u)
        known = measured(Source("accepted", "accepted value", np.asarray(accepted[1]), traced.unit), accepted[0])
        comparison = compare_numbers(TwoFold(traced, judged), TwoFold(known, known), ground.book.convention.verdict)
    return ComputedFinding(
        finding=finding,
        node=node,
        inputs=inputs,
        traced=traced,
        first_order=first_order,
        judged=judged,
        value=value,
        u=u,
        budget=budget,
        comparison=comparison,
        accepted=accepted,
        words=words,
        targets={k: v for k, v in targets.items() if k in used and v},
    )


_OF_A_FIT = ("gradient", "slope", "intercept")


def _ask_for_a_fit(finding: Finding, known: set[str]) -> None:
    """Of what is written with the number of a line where none is named.

    Raises
    ------
    CoreError
        ``bad_formula``.
    """
    written = names_in(finding.formula)
    for name in _OF_A_FIT:
        if name in written and name not in known:
            raise CoreError(
                "bad_formula",
                "The {name} is a number of a fit. Add it to what this is made of, and write the symbol that it has there.",
                name=name,
                at=finding.formula.find(name),
            )


def _refuse_clashes(finding: Finding, constants: set[str], parameters: set[str], uses: set[str]) -> None:
    """A symbol stands for one thing: what a finding uses must not quietly take the place of a constant or of a parameter of its fit.

    Raises
    ------
    CoreError
        ``bad_formula``.
    """
    for names, what in ((constants, "a constant of the lab book"), (parameters, "a number of the fit")):
        for name in sorted(uses & names):
            taken = constants | parameters | uses
            free = next(f"{name}_{n}" for n in itertools.count(2) if f"{name}_{n}" not in taken)
            raise CoreError(
                "bad_formula",
                "{name} is {what} already. Give the number that {symbol} uses another symbol, for example {free}.",
                name=name,
                what=what,
                symbol=write_symbol(finding.symbol),
                free=free,
            )


@dataclass(frozen=True)
class _Evaluated:
    """A formula's value with its derivatives by its symbols, and by constants of nature and tables (`others`), in the unit wanted."""

    result: Traced
    by_symbol: dict[str, float]
    others: dict[str, tuple[float, Traced]]

    def parts(self, numbers: Mapping[str, Traced]) -> dict[str, tuple[float, Traced]]:
        """For every symbol its derivative, and its number among these."""
        return {name: (by, numbers[name]) for name, by in self.by_symbol.items()} | self.others

    def of(self, numbers: Mapping[str, Traced]) -> Traced:
        """The result as made of these numbers: of the same values, whatever these rest on."""
        terms = tuple((number, partial(np.asarray, by)) for by, number in self.parts(numbers).values())
        return chain(self.result.value, terms, self.result.unit, self.result.temperatures)


def _evaluate_once(node: Node, finding: Finding, inputs: Mapping[str, Traced]) -> _Evaluated:
    alone = {name: Source(name, name, np.asarray(1.0), number.unit) for name, number in inputs.items()}
    bare = {name: replace(number, slopes={alone[name]: np.asarray(1.0)}) for name, number in inputs.items()}
    result = in_wanted_unit(evaluate(node, bare), finding.unit, finding.symbol)
    by_symbol = {name: float(result.slopes[source]) for name, source in alone.items() if source in result.slopes}
    others = {s.symbol: (float(slope), measured(s, 0.0)) for s, slope in result.slopes.items() if s not in alone.values()}
    return _Evaluated(result, by_symbol, others)


def _compare_with(
    found: ComputedFinding | CoreError, done: Mapping[str, ComputedFinding | CoreError], rule: VerdictRule
) -> ComputedFinding | CoreError:
    if isinstance(found, CoreError) or not found.finding.compare:
        return found
    others = (done.get(key) for key in found.finding.compare)
    return replace(found, compared=tuple(_compare_or_say(found, o, rule) for o in others if isinstance(o, ComputedFinding)))


def _compare_or_say(a: ComputedFinding, b: ComputedFinding, rule: VerdictRule) -> ComparedWith:
    compared = contain(f"comparison of {a.finding.symbol} and {b.finding.symbol}", compare_findings, a, b, rule)
    return ComparedWith(b.finding, b.value, b.u, compared) if isinstance(compared, CoreError) else compared


def compare_findings(a: ComputedFinding, b: ComputedFinding, rule: VerdictRule) -> ComparedWith:
    """Compare two findings of one lab book; what both rest on (a constant, a fit) is not counted twice."""
    try:
        other = in_wanted_unit(b.traced, write_unit(a.traced.unit), b.finding.symbol)
    except CoreError:
        names = f"{b.finding.name} is in {write_unit(b.traced.unit) or 'no unit'}"
        return ComparedWith(b.finding, b.value, b.u, CoreError("bad_unit", "{names}, so the two cannot be compared.", names=names))
    judged = in_wanted_unit(b.judged, write_unit(a.traced.unit), b.finding.symbol)
    return ComparedWith(
        b.finding,
        float(other.value),
        float(combine_quadrature(other)),
        compare_numbers(TwoFold(a.traced, a.judged), TwoFold(other, judged), rule),
    )
