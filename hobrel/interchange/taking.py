"""Readings and what was computed from them as files for other programs: CSV with its metadata, spreadsheets, our own JSON."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from hobrel.core.document.lab_book import LabBook, Run, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import Column, plain_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.readings.parsing import parse_written
from hobrel.core.units.calculus import parse_unit, write_unit


@dataclass(frozen=True)
class OutCell:
    """One cell: text as written, and the number with its decimals where it is one."""

    text: str
    number: float | None = None
    decimals: int = 0


@dataclass(frozen=True)
class OutColumn:
    """A column: heading, what it means (for metadata), unit, and whether it was computed."""

    name: str
    title: str
    unit: str
    computed: bool
    cells: tuple[OutCell, ...]


BLANK = OutCell("")


def run_table(computation: Computation, run_id: str) -> list[OutColumn]:
    """All columns of a run: every reading as written, why it was set aside, means with ±, derived quantities with ±."""
    columns = computation.columns[run_id]
    run = columns.run
    out: list[OutColumn] = []
    for column in columns.columns.values():
        kind = column.quantity.kind
        if kind in ("changed", "measured"):
            out += _read(column, run)
        elif kind == "derived" and column.traced is not None:
            out += _pair(column, [float(v) for v in _spread(column.traced.value, run)], [float(v) for v in _spread(column.u, run)])
    reasons = tuple(OutCell(reason) for reason in _reasons(run))
    return [*out, OutColumn("set aside", "why the setting was left out of the analysis; empty where it counts", "", False, reasons)]


def _reasons(run: Run) -> list[str]:
    if run.log is None:
        return [s.set_aside or "" for s in run.settings]
    reasons = [""] * run.log.rows
    for part in run.log.aside:
        for row in range(part.first, min(part.last + 1, run.log.rows)):
            reasons[row] = part.reason
    return reasons


def _spread(values: Any, run: Run) -> Any:
    return np.broadcast_to(values, (run.count,)).tolist()


def _read(column: Column, run: Run) -> list[OutColumn]:
    quantity = column.quantity
    worded = column.words is not None
    symbol, unit = plain_symbol(quantity), write_unit(column.traced.unit) if column.traced else "" if worded else quantity.unit
    if run.log is not None:
        logged_in = run.log.units.get(quantity.id, quantity.unit)
        texts = run.log.columns.get(quantity.id) or ("",) * run.log.rows
        cells = tuple(BLANK if not t else OutCell(t) if worded else _as_cell(t, logged_in) for t in texts)
        logged = "" if worded else write_unit(parse_unit(logged_in))
        return [OutColumn(symbol, f"{quantity.name}, as logged", logged, False, cells)]
    out = []
    for repeat in range(quantity.repeats):
        label = f"{symbol} {repeat + 1}" if quantity.repeats > 1 else symbol
        cells, asides = [], []
        for setting in run.settings:
            readings = setting.readings.get(quantity.id, ())
            reading = readings[repeat] if repeat < len(readings) else None
            cells.append(BLANK if reading is None else OutCell(reading.text) if worded else _as_cell(reading.text, quantity.unit))
            asides.append(OutCell((reading.set_aside or "") if reading else ""))
        out.append(OutColumn(label, f"{quantity.name}, as written", unit, False, tuple(cells)))
        if any(a.text for a in asides):
            out.append(OutColumn(f"{label} set aside", f"why this reading of {quantity.name} was left out", "", False, tuple(asides)))
    if quantity.repeats > 1:
        means = [(m.summary.mean, m.u) if m else (float("nan"), float("nan")) for m in column.means]
        out += _pair(column, [m for m, _ in means], [u for _, u in means])
    return out


def _as_cell(text: str, unit: str) -> OutCell:
    try:
        parsed = parse_written(text, unit)
    except CoreError:
        return OutCell(text)
    return OutCell(text, float(parsed.value), parsed.decimals)


def _pair(column: Column, values: list[float], us: list[float]) -> list[OutColumn]:
    quantity = column.quantity
    symbol = plain_symbol(quantity)
    unit = write_unit(column.traced.unit) if column.traced else ""
    mean = "mean " if quantity.kind != "derived" else ""

    def cell(value: float) -> OutCell:
        return BLANK if value != value else OutCell(f"{value:.12g}", value, 12)

    return [
        OutColumn(f"{mean}{symbol}", f"{mean}{quantity.name}", unit, True, tuple(cell(v) for v in values)),
        OutColumn(f"u({mean}{symbol})", f"uncertainty of {mean}{quantity.name}", unit, True, tuple(cell(u) for u in us)),
    ]


def harmless(text: str) -> str:
    """A cell that an office program would run as a command, made plain text; numbers stay numbers."""
    if text[:1] in ("=", "+", "-", "@", "\t", "\r") and _as_cell(text, "").number is None:
        return "'" + text
    return text


def _heading(column: OutColumn) -> str:
    return f"{column.name} ({column.unit})" if column.unit else column.name


def write_csv(columns: list[OutColumn]) -> str:
    """RFC 4180 with points for decimals as they were written."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow([harmless(_heading(c)) for c in columns])
    for i in range(len(columns[0].cells)):
        writer.writerow([harmless(c.cells[i].text) for c in columns])
    return out.getvalue()


