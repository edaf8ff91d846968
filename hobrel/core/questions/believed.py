"""A world in which a plan could be tried: what its relation, constants and instruments say, with a truth for what nobody knows yet.

Lab books are drawn from it as benches would write them: what is set is off by what the instrument hides, each bench's constants are off by
their ±, readings scatter as a hand does and are written with the digits of their instrument. Chance comes in as a generator from outside.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Run, Setting
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import Binary, Node, symbols_in
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.linearising.algebra import known_in, read_relation
from hobrel.core.pipeline.tables import read_tables
from hobrel.core.questions.hands import hidden_half, read_by_hand, write_down
from hobrel.core.questions.truths import as_column, ask_for_truth, read_truths, refuse_unknown
from hobrel.core.readings.instruments import common_share
from hobrel.core.readings.known import parse_known
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.sentences import Sentence
from hobrel.core.uncertainty.traced import Floats, Traced
from hobrel.core.units.calculus import same_dimension, write_unit
from hobrel.core.units.constants import constant_symbols, find_constant

USUAL_SETTINGS = 8
_GRID = np.logspace(-12, 12, 241)
_HALVINGS = 60
_HOLDS = 1e-6
"""Share of its sides by which a relation may miss where it is said to hold."""


@dataclass(frozen=True, eq=False)
class World:
    """What a plan's lab books are drawn from; see `believe`."""

    book: LabBook
    tables: tuple[Table, ...]
    truths: Mapping[str, Traced]

    def draw(self, dice: np.random.Generator, count: int, only: Sequence[int] | None = None) -> Iterator[LabBook]:
        """So many lab books, each of another bench; `only` some of them, which are the same as among all."""
        off = {q.id: dice.standard_normal(count) for q in self._constants}
        writers = [table.draw(self, dice, count, off) for table in self.tables]
        for i in range(count) if only is None else only:
            yield self._filled([write(i) for write in writers])

    def draw_perfect(self) -> LabBook:
        """The lab book of a bench that reads every digit and is never off: what would be found if nothing were uncertain."""
        return self._filled([table.write_perfectly(self) for table in self.tables])

    def constants(self, off: Mapping[str, Floats] | None, shape: tuple[int, ...]) -> dict[str, Traced]:
        """What constants really are, by symbol: as written, or off by so many of their ± in each lab book (the first axis)."""
        found = dict(self.truths)
        for quantity in self._constants:
            value, u = self._value_of(quantity)
            moved = np.full(shape, value)
            if off is not None:
                moved = moved + u * off[quantity.id].reshape(-1, *(1 for _ in shape[1:]))
            found[canonical_name(quantity.symbol)] = as_column(moved.ravel(), quantity.unit)
        return {s: t if t.value.ndim else replace(t, value=np.full(math.prod(shape), float(t.value))) for s, t in found.items()}

    @property
    def _constants(self) -> list[Quantity]:
        return [q for q in self.book.quantities if q.kind == "constant"]

    def _value_of(self, quantity: Quantity) -> tuple[float, float]:
        if not quantity.value.strip():
            truth = self.truths.get(canonical_name(quantity.symbol))
            if truth is None:
                raise ask_for_truth(quantity.symbol)
            return float(truth.value), 0.0
        known = parse_known(quantity.value, quantity.u, quantity.unit)
        return float(known.value), float(known.u)

    def _filled(self, written: Sequence[Written]) -> LabBook:
        made = {each.run.id: each.run for each in written}
        read = {key: texts for each in written for key, texts in each.unknowns.items()}
        fits = tuple(
            replace(f, unknowns=tuple(replace(u, readings=read.get(u.id, u.readings)) for u in f.unknowns)) for f in self.book.fits
        )
        quantities = tuple(
            replace(q, value=f"{self._value_of(q)[0]:.12g}") if q.kind == "constant" and not q.value.strip() else q
            for q in self.book.quantities
        )
        return replace(self.book, quantities=quantities, fits=fits, runs=tuple(made.get(run.id, run) for run in self.book.runs))


