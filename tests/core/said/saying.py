"""Everything that is said of a lab book, as plain data: its analysis, the workings behind it, and the answers to questions about it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator, Mapping
from typing import Any

import numpy as np

from hobrel.core.document.lab_book import LabBook, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.class_data import present_class
from hobrel.core.presentation.pool import present_pools
from hobrel.core.presentation.rows import look_at_rows
from hobrel.core.presentation.shares import share_findings
from hobrel.core.presentation.side_by_side import compare_gradients, compare_runs
from hobrel.core.presentation.working import explain
from hobrel.core.questions.board import draw_board_plot, make_board
from hobrel.core.questions.dry_run import dry_run
from hobrel.core.questions.dry_words import show_better_plans, show_dry_run, show_plan_for
from hobrel.core.questions.fits import find_pulls, read_off_fit, try_without
from hobrel.core.questions.graphs import find_steepest, preview_by_eye, summarise_marked
from hobrel.core.questions.improvements import find_improvements
from hobrel.core.questions.previews import compare_conventions, compare_ways_of
from hobrel.core.scripting.jobs import run_jobs
from tests.core.said.few import FEW_TITLE

FIGURES, LONGEST = 7, 9
_UNSAID = {"tex", "spoken", "formula_tex", "numbers_tex", "value_tex", "symbol_tex", "fields", "summary", "tex_title"}
"""TeX and speech are the texts once more."""


FEW = ("working of d", "working of line", "working of k", "working of K", "stretch of g", "line without", "steepest of g", "share")


def say_all(book: LabBook) -> dict[str, Any]:
    """What is said of a lab book, by where it is said."""
    with np.errstate(all="ignore"):
        computation = compute(book)
    said = {"analysis": plain(present(computation, finished=True))}
    if book.title == FEW_TITLE:
        return said | {name: plain(_answer(work)) for name, work in _asked(book, computation) if name.startswith(FEW)}
    said["full"] = plain(run_jobs([{"id": 1, "kind": "lab_book", "document": write_lab_book(book)}]))
    for name, work in _asked(book, computation):
        said[name] = plain(_answer(work))
    return said


def _answer(work: Callable[[], Any]) -> Any:
    try:
        with np.errstate(all="ignore"):
            return work()
    except CoreError as trouble:
        return {"code": trouble.code, "message": trouble.message}


def _asked(book: LabBook, computation: Computation) -> Iterator[tuple[str, Callable[[], Any]]]:
    run = book.runs[0]
    row = run.row_id(run.count // 2)
    for quantity in book.quantities:
        yield f"working of {quantity.id}", lambda q=quantity: explain(computation, f"cell:{run.id}:{row}:{q.id}")
    for fit in book.fits:
        parts = ("gradient", "intercept", "within", "chi2") if fit.shape == "line" else ("a", "b", "chi2")
        for part in parts if fit is book.fits[0] else ():
            yield f"working of {fit.id} {part}", lambda f=fit, p=part: explain(computation, f"fit:{f.id}:{p}")
        yield f"pulls of {fit.id}", lambda f=fit: find_pulls(computation, f.id)
        yield f"{fit.id} without {row}", lambda f=fit: try_without(computation, f.id, row).card
        yield f"{fit.id} read forward", lambda f=fit: read_off_fit(computation, f.id, "forward", "0.35")
        yield f"{fit.id} read back", lambda f=fit: read_off_fit(computation, f.id, "back", "1.2", 3)
        yield f"{fit.id} by eye", lambda f=fit: preview_by_eye(computation, f.id, 2.5, 0.1)
    for finding in book.findings:
        yield f"working of {finding.id}", lambda f=finding: explain(computation, f"finding:{f.id}")
        yield f"better {finding.id}", lambda f=finding: find_improvements(computation, f.id)
        if len(book.runs) > 1:
            yield f"{finding.id} of all runs", lambda f=finding: compare_runs(computation, f.id)
    for graph in book.graphs:
        yield f"gradients of {graph.id}", lambda g=graph: compare_gradients(computation, g.id)
        yield f"steepest of {graph.id}", lambda g=graph: find_steepest(computation, g.id, 0.5)
        yield f"stretch of {graph.id}", lambda g=graph: summarise_marked(computation, g.id, _third(computation, g.id), _fit_on(book, g.id))
    read = next((q for q in book.quantities if q.kind == "measured"), None)
    first = next((q for q in book.quantities if q.kind == "changed"), None)
    if read and first and run.log is None:
        yield "conventions", lambda: compare_conventions(book, read.id)
    if read and first and run.log is None and len(book.title) % 3 == 0:
        yield "board", lambda: make_board(book, first.id, read.id, True)
        yield "board, large", lambda: draw_board_plot(book, first.id, read.id, "v", "v^2")
    for quantity in book.quantities:
        if quantity.kind == "derived" and run.log is None:
            yield f"ways of {quantity.id}", lambda q=quantity: compare_ways_of(book, q.id)
    if run.log is not None:
        yield "rows", lambda: look_at_rows(computation, run.id, 25, 40)
    yield "share", lambda: share_findings(computation, "Bench")


def _third(computation: Computation, graph: str) -> tuple[float, float]:
    x = computation.drawn(graph).x
    low, high = (float(np.nanmin(x)), float(np.nanmax(x))) if np.isfinite(x).any() else (0.0, 1.0)
    return low + (high - low) / 3, high


def _fit_on(book: LabBook, graph: str) -> str:
    return next((f.id for f in book.fits if f.graph == graph), "")


def say_plan(book: LabBook, finding: str) -> Any:
    """What is said of a plan: a dry run, what would be better, and what wanted uncertainties take."""
    wanted = {f"± {percent} %": show_plan_for(book, finding, percent, 3) for percent in (1.0, 2.15, 3.0)}
    return plain({"run": show_dry_run(book, dry_run(book, 3, 24)), "better": show_better_plans(book, finding, 3), "wanted": wanted})


def say_pool(books: Mapping[str, LabBook]) -> Any:
    """What is said of a class's findings."""
    findings = next(iter(books.values())).findings
    shares = tuple(share_findings(compute(book), name) for name, book in books.items())
    return [*plain(present_pools(findings, shares)), plain(present_class(findings, shares))]


def plain(value: Any) -> Any:
    """Plain data that can be compared and kept: numbers to so many figures, long lists by their ends and middle, nothing that is empty."""
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        match type(value).__name__:
            case "Sentence" | "RichRun":
                return value.text
            case "ShownValue":
                return value.text
            case "Cell":
                return f"{value.value_text} ± {value.u_text} {value.made_by} {value.kept} {value.set_aside} {value.wide or ''}"
            case "BoardSquare":
                return plain([value.x_form, value.y_form, value.verdict, value.signs])
        value = {f.name: getattr(value, f.name) for f in dataclasses.fields(value)}
    if isinstance(value, Mapping):
        found = {str(k): plain(v) for k, v in value.items() if k not in _UNSAID}
        return {k: v for k, v in found.items() if v not in (None, "", [], {}, False)}
    if isinstance(value, np.ndarray):
        value = value.tolist()
    if isinstance(value, list | tuple):
        items = list(value)
        if len(items) > LONGEST:
            middle = len(items) // 2
            items = [len(items), *items[:2], items[middle], items[-1]]
        return [plain(v) for v in items]
    if isinstance(value, float):
        return None if not math.isfinite(value) else float(f"{value:.{FIGURES}g}")
    return value if isinstance(value, str | int | None) else str(value)
