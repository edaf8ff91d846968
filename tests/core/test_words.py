"""Quantities of words, and kinds along x: what is shown of them, what works on them, and what takes them for no numbers."""

from __future__ import annotations

import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import (
    Fit,
    Graph,
    Instrument,
    LabBook,
    Log,
    Quantity,
    Reading,
    Run,
    Setting,
    read_lab_book,
    write_lab_book,
)
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.along_points import area_of_graph, steepest_of_graph
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.worded import join_kinds, place_kinds
from hobrel.core.presentation.analysis import analyse, present
from hobrel.core.presentation.class_data import present_class
from hobrel.core.presentation.shares import share_findings
from hobrel.core.presentation.working import explain
from hobrel.core.questions.board import make_board
from hobrel.core.questions.dry_run import dry_run
from hobrel.core.questions.graphs import summarise_marked
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.readings.headings import are_words, read_heading, read_headings
from hobrel.shelf.clamped_strip import write_draft

MATERIAL = Quantity("m", "changed", "material", "", holds="words")
RESISTANCE = Quantity("R", "measured", "resistance", "R", "ohm", Instrument("meter", "display", "0.01"), repeats=2)
LOOK = Quantity("c", "measured", "look", "c", "kg", Instrument("eye", "scale", "1"), holds="words")
ROWS = (("copper", "0.50", "0.52", "red"), ("Iron", "2.10", "2.20", ""), (" brass", "1.10", "1.12", "yellow"))


def run(key: str, rows: tuple[tuple[str, str, str, str], ...]) -> Run:
    def setting(i: int, row: tuple[str, str, str, str]) -> Setting:
        kind, *repeats, look = row
        return Setting(f"{key}{i}", {"m": (Reading(kind),), "R": tuple(Reading(r) for r in repeats), "c": (Reading(look),) if look else ()})

    return Run(key, key, tuple(setting(i, row) for i, row in enumerate(rows)))


def book(*runs: Run, more: tuple[Quantity, ...] = (), graph: Graph | None = None) -> LabBook:
    graph = graph or Graph("g", "", "m", "R", words_of="c")
    return LabBook(
        "metals", quantities=(MATERIAL, RESISTANCE, LOOK, *more), runs=runs or (run("a", ROWS),), graphs=(graph,), fits=(Fit("f", "g"),)
    )


