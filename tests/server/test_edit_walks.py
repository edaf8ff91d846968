"""Any walk of edits can be taken back step by step: each inverse leads exactly to the document before."""

from __future__ import annotations

import json
import random
from typing import Any

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.demo.clamped_strip import Story, make_plan, write_bench
from hobrel.labbooks.edits.applying import apply_edit
from hobrel.labbooks.edits.kinds import any_edit_adapter, edit_adapter
from hobrel.server.problems import Problem

PLACES = {"run": "run1", "setting": st.sampled_from(["s1", "s2", "s3", "n1", "n2"])}
READING = st.fixed_dictionaries(
    {
        "type": st.just("set_reading"),
        "run": st.just("run1"),
        "setting": PLACES["setting"],
        "quantity": st.sampled_from(["L", "t10", "T", "h"]),
        "repeat": st.integers(0, 3),
        "text": st.sampled_from(["", "2.50", "2,5", "five", "1.2e-3"]),
        "set_aside": st.sampled_from([None, "the clamp slipped"]),
    }
)
OTHERS = st.one_of(
    st.fixed_dictionaries(
        {"type": st.just("add_setting"), "run": st.just("run1"), "setting": PLACES["setting"], "at": st.sampled_from([None, 0, 2])}
    ),
    st.fixed_dictionaries({"type": st.just("remove_setting"), "run": st.just("run1"), "setting": PLACES["setting"]}),
    st.fixed_dictionaries({"type": st.just("set_repeats"), "quantity": st.just("t10"), "repeats": st.integers(1, 5)}),
    st.fixed_dictionaries(
        {
            "type": st.just("set_aside"),
            "run": st.just("run1"),
            "setting": PLACES["setting"],
            "quantity": st.sampled_from([None, "t10"]),
            "repeat": st.just(0),
            "reason": st.sampled_from([None, "slipped", "bumped"]),
        }
    ),
    st.fixed_dictionaries(
        {"type": st.just("define_formula"), "quantity": st.just("T"), "formula": st.sampled_from(["t_10/10", "t_10 +", ""])}
    ),
    st.fixed_dictionaries(
        {
            "type": st.just("choose_digits"),
            "quantity": st.sampled_from(["T", "t10"]),
            "kind": st.sampled_from(["automatic", "figures"]),
            "count": st.integers(0, 4),
        }
    ),
    st.fixed_dictionaries(
        {
            "type": st.just("set_aside_rows"),
            "run": st.sampled_from(["run1", "log"]),
            "first": st.integers(0, 12),
            "last": st.integers(0, 12),
            "reason": st.sampled_from([None, "a draught", "the door"]),
        }
    ),
    st.fixed_dictionaries(
        {
            "type": st.just("keep_plot"),
            "graph": st.just("straight"),
            "x": st.sampled_from(["L", "L3"]),
            "y": st.sampled_from(["T", "m"]),
            "x_form": st.sampled_from(["v", "1/v"]),
            "y_form": st.sampled_from(["v^2", "ln(v)"]),
            "x_new": st.just("k1"),
            "y_new": st.just("k2"),
        }
    ),
    st.fixed_dictionaries({"type": st.just("remove_run"), "run": st.sampled_from(["run1", "log"])}),
    st.fixed_dictionaries({"type": st.just("fill_run"), "run": st.sampled_from(["run1", "log"]), "settings": st.just([])}),
    st.fixed_dictionaries(
        {
            "type": st.just("place_graph"),
            "graph": st.just("straight"),
            "x": st.sampled_from(["L", "L3"]),
            "y": st.just("T2"),
            "origin": st.booleans(),
        }
    ),
    st.fixed_dictionaries(
        {
            "type": st.just("place_fit"),
            "fit": st.just("line"),
            "weights": st.sampled_from(["none", "y_bars"]),
            "through_origin": st.booleans(),
        }
    ),
    st.fixed_dictionaries({"type": st.just("add_fit"), "fit": st.sampled_from(["line", "f2"]), "graph": st.just("straight")}),
    st.fixed_dictionaries({"type": st.just("remove_fit"), "fit": st.sampled_from(["line", "f2"])}),
    st.fixed_dictionaries(
        {
            "type": st.just("add_tangent"),
            "quantity": st.just("slope"),
            "fit": st.sampled_from(["line", "f2"]),
            "name": st.just("slope"),
            "symbol": st.sampled_from(["v", "L"]),
        }
    ),
    st.fixed_dictionaries(
        {
            "type": st.just("put_finding"),
            "finding": st.sampled_from(["E", "own"]),
            "content": st.fixed_dictionaries(
                {
                    "name": st.just("middle"),
                    "symbol": st.sampled_from(["w", "T"]),
                    "formula": st.just("y_1"),
                    "compare": st.sampled_from([[], ["E"]]),
                    "uses": st.just([{"symbol": "y_1", "kind": "mean", "of": "T"}]),
                }
            ),
        }
    ),
    st.fixed_dictionaries({"type": st.just("remove_finding"), "finding": st.sampled_from(["E", "own"])}),
)


def start() -> dict[str, Any]:
    document = write_lab_book(write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(6)))
    log = {"kept": "0" * 64, "rows": 10, "units": {"L": "cm"}, "aside": [{"first": 2, "last": 5, "reason": "warming up"}]}
    document["runs"].append({"id": "log", "name": "Logged", "settings": [], "log": log})
    return document


def current_text(document: dict[str, Any], edit: dict[str, Any]) -> str:
    """What the cell of a reading edit holds, as the person who writes sees it."""
    row = next((s for s in document["runs"][0]["settings"] if s["id"] == edit["setting"]), None)
    readings = (row or {}).get("readings", {}).get(edit["quantity"], [])
    entry = readings[edit["repeat"]] if edit["repeat"] < len(readings) else None
    return (entry or {}).get("text", "")


class Walks(SimpleTestCase):
    @settings(max_examples=80)
    @given(st.lists(st.one_of(READING, OTHERS), min_size=1, max_size=12))
    def test_there_and_all_the_way_back(self, walk: list[dict[str, Any]]) -> None:
        document = start()
        way: list[tuple[str, Any]] = []
        for edit in walk:
            full = edit | ({"was": current_text(document, edit)} if edit["type"] == "set_reading" else {})
            before = json.dumps(document, sort_keys=True)
            try:
                applied = apply_edit(document, edit_adapter.validate_python(full))
            except Problem as refused:
                self.assertIn(refused.status, (403, 409, 422))
                self.assertEqual(json.dumps(document, sort_keys=True), before)
                continue
            self.assertEqual(json.dumps(document, sort_keys=True), before, "an edit must leave the document it was given alone")
            read_lab_book(applied.document)
            self.assertTrue(applied.words)
            way.append((before, applied.inverse))
            document = applied.document
        for before, inverse in reversed(way):
            stored = any_edit_adapter.validate_python(json.loads(inverse.model_dump_json()))
            document = apply_edit(document, stored).document
            self.assertEqual(json.dumps(document, sort_keys=True), before)
