"""The class's findings brought together, as people see them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding
from hobrel.core.document.plan_part import Condition
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.formulas.typeset import RichText, rich_symbol
from hobrel.core.presentation.results import LineMark, NumberLine, ShownValue
from hobrel.core.presentation.shares import BenchShare, SharedFinding
from hobrel.core.presentation.showing import draw_number_line, show_value
from hobrel.core.readings.known import parse_known
from hobrel.core.rounding import with_unit, write_number
from hobrel.core.sentences import Sentence, Sentences, said_by, say
from hobrel.core.statistics.pool import BenchResult, Pool, Recommended, pool_results
from hobrel.core.units.calculus import factor_to_base, parse_unit, same_dimension, tidy_unit


@dataclass(frozen=True)
class PoolRow:
    """One bench in the pool: its value, or why it has none yet; `pointed_out` says what seems to be off.

    `look` is the index of its colour and shape on the graph.
    """

    bench: str
    value: ShownValue | None
    missing: Sentences
    pointed_out: Sentences
    look: int


@dataclass(frozen=True)
class ClassValue:
    """One way of making a class value; `recommended` marks the one to quote."""

    kind: Recommended
    name: str
    value: ShownValue
    words: Sentences
    recommended: bool


@dataclass(frozen=True)
class PoolResult:
    """The pool of one finding, under one condition where the practical has any (else empty). `counted` says of how many benches the value
    to quote is, and without whom.
    """

    finding: str
    condition: str
    name: str
    symbol: RichText
    unit: str
    rows: tuple[PoolRow, ...]
    values: tuple[ClassValue, ...]
    spread: Sentences
    reason: Sentences
    consistency: Sentences
    counted: Sentences
    number_line: NumberLine | None
    accepted: ShownValue | None


def present_pools(
    findings: Sequence[Finding],
    shares: Sequence[BenchShare],
    conditions: Sequence[Condition] = (),
    told_to: Collection[str] | None = None,
) -> tuple[PoolResult, ...]:
    """Pool each finding over the benches, under each condition if there are any; one that cannot be pooled says why, and leaves others.

    Parameters
    ----------
    findings : sequence of Finding
        As the practical has them.
    shares : sequence of BenchShare
    conditions : sequence of Condition
    told_to : collection of benches, optional
        Who reads it: what seems to be off is told of these alone, and of the others how many they are. Without it, everything is told.
    """

    def one(finding: Finding, condition: str, of: Sequence[BenchShare]) -> PoolResult:
        pooled = contain(f"pool of {finding.symbol}", present_pool, finding, of, condition, told_to)
        if not isinstance(pooled, CoreError):
            return pooled
        return PoolResult(
            finding=finding.id,
            condition=condition,
            name=finding.name,
            symbol=rich_symbol(finding.symbol),
            unit=tidy_unit(finding.unit),
            rows=tuple(PoolRow(share.bench, None, (), (), look) for look, share in enumerate(of)),
            values=(),
            spread=(),
            reason=(said_by(pooled),),
            consistency=(),
            counted=(),
            number_line=None,
            accepted=None,
        )

    return tuple(one(finding, name, of) for finding in findings for name, of in split_by_condition(shares, conditions))


def split_by_condition(shares: Sequence[BenchShare], conditions: Sequence[Condition]) -> list[tuple[str, list[BenchShare]]]:
    """What benches bring under each condition, by its name; all they bring under no name where there are no conditions."""
    split = [(c.name, [under for share in shares if (under := share.under(c.id)) is not None]) for c in conditions]
    return split or [("", list(shares))]


def _read_accepted(finding: Finding) -> tuple[float, float] | None:
    """The accepted value of a finding and its ±, in its unit; None where there is none that can be read."""
    written = finding.accepted
    if written is None or not written.value.strip():
        return None

    def read() -> tuple[float, float]:
        known = parse_known(written.value, written.u, finding.unit)
        return float(known.value), float(known.u)

    found = contain(f"accepted value of {finding.symbol}", read)
    return None if isinstance(found, CoreError) else found


def present_pool(finding: Finding, shares: Sequence[BenchShare], condition: str = "", told_to: Collection[str] | None = None) -> PoolResult:
    """Pool one finding over the benches.

    Parameters
    ----------
    finding : Finding
        As the practical has it; every bench's finding of this id counts.
    shares : sequence of BenchShare
    condition : str
        Under which all of it was found.
    told_to : collection of benches, optional
        As `present_pools` has it.
    """
    finding, found, missing, pool = bring_together(finding, shares)
    waiting = sum(words.code == NOT_WORKED_OUT for (words,) in missing.values())
    unit = tidy_unit(finding.unit)
    rule = shares[0].rule if shares else "one_or_two"
    pointed = {p.bench: p.reason for p in pool.pointed_out} if pool else {}
    values = {name: show_value(c.value, c.u, unit, rule) for name, c in found}
    told = pointed if told_to is None else {bench: said for bench, said in pointed.items() if bench in told_to}
    rows = tuple(PoolRow(s.bench, values.get(s.bench), missing.get(s.bench, ()), told.get(s.bench, ()), i) for i, s in enumerate(shares))
    accepted = _read_accepted(finding)
    marks = tuple(LineMark(name, c.value, c.u) for name, c in found)
    if accepted:
        marks = (*marks, LineMark("accepted", *accepted))
    return PoolResult(
        finding=finding.id,
        condition=condition,
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=unit,
        rows=rows,
        values=_class_values(pool, unit) if pool else (),
        spread=(_spread(pool, unit),) if pool else (),
        reason=_reason(pool, told_to) if pool else (_say_none(waiting),),
        consistency=_consistency(pool) if pool else (),
        counted=(_say_counted(pool, told_to), *_say_waiting(waiting)) if pool else (),
        number_line=draw_number_line(marks, unit, set(pointed)) if marks else None,
        accepted=show_value(accepted[0], accepted[1] or None, unit, rule) if accepted else None,
    )


def bring_together(
    finding: Finding, shares: Sequence[BenchShare]
) -> tuple[Finding, list[tuple[str, SharedFinding]], dict[str, tuple[Sentence]], Pool | None]:
    """The finding in the unit in which it is pooled, the benches that have it, why the others have none, and the pool of the first.

    A finding that the plan wants in no unit is pooled in that of the first bench; who measures in others is converted.

    Raises
    ------
    CoreError
        As `pool_results`.
    """
    found: list[tuple[str, SharedFinding]] = []
    missing: dict[str, tuple[Sentence]] = {}
    brought = [(share.bench, share.findings.get(finding.id, share.missing)) for share in shares]
    unit = finding.unit or next((own.unit for _, own in brought if isinstance(own, SharedFinding) and own.unit), "")
    for bench, own in brought:
        # what was worked out before units were brought along says none, and is in the usual one
        shared = _in_unit(own, unit) if isinstance(own, SharedFinding) and own.unit else own
        if isinstance(shared, SharedFinding):
            found.append((bench, shared))
        else:
            missing[bench] = (shared,)
    constants = next((share.constants for share in shares if share.constants), {})
    pool = pool_results([BenchResult(name, c.value, c.u) for name, c in found], unit, constants) if found else None
    return replace(finding, unit=unit), found, missing, pool


def _in_unit(shared: SharedFinding, unit: str) -> SharedFinding | Sentence:
    if shared.unit == unit:
        return shared
    has, wanted = parse_unit(shared.unit), parse_unit(unit)
    if not same_dimension(has, wanted) or has.is_offset or wanted.is_offset:
        return say("pool_other_unit", "It is in {unit}, and those of the others are not.", unit=shared.unit)
    factor = factor_to_base(has) / factor_to_base(wanted)
    return SharedFinding(shared.value * factor, shared.u * factor, unit)


def point_out(findings: Sequence[Finding], shares: Sequence[BenchShare], conditions: Sequence[Condition] = ()) -> dict[str, Sentences]:
    """What seems to be off at which bench, by its first finding that is, under the first condition in which it is; a finding that cannot be
    pooled points nobody out.
    """
    said: dict[str, Sentences] = {}
    for finding in findings:
        for _, of in split_by_condition(shares, conditions):
            pooled = contain(f"pool of {finding.symbol}", bring_together, finding, of)
            if not isinstance(pooled, CoreError) and pooled[-1] is not None:
                for odd in pooled[-1].pointed_out:
                    said.setdefault(odd.bench, odd.reason)
    return said


def _reason(pool: Pool, told_to: Collection[str] | None) -> Sentences:
    """Why this value is quoted; who is off is not said to the others."""
    off = [p.bench for p in pool.pointed_out]
    if told_to is None or set(off) <= set(told_to):
        return pool.reason
    one = len(off) == 1
    unnamed = {
        "median_for_unknown_cause": say(
            "median_far_off", "{benches} far from the others, and nobody knows why; the median is hardly moved by that.",
            benches="One bench is" if one else f"{len(off)} benches are",
        ),
        "known_slip_left_out": say(
            "slip_left_out", "{benches} off by a slip that is known, and not counted in until it is put right.",
            benches="One bench is" if one else f"{len(off)} benches are",
        ),
    }  # fmt: skip
    return tuple(unnamed.get(sentence.code, sentence) for sentence in pool.reason)


def _class_values(pool: Pool, unit: str) -> tuple[ClassValue, ...]:
    def one(kind: Recommended, name: str, value: float, u: float | None, words: Sentence) -> ClassValue:
        return ClassValue(kind, name, show_value(value, u, unit, "one_or_two"), (words,), pool.recommended == kind)

    if pool.n == 1:
        return (one("weighted", "The finding", pool.weighted.value, pool.weighted.u_internal, _ALONE_WORDS),)
    median_u = pool.recommended_value[1] if pool.recommended == "median" else None
    class_value = pool.recommended_value if pool.recommended == "mandel_paule" else (pool.mandel_paule.value, pool.mandel_paule.u)
    return (
        one("mean", "Mean", pool.mean, pool.standard_error, _MEAN_WORDS),
        one("weighted", "Weighted mean", pool.weighted.value, pool.weighted.u_internal, _WEIGHTED_WORDS),
        one("mandel_paule", "With scatter between benches", *class_value, _SCATTER_WORDS),
        one("median", "Median", pool.median, median_u, _MEDIAN_WORDS),
    )


_ALONE_WORDS = say("class_of_one", "as its bench has it")
_MEAN_WORDS = say("class_mean", "every bench counts the same; ± is the standard error")
_WEIGHTED_WORDS = say("class_weighted", "benches with a smaller ± count more")
_SCATTER_WORDS = say("class_with_scatter", "weighted, with as much scatter between benches as the values show")
_MEDIAN_WORDS = say("class_median", "the middle one; hardly moved by one bench that is off")


def _say_counted(pool: Pool, told_to: Collection[str] | None) -> Sentence:
    without = [p.bench for p in pool.pointed_out] if pool.recommended == "mandel_paule" else []
    count = pool.n - len(without)
    benches = f"{count} benches" if count > 1 else "one bench"
    if told_to is not None and not set(without) <= set(told_to):
        verb = "is" if len(without) == 1 else "are"
        return say("counted_without_some", "of {benches}, without {n} that {verb} far off", benches=benches, n=len(without), verb=verb)
    if without:
        return say("counted_without", "of {benches}, without {without}", benches=benches, without=" and ".join(without))
    return say("counted_benches", "of {benches}", benches=benches)


def _say_none(waiting: int) -> Sentence:
    if waiting:
        return say("benches_waited_for", "The benches’ findings are being worked out. They come by themselves in a moment.")
    return say("no_bench_has_finding", "No bench has a finding yet.")


def _say_waiting(waiting: int) -> Sentences:
    """Of whom nobody knows yet whether they have a finding: what is quoted may be another in a moment."""
    if not waiting:
        return ()
    return (say("benches_waiting", "{n} more {verb} being worked out", n=waiting, verb="is" if waiting == 1 else "are"),)


def _spread(pool: Pool, unit: str) -> Sentence:
    if pool.sd is None:
        return say("one_bench", "One bench so far.")
    return say(
        "class_spread", "{n} benches; standard deviation between them {sd}, median absolute deviation {mad}.",
        n=pool.n, sd=with_unit(write_number(pool.sd, 2), unit), mad=with_unit(write_number(pool.mad, 2), unit),
    )  # fmt: skip


def _consistency(pool: Pool) -> Sentences:
    if pool.p_value is None:
        return ()
    chance = "less than 0.1" if pool.p_value < 0.001 else write_number(100 * pool.p_value, 2)
    verdict = "more than their own uncertainties say" if pool.p_value < 0.05 else "no more than their own uncertainties say"
    # with the bench that is off among them, whatever the class value makes of it
    who = "All benches together" if pool.pointed_out else "The benches"
    words = say(
        "class_consistency", "{who} differ by {verdict}: χ² = {chi2} for {dof}, which chance alone would exceed in {chance} % of cases.",
        who=who, verdict=verdict, chi2=write_number(pool.chi2, 3), dof=pool.dof, chance=chance,
    )  # fmt: skip
    return (words,)
