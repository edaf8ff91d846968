"""Constants, accepted values, units and symbols that are none: refused in the form that was sent, with what to do; and what may stand."""

from __future__ import annotations

from typing import Any

from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.pipeline.computation import compute
from hobrel.server.problems import Problem
from tests.placing import EditedDocument, placing
from tests.server.test_edits import OWN_FINDING

MASS: dict[str, Any] = {"type": "add_quantity", "quantity": "own", "kind": "constant", "name": "bob", "symbol": "M", "unit": "kg"}
WARMTH: dict[str, Any] = {"type": "add_quantity", "quantity": "own", "kind": "measured", "name": "temperature", "symbol": "w", "unit": "°C"}


class KnownNumbers(EditedDocument):
    def refused(self, *edits: dict[str, Any]) -> str:
        with self.assertRaises(Problem) as caught:
            self.after(*edits)
        self.assertEqual(caught.exception.status, 422)
        return str(caught.exception)

    def test_a_constant_is_a_number_and_its_pm_another(self) -> None:
        for typed, words in (
            ({"value": "0.300 ± 0.001"}, "Write the ± by itself"),
            ({"value": "about 0.3"}, "is not a number"),
            ({"value": "0.3 s"}, "This is in kg; “s” does not fit it."),
            ({"value": "0.3", "u": "-0.001"}, "not below zero"),
            ({"value": "0.3", "u": "little"}, "is not a number"),
        ):
            with self.subTest(typed):
                self.assertIn(words, self.refused({**MASS, **typed}))
        document = self.after({**MASS, "value": "300 g", "u": "1 %"})
        self.assertEqual([(q["value"], q["u"]) for q in document["quantities"] if q["id"] == "own"], [("300 g", "1 %")])
        self.assertEqual(len(self.after(MASS)["quantities"]), len(self.document["quantities"]) + 1, "no value yet is no wrong one")

    def test_what_is_changed_is_looked_at_and_nothing_else(self) -> None:
        self.document = self.after({**MASS, "value": "0.3", "u": "0.001"})
        self.assertIn("does not fit", self.refused(placing(self.document, "change_quantity", "own", "relabel", unit="s", value="0.3 kg")))
        self.assertIn("not below zero", self.refused(placing(self.document, "change_quantity", "own", "relabel", u="-1")))
        own = next(q for q in self.document["quantities"] if q["id"] == "own")
        own["u"] = "-1"
        renamed = self.after(placing(self.document, "change_quantity", "own", "relabel", name="the bob"))
        self.assertEqual(
            [q["name"] for q in renamed["quantities"] if q["id"] == "own"], ["the bob"], "what stood there before is another thing"
        )

    def test_per_cent_stay_per_cent_in_another_unit(self) -> None:
        self.document = self.after({**MASS, "value": "0.300", "u": "2 %"})
        turned = self.after(placing(self.document, "change_quantity", "own", "convert", unit="g"))
        self.assertEqual([(q["value"], q["u"]) for q in turned["quantities"] if q["id"] == "own"], [("300", "2 %")])

    def test_an_accepted_value_is_one_in_the_unit_of_its_finding(self) -> None:
        def with_accepted(value: str, u: str) -> dict[str, Any]:
            return {"type": "add_finding", "finding": "own", "content": {**OWN_FINDING, "unit": "s", "accepted": {"value": value, "u": u}}}

        self.assertIn("Write the ± by itself", self.refused(with_accepted("1.2 ± 0.1", "")))
        self.assertIn("does not fit", self.refused(with_accepted("1.2 kg", "")))
        self.document = self.after(with_accepted("1200 ms", "5 %"))
        self.assertIn(
            "not below", self.refused(placing(self.document, "change_finding", "own", accepted={"value": "1.2", "u": "-0.1", "source": ""}))
        )
        self.assertIn("does not fit", self.refused(placing(self.document, "change_finding", "own", unit="m")))

    def test_a_temperature_is_not_in_coulombs_nor_a_time_in_siemens(self) -> None:
        self.assertEqual(self.refused({**WARMTH, "unit": "C"}), "Temperature is not measured in C. Is it °C?")
        self.assertEqual(self.refused({**WARMTH, "name": "time of fall", "unit": "S"}), "Time of fall is not measured in S. Is it s?")
        self.assertIn("Is it kPa?", self.refused({**WARMTH, "name": "pressure", "unit": "Kpa"}))
        self.document = self.after({**WARMTH, "name": "charge", "unit": "C"})
        self.assertEqual(
            self.refused(placing(self.document, "change_quantity", "own", "relabel", name="temperature")),
            "Temperature is not measured in C. Is it °C?",
        )

    def test_a_unit_is_kept_as_we_write_it_where_it_is_only_spelled_otherwise(self) -> None:
        for typed, kept in (
            ("Nm", "N m"),
            ("degrees C", "°C"),
            ("Kg", "kg"),
            ("bpm", "bpm"),
            ("m/s^2", "m/s^2"),
            (" mm ", "mm"),
            ("Seconds", "seconds"),
        ):
            with self.subTest(typed):
                made = self.after({**WARMTH, "name": "it", "unit": typed})
                self.assertEqual([q["unit"] for q in made["quantities"] if q["id"] == "own"], [kept])
        self.document = self.after({**WARMTH, "name": "torque", "unit": ""})
        next(q for q in self.document["quantities"] if q["id"] == "own")["unit"] = "Nm"
        changed = self.after(placing(self.document, "change_quantity", "own", "relabel", unit="kN m"))
        self.assertEqual([q["unit"] for q in changed["quantities"] if q["id"] == "own"], ["kN m"], "one that stands there from before")

    def test_a_division_may_have_a_unit_of_its_own(self) -> None:
        def ruler(division: str, **more: str) -> dict[str, Any]:
            return {"name": "ruler", "kind": "scale", "division": division, **more}

        def kept(*edits: dict[str, Any]) -> tuple[str, str]:
            found = next(q for q in self.after(*edits)["quantities"] if q["id"] == "own")["instrument"]
            return found["division"], found["scatter"]

        length = {**WARMTH, "name": "length", "unit": "m"}
        self.assertEqual(kept({**length, "instrument": ruler("1 mm")}), ("0.001", "0"))
        self.assertEqual(kept({**length, "instrument": ruler("0.5cm", kind="steady", scatter="2 mm")}), ("0.005", "0.002"))
        self.assertEqual(kept({**WARMTH, "instrument": ruler("0.50 K")}), ("0.50", "0"), "a difference of temperatures")
        for division in ("1 cm2", "1 cm²", "1cm^2"):
            self.assertEqual(kept({**length, "name": "area", "unit": "m^2", "instrument": ruler(division)}), ("0.0001", "0"), division)
        self.assertEqual(kept({**length, "name": "angle", "unit": "rad", "instrument": ruler("0.5°")})[0], "0.00872664625997")
        self.assertIn("does not fit", self.refused({**length, "instrument": ruler("1 s")}))
        self.document = self.after({**length, "instrument": ruler("0.01")})
        finer = {
            "instrument": {
                **ruler("1 mm"),
                "readings": 1,
                "between_marks": False,
                "percent": "0",
                "digits": "0",
                "scatter": "0",
                "common": "0",
            }
        }
        self.assertEqual(kept(placing(self.document, "change_quantity", "own", "relabel", **finer)), ("0.001", "0"))
        self.assertEqual(kept(placing(self.document, "change_quantity", "own", "convert", unit="cm", **finer)), ("0.1", "0"))
        self.assertEqual(kept(placing(self.document, "change_quantity", "own", "convert", unit="cm")), ("1", "0"), "0.01 m")

    def test_a_symbol_is_one_that_formulas_can_read(self) -> None:
        def kept(symbol: str, kind: str = "measured") -> str:
            made = self.after({**WARMTH, "kind": kind, "symbol": symbol, "formula": "L" if kind == "derived" else ""})
            return str(next(q for q in made["quantities"] if q["id"] == "own")["symbol"])

        for typed, stored in (
            ("T₁", "T_1"),
            ("\u00b5", "μ"),
            ("Δt", "Δ_t"),
            ("V_{rms}", "V_rms"),
            ("λ", "λ"),
            ("t½", "t_half"),
            (" w ", "w"),
        ):
            with self.subTest(typed):
                self.assertEqual(kept(typed), stored)
        for typed in ("T²", "ṁ", "é", "т", "1x", "t (avg)", "_", "x-y"):
            with self.subTest(typed):
                self.assertIn("A symbol is a letter or a short name", self.refused({**WARMTH, "symbol": typed}))
        self.assertEqual([kept(s, "derived") for s in ("w²", "1/w", "ln(w/w₀)", "Δw/w")], ["w²", "1/w", "ln(w/w_0)", "Δ_w/w"])
        for typed in ("ṁ²", "w/", "²", "1/"):
            with self.subTest(typed):
                self.assertIn("A symbol is", self.refused({**WARMTH, "kind": "derived", "formula": "L", "symbol": typed}))
        with self.subTest("one that stands there from before can be changed"):
            begun, self.document = self.document, self.after(WARMTH)
            next(q for q in self.document["quantities"] if q["id"] == "own")["symbol"] = "T₁"
            changed = self.after(placing(self.document, "change_quantity", "own", "relabel", symbol="T_w"))
            self.assertEqual([q["symbol"] for q in changed["quantities"] if q["id"] == "own"], ["T_w"])
            self.document = begun
        self.document = self.after({**WARMTH, "symbol": "µ", "unit": ""})
        speed = {"type": "add_quantity", "quantity": "v", "kind": "derived", "name": "v", "symbol": "v", "formula": "2 µ"}
        self.assertIsNone(compute(read_lab_book(self.after(speed))).columns["run1"].columns["v"].trouble)
