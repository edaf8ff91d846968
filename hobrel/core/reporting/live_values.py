"""Values that a bench's own words can hold by name: they follow the analysis, and are found again where they were typed by hand."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence

from hobrel.core.document.lab_book import LabBook, Run
from hobrel.core.formulas.typeset import RichRun, RichText, plain_text, rich_symbol, write_symbol
from hobrel.core.presentation.results import Analysis, ColumnResult, FitResult, ShownValue
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.side_by_side import SideBySide
from hobrel.core.reporting.tree import LiveValue
from hobrel.core.rounding import MINUS, with_unit, write_number
from hobrel.core.sentences import told

PARTS_OF_A_VALUE = {"value": "without its ±", "±": "its ± alone", "relative": "its ± as a share"}
MOST_LISTED = 600
"""So many cells of tables are listed by name; of more, each is found when it is named."""
_LEAST_DIGITS = 3
"""So many digits a number has at least that is taken for a live value's: two and fewer are met everywhere by chance."""
_PARTED = re.compile(r"([^,:@]+)([,:@])\s*(.*)")
_NUMBER = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?(?![\w]|[.,]\d)")


def list_values(book: LabBook, analysis: Analysis, from_runs: Mapping[str, SideBySide]) -> tuple[LiveValue, ...]:
    """All values that words can hold, the nearest to what is wanted first; a name stands for one value only.

    `from_runs` are the findings that come out otherwise from other runs.
    """
    found: dict[str, LiveValue] = {}
    for value in _all_values(book, analysis, from_runs):
        found.setdefault(value.name, value)
    return tuple(found.values())


def _all_values(book: LabBook, analysis: Analysis, from_runs: Mapping[str, SideBySide]) -> Iterator[LiveValue]:
    for finding in analysis.findings:
        name = plain_text(finding.symbol)
        if finding.said and finding.value is not None:
            yield from _with_parts(name, finding.symbol, finding.value, finding.name)
            if finding.comparison:
                yield LiveValue(f"{name}:compared", finding.symbol, told(finding.comparison), f"{finding.name}, compared")
        if (finding.said or finding.value is None) and finding.finding in from_runs:
            for row in from_runs[finding.finding].rows:
                if row.value is not None:
                    yield from _with_parts(f"{name}:{row.key}", finding.symbol, row.value, f"{finding.name} from {row.name}")
        if finding.accepted is not None:
            yield LiveValue("accepted", finding.symbol, finding.accepted.text, f"accepted value of {finding.name}")
            yield LiveValue(f"{name}:accepted", finding.symbol, finding.accepted.text, f"accepted value of {finding.name}")
    for with_fit in (False, True):
        # the first of each kind by its name alone, all of them with the fit's
        for fit in analysis.fits:
            yield from _values_of_fit(fit, f":{fit.fit}" if with_fit else "", book.convention.slope_word, with_fit)
    for run in analysis.runs[:1]:
        yield LiveValue("settings", (), str(max((c.count for c in run.columns), default=0)), "how many settings there are")
        for column in run.columns:
            if column.constant is not None:
                yield from _with_parts(plain_text(column.symbol), column.symbol, column.constant, _name_of(book, column.quantity))
    if sum(run.count * len(book.quantities) for run in book.runs if run.log is None) <= MOST_LISTED:
        yield from _means(book, analysis)


def _values_of_fit(fit: FitResult, suffix: str, slope_word: str, named: bool) -> Iterator[LiveValue]:
    of = f" of {fit.name}" if named and fit.name else ""
    for name, word, value in (("gradient", slope_word, fit.gradient), ("intercept", "intercept", fit.intercept)):
        if value is not None:
            yield from _with_parts(f"{name}{suffix}", (RichRun(word),), value, f"{word}{of or ' of the line'}")
    for parameter in fit.parameters:
        if parameter.value is not None:
            yield from _with_parts(f"{parameter.name}{suffix}", rich_symbol(parameter.name), parameter.value, f"{fit.shape_words}{of}")
    if fit.trouble is None:
        yield LiveValue(f"points{suffix}", (), str(fit.n), f"how many points were fitted{of}")
        if fit.reduced_chi2:
            yield LiveValue(f"χ²{suffix}", (RichRun("χ²ν"),), fit.reduced_chi2, f"χ² per degree of freedom{of}")
    for unknown in fit.unknowns:
        if unknown.value is not None:
            yield from _with_parts(f"unknown:{unknown.unknown}", (RichRun(unknown.name),), unknown.value, f"{unknown.name}, read back")


