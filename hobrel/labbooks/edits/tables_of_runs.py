"""Edits of tables of runs: what each run has given, row by row, against what was set for it. See decision 38."""

from __future__ import annotations

import uuid
from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.limits import MOST_QUANTITIES, MOST_RUNS
from hobrel.core.readings.headings import Heading, read_heading
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.fits import FitChoice
from hobrel.labbooks.edits.graphs import GraphPart
from hobrel.labbooks.edits.headings import FirstGraph, HeadingText, add_headed
from hobrel.labbooks.edits.parts import EditModel, Key, Name, Symbol
from hobrel.labbooks.edits.quantities import AddQuantity, add_quantity
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.edits.runs import check_run_name, part_tables
from hobrel.labbooks.places import call, count, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem


class ResultOfIn(EditModel):
    kind: Literal["fit", "mean"]
    of: Key
    part: Annotated[str, Field(max_length=40)] = ""


class AddRunsTable(FirstGraph):
    """Add a table with a row for each run: what is `set` for it (a heading, its quantity), its name (`label`), and a result of it."""

    type: Literal["add_runs_table"] = "add_runs_table"
    run: Key
    name: Name
    set: Key
    heading: HeadingText
    label: Key
    quantity: Key
    called: Name
    symbol: Symbol
    result: ResultOfIn


@kind(policy.own_quantities)
def add_runs_table(draft: Draft, edit: AddRunsTable) -> str:
    if has(draft["runs"], edit.run):
        raise Problem(409, "gone", "This table is in the lab book already.")
    if len(draft["runs"]) >= MOST_RUNS or len(draft["quantities"]) > MOST_QUANTITIES - 3:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_RUNS} runs and {MOST_QUANTITIES} quantities.")
    check_run_name(draft["runs"], edit.name)
    of = find(draft["fits" if edit.result.kind == "fit" else "quantities"], edit.result.of, edit.result.kind)
    about = _of_readings(draft)
    if len(about) < 2:
        raise Problem(409, "too_few", "A table of runs needs two runs or more. Take fresh readings first.")
    heading = read_heading(edit.heading, [q["symbol"] for q in draft["quantities"]])
    part_tables(draft)
    add_headed(draft, edit.set, heading, 1, first=True)
    add_headed(draft, edit.label, Heading("run", "", "", holds="words"), 1, first=False)
    add_quantity(draft, AddQuantity(quantity=edit.quantity, kind="derived", name=edit.called, symbol=edit.symbol))
    draft.own("quantities", edit.quantity)["result_of"] = edit.result.model_dump()
    rows = [_row(run, edit.label) for run in about]
    draft.own("runs").append({"id": edit.run, "name": edit.name, "settings": rows, "log": None, "headings": [edit.set, edit.label]})
    draft.own("graphs").append({**GraphPart(x=edit.set, y=edit.quantity, words_of=edit.label).model_dump(), "id": edit.graph})
    if heading.holds == "numbers":
        draft.own("fits").append({**FitChoice().model_dump(), "id": edit.fit, "graph": edit.graph})
    what = f"the mean of {call(of)}" if edit.result.kind == "mean" else f"the {edit.result.part or 'number'} of a fit"
    return f"a table of {count(len(about), 'run')}: {what} against {heading.name}"


def _of_readings(draft: Draft) -> list[dict[str, Any]]:
    """The runs that hold readings, and no rows about other runs."""
    return [run for run in draft["runs"] if not any(row.get("of_run") for row in run["settings"])]


def _row(run: dict[str, Any], label: str) -> dict[str, Any]:
    return {
        "id": f"b{uuid.uuid4().hex[:10]}",
        "readings": {label: [{"text": run["name"] or "Readings", "set_aside": None}]},
        "set_aside": None,
        "of_run": run["id"],
    }


class AddRunRows(EditModel):
    """Give the runs that a table of runs has no row of yet one each; `label` is its column of names."""

    type: Literal["add_run_rows"] = "add_run_rows"
    run: Key
    label: Key


@kind(policy.left_to_the_bench)
def add_run_rows(draft: Draft, edit: AddRunRows) -> str:
    table = find(draft["runs"], edit.run, "run")
    there = {row.get("of_run") for row in table["settings"]}
    fresh = [run for run in _of_readings(draft) if run["id"] not in there and run["id"] != edit.run]
    if not fresh:
        raise Problem(409, "gone", "Every run has its row already.")
    find(draft["quantities"], edit.label, "quantity")
    draft.own("runs", edit.run, "settings").extend(_row(run, edit.label) for run in fresh)
    return f"{table['name']}: rows for {', '.join(run['name'] for run in fresh)}"[:200]
