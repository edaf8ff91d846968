"""Which parts a report has, and in which order."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from hobrel.core.document.lab_book import Fit, Graph, LabBook
from hobrel.core.rounding import MINUS, with_unit
from hobrel.core.units.calculus import tidy_unit

PartKind = Literal[
    "question", "text", "picture", "readings", "graph", "fit", "finding", "class", "left_out", "workings", "sources", "history"
]
EXPECTED = ("expectation", "What we expected", "What did you expect before you measured?")
METHOD = ("method", "Method", "What you did, so that somebody else could do it again.")
DISCUSSION = (
    "discussion",
    "Discussion",
    "Does it agree with what you expected? What was left out, and why? What makes most of the uncertainty?",
)
_AS_KEY = str.maketrans(":.", "--")
MOST_RUNS = 6
"""Of more runs only the findings stand beside each other: a report of a hundred graphs is read by nobody."""
CONCLUSION = ("conclusion", "Conclusion", "The answer to the question, with its number.")


@dataclass(frozen=True)
class Planned:
    """A part that is to be made: what it is of (an id), what it is called, and for own words what belongs there and how many are wanted.
    `run` is another run than the first that it is of.
    """

    kind: PartKind
    of: str = ""
    title: str = ""
    hint: str = ""
    fewest_words: int = 0
    wanted: bool = True
    own: bool = False
    run: str = ""

    @property
    def key(self) -> str:
        """By which it is moved and left out."""
        return ":".join((self.kind, ".".join(filter(None, (self.of, self.run))))) if self.of else self.kind

    @property
    def block_key(self) -> str:
        """By which what is drawn or set in it is called."""
        return self.key.translate(_AS_KEY)


def plan_parts(book: LabBook, from_runs: Collection[str] = ()) -> tuple[Planned, ...]:
    """All parts of a lab book's report, those left out among them, in the order in which they are to stand.

    Parameters
    ----------
    book : LabBook
    from_runs : collection of str
        The findings (by id) that come out otherwise from other runs: what they rest on stands there of each run.
    """
    return _put_in_order(_usual_parts(book, from_runs), book.report.order)


def _usual_parts(book: LabBook, from_runs: Collection[str]) -> list[Planned]:
    several = len(book.runs) > 1
    parts = [Planned("question", title="Question")] if book.question or book.relation else []
    parts += [_usual(*EXPECTED), _usual(*METHOD)]
    parts += [Planned("picture", p.id, p.caption or "Picture", own=True) for p in book.report.pictures]
    parts += [Planned("readings", run.id, f"Readings: {run.name}" if several and run.name else "Readings") for run in book.runs]
    names = {q.id: q.name for q in book.quantities}
    for graph in book.graphs:
        called = graph.title or f"{names.get(graph.y, graph.y)} against {names.get(graph.x, graph.x)}"
        parts.append(Planned("graph", graph.id, f"Graph: {called}"))
        fits = [fit for fit in book.fits if fit.graph == graph.id]
        of_graph = called if len(book.fits) > len(fits) else ""
        parts += [Planned("fit", fit.id, _call_fit(book, fit, of_graph, several or len(fits) > 1)) for fit in fits]
        parts += _of_other_runs(book, graph, called, of_graph, from_runs)
    parts += [Planned("finding", finding.id, f"Finding: {finding.name}") for finding in book.findings]
    parts += [Planned("class", title="What the class found"), Planned("left_out", title="Left out, and why")]
    parts += [Planned("text", s.id, s.title, s.hint, fewest_words=s.fewest_words, wanted=s.wanted) for s in book.plan.sections]
    parts += [Planned("text", s.id, s.title, "What belongs under this heading.", wanted=False, own=True) for s in book.report.sections]
    parts += [_usual(*DISCUSSION), _usual(*CONCLUSION)]
    appendix: list[tuple[PartKind, str]] = [
        ("workings", "Appendix: one working of each kind"),
        ("sources", "Appendix: instruments, constants and conventions"),
        ("history", "Appendix: who wrote when"),
    ]
    return parts + [Planned(kind, title=title) for kind, title in appendix]


def _of_other_runs(book: LabBook, graph: Graph, called: str, of_graph: str, from_runs: Collection[str]) -> Iterator[Planned]:
    """The graph and the cards that findings rest on, of every run but the first, which the usual parts are of."""
    used = {finding.fit for finding in book.findings if finding.id in from_runs}
    fits = [fit for fit in book.fits if fit.graph == graph.id and fit.id in used and not fit.run]
    if not fits or len(book.runs) > MOST_RUNS:
        return
    for run in book.runs[1:]:
        yield Planned("graph", graph.id, f"Graph: {called}, {run.name}", run=run.id)
        for fit in fits:
            yield Planned("fit", fit.id, _call_fit(book, replace(fit, run=run.id), of_graph, among_others=True), run=run.id)


def _call_fit(book: LabBook, fit: Fit, of_graph: str, among_others: bool) -> str:
    """What a card is called; where other graphs have one too by its graph; among others of its graph, or beside other runs, by its run and
    quantity, and by its stretch.
    """
    words = "What the line says" if fit.shape == "line" else "What the curve says"
    named = ", ".join(filter(None, (of_graph, *(name_fit(book, fit) if among_others else ()))))
    return f"{words}: {named}" if named else words


def name_fit(book: LabBook, fit: Fit) -> Iterator[str]:
    """What tells a fit from others: its run, its quantity, its stretch (“35 s to 95 s”)."""
    if len(book.runs) > 1:
        yield name_run(book, fit)
    yield from (q.name for q in book.quantities if q.id == fit.y)
    if fit.low is not None or fit.high is not None:
        unit = write_x_unit(book, fit)
        ends = ((fit.low, "start"), (fit.high, "end"))
        yield " to ".join(edge if end is None else with_unit(f"{end:g}".replace("-", MINUS), unit) for end, edge in ends)


def name_run(book: LabBook, fit: Fit) -> str:
    """What the run is called that a fit goes through: the first where it names none."""
    return next((r.name for r in book.runs if r.id == fit.run), book.runs[0].name if book.runs else "")


def write_x_unit(book: LabBook, fit: Fit) -> str:
    """The unit along the graph of a fit, as it is written; empty where there is none."""
    along = next((g.x for g in book.graphs if g.id == fit.graph), "")
    return next((tidy_unit(q.unit) for q in book.quantities if q.id == along), "")


def _usual(section: str, title: str, hint: str) -> Planned:
    return Planned("text", section, title, hint)


def _put_in_order(parts: Sequence[Planned], order: Sequence[str]) -> tuple[Planned, ...]:
    """Parts that are named stand as named; each other one after the part that it usually comes after."""
    by_key = {part.key: part for part in parts}
    placed = [by_key[key] for key in dict.fromkeys(order) if key in by_key]
    named = {part.key for part in placed}
    for i, part in enumerate(parts):
        if part.key not in named:
            after = placed.index(parts[i - 1]) + 1 if i else 0
            placed.insert(after, part)
    return tuple(placed)
