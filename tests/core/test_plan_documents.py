"""From a lab book to a plan, to a version, to what a bench gets; what is not right yet in a plan; what the algebra offers it."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace
from typing import Any

from hobrel.core.document.lab_book import (
    Accepted,
    Finding,
    Ingredient,
    LabBook,
    Log,
    Quantity,
    Reading,
    Run,
    Setting,
    Unknown,
    read_lab_book,
    write_lab_book,
)
from hobrel.core.document.plan_part import Condition, Freedoms, GridRow, PlanPart, Section, Step, WantedSettings
from hobrel.core.document.plans import ALL_FREE, begin_plan, bring_in, freeze_plan, open_for_bench, what_is_due
from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.amendments import find_broken
from hobrel.core.questions.dry_run import demonstrate
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.questions.plan_offers import offer_plots
from hobrel.core.readings.instruments import Instrument
from hobrel.core.sentences import told
from hobrel.shelf import cooling_cups, singing_bottle
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench, write_draft
from hobrel.shelf.plans import SHELF
from tests.builders import lab_book

ROWS = [("1.0", ("2.0",)), ("2.0", ("4.1",)), ("3.0", ("5.9",)), ("4.0", ("8.0",))]


class Documents(unittest.TestCase):
    def test_a_bench_book_becomes_a_plan_in_which_all_is_free_and_what_the_bench_found_is_open(self) -> None:
        done = write_bench(make_plan(), Story((0.3, 0.4, 0.5, 0.6)), random.Random(1))
        plan = begin_plan(done)
        self.assertEqual((plan.freedoms, plan.plan.freedoms, plan.plan.left_open, plan.plan.draft), (ALL_FREE, Freedoms(), ("T",), True))
        self.assertEqual(({q.given for q in plan.quantities}, {f.given for f in plan.findings}), ({False}, {False}))
        self.assertEqual((plan.runs[0].settings, plan.runs[0].name, plan.texts), ((), "Readings", {}))
        own = replace(done, freedoms=ALL_FREE, plan=PlanPart())
        self.assertEqual((begin_plan(own).plan.left_open, begin_plan(own).plan.freedoms), ((), Freedoms()))
        self.assertEqual(begin_plan(write_draft()).runs[0].name, "Beech strip", "the name of an empty table is the plan’s")

    def test_freezing_keeps_what_is_given_and_one_empty_table_of_each_kind(self) -> None:
        setting = Setting("s", {"L": (Reading("0.3"),)})
        runs = (
            Run("a", "A", (setting,), headings=("L", "t10")), Run("b", "B", (setting,), headings=("L", "t10")),
            Run("c", "C", headings=("t10",)),
            Run("d", "Given", (setting,), headings=("L", "t10")), Run("e", "E", (setting,), headings=()),
        )  # fmt: skip
        frozen = freeze_plan(replace(write_draft(), runs=runs, plan=PlanPart(draft=True, given_runs=("d",)), ticked=("x",)))
        self.assertEqual([(r.id, len(r.settings)) for r in frozen.runs], [("a", 0), ("c", 0), ("d", 1)])
        self.assertEqual(frozen.ticked, ())
        bare = freeze_plan(replace(write_draft(), runs=()))
        self.assertEqual([(r.id, r.name) for r in bare.runs], [("run1", "Readings")])

    def test_an_unknown_stays_by_name_for_benches_to_read(self) -> None:
        book = lab_book(ROWS, findings=[Finding("u", "the parcel", "u", "", "x", uses=(Ingredient("x", "unknown", "f", part="p"),))])
        book = replace(book, fits=(replace(book.fits[0], unknowns=(Unknown("p", "the parcel", ("3.1", "3.2")),)),))
        frozen = freeze_plan(book)
        self.assertEqual(frozen.fits[0].unknowns, (Unknown("p", "the parcel", ()),))
        self.assertEqual([f.id for f in frozen.findings], ["u"])
        (card,) = analyse(replace(frozen, runs=book.runs)).fits
        self.assertEqual(told(card.unknowns[0].words), "Write at least one reading of the parcel.")

    def test_what_a_bench_gets(self) -> None:
        part = PlanPart(
            draft=True, left_open=("T", "E", "m"), own_values=("m", "L"), freedoms=Freedoms(units=True), notes="n",
            prompts={"read": "Read."},
        )  # fmt: skip
        got = open_for_bench(replace(write_draft(), plan=part))
        of = {q.id: q for q in got.quantities}
        self.assertEqual([(of[key].given, of[key].formula) for key in ("T", "T2")], [(False, ""), (True, "T^2")])
        # only what is derived has a formula to be found, and only a constant a value of the bench’s own
        self.assertEqual((of["m"].given, of["m"].value, of["m"].u, of["b"].value), (True, "", "", "30.0"))
        self.assertEqual((got.findings[0].given, got.findings[0].formula), (False, ""))
        self.assertEqual((got.freedoms, got.plan.notes, got.plan.prompts), (Freedoms(units=True), "", {"read": "Read."}))

    def test_what_is_withheld_is_earned_bit_by_bit(self) -> None:
        for shown, accepted, expected in (
            ("at_once", "at_once", ()),
            ("after_expectation", "at_once", ("relation",)),
            ("at_once", "after_own", ("accepted:E",)),
            ("after_expectation", "after_own", ("relation", "accepted:E")),
            ("never", "teacher", ()),
        ):
            version = replace(write_draft(), plan=PlanPart(relation_shown=shown, accepted_shown=accepted))  # type: ignore[arg-type]
            got = open_for_bench(version)
            self.assertEqual(got.plan.withheld, expected)
            self.assertEqual((bool(got.relation), got.findings[0].accepted is not None), (shown == "at_once", accepted == "at_once"))
            self.assertEqual(what_is_due(got), ())
        both = replace(got, plan=replace(got.plan, withheld=("relation", "accepted:E")))
        self.assertEqual(what_is_due(replace(both, texts={"expectation": " "})), ())
        self.assertEqual(what_is_due(replace(both, texts={"expectation": "So."})), ("relation",))
        stated = replace(both, findings=(replace(both.findings[0], rounded="12 ± 1"),))
        self.assertEqual(what_is_due(stated), ("accepted:E",))
        brought = bring_in(stated, version, ("accepted:E",))
        self.assertEqual(
            (brought.relation, brought.findings[0].accepted, brought.plan.withheld), ("", version.findings[0].accepted, ("relation",))
        )
        self.assertEqual(bring_in(brought, version, ("relation",)).relation, version.relation)

    def test_who_rounds_first(self) -> None:
        finding = Finding("E", "E", "E", "", "gradient", "f", Accepted("1", "", ""))
        book = LabBook("A", findings=(finding,))
        self.assertFalse(book.rounds_first(finding))
        self.assertTrue(replace(book, bench_rounds=True).rounds_first(finding))
        later = PlanPart(accepted_shown="after_own")
        self.assertTrue(replace(book, plan=later).rounds_first(finding))
        self.assertFalse(replace(book, plan=replace(later, draft=True)).rounds_first(finding))
        bare = replace(finding, accepted=None)
        self.assertFalse(replace(book, plan=later).rounds_first(bare))
        self.assertTrue(replace(book, plan=replace(later, withheld=("accepted:E",))).rounds_first(bare))

    def test_too_much_of_something_or_two_of_one_id(self) -> None:
        for part, code in (
            (PlanPart(steps={"read": tuple(Step(f"s{i}", "x") for i in range(41))}), "too_large"),
            (PlanPart(steps={"read": (Step("a", "x"),), "fit": (Step("a", "y"),)}), "bad_job"),
            (PlanPart(conditions=tuple(Condition(f"c{i}", "x") for i in range(13))), "too_large"),
            (PlanPart(sections=(Section("a", "x"), Section("a", "y"))), "bad_job"),
            (PlanPart(grid=tuple(GridRow(f"g{i}", "x") for i in range(25))), "too_large"),
            (PlanPart(kept_same=("x",) * 21), "too_large"),
        ):
            with self.assertRaises(CoreError) as caught:
                read_lab_book(write_lab_book(LabBook("A", plan=part)))
            self.assertEqual(caught.exception.code, code)


class Checks(unittest.TestCase):
    def notes(self, book: LabBook, **part: Any) -> list[str]:
        return [f"{n.stage}: {n.words.code}" for n in check_plan(replace(book, plan=replace(book.plan, **part)))]

    def test_plans_of_the_shelf_that_can_be_tried_have_nothing_to_look_at(self) -> None:
        for key, (_, write) in SHELF.items():
            with self.subTest(key):
                self.assertEqual(self.notes(write()), [])

    def test_each_thing_is_said_where_it_stands(self) -> None:
        book = write_draft()
        of = {q.id: q for q in book.quantities}

        def other(key: str, **fields: Any) -> LabBook:
            return replace(book, quantities=tuple(replace(q, **fields) if q.id == key else q for q in book.quantities))

        self.assertEqual(of["L"].kind, "changed")
        for plan, part, expected in (
            (replace(book, question=" "), {}, "ask: no_question"),
            (replace(book, relation="T = 2 pi sqrt(L"), {}, "ask: bad_formula"),
            (replace(book, relation="T = 2 pi sqrt(m L^3/(b d^3))"), {}, "ask: not_in_relation"),
            (other("t10", instrument=None), {}, "read: no_instrument"),
            (other("m", value=""), {}, "read: no_value"),
            (other("T", formula=""), {}, "average: no_formula"),
            (other("T", formula="T2/T"), {}, "average: wrong_formula"),
            (other("T", formula="t_10 + m"), {}, "average: wrong_formula"),
            (replace(book, findings=(replace(book.findings[0], formula="gradient + m"),)), {}, "find: wrong_formula"),
            (replace(book, findings=(replace(book.findings[0], name="E"),)), {}, "find: finding_unnamed"),
            (
                replace(book, findings=(replace(book.findings[0], unit="", accepted=None),)),
                {"dry": replace(book.plan.dry, truths={"E": "12.4 GPa"})},
                "find: finding_without_unit",
            ),
            (book, {"wanted": {"L": WantedSettings(8, "0.6", "0.3")}}, "read: bad_range"),
            (book, {"wanted": {"L": WantedSettings(8, "0.3", "0.3")}}, "read: bad_range"),
            (book, {"wanted": {"L": WantedSettings(8, "far", "0.3")}}, "read: bad_number"),
            (book, {"wanted": {"L": WantedSettings(4, "0.3", "0.6")}}, "read: few_settings"),
            (book, {"wanted": {}}, "read: no_dry_run"),
            (book, {"given_runs": ("run1",)}, "read: nothing_given"),
            (book, {"conditions": (Condition("a", "Warm"),)}, "read: one_condition"),
            (book, {"conditions": (Condition("a", "Warm"), Condition("b", " warm"))}, "read: same_condition"),
            (book, {"sections": (Section("a", "Why"), Section("b", "why"))}, "report: same_section"),
            (book, {"grid": (GridRow("a", "Care", ("one",)),)}, "report: few_levels"),
            (
                replace(book, findings=(replace(book.findings[0], accepted=None),)),
                {"accepted_shown": "after_own"},
                "find: nothing_accepted",
            ),
        ):
            with self.subTest(expected):
                self.assertIn(expected, self.notes(plan, **part))
        about = [n.quantity for n in check_plan(replace(other("t10", instrument=None), question="")) if n.quantity]
        self.assertEqual(about, ["t10"], "of the question there is no quantity to go to")
        self.assertEqual([n.quantity for n in check_plan(other("m", value="")) if n.words.code == "no_value"], ["m"])
        self.assertNotIn("read: no_dry_run", self.notes(book, wanted={"L": WantedSettings(8, "far", "0.3")}), "what is said once")
        self.assertNotIn("read: no_value", self.notes(other("m", value=""), own_values=("m",)))
        self.assertNotIn("read: few_settings", self.notes(book, wanted={"L": WantedSettings(5, "0.3", "0.6")}))
        self.assertNotIn("read: few_settings", self.notes(book, wanted={"L": WantedSettings(0, "0.3", "0.6")}))
        self.assertNotIn("report: few_levels", self.notes(book, grid=(GridRow("a", "Care", ("no", "yes")),)))
        self.assertNotIn("read: one_condition", self.notes(book, conditions=(Condition("a", "A"), Condition("b", "B"))))

    def test_an_empty_plan_says_what_comes_first_and_only_that_stops_it(self) -> None:
        found = check_plan(begin_plan(LabBook("A", runs=(Run("r", "R"),))))
        self.assertEqual([(n.words.code, n.stop) for n in found], [("no_question", False), ("no_quantities", True)])

    def test_they_stand_in_the_order_of_the_trail(self) -> None:
        book = replace(write_draft(), question="", findings=(replace(write_draft().findings[0], formula="q"),))
        stages = [n.stage for n in check_plan(replace(book, plan=replace(book.plan, conditions=(Condition("a", "A"),))))]
        self.assertEqual(stages, ["ask", "read", "find"])


class Offers(unittest.TestCase):
    def test_the_plots_of_a_relation_with_what_is_found_by_them(self) -> None:
        """By hand: f = c/(2π) √(A/(V l)), so f² = c² A/(4π² l) · 1/V."""
        first = offer_plots(singing_bottle.write_draft())[0]
        self.assertEqual((first.x, first.y, first.x_form, first.y_form, first.unknown), ("V", "f", "1/v", "v^2", "c_s"))
        self.assertEqual(first.formula, "2 pi sqrt(gradient) sqrt(l)/sqrt(A)")
        strip = offer_plots(write_draft())[0]
        self.assertEqual((strip.y, strip.x_form, strip.y_form, strip.formula), ("T", "v^3", "v^2", "16 pi^2 m/(b d^3 gradient)"))
        self.assertLessEqual(len(offer_plots(singing_bottle.write_draft())), 4)

    def test_what_only_the_relation_has_is_found_where_no_finding_is_named(self) -> None:
        bare = replace(singing_bottle.write_draft(), findings=())
        self.assertEqual(offer_plots(bare)[0].unknown, "c_s")

    def test_of_several_unknowns_the_gradient_gives_one_and_the_intercept_another(self) -> None:
        """By hand: ln E = ln E_0 − μ n, so μ = −gradient and E_0 = e^intercept."""
        sheets = Quantity("n", "changed", "number of sheets", "n", "")
        light = Quantity("E", "measured", "illuminance", "E", "lx")
        plan = begin_plan(LabBook("A", quantities=(sheets, light), runs=(Run("r", "R"),), relation="E = E_0 exp(-mu n)"))
        (offer,) = offer_plots(plan)
        self.assertEqual((offer.y_form, offer.unknown, offer.formula, offer.intercept_tex), ("ln(v)", "mu", "-gradient", ""))
        first = replace(plan, findings=(Finding("w", "light without sheets", "E_0", "lx", "exp(intercept)"),))
        (offer,) = offer_plots(first)
        self.assertEqual((offer.unknown, offer.formula), ("E_0", "exp(intercept)"))
        self.assertIn("E_0", offer.intercept_tex.replace("{", "").replace("}", ""))

    def test_nothing_without_a_relation_or_of_one_that_holds_nothing_set(self) -> None:
        self.assertEqual(offer_plots(replace(write_draft(), relation="")), ())
        self.assertEqual(offer_plots(replace(write_draft(), relation="T = 2 pi sqrt(m/b)")), ())
        with self.assertRaises(CoreError):
            offer_plots(replace(write_draft(), relation="T = "))


class Demonstrations(unittest.TestCase):
    def test_another_truth_and_nothing_that_gives_the_own_one_away(self) -> None:
        shown = demonstrate(cooling_cups.write_draft(), 4)
        self.assertEqual((shown.title, shown.plan.draft, shown.plan.dry.truths), ("Three cups of tea: how it is done", False, {}))
        self.assertEqual(len(shown.runs[0].settings), 10)
        self.assertEqual({f.accepted for f in demonstrate(write_draft(), 1).findings}, {None})
        long = demonstrate(replace(write_draft(), title="x" * 118), 1)
        self.assertLessEqual(len(long.title), 120)


class Amendments(unittest.TestCase):
    def test_what_would_stop_working_is_named_once(self) -> None:
        extra = (Quantity("w", "derived", "w", "w", "", formula="k_c y"), Quantity("c", "constant", "c", "k_c", "", value="2", u=""))
        findings = (Finding("k", "slope", "k", "", "gradient k_c", "f"),)
        book = lab_book(ROWS, derived=extra[:1], constants=extra[1:], findings=findings)
        same = write_lab_book(book)
        self.assertEqual(find_broken(book, same), ())
        gone = {**same, "quantities": [q for q in same["quantities"] if q["id"] != "c"]}
        self.assertEqual(find_broken(book, gone), ("w", "slope"))
        worse = {**same, "quantities": [{**q, "value": "3"} if q["id"] == "c" else q for q in same["quantities"]]}
        self.assertEqual(find_broken(book, worse), ())
        broken_before = read_lab_book(gone)
        self.assertEqual(find_broken(broken_before, gone), ())
        with self.assertRaises(CoreError):
            find_broken(book, {**same, "title": 3})

    def test_logs_are_those_of_the_lab_book(self) -> None:
        columns = {"x": ("1", "2", "3"), "y": ("2", "4", "6")}
        book = replace(lab_book(ROWS), runs=(Run("run1", "Log", log=Log(3, columns, {})),))
        bare = write_lab_book(replace(book, runs=(Run("run1", "Log", log=Log(3, {}, {}, kept="k")),)))
        self.assertEqual(find_broken(book, bare), ())


class Instruments(unittest.TestCase):
    def test_a_division_that_is_nothing_is_refused_for_hands(self) -> None:
        draft = write_draft()
        for division in ("0", "x"):
            spoiled = tuple(replace(q, instrument=Instrument("r", "scale", division)) if q.id == "L" else q for q in draft.quantities)
            with self.assertRaises(CoreError) as caught:
                demonstrate(replace(draft, quantities=spoiled), 1)
            self.assertEqual(caught.exception.code, "bad_number")
