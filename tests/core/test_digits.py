"""Digits: none invented, none lost. What was typed is what is written; a column has one number of decimals unless its ± ask for more.

Rounding by ISO 80000-1:2009, annex B; that a column of like precision is written alike is common practice.
"""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

from hobrel.core.document.lab_book import Digits, Fit, Graph, LabBook, Log, Quantity, Reading, Run, Setting
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.results import LineMark
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import draw_number_line, show_value
from hobrel.core.readings.instruments import Instrument
from hobrel.core.rounding import write_decimals, write_figures


def table(rows: list[list[str]], instrument: Instrument | None = None, *derived: Quantity) -> LabBook:
    """One measured quantity y in s, with these readings."""
    settings = tuple(Setting(f"s{i}", {"y": tuple(Reading(t) for t in texts)}) for i, texts in enumerate(rows))
    quantities = (Quantity("y", "measured", "y", "y", "s", instrument, max(map(len, rows))), *derived)
    return LabBook("t", quantities=quantities, runs=(Run("r", "", settings),))


def written(book: LabBook, place: int = 0) -> list[tuple[str, str]]:
    return [(c.value_text, c.u_text) for c in analyse(book).runs[0].columns[place].cells]


class Units(TestCase):
    def test_a_unit_stands_as_units_do_and_not_as_it_was_typed(self) -> None:
        self.assertEqual(show_value(7.754, 0.08, "mm^2", "one").text, "7.75 ± 0.08 mm²")
        line = draw_number_line((LineMark("a", 7.0, 0.1), LineMark("b", 9.0, 0.1)), "m/s^2")
        self.assertEqual(line.unit, "m/s²")
        book = table([["1"]])
        changed = Quantity("A", "changed", "area", "A", "cm^2")
        row = Setting("s", {"A": (Reading("2.50"),), "y": (Reading("1"),)})
        book = replace(book, quantities=(changed, *book.quantities), runs=(Run("r", "", (row,)),))
        self.assertEqual(call_row(book, book.runs[0], 0), "A = 2.50 cm²")


class Equations(TestCase):
    def test_a_number_alone_stands_before_its_letter_and_any_other_in_brackets(self) -> None:
        for unit, ys, equation in (
            ("cm", ("3.0", "3.5", "4.1", "4.5"), "y = 0.51 x + 2.50 cm"), ("cm", ("4.5", "4.1", "3.5", "3.0"), "y = −0.51 x + 5.05 cm"),
            ("s", ("3.0", "3.5", "4.1", "4.5"), "y = (0.51 s/cm) x + 2.50 s"),
            ("cm", ("3e9", "3.5e9", "4.1e9", "4.5e9"), "y = (5.1 × 10⁸) x + 2.50 × 10⁹ cm"),
        ):  # fmt: skip
            with self.subTest(equation):
                quantities = (Quantity("x", "changed", "x", "x", "cm"), Quantity("y", "measured", "y", "y", unit))
                rows = tuple(Setting(f"s{i}", {"x": (Reading(str(i)),), "y": (Reading(y),)}) for i, y in enumerate(ys, 1))
                fits = (Fit("f", "g"),)
                book = LabBook("t", quantities=quantities, runs=(Run("r", "", rows),), graphs=(Graph("g", "", "x", "y"),), fits=fits)
                self.assertEqual(analyse(book).fits[0].equation_text, equation)


class Ends(TestCase):
    """The ends of a column and the places of points stand with the digits that they were read with."""

    QUANTITIES = (Quantity("t", "changed", "time", "t", "s"), Quantity("y", "measured", "level", "y", "cm"))
    GRAPHS = (Graph("g", "", "t", "y"),)

    def shown(self, run: Run, *quantities: Quantity) -> tuple[list[str], list[str]]:
        found = analyse(LabBook("t", quantities=quantities or self.QUANTITIES, runs=(run,), graphs=self.GRAPHS))
        figure = found.graphs[0].figure
        assert figure is not None
        return [c.range_text for c in found.runs[0].columns], [p.label for p in figure.series[0].points]

    def test_of_a_log(self) -> None:
        log = Log(4, {"t": ("0.0", "0.5", "1.0", "599.5"), "y": ("21.30", "21.2", "22.340", "")}, {"t": "s", "y": "cm"})
        ranges, labels = self.shown(Run("r", "", log=log))
        self.assertEqual(ranges, ["0.0 to 599.5 s", "21.2 to 22.340 cm"])
        self.assertEqual(labels, ["t = 0.0 s, y = 21.30 cm", "t = 0.5 s, y = 21.2 cm", "t = 1.0 s, y = 22.340 cm"])

    def test_what_was_written_otherwise_is_worked_out(self) -> None:
        """In another unit, with a power of ten, more than once."""
        log = Log(2, {"t": ("1", "2"), "y": ("215", "3e2")}, {"t": "s", "y": "mm"})
        self.assertEqual(self.shown(Run("r", "", log=log))[0][1], "21.5 to 30.0 cm")
        rows = tuple(
            Setting(f"s{i}", {"t": (Reading(t),), "y": (Reading(a), Reading(b))})
            for i, (t, a, b) in enumerate((("1", "2", "3"), ("2.0", "4", "4")))
        )
        ranges, labels = self.shown(Run("r", "", rows), self.QUANTITIES[0], replace(self.QUANTITIES[1], repeats=2))
        self.assertEqual((ranges[0], labels[1][:9]), ("1 to 2.0 s", "t = 2.0 s"))
        self.assertEqual(ranges[1], "2.50 to 4.00 cm")


