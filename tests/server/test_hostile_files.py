"""Files that are not what they seem: a sentence each, in time, and nothing else is hurt."""

from __future__ import annotations

import io
import json
import time
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from openpyxl import Workbook

from hobrel.core.document.lab_book import write_lab_book
from hobrel.shelf.clamped_strip import make_plan
from tests.school import client_of, fill, make_school

_SHEET = '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>{}</sheetData></worksheet>'
_ODS = (
    '<?xml version="1.0"?>{doctype}<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
    'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">'
    '<office:body><office:spreadsheet><table:table table:name="S">{rows}</table:table></office:spreadsheet></office:body>'
    "</office:document-content>"
)
_CELL = '<table:table-cell table:number-columns-repeated="{}" office:value-type="float" office:value="1"/>'


def xlsx(cells: str) -> bytes:
    """The least that is taken for a workbook, with these cells in its sheet."""
    parts = {
        "[Content_Types].xml": '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
        "xl/workbook.xml": '<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" '
        'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">'
        '<sheets><sheet name="S" sheetId="1" r:id="rId1"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship '
        'Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/>'
        "</Relationships>",
        "xl/worksheets/sheet1.xml": _SHEET.format(cells),
    }
    return packed(parts)


def ods(rows: str, doctype: str = "") -> bytes:
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    return packed({"mimetype": kind, "content.xml": _ODS.format(rows=rows, doctype=doctype)})


