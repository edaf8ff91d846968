"""Any walk of edits can be taken back step by step, exactly; and one change in the midst of others without harm to them."""

from __future__ import annotations

import json
import random
from typing import Any

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.labbooks.edits.headings import write_heading_text
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches, find_patches, find_reference, invert
from hobrel.labbooks.edits.registry import KINDS, apply_edit
from hobrel.server import policy
from hobrel.server.problems import Problem
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.placing import placing

BY_FIELD = ("place_graph", "place_fit", "change_finding")
"""Kinds that name the fields that they change, with what they were."""

RUNS = st.sampled_from(["run1", "log", "fresh"])
SETTINGS = st.sampled_from(["s1", "s2", "s3", "n1", "n2"])
STATES = st.lists(
    st.sampled_from([
        {"id": "a", "symbol": "x", "unit": "m", "start": "0", "rate": "v", "stages": [], "fitted": False},
        {"id": "a", "symbol": "x", "unit": "m", "start": "1", "rate": "v", "stages": [], "fitted": True},
        {
            "id": "b", "symbol": "v", "unit": "m/s", "start": "0", "rate": "g", "stages": [{"id": "w", "when": "v > 0", "rate": "0"}],
            "fitted": False,
        },
    ]),
    max_size=2, unique_by=lambda state: str(state["id"]),
)  # fmt: skip
STEPS = st.fixed_dictionaries(
    {
        "states": STATES, "numbers": st.sampled_from([[], [{"id": "n", "symbol": "k", "unit": "1/s", "value": "2", "fitted": True}]]),
        "drawn": st.sampled_from(["", "x"]), "begins": st.just("0"), "step": st.sampled_from(["", "0.1"]),
        "way": st.sampled_from(["simple", "fourth"]),
    },
)  # fmt: skip
QUANTITIES = st.sampled_from(["L", "t10", "T", "h", "m"])
REASONS = st.sampled_from([None, "the clamp slipped", "bumped"])
ROWS = st.lists(
    st.fixed_dictionaries({"id": SETTINGS, "readings": st.just({"L": [{"text": "0.31"}], "t10": [None, {"text": "2.2"}]})}), max_size=2
)
NOTES = st.lists(
    st.fixed_dictionaries({"id": st.sampled_from("abc"), "text": st.sampled_from(["a draught", "the door"]), "anchor": st.just("point")}),
    max_size=3,
    unique_by=lambda note: note["id"],
)
UNKNOWNS = st.lists(
    st.fixed_dictionaries(
        {"id": st.sampled_from("uv"), "name": st.just("a strip"), "readings": st.sampled_from([["0.4"], ["0.4", "0.5"]])}
    ),
    max_size=2,
    unique_by=lambda unknown: unknown["id"],
)
USES = st.lists(
    st.fixed_dictionaries({"symbol": st.sampled_from(["y_1", "y_2"]), "kind": st.just("mean"), "of": st.sampled_from(["T", "t10"])}),
    max_size=2,
    unique_by=lambda used: used["symbol"],
)
CONTENT = st.fixed_dictionaries(
    {"name": st.just("middle"), "symbol": st.sampled_from(["w", "T"]), "formula": st.just("y_1"), "uses": USES},
    optional={"compare": st.sampled_from([[], ["E"]])},
)
FIRST_GRAPH = {"graph": st.sampled_from(["g9", "g8"]), "fit": st.sampled_from(["f2", "f8"])}
LONG = "t_10" + " + t_10" * 56
"""A formula that has just room, until its symbol becomes longer."""
# what each kind of edit may hold; `becomes` is given its `was` from the document, as the page does
KINDS_TRIED: dict[str, dict[str, Any]] = {
    "set_reading": {
        "run": RUNS, "setting": SETTINGS, "quantity": QUANTITIES, "repeat": st.integers(0, 3),
        "text": st.sampled_from(["", "2.50", "2,5", "five", "1.2e-3", "1." + "3" * 58]), "set_aside": REASONS,
    },
    "add_setting": {"run": RUNS, "setting": SETTINGS, "at": st.sampled_from([None, 0, 2])},
    "remove_setting": {"run": RUNS, "setting": SETTINGS},
    "set_repeats": {"quantity": QUANTITIES, "repeats": st.integers(1, 5)},
    "set_aside": {"run": RUNS, "setting": SETTINGS, "quantity": st.sampled_from([None, "t10"]), "repeat": st.just(0), "reason": REASONS},
    "set_aside_from": {"run": RUNS, "setting": SETTINGS, "reason": st.just("beyond the clamp")},
    "confirm_slip": {
        "kind": st.sampled_from(["factor", "lone_repeat"]), "run": RUNS, "setting": SETTINGS, "quantity": QUANTITIES,
        "repeat": st.sampled_from([None, 0]), "right": st.booleans(), "by": st.just("Ann"),
    },
    "write_text": {"section": st.sampled_from(["method", "choice"]), "text": st.sampled_from(["", "We timed it."])},
    "draw_sketch": {"points": st.sampled_from([[], [{"x": 0.1, "y": 0.2}]])},
    "define_formula": {"quantity": QUANTITIES, "formula": st.sampled_from(["t_10/10", "t_10 +", "", LONG])},
    "choose_digits": {"quantity": QUANTITIES, "kind": st.sampled_from(["automatic", "figures"]), "count": st.integers(0, 4)},
    "add_quantity": {
        "quantity": st.sampled_from(["h", "L"]), "kind": st.sampled_from(["measured", "derived", "constant"]), "name": st.just("sag"),
        "symbol": st.sampled_from(["h", "L", "a_b"]), "unit": st.sampled_from(["mm", "", "splods"]), "formula": st.sampled_from(["", LONG]),
        "holds": st.sampled_from(["numbers", "words"]),
    },
    "change_quantity": {
        "quantity": QUANTITIES, "readings": st.sampled_from(["convert", "relabel"]),
        "becomes": st.fixed_dictionaries(
            {},
            optional={
                "unit": st.sampled_from(["cm", "mm", "ms", "m"]), "symbol": st.sampled_from(["h", "z_longer_name", ""]),
                "holds": st.sampled_from(["numbers", "words"]),
                "instrument": st.sampled_from([None, {"name": "gate", "kind": "display", "division": "0.001"}]),
            },
        ),
    },
    "remove_quantity": {"quantity": QUANTITIES},
    "add_moment": {"moment": st.sampled_from("mn"), "name": st.just("release"), "of": QUANTITIES, "at": st.sampled_from([0.25, 1e9])},
    "add_runs_table": {
        "run": st.sampled_from(["T", "run1"]), "name": st.just("of runs"), "set": st.just("w"), "heading": st.just("mass w / kg"),
        "label": st.just("w2"), "quantity": st.just("w3"), "called": st.just("k"), "symbol": st.sampled_from(["k", "L"]),
        "result": st.sampled_from([{"kind": "fit", "of": "line", "part": "gradient"}, {"kind": "mean", "of": "T"}]), **FIRST_GRAPH,
    },
    "add_run_rows": {"run": st.sampled_from(["T", "run1"]), "label": st.sampled_from(["w2", "L"])},
    "arrange_report": {"order": st.lists(st.sampled_from(["text:method", "graph:measured.run2", "left_out", "text:sec1"]), max_size=4)},
    "leave_part_out": {"part": st.sampled_from(["workings", "graph:measured"]), "title": st.just("it"), "out": st.booleans()},
    "add_section": {"section": st.sampled_from(["sec1", "sec2", "method"]), "title": st.just("Sources")},
    "name_section": {"section": st.sampled_from(["sec1", "sec2"]), "title": st.just("Errors")},
    "remove_section": {"section": st.sampled_from(["sec1", "sec2"])},
    "add_report_picture": {"picture": st.just({"id": "p1", "key": "", "alt": "the strip", "width": 4, "height": 3})},
    "describe_report_picture": {"picture": st.sampled_from(["p1", "p2"]), "caption": st.just("The strip"), "alt": st.none() | st.just("")},
    "remove_report_picture": {"picture": st.sampled_from(["p1", "p2"])},
    "keep_typed": {"section": st.sampled_from(["method", "sec1"]), "typed": st.just("12.4"), "name": st.just("E")},
    "remove_moment": {"moment": st.sampled_from("mn")},
    "move_quantity": {"quantity": QUANTITIES, "to": st.integers(0, 9)},
    "keep_plot": {
        "graph": st.just("g8"), "fit": st.sampled_from(["f8", "line"]), "x": st.sampled_from(["L", "L3"]), "y": st.sampled_from(["T", "m"]),
        "instead_of": st.sampled_from(["", "line", "gone"]),
        "x_form": st.sampled_from(["v", "1/v"]), "y_form": st.sampled_from(["v^2", "ln(v)"]), "x_new": st.just("k1"),
        "y_new": st.just("k2"),
    },
    "add_tangent": {
        "quantity": st.just("slope"), "fit": st.sampled_from(["line", "f2"]), "name": st.just("slope"),
        "symbol": st.sampled_from(["v", "L"]),
    },
    "add_graph": {"graph": st.sampled_from(["g9", "straight"]), "x": QUANTITIES, "y": QUANTITIES},
    "choose_look": {
        "series": st.sampled_from(["run1:T", "gone:T"]), "look": st.sampled_from([None, 0, 6]), "was": st.sampled_from([None, 0]),
    },
    "remove_graph": {"graph": st.sampled_from(["g9", "measured", "straight"])},
    "place_graph": {
        "graph": st.sampled_from(["g9", "straight"]),
        "becomes": st.fixed_dictionaries(
            {},
            optional={
                "x": QUANTITIES, "origin": st.booleans(), "x_low": st.sampled_from([None, 0.1]),
                "x_high": st.sampled_from([None, 0.05, 0.9]),
                "also": st.sampled_from([[], ["T"], ["T", "L3"]]), "hidden": st.sampled_from([[], ["run1:T2"]]), "notes": NOTES,
                "words_of": st.sampled_from(["", "h", "L"]),
            },
        ),
    },
    "add_fit": {"fit": st.sampled_from(["line", "f2"]), "graph": st.just("straight")},
    "remove_fit": {"fit": st.sampled_from(["line", "f2"])},
    "place_fit": {
        "fit": st.sampled_from(["line", "f2"]),
        "becomes": st.fixed_dictionaries(
            {},
            optional={
                "weights": st.sampled_from(["none", "y_bars"]), "through_origin": st.booleans(), "unknowns": UNKNOWNS,
                "by_eye": st.sampled_from([None, {"gradient": 4.7, "intercept": 0.0}]), "steps": STEPS,
            },
        ),
    },
    "add_finding": {"finding": st.sampled_from(["E", "own"]), "content": CONTENT},
    "change_finding": {
        "finding": st.sampled_from(["E", "own"]),
        "becomes": st.fixed_dictionaries({}, optional={"uses": USES, "compare": st.sampled_from([[], ["E"]]), "unit": st.just("s")}),
    },
    "remove_finding": {"finding": st.sampled_from(["E", "own"])},
    "write_needed": {"finding": st.sampled_from(["E", "own"]), "text": st.sampled_from(["", "their bars overlap"])},
    "write_rounding": {"finding": st.sampled_from(["E", "own"]), "text": st.sampled_from(["", "12.5 ± 0.3 GPa"])},
    "add_run": {
        "run": RUNS, "name": st.sampled_from(["Fresh", "Again"]), "settings": st.one_of(st.none(), ROWS),
        "headings": st.sampled_from([None, None, [], ["L", "t10"]]),
        "new": st.sampled_from(
            [None, None, [{"quantity": "x1", "text": "y / m", "instrument": {"name": "film", "kind": "steady", "common": "0.2"}}]]
        ),
    },
    "remove_run": {"run": RUNS},
    "rename_run": {"run": RUNS, "name": st.sampled_from(["Fresh", "Wet strip"])},
    "fill_run": {"run": RUNS, "settings": ROWS},
    "write_heading": {
        "run": RUNS, "quantity": st.sampled_from(["h", "x1", "x2", "t10"]), **FIRST_GRAPH,
        "text": st.sampled_from(["h / mm", "sag s in mm", "x (cm)", "t_10 / s", "4", "w / wobbles", "look (words)"]),
    },
    "paste_table": {
        "run": RUNS, **FIRST_GRAPH,
        "headings": st.sampled_from(
            [["q (s)", "x / m"], ["a", "±a", "b1", "b2"], ["L / m", "y"], ["a", "b (words)"]]
        ),
        "rows": st.sampled_from([[["1", "2"], ["", "3", "4"]], [["0.5", "0.1", "7", "8"]], [["red", "0.2"], ["blue"]]]),
    },
    "exchange_columns": {"run": RUNS, "quantity": QUANTITIES},
    "describe_book": {
        "becomes": st.fixed_dictionaries({}, optional={"title": st.just("Bending"), "relation": st.sampled_from(["", "T = k L"])}),
    },
    "write_plan": {
        "becomes": st.fixed_dictionaries(
            {},
            optional={
                "prompts": st.sampled_from([{}, {"read": "Read it."}, {"read": "Again.", "ask": "Why?"}]),
                "kept_same": st.sampled_from([[], ["the load"]]),
                "steps": st.sampled_from([{}, {"read": [{"id": "a", "text": "Clamp it."}, {"id": "b", "text": "Time it."}]}]),
                "left_open": st.sampled_from([[], ["T"], ["T2", "T"]]), "sections": st.sampled_from([[], [{"id": "m", "title": "Method"}]]),
                "rig": st.sampled_from([{}, {"key": "salt-in-pools", "without": ["bubbles"], "writes": {"meter": "t10"}}]),
            },
        ),
    },
    "choose_convention": {
        "becomes": st.fixed_dictionaries({}, optional={"spread": st.sampled_from(["sd", "half_range"]), "bench_rounds": st.booleans()}),
    },
    "tick_step": {"step": st.sampled_from(["a", "b"]), "done": st.booleans()},
    "set_aside_rows": {"run": RUNS, "first": st.integers(0, 12), "last": st.integers(0, 12), "reason": REASONS},
}  # fmt: skip
SINGLE = {name: st.fixed_dictionaries({"type": st.just(name), **parts}) for name, parts in KINDS_TRIED.items()}
IN_BATCH = st.one_of(*(SINGLE[name] for name, known in KINDS.items() if known.in_batch))
BATCH = st.fixed_dictionaries({"type": st.just("batch"), "words": st.just("pasted"), "edits": st.lists(IN_BATCH, min_size=1, max_size=3)})
EDITS = st.one_of(SINGLE["set_reading"], SINGLE["set_reading"], *SINGLE.values(), BATCH)


