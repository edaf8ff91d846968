"""Edits of a lab book without a plan: headings that are typed, whole tables that are pasted, what it is about. See decision 31."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.limits import LONGEST_WORDS, MOST_QUANTITIES, MOST_REPEATS, MOST_SETTINGS
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.readings.headings import (
    LONGEST_HEADING,
    HeadedBlock,
    Heading,
    are_words,
    may_repeat,
    read_heading,
    read_headings,
    uncertainty_of,
)
from hobrel.labbooks.edits.changing import PartEdit, change_part
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.fits import FitChoice
from hobrel.labbooks.edits.graphs import GraphPart
from hobrel.labbooks.edits.parts import EditModel, Key
from hobrel.labbooks.edits.quantities import InstrumentIn, check_holds, follow_symbol
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import Document, call, changed_in, check_symbol, count, find, has, settings_of, table_of, write_u
from hobrel.server import policy
from hobrel.server.problems import Problem

HeadingText = Annotated[str, Field(max_length=LONGEST_HEADING)]
Cell = Annotated[str, Field(max_length=LONGEST_WORDS)]
_UNNAMED = ("x", "y", "z", "p", "q", "r", "s", "u", "v", "w")


class FirstGraph(EditModel):
    """Ids for the graph, and for the line on it, that are there by themselves as soon as two quantities are."""

    graph: Key
    fit: Key


class WriteHeading(FirstGraph):
    """Make a quantity by typing its heading in the table of a run, or change one of one's own; `was` is the heading that it replaces."""

    type: Literal["write_heading"] = "write_heading"
    run: Key
    quantity: Key
    text: HeadingText
    was: HeadingText = ""


@kind(policy.headings)
def write_heading(draft: Draft, edit: WriteHeading) -> str:
    find(draft["runs"], edit.run, "run")
    known = next((q for q in draft["quantities"] if q["id"] == edit.quantity), None)
    others = [q for q in draft["quantities"] if q["id"] != edit.quantity]
    heading = read_heading(edit.text, [q["symbol"] for q in others])
    if heading.of is not None:
        raise Problem(422, "bad_heading", f"Write the ± with its reading: 2.50 ± 0.05. A pasted column headed ±{heading.of} is put there.")
    if known is None:
        put_heading(draft, edit.run, edit.quantity, heading, 1)
        graphed = add_first_graph(draft, edit.run, edit)
        return f"a new heading: {_say(heading)}" + (f"; {graphed}" if graphed else "")
    now = write_heading_text(known)
    if edit.was != now and edit.text.strip() != now:
        raise Problem(409, "clash", "Somebody has changed this heading meanwhile.", {"theirs": now})
    if heading.holds != known.get("holds", "numbers"):
        check_holds(known, heading.holds)
    if heading.symbol:
        check_symbol(others, heading.symbol, known["kind"])
    quantity = draft.own("quantities", edit.quantity)
    quantity.update(name=heading.name[:80], unit=heading.unit, holds=heading.holds)
    if told := _instrument_of(heading):
        quantity["instrument"] = told
    if heading.symbol and heading.symbol != known["symbol"]:
        follow_symbol(draft, quantity, heading.symbol)
    return f"the heading {now} is now {_say(heading)}"


def write_heading_text(quantity: Document) -> str:
    """A quantity as a heading that reads back as it."""
    name, symbol, unit = quantity["name"], quantity["symbol"], quantity["unit"]
    if quantity.get("holds") == "words":
        return f"{name} (words)"
    words = symbol if name == symbol else f"{name} {symbol}"
    return f"{words} / {unit}" if unit else words


class PasteTable(FirstGraph):
    """Make quantities from the headings of a pasted block, and readings from its rows, in a table that has no readings yet."""

    type: Literal["paste_table"] = "paste_table"
    run: Key
    headings: Annotated[list[HeadingText], Field(min_length=1, max_length=MOST_QUANTITIES)]
    rows: Annotated[list[Annotated[list[Cell], Field(max_length=MOST_QUANTITIES)]], Field(min_length=1, max_length=MOST_SETTINGS)]


@kind(policy.own_plan)
def paste_table(draft: Draft, edit: PasteTable) -> str:
    if any(row["readings"] for row in settings_of(draft, edit.run)) or table_of(draft, edit.run):
        raise Problem(409, "not_empty", "There is something in this table already. Bring the block in as a run of its own.")
    block = read_headings(_headings_of(edit))
    if not block.quantities:
        raise Problem(422, "bad_heading", "There is nothing in these columns.")
    block = _with_words(block, edit.rows)
    keys = [f"q{uuid.uuid4().hex[:8]}" for _ in block.quantities]
    keys = [put_heading(draft, edit.run, *each) for each in zip(keys, block.quantities, block.repeats, strict=True)]
    settings = [s for row in edit.rows if (s := _setting(row, block, keys))["readings"]]
    draft.own("runs", edit.run)["settings"] = settings
    add_first_graph(draft, edit.run, edit)
    return f"pasted a table: {', '.join(_say(h) for h in block.quantities)[:200]}, {count(len(settings), 'setting')}"


