"""What a dry run has to be told before it can be made, and how it asks for it."""

from __future__ import annotations

import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import (
    LabBook,
    Quantity,
)
from hobrel.core.document.plan_part import DryTruth, WantedSettings
from hobrel.core.errors import CoreError
from hobrel.core.questions.dry_run import dry_run
from hobrel.core.readings.instruments import Instrument
from tests.core.test_dry_run import spring


class Refused(unittest.TestCase):
    def code(self, book: LabBook, classes: int = 2) -> str:
        with self.assertRaises(CoreError) as caught:
            dry_run(book, 1, classes)
        return caught.exception.code

    def test_what_is_missing_is_named(self) -> None:
        book = spring()
        bare = replace(book, plan=replace(book.plan, wanted={}))
        self.assertEqual(self.code(bare), "no_settings")
        self.assertEqual(self.code(spring(relation="")), "no_truth")
        self.assertEqual(self.code(spring(relation="F = k q")), "no_truth")
        self.assertEqual(self.code(spring(relation="F = -k s")), "no_truth")
        with self.assertRaises(CoreError) as caught:
            dry_run(spring(relation="F = k s w"), 1, 2)
        self.assertEqual((caught.exception.code, caught.exception.fields["field"]), ("unknown_value", "w"))
        with self.assertRaises(CoreError) as caught:
            dry_run(spring(relation="F = k s nu_0"), 1, 2)
        self.assertTrue(caught.exception.message.startswith("Say what ν₀ is"), caught.exception.message)
        self.assertEqual(caught.exception.fields["field"], "nu_0")
        self.assertEqual(self.code(spring(relation="F = k + s")), "bad_unit")
        factor = "A proportionality becomes a relation with its factor: give that a letter of its own, as in T^2 = k L."
        for relation, words in (
            ("F = k s^2", "The two sides of the relation do not go together: N on the left, N m on the right."),
            (
                "F = G s^2",
                "The two sides of the relation do not go together: N on the left, m⁵/(kg s²) on the right. G is read as the Newtonian "
                "constant of gravitation: make it a quantity or a finding if it is something else.",
            ),
            ("F ∝ s", factor),
            ("F is proportional to s", factor),
            ("k s", "A relation has one equals sign, as in T = 2 pi sqrt(L/g)."),
        ):
            with self.subTest(relation), self.assertRaises(CoreError) as caught:
                dry_run(spring(relation=relation), 1, 2)
            self.assertEqual(caught.exception.message, words)
        from_nought = replace(book.plan, wanted={"F": WantedSettings(8, "-3", "8")})
        self.assertEqual(self.code(replace(book, plan=from_nought)), "no_value_believed")
        self.assertEqual(self.code(spring(dry={"truths": {"k": "stiff"}})), "bad_number")
        self.assertEqual(self.code(spring(dry={"scatter": {"s": "much %"}})), "bad_number")
        self.assertEqual(self.code(replace(book, quantities=book.quantities[:1])), "no_quantities")
        for classes in (0, 2001):
            self.assertEqual(self.code(book, classes), "too_large")
        second = Quantity("q", "measured", "other", "q", "cm", Instrument("ruler", "scale", "0.1"))
        self.assertEqual(self.code(replace(book, quantities=(*book.quantities, second), relation="F = k (s + q)")), "no_truth")

    def test_a_letter_of_nature_that_is_to_be_found_stands_for_that(self) -> None:
        """G is the constant of gravitation, but where a finding of another dimension is called so."""
        stiffness = spring(relation="F = G s", dry={"truths": {}})
        stiffness = replace(stiffness, findings=(replace(stiffness.findings[0], symbol="G"),))
        with self.assertRaises(CoreError) as caught:
            dry_run(stiffness, 1, 2)
        self.assertEqual((caught.exception.code, caught.exception.fields["field"]), ("unknown_value", "G"))
        told = replace(stiffness, plan=replace(stiffness.plan, dry=DryTruth(truths={"G": "25 N/m"}, scatter={"s": "0.2"})))
        self.assertEqual(dry_run(told, 1, 3).findings[0].count, 3)
        # and what nature knows is the truth of a finding of its own kind
        charge = spring(relation="F = e s k", dry={"truths": {}})
        charge = replace(charge, findings=(replace(charge.findings[0], symbol="e", unit="C"),))
        with self.assertRaises(CoreError) as caught:
            dry_run(charge, 1, 2)
        self.assertEqual(caught.exception.fields["field"], "k", "e is known")

    def test_what_has_no_value_somewhere_is_named(self) -> None:
        book = spring(relation="", dry={"formulas": {"s": "ln(F - 3)"}, "truths": {}})
        with self.assertRaises(CoreError) as trouble:
            dry_run(book, 1, 2)
        self.assertEqual(trouble.exception.code, "no_value_believed")
        self.assertIn("stretch has no value at some of the settings", trouble.exception.message)

    def test_formulas_that_go_round_in_a_circle(self) -> None:
        pair = (Quantity("p", "derived", "p", "p", "", formula="s/q_1"), Quantity("q", "derived", "q", "q_1", "", formula="s/p"))
        self.assertEqual(self.code(replace(spring(relation="F = k p"), quantities=(*spring().quantities, *pair))), "bad_formula")

    def test_a_formula_between_the_numbers_of_the_headings(self) -> None:
        """s/cm = 1.5 + 4 F/N has no units that fit; it is meant as it is written."""
        book = spring(relation="", dry={"scatter": {"s": "0.0001"}, "formulas": {"s": "1.5 + 4 F"}, "truths": {}})
        fitted = replace(book, findings=(replace(book.findings[0], unit="cm/N", formula="gradient"),))
        (found,) = dry_run(fitted, 1, 2).findings
        assert found.perfect is not None
        self.assertAlmostEqual(found.perfect, 4.0, places=9)
        # one whose units fit is meant with them
        book = spring(relation="", dry={"scatter": {"s": "0.0001"}, "formulas": {"s": "F/k"}})
        (found,) = dry_run(book, 1, 2).findings
        assert found.perfect is not None
        self.assertAlmostEqual(found.perfect, 25.0, places=9)

    def test_by_a_formula_where_there_is_no_relation(self) -> None:
        book = spring(relation="", dry={"formulas": {"s": "F/k"}})
        (found,) = dry_run(book, 1, 2).findings
        self.assertAlmostEqual(found.perfect or 0, 25.0)