def _means(book: LabBook, analysis: Analysis) -> Iterator[LiveValue]:
    """What was written and worked out at each setting of each run that was written down."""
    for run, result in zip(book.runs, analysis.runs, strict=True):
        for column in result.columns:
            if column.trouble is None and column.constant is None:
                for row in range(min(run.count, len(column.cells)) if run.log is None else 0):
                    yield from _mean_at(book, run, column, row)


def _mean_at(book: LabBook, run: Run, column: ColumnResult, row: int) -> Iterator[LiveValue]:
    cell = column.cells[row]
    if cell.value is None:
        return
    pair = f"{cell.value_text} ± {cell.u_text}" if cell.u_text else cell.value_text
    text = with_unit(f"({pair})" if cell.u_text and column.unit else pair, column.unit)
    of = f"{_name_of(book, column.quantity)} at {call_row(book, run, row)}"
    yield LiveValue(f"{plain_text(column.symbol)}@{run.settings[row].id}", column.symbol, text, of)


class ValuesByName(Mapping[str, LiveValue]):
    """All values by their names: those that are listed, and of a long table each when it is asked for."""

    def __init__(self, listed: Sequence[LiveValue], book: LabBook, analysis: Analysis) -> None:
        self._listed, self._book, self._analysis = {value.name: value for value in listed}, book, analysis

    def __getitem__(self, name: str) -> LiveValue:
        for spelled in (name, _as_shown(name)):
            if spelled in self._listed:
                return self._listed[spelled]
        symbol, _, setting = name.partition("@")
        for run, result in zip(self._book.runs, self._analysis.runs, strict=True) if setting else ():
            row = run.row_of(setting) if run.log is None else None
            for column in result.columns if row is not None else ():
                if plain_text(column.symbol) == symbol and column.trouble is None and row is not None and row < len(column.cells):
                    for value in _mean_at(self._book, run, column, row):
                        return value
        raise KeyError(name)

    def __iter__(self) -> Iterator[str]:
        return iter(self._listed)

    def __len__(self) -> int:
        return len(self._listed)


def _as_shown(name: str) -> str:
    """A name as it stands in the list of what is typed as formulas have it: t₁₀ for t_10, μ for mu; a class has one word of two for the
    gradient.
    """
    parts = _PARTED.fullmatch(name)
    symbol, parting, rest = parts.groups() if parts else (name, "", "")
    shown = "gradient" if symbol.lower() in ("gradient", "slope") else write_symbol(symbol)
    return f"{shown}{parting}{'±' if rest in ('+-', '+/-', 'u') else rest}"


def _name_of(book: LabBook, quantity_id: str) -> str:
    return book.quantity(quantity_id).name


def _with_parts(name: str, symbol: RichText, value: ShownValue, words: str) -> Iterator[LiveValue]:
    yield LiveValue(name, symbol, value.text, words)
    if value.u is None or not value.u_text:
        return
    # a power of ten and a unit, which belong to both
    tail = value.text.partition(f"± {value.u_text}")[2].removeprefix(")")
    alone = {"value": value.value_text + tail, "±": value.u_text + tail}
    if value.value:
        alone["relative"] = f"{write_number(abs(100 * value.u / value.value), 2)} %"
    for part, text in alone.items():
        yield LiveValue(f"{name},{part}", symbol, text, f"{words}, {PARTS_OF_A_VALUE[part]}")


def find_typed(words: str, values: Sequence[LiveValue]) -> dict[str, str]:
    """Numbers in words outside of braces that are live values': the number as typed, and the name of the first value that it is."""
    of_number: dict[str, str] = {}
    for value in values:
        written = _NUMBER.findall(value.text)
        if written and "," not in value.name:
            of_number.setdefault(_plain(written[0]), value.name)
    outside = re.sub(r"\{[^{}]*\}", " ", words)
    found = dict.fromkeys(_NUMBER.findall(outside))
    return {typed: of_number[_plain(typed)] for typed in found if _plain(typed) in of_number and _is_telling(typed)}


def is_still(typed: str, value: LiveValue) -> bool:
    """Whether a number that was typed is still the one of a value."""
    written = _NUMBER.findall(value.text)
    return bool(written) and _plain(written[0]) == _plain(typed)


def stands_in(typed: str, words: str) -> bool:
    """Whether a number is still typed in words, outside of braces."""
    return typed in _NUMBER.findall(re.sub(r"\{[^{}]*\}", " ", words))


def _plain(number: str) -> str:
    return number.replace(MINUS, "-").replace(",", ".")


def _is_telling(typed: str) -> bool:
    return sum(c.isdigit() for c in typed.lstrip("-−0.,")) >= _LEAST_DIGITS