@dataclass(frozen=True)
class Written:
    """What a bench writes at a table: its readings there, and those of unknowns by their id."""

    run: Run
    unknowns: Mapping[str, tuple[str, ...]]


@dataclass(frozen=True)
class BelievedUnknown:
    """An unknown, by what it is read (a quantity that is measured), and at which value of what is set it truly is."""

    id: str
    quantity: str
    at: float


@dataclass(frozen=True, eq=False)
class Table:
    """One table of a plan: what is set, and how what is measured hangs together with it. Unknowns are read as one more setting each."""

    run: Run
    book: LabBook
    changed: Quantity
    measured: tuple[Quantity, ...]
    nominal: tuple[float, ...]
    ways: tuple[_Way, ...]
    unknowns: tuple[BelievedUnknown, ...]

    def draw(self, world: World, dice: np.random.Generator, count: int, off: Mapping[str, Floats]) -> Callable[[int], Written]:
        """What is read in so many lab books, and so what is written in each of them."""
        shape = (count, len(self.nominal))
        texts = write_down(self.nominal, self.changed.instrument)
        set_to = np.array([float(parse_reading(text).value) for text in texts])
        hidden = hidden_half(self.changed.instrument)
        x = set_to + dice.uniform(-hidden, hidden, shape) if hidden else np.tile(set_to, (count, 1))
        scales = self._draw_scales(dice, count)
        x = x / _scale_of(self.changed, scales)
        x = np.hstack([x, np.tile([u.at for u in self.unknowns], (count, 1))]) if self.unknowns else x
        true = self._work_out(world, x.ravel(), world.constants(off, x.shape))
        read = [(q, read_by_hand(q, true[q.id].reshape(x.shape) * _scale_of(q, scales), self.book, dice)) for q in self.measured]

        def write(i: int) -> Written:
            return self._written([texts, *(_in_repeats(write_down(values[i].ravel().tolist(), q.instrument), q) for q, values in read)])

        return write

    def _draw_scales(self, dice: np.random.Generator, count: int) -> dict[str, Floats]:
        """By what all readings of an instrument are too large or too small, for each lab book; those of which it is told."""
        instruments = (q.instrument for q in (self.changed, *self.measured))
        known = {i.name: share for i in instruments if i is not None and (share := common_share(i))}
        return {name: 1 + share * dice.standard_normal((count, 1)) for name, share in known.items()}

    def write_perfectly(self, world: World) -> Written:
        """What is written without anything uncertain in it."""
        x = np.array([*self.nominal, *(u.at for u in self.unknowns)])
        true = self._work_out(world, x, world.constants(None, x.shape))
        columns = [[[f"{v:.14g}"] for v in true[q.id].tolist()] for q in self.measured]
        return self._written([[f"{v:.14g}" for v in self.nominal], *columns])

    def _work_out(self, world: World, x: Floats, known: dict[str, Traced]) -> dict[str, Floats]:
        at = {**known, canonical_name(self.changed.symbol): as_column(x, self.changed.unit)}
        found: dict[str, Floats] = {}
        for way in self.ways:
            quantity = way.quantity
            # what is believed to hang on nothing is the same in every row
            found[quantity.id] = np.broadcast_to(way.work_out(at), x.shape)
            if not np.all(np.isfinite(found[quantity.id])):
                raise _no_value(quantity)
            at[canonical_name(quantity.symbol)] = as_column(found[quantity.id], quantity.unit)
        return found

    def _written(self, columns: Sequence[Sequence[str] | Sequence[Sequence[str]]]) -> Written:
        keys = (self.changed.id, *(q.id for q in self.measured))
        settings = []
        for row in range(len(self.nominal)):
            cells = [column[row] for column in columns]
            readings = {
                key: tuple(Reading(t) for t in ([cell] if isinstance(cell, str) else cell)) for key, cell in zip(keys, cells, strict=True)
            }
            settings.append(Setting(f"{self.run.id}-{row + 1}", readings))
        of = dict(zip(keys, columns, strict=True))
        beyond = enumerate(self.unknowns, len(self.nominal))
        return Written(replace(self.run, settings=tuple(settings)), {u.id: tuple(of[u.quantity][row]) for row, u in beyond})


