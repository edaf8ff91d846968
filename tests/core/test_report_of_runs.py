"""A report on several runs: what belongs to one names it, and a finding stands there from each of them."""

from __future__ import annotations

import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import Accepted, Finding, LabBook, Run
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.side_by_side import find_what_runs_differ_in, see_from_every_run
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.tree import Drawing, Equation, Items, Maths, Part, plain_words, words_in
from hobrel.core.sentences import told
from tests.builders import lab_book, setting

# y = 2 x and y = 3 x, a hundredth to and fro
TIMES_TWO = [("0.10", ["0.21"]), ("0.20", ["0.39"]), ("0.30", ["0.61"]), ("0.40", ["0.79"]), ("0.50", ["1.01"])]
TIMES_THREE = [(x, [f"{float(y[0]) + float(x):.2f}"]) for x, y in TIMES_TWO]
SPEED = Finding("v", "speed", "v", "m/s", "1/gradient", "f")


def runs(*named: tuple[str, list[tuple[str, list[str]]]]) -> tuple[Run, ...]:
    return tuple(Run(name, name, tuple(setting(f"{name}{i}", x, ys) for i, (x, ys) in enumerate(rows))) for name, rows in named)


def book(*named: tuple[str, list[tuple[str, list[str]]]], finding: Finding = SPEED) -> LabBook:
    return replace(lab_book([], findings=[finding]), runs=runs(*named))


def parts(of: LabBook) -> dict[str, Part]:
    computation = compute(of)
    return {p.key: p for p in build_report(computation, present(computation), ReportFrame()).parts}


def text(part: Part) -> str:
    return " ".join(plain_words(words_in(block)) for block in part.blocks)


