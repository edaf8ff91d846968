"""The stations of the trail: how far each stage of a lab book is, and a few words of what is in it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import get_args

import numpy as np

from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import RunColumns
from hobrel.core.presentation.results import FindingResult, FitResult, GraphResult, LinePattern, StageMark, StageName, StageState
from hobrel.core.sentences import Sentence, say

REPORT_SECTIONS = ("expectation", "method", "discussion", "conclusion")
LEAST_SETTINGS = 5

_FOR_A_LINE = 3
"""Points from which a line has a ±: with so many it is something else that hinders one."""


def mark_stages(
    book: LabBook,
    columns: dict[str, RunColumns],
    graphs: Sequence[GraphResult],
    patterns: Sequence[LinePattern],
    fits: Sequence[FitResult],
    *,
    findings: Sequence[FindingResult],
    slips: Sequence[Slip],
) -> tuple[StageMark, ...]:
    """Mark all stations. Pool and Report know here only what the lab book says; the class's part is added where it is known."""
    measured = _count_measured(book, columns)
    full = measured >= LEAST_SETTINGS
    logged = bool(book.runs and book.runs[0].log)
    expectation = book.texts.get("expectation", "").strip()
    table_slips = sum(1 for s in slips if s.kind != "off_trend")
    reading: StageState = "not_opened" if not measured else "done" if full and not table_slips else "in_progress"
    derived = [(q, c.columns[q.id].trouble) for q in book.quantities if q.kind == "derived" for c in columns.values()]
    troubled = [(q, trouble) for q, trouble in derived if trouble]
    to_draw = any(f.trouble is not None and f.trouble.code == "draw_first" for f in fits)
    fit_ok = to_draw or any(f.trouble is None for f in fits)
    found = [f for f in findings if f.value is not None]
    written = sum(1 for s in REPORT_SECTIONS if book.texts.get(s, "").strip())

    def downstream(ready: bool, clean: bool = True) -> StageState:
        return "not_opened" if not ready else "done" if full and clean else "in_progress"

    with_points = {g.graph for g in graphs if g.figure}
    drawn = len(with_points)
    troubled_ones = len({q.id for q, trouble in troubled if measured and not _only_waits(q, trouble)})
    is_kind = any(p.trouble is not None and p.trouble.code == "kinds_not_fitted" for p in patterns)
    is_hindered = measured >= _FOR_A_LINE and any(f.trouble and f.trouble.code != "too_few_points" for f in fits if f.graph in with_points)
    lacks = say("no_line_yet", "no line yet") if is_hindered else say("needs_points", "needs points")
    needs_points = say("kinds_no_line", "kinds: no line") if is_kind else lacks
    asked = say("expectation_written", "expectation written") if expectation else say("expectation_wanted", "what do you expect?")
    averaged = say("one_reading_a_row", "one reading a row") if logged else _count(measured, "mean")
    reported = say("sections_written", "{written} of {n} written", written=written, n=len(REPORT_SECTIONS))
    fitted = say("draw_it", "draw your line first") if to_draw else say("line_fitted", "line fitted")
    return (
        StageMark("ask", "done" if expectation else "not_opened", 0, (asked,)),
        StageMark("read", reading, table_slips, (_count(measured, "row" if logged else "setting"),)),
        StageMark("average", downstream(bool(measured), not troubled), troubled_ones, (averaged,)),
        StageMark("look", downstream(bool(drawn)), 0, (_count(drawn, "graph"),)),
        StageMark("straighten", downstream(fit_ok), 0, (_say_pattern(fits, patterns) if fit_ok else needs_points,)),
        StageMark("fit", downstream(fit_ok, not to_draw), len(slips) - table_slips, (fitted if fit_ok else needs_points,)),
        StageMark("find", downstream(bool(found), all(f.said and not f.awaits_needed for f in found)), 0, (_say_finding(found),)),
        StageMark("pool", "not_opened", 0, (say("the_class", "the class"),)),
        StageMark("report", "not_opened" if not written else "in_progress", 0, (reported,)),
    )


def _only_waits(quantity: Quantity, trouble: CoreError) -> bool:
    """Whether a derived quantity lacks only what is still to come: its formula, points, or the quantity that it is made of."""
    return not quantity.formula.strip() or trouble.code == "too_few_points" or "needs" in trouble.fields


def unmarked_stages() -> tuple[StageMark, ...]:
    """The stations when nothing is known of them."""
    return tuple(StageMark(stage, "not_opened", 0, ()) for stage in get_args(StageName))


def _say_finding(found: Sequence[FindingResult]) -> Sentence:
    if not found:
        return say("no_finding", "no finding yet")
    if not found[0].said:
        return say("round_it", "round it yourself")
    if any(f.awaits_needed for f in found):
        return say("foresee_it", "say what you need")
    return say("found", "{finding}", finding=_in_few_letters(found[0]))


_FEW_LETTERS = 22
"""What stands in one line of a station."""


def _in_few_letters(finding: FindingResult) -> str:
    """A finding's statement; without its ± where both together would be cut off behind the power of ten."""
    statement, value = finding.statement, finding.value
    if value is None or len(statement) <= _FEW_LETTERS:
        return statement
    return statement.replace(f"({value.value_text} ± {value.u_text})", value.value_text).replace(f" ± {value.u_text}", "")


def _say_pattern(fits: Sequence[FitResult], patterns: Sequence[LinePattern]) -> Sentence:
    fitted = {f.graph for f in fits}
    verdicts = {p.verdict for p in patterns if p.graph in fitted}
    if "bends" in verdicts:
        return say("still_bends", "still bends")
    return say("no_bend_seen", "no bend seen") if "straight" in verdicts else say("bend_unknown", "cannot be told yet")


def _count(n: int, noun: str) -> Sentence:
    return say("counted", "{n} {noun}", n=n, noun=noun if n == 1 else f"{noun}s")


def _count_measured(book: LabBook, columns: dict[str, RunColumns]) -> int:
    """Settings of the run that is looked at, at which both the changed and a measured quantity have a value."""
    if not book.runs:
        return 0
    shown = columns[book.runs[0].id]
    known = {"changed": np.zeros(shown.run.count, dtype=bool), "measured": np.zeros(shown.run.count, dtype=bool)}
    for column in shown.columns.values():
        if column.quantity.kind in known:
            known[column.quantity.kind] |= column.filled
    return int(np.count_nonzero(known["changed"] & known["measured"]))
