"""Files as tables of text: delimited text, spreadsheets, and our own lab book file. Anything else is refused with a sentence."""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from python_calamine import CalamineError, CalamineWorkbook, PasswordError

from hobrel.core.document.lab_book import LabBook, Setting, read_lab_book
from hobrel.core.errors import CoreError
from hobrel.interchange.decimal_signs import join_decimal_commas, take_out_thousands
from hobrel.interchange.judging import MOST_COLUMNS, MOST_ROWS, damaged, judge_workbook
from hobrel.server.problems import Problem
from hobrel.server.texts import is_plain, refuse_no_text

MOST_BYTES = 64_000_000
_SEPARATORS = {"\t": "tabs", ";": "semicolons", ",": "commas", "|": "bars", " ": "blanks"}

_QUOTED = re.compile('"[^"]*"')

EMPTY = "This file is empty: there is nothing to bring in."


@dataclass(frozen=True)
class Sheet:
    """One table: rows of cells as text. `settings` is there for a run of our own lab book file."""

    name: str
    rows: list[list[str]]
    settings: tuple[Setting, ...] | None = None


@dataclass(frozen=True)
class Tables:
    """What a file holds, and a few words about how it was read."""

    sheets: tuple[Sheet, ...]
    words: str
    book: LabBook | None = None


def read_tables(data: bytes, name: str) -> Tables:
    """Read a file that somebody wants to bring in.

    Raises
    ------
    Problem
        422 ``too_large``, ``damaged`` or ``not_a_table``, with a sentence that says what to do.
    """
    if len(data) > MOST_BYTES:
        raise Problem(
            422,
            "too_large",
            f"This file is larger than {MOST_BYTES // 1_000_000} MB. Take out the columns that you need and bring in those.",
        )
    if not data.strip():
        raise Problem(422, "not_a_table", EMPTY)
    if data[:2] == b"PK" or data[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1":
        return _read_workbook(data)
    text, encoding = _decode(data)
    if name.lower().endswith(".json") or text.lstrip()[:1] == "{":
        return _read_json(text)
    return _read_delimited(text, encoding)


def _decode(data: bytes) -> tuple[str, str]:
    encoding = "UTF-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "UTF-8"
    try:
        text = data.decode("utf-16" if encoding == "UTF-16" else "utf-8-sig", errors="replace" if encoding == "UTF-16" else "strict")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    if not text.strip():
        raise Problem(422, "not_a_table", EMPTY)
    if not is_plain(text) or sum(c < " " and c not in "\t\r\n\f" for c in text[:4000]) > 8:
        raise Problem(422, "not_a_table", "This is not a text file with a table, nor a spreadsheet. Save it as CSV, XLSX or ODS first.")
    return text, encoding


def _read_json(text: str) -> Tables:
    try:
        content = json.loads(text)
    except (ValueError, RecursionError) as trouble:
        raise Problem(422, "damaged", "This JSON file is damaged and cannot be read. Take it out again from where it came.") from trouble
    if not isinstance(content, Mapping) or content.get("format") != "hobrel-lab-book":
        raise Problem(422, "not_a_table", "This JSON file is not a Hobrel lab book.")
    refuse_no_text(content)
    try:
        book = read_lab_book(content)
    except CoreError as trouble:
        raise Problem(422, "too_large" if trouble.code == "too_large" else "damaged", trouble.message) from trouble
    return Tables(tuple(_sheet_of_run(book, i) for i in range(len(book.runs))), "a Hobrel lab book", book)


def _sheet_of_run(book: LabBook, place: int) -> Sheet:
    run = book.runs[place]
    read = [q for q in book.quantities if q.kind in ("changed", "measured")]
    heads = [f"{q.symbol}{f' {i + 1}' if q.repeats > 1 else ''}{f' ({q.unit})' if q.unit else ''}" for q in read for i in range(q.repeats)]
    rows = [heads]
    if run.log is not None:
        logged = [q for q in read if q.id in run.log.columns]
        units = [run.log.units.get(q.id, q.unit) for q in logged]
        heads = [f"{q.symbol} ({unit})" if unit else q.symbol for q, unit in zip(logged, units, strict=True)]
        return Sheet(run.name, [heads, *(list(row) for row in zip(*(run.log.columns[q.id] for q in logged), strict=True))])
    for setting in run.settings:
        cells = []
        for q in read:
            readings = setting.readings.get(q.id, ())
            cells += [(r.text if (r := readings[i] if i < len(readings) else None) else "") for i in range(q.repeats)]
        rows.append(cells)
    return Sheet(run.name, rows, run.settings)


def _read_delimited(text: str, encoding: str) -> Tables:
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    while lines and not lines[-1].strip():
        lines.pop()
    if len(lines) > MOST_ROWS:
        raise Problem(422, "too_large", f"This file has more than {MOST_ROWS:,} lines. Keep every tenth line, or the part that you need.")
    separator = _find_separator([_QUOTED.sub('""', line) for line in lines[:300] if line.strip()])
    if separator == " ":
        rows = [line.removeprefix("#").split() for line in lines]
    elif separator:
        csv.field_size_limit(100_000)
        try:
            rows = [[c.strip() for c in row] for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=separator)]
        except csv.Error as trouble:
            raise Problem(422, "damaged", "A quotation mark in this file is never closed, so its cells cannot be told apart.") from trouble
    else:
        rows = [[line.strip()] for line in lines]
    _check_width(rows)
    parted = f"separated by {_SEPARATORS[separator]}" if separator else "one column"
    if separator == "," and (joined := join_decimal_commas(rows)) is not None:
        rows, parted = joined, "separated by commas, which are decimal signs too"
    rows, without = take_out_thousands(rows)
    return Tables((Sheet("table", rows),), f"text, {parted}, {encoding}{', thousands separators taken out' if without else ''}")