def _in_repeats(texts: Sequence[str], quantity: Quantity) -> list[Sequence[str]]:
    each = max(1, quantity.repeats)
    return [texts[first : first + each] for first in range(0, len(texts), each)]


def _scale_of(quantity: Quantity, scales: Mapping[str, Floats]) -> Floats | float:
    return scales.get(quantity.instrument.name, 1.0) if quantity.instrument is not None else 1.0


@dataclass(frozen=True, eq=False)
class _Way:
    """How a measured quantity follows from what is known: by a formula, or by a relation that is solved for it."""

    quantity: Quantity
    formulas: _Formulas
    node: Node
    solve: bool

    def work_out(self, known: Mapping[str, Traced]) -> Floats:
        if self.solve:
            return self._solve(known)
        try:
            return _in_unit(self.formulas.value(self.node, known), self.quantity)
        except CoreError as trouble:
            if trouble.code != "bad_unit":
                raise
        # between the numbers of the headings, as it is written where the factors have no symbols: I = 2.1 + 3.4 c
        numbers = {symbol: Traced(t.value, {}) for symbol, t in {**known, **self.formulas.headed(self.node, known)}.items()}
        return self.formulas.value(self.node, numbers).value

    def _misses(self, tried: Floats, known: Mapping[str, Traced]) -> Floats:
        at = {**known, canonical_name(self.quantity.symbol): as_column(tried, self.quantity.unit)}
        return np.broadcast_to(self.formulas.value(self.node, at).value, tried.shape)

    def _check_sides(self, tried: Floats, known: Mapping[str, Traced]) -> Floats:
        """As `_misses`; sides of unlike units are named.

        Raises
        ------
        CoreError
            ``bad_unit``.
        """
        try:
            return self._misses(tried, known)
        except CoreError as trouble:
            if trouble.code != "bad_unit" or not isinstance(self.node, Binary):
                raise
            at = {**known, canonical_name(self.quantity.symbol): as_column(tried, self.quantity.unit)}
            left, right = (self.formulas.value(side, at).unit for side in (self.node.left, self.node.right))
            if same_dimension(left, right):
                raise
            natural = [s for s in sorted(symbols_in(self.node)) if s in constant_symbols() and s not in at]
            taken = (f"{write_symbol(s)} is read as the {find_constant(s).name}" for s in natural)
            words = "The two sides of the relation do not go together: {left} on the left, {right} on the right.{taken}"
            raise CoreError(
                "bad_unit",
                words,
                left=write_unit(left) or "no unit",
                right=write_unit(right) or "no unit",
                taken=f" {', '.join(taken)}: make it a quantity or a finding if it is something else." if natural else "",
            ) from trouble

    def _solve(self, known: Mapping[str, Traced]) -> Floats:
        rows = next(len(t.value) for t in known.values() if t.value.ndim)
        # where the sides change places is sought on a few rows, and refined on all
        some = np.unique(np.linspace(0, rows - 1, min(rows, 24)).astype(int))
        spread = {s: replace(t, value=np.repeat(t.value[some], _GRID.size)) for s, t in known.items()}
        tried = np.tile(_GRID, some.size)
        signs = np.sign(self._check_sides(tried, spread)).reshape(some.size, _GRID.size)
        changes = (signs[:, :-1] * signs[:, 1:] <= 0) & np.isfinite(signs[:, :-1]) & np.isfinite(signs[:, 1:])
        has_value = np.any(changes, axis=1)
        if not np.all(has_value):
            raise _no_value(self.quantity) if np.any(has_value) else _no_truth(self.quantity)
        first = np.argmax(changes, axis=1)
        low = np.full(rows, _GRID[max(0, int(first.min()) - 2)])
        high = np.full(rows, _GRID[min(_GRID.size - 1, int(first.max()) + 3)])
        below = self._misses(low, known)
        if not np.all(below * self._misses(high, known) <= 0):
            raise _no_truth(self.quantity)
        for _ in range(_HALVINGS):
            middle = np.sqrt(low * high)
            at = self._misses(middle, known)
            same = np.sign(at) == np.sign(below)
            low, high = np.where(same, middle, low), np.where(same, high, middle)
        found = np.sqrt(low * high)
        if not np.all(np.abs(self._misses(found, known)) <= _HOLDS * np.maximum(np.abs(below), _tiny(below))):
            raise _no_truth(self.quantity)
        return np.asarray(found)


