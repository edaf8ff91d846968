"""Bringing in and taking out: what is found in a file, what is refused, and that nothing is lost on the way round."""

from __future__ import annotations

import csv
import io
import json
import uuid
import zipfile
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.test import Client, SimpleTestCase, TestCase
from odf.opendocument import load as load_ods
from odf.table import Table
from openpyxl import Workbook, load_workbook

from hobrel.core.document.lab_book import Freedoms, LabBook, Run, read_lab_book, write_lab_book
from hobrel.core.readings.heading_units import split_heading
from hobrel.interchange.bringing import Chosen, name_new
from hobrel.interchange.sensing import look_at
from hobrel.interchange.tables import read_tables
from hobrel.interchange.taking import harmless
from hobrel.labbooks.models import Book
from hobrel.server.problems import Problem
from hobrel.shelf.clamped_strip import make_plan
from tests.school import add_setting, client_of, fill, make_school, reading, send_edit, send_step

TARGETS = [("L", 0), ("t10", 0), ("t10", 1), ("t10", 2)]


def workbook(rows: list[list[Any]], name: str = "Readings") -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = name
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


class Looking(SimpleTestCase):
    """What a file seems to be, for the clamped strip with its overhang L and three times t_10."""

    def look(self, data: str | bytes, name: str = "table.csv") -> Any:
        tables = read_tables(data.encode() if isinstance(data, str) else data, name)
        return look_at(tables.sheets[0], make_plan()), tables

    def test_separators_headings_and_units(self) -> None:
        cases = [
            ("tabs", "L (m)\tt1\tt2\tt3\n0.300\t3.57\t3.61\t3.55\n0.350\t4.4\t4.5\t4.6\n"),
            ("semicolons, decimal commas", "L / m;t_10 1;t_10 2;t_10 3\n0,300;3,57;3,61;3,55\n0,350;4,4;4,5;4,6\n"),
            ("commas", "L [m],t 1,t 2,t 3\n0.300,3.57,3.61,3.55\n0.350,4.4,4.5,4.6\n"),
            ("blanks", "0.300 3.57 3.61 3.55\n0.350 4.4 4.5 4.6\n"),
            ("bars", "L|t1|t2|t3\n0.300|3.57|3.61|3.55\n"),
            ("a title and a row of units", "Curlew, Monday\n\nL;t1;t2;t3\nm;s;s;s\n0.300;3.57;3.61;3.55\n0.350;4.4;4.5;4.6\n"),
            ("units in brackets", "L;t1;t2;t3\n(m);[s];/ s;s\n0.300;3.57;3.61;3.55\n0.350;4.4;4.5;4.6\n"),
            ("one heading over three columns", "L / m;t_10 (s);;\n0.300;3.57;3.61;3.55\n0.350;4.4;4.5;4.6\n"),
            ("and their numbers", "L / m;t_10 (s);;\n;1;2;3\n0.300;3.57;3.61;3.55\n0.350;4.4;4.5;4.6\n"),
            ("and what they are off by", "L (m) ± 0.001;t_10 (s);;\n0.300;3.57;3.61;3.55\n0.350;4.4;4.5;4.6\n"),
            ("Windows line ends, byte order mark", "\ufeffL (m);t1;t2;t3\r\n0.300;3.57;3.61;3.55\r\n"),
        ]
        for words, text in cases:
            with self.subTest(words):
                look, _ = self.look(text)
                self.assertEqual([(c.target.quantity, c.target.repeat) if c.target else None for c in look.columns], TARGETS)
                self.assertEqual(look.columns[1].first[0].replace(",", "."), "3.57")

    def test_headings_that_begin_like_numbers(self) -> None:
        look, _ = self.look("T / K;1/T (1/K);2nd reading\n300;0.0033;1\n310;0.0032;2\n")
        self.assertEqual([(c.heading, c.unit) for c in look.columns], [("T", "K"), ("1/T", "1/K"), ("2nd reading", "")])
        # readings are no numbers of repeats, and what is far from its neighbour none of its repeats
        look, _ = self.look("x;y;\n1;2;3\n2;4;30\n3;6;90\n")
        self.assertEqual((look.first_row, [c.heading for c in look.columns]), (1, ["x", "y", ""]))
        look, _ = self.look("x;y;\n;1;3\n2;4;5\n")
        self.assertEqual(look.first_row, 1, "1 and 3 are no numbers of repeats")
        self.assertEqual(self.look("x;y;\n;1;2\n")[0].rows, 1, "nor are the only readings")

    def test_new_quantities_are_called_as_their_headings_say(self) -> None:
        own = LabBook("", runs=(Run("r", ""),), freedoms=Freedoms(plan=True))
        sheet = read_tables("L (cm) ± 0.1;t_10 ± 0.02 (s);;\n;1;2;3\n20,0;8,97;9,03;8,94\n30,0;10,9;11,0;11\n".encode(), "a.csv").sheets[0]
        chosen = [Chosen(c.index, c.unit, c.target) for c in look_at(sheet, own).columns if c.target]
        _, book, new = name_new(chosen, sheet, own)
        self.assertEqual([(n.text, n.repeats) for n in new], [("L ± 0.1 (cm)", 1), ("t_10 ± 0.02 (s)", 3)])
        self.assertEqual([(q.symbol, q.unit, q.repeats) for q in book.quantities], [("L", "cm", 1), ("t_10", "s", 3)])

    def test_what_a_logger_writes_about_itself_is_no_table(self) -> None:
        rows = "".join(f"{i / 2:.1f};{21 + i / 100:.2f};OK\n" for i in range(12)).replace(".", ",")
        about = {
            "a name and an interval": "Logger 12;;\nInterval;0,5 s;\n\n",
            "many numbers": "Serial;20417;\nInterval;0,5;\nChannels;2;\nRows;12;\nDate;2026;\n",
            "two columns as well": "Serial;20417\nInterval;0,5\n",
            "nothing": "",
        }
        for words, text in about.items():
            with self.subTest(words):
                look, _ = self.look(f"{text}Time (s);Temp A (°C);Status\n{rows}")
                self.assertEqual([c.heading for c in look.columns], ["Time", "Temp A", "Status"])
                self.assertEqual((look.rows, look.columns[0].first[0], look.columns[1].unit), (12, "0,0", "°C"))
        # headings once more where it was started again, and a word where a number should be, take no row away
        again, _ = self.look("Time (s);Temp (°C)\n0;21.0\n1;off\n2;21.1\nTime (s);Temp (°C)\n0;22.0\n1;22.1\n")
        self.assertEqual((again.columns[0].heading, again.rows), ("Time", 6))
        kinds, _ = self.look("metal;density (g/cm3)\ncopper;8.9\ntin;7.3\nof others;by others\nzinc;7.1\n")
        self.assertEqual((kinds.columns[1].heading, kinds.rows), ("density", 4))

    def test_means_beside_their_readings_are_left_out_and_said(self) -> None:
        found, _ = self.look("L (m)\tt_10 1 / s\tt_10 2 / s\tmean t_10 / s\n0.300\t3.57\t3.61\t3.59\n0.350\t4.4\t4.6\t4.5\n")
        self.assertEqual([(c.target.quantity, c.target.repeat) if c.target else None for c in found.columns], [*TARGETS[:3], None])
        self.assertEqual(found.columns[3].words, "the means of t_10 1, t_10 2, which are worked out here")

    def test_a_single_column_with_decimal_commas_is_not_torn_apart(self) -> None:
        look, _ = self.look("0,300\n0,350\n0,400\n")
        self.assertEqual([c.first for c in look.columns], [("0,300", "0,350", "0,400")])

    def test_many_more_columns_than_anyone_wants(self) -> None:
        heads = ["time", "channel 7", "L (cm)", "noise", "comment"]
        rows = [heads, *[[str(i), "x", f"{30 + i}.0", "0.1", "fine"] for i in range(20)]]
        look, _ = self.look(workbook(rows), "log.xlsx")
        self.assertEqual([c.target.quantity if c.target else None for c in look.columns], [None, None, "L", None, None])
        self.assertEqual((look.columns[2].unit, look.columns[1].texts, look.columns[2].numbers), ("cm", 20, 20))

    def test_another_name_is_understood_where_the_unit_leaves_no_choice(self) -> None:
        def targets(text: str) -> list[Any]:
            return [c.target.quantity if c.target else None for c in self.look(text)[0].columns]

        # t_10 is the only time of the strip, and Overhang the only length
        self.assertEqual(targets("Overhang (cm);Ten swings (s)\n30;3.57\n35;4.4\n"), ["L", "t10"])
        self.assertEqual(targets("Overhang (cm);Start (s);End (s)\n30;3;7\n35;4;8\n"), ["L", None, None])
        self.assertEqual(targets("L (cm);Width (mm);Temperature (°C)\n30;20;21\n35;20;21\n"), ["L", None, None])
        self.assertEqual(targets("L (cm);Count\n30;20\n35;20\n"), ["L", None])

    def test_a_column_of_uncertainties_is_known_by_its_heading(self) -> None:
        for name in ("u(L)", "± L", "error in L"):
            look, _ = self.look(f"L (cm);{name} (mm);t1\n30;2;3.57\n35;3;4.4\n")
            with self.subTest(name):
                self.assertEqual([(c.target.quantity, c.target.is_u) if c.target else None for c in look.columns],
                                 [("L", False), ("L", True), ("t10", False)])  # fmt: skip

    def test_headings(self) -> None:
        cases = {
            "t (s)": ("t", "s"),
            "T / s": ("T", "s"),
            "length [cm]": ("length", "cm"),
            "v / (m/s)": ("v", "m/s"),
            "and/or": ("and/or", ""),
            "N": ("N", ""),
        }
        for text, parts in cases.items():
            split = split_heading(text)
            self.assertEqual((split.name, split.unit), parts)

    def test_what_is_refused_says_why_and_what_to_do(self) -> None:
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/workbook.xml", b"0" * 60_000_000)
        cases: list[tuple[str, bytes, str]] = [
            ("empty", b"  \n", "not_a_table"),
            ("a picture", b"\x89PNG\r\n\x1a\n" + bytes(range(256)) * 20, "not_a_table"),
            ("a bomb", bomb.getvalue(), "too_large"),
            ("half a spreadsheet", workbook([[1, 2]])[:900], "damaged"),
            ("another program’s JSON", b'{"rows": [1, 2]}', "not_a_table"),
            ("a lab book that is none", b'{"format": "hobrel-lab-book", "title": 3}', "damaged"),
            ("a thousand columns", ((",".join("1" * 1000) + "\n") * 2).encode(), "too_large"),
            ("an open quotation", b'a,b\n"1,2\n3,4\n' + b"x" * 200_000, "damaged"),
        ]
        for words, data, code in cases:
            with self.subTest(words), self.assertRaises(Problem) as caught:
                read_tables(data, "file")
            self.assertEqual(caught.exception.code, code)
            self.assertGreater(len(caught.exception.message), 20)

    def test_entities_in_a_spreadsheet_are_not_followed(self) -> None:
        """A sheet whose XML asks for a local file: it is refused or read without it."""
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(workbook([["L"], ["0.3"]]))) as clean, zipfile.ZipFile(out, "w") as hostile:
            for entry in clean.infolist():
                text = clean.read(entry).decode()
                if entry.filename == "xl/sharedStrings.xml":
                    text = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]>' + text.split("?>", 1)[-1].replace(
                        ">L<", ">&e;<"
                    )
                hostile.writestr(entry.filename, text)
        try:
            cells = str(read_tables(out.getvalue(), "x.xlsx").sheets)
        except Problem:
            return
        self.assertNotIn("root:", cells)


