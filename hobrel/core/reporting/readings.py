"""The readings of a run as they were written, and what follows from them, row by row."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from hobrel.core.document.lab_book import LabBook, Quantity, Run, Setting
from hobrel.core.presentation.results import Analysis, Cell, ColumnResult, RunResult
from hobrel.core.presentation.rows import call_row
from hobrel.core.reporting.outline import name_run, write_x_unit
from hobrel.core.reporting.tree import (
    MOST_LETTERS,
    Block,
    Inlines,
    Items,
    Paragraph,
    Table,
    Words,
    letters_of,
    rich_words,
    say_words,
    set_symbols,
)
from hobrel.core.rounding import MINUS, with_unit
from hobrel.core.sentences import told, with_capital
from hobrel.core.units.calculus import tidy_unit

_NOTHING = "–"


@dataclass(frozen=True)
class _Written:
    """A column of a table: its heading, whether it holds words, and its cell in each row."""

    head: Inlines
    worded: bool
    cells: tuple[Inlines, ...]


def write_constants(book: LabBook, analysis: Analysis) -> tuple[Block, ...]:
    """What is the same at all settings of the first run, where the constants of the plan are."""
    joined: list[Words] = []
    for column in analysis.runs[0].columns if analysis.runs else ():
        if column.constant is not None:
            joined += [Words("; " if joined else "The same at all settings: "), *rich_words(column.symbol)]
            joined.append(Words(f" = {column.constant.text}"))
    return (Paragraph((*joined, Words("."))),) if joined else ()


def write_readings(book: LabBook, run: Run, result: RunResult) -> tuple[Block, ...]:
    """The tables of a run: what was written, each reading with the digits that it was written with, and what follows from it."""
    if result.logged:
        return (Paragraph(set_symbols(told(result.logged))),)
    by_id = {column.quantity: column for column in result.columns}
    written = [(i, setting) for i, setting in enumerate(run.settings) if any(texts_of(setting, q.id) for q in book.quantities)]
    if not written:
        return (Paragraph(say_words("There are no readings yet."), "note"),)
    rows = [i for i, _ in written]
    quantities = [q for q in book.table_of(run) if q.id in by_id]
    read = [(q.name, list(_read_columns(q, run, rows, by_id[q.id]))) for q in quantities]
    named = run.name if len(book.runs) > 1 else ""
    said = (_say_readings(quantities, len(rows), named), *_say_uncertain(quantities, run, rows, by_id))
    caption = say_words(" ".join(words for words in said if words))
    beginning = read[0][1] if read else []
    blocks: list[Block] = list(_tables(f"readings-{run.id}", caption, beginning, read[1:]))
    worked = [by_id[q.id] for q in book.quantities if q.kind == "derived" and q.id in by_id and _has_values(by_id[q.id], rows)]
    if worked:
        names = {q.id: q.name for q in book.quantities}
        follows = [
            (names[c.quantity], [_Written(_head(c), False, tuple(_struck_if(_pair(c.cells[i]), run.settings[i]) for i in rows))])
            for c in worked
        ]
        words = f"What follows from the readings{f': {named}' if named else ''}."
        blocks += _tables(f"derived-{run.id}", say_words(words), beginning[:1], follows)
    return tuple(blocks)


def texts_of(setting: Setting, quantity: str) -> list[str]:
    """What is written at a setting for a quantity."""
    return [reading.text for reading in setting.readings.get(quantity, ()) if reading is not None]


def _read_columns(quantity: Quantity, run: Run, rows: list[int], column: ColumnResult) -> Iterator[_Written]:
    head, worded = _head(column), quantity.holds == "words"
    for repeat in range(quantity.repeats):
        which = say_words(f" ({repeat + 1})") if quantity.repeats > 1 else ()
        yield _Written((*head, *which), worded, tuple(_reading(run.settings[i], quantity.id, repeat, worded) for i in rows))
    if quantity.repeats > 1:
        yield _Written((Words("mean "), *head), False, tuple(_struck_if(_pair(column.cells[i]), run.settings[i]) for i in rows))
    elif not worded and _common_u(column, rows) is None and any(column.cells[i].u_text for i in rows) and not _has_own_u(run, quantity.id):
        yield _Written((Words("± "), *head), False, tuple(_struck_if(column.cells[i].u_text, run.settings[i]) for i in rows))


def _reading(setting: Setting, quantity: str, repeat: int, worded: bool) -> Inlines:
    readings = setting.readings.get(quantity, ())
    reading = readings[repeat] if repeat < len(readings) else None
    if reading is None:
        return say_words(_NOTHING)
    text = reading.text if worded else reading.text.replace("-", MINUS)
    return say_words(text, "struck" if reading.set_aside or setting.set_aside is not None else "plain")


def _common_u(column: ColumnResult, rows: list[int]) -> str | None:
    """The ± that every value of a column has; None where they differ, empty where none has any."""
    found = {column.cells[i].u_text for i in rows if column.cells[i].value is not None}
    return found.pop() if len(found) == 1 else "" if not found else None


def _has_own_u(run: Run, quantity: str) -> bool:
    return any("±" in text or "+/-" in text for setting in run.settings for text in texts_of(setting, quantity))


def _say_readings(quantities: list[Quantity], rows: int, named: str) -> str:
    if not quantities:
        return f"Readings{f': {named}' if named else ''}."
    settings = f"{rows} setting{'' if rows == 1 else 's'} of {quantities[0].name}"
    if named:
        return f"Readings at {settings}: {named}. Each has the digits that were written down."
    return f"Readings at {settings}, each with the digits that were written down."


def _say_uncertain(quantities: list[Quantity], run: Run, rows: list[int], by_id: dict[str, ColumnResult]) -> Iterator[str]:
    for quantity in quantities:
        column = by_id[quantity.id]
        u = _common_u(column, rows) if quantity.repeats == 1 and quantity.holds == "numbers" else None
        if u:
            # an instrument's is said as it is: half of 5 mL is 2.5 mL, also where a ± is rounded to one figure
            of_instrument = "" if _has_own_u(run, quantity.id) else column.instrument_text.partition(" ± ")[2].partition(", ")[0]
            yield f"Each {quantity.name} is uncertain by {of_instrument or with_unit(u, column.unit)}."


def _head(column: ColumnResult) -> Inlines:
    return (*rich_words(column.symbol), *say_words(over_unit(column.unit)))


def over_unit(unit: str) -> str:
    """What stands behind a symbol in a heading: “ / s”, “ / (m/s)”."""
    return f" / ({unit})" if "/" in unit or " " in unit else f" / {unit}" if unit else ""


def _pair(cell: Cell) -> str:
    return f"{cell.value_text} ± {cell.u_text}" if cell.u_text else cell.value_text


def _struck_if(text: str, setting: Setting) -> Inlines:
    return say_words(text or _NOTHING, "struck" if setting.set_aside is not None and text else "plain")


def _has_values(column: ColumnResult, rows: list[int]) -> bool:
    """Whether there is a column to print; what is the same at all settings is said before the tables."""
    return column.trouble is None and column.constant is None and any(column.cells[i].value is not None for i in rows)


def _table(key: str, caption: Inlines, columns: list[_Written]) -> Table:
    rows = zip(*(column.cells for column in columns), strict=True)
    return Table(key, caption, tuple(c.head for c in columns), tuple(rows), tuple(c.worded for c in columns))


def _tables(key: str, caption: Inlines, first: list[_Written], groups: Sequence[tuple[str, list[_Written]]]) -> Iterator[Table]:
    """A table, or as many as it takes for no number to break: the columns of a quantity stay together, with what was set before them."""
    held, names, number = list(first), list[str](), 0
    for name, columns in groups:
        if names and _letters(held) + _letters(columns) > MOST_LETTERS:
            yield _part_of(key, caption, held, names, number)
            held, names, number = list(first[:1]), [], number + 1
        held += columns
        names.append(name)
    yield _part_of(key, caption, held, names, number)


def _letters(columns: Sequence[_Written]) -> int:
    return sum(letters_of(c.head, c.cells)[0] for c in columns)


def _part_of(key: str, caption: Inlines, columns: list[_Written], names: Sequence[str], number: int) -> Table:
    if not number:
        return _table(key, caption, columns)
    return _table(f"{key}-{number + 1}", say_words(f"At the same settings: {', '.join(names)}."), columns)


def list_left_out(book: LabBook) -> tuple[Block, ...]:
    """Readings, settings, rows and stretches that do not count, each by its name and with the reason that was given."""
    items: list[Inlines] = []
    quantities = {q.id: q for q in book.quantities}
    several = len(book.runs) > 1
    for run in book.runs:
        of = f"{run.name}, " if several and run.name else ""
        items += [
            say_words(with_capital(f"{of}rows {part.first + 1} to {part.last + 1}: {part.reason}"))
            for part in (run.log.aside if run.log else ())
        ]
        for row, setting in enumerate(run.settings):
            if setting.set_aside is None and not any(r is not None and r.set_aside for each in setting.readings.values() for r in each):
                continue
            where = f"{of}at {call_row(book, run, row)}"
            if setting.set_aside is not None:
                items.append(say_words(with_capital(f"{where}, the whole setting: {setting.set_aside}")))
            for key, readings in setting.readings.items():
                quantity = quantities.get(key)
                for reading in readings:
                    if quantity is not None and reading is not None and reading.set_aside:
                        what = f"{quantity.name} {with_unit(reading.text, tidy_unit(quantity.unit))}"
                        items.append(say_words(with_capital(f"{where}, {what}: {reading.set_aside}")))
    stretches = [f for f in book.fits if f.low is not None or f.high is not None]
    along = {g.id: quantities.get(g.x) for g in book.graphs}
    for fit in stretches:
        x, unit = along.get(fit.graph), write_x_unit(book, fit)
        of = f"{name_run(book, fit)}: " if several else ""
        places = (("from", fit.low), ("to", fit.high))
        ends = " ".join(f"{word} {with_unit(f'{end:g}'.replace('-', MINUS), unit)}" for word, end in places if end is not None)
        what = f"fitted was only the stretch {ends} of {x.name if x else 'the graph'}; the points outside it do not count there."
        items.append(say_words(with_capital(f"{of}{what}")))
    return (Items(tuple(items)),) if items else (Paragraph(say_words("Nothing: everything that was written down counts.")),)
