"""What the plan leaves to the bench of what it has given, and that it holds on the server."""

from __future__ import annotations

from typing import Any

from django.test import TestCase
from pydantic import ValidationError

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.core.presentation.analysis import analyse
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.patches import apply_patches, invert
from hobrel.labbooks.edits.registry import apply_edit
from hobrel.server.problems import Problem
from tests.placing import placing
from tests.school import fill, make_school


class Freedoms(TestCase):
    """What the plan leaves to the bench of what it has given, and that it holds on the server."""

    REPEATS = {"type": "set_repeats", "quantity": "t10", "repeats": 4}
    OWN = {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h"}
    SPREAD = {"type": "choose_convention", "was": {"spread": "half_range"}, "becomes": {"spread": "mean_abs_deviation"}}
    CLOCK = {"name": "light gate", "kind": "display", "division": "0.001"}

    def change(self, document: dict[str, Any], **changes: Any) -> dict[str, Any]:
        return placing(document, "change_quantity", "t10", "convert", **changes)

    def test_each_freedom_by_itself(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        cases = [
            ("repeats", self.REPEATS),
            ("own_quantities", self.OWN),
            ("instruments", self.change(document, instrument=self.CLOCK)),
            ("units", self.change(document, unit="ms")),
            ("spread", self.SPREAD),
        ]
        none = {"own_quantities": False, "repeats": False, "instruments": False, "units": False, "spread": False}
        for freedom, edit in cases:
            with self.subTest(freedom):
                parsed = edit_adapter.validate_python(edit)
                with self.assertRaises(Problem) as caught:
                    apply_edit(document | {"freedoms": none}, parsed)
                self.assertEqual((caught.exception.status, caught.exception.code), (403, "given"))
                instrument = self.CLOCK if freedom == "instruments" else None
                allowed = apply_edit(document | {"freedoms": none | {freedom: True}}, parsed)
                back = apply_patches(allowed.document, invert(allowed.patches))
                self.assertEqual(back, document | {"freedoms": none | {freedom: True}})
                if instrument:
                    self.assertIn("light gate", analyse(read_lab_book(allowed.document)).runs[0].columns[1].instrument_text)

    def test_of_the_convention_only_the_spread_is_left_free(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        document["freedoms"] |= {"spread": True}
        for name, was, becomes in (
            ("rounding", "one_or_two", "two"),
            ("verdict", "chance", "plain"),
            ("bench_rounds", False, True),
            ("bench_foresees", False, True),
        ):
            edit = {
                "type": "choose_convention",
                "was": {name: was, "spread": "half_range"},
                "becomes": {name: becomes, "spread": "half_range"},
            }
            with self.subTest(name), self.assertRaises(Problem) as caught:
                apply_edit(document, edit_adapter.validate_python(edit))
            self.assertEqual(caught.exception.code, "given")

    def test_name_and_symbol_of_what_is_given_stay(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        everything = {"own_quantities": True, "repeats": True, "instruments": True, "units": True}
        for change in ({"name": "ten swings"}, {"symbol": "s"}):
            with self.subTest(change), self.assertRaises(Problem) as caught:
                apply_edit(document | {"freedoms": everything}, edit_adapter.validate_python(self.change(document, **change)))
            self.assertEqual(caught.exception.code, "given")

    def test_headings_are_typed_anew_of_ones_own_quantities_alone(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        free = document | {"freedoms": {"own_quantities": True}}
        with_own = apply_edit(free, edit_adapter.validate_python(self.OWN | {"unit": "mm"})).document

        def rewritten(quantity: str, was: str, text: str) -> dict[str, Any]:
            edit = {"type": "write_heading", "run": "run1", "quantity": quantity, "text": text, "was": was, "graph": "g9", "fit": "f9"}
            return apply_edit(with_own, edit_adapter.validate_python(edit)).document

        after = rewritten("h", "sag h / mm", "sag of the tip s / cm")
        own = next(q for q in after["quantities"] if q["id"] == "h")
        self.assertEqual((own["name"], own["symbol"], own["unit"]), ("sag of the tip", "s", "cm"))
        self.assertEqual(after["graphs"], with_own["graphs"])
        for quantity, was in (("L", "overhang L / m"), ("t10", "time of ten swings t_10 / s")):
            with self.subTest(quantity), self.assertRaises(Problem) as caught:
                rewritten(quantity, was, "other x / m")
            self.assertEqual(caught.exception.code, "given")
        with_own["freedoms"] = {"own_quantities": False}
        with self.assertRaises(Problem):
            rewritten("h", "sag h / mm", "sag s / cm")

    def test_digits_are_chosen_for_what_is_worked_out(self) -> None:
        document = write_lab_book(fill(make_school().book, 3))
        digits = {"type": "choose_digits", "quantity": "T2", "kind": "scientific", "count": 2}
        chosen = apply_edit(document, edit_adapter.validate_python(digits))
        cell = next(c for c in analyse(read_lab_book(chosen.document)).runs[0].columns if c.quantity == "T2").cells[0]
        self.assertRegex(cell.value_text, r"^\d\.\d × 10⁻¹$")
        with self.assertRaises(Problem):
            apply_edit(document, edit_adapter.validate_python(digits | {"quantity": "t10"}))
        with self.assertRaises(ValidationError):
            edit_adapter.validate_python(digits | {"count": 11})