class Kinds(unittest.TestCase):
    def test_are_places_in_the_order_in_which_they_were_written(self) -> None:
        graph = analyse(book()).graphs[0]
        assert graph.figure is not None
        axis = graph.figure.x_axis
        self.assertEqual([(t.value, t.text) for t in axis.ticks], [(1.0, "copper"), (2.0, "Iron"), (3.0, "brass")])
        self.assertEqual((axis.low, axis.high, axis.named, axis.label[0].text), (0.5, 3.5, True, "material"))
        drawn = [(p.x, round(p.y, 9), round(p.uy, 9)) for p in graph.figure.series[0].points]
        self.assertEqual(drawn, [(1.0, 0.51, 0.01), (2.0, 2.15, 0.05), (3.0, 1.11, 0.01)])
        self.assertEqual(graph.figure.title, "R against material")

    def test_of_two_runs_on_one_graph_are_the_same_places(self) -> None:
        second = run("b", (("iron", "2.0", "2.0", ""), ("zinc", "0.7", "0.7", ""), ("COPPER ", "0.6", "0.6", "")))
        graph = analyse(book(run("a", ROWS), second, graph=replace(book().graphs[0], runs=("b",)))).graphs[0]
        assert graph.figure is not None
        self.assertEqual([t.text for t in graph.figure.x_axis.ticks], ["copper", "Iron", "brass", "zinc"])
        self.assertEqual([p.x for p in graph.figure.series[1].points], [2.0, 4.0, 1.0])

    def test_that_only_a_run_elsewhere_has_take_no_room(self) -> None:
        graph = analyse(book(run("a", ROWS), run("b", (("zinc", "0.7", "0.7", ""),)))).graphs[0]
        assert graph.figure is not None
        self.assertEqual([t.text for t in graph.figure.x_axis.ticks], ["copper", "Iron", "brass"])

    def test_set_aside_and_blank_have_no_place(self) -> None:
        rows = run("a", ROWS).settings
        aside = replace(rows[1], readings={**rows[1].readings, "m": (Reading("Iron", set_aside="it was steel"),)})
        blank = replace(rows[2], readings={**rows[2].readings, "m": ()})
        column = compute(book(Run("a", "a", (rows[0], aside, blank)))).columns["a"].columns["m"]
        self.assertEqual((column.words, column.kinds), (("copper", "", ""), ("copper",)))
        self.assertEqual(column.filled.tolist(), [True, False, False])

    def test_are_not_fitted_nor_straightened_and_the_trail_says_so(self) -> None:
        shown = analyse(book())
        for trouble in (shown.fits[0].trouble, shown.patterns[0].trouble):
            assert trouble is not None
            self.assertEqual(trouble.code, "kinds_not_fitted")
        words = {s.stage: s.words[0].text for s in shown.stages if s.words}
        self.assertEqual((words["straighten"], words["fit"], words["read"]), ("kinds: no line", "kinds: no line", "3 settings"))

    def test_are_no_numbers_for_whatever_else_would_take_them_so(self) -> None:
        ground = compute(book())
        asked = (
            lambda: make_board(book(), "m", "R", True),
            lambda: steepest_of_graph(ground, "g", 0.5),
            lambda: area_of_graph(ground, "g", None, None),
        )
        for ask in asked:
            with self.assertRaises(CoreError) as told:
                ask()
            self.assertEqual(told.exception.code, "kinds_not_fitted")
        exchanged = analyse(book(graph=Graph("g", "", "R", "m"))).graphs[0].trouble
        assert exchanged is not None
        self.assertEqual(exchanged.code, "kinds_along_x")

    def test_have_means_of_a_stretch_from_kind_to_kind(self) -> None:
        # by hand: 2.15 and 1.11 have the mean 1.63
        summary = summarise_marked(compute(book()), "g", (1.5, 3.5))
        self.assertEqual((summary.n, summary.x_range, summary.gradient, summary.mean.value_text), (2, "Iron to brass", None, "1.6"))

    def test_ask_nothing_of_their_order(self) -> None:
        rows = tuple((f"metal {i}", t, t, "") for i, t in enumerate(("1.00", "9.00", "2.00", "8.00", "3.00", "90.00", "1.50")))
        self.assertEqual(analyse(book(run("a", rows))).slips, ())

    def test_of_the_class_stand_where_their_word_is(self) -> None:
        other = book(run("a", (("brass", "1.3", "1.3", ""), ("copper", "0.6", "0.6", ""), ("tin", "0.9", "0.9", ""))))
        shares = [share_findings(compute(replace(b, fits=())), name) for b, name in ((book(), "Avocet"), (other, "Dunlin"))]
        figure = present_class((), shares).figure
        assert figure is not None
        self.assertEqual([t.text for t in figure.x_axis.ticks], ["copper", "Iron", "brass", "tin"])
        self.assertEqual([[p.x for p in s.points] for s in figure.series], [[1, 2, 3], [3, 1, 4]])
        self.assertEqual(figure.title, "All benches: R against material")

    def test_join_by_what_is_meant(self) -> None:
        self.assertEqual(join_kinds([("soft  iron", ""), ("Soft Iron", "tin")]), ("soft  iron", "tin"))
        self.assertEqual(place_kinds(("TIN", " soft iron "), ("soft iron", "tin")).tolist(), [2, 1])


