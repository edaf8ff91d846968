"""What a practical has brought, for other programs: a table of every reading, findings and marks, all reports, all lab books."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator, Sequence
from typing import Any

from hobrel.classes.queries import name_of
from hobrel.core.errors import CoreError
from hobrel.handins.marks_table import list_marks
from hobrel.interchange.every_reading import ReadingKey, ReadingRow, list_readings
from hobrel.interchange.flat import FlatCell, FlatColumn, FlatTable, describe_flat, write_flat
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.queries import books_of
from hobrel.plans.models import Practical
from hobrel.pools.queries import list_findings
from hobrel.reports.actions import with_prints
from hobrel.reports.models import HandIn
from hobrel.school.export import put_lab_book
from hobrel.server.files import file_name

READING_COLUMNS = (
    FlatColumn("class"),
    FlatColumn("practical"),
    FlatColumn("bench"),
    FlatColumn("student", "string", "who has written it last; empty where it came with the plan or that person has left"),
    FlatColumn("condition"),
    FlatColumn("run"),
    FlatColumn("setting", "string", "what was set there"),
    FlatColumn("quantity"),
    FlatColumn("symbol"),
    FlatColumn("repeat", "integer", "from 1"),
    FlatColumn("text", "string", "as it was written"),
    FlatColumn("value", "number", "in the unit of its row"),
    FlatColumn("unit"),
    FlatColumn("u", "number", "what was written with it, or what the instrument gives; in the unit of its row"),
    FlatColumn("set aside", "boolean", "whether it is left out of the analysis"),
    FlatColumn("reason", "string", "why it is left out"),
)


def list_all_readings(practicals: Sequence[Practical]) -> FlatTable:
    """A row for every reading of every bench. A lab book that cannot be read is left out: its trouble stays its own."""
    rows = [row for practical in practicals for book in books_of(practical) for row in _rows_of(practical, book)]
    title = practicals[0].title if len(practicals) == 1 else practicals[0].school_class.name if practicals else "No practical"
    return FlatTable(f"{title}: readings", READING_COLUMNS, rows)


def _rows_of(practical: Practical, book: Book) -> Iterator[list[FlatCell]]:
    try:
        readings: tuple[ReadingRow, ...] = ask_about(book, "", list_readings, heavy=True)
    except CoreError:
        return
    writers = _who_wrote(book)
    for r in readings:
        of_run = writers.get((r.key[0], "", "", 0))
        who = writers.get(r.key) or writers.get((*r.key[:2], "", 0)) or of_run
        about: list[FlatCell] = [practical.school_class.name, practical.title, book.bench.name, who, r.condition or None, r.run, r.setting]
        worth: list[FlatCell] = [r.text, r.value, r.unit or None, r.u, r.set_aside is not None, r.set_aside]
        yield [*about, r.quantity, r.symbol, r.repeat, *worth]


def _who_wrote(book: Book) -> dict[ReadingKey, str]:
    """Who has written each reading last; a setting or a run that came as a whole is under its own key."""
    found: dict[ReadingKey, str] = {}
    for record in EditRecord.objects.filter(book=book).select_related("author").order_by("revision").iterator():
        for patch in record.patches:
            key = _key_of(patch)
            if key is not None:
                found[key] = name_of(record.author) if record.author else ""
    return found


def _key_of(patch: dict[str, Any]) -> ReadingKey | None:
    """The reading, setting or run that a patch has written; None for everything else."""
    at = patch["at"]
    if at[:1] != ["runs"] or patch["form"] not in ("set", "insert"):
        return None
    if patch["form"] == "insert":
        run, setting = (patch["id"], "") if len(at) == 1 else (at[1], patch["id"])
        return (run, setting, "", 0) if len(at) == 1 or at[2:] == ["settings"] else None
    if len(at) == 7 and at[4] == "readings" and _text(patch, "was") != _text(patch, "becomes"):
        return at[1], at[3], at[5], at[6]
    return None


def _text(patch: dict[str, Any], when: str) -> str:
    return (patch.get(when) or {}).get("text", "")


def pack_reports(practical: Practical) -> bytes:
    """The last report that each bench has handed in, as PDF; and who has not."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as packed:
        _put_reports(packed, practical, "")
    return out.getvalue()


def _put_reports(packed: zipfile.ZipFile, practical: Practical, folder: str) -> None:
    missing = []
    for book in books_of(practical):
        last = HandIn.objects.filter(book=book).defer("document", "analysis", "docx", "odt").order_by("-number").first()
        if last is None:
            missing.append(book.bench.name)
        else:
            packed.writestr(f"{folder}{file_name('pdf', book.bench.name, f' {last.number}')}", bytes(with_prints(last).pdf))
    if missing:
        packed.writestr(f"{folder}not-handed-in.txt", "\n".join(missing) + "\n")


def pack_practical(practical: Practical) -> bytes:
    """Everything in one archive: tables with their metadata beside them, the reports that were handed in, and the lab books as files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        tables = {"readings": list_all_readings([practical]), "findings": list_findings(practical), "marks": list_marks(practical)}
        for name, table in tables.items():
            packed.writestr(f"{name}.csv", write_flat(table, "csv"))
            packed.writestr(f"{name}.csv-metadata.json", describe_flat(table, f"{name}.csv"))
        _put_reports(packed, practical, "reports/")
        for book in books_of(practical):
            put_lab_book(packed, book, f"{file_name('', book.bench.name).rstrip('.')}-{book.pk}")
    return out.getvalue()