def _with_words(block: HeadedBlock, rows: Sequence[Sequence[str]]) -> HeadedBlock:
    """The block with those of its columns told as words that hold no number."""

    def cells(quantity: int) -> list[str]:
        return [row[i] for row in rows for i, c in enumerate(block.columns) if i < len(row) and c is not None and c.quantity == quantity]

    worded = [count == 1 and are_words(cells(i)) for i, count in enumerate(block.repeats)]
    quantities = (replace(q, symbol="", unit="", holds="words") if w else q for q, w in zip(block.quantities, worded, strict=True))
    return replace(block, quantities=tuple(quantities))


def _headings_of(edit: PasteTable) -> list[str]:
    """The headings of a block; a column that holds something and has none repeats the one before it, for a heading over several columns
    stands over the first of them in a copied table, or is called by a letter, so that nothing is left out.
    """
    width = max(len(edit.headings), *(len(row) for row in edit.rows))
    headings = [*edit.headings, *[""] * (width - len(edit.headings))]
    columns = [[row[i] if i < len(row) else "" for row in edit.rows] for i in range(width)]
    letters = (letter for letter in _UNNAMED if letter not in {read for text in headings if (read := text.strip()[:1])})
    for i, text in enumerate(headings):
        if not text.strip(" #") and any(cell.strip() for cell in columns[i]):
            is_repeat = i > 1 and uncertainty_of(headings[i - 1]) is None and may_repeat(columns[i - 1], columns[i])
            headings[i] = headings[i - 1] if is_repeat else next(letters, f"column {i + 1}")
    return headings


def _setting(row: Sequence[str], block: HeadedBlock, keys: Sequence[str]) -> dict[str, Any]:
    readings: dict[str, list[dict[str, Any] | None]] = {}
    spread: dict[str, str] = {}
    for column, text in zip(block.columns, row, strict=False):
        if column is None or not text.strip():
            continue
        key = keys[column.quantity]
        if column.is_u:
            spread[key] = text.strip()
            continue
        cells = readings.setdefault(key, [])
        cells.extend([None] * (column.repeat + 1 - len(cells)))
        cells[column.repeat] = {"text": text.strip(), "set_aside": None}
    for key, u in spread.items():
        write_u(readings.get(key, ()), u)
    return {"id": f"b{uuid.uuid4().hex[:10]}", "readings": readings, "set_aside": None}


def put_heading(draft: Draft, run: str, key: str, heading: Heading, repeats: int) -> str:
    """Put a heading into the table of a run: the quantity that it says is made, or taken from another table that has the same. Its id.

    Raises
    ------
    Problem
        As `add_headed`.
    """
    headings = find(draft["runs"], run, "run").get("headings")
    if headings is None:
        add_headed(draft, key, heading, repeats, first=not any(q["kind"] == "changed" for q in draft["quantities"]))
        return key
    same = next((q for q in draft["quantities"] if _is_same(q, heading) and q["repeats"] == repeats and q["id"] not in headings), None)
    if same is None:
        add_headed(draft, key, heading, repeats, first=not headings)
    draft.own("runs", run)["headings"] = [*headings, same["id"] if same else key]
    return str(same["id"]) if same else key


def _is_same(quantity: Document, heading: Heading) -> bool:
    is_read = quantity["kind"] in ("changed", "measured")
    if heading.holds == "words" or quantity.get("holds") == "words":
        return is_read and (quantity.get("holds"), quantity["name"]) == (heading.holds, heading.name)
    return is_read and canonical_name(quantity["symbol"]) == heading.symbol and quantity["unit"] == heading.unit


def add_headed(draft: Draft, key: str, heading: Heading, repeats: int, first: bool) -> None:
    """Add the quantity that a heading says: the `first` of a table is the changed one, all others are measured.

    Raises
    ------
    Problem
        409 ``gone``, 422 ``too_large``, ``repeats``, ``symbol_taken``, ``bad_symbol``.
    """
    quantities = draft["quantities"]
    if len(quantities) >= MOST_QUANTITIES:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_QUANTITIES} quantities.")
    if repeats > MOST_REPEATS:
        raise Problem(422, "too_large", f"A quantity has at most {MOST_REPEATS} repeats.")
    if first and repeats > 1:
        message = f"The first column is what you set, once in each row. {heading.name} is there {repeats} times: put it further right."
        raise Problem(422, "repeats", message)
    if heading.holds == "numbers":
        check_symbol(quantities, heading.symbol, "measured")
    # what one sets by counting is known without a ±; counts that are measured may come at random, and are left to the person
    counting = InstrumentIn(name="counting", kind="counted", division="1").model_dump() if first and heading.is_count else None
    place = 1 + max((i for i, q in enumerate(quantities) if q["kind"] in ("changed", "measured")), default=-1)
    draft.own("quantities").insert(place, {
        "id": key, "kind": "changed" if first else "measured", "name": heading.name[:80], "symbol": heading.symbol, "unit": heading.unit,
        "instrument": _instrument_of(heading) or counting, "repeats": repeats, "formula": "", "value": "", "u": "", "given": False,
        "holds": heading.holds,
    })  # fmt: skip


