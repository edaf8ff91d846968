"""The scripting contract's manners: errors with codes, order kept, nothing printed that is not a number, no Django needed."""

from __future__ import annotations

import json
import subprocess
import sys
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.document.lab_book import write_lab_book
from hobrel.core.scripting.jobs import KINDS, run_jobs
from hobrel.shelf.clamped_strip import write_draft
from tests.core.test_published import differences

CODES = (
    "bad_job", "bad_number", "bad_formula", "bad_unit", "too_few_points", "no_line_through_bars", "did_not_converge", "outside_domain",
    "too_large",
)  # fmt: skip
FIELDS = (
    "x", "y", "uy", "ux", "values", "at", "shape", "degree", "groups", "results", "a", "b", "text", "value", "u", "formula", "inputs",
    "columns", "direction", "symbol", "from", "to", "relation", "unknown", "fraction", "way", "start", "parameters", "through_origin",
)  # fmt: skip
_NUMBERS = st.one_of(st.floats(-1e6, 1e6), st.sampled_from([0, 1, 2.5, 1e300, -1e-300, float("nan"), None, "2.50", "1,2", "x", True]))
_LISTS = st.one_of(st.lists(_NUMBERS, max_size=6), st.lists(st.floats(-10, 10), min_size=4, max_size=4))
VALUES = st.one_of(
    _NUMBERS, _LISTS, st.lists(_LISTS, max_size=3),
    st.sampled_from(["line", "power", "exponential", "sine", "back", "m", "s", "degC", "a b/x", "T = L", "monte_carlo"]),
    st.just({"value": 1.0, "u": 0.1}), st.just({"a": {"value": 1.0, "u": 0.1}, "b": {"value": 0, "u": 2}}),
)  # fmt: skip


