"""A dry run of a plan: many lab books drawn from what it believes, each worked out as a bench's would be, and what comes of them all."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.lab_book import Finding, Fit, LabBook, Quantity
from hobrel.core.document.plan_part import DryTruth
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.questions.believed import World, believe
from hobrel.core.questions.dry_tries import Ground, TriedBook, TriedFinding, lay_ground, try_classes
from hobrel.core.readings.parsing import parse_difference
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import convert, parse_unit, same_dimension, write_unit

_ZERO = 1e-6
"""Share of the rise over all points within which an intercept is nothing but rounding."""
SET_SECONDS, READ_SECONDS = 30.0, 8.0
"""How long a setting takes to be set and a reading to be taken and written down, where the plan does not say (common practice)."""


@dataclass(frozen=True)
class BudgetShare:
    """The mean share of one part in the ± of a finding, and whether it is a constant that all readings share."""

    symbol: str
    share: float
    shared: bool


@dataclass(frozen=True)
class FindingSpread:
    """A finding over many lab books.

    Attributes
    ----------
    finding, name, symbol, unit : str
    perfect : float or None
        What it comes to without any uncertainty; None where it cannot be worked out.
    believed : float or None
        What the plan believes it to be, where it says so.
    count, failed : int
        Lab books with and without it.
    mean, sd : float
        Of its values over the lab books.
    u : float
        The ± that it is typically stated with (the median).
    u_constants : float
        What is left of it however often is measured: the part of the constants that all readings share.
    verdicts : mapping of agrees, near, differs to shares
        Of being told so, beside the accepted value; beside `perfect` where there is none.
    budget : tuple of BudgetShare
    """

    finding: str
    name: str
    symbol: str
    unit: str
    perfect: float | None
    believed: float | None
    count: int
    failed: int
    mean: float | None
    sd: float | None
    u: float | None
    u_constants: float | None
    verdicts: Mapping[str, float]
    budget: tuple[BudgetShare, ...]


@dataclass(frozen=True)
class FitVerdicts:
    """What benches are told of the points of a fit, by shares.

    Attributes
    ----------
    fit : str
    is_line : bool
    scatter : mapping of fits, more, less, unknown to shares
    bends : mapping of straight, bends, unknown to shares
        All nought for a curve, of which nobody is told whether its points lie straight.
    zero_doubted : float or None
        How often a line that truly goes through the origin is told to miss it; None for any other.
    """

    fit: str
    is_line: bool
    scatter: Mapping[str, float]
    bends: Mapping[str, float]
    zero_doubted: float | None


@dataclass(frozen=True)
class DryRun:
    """What comes of a plan.

    Attributes
    ----------
    classes : int
        How many lab books were drawn.
    findings : tuple of FindingSpread
    fits : tuple of FitVerdicts
    seconds : float
        How long measuring takes one bench.
    """

    classes: int
    findings: tuple[FindingSpread, ...]
    fits: tuple[FitVerdicts, ...]
    seconds: float


def dry_run(book: LabBook, seed: int, classes: int) -> DryRun:
    """Try a plan out. The same seed gives the same.

    Raises
    ------
    CoreError
        ``too_large`` for more classes than anybody waits for; as `believe`.
    """
    return gather_tries(book, try_classes(book, seed, classes, 0, classes))


def gather_tries(book: LabBook, tries: Sequence[TriedBook]) -> DryRun:
    """What comes of all parts of a dry run, in their order.

    Raises
    ------
    CoreError
        As `dry_run`.
    """
    return _gather(book, lay_ground(book), tries)


def draw_example(book: LabBook, seed: int) -> LabBook:
    """The first lab book of a dry run: the plan with believable readings.

    Raises
    ------
    CoreError
        As `believe`.
    """
    return next(believe(book).draw(np.random.default_rng(seed), 1))


OTHER_TRUTH = 1.25
"""By how much a demonstration's world differs from the one that benches measure in."""


def demonstrate(book: LabBook, seed: int) -> LabBook:
    """A lab book with believable readings of a world in which what is wanted is another, for showing how it is done: its findings must not
    be those of the class.

    Raises
    ------
    CoreError
        As `believe`.
    """
    world = believe(book)
    truths = {symbol: f"{float(t.value) * OTHER_TRUTH!r} {write_unit(t.unit)}".strip() for symbol, t in world.truths.items()}
    # the other way, so that they stay among what is set
    unknowns = {unknown.id: repr(unknown.at / OTHER_TRUTH) for table in world.tables for unknown in table.unknowns}
    other = replace(book, plan=replace(book.plan, dry=replace(book.plan.dry, truths=truths, unknowns=unknowns)))
    drawn = draw_example(other, seed)
    findings = tuple(replace(f, accepted=None) for f in drawn.findings)
    return replace(
        drawn, title=f"{book.title}: how it is done"[:120], findings=findings, plan=replace(book.plan, draft=False, dry=DryTruth())
    )