def start() -> dict[str, Any]:
    document = write_lab_book(write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(6)))
    log = {"kept": "0" * 64, "rows": 10, "units": {"L": "cm"}, "aside": [{"first": 2, "last": 5, "reason": "warming up"}]}
    # nothing of it is a plan's, so that every kind can be made
    document["freedoms"]["plan"] = document["plan"]["draft"] = True
    document["runs"].append({"id": "log", "name": "Logged", "settings": [], "log": log})
    return document


def current_text(document: dict[str, Any], edit: dict[str, Any]) -> str:
    """What the cell of a reading edit holds, as the person who writes sees it."""
    run = next((r for r in document["runs"] if r["id"] == edit["run"]), None)
    row = next((s for s in (run or {"settings": []})["settings"] if s["id"] == edit["setting"]), None)
    readings = (row or {}).get("readings", {}).get(edit["quantity"], [])
    entry = readings[edit["repeat"]] if edit["repeat"] < len(readings) else None
    return (entry or {}).get("text", "")


def seen(document: dict[str, Any], edit: dict[str, Any]) -> dict[str, Any]:
    """The edit with what it replaces, as somebody's page has it who sees this document."""
    match edit["type"]:
        case "set_reading":
            return edit | {"was": current_text(document, edit)}
        case "write_text":
            return edit | {"was": document["texts"].get(edit["section"], "")}
        case "write_rounding" | "write_needed":
            finding = next((f for f in document["findings"] if f["id"] == edit["finding"]), {})
            return edit | {"was": finding.get({"write_rounding": "rounded", "write_needed": "needed"}[edit["type"]], "")}
        case "place_graph" | "place_fit" | "change_quantity" | "change_finding":
            key = edit[
                {"place_graph": "graph", "place_fit": "fit", "change_quantity": "quantity", "change_finding": "finding"}[edit["type"]]
            ]
            return placing(document, edit["type"], key, edit.get("readings", ""), **edit["becomes"])
        case "write_heading":
            known = next((q for q in document["quantities"] if q["id"] == edit["quantity"]), None)
            return edit | {"was": write_heading_text(known) if known else ""}
        case "describe_book" | "write_plan" | "choose_convention":
            now = {**document, **document[{"write_plan": "plan", "choose_convention": "convention"}.get(edit["type"], "freedoms")]}
            return edit | {"was": {name: now[name] for name in edit["becomes"]}}
        case "batch":
            return edit | {"edits": [seen(document, single) for single in edit["edits"]]}
    return edit