class Contract(unittest.TestCase):
    def test_bad_jobs_answer_with_a_code_and_do_not_stop_the_rest(self) -> None:
        cases = [
            ({"kind": "nonsense"}, "bad_job"),
            ({"kind": "line", "x": [1, 2], "y": [1, 2, 3]}, "bad_job"),
            ({"kind": "line", "x": [1, 2], "y": [1, 2], "colour": "red"}, "bad_job"),
            ({"kind": "line", "x": [1], "y": [1]}, "too_few_points"),
            ({"kind": "line", "x": [2, 2, 2], "y": [1, 2, 3]}, "too_few_points"),
            ({"kind": "line", "x": [1, 2, 3], "y": [1, 2, 3], "uy": [0.1, 0, 0.1]}, "bad_job"),
            ({"kind": "summary", "values": ["2.5", "two"]}, "bad_number"),
            ({"kind": "summary", "values": []}, "too_few_points"),
            ({"kind": "summary", "values": [1, float("nan")]}, "bad_number"),
            ({"kind": "convert", "value": 1, "from": "m", "to": "s"}, "bad_unit"),
            ({"kind": "convert", "value": 1, "from": "cubits", "to": "s"}, "bad_unit"),
            ({"kind": "round", "value": 1, "u": 0}, "bad_number"),
            ({"kind": "constant", "symbol": "zeta"}, "bad_formula"),
            ("not a job", "bad_job"),
        ]
        results = run_jobs([job for job, _ in cases] + [{"id": "last", "kind": "summary", "values": ["1", None, "3"]}])
        for (job, code), result in zip(cases, results, strict=False):
            with self.subTest(job):
                self.assertFalse(result["ok"])
                self.assertEqual(result["error"]["code"], code)
                self.assertGreater(len(result["error"]["message"]), 10)
        self.assertEqual((results[-1]["id"], results[-1]["mean"], results[-1]["left_out"]), ("last", 2.0, 1))

    def test_every_kind_answers(self) -> None:
        """One small job of each kind, its answer worked out by hand or by definition."""
        s_curve = {"x": [19.8, 19.9, 20.0, 20.1, 20.2, 20.3], "y": [6.0, 6.2, 6.6, 8.0, 8.6, 8.8]}
        cases: list[tuple[dict[str, Any], dict[str, Any]]] = [
            ({"kind": "dry_run", "document": write_lab_book(write_draft()), "classes": 1}, {"classes": 1}),
            ({"kind": "summary", "values": [1, None, 3], "spread": "half_range"}, {"u": 1.0, "left_out": 1}),
            (
                {
                    "kind": "propagate",
                    "formula": "a b",
                    "inputs": {"a": {"value": 2, "u": 0.3, "unit": "m"}, "b": {"value": "4", "unit": "s"}},
                },
                {"value": 8.0, "u": 1.2, "unit": "m * s"},
            ),
            ({"kind": "propagate", "formula": "a", "inputs": {"a": {"value": 1, "half_width": 3**0.5}}}, {"u": 1.0}),
            ({"kind": "round", "value": "2.0565", "u": "0.0352"}, {"value_text": "2.06", "u_text": "0.04"}),
            ({"kind": "figures", "text": "0.0250"}, {"value": 0.025, "decimals": 4, "significant_figures": 3}),
            ({"kind": "figures", "text": "1200"}, {"decimals": 0, "significant_figures": None}),
            ({"kind": "convert", "value": 2, "from": "gf", "to": "mN", "u": 1}, {"value": 19.6133, "u": 9.80665}),
            ({"kind": "constant", "symbol": "g_n"}, {"value": 9.80665, "u": 0.0}),
            ({"kind": "line", "x": [1, 2, None, 3], "y": [2, 4, 5, 6]}, {"gradient": 2.0, "left_out": 1, "method": "ols"}),
            ({"kind": "residuals", "x": [0, 1, 2], "y": [0, 3, 0]}, {"residuals": [-1.0, 2.0, -1.0], "runs": 3}),
            ({"kind": "read_off", "x": [0, 1, 2], "y": [1, 3, 5], "direction": "back", "at": 4}, {"value": 1.5, "extrapolated": False}),
            ({"kind": "extreme_lines", "x": [1, None, 3], "y": [2, 4, 6], "uy": 0.5}, {"u_gradient": 0.5, "left_out": 1}),
            ({"kind": "polynomial", "x": [0, 1, 2, 3], "y": [1, 2, 5, 10], "degree": 2}, {"coefficients": [1.0, 0.0, 1.0]}),
            ({"kind": "multilinear", "columns": [[1, 2, 3, 4], [1, 0, 0, 1]], "y": [8, 8, 10, 14]}, {"coefficients": [4.0, 2.0, 2.0]}),
            (
                {"kind": "shape", "shape": "power", "x": [1, 2, 4], "y": [3, 12, 48]},
                {"parameters": {"a": {"value": 3.0}, "n": {"value": 2.0}}},
            ),
            ({"kind": "tangents", "shape": "quadratic", "x": [0, 1, 2, 3], "y": [0, 1, 4, 9], "at": [1, 5]}, {"slopes": [2.0, 10.0]}),
            ({"kind": "rates", "x": [0, 1, 3], "y": [0, 1, 9]}, {"x": [0.5, 2.0], "rates": [1.0, 4.0]}),
            ({"kind": "rates", "x": [0, 1, 3], "y": [0, 1, 9], "method": "centred"}, {"rates": [1.0, 2.0, 4.0]}),
            ({"kind": "steepest_point", **s_curve}, {"at": 20.05, "u": 0.05, "rate": 14.0}),
            ({"kind": "area", "x": [0, 1, 2], "y": [1, 2, 3], "uy": 2}, {"value": 4.0, "u": 2 * 1.5**0.5}),
            (
                {"kind": "compare", "a": {"value": 9.6, "u": 0.1}, "b": {"value": 10, "u": 0}},
                {"difference": -0.4, "z": 4.0, "percent": -4.0, "verdict": "differ"},
            ),
            ({"kind": "groups", "groups": [[1, 2, 3], [3, 4, 5]]}, {"f": 6.0, "means": [2.0, 4.0]}),
            ({"kind": "outlier", "values": [1.0, None, 1.1, 1.05, 1.08, 2.0]}, {"suspect": 5, "left_out": 1}),
            (
                {"kind": "pool", "results": [{"bench": "a", "value": 1, "u": 1}, {"bench": "b", "value": 3, "u": 1}]},
                {"mean": 2.0, "chi2": 2.0},
            ),
        ]
        judge = {"rel": 1e-9, "rel_u": 1e-9, "abs": 1e-9}
        self.assertEqual({job["kind"] for job, _ in cases} | {"straighten", "relation", "lab_book"}, set(KINDS))
        for job, expected in cases:
            with self.subTest(job):
                result = run_jobs([job])[0]
                self.assertTrue(result["ok"], result.get("error"))
                self.assertEqual(differences(judge, result, expected), [])

    def test_plots_come_straightest_first(self) -> None:
        board, relation = run_jobs([
            {"kind": "straighten", "x": [1, 2, 3, 4, 5, 6], "y": [1.02, 3.95, 9.1, 16.05, 24.8, 36.1]},
            {"kind": "relation", "relation": "T = 2 pi sqrt(L/g)", "x": "L", "y": "T", "unknown": "g"},
        ])  # fmt: skip
        same_law = {("x^2", "y"), ("x", "sqrt(y)"), ("1/x", "1/sqrt(y)"), ("1/x^2", "1/y"), ("ln(x)", "ln(y)")}
        self.assertLessEqual({(p["x_form"], p["y_form"]) for p in board["plots"][:3]}, same_law)
        first = relation["plots"][0]
        self.assertEqual((first["x_form"], first["y_form"], first["unknown_from_gradient"]), ("L", "T^2", "4 pi^2/gradient"))

    def test_places_in_errors_are_those_of_the_job(self) -> None:
        job = {"kind": "extreme_lines", "x": [1, None, 3, 4, 5], "y": [1, 2, 3, 9, 5], "uy": 0.2}
        self.assertEqual(run_jobs([job])[0]["error"]["blocking"], [3])

    @settings(max_examples=300)
    @given(st.sampled_from(KINDS), st.dictionaries(st.sampled_from(FIELDS), VALUES, max_size=6))
    def test_whatever_is_asked_there_is_an_answer_that_is_json(self, kind: str, fields: dict[str, Any]) -> None:
        result = run_jobs([{"id": 1, "kind": kind, **fields}])[0]
        json.dumps(result, allow_nan=False)
        if not result["ok"]:
            self.assertIn(result["error"]["code"], CODES)

    def test_two_points_fix_a_line_but_not_its_uncertainty(self) -> None:
        result = run_jobs([{"id": 1, "kind": "line", "x": [1, 3], "y": [3, 7]}])[0]
        self.assertEqual((result["gradient"], result["intercept"], result["u_gradient"], result["dof"]), (2.0, 1.0, None, 0))

    def test_it_runs_as_a_command_with_django_absent(self) -> None:
        """A meta path entry that refuses Django and the applications stands in for a machine without them."""
        block = (
            "import sys\n"
            "class Refuse:\n"
            "    def find_spec(self, name, path=None, target=None):\n"
            "        parts = name.split('.')\n"
            "        if parts[0] in ('django', 'ninja') or (parts[0] == 'hobrel' and len(parts) > 1 and parts[1] != 'core'):\n"
            "            raise ImportError(name)\n"
            "sys.meta_path.insert(0, Refuse())\n"
            "sys.argv = ['core']\n"
            "import runpy, hobrel.core.presentation.analysis, hobrel.core.presentation.working, hobrel.core.presentation.pool\n"
            "runpy.run_module('hobrel.core', run_name='__main__')\n"
        )
        jobs = [{"id": 1, "kind": "constant", "symbol": "h"}, {"id": 2, "kind": "constant", "symbol": "?"}]
        done = subprocess.run([sys.executable, "-c", block], input=json.dumps(jobs), capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        answers = json.loads(done.stdout)
        # exact since the 2019 revision of the SI
        self.assertEqual((answers[0]["value"], answers[0]["u"]), (6.62607015e-34, 0.0))
        self.assertFalse(answers[1]["ok"])
