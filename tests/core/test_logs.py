"""Logs: thousands of rows that nobody typed, computed like settings and drawn as far as can be seen."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from hobrel.core.document.lab_book import AsideRows, Convention, LabBook, Log, Quantity, Run, read_lab_book, write_lab_book
from hobrel.core.pipeline.averaging import uncertainty_at
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.rows import look_at_rows
from hobrel.core.presentation.thinning import thin_points, thin_signs
from hobrel.core.presentation.working import explain
from hobrel.core.presentation.working_parts import readings_at
from hobrel.core.readings.instruments import Instrument
from hobrel.core.readings.logged import read_logged
from hobrel.core.sentences import told
from tests.builders import STOPWATCH, lab_book

ROWS = [(f"0.{i}00", [f"{1.2 * i + 0.01 * (i % 3):.2f}"]) for i in range(1, 9)]
SQUARE = Quantity("y2", "derived", "square", "y^2", formula="y^2")


def logged(rows: list[tuple[str, list[str]]], aside: tuple[AsideRows, ...] = (), x_unit: str = "m") -> LabBook:
    """The lab book of `ROWS` as a logger would have written it."""
    written = lab_book(ROWS, (SQUARE,))
    log = Log(len(rows), {"x": tuple(x for x, _ in rows), "y": tuple(y for _, (y,) in rows)}, {"x": x_unit, "y": "s"}, aside)
    return replace(written, runs=(Run("run1", "Run", (), log),))


class Logs(TestCase):
    def test_the_line_is_that_of_the_same_readings_written_down(self) -> None:
        typed, kept = analyse(lab_book(ROWS, (SQUARE,))), analyse(logged(ROWS))
        self.assertEqual(kept.fits[0].gradient, typed.fits[0].gradient)
        self.assertEqual(kept.fits[0].chi2, typed.fits[0].chi2)
        self.assertEqual(kept.graphs[0].figure.series[0].points[3].y, typed.graphs[0].figure.series[0].points[3].y)  # type: ignore[union-attr]
        self.assertEqual((kept.slips, told(kept.stages[1].words)), ((), "8 rows"))
        self.assertEqual(told(kept.runs[0].logged), "A logger wrote 8 rows: x from 0.100 to 0.800 m, y from 1.21 to 9.62 s.")

    def test_rows_set_aside_count_no_more(self) -> None:
        spoilt = [*ROWS[:-2], ("0.700", ["99.00"]), ("0.800", ["99.00"])]
        rest = analyse(logged(spoilt, (AsideRows(6, 7, "lid open"),)))
        with_them, without = rest.fits[0].gradient, analyse(logged(ROWS[:-2])).fits[0].gradient
        assert with_them is not None and with_them.u and without is not None and without.u
        # rows that count no more are noughts in sums, which may be added up in another order
        self.assertEqual((with_them.value, with_them.text), (without.value, without.text))
        self.assertAlmostEqual(with_them.u / without.u, 1, 14)

    def test_a_column_in_another_unit_keeps_its_texts(self) -> None:
        in_cm = [(f"{float(x) * 100:.1f}", y) for x, y in ROWS]
        kept = logged(in_cm, x_unit="cm")
        self.assertEqual(analyse(kept).fits[0].equation_text, analyse(logged(ROWS)).fits[0].equation_text)
        rows = look_at_rows(compute(kept), "run1", 2, 2)
        self.assertEqual([c.texts for c in rows.columns], [("0.300", "0.400"), ("3.60", "4.81"), ("12.96", "23.14")])
        self.assertEqual(rows.columns[2].us, ("0.07", "0.10"))

    def test_a_quantity_that_was_not_logged_is_blank_beside_those_that_were(self) -> None:
        kept = logged(ROWS)
        bare = replace(kept.runs[0], log=replace(kept.runs[0].log, columns={"x": tuple(x for x, _ in ROWS)}))  # type: ignore[type-var]
        columns = compute(replace(kept, runs=(bare,))).columns["run1"].columns
        y, x = columns["y"].traced, columns["x"].traced
        assert y is not None and x is not None
        self.assertEqual((y.value.size, int(np.count_nonzero(np.isfinite(y.value)))), (len(ROWS), 0))
        self.assertEqual(float(x.value[0]), 0.1)

    def test_a_reading_of_a_log_is_no_reading_set_aside(self) -> None:
        columns = compute(logged(ROWS)).columns["run1"]
        found = readings_at(columns, [columns.columns["y"]], 2)
        self.assertEqual([(r.setting, r.repeat, r.text, r.set_aside) for r in found], [("row2", 0, ROWS[2][1][0], False)])

    def test_what_is_read_from_no_instrument_has_no_uncertainty_of_one(self) -> None:
        bare = Quantity("y", "measured", "time", "y", "s")
        self.assertEqual(uncertainty_at(bare, Convention(), 3.0), 0.0)
        self.assertEqual(uncertainty_at(replace(bare, instrument=Instrument("clock", "display", "0.01")), Convention(), 3.0), 0.01)

    def test_looking_beyond_the_end_gives_what_there_is(self) -> None:
        computation = compute(logged(ROWS, (AsideRows(7, 7, "late"),)))
        rows = look_at_rows(computation, "run1", 6, 200)
        self.assertEqual((rows.first, len(rows.columns[0].texts), rows.aside), (6, 2, ("", "late")))
        self.assertEqual(look_at_rows(computation, "run1", 500, 5).columns[0].texts, ())

    def test_one_row_has_its_working(self) -> None:
        computation = compute(logged(ROWS))
        self.assertEqual(explain(computation, "cell:run1:row2:y").result, "y = 3.600 ± 0.010 s")
        self.assertEqual([r.text for r in explain(computation, "cell:run1:row2:y2").readings], ["3.60"])
        self.assertEqual(explain(computation, "fit:f:gradient").readings, ())

    def test_the_file_format_goes_round(self) -> None:
        kept = logged(ROWS, (AsideRows(0, 1, "warming up"),))
        self.assertEqual(read_lab_book(write_lab_book(kept)), kept)

    def test_what_loggers_write(self) -> None:
        texts = ("1.50", "2,5", "", "-3e-2", "4 cm", "NaN", "inf", "1_0", "off", "1,234.5")
        values, u = read_logged(texts, "m", "m", STOPWATCH, False)
        np.testing.assert_array_equal(values, [1.5, 2.5, np.nan, -0.03, 0.04, np.nan, np.nan, np.nan, np.nan, 1234.5])
        np.testing.assert_array_equal(np.isnan(u), np.isnan(values))
        celsius, _ = read_logged(("0.0", "25.0"), "°C", "K", None, False)
        np.testing.assert_allclose(celsius, [273.15, 298.15])


class Thinning(TestCase):
    @given(arrays.arrays(np.float64, st.integers(1, 400), elements=st.floats(-1e6, 1e6)), st.integers(2, 60))
    def test_the_extremes_stay(self, y: np.ndarray[tuple[int], np.dtype[np.float64]], most: int) -> None:
        kept = thin_points(np.arange(y.size, dtype=np.float64), y, most)
        self.assertLessEqual(len(kept), max(most, y.size if y.size <= most else 0))
        self.assertEqual((y[kept].min(), y[kept].max()), (y.min(), y.max()))

    def test_many_signs_become_those_of_most(self) -> None:
        self.assertEqual(thin_signs("+−" * 10), "+−" * 10)
        self.assertEqual(thin_signs("+" * 300 + "−" * 300), "+" * 30 + "−" * 30)

    def test_a_thinned_graph_says_so_and_fits_all(self) -> None:
        rows = [(f"{i / 1000:.3f}", [f"{i / 100 + (i % 7) / 50:.2f}"]) for i in range(5000)]
        done = analyse(logged(rows))
        figure = done.graphs[0].figure
        assert figure is not None
        self.assertEqual((len(figure.series[0].points), done.fits[0].n), (1200, 5000))
        self.assertIn("Of 5000 points 1200 are drawn", done.graphs[0].remarks[0].text)
        slope, intercept = np.polyfit([float(x) for x, _ in rows], [float(y) for _, (y,) in rows], 1)
        self.assertAlmostEqual(done.fits[0].gradient.value if done.fits[0].gradient else 0, slope, 3)
        self.assertIsNotNone(intercept)