class Readings(TestCase):
    def test_without_a_plus_minus_they_stay_as_they_were_typed(self) -> None:
        for text in ("0.1", "456", "12345", "1", "0.250", "2.50", "1200"):
            with self.subTest(text):
                self.assertEqual(written(table([[text]])), [(text, "")])

    def test_counts_are_whole_and_means_have_one_more_decimal_at_most(self) -> None:
        layers = Instrument("by counting", "counted", "1")
        self.assertEqual(written(table([["1"], ["12345"]], layers)), [("1", ""), ("12345", "")])
        self.assertEqual(written(table([["3", "4"], ["4", "4"], ["3", "4", "4"]], layers)), [("3.5", "0.5"), ("4", ""), ("3.7", "0.5")])

    def test_one_reading_has_no_more_decimals_than_it_was_written_with(self) -> None:
        balance = Instrument("balance", "display", "1")
        self.assertEqual(written(table([["456"]], balance)), [("456", "1")])
        ruler = Instrument("ruler", "scale", "0.001")
        self.assertEqual(written(table([["0.300"], ["0.355"]], ruler)), [("0.3000", "0.0005"), ("0.3550", "0.0005")])


class Columns(TestCase):
    WATCH = Instrument("stopwatch", "display", "0.01")

    def test_means_of_one_column_have_one_number_of_decimals(self) -> None:
        rows = [["3.69", "3.49", "3.45"], ["4.55", "4.44", "4.44"], ["11.35", "11.37", "11.34"]]
        self.assertEqual(written(table(rows, self.WATCH)), [("3.54", "0.12"), ("4.48", "0.06"), ("11.35", "0.02")])

    def test_unless_their_plus_minus_differ_by_more_than_ten(self) -> None:
        rows = [["3.6", "5.6", "4.4"], ["4.55", "4.44", "4.44"], ["11.35", "11.37", "11.34"]]
        self.assertEqual([v for v, _ in written(table(rows, self.WATCH))], ["4.5", "4.48", "11.353"])

    def test_value_and_plus_minus_have_the_same_decimals_however_they_are_written(self) -> None:
        for digits in (Digits(), *(Digits(k, n) for k in ("decimals", "figures", "scientific") for n in (1, 2, 4))):  # type: ignore[arg-type]
            derived = Quantity("z", "derived", "z", "z", formula="y^2/7", digits=digits)
            for value, u in written(table([["3.69", "3.49"], ["45.5", "44.4"], ["1135", "1137"]], self.WATCH, derived), 1):
                with self.subTest(digits, value=value, u=u):
                    self.assertEqual(*(len(text.partition(" ")[0].partition(".")[2]) for text in (value, u)))
                    self.assertEqual(*(text.partition("×")[2] for text in (value, u)))
        self.assertEqual(write_decimals(1.2345, 0.003, 2), ("1.235", "0.003"))
        self.assertEqual(write_figures(1234.5, 0.3, 2, True), ("1.2345 × 10³", "0.0003 × 10³"))

    def test_what_is_made_of_exact_numbers_has_no_noughts_behind_it(self) -> None:
        layers = Instrument("by counting", "counted", "1")
        for formula, expected in (("y + 1", ["2", "13"]), ("y/2", ["0.5", "6.0"]), ("y/3", ["0.3333", "4.0000"])):
            derived = Quantity("z", "derived", "z", "z", formula=formula)
            counted = table([["1"], ["12"]], layers, derived)
            plain = replace(counted, quantities=tuple(replace(q, unit="") for q in counted.quantities))
            with self.subTest(formula):
                self.assertEqual([v for v, _ in written(plain, 1)], expected)