class SeveralRuns(unittest.TestCase):
    WET_AND_DRY = (("dry", TIMES_TWO), ("wet", TIMES_THREE))

    def test_graph_and_card_say_of_which_run_they_are(self) -> None:
        found = parts(book(*self.WET_AND_DRY))
        self.assertTrue(text(found["graph:g"]).startswith("Time against length: dry. "))
        self.assertEqual(found["fit:f"].title, "What the line says: dry")
        one = book(("dry", TIMES_TWO))
        alone = parts(one)
        self.assertTrue(text(alone["graph:g"]).startswith("Time against length. "))
        self.assertEqual(alone["fit:f"].title, "What the line says")
        # a card of another graph too: which is which is said
        more = replace(one, graphs=(*one.graphs, replace(one.graphs[0], id="h", title="Again")))
        titles = parts(replace(more, fits=(*more.fits, replace(more.fits[0], id="k", graph="h"))))
        self.assertEqual(titles["fit:f"].title, "What the line says: time against length")
        self.assertEqual(titles["fit:k"].title, "What the line says: Again")
        both = book(*self.WET_AND_DRY)
        together = replace(both, graphs=(replace(both.graphs[0], runs=("wet",)),))
        self.assertTrue(text(parts(together)["graph:g"]).startswith("Time against length. "))

    def test_a_finding_stands_there_from_every_run(self) -> None:
        """1/2 and 1/3 of a metre a second, which differ."""
        part = parts(book(*self.WET_AND_DRY))["finding:v"]
        rows = [plain_words(row) for block in part.blocks if isinstance(block, Items) for row in block.items]
        self.assertRegex(rows[0], r"^dry: 0\.50\d* ± 0\.0\d+ m/s\.$")
        self.assertRegex(rows[1], r"^wet: 0\.33\d* ± 0\.0\d+ m/s\. It differs from that of dry")
        drawn = [block for block in part.blocks if isinstance(block, Drawing)]
        self.assertEqual([d.key for d in drawn], ["finding-v-runs"])
        self.assertIn("Speed from every run: dry, wet.", plain_words(drawn[0].caption))
        assert drawn[0].line is not None
        self.assertEqual([m.name for m in drawn[0].line.marks], ["dry", "wet"])

    def test_the_first_that_has_it_is_what_the_others_are_compared_with(self) -> None:
        part = parts(book(("none yet", []), *self.WET_AND_DRY))["finding:v"]
        nothing = "There is no fit yet: A line with its uncertainty needs three or more points and has 0."
        self.assertTrue(text(part).startswith(f"{nothing} Speed from every run: none yet: {nothing}dry: 0.5"), text(part))
        beside = find_what_runs_differ_in(see_from_every_run(compute(book(("none yet", []), *self.WET_AND_DRY))))["v"]
        self.assertIsNone(beside.rows[0].value)
        self.assertIn("that of dry", told(beside.rows[2].words))

    def test_what_the_finding_rests_on_stands_there_of_every_run(self) -> None:
        """Gradients of 2 and 3 by hand."""
        found = parts(book(*self.WET_AND_DRY))
        kinds = ("graph", "fit", "finding")
        self.assertEqual([key for key in found if key.startswith(kinds)], ["graph:g", "fit:f", "graph:g.wet", "fit:f.wet", "finding:v"])
        self.assertTrue(text(found["graph:g.wet"]).startswith("Time against length: wet. "))
        self.assertEqual(found["fit:f.wet"].title, "What the line says: wet")
        self.assertEqual(found["graph:g.wet"].title, "Graph: time against length, wet")
        for key, gradient in (("fit:f", 2), ("fit:f.wet", 3)):
            numbers = [w.tex for block in found[key].blocks if isinstance(block, Items) for w in words_in(block) if isinstance(w, Maths)]
            self.assertRegex(numbers[0], rf"{gradient}\.0\d* \\pm|{gradient - 1}\.9\d* \\pm")
        drawings = [block.key for part in found.values() for block in part.blocks if isinstance(block, Drawing | Equation)]
        self.assertEqual(len(drawings), len(set(drawings)))

    def test_no_graph_of_a_run_that_has_none_of_many_runs_or_of_what_no_finding_rests_on(self) -> None:
        one_is_empty = parts(book(*self.WET_AND_DRY, ("none yet", [])))
        self.assertFalse({"graph:g.none yet", "fit:f.none yet"} & set(one_is_empty))
        self.assertIn("graph:g.wet", one_is_empty)
        for count, there in ((6, True), (7, False)):
            many = parts(book(*((f"r{i}", TIMES_TWO if i else TIMES_THREE) for i in range(count))))
            self.assertEqual("graph:g.r1" in many, there)
        both = book(*self.WET_AND_DRY)
        again, beside = replace(both.graphs[0], id="h"), replace(both.fits[0], id="k", graph="h")
        other = replace(both, graphs=(*both.graphs, again), fits=(*both.fits, beside))
        self.assertEqual([key for key in parts(other) if ".wet" in key], ["graph:g.wet", "fit:f.wet"])

    def test_what_another_run_gives_alone_is_there_unless_the_bench_states_its_own_first(self) -> None:
        of = replace(book(("none yet", []), ("wet", TIMES_THREE)), texts={"conclusion": "Wet it runs at {v:wet}."})
        found = parts(of)
        self.assertRegex(text(found["finding:v"]), r"Speed from every run: .*wet: 0\.33\d* ± 0\.0\d+ m/s\.$")
        self.assertFalse([block for block in found["finding:v"].blocks if isinstance(block, Drawing)])
        self.assertRegex(text(found["text:conclusion"]), r"Wet it runs at 0\.33")
        for waiting in (replace(of, bench_rounds=True), replace(of, bench_foresees=True)):
            self.assertNotIn("0.33", text(parts(waiting)["finding:v"]))
            self.assertNotIn("0.33", text(parts(waiting)["text:conclusion"]))

    def test_what_it_is_from_a_run_can_be_held_by_words(self) -> None:
        """A third of a metre a second, typed by hand, is offered as what it is."""
        of = replace(book(*self.WET_AND_DRY), texts={"conclusion": "Wet it runs at {v:wet}, dry at {v:dry,value}, never at 0.333."})
        computation = compute(of)
        report = build_report(computation, present(computation), ReportFrame())
        values = {v.name: v for v in report.values}
        self.assertEqual(values["v:wet"].words, "speed from wet")
        said = text(next(p for p in report.parts if p.key == "text:conclusion"))
        self.assertIn(f"Wet it runs at {values['v:wet'].text}, dry at {values['v:dry,value'].text}", said)

    def test_not_where_it_is_the_same_from_all_or_has_not_been_said(self) -> None:
        everywhere = replace(SPEED, formula="2 gradient", fit="own")
        fixed = book(*self.WET_AND_DRY, finding=everywhere)
        fixed = replace(fixed, fits=(*fixed.fits, replace(fixed.fits[0], id="own", run="dry")))
        one_is_empty = book(("dry", TIMES_TWO), ("wet", []))
        waiting = book(*self.WET_AND_DRY, finding=replace(SPEED, accepted=Accepted("0.5", "0.1", "a table")))
        waiting = replace(waiting, bench_foresees=True)
        for case in (fixed, one_is_empty, waiting, book(("dry", TIMES_TWO))):
            self.assertNotIn("from every run", text(parts(case)["finding:v"]))
