"""Edits that change the runs of a lab book: adding, naming, filling and removing them, and leaving rows of a log out."""

from __future__ import annotations

from typing import Any

from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.document.limits import MOST_RUNS
from hobrel.core.errors import CoreError
from hobrel.labbooks.edits.kinds import AddRun, FillRun, LogIn, RemoveRun, RenameRun, SetAsideRows
from hobrel.labbooks.edits.places import Document, count, find
from hobrel.server.problems import Problem

RunEdit = AddRun | RemoveRun | RenameRun | FillRun | SetAsideRows


def change_runs(document: Document, edit: RunEdit) -> str:
    runs = document["runs"]
    match edit:
        case AddRun():
            if any(r["id"] == edit.run for r in runs):
                raise Problem(409, "gone", "This run is in the lab book already.")
            if len(runs) >= MOST_RUNS:
                raise Problem(422, "too_large", f"A lab book holds at most {MOST_RUNS} runs.")
            _check_name(runs, edit.name)
            settings = checked_settings(edit.settings or [])
            run = {"id": edit.run, "name": edit.name, "settings": settings, "log": _written_log(edit.log)}
            runs.insert(len(runs) if edit.at is None else edit.at, run)
            return f"added the run {edit.name}" + (f" with {_say_size(run)}" if settings or edit.log else "")
        case RemoveRun():
            run = find(runs, edit.run, "run")
            if len(runs) == 1:
                raise Problem(409, "last", "This is the only run. Add another before you remove it.")
            runs.remove(run)
            return f"removed the run {run['name']}"
        case RenameRun():
            run = find(runs, edit.run, "run")
            _check_name([r for r in runs if r is not run], edit.name)
            before, run["name"] = run["name"], edit.name
            return f"the run {before} is now called {edit.name}"
        case FillRun():
            run = find(runs, edit.run, "run")
            size = _say_size(run)
            run.update(settings=checked_settings(edit.settings), log=_written_log(edit.log))
            return f"{run['name']}: {edit.words or f'put {_say_size(run)} in place of {size}'}"
        case SetAsideRows():
            return _set_aside_rows(find(runs, edit.run, "run"), edit)


def _written_log(log: LogIn | None) -> dict[str, Any] | None:
    return None if log is None else log.model_dump()


def _say_size(run: dict[str, Any]) -> str:
    return count(run["log"]["rows"], "logged row") if run.get("log") else count(len(run["settings"]), "setting")


def _log_of(run: dict[str, Any]) -> dict[str, Any]:
    log: dict[str, Any] | None = run.get("log")
    if log is None:
        raise Problem(409, "gone", "This run is not a log any more.")
    return log


def _set_aside_rows(run: dict[str, Any], edit: SetAsideRows) -> str:
    """The rows get this reason alone; what is left of ranges that they cut into stays aside."""
    log = _log_of(run)
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


def _check_name(others: list[dict[str, Any]], name: str) -> None:
    if any(r["name"].strip().lower() == name.strip().lower() for r in others):
        raise Problem(422, "name_taken", f"There is a run called {name} already. Give this one another name, so that nobody mixes them up.")


def checked_settings(settings: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Settings that come as a whole: in the format, each with an id of its own."""
    try:
        book = read_lab_book({"title": "", "runs": [{"id": "r", "name": "", "settings": settings}]})
    except CoreError as trouble:
        raise Problem(422, "bad_settings", "These readings are not in the form that a run holds.") from trouble
    if len({s.id for s in book.runs[0].settings}) != len(settings):
        raise Problem(422, "bad_settings", "Two of these settings have the same id.")
    return [{"id": s["id"], "readings": s.get("readings", {}), "set_aside": s.get("set_aside")} for s in settings]