def measuring_seconds(world: World, perfect: LabBook) -> float:
    """How long measuring takes one bench: setting, and reading as often as wanted. A time takes itself to be measured."""
    said = world.book.plan.dry.seconds

    def seconds(quantity: Quantity, values: Sequence[float]) -> float:
        text = said.get(quantity.id, "")
        if text.strip():
            return float(parse_difference(text, "s")) * len(values) * max(1, quantity.repeats)
        if quantity.kind == "changed":
            return SET_SECONDS * len(values)
        takes = 0.0
        if same_dimension(parse_unit(quantity.unit), parse_unit("s")):
            takes = sum(float(parse_difference(f"{v!r} {quantity.unit}", "s")) for v in values)
        return (takes + READ_SECONDS * len(values)) * max(1, quantity.repeats)

    total = 0.0
    for table in world.tables:
        run = perfect.run(table.run.id)
        for quantity in (table.changed, *table.measured):
            written = [s.readings[quantity.id][0] for s in run.settings]
            total += seconds(quantity, [float(r.text) for r in written if r is not None])
    return total


def _gather(book: LabBook, ground: Ground, tries: Sequence[TriedBook]) -> DryRun:
    world, perfect = ground.world, ground.perfect
    return DryRun(
        classes=len(tries),
        findings=tuple(_spread(f, perfect, world, [t.findings[f.id] for t in tries]) for f in book.findings),
        fits=tuple(_verdicts(f, perfect, [t.fits[f.id] for t in tries]) for f in world.book.fits),
        seconds=measuring_seconds(world, perfect.book),
    )


_TOLD = {"agree": "agrees", "agree_within_two": "near", "differ": "differs"}


def _spread(finding: Finding, perfect: Computation, world: World, found: Sequence[TriedFinding | None]) -> FindingSpread:
    known = [f for f in found if f is not None]
    without = perfect.findings[finding.id]
    exact = None if isinstance(without, CoreError) else without
    truth = world.truths.get(canonical_name(finding.symbol))
    unit = write_unit(exact.traced.unit) if exact else finding.unit
    values = np.array([f.value for f in known])
    told = Counter(_TOLD[f.verdict] for f in known if f.verdict in _TOLD)
    return FindingSpread(
        finding=finding.id,
        name=finding.name,
        symbol=finding.symbol,
        unit=unit,
        perfect=exact.value if exact else None,
        believed=_convert(float(truth.value), write_unit(truth.unit), unit) if truth is not None else None,
        count=len(known),
        failed=len(found) - len(known),
        mean=float(np.mean(values)) if known else None,
        sd=float(np.std(values, ddof=1)) if len(known) > 1 else None,
        u=float(np.median([f.u for f in known])) if known else None,
        u_constants=float(combine_quadrature(exact.traced, shared=True)) if exact else None,
        verdicts={name: told[name] / max(1, sum(told.values())) for name in _TOLD.values()},
        budget=_mean_budget(known),
    )


def _convert(value: float, unit: str, wanted: str) -> float | None:
    given, into = parse_unit(unit), parse_unit(wanted)
    return convert(value, given, into) if same_dimension(given, into) else None


def _mean_budget(found: Sequence[TriedFinding]) -> tuple[BudgetShare, ...]:
    shares: dict[tuple[str, bool], float] = {}
    for one in found:
        for symbol, shared, share in one.budget:
            shares[symbol, shared] = shares.get((symbol, shared), 0.0) + share / len(found)
    return tuple(BudgetShare(symbol, share, shared) for (symbol, shared), share in sorted(shares.items(), key=lambda item: -item[1]))


def _verdicts(fit: Fit, perfect: Computation, looked: Sequence[tuple[str, str | None, bool | None] | None]) -> FitVerdicts:
    known = [found for found in looked if found is not None]
    zero = [missed for _, _, missed in known if missed is not None] if _meets_zero(perfect, fit) else []
    return FitVerdicts(
        fit=fit.id,
        is_line=isinstance(perfect.fits[fit.id], FittedLine),
        scatter=_shares([scatter for scatter, _, _ in known], ("fits", "more", "less", "unknown")),
        bends=_shares([bends for _, bends, _ in known if bends is not None], ("straight", "bends", "unknown")),
        zero_doubted=sum(zero) / len(zero) if zero else None,
    )


def _meets_zero(perfect: Computation, fit: Fit) -> bool:
    """Whether a line goes through the origin where nothing is uncertain."""
    fitted, (points, _) = perfect.fits[fit.id], perfect.fit_points[fit.id]
    if not isinstance(fitted, FittedLine) or isinstance(points, CoreError):
        return False
    return abs(fitted.line.intercept) <= _ZERO * abs(fitted.line.gradient) * float(np.max(np.abs(points.x)))


def _shares(words: Sequence[str], kinds: Sequence[str]) -> dict[str, float]:
    return {kind: words.count(kind) / max(1, len(words)) for kind in kinds}
