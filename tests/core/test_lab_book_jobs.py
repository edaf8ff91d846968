"""Jobs of the kind ``lab_book``: the numbers are those of the computation, code words stand beside texts, one failure leaves the others."""

from __future__ import annotations

import json
import math
import random
from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import Accepted, Finding, Fit, Graph, LabBook, Quantity, Run, Unknown, write_lab_book
from hobrel.core.scripting.jobs import run_jobs
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book, setting

ROWS = [("0.100", ["1.02", "1.00", "1.01"]), ("0.200", ["2.03", "1.99", "2.00"]), ("0.300", ["2.98", "3.02", "3.00"]),
        ("0.400", ["4.00", "4.02", "3.97"]), ("0.500", ["5.01", "4.97", "5.03"]), ("0.600", ["6.00", "6.03", "5.98"])]  # fmt: skip


def examine(book: LabBook, **more: Any) -> dict[str, Any]:
    """The answer to a job, after a trip through JSON without NaN."""
    job = {"id": 1, "kind": "lab_book", "document": write_lab_book(book), **more}
    (answer,) = run_jobs([json.loads(json.dumps(job))])
    return dict(json.loads(json.dumps(answer, allow_nan=False)))


class Answers(TestCase):
    def test_columns_points_and_fits_belong_together(self) -> None:
        z = Quantity("z", "derived", "z", "z", formula="k y")
        k = Quantity("k", "constant", "factor", "k", "", value="2.0", u="0.1")
        answer = examine(lab_book(ROWS, [z], [k], graph=("x", "z")))
        columns = {c["quantity"]: c for c in answer["runs"][0]["columns"]}
        self.assertEqual(columns["k"]["text"], "2.0 ± 0.1")
        for value, y, u, u_all in zip(
            columns["z"]["values"], columns["y"]["values"], columns["z"]["u"], columns["z"]["u_all"], strict=True
        ):
            self.assertAlmostEqual(value, 2 * y, 12)
            self.assertAlmostEqual(u_all, math.hypot(u, 0.1 * y), 12)
        points = answer["graphs"][0]["points"]
        self.assertEqual([p["y"] for p in points], columns["z"]["values"])
        fit = answer["fits"][0]
        self.assertEqual([p["name"] for p in fit["parameters"]], ["gradient", "intercept"])
        m, c = (p["value"] for p in fit["parameters"])
        np.testing.assert_allclose(fit["residuals"], [p["y"] - m * p["x"] - c for p in points], atol=1e-12)
        self.assertAlmostEqual(sum(s * s for s in fit["standardised"]), fit["chi2"], 9)
        np.testing.assert_allclose(np.array(fit["residuals"]) / np.array(fit["sigmas"]), fit["standardised"])
        self.assertAlmostEqual(fit["covariance"][0][0], fit["parameters"][0]["u"] ** 2, 12)
        self.assertAlmostEqual(fit["parameters"][0]["u_all"], math.hypot(fit["parameters"][0]["u"], 0.05 * m), 4)
        self.assertEqual((fit["method"], fit["n"], fit["dof"], fit["bends"], fit["agrees_with_zero"]), ("york", 6, 4, "straight", True))
        # means that lie on a line to a thousandth, of readings that differ by a fiftieth
        self.assertEqual(fit["scatter"], "less")

    def test_what_fails_stands_alone(self) -> None:
        bad = [Quantity("q", "derived", "q", "q", formula="y/(x - x)"), Quantity("l", "derived", "l", "l", formula="ln(y - c)")]
        floor = Quantity("c", "constant", "c", "c", "s", value="1.01")
        finding = [Finding("a", "a", "A", "", "gradient", "f"), Finding("b", "b", "B", "", "nonsense", "f")]
        answer = examine(replace(lab_book(ROWS, bad, [floor], finding), graphs=(Graph("g", "", "x", "y"), Graph("h", "", "x", "q")),
                                 fits=(Fit("f", "g"), Fit("d", "h"))))  # fmt: skip
        columns = {c["quantity"]: c for c in answer["runs"][0]["columns"]}
        self.assertEqual((set(columns["q"]), columns["q"]["error"]["code"]), ({"quantity", "error"}, "outside_domain"))
        self.assertEqual([v is None for v in columns["l"]["values"]], [True, False, False, False, False, False])
        self.assertEqual([set(f) == {"fit", "error"} for f in answer["fits"]], [False, True])
        self.assertEqual([set(f) == {"finding", "error"} for f in answer["findings"]], [False, True])
        self.assertEqual([set(g) == {"graph", "error"} for g in answer["graphs"]], [False, True])

    def test_comparisons(self) -> None:
        finding = Finding("a", "a", "A", "s/m", "gradient", "f", Accepted("9.99", "0", "a table"), compare=("b",))
        other = Finding("b", "b", "B", "s/m", "2 gradient", "f")
        book = lab_book(ROWS, findings=[finding, other])
        second = tuple(setting(f"t{i}", x, ys) for i, (x, ys) in enumerate(ROWS, 1))
        answer = examine(replace(book, runs=(*book.runs, Run("run2", "Second", second))))
        kinds = {c["kind"]: c for c in answer["findings"][0]["comparisons"]}
        self.assertEqual([kinds[k]["verdict"] for k in ("accepted", "finding", "run")], ["agrees", "differs", "agrees"])
        self.assertEqual(kinds["run"]["difference"], 0.0)
        self.assertAlmostEqual(kinds["run"]["u_difference"], math.sqrt(2) * answer["findings"][0]["u"], 9)
        self.assertAlmostEqual(kinds["finding"]["u_difference"], answer["findings"][0]["u"], 9)
        # six settings of three readings each have twelve degrees of freedom, and the bars say more than the scatter
        self.assertAlmostEqual(answer["findings"][0]["dof"], 12.0, 9)

    def test_nothing_is_said_where_neither_has_a_plus_minus(self) -> None:
        counted = Quantity("n", "constant", "swings", "n", value="10")
        finding = Finding("a", "a", "A", "", "n", accepted=Accepted("12", "", "a table"))
        (found,) = examine(lab_book(ROWS, constants=[counted], findings=[finding]))["findings"]
        self.assertEqual(
            (found["value"], found["u"], found["comparisons"][0]["verdict"], found["comparisons"][0]["p"]), (10.0, 0.0, "unknown", None)
        )

    def test_unknowns_board_and_runs(self) -> None:
        book = lab_book(ROWS)
        second = tuple(setting(f"t{i}", x, [f"{2 * float(y):.2f}" for y in ys]) for i, (x, ys) in enumerate(ROWS, 1))
        whole = replace(
            book, runs=(*book.runs, Run("run2", "Second", second)), fits=(Fit("f", "g", unknowns=(Unknown("u", "A", ("9.00",)),)),)
        )
        first, other = examine(whole, board={"x": "x", "y": "y"}), examine(whole, run="run2")
        self.assertEqual([r["run"] for r in other["runs"]], ["run1", "run2"])
        self.assertAlmostEqual(other["fits"][0]["parameters"][0]["value"] / first["fits"][0]["parameters"][0]["value"], 2.0, 2)
        self.assertEqual((first["fits"][0]["unknowns"][0]["extrapolated"], other["fits"][0]["unknowns"][0]["extrapolated"]), (True, False))
        squares = {(s["x"], s["y"]): s["verdict"] for s in first["board"]["squares"]}
        self.assertEqual(squares["v", "v"], first["fits"][0]["bends"])
        self.assertEqual((squares["v^2", "v"], squares["v", "1/v"]), ("bends", "bends"))

    def test_pools(self) -> None:
        plan = make_plan()
        books = [write_bench(plan, Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(i)) for i in range(6)]
        slipped = replace(
            books[0],
            quantities=tuple(replace(q, value=f"{10 * float(q.value):.2f}") if q.symbol == "b" else q for q in books[0].quantities),
        )
        answer = examine(plan, pool=[write_lab_book(b) for b in (*books[1:], slipped, plan)])
        (pool,) = answer["pools"]
        self.assertEqual((pool["n"], pool["recommended"]["kind"], "error" in pool["benches"][6]), (6, "mandel_paule", True))
        self.assertEqual([b["pointed_out"] for b in pool["benches"][:6]], [False] * 5 + [True])
        self.assertAlmostEqual(pool["benches"][5]["causes"][0]["factor"], 0.1, 9)

    def test_what_is_no_lab_book_fails_as_a_whole(self) -> None:
        for job in ({"document": {"title": 3}}, {"document": write_lab_book(lab_book(ROWS)), "run": "no"}, {"document": 1, "extra": 2}):
            answer = run_jobs([{"id": 1, "kind": "lab_book", **job}])[0]
            self.assertEqual((answer["ok"], answer["error"]["code"], "fits" in answer), (False, "bad_job", False))
