"""From readings to columns: means with their ±, constants, and derived quantities, each traced to its sources."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import ParamSpec

import numpy as np
from numpy.typing import NDArray

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Convention, Fit, LabBook, Log, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.neighbours import Order, order_settings
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.formulas.typeset import RichRun, RichText, plain_text, rich_symbol
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.averaging import Averages, ReadingState, average_readings
from hobrel.core.pipeline.carrying import Carried, Step, carry_rows
from hobrel.core.pipeline.tables import read_tables
from hobrel.core.pipeline.worded import find_kinds, place_kinds, refuse_words, words_of
from hobrel.core.readings.instruments import common_share
from hobrel.core.readings.known import parse_known
from hobrel.core.readings.logged import read_logged
from hobrel.core.sentences import Sentence
from hobrel.core.statistics.spread import MeanWithUncertainty
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, measured
from hobrel.core.units.calculus import parse_unit

P = ParamSpec("P")


@dataclass(frozen=True, eq=False)
class Column:
    """One quantity of one run. One that is made of the same is mostly the same object, so that what is written of it can be remembered.

    Attributes
    ----------
    quantity : Quantity
    traced : Traced or None
        None where `trouble` says why it cannot be computed.
    u : ndarray, shape (settings,) or ()
        Uncertainty for error bars: without the constants that all rows share.
    averages : Averages or None
        Of readings that were written down; None for constants and derived quantities, and in a log.
    trouble : CoreError or None
    node : Node or None
        The formula that was read, of a derived quantity.
    without : mapping of row to sentence
        Rows that the formula gives no value for, and why.
    carried : Carried or None
        What has made `u` of a formula, where it is not quadrature.
    words : tuple of str, or None
        Of a quantity that holds words: what was written at every setting, empty where nothing was.
    kinds : tuple of str
        Where the changed quantity holds words: what stands at places 1, 2, 3 … of an axis; `traced` are these places.
    """

    quantity: Quantity
    traced: Traced | None
    u: Floats
    averages: Averages | None = None
    trouble: CoreError | None = None
    node: Node | None = None
    without: Mapping[int, Sentence] = field(default_factory=dict)
    carried: Carried | None = None
    words: tuple[str, ...] | None = None
    kinds: tuple[str, ...] = ()

    @property
    def filled(self) -> NDArray[np.bool_]:
        """For every row whether there is something in it."""
        if self.words is not None:
            return np.array([bool(word) for word in self.words], dtype=bool)
        return np.isfinite(self.traced.value) if self.traced is not None else np.zeros(self.u.shape, dtype=bool)

    @property
    def is_same_everywhere(self) -> bool:
        """Whether it is made of what was measured once alone, so that the ± of that is its own."""
        return self.node is not None and self.traced is not None and self.traced.value.ndim == 0

    @property
    def u_all(self) -> Floats:
        """Uncertainty with the constants that all rows share."""
        if self.carried is not None or self.traced is None:
            return self.carried.u_all if self.carried else self.u
        return combine_quadrature(self.traced)

    @property
    def means(self) -> tuple[MeanWithUncertainty | None, ...]:
        """The mean of every setting; empty for what was not averaged."""
        return self.averages.means if self.averages else ()

    @property
    def readings(self) -> tuple[tuple[ReadingState, ...], ...]:
        """The readings of every setting; empty for what was not read."""
        return self.averages.readings if self.averages else ()


@dataclass(frozen=True)
class Tangent:
    """The slope of a fitted curve at every setting of a run; or why there is none.

    All slopes of a curve move together with its parameters, so each is a source that serves all rows.
    """

    run: str
    traced: Traced | None
    trouble: CoreError | None = None


@dataclass(frozen=True)
class RunResults:
    """Results of runs, row by row of the table that has a row for each; None where there is none. `without` says why a row has none."""

    traced: Traced | None
    without: Mapping[int, Sentence]


@dataclass(frozen=True)
class Gathered:
    """What is known by now of columns that rest on fits: slopes by quantity, results by quantity and table."""

    tangents: Mapping[str, Tangent] = field(default_factory=dict)
    results: Mapping[tuple[str, str], RunResults] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How much is known."""
        rows = sum(int(np.count_nonzero(np.isfinite(r.traced.value))) for r in self.results.values() if r.traced is not None)
        return rows + sum(t.traced is not None for t in self.tangents.values())

    @property
    def lacks(self) -> bool:
        """Whether there is something that nothing is known of."""
        return any(t.traced is None for t in self.tangents.values()) or any(r.without for r in self.results.values())