WALK = st.lists(EDITS, min_size=1, max_size=12)


def made(document: dict[str, Any], edit: dict[str, Any], page: dict[str, Any] | None = None) -> tuple[dict[str, Any], list[Patch]] | None:
    """The document after an edit of somebody who sees `page` (by default the document), and its patches as they are kept; None where it is
    refused.
    """
    try:
        applied = apply_edit(document, edit_adapter.validate_python(seen(page or document, edit)))
    except (Problem, ValidationError):
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
    def test_every_kind_is_tried(self) -> None:
        self.assertEqual({*KINDS_TRIED, "batch"}, set(KINDS))

    def test_every_kind_has_a_rule_of_the_policy(self) -> None:
        for name, known in KINDS.items():
            with self.subTest(name):
                self.assertEqual(known.rule.__module__, policy.__name__)

    @settings(max_examples=80)
    @given(WALK)
    def test_there_and_all_the_way_back(self, walk: list[dict[str, Any]]) -> None:
        document = start()
        way: list[tuple[str, list[Patch]]] = []
        for edit in walk:
            before = json.dumps(document, sort_keys=True)
            try:
                applied = apply_edit(document, edit_adapter.validate_python(seen(document, edit)))
            except (Problem, ValidationError) as refused:
                self.assertIn(getattr(refused, "status", 422), (403, 409, 422))
                self.assertEqual(json.dumps(document, sort_keys=True), before, "what is refused leaves no trace")
                continue
            self.assertEqual(json.dumps(document, sort_keys=True), before, "an edit must leave the document it was given alone")
            read_lab_book(applied.document)
            self.assertTrue(applied.words)
            self.assert_fits(applied.document)
            patches = json.loads(json.dumps(applied.patches))
            self.assertEqual(apply_patches(document, patches), applied.document)
            way.append((before, patches))
            document = applied.document
        for before, patches in reversed(way):
            document = apply_patches(document, invert(patches))
            self.assertEqual(json.dumps(document, sort_keys=True), before)

    def assert_fits(self, document: dict[str, Any]) -> None:
        """Nothing has become longer than it could have been typed."""
        for path, leaf in leaves(document).items():
            if isinstance(leaf, str):
                limit = 60 if "readings" in path else 400 if path[-1] == "formula" else 30 if path[-1] == "symbol" else 20_000
                self.assertLessEqual(len(leaf), limit, path)

    @settings(max_examples=80)
    @given(WALK, EDITS, EDITS)
    def test_what_two_people_do_on_the_same_page_both_stays_or_one_is_told(
        self, walk: list[dict[str, Any]], anns: dict[str, Any], bos: dict[str, Any]
    ) -> None:
        """Both see the same, and Ann is first. Where Bo's change of the same kind is made too, hers stands."""
        page = start()
        for edit in walk:
            page = (made(page, edit) or (page, []))[0]
        first = made(page, anns)
        if first is None:
            return
        second = made(first[0], bos, page)
        if second is None:
            return
        saw, between, after = leaves(page), leaves(first[0]), leaves(second[0])
        hers = {path for path in {*saw, *between} if saw.get(path, ...) != between.get(path, ...)}
        if anns["type"] in BY_FIELD and bos["type"] == anns["type"]:
            for path in hers:
                self.assertEqual(after.get(path, ...), between.get(path, ...), f"{path} of Ann's is gone")

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
