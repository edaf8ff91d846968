"""Any walk of edits can be taken back step by step, exactly; and one change in the midst of others without harm to them."""

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
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches, find_patches, find_reference, invert
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


WALK = st.lists(st.one_of(READING, OTHERS), min_size=1, max_size=12)


def made(document: dict[str, Any], edit: dict[str, Any]) -> tuple[dict[str, Any], list[Patch]] | None:
    """The document after an edit and its patches as they are kept; None where it is refused."""
    full = edit | ({"was": current_text(document, edit)} if edit["type"] == "set_reading" else {})
    try:
        applied = apply_edit(document, edit_adapter.validate_python(full))
    except Problem:
        return None
    return applied.document, json.loads(json.dumps(applied.patches))


Leaves = dict[tuple[Any, ...], Any]


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Leaves:
    """Everything in a document by where it is: items of lists by their ids where they have any, readings by their place."""
    if isinstance(value, dict):
        return {place: leaf for name, inner in value.items() for place, leaf in leaves(inner, (*path, name)).items()}
    if isinstance(value, list) and value and all(isinstance(item, dict) and "id" in item for item in value):
        return {place: leaf for item in value for place, leaf in leaves(item, (*path, item["id"])).items()}
    if isinstance(value, list) and "readings" in path:
        return {place: leaf for i, item in enumerate(value) if item for place, leaf in leaves(item, (*path, i)).items()}
    return {path: value} if value not in ([], {}) else {}


class Walks(SimpleTestCase):
    @settings(max_examples=80)
    @given(WALK)
    def test_there_and_all_the_way_back(self, walk: list[dict[str, Any]]) -> None:
        document = start()
        way: list[tuple[str, list[Patch]]] = []
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
            patches = json.loads(json.dumps(applied.patches))
            self.assertEqual(apply_patches(document, patches), applied.document)
            way.append((before, patches))
            document = applied.document
        for before, patches in reversed(way):
            document = apply_patches(document, invert(patches))
            self.assertEqual(json.dumps(document, sort_keys=True), before)

    @settings(max_examples=60)
    @given(WALK)
    def test_taking_one_change_back_takes_nothing_of_any_other(self, walk: list[dict[str, Any]]) -> None:
        """Any change, after any others: where it can be taken back, just the places that it changed become as they were, and each of them
        still held what it had left. So nothing of anybody else's goes, in whatever order people undo.
        """
        document = start()
        way: list[tuple[Leaves, Leaves, list[Patch]]] = []
        now = leaves(document)
        for edit in walk:
            done = made(document, edit)
            if done is not None:
                document, before = done[0], now
                now = leaves(document)
                way.append((before, now, done[1]))
        for before, after, patches in way:
            back = invert(patches)
            try:
                undone = apply_patches(document, back)
            except Stands:
                continue
            if find_reference(undone, back) is not None:
                continue
            read_lab_book(undone)
            then = leaves(undone)
            changed = {path for path in {*now, *then} if now.get(path, ...) != then.get(path, ...)}
            for path in changed:
                self.assertEqual(now.get(path, ...), after.get(path, ...), f"{path} no longer held what the edit left")
                self.assertEqual(then.get(path, ...), before.get(path, ...), f"{path} is not as it was")


class Patches(SimpleTestCase):
    ITEMS = st.lists(st.tuples(st.sampled_from("abcdefgh"), st.integers(0, 2)), max_size=8, unique_by=lambda item: item[0])

    @settings(max_examples=400)
    @given(ITEMS, ITEMS)
    def test_any_list_of_items_is_led_to_any_other_and_back(self, one: list[tuple[str, int]], two: list[tuple[str, int]]) -> None:
        before, after = ({"graphs": [{"id": key, "v": value} for key, value in items]} for items in (one, two))
        patches = json.loads(json.dumps(find_patches(before, after)))
        self.assertEqual(apply_patches(before, patches), after)
        self.assertEqual(apply_patches(after, invert(patches)), before)

    def test_one_item_moved_is_one_patch(self) -> None:
        before, after = ({"graphs": [{"id": key} for key in keys]} for keys in ("abcdef", "bcdefa"))
        self.assertEqual(find_patches(before, after), [{"form": "move", "at": ["graphs"], "id": "a", "was": None, "after": "f"}])

    def test_a_patch_stands_only_where_its_place_is_as_it_knows_it(self) -> None:
        document = {"title": "t", "graphs": [{"id": "a", "v": 1}]}
        for patch in (
            {"form": "set", "at": ["title"], "was": "other", "becomes": "u"},
            {"form": "set", "at": ["missing"], "was": "x", "becomes": "u"},
            {"form": "set", "at": ["title"], "becomes": "u"},
            {"form": "set", "at": ["graphs", "b", "v"], "was": 1, "becomes": 2},
            {"form": "insert", "at": ["graphs"], "id": "a", "item": {"id": "a"}, "after": None},
            {"form": "remove", "at": ["graphs"], "id": "a", "item": {"id": "a", "v": 2}, "after": None},
            {"form": "remove", "at": ["graphs"], "id": "b", "item": {"id": "b"}, "after": None},
            {"form": "move", "at": ["graphs"], "id": "b", "was": None, "after": "a"},
        ):
            with self.subTest(patch), self.assertRaises(Stands):
                apply_patches(document, [patch])  # type: ignore[list-item]

    def test_only_the_path_that_changes_is_copied(self) -> None:
        document = start()
        first, second = document["runs"][0]["settings"][:2]
        patch = {
            "form": "set",
            "at": ["runs", "run1", "settings", "s1", "readings", "t10", 0],
            "was": first["readings"]["t10"][0],
            "becomes": None,
        }
        after = apply_patches(document, [patch])  # type: ignore[list-item]
        self.assertIs(after["quantities"], document["quantities"])
        self.assertIs(after["runs"][0]["settings"][1], second)
        self.assertIsNot(after["runs"][0]["settings"][0], first)
