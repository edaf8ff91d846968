"""Tables of one kind of row for other programs: CSV with its metadata, spreadsheets."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from hobrel.interchange.taking import harmless

FlatCell = str | float | int | bool | datetime | None
Datatype = Literal["string", "number", "integer", "boolean", "dateTime"]
SheetEnding = Literal["csv", "xlsx"]
SPREADSHEETS: dict[SheetEnding, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


@dataclass(frozen=True)
class FlatColumn:
    """A column: its heading, of which kind its cells are, and what it means."""

    name: str
    datatype: Datatype = "string"
    words: str = ""


@dataclass(frozen=True)
class FlatTable:
    """A table: what it is, its columns, and rows of as many cells; an empty cell is None."""

    title: str
    columns: tuple[FlatColumn, ...]
    rows: Sequence[Sequence[FlatCell]]


def write_flat(table: FlatTable, ending: SheetEnding) -> bytes:
    """A table as a file. CSV begins with the mark by which office programs know its letters."""
    return _write_csv(table).encode("utf-8-sig") if ending == "csv" else _write_xlsx(table)


def _write_csv(table: FlatTable) -> str:
    out = io.StringIO(newline="")
    rows = csv.writer(out)
    rows.writerow([harmless(column.name) for column in table.columns])
    rows.writerows([_as_text(cell) for cell in row] for row in table.rows)
    return out.getvalue()


def _as_text(cell: FlatCell) -> str:
    match cell:
        case None:
            return ""
        case bool():
            return "true" if cell else "false"
        case datetime():
            return cell.isoformat(timespec="seconds")
        case str():
            return harmless(cell)
    return repr(cell)


def _write_xlsx(table: FlatTable) -> bytes:
    from openpyxl import Workbook
    from openpyxl.styles import Font

    workbook = Workbook()
    sheet = workbook.active
    sheet.title = "".join(c for c in table.title if c not in "[]:*?/\\'")[:31].strip() or "Table"
    for c, column in enumerate(table.columns, 1):
        head = sheet.cell(1, c, column.name)
        head.font, head.data_type = Font(bold=True), "s"
    for r, row in enumerate(table.rows, 2):
        for c, cell in enumerate(row, 1):
            if cell is None:
                continue
            # office programs know no zones
            place = sheet.cell(r, c, cell.replace(tzinfo=None) if isinstance(cell, datetime) else cell)
            if isinstance(cell, str):
                place.data_type = "s"
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


def describe_flat(table: FlatTable, file: str) -> str:
    """What a CSV file of the table is, after the W3C's “Metadata Vocabulary for Tabular Data” (2015)."""
    columns = [
        {"name": f"c{i}", "titles": c.name, "datatype": c.datatype, **({"dc:description": c.words} if c.words else {})}
        for i, c in enumerate(table.columns)
    ]
    described = {
        "@context": "http://www.w3.org/ns/csvw",
        "url": file,
        "dc:title": table.title,
        "dialect": {"header": True, "encoding": "utf-8"},
        "tableSchema": {"columns": columns},
    }
    return json.dumps(described, ensure_ascii=False, indent=1)