def _tiny(values: Floats) -> float:
    return float(np.max(np.abs(values))) or 1.0


@dataclass(frozen=True, eq=False)
class _Formulas:
    """The derived quantities of a lab book, worked out as they are needed."""

    book: LabBook

    @cached_property
    def derived(self) -> dict[str, tuple[Quantity, Node]]:
        """Formulas that can be read, by the symbol of their quantity."""
        known, tables = [q.symbol for q in self.book.quantities], read_tables(self.book.plan.tables)
        found = {}
        for quantity in self.book.quantities:
            if quantity.kind == "derived" and quantity.formula.strip():
                found[canonical_name(quantity.symbol)] = quantity, read_formula(quantity.formula, known, tables=tables)
        return found

    def value(self, node: Node, known: Mapping[str, Traced], begun: tuple[str, ...] = ()) -> Traced:
        """A formula over what is known, and over derived quantities that follow from it.

        Raises
        ------
        CoreError
            ``bad_formula`` for a circle; as `evaluate`.
        """
        at = dict(known)
        for symbol in symbols_in(node):
            if symbol not in at and symbol in self.derived:
                if symbol in begun:
                    circle = " and ".join((*begun, symbol))
                    raise CoreError("bad_formula", "These formulas go round in a circle: {circle}.", circle=circle)
                at[symbol] = self.value(self.derived[symbol][1], at, (*begun, symbol))
        without: dict[int, Sentence] = {}
        return evaluate(node, at, without=without)

    def headed(self, node: Node, known: Mapping[str, Traced]) -> dict[str, Traced]:
        """The derived quantities in a formula, each in the unit of its heading, as far as they have a value."""
        found = {}
        for symbol in symbols_in(node):
            if symbol in self.derived and symbol not in known:
                quantity, formula = self.derived[symbol]
                with suppress(CoreError):
                    found[symbol] = in_wanted_unit(self.value(formula, known, (symbol,)), quantity.unit, symbol)
        return found

    def rests_on(self, node: Node, symbol: str, begun: tuple[str, ...] = ()) -> bool:
        """Whether a formula holds a symbol, itself or by derived quantities."""
        return any(
            s == symbol or (s in self.derived and s not in begun and self.rests_on(self.derived[s][1], symbol, (*begun, s)))
            for s in symbols_in(node)
        )


def believe(book: LabBook) -> World:
    """The world that a plan believes in.

    What is unknown has the value that the plan believes (`DryTruth.truths`), or the accepted value of the finding with its symbol.

    Raises
    ------
    CoreError
        ``no_settings`` where it is not said which settings there are; ``no_truth`` where something that is measured does not follow;
        ``unknown_value`` where a value is wanted; what is wrong with a formula, a unit or a number.
    """
    formulas, truths = _Formulas(book), read_truths(book)
    tables = tuple(
        _read_table(book, run, formulas)
        for run in book.runs
        if run.id not in book.plan.given_runs and run.log is None and not run.is_of_runs
    )
    held = [way.node for table in tables for way in table.ways]
    refuse_unknown(book, held, truths)
    return World(book, tables, truths)


def _read_table(book: LabBook, run: Run, formulas: _Formulas) -> Table:
    quantities = book.table_of(run)
    changed = next((q for q in quantities if q.kind == "changed"), None)
    measured = tuple(q for q in quantities if q.kind == "measured" and q.holds == "numbers")
    if changed is not None and changed.holds == "words":
        raise CoreError(
            "kinds_not_tried", "{name}: these are kinds, and no relation says what they give. Try it by hand.", name=changed.name
        )
    if changed is None or not measured:
        raise CoreError("no_quantities", "A plan has something to set and something to measure. Write two headings in its table first.")
    return Table(
        run=replace(run, settings=()),
        book=book,
        changed=changed,
        measured=measured,
        nominal=_find_settings(book, run, changed),
        ways=_find_ways(book, measured, formulas),
        unknowns=tuple(_find_unknowns(book, run, changed, [q.id for q in measured], formulas)),
    )


