"""What is not right yet in a plan, said while it is written: at the stage where it stands, in the words that benches would get."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.plans import freeze_plan
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import FUNCTIONS, symbols_in
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.linearising.algebra import known_in, read_relation
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.tables import read_tables
from hobrel.core.questions.believed import believe
from hobrel.core.questions.plan_notes import PlanNote
from hobrel.core.questions.rig_checks import check_rig
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.sentences import Sentence, said_by, say
from hobrel.core.units.calculus import write_unit
from hobrel.core.units.constants import constant_symbols

FEWEST_SETTINGS = 5
_SYMBOL = re.compile(r"[A-Za-z]+[0-9]*(_[A-Za-z0-9]+)*")


def check_plan(book: LabBook) -> tuple[PlanNote, ...]:
    """What is to be looked at again, in the order of the trail. A plan that could be tried is tried with perfect readings."""
    blank = freeze_plan(book)
    found = [*_check_question(book), *_check_table(book), *_check_tables(book), *_check_numbers(book), *check_rig(book)]
    tried = contain("plan with readings", _try, book)
    if isinstance(tried, CoreError):
        found += _check_results(book, compute(blank))
        if tried.code != "no_quantities" and all(tried.message != note.words.text for note in found):
            words = say("no_dry_run", "It cannot be tried dry yet: {reason}", reason=tried.message)
            found.append(PlanNote("read", words, lacks_truth=tried.code == "unknown_value"))
    else:
        found += _check_results(book, tried)
    found += _check_rest(book)
    order = {stage: i for i, stage in enumerate(("ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report"))}
    return tuple(sorted(found, key=lambda note: order[note.stage]))


def _try(book: LabBook) -> Computation:
    return compute(believe(book).draw_perfect())


def _check_question(book: LabBook) -> Iterator[PlanNote]:
    if not book.question.strip():
        yield PlanNote("ask", say("no_question", "Write the question that the benches are to answer."))
    if not book.relation.strip():
        return
    symbols = [q.symbol for q in book.quantities] + [f.symbol for f in book.findings]
    read = contain("relation", read_relation, book.relation, set(known_in(book.relation, symbols)))
    if isinstance(read, CoreError):
        yield PlanNote("ask", said_by(read))
        return
    held = symbols_in(read[0]) | symbols_in(read[1])
    measured = {canonical_name(q.symbol) for q in book.quantities}
    # a symbol that only the relation has may be what findings are made of
    if book.findings and not held - measured - set(constant_symbols()) - {"pi"}:
        symbol = write_symbol(book.findings[0].symbol)
        yield PlanNote("ask", say("not_in_relation", "The relation does not hold {symbol}, which is to be found.", symbol=symbol))


def _check_table(book: LabBook) -> Iterator[PlanNote]:
    kinds = Counter(q.kind for q in book.quantities)
    if not kinds["changed"] or not kinds["measured"]:
        words = say("no_quantities", "A plan has something to set and something to measure. Write two headings in its table first.")
        yield PlanNote("read", words, stop=True)
    for quantity in book.quantities:
        symbol = plain_symbol(quantity)
        if quantity.kind in ("changed", "measured") and quantity.holds == "numbers" and quantity.instrument is None:
            words = say(
                "no_instrument", "Say what {name} ({symbol}) is read from, so that readings have a ±.", name=quantity.name, symbol=symbol
            )
            yield PlanNote("read", words, quantity=quantity.id)
        if quantity.kind == "constant" and not quantity.value.strip() and quantity.id not in book.plan.own_values:
            words = say(
                "no_value", "{name} ({symbol}) has no value. Write it, or let each bench write its own.", name=quantity.name, symbol=symbol
            )
            yield PlanNote("read", words, quantity=quantity.id)
        if quantity.kind == "derived" and not quantity.formula.strip() and not quantity.is_gathered:
            left = (
                " Benches find it; a dry run needs it too."
                if quantity.id in book.plan.left_open
                else " Write it, or leave it to the benches."
            )
            words = say("no_formula", "{name} ({symbol}) has no formula.{left}", name=quantity.name, symbol=symbol, left=left)
            yield PlanNote("average", words)


def _check_tables(book: LabBook) -> Iterator[PlanNote]:
    taken = {canonical_name(q.symbol): q.name for q in book.quantities}
    relation = canonical_name(book.relation)
    for table in book.plan.tables:
        symbol, name = canonical_name(table.symbol), table.name
        for read in read_tables((table,)):
            if read.trouble is not None:
                yield PlanNote("read", said_by(read.trouble))
        if not _SYMBOL.fullmatch(symbol):
            yield PlanNote("read", say("table_symbol", "The table “{name}” needs a symbol by which formulas look it up, as ρ.", name=name))
        elif symbol in taken or symbol in FUNCTIONS:
            other = taken.get(symbol, "a function")
            words = say(
                "table_symbol_taken", "{symbol} stands for the table “{name}” and for {other}.", symbol=symbol, name=name, other=other
            )
            yield PlanNote("read", words)
        elif re.search(rf"(?<![A-Za-z0-9_]){re.escape(symbol)}\s*\(", relation):
            words = say(
                "table_in_relation",
                "A relation looks nothing up. Write {symbol} alone in it, and work {symbol} out as a derived quantity.",
                symbol=symbol,
            )
            yield PlanNote("ask", words)
        taken[symbol] = name


def _check_numbers(book: LabBook) -> Iterator[PlanNote]:
    for key, wanted in book.plan.wanted.items():
        quantity = next((q for q in book.quantities if q.id == key), None)
        if quantity is None:
            continue
        ends = [contain("range", parse_reading, text, quantity.unit) for text in (wanted.low, wanted.high) if text.strip()]
        for end in ends:
            if isinstance(end, CoreError):
                yield PlanNote("read", said_by(end))
        values = [float(end.value) for end in ends if not isinstance(end, CoreError)]
        if len(values) == 2 and values[0] >= values[1]:
            yield PlanNote("read", say("bad_range", "The range of {name} ends before it begins.", name=quantity.name))
        if 0 < wanted.count < FEWEST_SETTINGS:
            words = say(
                "few_settings",
                "With {n} settings nobody can tell whether a plot is straight; {least} or more can.",
                n=wanted.count,
                least=FEWEST_SETTINGS,
            )
            yield PlanNote("read", words)


def _check_results(book: LabBook, tried: Computation) -> Iterator[PlanNote]:
    """Formulas that do not work, with readings or without."""
    of = {q.id: q for q in book.quantities}
    for columns in tried.columns.values():
        for key, column in columns.columns.items():
            quantity = of.get(key)
            if quantity is not None and quantity.kind == "derived" and quantity.formula.strip() and _is_wrong(column.trouble):
                assert column.trouble is not None
                yield PlanNote("average", _of(plain_symbol(quantity), column.trouble))
    for finding in book.findings:
        found = tried.findings[finding.id]
        if isinstance(found, CoreError) and _is_wrong(found):
            yield PlanNote("find", _of(finding.symbol, found))
        elif not isinstance(found, CoreError) and not finding.unit.strip() and not found.traced.unit.is_number:
            unit = write_unit(found.traced.unit)
            words = say(
                "finding_without_unit", "{name} has no unit yet: write {unit}, or another of its kind.", name=finding.name, unit=unit
            )
            yield PlanNote("find", words)


def _is_wrong(trouble: CoreError | None) -> bool:
    """Whether something has to be written otherwise, and does not only wait for readings."""
    return (
        trouble is not None
        and trouble.code in ("bad_formula", "bad_unit", "bad_job", "bad_table", "outside_domain")
        and "needs" not in trouble.fields
    )


def _of(symbol: str, trouble: CoreError) -> Sentence:
    return say("wrong_formula", "{symbol}: {reason}", symbol=symbol, reason=trouble.message)


def _check_rest(book: LabBook) -> Iterator[PlanNote]:
    part = book.plan
    for stage, pictures in part.pictures.items():
        for picture in pictures:
            if not picture.alt.strip():
                words = say("no_alternative", "A picture has no words for those who do not see it. Say what is to be seen on it.")
                yield PlanNote(stage, words)
    for run in book.runs:
        if run.id in part.given_runs and not run.count:
            yield PlanNote("read", say("nothing_given", "The readings of {name} are given, but there are none yet.", name=run.name))
    if len(part.conditions) == 1:
        yield PlanNote("read", say("one_condition", "There is one condition. With a second one there is something to compare."))
    for name in _twice(c.name for c in part.conditions):
        yield PlanNote("read", say("same_condition", "Two conditions are called {name}.", name=name))
    for name in _twice(s.title for s in part.sections):
        yield PlanNote("report", say("same_section", "Two sections are called {name}.", name=name))
    if part.accepted_shown == "after_own" and not any(f.accepted for f in book.findings):
        yield PlanNote("find", say("nothing_accepted", "No finding has an accepted value that could be shown after the benches’ own."))
    for finding in book.findings:
        if canonical_name(finding.name) == canonical_name(finding.symbol):
            words = say(
                "finding_unnamed", "Say in words what {symbol} is: the benches’ finding is called so.", symbol=write_symbol(finding.symbol)
            )
            yield PlanNote("find", words)
    for row in part.grid:
        if len(row.levels) < 2:
            yield PlanNote("report", say("few_levels", "“{title}” in the marking grid has fewer than two levels.", title=row.title))


def _twice(names: Iterable[str]) -> list[str]:
    return [name for name, n in Counter(name.strip().lower() for name in names).items() if n > 1]