def _instrument_of(heading: Heading) -> Document | None:
    """What a heading says of the instrument, by what it says that each reading is uncertain by."""
    if not heading.u:
        return None
    told = {"percent": heading.u.rstrip("%")} if heading.u.endswith("%") else {"division": heading.u, "digits": "1"}
    return InstrumentIn(name="as the heading says", kind="maker", **told).model_dump()


def _say(heading: Heading) -> str:
    if heading.holds == "words":
        return f"{heading.name} (words)"
    words = write_symbol(heading.symbol)
    name = words if heading.name == heading.symbol else f"{heading.name} {words}"
    return f"{name} / {heading.unit}" if heading.unit else name


def add_first_graph(draft: Draft, run: str, edit: FirstGraph) -> str:
    """The first measured numbers of a table against what is set, and a line, where there is no graph of the table yet; in words. Kinds have
    no line.
    """
    table = table_of(draft, run)
    keys = {q["id"] for q in table}
    up = next((q for q in table[1:] if q.get("holds") != "words"), None)
    if (
        up is None
        or any({g["x"], g["y"]} <= keys for g in draft["graphs"])
        or has(draft["fits"], edit.fit)
        or has(draft["graphs"], edit.graph)
    ):
        return ""
    along = table[0]
    draft.own("graphs").append({**GraphPart(x=along["id"], y=up["id"]).model_dump(), "id": edit.graph})
    if along.get("holds") != "words":
        draft.own("fits").append({**FitChoice().model_dump(), "id": edit.fit, "graph": edit.graph})
    return f"a graph of {call(up)} against {call(along)}"


class ExchangeColumns(EditModel):
    """Make a measured quantity the changed one, and the changed one measured: columns and axes change places."""

    type: Literal["exchange_columns"] = "exchange_columns"
    run: Key
    quantity: Key


@kind(policy.own_plan)
def exchange_columns(draft: Draft, edit: ExchangeColumns) -> str:
    first = changed_in(draft, edit.run)
    wanted = next((q for q in table_of(draft, edit.run) if q["id"] == edit.quantity), None)
    if first is None or wanted is None or wanted is first:
        raise Problem(409, "gone", "There are no two columns here that could change places.")
    if wanted["repeats"] > 1:
        raise Problem(409, "repeats", f"{wanted['name']} has {wanted['repeats']} repeats; the first column is set once in each row.")
    for key, becomes in ((first["id"], "measured"), (wanted["id"], "changed")):
        draft.own("quantities", key)["kind"] = becomes
    for run in draft["runs"]:
        if run.get("headings") is not None and {first["id"], wanted["id"]} <= {*run["headings"]}:
            swapped = {first["id"]: wanted["id"], wanted["id"]: first["id"]}
            draft.own("runs", run["id"])["headings"] = [swapped.get(key, key) for key in run["headings"]]
    quantities = draft.own("quantities")
    here, there = (next(i for i, q in enumerate(quantities) if q["id"] == key) for key in (first["id"], wanted["id"]))
    quantities[here], quantities[there] = quantities[there], quantities[here]
    for graph in draft["graphs"]:
        if {graph["x"], graph["y"]} == {first["id"], wanted["id"]}:
            ends = {"x_low": graph["y_low"], "x_high": graph["y_high"], "y_low": graph["x_low"], "y_high": graph["x_high"]}
            draft.own("graphs", graph["id"]).update(x=graph["y"], y=graph["x"], **ends)
    return f"{wanted['name']} and {first['name']} have changed places"


class Described(EditModel):
    title: Annotated[str, Field(min_length=1, max_length=120)] = "Lab book"
    question: Annotated[str, Field(max_length=300)] = ""
    relation: Annotated[str, Field(max_length=200)] = ""


class DescribeBook(PartEdit):
    """Say what a lab book is about: its title, its question, the relation that is expected."""

    type: Literal["describe_book"] = "describe_book"
    was: Described
    becomes: Described


@kind(policy.own_plan)
def describe_book(draft: Draft, edit: DescribeBook) -> str:
    now = {name: draft[name] for name in Described.model_fields}
    after = change_part(now, edit, "this")
    draft.update(after)
    said = [f"{name}: {after[name] or '(nothing)'}" for name in Described.model_fields if name in after and after[name] != now[name]]
    return "; ".join(said)[:200] or "nothing changed"
