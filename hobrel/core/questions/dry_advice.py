"""What would make the findings of a plan better, and what has to be done for a wanted ±: answered by dry runs of changed plans."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.document.limits import MOST_REPEATS
from hobrel.core.document.plan_part import WantedSettings
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.questions.believed import World, believe
from hobrel.core.questions.dry_run import DryRun, FindingSpread, dry_run
from hobrel.core.questions.hands import find_scatter
from hobrel.core.questions.improvements import know_better, read_finer, say_finer, say_known_better
from hobrel.core.sentences import Sentence, say

TRIES = 48
"""Lab books for each changed plan: their median ± is known to a few per cent."""
SETTINGS = (6, 8, 10, 12, 16, 20)
MOST_TRIED = 6
SLACK = 1.2
"""By how much fewer readings may do than the root law says, before it is tried."""


@dataclass(frozen=True)
class BetterPlan:
    """A changed plan: in words, the ± that its finding would have and that as a share of the value, the share by which it is less, and how
    long measuring takes.
    """

    words: Sentence
    u: float
    relative: float
    gain: float
    seconds: float


@dataclass(frozen=True)
class PlanFor:
    """What has to be done for a wanted ±.

    Attributes
    ----------
    reached : bool
    words : Sentence
        What to do; or what stands in the way.
    u, relative, seconds : float or None
        The ± that this gives, that as a share of the value, and how long measuring takes; None where nothing helps.
    settings, repeats : int or None
    """

    reached: bool
    words: Sentence
    u: float | None = None
    relative: float | None = None
    seconds: float | None = None
    settings: int | None = None
    repeats: int | None = None


def find_better_plans(book: LabBook, finding_id: str, seed: int) -> tuple[BetterPlan, ...]:
    """One change each of what is measured how, best first; those that do not help, or cannot be, are left out.

    Raises
    ------
    CoreError
        As `dry_run`; ``bad_job`` for a finding that it does not have; ``no_finding`` where it never came out.
    """
    book = _keep_hands(book)
    plain = dry_run(book, seed, TRIES)
    now, value = _u_of(plain, finding_id), abs(_value_of(_spread_of(plain, finding_id)))
    found = []
    for words, changed in _changes(book, believe(book)):
        tried = contain(words.text, dry_run, changed, seed, TRIES)
        # a longer range may go where there is nothing: a vessel that has run empty
        if isinstance(tried, CoreError):
            continue
        u = _spread_of(tried, finding_id).u
        if u is not None and u < 0.97 * now:
            found.append(BetterPlan(words=words, u=u, relative=u / value, gain=1 - u / now, seconds=tried.seconds))
    return tuple(sorted(found, key=lambda better: -better.gain))


def plan_for(book: LabBook, finding_id: str, wanted: float, seed: int) -> PlanFor:
    """The quickest number of settings and repeats by which a finding is known to a share of itself, tried by dry runs.

    Parameters
    ----------
    wanted : float
        The ± as a share of the value: 0.02 for ± 2 %.

    Raises
    ------
    CoreError
        As `find_better_plans`; ``bad_job`` for a share that is none.
    """
    if not 0 < wanted < 1:
        raise CoreError("bad_job", "The wanted ± is a share between 0 and 1.")
    book = _keep_hands(book)
    world = believe(book)
    tried = dry_run(book, seed, TRIES)
    spread = _spread_of(tried, finding_id)
    value, now = _value_of(spread), _u_of(tried, finding_id)
    target = wanted * abs(value)
    shared = [line for line in spread.budget if line.shared]
    constant = spread.u_constants or 0.0
    if constant >= target:
        worst = max(shared, key=lambda line: line.share)
        words = say(
            "constants_limit",
            "However often it is measured, the constants leave ± {percent} %, most of it {symbol}. That has to be known better.",
            symbol=write_symbol(worst.symbol),
            percent=f"{100 * constant / abs(value):#.2g}",
        )
        return PlanFor(reached=False, words=words)
    count, repeats = len(world.tables[0].nominal), max(q.repeats for q in world.tables[0].measured)
    needed = _readings_needed(count * repeats, now, target, constant)
    ways = sorted((n * r, n, r) for n in {*SETTINGS, count} for r in range(1, MOST_REPEATS + 1))
    # what more repeats give depends on the convention (half a range does not shrink): the largest tables are tried before it is given up
    largest = [(n * r, n, r) for n in (max(SETTINGS),) for r in (repeats, MOST_REPEATS)]
    tried_ways = 0
    while largest:
        left = [way for way in ways if way[0] >= needed] if tried_ways < MOST_TRIED else []
        tried_ways += 1
        readings, n, r = left[0] if left else largest.pop(0)
        ways = [way for way in ways if way[0] > readings]
        found = dry_run(_measured(book, world, n, r), seed, TRIES)
        u = _u_of(found, finding_id)
        if u <= target:
            often = {1: "once", 2: "twice"}.get(r, f"{r} times")
            words = say("do_this", "{n} settings, each read {often}", n=n, often=often)
            return PlanFor(reached=True, words=words, u=u, relative=u / abs(value), seconds=found.seconds, settings=n, repeats=r)
        needed = max(needed, _readings_needed(readings, u, target, constant))
    return PlanFor(
        reached=False,
        words=say(
            "instruments_limit",
            "More settings and repeats alone do not reach it. Look at what a finer instrument or a longer range would give.",
        ),
    )


def _readings_needed(readings: int, u: float, target: float, constant: float) -> float:
    """About how many readings it takes where so many have given `u`: what constants leave does not shrink."""
    return readings * (u**2 - constant**2) / (target**2 - constant**2) / SLACK


def _keep_hands(book: LabBook) -> LabBook:
    """The plan with hands that scatter as they do in it, also where it is changed how often they read.

    A time that is read once is believed to be a clock's, one that is repeated to be stopped by hand.
    """
    kept = {
        q.id: repr(find_scatter(q, book).size)
        for q in book.quantities
        if q.kind == "measured" and len({find_scatter(replace(q, repeats=n), book) for n in (1, 2)}) > 1
    }
    dry = book.plan.dry
    return replace(book, plan=replace(book.plan, dry=replace(dry, scatter=kept | dict(dry.scatter))))


def _spread_of(tried: DryRun, finding_id: str) -> FindingSpread:
    found = next((f for f in tried.findings if f.finding == finding_id), None)
    if found is None:
        raise CoreError("bad_job", "This finding is no longer in the lab book.")
    return found


def _u_of(tried: DryRun, finding_id: str) -> float:
    found = _spread_of(tried, finding_id)
    if found.u is None:
        raise CoreError("no_finding", "{name} never came out of it.", name=found.name)
    return found.u


def _value_of(spread: FindingSpread) -> float:
    value = spread.perfect if spread.perfect is not None else spread.mean
    if not value:
        raise CoreError("no_finding", "{name} is nothing, so there is no share of it.", name=spread.name)
    return value


def _changes(book: LabBook, world: World) -> Iterator[tuple[Sentence, LabBook]]:
    table = world.tables[0]
    count = len(table.nominal)
    for quantity in table.measured:
        symbol = plain_symbol(quantity)
        if 2 * quantity.repeats <= MOST_REPEATS:
            more = replace(quantity, repeats=2 * quantity.repeats)
            yield say("twice_repeats", "{n} repeats of {symbol}", n=more.repeats, symbol=symbol), _with(book, more)
        instrument = quantity.instrument
        if instrument is not None and instrument.kind in ("scale", "display", "rectangular", "maker"):
            yield say_finer(quantity), _with(book, read_finer(quantity))
    yield (
        say("twice_settings", "{n} settings over the same range", n=2 * count),
        _set(book, world, table.nominal[0], table.nominal[-1], 2 * count),
    )
    low, high = table.nominal[0], table.nominal[-1]
    longer = _set(book, world, low, low + 2 * (high - low), count)
    yield say("twice_range", "a range of {symbol} twice as long", symbol=plain_symbol(table.changed)), longer
    for quantity in book.quantities:
        if quantity.kind == "constant" and quantity.u.strip():
            yield say_known_better(quantity), _with(book, know_better(quantity))


def _measured(book: LabBook, world: World, settings: int, repeats: int) -> LabBook:
    table = world.tables[0]
    changed = _set(book, world, table.nominal[0], table.nominal[-1], settings)
    for quantity in table.measured:
        changed = _with(changed, replace(quantity, repeats=repeats))
    return changed


def _set(book: LabBook, world: World, low: float, high: float, count: int) -> LabBook:
    wanted = WantedSettings(count, repr(low), repr(high))
    return replace(book, plan=replace(book.plan, wanted={**book.plan.wanted, world.tables[0].changed.id: wanted}))


def _with(book: LabBook, quantity: Quantity) -> LabBook:
    known = book.quantity(quantity.id)
    # in its table it may be another kind than in the lab book
    return replace(book, quantities=tuple(replace(quantity, kind=known.kind) if q.id == quantity.id else q for q in book.quantities))
