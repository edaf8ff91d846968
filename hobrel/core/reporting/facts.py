"""What can be seen of a lab book that has been handed in, for who marks it: counted and quoted, never judged."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass

from hobrel.core.document.lab_book import LabBook, Quantity, Run
from hobrel.core.document.plan_part import FactKind, StageName
from hobrel.core.pipeline.columns import name_plot, plain_symbol
from hobrel.core.presentation.results import Analysis, FindingResult, FitResult
from hobrel.core.reporting.tree import Report
from hobrel.core.sentences import Sentence, say, told

MOST_QUOTED = 4
"""So many reasons and slips are quoted; further ones are counted."""


@dataclass(frozen=True)
class Writer:
    """Somebody who has written in a lab book, and how many of its changes are theirs."""

    name: str
    changes: int


@dataclass(frozen=True)
class MarkingFact:
    """Something that can be seen: of which kind it is, and in words."""

    kind: FactKind
    words: Sentence


def gather_facts(
    book: LabBook, analysis: Analysis, report: Report, opened: Collection[StageName], writers: Sequence[Writer]
) -> tuple[MarkingFact, ...]:
    """What can be seen of a lab book, kind by kind.

    Parameters
    ----------
    book : LabBook
    analysis : Analysis
    report : Report
        Both of the same lab book.
    opened : collection of str
        The stations that somebody of its bench has opened.
    writers : sequence of Writer
    """
    said: dict[FactKind, Iterable[Sentence]] = {
        "readings": _of_readings(book, analysis),
        "repeats": _of_repeats(book),
        "decimals": _of_decimals(book, analysis),
        "slips": _of_slips(book, analysis),
        "set_aside": _of_set_aside(book),
        "bars": _of_bars(book, analysis),
        "residuals": _of_residuals(book, analysis, opened),
        "finding": _of_findings(analysis.findings),
        "words": _of_words(report),
        "shares": _of_writers(writers),
    }
    return tuple(MarkingFact(kind, words) for kind, sentences in said.items() for words in sentences)


def _written_rows(run: Run, quantity: str) -> list[int]:
    """How many readings of a quantity are written at each setting where there are any, set aside or not."""
    counts = [sum(r is not None and bool(r.text.strip()) for r in s.readings.get(quantity, ())) for s in run.settings]
    return [n for n in counts if n]


def _of_readings(book: LabBook, analysis: Analysis) -> Iterator[Sentence]:
    for run in book.runs:
        quantities = book.table_of(run)
        if not quantities:
            continue
        changed = quantities[0]
        count = run.count if run.log is not None else len(_written_rows(run, changed.id))
        symbol = plain_symbol(changed)
        wanted = book.plan.wanted.get(changed.id)
        asked = f" ({wanted.count} are asked for)" if wanted is not None and wanted.count else ""
        spread = next(
            (c.range_text for r in analysis.runs if r.run == run.id for c in r.columns if c.quantity == changed.id and c.range_text), ""
        )
        over = f", {spread}" if spread else ""
        yield say(
            "fact_settings", "{run}: {count} settings of {symbol}{asked}{over}.",
            run=run.name, count=count, symbol=symbol, asked=asked, over=over,
        )  # fmt: skip


def _of_repeats(book: LabBook) -> Iterator[Sentence]:
    for run in book.runs:
        for quantity in book.table_of(run)[1:]:
            if quantity.kind != "measured" or quantity.repeats < 2 or run.log is not None:
                continue
            yield _say_repeats(run, quantity)


def _say_repeats(run: Run, quantity: Quantity) -> Sentence:
    counts, symbol = _written_rows(run, quantity.id), plain_symbol(quantity)
    if not counts:
        return say("fact_no_repeats", "{run}: nothing is written of {symbol}.", run=run.name, symbol=symbol)
    if len(set(counts)) == 1:
        times = _times(counts[0])
        return say("fact_repeats_all", "{run}: {symbol} was read {times} at every setting.", run=run.name, symbol=symbol, times=times)
    first, *others = sorted(Counter(counts).items(), reverse=True)
    noun = "setting" if first[1] == 1 else "settings"
    words = ", ".join([f"{_times(first[0])} at {first[1]} {noun}", *(f"{_times(n)} at {settings}" for n, settings in others)])
    return say("fact_repeats_some", "{run}: {symbol} was read {words}.", run=run.name, symbol=symbol, words=words)


def _times(count: int) -> str:
    return {1: "once", 2: "twice"}.get(count, f"{count} times")


def _of_decimals(book: LabBook, analysis: Analysis) -> Iterator[Sentence]:
    wrong = [slip.message for slip in analysis.slips if slip.kind == "wrong_decimals"]
    kept = sum(c.kind == "wrong_decimals" for c in book.confirmed)
    if kept:
        yield say("fact_decimals_kept", "Other decimals than the rest, and said to be right: {count}.", count=kept)
    yield from wrong[:MOST_QUOTED]
    if not wrong and not kept:
        yield say("fact_decimals_alike", "All readings of one quantity have the same number of decimals.")


def _of_slips(book: LabBook, analysis: Analysis) -> Iterator[Sentence]:
    yield say(
        "fact_slips", "Possible slips: {open} not answered, {right} looked at and said to be right.",
        open=len(analysis.slips), right=len(book.confirmed),
    )  # fmt: skip
    yield from (slip.message for slip in analysis.slips[:MOST_QUOTED] if slip.kind != "wrong_decimals")


def _of_set_aside(book: LabBook) -> Iterator[Sentence]:
    reasons: Counter[str] = Counter()
    for run in book.runs:
        for setting in run.settings:
            if setting.set_aside is not None:
                reasons[setting.set_aside] += 1
                continue
            reasons.update(
                r.set_aside for readings in setting.readings.values() for r in readings if r is not None and r.set_aside is not None
            )
        if run.log is not None:
            reasons.update({part.reason: part.last - part.first + 1 for part in run.log.aside})
    if not reasons:
        yield say("fact_none_aside", "Nothing is set aside.")
    for reason, count in reasons.most_common(MOST_QUOTED):
        yield say("fact_aside", "Set aside, {count}: “{reason}”.", count=count, reason=reason)
    if len(reasons) > MOST_QUOTED:
        yield say("fact_more_aside", "And for {count} other reasons.", count=len(reasons) - MOST_QUOTED)


def _of_bars(book: LabBook, analysis: Analysis) -> Iterator[Sentence]:
    fits = [fit for fit in analysis.fits if fit.trouble is None]
    for fit in fits:
        yield say("fact_fitted", "{fit}: {method}.", fit=_name(fit, book), method=told(fit.method, "; "))
    if not fits:
        yield say("fact_no_fit", "Nothing is fitted.")


def _name(fit: FitResult, book: LabBook) -> str:
    """What a fit is called; with its plot where several plots have one."""
    own = fit.name or fit.shape_words or "Straight line"
    if len({f.graph for f in book.fits}) == 1:
        return own
    return f"{name_plot(book, next(f for f in book.fits if f.id == fit.fit))}, {own}"


def _of_residuals(book: LabBook, analysis: Analysis, opened: Collection[StageName]) -> Iterator[Sentence]:
    by_eye = {fit.id for fit in book.fits if fit.by_eye is not None}
    if "fit" not in opened:
        yield say("fact_fit_not_opened", "Nobody of the bench has opened Fit, where the residuals are.")
    for fit in analysis.fits:
        if fit.trouble is not None:
            continue
        if fit.within:
            yield say("fact_within", "{fit}: {words}.", fit=_name(fit, book), words=told(fit.within, "; "))
        if fit.is_doubtful:
            yield say("fact_doubtful", "{fit}: the points do not follow what is fitted to them.", fit=_name(fit, book))
        if fit.fit in by_eye:
            yield say("fact_own_line", "{fit}: the bench has drawn a line of its own first or beside it.", fit=_name(fit, book))


def _of_findings(findings: Sequence[FindingResult]) -> Iterator[Sentence]:
    for found in findings:
        if found.value is None:
            yield say("fact_no_finding", "{name}: no value.", name=found.name)
            continue
        stated = "" if found.said else " It is not stated as a rounded value."
        compared = f" {told(found.comparison)}" if found.verdict is not None else ""
        text = found.value.text
        yield say("fact_finding", "{name}: {value}.{stated}{compared}", name=found.name, value=text, stated=stated, compared=compared)


def _of_words(report: Report) -> Iterator[Sentence]:
    own = [(part.title, part.section.words) for part in report.printed if part.section is not None]
    if own:
        yield say("fact_words", "Words of their own: {words}.", words=", ".join(f"{title} {count}" for title, count in own))
    about_words = [m.words for m in report.missing if m.words.code in ("section_empty", "section_short", "typed_was", "no_such_value")]
    yield from about_words[: MOST_QUOTED * 2]


def _of_writers(writers: Sequence[Writer]) -> Iterator[Sentence]:
    whole = sum(writer.changes for writer in writers)
    for writer in writers:
        yield say("fact_share", "{name}: {changes} of {whole} changes.", name=writer.name, changes=writer.changes, whole=whole)