def _find_unknowns(book: LabBook, run: Run, changed: Quantity, measured: Sequence[str], formulas: _Formulas) -> Iterator[BelievedUnknown]:
    """Those of lines through what is set, or what follows from it, and what is measured in this table."""
    symbol = canonical_name(changed.symbol)
    along = {changed.id, *(q.id for q, formula in formulas.derived.values() if formulas.rests_on(formula, symbol))}
    graphs = {g.id: g for g in book.graphs}
    for fit in book.fits:
        graph = graphs.get(fit.graph)
        y = (fit.y or graph.y) if graph else ""
        if graph and graph.x in along and y in measured and (fit.run or book.runs[0].id) == run.id:
            for unknown in fit.unknowns:
                if (text := book.plan.dry.unknowns.get(unknown.id, "")).strip():
                    yield BelievedUnknown(unknown.id, y, float(parse_reading(text, changed.unit).value))


def _find_settings(book: LabBook, run: Run, changed: Quantity) -> tuple[float, ...]:
    """Those that the plan wants, or those of the readings that are in it.

    Raises
    ------
    CoreError
        ``no_settings``.
    """
    wanted = book.plan.wanted.get(changed.id)
    if wanted is not None and wanted.low.strip() and wanted.high.strip():
        low, high = (float(parse_reading(text, changed.unit).value) for text in (wanted.low, wanted.high))
        return tuple(np.linspace(low, high, wanted.count or USUAL_SETTINGS).tolist())
    written = [s.readings.get(changed.id, ()) for s in run.settings if s.set_aside is None]
    found = tuple(float(parse_reading(r[0].text, changed.unit).value) for r in written if r and r[0] is not None and r[0].text.strip())
    if len(found) < 2:
        raise CoreError("no_settings", "Say over which range {name} is set, and how often.", name=changed.name)
    return found


def _find_ways(book: LabBook, measured: Sequence[Quantity], formulas: _Formulas) -> tuple[_Way, ...]:
    symbols = [q.symbol for q in book.quantities] + [f.symbol for f in book.findings] + list(book.plan.dry.truths)
    ways = []
    rest = []
    for quantity in measured:
        text = book.plan.dry.formulas.get(quantity.id, "")
        if text.strip():
            ways.append(_Way(quantity, formulas, read_formula(text, symbols, tables=read_tables(book.plan.tables)), solve=False))
        else:
            rest.append(quantity)
    if rest and not book.relation.strip():
        raise _no_truth(rest[0])
    if rest:
        left, right = read_relation(book.relation, set(known_in(book.relation, symbols)))
        apart = Binary("-", left, right, 0)
        for quantity in rest:
            if not formulas.rests_on(apart, canonical_name(quantity.symbol)):
                raise _no_truth(quantity)
            ways.append(_Way(quantity, formulas, apart, solve=True))
        if len(rest) > 1:
            raise _no_truth(rest[1])
    return tuple(ways)


def _no_truth(quantity: Quantity) -> CoreError:
    return CoreError(
        "no_truth",
        "The relation does not say what {name} ({symbol}) would be. Write a formula for it, for the dry run.",
        name=quantity.name,
        symbol=write_symbol(quantity.symbol),
    )


def _no_value(quantity: Quantity) -> CoreError:
    return CoreError("no_value_believed", "{name} has no value at some of the settings, by what the dry run believes.", name=quantity.name)


def _in_unit(value: Traced, quantity: Quantity) -> Floats:
    # an empty unit is that of a plain number here, and not the usual one
    value = in_wanted_unit(value, quantity.unit or "1", quantity.symbol)
    return value.value