class BringingIn(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        self.ann = client_of(self.school.students[0])

    def bring(self, data: bytes, file: str = "curlew.csv", **choices: Any) -> HttpResponse:
        columns = [{"index": i, "quantity": q, "repeat": r} for i, (q, r) in enumerate(TARGETS)]
        body = {"client_id": str(uuid.uuid4()), "columns": columns, **choices}
        return self.ann.post(f"/api/books/{self.book.pk}/bring-in", {"file": SimpleUploadedFile(file, data), "choices": json.dumps(body)})

    def runs(self) -> list[dict[str, Any]]:
        runs: list[dict[str, Any]] = Book.objects.get(pk=self.book.pk).document["runs"]
        return runs

    def texts(self, run: dict[str, Any], quantity: str) -> list[list[str | None]]:
        return [[r and r["text"] for r in s["readings"].get(quantity, [])] for s in run["settings"]]

    TABLE = b"L,t1,t2,t3\n0.300,3.57,3.61,3.50\n0.350,4.40,,4.60\n,,,\n0.400,5.1,5.2,five\n"

    def test_a_column_of_uncertainties_stands_with_its_readings(self) -> None:
        columns = [
            {"index": 0, "quantity": "L", "repeat": 0},
            {"index": 1, "quantity": "L", "repeat": 0, "is_u": True, "unit": "mm"},
            {"index": 2, "quantity": "t10", "repeat": 0},
        ]
        done = self.bring(b"L (m);u(L) (mm);t1\n0.300;2;3.57\n0.350;;4.40\n0.400;3;\n", columns=columns)
        self.assertEqual(done.status_code, 200, done.content)
        run = self.runs()[-1]
        self.assertEqual(
            (self.texts(run, "L"), self.texts(run, "t10")), ([["0.300 ± 0.002"], ["0.350"], ["0.400 ± 0.003"]], [["3.57"], ["4.40"], []])
        )

    def test_as_a_new_run_behind_a_run_and_in_its_place(self) -> None:
        self.assertEqual(self.bring(self.TABLE).status_code, 200)
        first, new = self.runs()
        self.assertEqual((new["name"], first["settings"]), ("curlew", []))
        self.assertEqual(self.texts(new, "t10"), [["3.57", "3.61", "3.50"], ["4.40", None, "4.60"], ["5.1", "5.2", "five"]])
        self.bring(self.TABLE, into="add", run=first["id"])
        self.bring(self.TABLE, into="add", run=first["id"])
        self.assertEqual(len(self.runs()[0]["settings"]), 6)
        self.bring(self.TABLE.splitlines(True)[1] * 2, into="replace", run=first["id"])
        self.assertEqual(len(self.runs()[0]["settings"]), 2)
        send_step(self.ann, self.book, "undo")
        self.assertEqual(len(self.runs()[0]["settings"]), 6)

    def test_a_column_in_another_unit_is_converted_with_its_figures(self) -> None:
        columns = [{"index": 0, "quantity": "L", "unit": "cm"}]
        self.bring(b"L (cm)\n30.0\n35.55\n", columns=columns)
        self.assertEqual(self.texts(self.runs()[1], "L"), [["0.300"], ["0.3555"]])

    def test_from_each_kind_of_file(self) -> None:
        send_edit(self.ann, self.book, {"type": "add_setting", "run": "run1", "setting": "a"})
        send_edit(self.ann, self.book, reading("0.300", "", "a", "L"))
        send_edit(self.ann, self.book, reading("3.50", "", "a", "t10"))
        for ending in ("csv", "xlsx", "ods", "json"):
            with self.subTest(ending):
                taken = self.ann.get(f"/api/books/{self.book.pk}/take-out.{ending}")
                look = self.ann.post(f"/api/books/{self.book.pk}/bring-in/look", {"file": SimpleUploadedFile(f"x.{ending}", taken.content)})
                sheet = look.json()["sheets"][0]
                found = {c["target"]["quantity"] for c in sheet["columns"] if c["target"]}
                self.assertEqual(found, {"L", "t10"}, sheet)
                columns = [{"index": c["index"], **c["target"]} for c in sheet["columns"] if c["target"]]
                answer = self.bring(taken.content, f"x.{ending}", columns=columns, name=f"from {ending}")
                brought = next(r for r in self.runs() if r["id"] == answer.json()["run"])
                self.assertEqual(self.texts(brought, "L")[0][0], "0.300" if ending in ("csv", "json") else "0.3")

    def test_what_does_not_go_changes_nothing(self) -> None:
        before = self.runs()
        twice = [{"index": 0, "quantity": "L"}, {"index": 1, "quantity": "L"}]
        cases: list[tuple[bytes, dict[str, Any], str]] = [
            (self.TABLE, {"columns": []}, "nothing_chosen"),
            (self.TABLE, {"columns": twice}, "twice"),
            (self.TABLE, {"columns": [{"index": 0, "quantity": "t10", "repeat": 9}]}, "gone"),
            (self.TABLE, {"columns": [{"index": 0, "quantity": "L", "unit": "s"}]}, "bad_unit"),
            (self.TABLE, {"sheet": 4}, "gone"),
            (self.TABLE, {"into": "add", "run": "nowhere"}, "gone"),
            (self.TABLE, {"into": "sideways"}, "bad_request"),
            (b"L\n" + b"0.3\n" * 3000, {"columns": [{"index": 0, "quantity": "L"}]}, "too_large"),
            (b"L\n" + b"0.3\n" * 100_001, {"columns": [{"index": 0, "quantity": "L"}], "logged": True}, "too_large"),
            (self.TABLE, {"logged": True}, "repeats"),
            (b"L\n0.3\n", {"columns": [{"index": 0, "quantity": "L"}], "logged": True, "into": "add", "run": "run1"}, "too_large"),
            (self.TABLE, {"every": 0}, "bad_request"),
            (b"", {}, "not_a_table"),
        ]
        for data, choices, code in cases:
            with self.subTest(code, choices=choices):
                answer = self.bring(data, **choices)
                self.assertEqual((answer.status_code // 100, answer.json()["code"]), (4, code))
        self.assertEqual(self.runs(), before)
        self.assertEqual(self.bring(b"L\n" + b"0.3\n" * 3000, columns=[{"index": 0, "quantity": "L"}], every=2).status_code, 200)


class Logs(TestCase):
    """What a logger wrote, from the file to the lab book and out again."""

    COLUMNS = [{"index": 0, "quantity": "L", "unit": "cm"}, {"index": 1, "quantity": "t10"}]
    FILE = b"L / cm;t10\n" + b"".join(f"{30 + i / 10:.1f};{3.5 + i / 50:.2f}\n".encode() for i in range(400))

    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        self.ann = client_of(self.school.students[0])

    def bring(self, data: bytes, person: Client | None = None, book: Book | None = None, **choices: Any) -> HttpResponse:
        body = {"client_id": str(uuid.uuid4()), "columns": self.COLUMNS, "logged": True, **choices}
        form = {"file": SimpleUploadedFile("logger.csv", data), "choices": json.dumps(body)}
        return (person or self.ann).post(f"/api/books/{(book or self.book).pk}/bring-in", form)

    def state(self, run: str) -> dict[str, Any]:
        state: dict[str, Any] = self.ann.get(f"/api/books/{self.book.pk}?run={run}").json()
        return state

    def rows(self, run: str, **query: int) -> dict[str, Any]:
        rows: dict[str, Any] = self.ann.get(f"/api/books/{self.book.pk}/rows", {"run": run, **query}).json()
        return rows

    def test_brought_in_looked_at_and_computed(self) -> None:
        run = self.bring(self.FILE).json()["run"]
        state = self.state(run)
        log = state["document"]["runs"][0]["log"]
        self.assertEqual((log["rows"], log["columns"], log["units"]), (400, {}, {"L": "cm", "t10": "s"}))
        self.assertLess(len(json.dumps(state)), 400_000)
        shown = self.rows(run, first=398)
        self.assertEqual({c["quantity"]: c["texts"] for c in shown["columns"]}["L"], ["0.698", "0.699"])
        self.assertEqual(state["analysis"]["fits"][0]["n"], 400)

    def test_rows_are_set_aside_in_ranges_and_taken_back(self) -> None:
        run = self.bring(self.FILE).json()["run"]
        for first, last, reason in ((10, 50, "draught"), (30, 70, "door"), (40, 45, None)):
            send_edit(self.ann, self.book, {"type": "set_aside_rows", "run": run, "first": first, "last": last, "reason": reason})
        aside = self.state(run)["document"]["runs"][0]["log"]["aside"]
        self.assertEqual([(a["first"], a["last"], a["reason"]) for a in aside], [(10, 29, "draught"), (30, 39, "door"), (46, 70, "door")])
        self.assertEqual(self.state(run)["analysis"]["fits"][0]["n"], 400 - 55)
        for _ in range(3):
            send_step(self.ann, self.book, "undo")
        self.assertEqual(self.state(run)["document"]["runs"][0]["log"]["aside"], [])
        refused = send_edit(self.ann, self.book, {"type": "set_aside_rows", "run": run, "first": 0, "last": 400, "reason": "x"})
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "gone"))

    def test_single_values_are_not_edited(self) -> None:
        run = self.bring(self.FILE).json()["run"]
        for edit in (reading("9.9", "", "row3") | {"run": run}, add_setting("x") | {"run": run}):
            refused = send_edit(self.ann, self.book, edit)
            self.assertEqual((refused.status_code, refused.json()["code"]), (409, "logged"))

    def test_in_place_of_a_run_and_back(self) -> None:
        fill(self.book, 3)
        before = Book.objects.get(pk=self.book.pk).document["runs"]
        self.bring(self.FILE, into="replace", run="run1")
        self.assertEqual(self.rows("run1")["rows"], 400)
        send_step(self.ann, self.book, "undo")
        self.assertEqual([r["settings"] for r in Book.objects.get(pk=self.book.pk).document["runs"]], [r["settings"] for r in before])
        send_step(self.ann, self.book, "redo")
        self.assertEqual(self.rows("run1")["rows"], 400)

    def test_a_log_of_another_lab_book_cannot_be_named(self) -> None:
        cy = client_of(self.school.other_bench)
        self.bring(self.FILE, cy, self.school.other_book)
        theirs = Book.objects.get(pk=self.school.other_book.pk).document["runs"][1]["log"]
        named = {"type": "add_run", "run": "stolen", "name": "Ours now", "log": theirs}
        refused = send_edit(self.ann, self.book, named)
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "gone"))

    def test_out_and_in_again_keeps_every_digit(self) -> None:
        run = self.bring(self.FILE).json()["run"]
        send_edit(self.ann, self.book, {"type": "set_aside_rows", "run": run, "first": 2, "last": 3, "reason": "=draught"})
        taken = self.ann.get(f"/api/books/{self.book.pk}/take-out.json").content
        again = read_lab_book(json.loads(taken))
        self.assertEqual(again.runs[1].log.columns["L"][:2] if again.runs[1].log else (), ("30.0", "30.1"))
        new = self.bring(taken, sheet=1).json()["run"]
        self.assertEqual(self.rows(new)["columns"], self.rows(run)["columns"])
        lines = self.ann.get(f"/api/books/{self.book.pk}/take-out.csv?run={run}").content.decode("utf-8-sig").splitlines()
        self.assertEqual((len(lines), lines[3].split(",")[:2], lines[3].endswith("'=draught")), (401, ["30.2", "3.54"], True))
        for ending in ("xlsx", "ods", "zip"):
            self.assertEqual(self.ann.get(f"/api/books/{self.book.pk}/take-out.{ending}").status_code, 200)
        self.assertIn(b"A logger wrote 400 rows", self.ann.get(f"/api/books/{self.book.pk}/report.html?run={run}").content)

    def test_a_new_unit_of_the_quantity_leaves_the_texts(self) -> None:
        own = {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "mm"}
        send_edit(self.ann, self.book, own)
        run = self.bring(b"L,h\n0.3,1.5\n0.4,2.5\n", columns=[{"index": 0, "quantity": "L"}, {"index": 1, "quantity": "h"}]).json()["run"]
        change = {"type": "change_quantity", "quantity": "h", "was": {"unit": "mm"}, "becomes": {"unit": "cm"}}

        def sags() -> list[str]:
            return next(c["texts"] for c in self.rows(run)["columns"] if c["quantity"] == "h")

        send_edit(self.ann, self.book, change | {"readings": "convert"})
        self.assertEqual(sags(), ["0.15", "0.25"])
        send_step(self.ann, self.book, "undo")
        send_edit(self.ann, self.book, change | {"readings": "relabel"})
        self.assertEqual(sags(), ["1.5", "2.5"])
        send_step(self.ann, self.book, "undo")
        send_edit(self.ann, self.book, change | {"becomes": {"unit": "m"}, "readings": "convert"})
        self.assertEqual(sags(), ["0.0015", "0.0025"])