class Words(unittest.TestCase):
    def test_stand_in_the_table_and_at_the_points(self) -> None:
        shown = analyse(book())
        column = next(c for c in shown.runs[0].columns if c.quantity == "c")
        self.assertEqual([c.value_text for c in column.cells], ["red", "", "yellow"])
        self.assertEqual(
            (column.symbol[0].text, column.unit, column.instrument_text, column.trouble, column.count), ("look", "", "", None, 2)
        )
        figure = shown.graphs[0].figure
        assert figure is not None
        points = figure.series[0].points
        self.assertEqual([p.words for p in points], ["red", "", "yellow"])
        self.assertEqual(points[0].label, "material = copper, R = 0.510 ± 0.010 Ω; red")
        self.assertEqual(points[1].label, "material = Iron, R = 2.15 ± 0.05 Ω")

    def test_are_not_calculated_with_by_whatever_symbol_they_once_had(self) -> None:
        computed = compute(book(more=(Quantity("d", "derived", "density", "d", formula="c / R"),)))
        trouble = computed.columns["a"].columns["d"].trouble
        assert trouble is not None
        self.assertEqual((trouble.code, trouble.message), ("holds_words", "look holds words, and nothing is calculated with words."))

    def test_make_no_axis(self) -> None:
        for graph in (Graph("g", "", "c", "R"), Graph("g", "", "R", "c")):
            trouble = analyse(book(graph=graph)).graphs[0].trouble
            assert trouble is not None
            self.assertEqual(trouble.code, "holds_words")

    def test_have_no_working(self) -> None:
        for quantity in ("m", "c"):
            with self.assertRaisesRegex(CoreError, "no working behind"):
                explain(compute(book()), f"cell:a:a0:{quantity}")

    def test_of_a_logger_are_kept_row_by_row(self) -> None:
        log = Run("l", "log", log=Log(2, {"m": ("on", "off"), "R": ("1.00", "2.00"), "c": ("", "late")}, {"R": "ohm"}))
        column = compute(book(log)).columns["l"].columns["c"]
        self.assertEqual(column.words, ("", "late"))
        self.assertEqual(present(compute(book(log))).runs[0].columns[0].count, 2)

    def test_that_turn_to_numbers_again_lose_nothing(self) -> None:
        again = replace(book(), quantities=(MATERIAL, RESISTANCE, replace(LOOK, holds="numbers")))
        column = compute(again).columns["a"].columns["c"]
        self.assertEqual([s.text for row in column.readings for s in row], ["red", "yellow"])
        self.assertEqual(write_lab_book(read_lab_book(write_lab_book(book()))), write_lab_book(book()))

    def test_are_written_once_and_never_worked_out(self) -> None:
        for wrong in (replace(LOOK, repeats=2), replace(LOOK, kind="constant"), replace(LOOK, kind="derived")):
            with self.assertRaises(CoreError) as told:
                read_lab_book(write_lab_book(replace(book(), quantities=(MATERIAL, RESISTANCE, wrong))))
            self.assertEqual(told.exception.code, "bad_job")


class Plans(unittest.TestCase):
    def test_are_tried_dry_but_for_what_is_in_words(self) -> None:
        draft = write_draft()
        remark = Quantity("w", "measured", "remark", "", holds="words")
        with_words = replace(draft, quantities=(*draft.quantities, remark))
        found, without = (dry_run(book, 1, 3).findings[0] for book in (with_words, draft))
        self.assertEqual((found.mean, found.sd, found.count), (without.mean, without.sd, without.count))
        self.assertNotIn("no_instrument", {n.words.code for n in check_plan(with_words)})
        kinds = replace(draft, quantities=tuple(replace(q, holds="words") if q.kind == "changed" else q for q in draft.quantities))
        with self.assertRaises(CoreError) as told:
            dry_run(kinds, 1, 3)
        self.assertEqual(told.exception.code, "kinds_not_tried")


class Headings(unittest.TestCase):
    def test_say_words(self) -> None:
        for text in ("colour (words)", "colour [Words]", "colour in words", "colour / words"):
            heading = read_heading(text)
            self.assertEqual((heading.name, heading.symbol, heading.unit, heading.holds), ("colour", "", "", "words"), text)
        for text in ("words w", "time in s", "swords / m"):
            self.assertEqual(read_heading(text).holds, "numbers", text)

    def test_of_two_columns_of_words_are_two_quantities(self) -> None:
        block = read_headings(["colour (words)", "smell (words)", "t / s"])
        self.assertEqual([q.name for q in block.quantities], ["colour", "smell", "t" if block.quantities[2].name == "t" else "time"])

    def test_columns_without_a_number_are_words(self) -> None:
        self.assertTrue(are_words(["red", "", "blue 2"]))
        for cells in (["red", "2.5"], ["", ""], ["-", "–"], ["-0.5 m", "n/a"], [".5"], ["~3"]):
            self.assertFalse(are_words(cells), cells)


if __name__ == "__main__":
    unittest.main()