def write_csvw(columns: list[OutColumn], table: str, title: str) -> str:
    """Metadata after the W3C's “Metadata Vocabulary for Tabular Data” (2015): what each column is, its unit, what was computed."""
    described = [
        {
            "titles": _heading(c),
            "name": f"c{i}",
            "dc:description": c.title,
            "datatype": "string" if not any(x.number is not None for x in c.cells) else {"base": "string" if not c.computed else "number"},
            **({"schema:unitText": c.unit} if c.unit else {}),
            "hobrel:computed": c.computed,
        }
        for i, c in enumerate(columns)
    ]
    context = ["http://www.w3.org/ns/csvw", {"hobrel": "urn:hobrel:"}]
    metadata = {"@context": context, "url": table, "dc:title": title, "tableSchema": {"columns": described}, "dialect": {"header": True}}
    return json.dumps(metadata, ensure_ascii=False, indent=1)


def pack_csv(computation: Computation, runs: list[Run], stem: str) -> bytes:
    """A ZIP with one CSV and its metadata for each run."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for i, run in enumerate(runs):
            name = f"{stem}-{i + 1}.csv" if len(runs) > 1 else f"{stem}.csv"
            columns = run_table(computation, run.id)
            packed.writestr(name, "\ufeff" + write_csv(columns))
            packed.writestr(f"{name}-metadata.json", write_csvw(columns, name, run.name))
    return out.getvalue()


def write_json(book: LabBook) -> str:
    """The lab book file, with the columns of its logs in it."""
    whole = replace(book, runs=tuple(replace(r, log=replace(r.log, kept="")) if r.log else r for r in book.runs))
    return json.dumps(write_lab_book(whole), ensure_ascii=False, indent=1)


def _sheet_names(runs: list[Run]) -> list[str]:
    """Names that office programs take: at most 31 signs, none of them special, each once."""
    names: list[str] = []
    for i, run in enumerate(runs):
        plain = "".join(c for c in run.name if c not in "[]:*?/\\'")[:27].strip() or f"Run {i + 1}"
        names.append(plain if plain.lower() not in (n.lower() for n in names) else f"{plain} {i + 1}")
    return names


def write_xlsx(computation: Computation, runs: list[Run]) -> bytes:
    """One sheet per run; numbers as numbers, shown with the decimals that were written."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    workbook = Workbook()
    workbook.remove(workbook.active)
    for name, run in zip(_sheet_names(runs), runs, strict=True):
        sheet = workbook.create_sheet(name)
        for c, column in enumerate(run_table(computation, run.id), 1):
            head = sheet.cell(1, c, _heading(column))
            head.font, head.data_type = Font(bold=True), "s"
            for r, cell in enumerate(column.cells, 2):
                if cell.number is not None:
                    place = sheet.cell(r, c, cell.number)
                    place.number_format = "General" if column.computed else _pattern(cell.decimals)
                elif cell.text:
                    sheet.cell(r, c, cell.text).data_type = "s"
        sheet.freeze_panes = "A2"
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


def _pattern(decimals: int) -> str:
    return "0." + "0" * decimals if decimals else "0"


def write_ods(computation: Computation, runs: list[Run]) -> bytes:
    """The same as OpenDocument."""
    from odf.number import Number, NumberStyle
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.style import Style
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    document = OpenDocumentSpreadsheet()
    styles: dict[int, Any] = {}

    def style(decimals: int) -> Any:
        if decimals not in styles:
            pattern = NumberStyle(name=f"n{decimals}")
            pattern.addElement(Number(decimalplaces=decimals, minintegerdigits=1))
            document.automaticstyles.addElement(pattern)
            styles[decimals] = Style(name=f"c{decimals}", family="table-cell", datastylename=pattern)
            document.automaticstyles.addElement(styles[decimals])
        return styles[decimals]

    def written(text: str) -> Any:
        cell = TableCell(valuetype="string")
        cell.addElement(P(text=text))
        return cell

    for name, run in zip(_sheet_names(runs), runs, strict=True):
        table, columns = Table(name=name), run_table(computation, run.id)
        rows = [[written(_heading(c)) for c in columns]]
        rows.extend([_ods_cell(c, i, style, written) for c in columns] for i in range(run.count))
        for cells in rows:
            row = TableRow()
            for cell in cells:
                row.addElement(cell)
            table.addElement(row)
        document.spreadsheet.addElement(table)
    out = io.BytesIO()
    document.write(out)
    return out.getvalue()


def _ods_cell(column: OutColumn, i: int, style: Callable[[int], Any], written: Callable[[str], Any]) -> Any:
    from odf.table import TableCell
    from odf.text import P

    cell = column.cells[i]
    if cell.number is None:
        return written(cell.text) if cell.text else TableCell()
    named = {} if column.computed else {"stylename": style(cell.decimals)}
    place = TableCell(valuetype="float", value=repr(cell.number), **named)
    place.addElement(P(text=cell.text))
    return place