def _find_separator(lines: list[str]) -> str:
    """The sign that parts most lines into the same number of cells; a comma only where it cannot be a decimal sign."""
    best, found = 0.0, ""
    for separator in _SEPARATORS:
        counts = Counter(len(line.split()) if separator == " " else line.count(separator) + 1 for line in lines)
        width, often = counts.most_common(1)[0]
        # tabs and semicolons part cells and nothing else, also where half the lines are about the logger
        if width < 2 or often < (0.4 if separator in "\t;" else 0.6) * len(lines):
            continue
        # what a logger writes about itself is of two words as often as a row is of two numbers, and 9:15 AM has a blank in it
        if separator == " " and (found in ("\t", ";") or (found == "," and not _are_decimal_commas(lines[-20:]))):
            continue
        if (
            separator == ","
            and width == 2
            and not any("." in line or ", " in line for line in lines)
            and all(_is_decimal_comma(line) for line in lines[-20:])
        ):
            continue
        score = often / len(lines) + (0.01 if separator in "\t;" else 0.0)
        if score > best:
            best, found = score, separator
    return found


def _are_decimal_commas(lines: list[str]) -> bool:
    """Whether every comma stands within a number, where lines are parted by blanks."""
    return all(_is_decimal_comma(cell) for line in lines for cell in line.split() if "," in cell)


def _is_decimal_comma(line: str) -> bool:
    whole, _, part = line.strip().partition(",")
    return whole.lstrip("-−").isdigit() and part.isdigit()


def _check_width(rows: list[list[str]]) -> None:
    widest = max((len(r) for r in rows), default=0)
    if widest > MOST_COLUMNS:
        raise Problem(422, "too_large", f"This table has {widest:,} columns; at most {MOST_COLUMNS} can be looked through.")


def _read_workbook(data: bytes) -> Tables:
    if data[:2] == b"PK":
        judge_workbook(data)
    try:
        workbook = CalamineWorkbook.from_filelike(io.BytesIO(data))
        names = workbook.sheet_names
        sheets = []
        for name in names[:40]:
            sheet = workbook.get_sheet_by_name(name)
            if sheet.total_height > MOST_ROWS or sheet.total_width > MOST_COLUMNS:
                size = f"{sheet.total_height:,} rows and {sheet.total_width:,} columns"
                raise Problem(
                    422, "too_large", f"The sheet {name} has {size}; at most {MOST_ROWS:,} and {MOST_COLUMNS} can be looked through."
                )
            rows = [[_cell_text(c) for c in row] for row in sheet.to_python(skip_empty_area=True)]
            if rows:
                sheets.append(Sheet(name, rows))
    except PasswordError as trouble:
        raise Problem(422, "damaged", "This spreadsheet is locked with a password. Save it without one first.") from trouble
    except (CalamineError, OSError, ValueError) as trouble:
        raise damaged() from trouble
    if not sheets:
        raise Problem(422, "not_a_table", "This spreadsheet has no filled cells.")
    return Tables(tuple(sheets), "a spreadsheet")


def _cell_text(value: Any) -> str:
    """A cell as somebody would have typed it; whole numbers without “.0”."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else f"{value:.12g}"
    text = str(value).strip()
    if not is_plain(text):
        raise damaged()
    return text