class TakingOut(TestCase):
    def setUp(self) -> None:
        school = make_school()
        self.document = fill(school.book, 5)
        self.book = school.book
        self.ann = client_of(school.students[0])
        first = self.document.runs[0].settings[0].readings["t10"][0]
        assert first is not None
        send_edit(self.ann, self.book, reading("=2+3", first.text, "s1"))
        send_edit(
            self.ann,
            self.book,
            {"type": "set_aside", "run": "run1", "setting": "s1", "quantity": "t10", "repeat": 0, "reason": "no number"},
        )
        send_edit(self.ann, self.book, {"type": "set_aside", "run": "run1", "setting": "s5", "reason": "@clamp slipped"})

    def take(self, ending: str) -> bytes:
        answer = self.ann.get(f"/api/books/{self.book.pk}/take-out.{ending}")
        self.assertEqual(answer.status_code, 200)
        self.assertIn(f'godwit.{ending}"', answer["Content-Disposition"])
        return answer.content

    def test_csv_keeps_every_digit_and_its_metadata_says_what_each_column_is(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.take("zip"))) as packed:
            name, about = sorted(packed.namelist())
            rows = list(csv.DictReader(io.StringIO(packed.read(name).decode("utf-8-sig"))))
            metadata = json.loads(packed.read(about))
        self.assertEqual((about, metadata["url"]), (f"{name}-metadata.json", name))
        columns = metadata["tableSchema"]["columns"]
        self.assertEqual([c["titles"] for c in columns], list(rows[0]))
        units = {c["titles"]: c.get("schema:unitText") for c in columns}
        self.assertEqual((units["L (m)"], units["T² (s²)"]), ("m", "s²"))
        self.assertEqual({c["titles"] for c in columns if c["hobrel:computed"]} & {"L (m)", "t₁₀ 1 (s)"}, set())
        for row, setting in zip(rows, self.document.runs[0].settings, strict=True):
            self.assertEqual(row["L (m)"], setting.readings["L"][0].text)  # type: ignore[union-attr]
        self.assertEqual(
            (rows[0]["t₁₀ 1 (s)"], rows[0]["t₁₀ 1 set aside"], rows[4]["set aside"]), ("'=2+3", "no number", "'@clamp slipped")
        )

    def test_spreadsheets_hold_numbers_with_their_decimals_and_no_formulas(self) -> None:
        sheet = load_workbook(io.BytesIO(self.take("xlsx"))).worksheets[0]
        self.assertEqual((sheet.title, sheet["A2"].value, sheet["A2"].number_format), ("Beech strip", 0.3, "0.000"))
        self.assertEqual({c.data_type for row in sheet.iter_rows() for c in row if c.value is not None}, {"n", "s"})
        tables = load_ods(io.BytesIO(self.take("ods"))).spreadsheet.getElementsByType(Table)
        self.assertEqual([t.getAttribute("name") for t in tables], ["Beech strip"])

    def test_our_own_file_goes_round_exactly(self) -> None:
        taken = json.loads(self.take("json"))
        self.assertEqual(taken, write_lab_book(read_lab_book(Book.objects.get(pk=self.book.pk).document)))
        self.assertEqual(json.dumps(write_lab_book(read_lab_book(taken))), json.dumps(taken))

    def test_cells_that_an_office_program_would_run(self) -> None:
        for text, safe in (
            ("=1+1", "'=1+1"),
            ("@SUM(A1)", "'@SUM(A1)"),
            ("+cmd", "'+cmd"),
            ("-3.10", "-3.10"),
            ("+2.5", "+2.5"),
            ("\tx", "'\tx"),
            ("fine", "fine"),
        ):
            self.assertEqual(harmless(text), safe)
