"""What can be seen of a lab book that is marked: counted by hand on small tables."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import Confirmed, LabBook, Reading
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.facts import Writer, gather_facts
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book


def written() -> LabBook:
    return write_bench(make_plan(), Story((0.3, 0.4, 0.5, 0.6)), random.Random(5))


def with_reading(book: LabBook, row: int, repeat: int, reading: Reading | None) -> LabBook:
    run = book.runs[0]
    setting = run.settings[row]
    texts = list(setting.readings["t10"])
    texts[repeat] = reading
    changed = replace(setting, readings={**setting.readings, "t10": tuple(texts)})
    return replace(book, runs=(replace(run, settings=(*run.settings[:row], changed, *run.settings[row + 1 :])), *book.runs[1:]))


def facts_of(book: LabBook, opened: tuple[str, ...] = (), writers: tuple[Writer, ...] = ()) -> dict[str, list[str]]:
    computation = compute(book)
    analysis = present(computation)
    report = build_report(computation, analysis, ReportFrame())
    found: dict[str, list[str]] = {}
    for fact in gather_facts(book, analysis, report, opened, writers):  # type: ignore[arg-type]
        found.setdefault(fact.kind, []).append(fact.words.text)
    return found


class Facts(unittest.TestCase):
    def test_settings_and_repeats_are_counted_as_written(self) -> None:
        book = written()
        self.assertEqual(facts_of(book)["readings"], ["Beech strip: 4 settings of L (8 are asked for), 0.300 to 0.600 m."])
        self.assertEqual(facts_of(book)["repeats"], ["Beech strip: t₁₀ was read 3 times at every setting."])
        short = with_reading(with_reading(book, 1, 2, None), 3, 2, Reading(" "))
        self.assertEqual(facts_of(short)["repeats"], ["Beech strip: t₁₀ was read 3 times at 2 settings, twice at 2."])

    def test_decimals_and_slips(self) -> None:
        book = written()
        self.assertEqual(facts_of(book)["decimals"], ["All readings of one quantity have the same number of decimals."])
        self.assertEqual(facts_of(book)["slips"][0], "Possible slips: 0 not answered, 0 looked at and said to be right.")
        reading = book.runs[0].settings[1].readings["t10"][0]
        assert reading is not None
        odd = with_reading(book, 1, 0, Reading(reading.text[:-1]))
        self.assertIn("decimals", facts_of(odd)["decimals"][0].lower() + facts_of(odd)["slips"][0])
        self.assertEqual(facts_of(odd)["slips"][0], "Possible slips: 1 not answered, 0 looked at and said to be right.")
        right = Confirmed("wrong_decimals", book.runs[0].id, odd.runs[0].settings[1].id, "t10", 0, (reading.text[:-1],), "Ann")
        kept = facts_of(replace(odd, confirmed=(right,)))
        self.assertEqual(kept["decimals"], ["Other decimals than the rest, and said to be right: 1."])
        self.assertEqual(kept["slips"], ["Possible slips: 0 not answered, 1 looked at and said to be right."])

    def test_what_is_set_aside_stands_with_its_reasons(self) -> None:
        book = written()
        self.assertEqual(facts_of(book)["set_aside"], ["Nothing is set aside."])
        for row, reason in ((0, "slipped"), (1, "slipped"), (2, "bell rang")):
            reading = book.runs[0].settings[row].readings["t10"][1]
            assert reading is not None
            book = with_reading(book, row, 1, replace(reading, set_aside=reason))
        self.assertEqual(facts_of(book)["set_aside"], ["Set aside, 2: “slipped”.", "Set aside, 1: “bell rang”."])
        # it was read all the same
        self.assertEqual(facts_of(book)["repeats"], ["Beech strip: t₁₀ was read 3 times at every setting."])
        run = book.runs[0]
        whole = replace(book, runs=(replace(run, settings=(replace(run.settings[0], set_aside="no clamp"), *run.settings[1:])),))
        self.assertEqual(
            facts_of(whole)["set_aside"], ["Set aside, 1: “no clamp”.", "Set aside, 1: “slipped”.", "Set aside, 1: “bell rang”."]
        )
        self.assertEqual(facts_of(whole)["readings"], ["Beech strip: 4 settings of L (8 are asked for), 0.300 to 0.600 m."])

    def test_of_a_line_that_its_points_do_not_follow(self) -> None:
        made = written()
        whole = facts_of(made)["residuals"]
        self.assertFalse([fact for fact in whole if "do not follow" in fact])
        # the second of four swings twice as slowly
        row = made.runs[0].settings[1]
        slow = [Reading(f"{2 * float(r.text):.2f}") for r in row.readings["t10"] if r is not None]
        bent = replace(row, readings={**row.readings, "t10": tuple(slow)})
        book = replace(
            made, runs=(replace(made.runs[0], settings=(made.runs[0].settings[0], bent, *made.runs[0].settings[2:])), *made.runs[1:])
        )
        found = facts_of(book)["residuals"]
        self.assertTrue([fact for fact in found if fact.endswith("the points do not follow what is fitted to them.")], found)

    def test_what_is_expected_stands_apart_from_what_is_counted(self) -> None:
        made = lab_book([(f"{x}.0", [f"{2 * x + (x * 7 % 5) / 10:.1f}"]) for x in range(1, 31)])
        book = replace(made, quantities=tuple(replace(q, instrument=None) for q in made.quantities))
        self.assertRegex("\n".join(facts_of(book)["residuals"]), r"within [^;]+; about \d+")

    def test_fit_finding_words_and_shares(self) -> None:
        book = written()
        self.assertEqual(facts_of(book)["residuals"][0], "Nobody of the bench has opened Fit, where the residuals are.")
        self.assertNotIn("opened Fit", " ".join(facts_of(book, ("fit",))["residuals"]))
        self.assertEqual(facts_of(replace(book, fits=(), findings=()))["bars"], ["Nothing is fitted."])
        self.assertEqual(facts_of(replace(book, fits=()))["finding"], [f"{book.findings[0].name}: no value."])
        (graph, *_), (fit, *_) = book.graphs, book.fits
        other = replace(graph, id="other", x="L", y="t10", title="")
        two = replace(book, graphs=(*book.graphs, other), fits=(fit, replace(fit, id="second", graph="other")))
        self.assertNotIn(" against ", facts_of(replace(book, fits=(fit,)))["bars"][0])
        names = [words.split(", ")[0] for words in facts_of(two)["bars"]]
        self.assertEqual((len(names), names[1]), (2, "t₁₀ against L"))
        self.assertNotEqual(names[0], names[1])
        found = facts_of(book, writers=(Writer("Ann", 3), Writer("somebody who has left", 1)))
        self.assertTrue(found["finding"][0].startswith(f"{book.findings[0].name}: "))
        self.assertIn("±", found["finding"][0])
        self.assertEqual(found["shares"], ["Ann: 3 of 4 changes.", "somebody who has left: 1 of 4 changes."])
        empty = replace(book, texts={})
        self.assertTrue(any("nothing is written here yet" in words for words in facts_of(empty)["words"]))


if __name__ == "__main__":
    unittest.main()
