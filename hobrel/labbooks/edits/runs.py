"""Edits that change the runs of a lab book: adding, naming, filling and removing them, and leaving rows of a log out."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.limits import MOST_LOGGED, MOST_QUANTITIES, MOST_REPEATS, MOST_RUNS, MOST_SETTINGS
from hobrel.core.readings.headings import LONGEST_HEADING, read_heading
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.headings import FirstGraph, add_first_graph, add_headed
from hobrel.labbooks.edits.parts import EditModel, Key, Name, Reason, SettingIn, UnitText
from hobrel.labbooks.edits.quantities import InstrumentIn, store_instrument
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import count, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem

Row = Annotated[int, Field(ge=0, lt=MOST_LOGGED)]
Settings = Annotated[list[SettingIn], Field(max_length=MOST_SETTINGS)]


class AsideRowsIn(EditModel):
    first: Row
    last: Row
    reason: Reason


class LogIn(EditModel):
    """A log of this lab book, by the key that it is kept under."""

    kept: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    rows: Annotated[int, Field(ge=1, le=MOST_LOGGED)]
    units: dict[Key, UnitText]
    aside: Annotated[list[AsideRowsIn], Field(max_length=200)] = []


class WithLog(EditModel):
    log: LogIn | None = None

    @property
    def brought_log(self) -> str | None:
        return self.log.kept if self.log else None


class NewHeading(EditModel):
    """A quantity that comes with what is brought in."""

    quantity: Key
    text: Annotated[str, Field(max_length=LONGEST_HEADING)]
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)] = 1
    instrument: InstrumentIn | None = None


class WithHeadings(WithLog):
    """What is brought in, with the quantities that are new with it, and ids for the first graph that they may make."""

    new: Annotated[list[NewHeading], Field(max_length=MOST_QUANTITIES)] | None = None
    first: FirstGraph | None = None


def _add_new(draft: Draft, edit: WithHeadings) -> None:
    """Make the quantities that come with what is brought in, as far as they are not there yet."""
    if not edit.new:
        return
    (policy.own_quantities if any(q["kind"] == "changed" for q in draft["quantities"]) else policy.own_plan)(draft, edit)
    for one in edit.new:
        if has(draft["quantities"], one.quantity):
            continue
        heading = read_heading(one.text, [q["symbol"] for q in draft["quantities"]])
        add_headed(draft, one.quantity, heading, one.repeats, first=not any(q["kind"] == "changed" for q in draft["quantities"]))
        if one.instrument is not None:
            draft.own("quantities", one.quantity)["instrument"] = store_instrument(one.instrument.model_dump(), heading.unit)


def _head(draft: Draft, edit: WithHeadings, run: str, settings: list[SettingIn]) -> None:
    """In a lab book of several tables, give one that was brought in the headings of what it holds; and draw what is new."""
    if any(r.get("headings") is not None for r in draft["runs"]):
        held = {key for s in settings for key in s.readings} | {*(edit.log.units if edit.log else ())}
        draft.own("runs", run)["headings"] = [q["id"] for q in draft["quantities"] if q["id"] in held]
    if edit.new and edit.first is not None:
        add_first_graph(draft, run, edit.first)


class AddRun(WithHeadings):
    """Add a run; `settings` bring one back, or bring readings in; `log` those of a logger. With `headings` it is a table of its own, which
    holds these quantities, or none so far.
    """

    type: Literal["add_run"] = "add_run"
    run: Key
    name: Name
    settings: Settings | None = None
    headings: Annotated[list[Key], Field(max_length=MOST_QUANTITIES)] | None = None


@kind(policy.left_to_the_bench)
def add_run(draft: Draft, edit: AddRun) -> str:
    runs = draft["runs"]
    if has(runs, edit.run):
        raise Problem(409, "gone", "This run is in the lab book already.")
    if len(runs) >= MOST_RUNS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_RUNS} runs.")
    check_run_name(runs, edit.name)
    # fresh readings under headings that are there are the bench's to take; a table with others is a matter of the plan
    if edit.headings is not None and not any(r.get("headings") == edit.headings for r in runs):
        policy.own_plan(draft, edit)
    _add_new(draft, edit)
    run = {"id": edit.run, "name": edit.name, "settings": _written(edit.settings or []), "log": _written_log(edit.log)}
    draft.own("runs").append(run)
    if edit.headings is not None:
        part_tables(draft)
        draft.own("runs", edit.run)["headings"] = edit.headings
    elif edit.settings or edit.log:
        _head(draft, edit, edit.run, edit.settings or [])
    return f"added the run {edit.name}" + (f" with {_say_size(run)}" if edit.settings or edit.log else "")


class RemoveRun(EditModel):
    type: Literal["remove_run"] = "remove_run"
    run: Key


@kind(policy.left_to_the_bench)
def remove_run(draft: Draft, edit: RemoveRun) -> str:
    run = find(draft["runs"], edit.run, "run")
    if len(draft["runs"]) == 1:
        raise Problem(409, "last", "This is the only run. Add another before you remove it.")
    draft.own("runs").remove(run)
    return f"removed the run {run['name']}"


class RenameRun(EditModel):
    type: Literal["rename_run"] = "rename_run"
    run: Key
    name: Name


@kind(policy.left_to_the_bench)
def rename_run(draft: Draft, edit: RenameRun) -> str:
    find(draft["runs"], edit.run, "run")
    check_run_name([r for r in draft["runs"] if r["id"] != edit.run], edit.name)
    run = draft.own("runs", edit.run)
    before, run["name"] = run["name"], edit.name
    _follow_name(draft, edit.run, before, edit.name)
    return f"the run {before} is now called {edit.name}"


def _follow_name(draft: Draft, run: str, before: str, after: str) -> None:
    """Where rows are about a run and call it by its name, they follow."""
    for table in draft["runs"]:
        for row in table["settings"]:
            if row.get("of_run") != run:
                continue
            for key, cells in row["readings"].items():
                if len(cells) == 1 and cells[0] and cells[0]["text"] == before:
                    draft.own("runs", table["id"], "settings", row["id"], "readings", key)[0] = {**cells[0], "text": after}


class FillRun(WithHeadings):
    """Put settings in the place of all that a run holds (readings that were brought in)."""

    type: Literal["fill_run"] = "fill_run"
    run: Key
    settings: Settings
    words: Annotated[str, Field(max_length=200)] = ""


@kind(policy.left_to_the_bench)
def fill_run(draft: Draft, edit: FillRun) -> str:
    size = _say_size(find(draft["runs"], edit.run, "run"))
    _add_new(draft, edit)
    run = draft.own("runs", edit.run)
    run.update(settings=_written(edit.settings), log=_written_log(edit.log))
    _head(draft, edit, edit.run, edit.settings)
    return f"{run['name']}: {edit.words or f'put {_say_size(run)} in place of {size}'}"


class SetAsideRows(EditModel):
    """Leave rows of a log out, from `first` to `last`, with a reason; no reason brings them back."""

    type: Literal["set_aside_rows"] = "set_aside_rows"
    run: Key
    first: Row
    last: Row
    reason: Reason | None


@kind(policy.left_to_the_bench)
def set_aside_rows(draft: Draft, edit: SetAsideRows) -> str:
    """The rows get this reason alone; what is left of ranges that they cut into stays aside."""
    run = find(draft["runs"], edit.run, "run")
    if not run.get("log"):
        raise Problem(409, "gone", "This run is not a log any more.")
    log = draft.own("runs", edit.run, "log")
    first, last = sorted((edit.first, edit.last))
    if last >= log["rows"]:
        raise Problem(409, "gone", f"There are only {log['rows']} rows in this run.")
    kept = []
    for part in log["aside"]:
        if part["first"] < first:
            kept.append(part | {"last": min(part["last"], first - 1)})
        if part["last"] > last:
            kept.append(part | {"first": max(part["first"], last + 1)})
    if edit.reason:
        kept.append({"first": first, "last": last, "reason": edit.reason})
    log["aside"] = sorted(kept, key=lambda part: part["first"])
    rows = f"rows {first + 1} to {last + 1} of {run['name']}"
    return f"set aside {rows}: {edit.reason}" if edit.reason else f"brought back {rows}"


def part_tables(draft: Draft) -> None:
    """From now on each run says what its table holds: those that there are hold all quantities that are read."""
    for run in draft["runs"]:
        if run.get("headings") is None:
            draft.own("runs", run["id"])["headings"] = [q["id"] for q in draft["quantities"] if q["kind"] in ("changed", "measured")]


def _written_log(log: LogIn | None) -> dict[str, Any] | None:
    return None if log is None else log.model_dump()


def _say_size(run: dict[str, Any]) -> str:
    return count(run["log"]["rows"], "logged row") if run.get("log") else count(len(run["settings"]), "setting")


def check_run_name(others: list[dict[str, Any]], name: str) -> None:
    """Refuse a name that another run has.

    Raises
    ------
    Problem
        422 ``name_taken``.
    """
    if any(r["name"].strip().lower() == name.strip().lower() for r in others):
        raise Problem(422, "name_taken", f"There is a run called {name} already. Give this one another name, so that nobody mixes them up.")


def _written(settings: list[SettingIn]) -> list[dict[str, Any]]:
    """Settings that come as a whole, each with an id of its own."""
    if len({s.id for s in settings}) != len(settings):
        raise Problem(422, "bad_settings", "Two of these settings have the same id.")
    return [s.model_dump() for s in settings]
