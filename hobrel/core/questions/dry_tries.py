"""The tries of a dry run: lab books drawn from what a plan believes, each worked out as a bench's would be, and what is kept of each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.choices import OF_GRAPH
from hobrel.core.document.lab_book import Accepted, Fit, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.comparing import compare_intercept
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.questions.believed import World, believe
from hobrel.core.questions.improvements import FIRST_ORDER
from hobrel.core.units.calculus import write_unit

MOST_CLASSES = 2000


@dataclass(frozen=True)
class TriedFinding:
    """A finding of one lab book: its value, its ±, what it is told beside the accepted value, and its budget by symbols, whether they are
    shared by all readings, and share.
    """

    value: float
    u: float
    verdict: str | None
    budget: tuple[tuple[str, bool, float], ...]


@dataclass(frozen=True)
class TriedBook:
    """What came of one lab book, as far as it counts: its findings, None for those that failed, and of each fit how its points scatter,
    and of a line whether they bend and whether the intercept is told to miss zero.
    """

    findings: Mapping[str, TriedFinding | None]
    fits: Mapping[str, tuple[str, str | None, bool | None] | None]


@dataclass(frozen=True)
class Ground:
    """What all classes of a dry run share: the world that the plan believes in, and what is found where nothing is uncertain."""

    world: World
    perfect: Computation


def lay_ground(book: LabBook) -> Ground:
    """What a plan believes, without what its findings do not rest on.

    Raises
    ------
    CoreError
        As `believe`.
    """
    world = believe(only_what_counts(book))
    return Ground(world, compute(world.draw_perfect()))


def try_classes(book: LabBook, seed: int, classes: int, first: int, end: int) -> tuple[TriedBook, ...]:
    """A part of a dry run of so many classes: those from `first` up to `end`, in which it is not.

    Raises
    ------
    CoreError
        ``too_large`` for more classes than anybody waits for; as `believe`.
    """
    if not 1 <= classes <= MOST_CLASSES:
        raise CoreError("too_large", "A dry run is of one class or at most {most}.", most=f"{MOST_CLASSES:,}")
    ground = lay_ground(book)
    compared = replace(ground.world, book=_beside_something(ground.world.book, ground.perfect))
    drawn = compared.draw(np.random.default_rng(seed), classes, range(first, min(end, classes)))
    return tuple(_try(one, ground.perfect) for one in drawn)


def only_what_counts(book: LabBook) -> LabBook:
    """A plan without what its findings do not rest on: graphs that nothing is fitted on, one finding beside another, and draws of a
    thousand times a thousand.
    """
    used = {f.graph for f in book.fits} | {i.of for f in book.findings for i in f.uses if i.kind in OF_GRAPH}
    way = FIRST_ORDER.get(book.convention.propagation, book.convention.propagation)
    convention = replace(book.convention, propagation=way)
    findings = tuple(replace(f, compare=()) for f in book.findings)
    return replace(book, graphs=tuple(g for g in book.graphs if g.id in used), findings=findings, convention=convention)


def _try(book: LabBook, perfect: Computation) -> TriedBook:
    computation = compute(book, perfect)
    return TriedBook(
        findings={key: None if isinstance(f, CoreError) else _note(f) for key, f in computation.findings.items()},
        fits={f.id: _look(computation, f) for f in computation.book.fits},
    )


def _note(found: ComputedFinding) -> TriedFinding:
    return TriedFinding(
        value=found.value,
        u=found.u,
        verdict=found.comparison.verdict if found.comparison is not None else None,
        budget=tuple((" and ".join(line.symbols), line.shared, line.share) for line in found.budget),
    )


def _look(computation: Computation, fit: Fit) -> tuple[str, str | None, bool | None] | None:
    fitted = computation.fits[fit.id]
    if isinstance(fitted, CoreError):
        return None
    if not isinstance(fitted, FittedLine):
        return fitted.scatter, None, None
    zero = compare_intercept(fitted, computation.book.convention.verdict)
    return fitted.scatter, fitted.bends, None if zero is None or zero.verdict == "unknown" else zero.verdict == "differ"


def _beside_something(book: LabBook, perfect: Computation) -> LabBook:
    """The plan with something to compare each finding with: the accepted value, or what it comes to without uncertainty."""
    findings = []
    for finding in book.findings:
        found = perfect.findings[finding.id]
        if finding.accepted is None and not isinstance(found, CoreError):
            finding = replace(finding, unit=write_unit(found.traced.unit), accepted=Accepted(repr(found.value), "0", ""))
        findings.append(finding)
    return replace(book, findings=tuple(findings))
