"""Spreadsheets judged before they are opened: how much they unpack to, and how far apart their filled cells lie.

A single cell at the far end of a sheet makes a table of seventeen thousand million cells; a row said to be repeated makes as many rows
as it says.
"""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NoReturn
from xml.parsers import expat

from hobrel.server.problems import Problem

MOST_UNPACKED = 250_000_000
MOST_ROWS, MOST_COLUMNS = 200_000, 400
MOST_CELLS = 5_000_000
_CHUNK = 1 << 20
_LONGEST_TAG = 4096
_CELL = re.compile(rb'<(?:\w+:)?c\s(?:[^>]*?\s)?r="([A-Z]{1,3})(\d{1,7})"')
_REPEATED = "number-{}-repeated"


@dataclass
class _Extent:
    """The rectangle that holds all filled cells."""

    sheet: str
    rows: int = 0
    columns: int = 0

    def hold(self, row: int, column: int) -> None:
        self.rows, self.columns = max(self.rows, row), max(self.columns, column)
        if self.rows > MOST_ROWS or self.columns > MOST_COLUMNS or self.rows * self.columns > MOST_CELLS:
            raise Problem(
                422,
                "too_large",
                f"{self.sheet} reaches to row {self.rows:,} and column {self.columns:,}. At most {MOST_ROWS:,} rows, "
                f"{MOST_COLUMNS} columns and {MOST_CELLS:,} cells can be looked through. Is there a lone cell far away from the others?",
            )


def judge_workbook(data: bytes) -> None:
    """Refuse what would unpack or spread out to more than a table of readings can be.

    Raises
    ------
    Problem
        422 ``too_large`` or ``damaged``, with a sentence.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            unpacked = sum(entry.file_size for entry in packed.infolist())
            if unpacked > MOST_UNPACKED or unpacked > 200 * len(data) + 10_000_000:
                message = "This spreadsheet unpacks to far more than a table of readings holds, so it was not opened."
                raise Problem(422, "too_large", message)
            for entry in packed.infolist():
                if entry.filename.startswith("xl/worksheets/") and entry.filename.endswith(".xml"):
                    _judge_cells(_read_in_parts(packed, entry))
                elif entry.filename == "content.xml":
                    _judge_repeats(_read_in_parts(packed, entry))
    except (zipfile.BadZipFile, zlib.error, ValueError, EOFError, NotImplementedError, RuntimeError, OSError, expat.ExpatError) as trouble:
        raise damaged() from trouble


def damaged() -> Problem:
    return Problem(422, "damaged", "This spreadsheet is damaged and cannot be opened. Save it again, or as CSV.")


def _read_in_parts(packed: zipfile.ZipFile, entry: zipfile.ZipInfo) -> Iterator[bytes]:
    with packed.open(entry) as content:
        left = MOST_UNPACKED
        while part := content.read(_CHUNK):
            left -= len(part)
            if left < 0:
                raise damaged()
            yield part


def _judge_cells(parts: Iterator[bytes]) -> None:
    """Sheets whose cells say their place."""
    extent, before = _Extent("A sheet"), b""
    for part in parts:
        whole = before + part
        for cell in _CELL.finditer(whole):
            column = 0
            for letter in cell[1]:
                column = column * 26 + letter - 64
            extent.hold(int(cell[2]), column)
        before = whole[-_LONGEST_TAG:]


class _Repeats:
    """Sheets whose cells follow one another, with counts of how often each is repeated."""

    def __init__(self) -> None:
        self.extent = _Extent("A sheet")
        self.row = self.column = self.row_repeats = 0

    def start(self, name: str, attributes: dict[str, str]) -> None:
        kind = name.rpartition(":")[2]
        given = {key.rpartition(":")[2]: value for key, value in attributes.items()}
        if kind == "table":
            self.extent, self.row = _Extent("A sheet"), 0
        elif kind == "table-row":
            self.row_repeats, self.column = _count(given.get(_REPEATED.format("rows"))), 0
            self.row += self.row_repeats
        elif kind in ("table-cell", "covered-table-cell"):
            self.column += _count(given.get(_REPEATED.format("columns")))
            if "value-type" in given or "value" in given or "formula" in given:
                self.extent.hold(self.row, self.column)


def _count(text: str | None) -> int:
    return int(text) if text and text.isdecimal() and len(text) < 12 else 1


def _judge_repeats(parts: Iterator[bytes]) -> None:
    seen, parser = _Repeats(), expat.ParserCreate()
    parser.StartElementHandler = seen.start
    parser.EntityDeclHandler = _refuse_entity
    for part in parts:
        parser.Parse(part, False)
    parser.Parse(b"", True)


def _refuse_entity(*_: object) -> NoReturn:
    raise damaged()
