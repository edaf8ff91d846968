"""What must not change the physics: order of settings, units, the script's own way in; and what must scale as theory says."""

from __future__ import annotations

import json
import math
import random
import subprocess
import sys
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Setting
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.ways import Input, propagate
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.readings.instruments import Instrument
from hobrel.core.units.calculus import parse_unit
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench

OVERHANGS = (0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6)


def book(seed: int = 4) -> LabBook:
    return write_bench(make_plan(), Story(OVERHANGS), random.Random(seed))


def finding(lab_book: LabBook) -> tuple[float, float]:
    found = compute(lab_book).findings["E"]
    assert isinstance(found, ComputedFinding), found
    return found.value, found.u


def in_centimetres(lab_book: LabBook) -> LabBook:
    """The same ruler read in cm: 0.300 m becomes 30.0 cm."""

    def moved(setting: Setting) -> Setting:
        (length,) = setting.readings["L"]
        assert length is not None
        return replace(setting, readings={**setting.readings, "L": (Reading(f"{100 * float(length.text):.1f}"),)})

    run = lab_book.runs[0]
    quantities = tuple(
        replace(q, unit="cm", instrument=Instrument("ruler", "scale", "0.1")) if q.id == "L" else replace(q, unit="") if q.id == "L3" else q
        for q in lab_book.quantities
    )
    return replace(lab_book, quantities=quantities, runs=(replace(run, settings=tuple(moved(s) for s in run.settings)),))


def with_constant(lab_book: LabBook, **changes: str) -> LabBook:
    def changed(q: Quantity) -> Quantity:
        return replace(q, value=changes[q.id]) if q.id in changes else q

    return replace(lab_book, quantities=tuple(changed(q) for q in lab_book.quantities))


class WholeChain(unittest.TestCase):
    def test_the_order_of_settings_does_not_matter(self) -> None:
        original = book()
        run = original.runs[0]
        shuffled = random.Random(9).sample(run.settings, len(run.settings))
        for a, b in zip(finding(original), finding(replace(original, runs=(replace(run, settings=tuple(shuffled)),))), strict=True):
            self.assertAlmostEqual(a / b, 1, places=10)

    def test_the_unit_of_a_length_does_not_matter(self) -> None:
        for a, b in zip(finding(book()), finding(in_centimetres(book())), strict=True):
            self.assertAlmostEqual(a / b, 1, places=9)

    def test_constants_enter_with_their_powers(self) -> None:
        """E ~ m/(b d³): twice the load doubles it, twice the thickness makes an eighth of it."""
        value, _ = finding(book())
        for changes, factor in (({"m": "0.600"}, 2.0), ({"b": "60.0"}, 0.5), ({"d": "6.00"}, 0.125)):
            with self.subTest(changes):
                self.assertAlmostEqual(finding(with_constant(book(), **changes))[0] / value, factor, places=9)

    def test_the_convention_of_the_bars_does_not_move_the_line(self) -> None:
        """Bars are drawn as the class has agreed; what weighs is the same for all conventions."""
        rough, fine = (
            compute(book()).fits["line"],
            compute(replace(book(), convention=replace(book().convention, spread="standard_error"))).fits["line"],
        )
        assert isinstance(rough, FittedLine) and isinstance(fine, FittedLine)
        self.assertEqual((fine.line.gradient, fine.line.u_gradient), (rough.line.gradient, rough.line.u_gradient))

    @settings(max_examples=20)
    @given(st.floats(0.1, 10), st.floats(0.001, 0.05), st.sampled_from([("mm", "m", 1e-3), ("ms", "s", 1e-3), ("min", "s", 60.0)]))
    def test_propagation_does_not_depend_on_the_unit(self, value: float, relative: float, unit: tuple[str, str, float]) -> None:
        small, base, factor = unit
        node = read_formula("x^2 sqrt(x)", {"x"})
        a = propagate(node, {"x": Input(value, value * relative, parse_unit(small))})
        b = propagate(node, {"x": Input(value * factor, value * relative * factor, parse_unit(base))})
        self.assertAlmostEqual(a.value * factor**2.5 / b.value, 1, places=9)
        self.assertAlmostEqual(a.u / a.value / (b.u / b.value), 1, places=9)
        self.assertAlmostEqual(a.u / a.value, 2.5 * relative, places=9)


class FromTheCommandLine(unittest.TestCase):
    def run_core(self, text: str, in_file: bool) -> subprocess.CompletedProcess[str]:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "jobs.json"
            path.write_text(text, encoding="utf-8")
            command = [sys.executable, "-m", "hobrel.core", *([str(path)] if in_file else [])]
            return subprocess.run(command, input=None if in_file else text, capture_output=True, text=True, check=False)

    def test_a_file_and_standard_input_give_the_same(self) -> None:
        jobs = json.dumps(
            [
                {"id": "a", "kind": "constant", "symbol": "R"},
                {"id": "b", "kind": "nonsense"},
                {"id": "c", "kind": "figures", "text": "0,250"},
            ]
        )
        by_file, by_input = self.run_core(jobs, True), self.run_core(jobs, False)
        self.assertEqual((by_file.returncode, by_file.stdout), (0, by_input.stdout))
        answers = json.loads(by_file.stdout)
        self.assertEqual([a["ok"] for a in answers], [True, False, True])
        self.assertTrue(math.isclose(answers[0]["value"], 8.314462618, rel_tol=1e-9))
        self.assertEqual(answers[2]["significant_figures"], 3)

    def test_what_is_no_list_of_jobs_is_said_plainly(self) -> None:
        broken = self.run_core("[{", False)
        self.assertEqual(broken.returncode, 2)
        self.assertIn("not JSON", broken.stderr)
        self.assertNotIn("Traceback", broken.stderr)
        single = json.loads(self.run_core("{}", False).stdout)
        self.assertEqual(single[0]["error"]["code"], "bad_job")