NOTHING_GATHERED = Gathered()


@dataclass(frozen=True)
class RunColumns:
    """All columns of one run, by quantity id, and the rows that count in order of the changed quantity."""

    run: Run
    columns: dict[str, Column]
    order: Order

    @property
    def constants(self) -> dict[str, Traced]:
        """What has one value for all rows, by its symbol as formulas spell it."""
        single = {canonical_name(c.quantity.symbol): c.traced for c in self.columns.values() if c.words is None}
        return {symbol: number for symbol, number in single.items() if number is not None and number.value.ndim == 0}


def compute_columns(book: LabBook, run: Run, gathered: Gathered = NOTHING_GATHERED) -> RunColumns:
    """Compute every column of a run; a broken formula leaves the others standing.

    Parameters
    ----------
    book : LabBook
    run : Run
    gathered : Gathered, optional
        Slopes of fitted curves and results of runs that are known by now, for the quantities that are such.
    """
    columns: dict[str, Column] = {}
    quantities = book.quantities if run.headings is None else _by_headings(book, run)
    for quantity in quantities:
        if quantity.holds == "words" and quantity.kind in ("changed", "measured"):
            columns[quantity.id] = _contain(quantity, run.count, None, _worded_column, quantity, run, book)
        elif quantity.kind in ("changed", "measured"):
            columns[quantity.id] = _contain(quantity, run.count, None, _average_column, quantity, run, book.convention)
        elif quantity.kind == "constant":
            columns[quantity.id] = _contain(quantity, None, None, _constant_column, quantity)
    order = _order_of(run, columns)
    for quantity in book.quantities:
        if quantity.tangent_of:
            found = gathered.tangents.get(quantity.id)
            columns[quantity.id] = _contain(quantity, run.count, None, _tangent_column, quantity, run, found)
        elif quantity.result_of is not None:
            columns[quantity.id] = _contain(
                quantity, run.count, None, _result_column, quantity, run, gathered.results.get((quantity.id, run.id))
            )
    _derive_columns(book, columns, order)
    if book.convention.propagation != "quadrature":
        _carry_along(columns, book.convention.propagation)
    return RunColumns(run, {q.id: columns[q.id] for q in book.quantities}, order)


def _carry_along(columns: dict[str, Column], way: WayKind) -> None:
    """Give derived columns, which stand in the order of their dependence, the ± of the class's way."""
    by_symbol = {canonical_name(c.quantity.symbol): c for c in columns.values()}
    ways_to: dict[str, dict[str, Column]] = {}
    for key, column in columns.items():
        if column.node is None or column.traced is None:
            continue
        own = canonical_name(column.quantity.symbol)
        behind = {symbol: by_symbol[symbol] for symbol in symbols_in(column.node) if symbol in by_symbol}
        # what it is made of comes first, and each once, however often it is used
        way_to = {s: c for symbol in behind for s, c in ways_to.get(symbol, {}).items()} | {own: column}
        ways_to[own] = way_to
        base = {s: by_symbol[s] for c in way_to.values() if c.node is not None for s in symbols_in(c.node) if s in by_symbol}
        still = tuple((s, c) for s, c in base.items() if s not in way_to)
        columns[key] = _carried_column(tuple(way_to.items()), still, way)


@lru_cache(maxsize=512)
def _carried_column(way_to: tuple[tuple[str, Column], ...], base: tuple[tuple[str, Column], ...], way: WayKind) -> Column:
    _, column = way_to[-1]
    assert column.traced is not None
    steps = [Step(symbol, c.node, c.quantity.unit, c.quantity.symbol) for symbol, c in way_to if c.node is not None]
    inputs = {symbol: (c.traced, c.u) for symbol, c in base if c.traced is not None}
    found = contain(f"± of {column.quantity.symbol}", carry_rows, steps, inputs, column.traced, way)
    if isinstance(found, CoreError):
        unknown = np.full(column.u.shape, np.inf)
        found = Carried(way, unknown, unknown)
    return replace(column, u=found.u, carried=found)


def rederive(book: LabBook, columns: RunColumns, instead: Mapping[str, Traced]) -> RunColumns:
    """The columns of a run as they would be with other values of some quantities (by id)."""
    changed = {q: replace(c, traced=instead[q]) if q in instead else c for q, c in columns.columns.items()}
    kept = {q: c for q, c in changed.items() if c.quantity.kind != "derived" or c.quantity.is_gathered}
    _derive_columns(book, kept, columns.order)
    return RunColumns(columns.run, {q.id: kept[q.id] for q in book.quantities}, columns.order)