def packed(parts: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in parts.items():
            archive.writestr(name, text)
    return out.getvalue()


def cell(place: str, value: str = "1") -> str:
    return f'<row r="{place.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ")}"><c r="{place}"><v>{value}</v></c></row>'


def repeated_row(rows: int, columns: int) -> str:
    return f'<table:table-row table:number-rows-repeated="{rows}">{_CELL.format(columns)}</table:table-row>'


def workbook_with_a_high_row(row: int) -> bytes:
    book, out = Workbook(), io.BytesIO()
    assert book.active is not None
    book.active.append(["t (s)", 1.5])
    book.active.row_dimensions[row].height = 40
    book.save(out)
    return out.getvalue()


def sheet_with_blank_rows(rows: int) -> bytes:
    document, table, out = OpenDocumentSpreadsheet(), Table(name="S"), io.BytesIO()
    for row, content in ((TableRow(), TableCell(valuetype="float", value="1.5")), (TableRow(numberrowsrepeated=rows), TableCell())):
        row.addElement(content)
        table.addElement(row)
    document.spreadsheet.addElement(table)
    document.write(out)
    return out.getvalue()


def lab_book(**changed: object) -> bytes:
    document = write_lab_book(make_plan())
    document["quantities"][1].update(changed)
    return json.dumps(document).encode()


ENTITY = '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">]>'
SPREAD_OUT = ("far end", "span too much", "repeated", "twenty million", "says it is small")
HOSTILE = {
    "a cell at the far end of the sheet": ("a.xlsx", xlsx(cell("A1") + cell("XFD1048576"))),
    "two cells that span too much between them": ("a.xlsx", xlsx(cell("A1") + cell("ZZ150000"))),
    "a row repeated": ("a.ods", ods(repeated_row(200_000, 400))),
    "a row repeated a thousand million times": ("a.ods", ods(repeated_row(1_000_000_000, 1))),
    "a column repeated": ("a.ods", ods(repeated_row(1, 16_000))),
    "an entity": ("a.ods", ods(repeated_row(2, 2), ENTITY)),
    "a lab book with twenty million repeats": ("a.json", lab_book(repeats=20_000_000)),
    "a lab book with half a character in a name": ("a.json", lab_book(name="half \ud800")),
    "a lab book with NUL in a name": ("a.json", lab_book(name="nul \0")),
    "a number too long for JSON": ("a.json", b'{"format": "hobrel-lab-book", "version": ' + b"9" * 5000 + b"}"),
    "brackets without an end": ("a.json", b"[" * 100_000),
    "NUL in text": ("a.csv", b"t,x\n1,\x002\n"),
    "NUL in wide text": ("a.csv", "t,x\n1,\0".encode("utf-16")),
    "no character in text": ("a.csv", "t,x\n1,\ufffe\n".encode()),
    "a mark of byte order alone": ("a.csv", b"\xef\xbb\xbf"),
    "a mark of wide byte order alone": ("a.csv", b"\xff\xfe"),
    "a package of nothing": ("a.xlsx", packed({})),
    "half a package": ("a.xlsx", xlsx(cell("A1"))[:200]),
    "a package that says it is small": ("a.xlsx", packed({"xl/worksheets/sheet1.xml": "0" * 60_000_000})),
}


class HostileFiles(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        self.client = client_of(self.school.students[0])
        self.address = f"/api/books/{self.school.book.pk}/bring-in"

    def look(self, name: str, data: bytes) -> tuple[int, dict[str, object]]:
        answer = self.client.post(self.address + "/look", {"file": SimpleUploadedFile(name, data)})
        return answer.status_code, answer.json()

    def test_each_is_refused_with_a_sentence_in_time(self) -> None:
        for what, (name, data) in HOSTILE.items():
            with self.subTest(what):
                began = time.monotonic()
                status, said = self.look(name, data)
                self.assertEqual(status, 422, said)
                # what spreads out is seen before it is opened, not because opening it failed
                codes = ("too_large",) if any(words in what for words in SPREAD_OUT) else ("damaged", "not_a_table", "bad_text")
                self.assertIn(said["code"], codes)
                self.assertRegex(str(said["detail"]), r"^[A-Z].*[.?]$")
                self.assertLess(time.monotonic() - began, 5.0)

    def test_odd_tables_are_looked_over_all_the_same(self) -> None:
        for what, (name, data) in {
            "unequal columns": ("a.csv", b"t (s),T (s)\n1,2,3,4\n5\n6,7\n"),
            "a heading of ten thousand letters": ("a.csv", b"t" * 10_000 + b",x\n1,2\n"),
            # each of them was tried at every place against every other: ten minutes
            "a heading of one word again and again": ("a.csv", b"x in " * 20_000 + b",y\n1,2\n"),
            "a heading of underlines": ("a.csv", b"x" + b"_" * 60_000 + b"z1,y\n1,2\n"),
            "a number of five thousand digits": ("a.csv", b"t,x\n1," + b"9" * 5000 + b"\n2,3\n"),
            "a quotation mark that is never closed": ("a.csv", b'a,"b\n' + b"1,2\n" * 30_000),
            "a million blank lines below": ("a.xlsx", workbook_with_a_high_row(1_048_576)),
            "the same with repeated lines": ("a.ods", sheet_with_blank_rows(1_048_570)),
        }.items():
            with self.subTest(what):
                status, said = self.look(name, data)
                self.assertEqual(status, 200, said)

    def test_a_cell_that_is_no_reading_is_not_cut_to_one(self) -> None:
        data = b"L,t\n0.3," + b"9" * 5000 + b"\n0.4,3\n"
        columns = [{"index": 0, "quantity": "L"}, {"index": 1, "quantity": "t10", "repeat": 0}]
        choices = {"client_id": "6f1f9ad6-6a2b-4f0e-9d5b-2f2f7a0c9f11", "columns": columns, "into": "new"}
        form = {"file": SimpleUploadedFile("a.csv", data), "choices": json.dumps(choices)}
        answer = self.client.post(self.address, form)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "too_long"))

    def test_text_that_is_no_text_is_refused_on_every_way_in(self) -> None:
        for bad in ("a\0b", "a\ufffeb", "a\udc00b"):
            edit = {"type": "write_text", "section": "method", "text": bad, "was": ""}
            body = {"edits": [{"client_id": "6f1f9ad6-6a2b-4f0e-9d5b-2f2f7a0c9f12", "edit": edit}]}
            with self.subTest(repr(bad)):
                answer = self.client.post(f"/api/books/{self.school.book.pk}/edits", json.dumps(body), content_type="application/json")
                self.assertEqual(answer.status_code, 422)
        answer = self.client.get(f"/api/books/{self.school.book.pk}/preview", {"quantity": "T", "formula": "t\0"})
        self.assertEqual(answer.status_code, 422)