def _contain(
    quantity: Quantity, rows: int | None, node: Node | None, work: Callable[P, Column], *args: P.args, **kwargs: P.kwargs
) -> Column:
    """A column, or one without values that says why; `rows` is None for one value that all settings share."""
    found = contain(f"column {quantity.symbol}", work, *args, **kwargs)
    if isinstance(found, Column):
        return found
    return Column(quantity, None, np.asarray(np.nan) if rows is None else np.full(rows, np.nan), trouble=found, node=node)


def _log_column(quantity: Quantity, run: Run, log: Log, convention: Convention) -> Column:
    texts = log.columns.get(quantity.id) or ("",) * log.rows
    values, u = read_logged(texts, log.units.get(quantity.id, quantity.unit), quantity.unit, quantity.instrument, convention.display_half)
    source = Source(f"{run.id}:{quantity.id}", quantity.symbol, u, parse_unit(quantity.unit))
    return Column(quantity, _with_common(quantity, measured(source, values)), u)


def _with_common(quantity: Quantity, read: Traced) -> Traced:
    """Readings with what they have in common with all others of their instrument: how well its scale is known."""
    instrument = quantity.instrument
    share = common_share(instrument) if instrument is not None else 0.0
    if instrument is None or not share:
        return read
    scale = Source(f"scale:{instrument.name}:{instrument.common}", instrument.name, np.asarray(share), shared=True)
    return replace(read, slopes={**read.slopes, scale: read.value})


def _average_column(quantity: Quantity, run: Run, convention: Convention) -> Column:
    if run.log is not None:
        return _log_column(quantity, run, run.log, convention)
    rows = tuple(s.readings.get(quantity.id, ()) for s in run.settings)
    return _written_column(quantity, run.id, average_readings(rows, quantity.unit, quantity.instrument, convention))


@lru_cache(maxsize=1024)
def _written_column(quantity: Quantity, run: str, averages: Averages) -> Column:
    source = Source(
        f"{run}:{quantity.id}", quantity.symbol, averages.u, parse_unit(quantity.unit), dof=averages.dof, standard=averages.standard
    )
    return Column(quantity, _with_common(quantity, measured(source, averages.value)), averages.u, averages)


def _worded_column(quantity: Quantity, run: Run, book: LabBook) -> Column:
    words = words_of(quantity, run)
    if quantity.kind == "measured":
        return Column(quantity, None, np.full(run.count, np.nan), trouble=refuse_words(quantity), words=words)
    kinds, none = find_kinds(book, quantity), np.zeros(run.count)
    places = measured(Source(f"{run.id}:{quantity.id}", quantity.name, none, parse_unit("")), place_kinds(words, kinds))
    return Column(quantity, places, none, words=words, kinds=kinds)


def _tangent_column(quantity: Quantity, run: Run, found: Tangent | None) -> Column:
    if found is None or (found.traced is None and found.trouble is None):
        raise CoreError("bad_job", "The curve whose slope this is has not been fitted yet.")
    if found.traced is None:
        raise found.trouble or CoreError("bad_job", "The curve whose slope this is has not been fitted yet.")
    if found.run != run.id:
        raise CoreError("bad_job", "This is the slope of a curve through another run.")
    traced = in_wanted_unit(found.traced, quantity.unit, quantity.symbol)
    return Column(quantity, traced, combine_quadrature(traced, shared=False))


def _result_column(quantity: Quantity, run: Run, found: RunResults | None) -> Column:
    if not run.is_of_runs:
        raise CoreError("bad_job", "These are results of runs, which stand in another table.")
    if found is None or found.traced is None:
        raise CoreError("too_few_points", "No run has given this yet.")
    traced = in_wanted_unit(found.traced, quantity.unit, quantity.symbol)
    return Column(quantity, traced, combine_quadrature(traced, shared=False), without=found.without)


@lru_cache(maxsize=1024)
def _constant_column(quantity: Quantity) -> Column:
    if not quantity.value.strip():
        raise CoreError("bad_number", "{name} has no value yet.", name=quantity.name)
    known = parse_known(quantity.value, quantity.u, quantity.unit)
    u = np.asarray(float(known.u))
    source = Source(f"constant:{quantity.id}", quantity.symbol, u, parse_unit(quantity.unit), shared=True)
    return Column(quantity, measured(source, float(known.value)), u)


def _derive_columns(book: LabBook, columns: dict[str, Column], order: Order) -> None:
    """Derived quantities in the order of their dependence, with circles refused."""
    derived = [q for q in book.quantities if q.kind == "derived" and not q.is_gathered]
    names = {canonical_name(q.symbol): q.id for q in book.quantities if q.symbol}
    nodes: dict[str, Node] = {}
    tables = read_tables(book.plan.tables)
    for quantity in derived:
        node = contain(f"formula of {quantity.symbol}", read_formula, quantity.formula, names, tables=tables)
        if isinstance(node, CoreError):
            columns[quantity.id] = Column(quantity, None, np.asarray(np.nan), trouble=node)
        else:
            nodes[quantity.id] = node
    waiting = [q for q in derived if q.id in nodes]
    while waiting:
        ready = [q for q in waiting if all(names[s] in columns for s in symbols_in(nodes[q.id]) if s in names)]
        if not ready:
            circle = ", ".join(q.symbol for q in waiting)
            round_about = CoreError(
                "bad_formula", "These formulas go round in a circle: {circle}. One of them must start from readings.", circle=circle
            )
            for quantity in waiting:
                columns[quantity.id] = Column(quantity, None, np.asarray(np.nan), trouble=round_about, node=nodes[quantity.id])
            return
        for quantity in ready:
            node = nodes[quantity.id]
            columns[quantity.id] = _contain(quantity, None, node, _derive_column, quantity, node, names, columns, order)
        waiting = [q for q in waiting if q not in ready]


def _by_headings(book: LabBook, run: Run) -> list[Quantity]:
    """The quantities of a lab book as they are in the table of this run: what is set there is the changed one, and there is no other."""
    there = {q.id: q for q in book.table_of(run)}
    return [there.get(q.id, replace(q, kind="measured") if q.kind == "changed" else q) for q in book.quantities]


def _order_of(run: Run, columns: dict[str, Column]) -> Order:
    """The settings that count, in order of the changed quantity."""
    changed = next((c.traced for c in columns.values() if c.quantity.kind == "changed"), None)
    counts = ~np.array(run.rows_aside(), dtype=bool)
    return order_settings(changed.value if changed else np.zeros(counts.size), counts)


def _derive_column(quantity: Quantity, node: Node, names: dict[str, str], columns: dict[str, Column], order: Order) -> Column:
    sources: dict[str, Column] = {}
    for symbol in symbols_in(node):
        if symbol not in names:
            continue
        column = columns[names[symbol]]
        if column.words is not None:
            raise refuse_words(column.quantity)
        if column.traced is None:
            raise CoreError(
                column.trouble.code if column.trouble else "bad_formula",
                "{symbol} needs {needed}, which cannot be computed yet.",
                symbol=plain_symbol(quantity),
                needed=plain_symbol(column.quantity),
                needs=column.quantity.id,
            )
        sources[symbol] = column
    return _evaluated_column(quantity, node, tuple(sources.items()), tuple(order.tolist()))


@lru_cache(maxsize=512)
def _evaluated_column(quantity: Quantity, node: Node, sources: tuple[tuple[str, Column], ...], order: tuple[int, ...]) -> Column:
    values = {symbol: column.traced for symbol, column in sources if column.traced is not None}
    without: dict[int, Sentence] = {}
    traced = evaluate(node, values, np.array(order, dtype=np.intp), without)
    traced = in_wanted_unit(traced, quantity.unit, quantity.symbol)
    return Column(quantity, traced, combine_quadrature(traced, shared=False), node=node, without=without)


def rich_sign(quantity: Quantity) -> RichText:
    """What stands for a quantity at its axis and above its column: its symbol, or what it is called where it holds words."""
    return (RichRun(quantity.name),) if quantity.holds == "words" else rich_symbol(quantity.symbol)


def plain_symbol(quantity: Quantity) -> str:
    """A quantity's symbol for a sentence: T², not T^2; what it is called where it holds words."""
    return plain_text(rich_sign(quantity))


def name_plot(book: LabBook, fit: Fit) -> str:
    """What a fit is laid through, as its graph is called: t₂₀ against L."""
    graph = next(g for g in book.graphs if g.id == fit.graph)
    symbols = {q.id: plain_symbol(q) for q in book.quantities}
    return graph.title or f"{symbols[fit.y or graph.y]} against {symbols[graph.x]}"
