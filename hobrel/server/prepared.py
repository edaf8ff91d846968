"""Questions to the database whose SQL the ORM makes once: most of what a short request costs is the making of SQL that was made before.

A question is given as the query set it would be; it is compiled with two sets of samples, which shows where each value goes and in what
form, and then asked with the values themselves. Answers are read as the ORM reads them.
"""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Generic, TypeVar, cast

from django.db import connection
from django.db.models import Model, QuerySet
from django.db.models.query import get_related_populators
from django.db.models.sql.compiler import SQLCompiler
from django.db.models.sql.subqueries import UpdateQuery

M = TypeVar("M", bound=Model)
Form = Callable[[Any], Any]

_SAMPLES: dict[type, tuple[Callable[[int], Any], ...]] = {
    int: (lambda i: 900_000_001 + i, lambda i: 800_000_001 + i),
    str: (lambda i: f"first sample {i}", lambda i: f"second sample {i}"),
    datetime: (lambda i: datetime(2001, 1, 1 + i, tzinfo=UTC), lambda i: datetime(2002, 1, 1 + i, tzinfo=UTC)),
    uuid.UUID: (lambda i: uuid.UUID(int=900_000_001 + i), lambda i: uuid.UUID(int=800_000_001 + i)),
    dict: (lambda i: {"first": i}, lambda i: {"second": i}),
}
"""For each kind of value two samples for the value at a place."""


def _forms() -> tuple[Form, ...]:
    """How a value may reach the database."""
    operations = connection.ops

    def as_moment(value: Any) -> Any:
        return operations.adapt_datetimefield_value(value) if isinstance(value, datetime) else None

    def as_hex(value: Any) -> Any:
        return value.hex if isinstance(value, uuid.UUID) else None

    def as_json(value: Any) -> Any:
        return operations.adapt_json_value(value, None) if isinstance(value, dict) else None

    return (lambda value: value, as_moment, as_hex, as_json)


@dataclass(frozen=True)
class _Slot:
    """Where a parameter of the SQL comes from: the value at a place in some form, or always the same."""

    place: int
    form: Form | None
    always: Any = None


LARGEST_KEY = 2**63 - 1


class _Prepared:
    """SQL that is made when it is first wanted."""

    def __init__(self, kinds: Sequence[type]) -> None:
        self._kinds = tuple(kinds)
        self._lock = threading.Lock()
        self._sql = ""
        self._slots: tuple[_Slot, ...] = ()

    def _compile(self, values: Sequence[Any]) -> tuple[str, Sequence[Any]]:
        raise NotImplementedError

    def _make(self) -> None:
        with self._lock:
            if self._sql:
                return
            samples = [[_SAMPLES[kind][turn](i) for i, kind in enumerate(self._kinds)] for turn in (1, 0)]
            (other_sql, other), (sql, found) = (self._compile(values) for values in samples)
            assert sql == other_sql, "the SQL depends on the values"
            self._slots = tuple(_find_slot(a, b, samples[1], samples[0]) for a, b in zip(found, other, strict=True))
            missing = set(range(len(self._kinds))) - {slot.place for slot in self._slots if slot.form}
            assert not missing, f"values {missing} have no place in the SQL"
            self._sql = sql

    def _execute(self, cursor: Any, values: Sequence[Any]) -> None:
        if not self._sql:
            self._make()
        for value, kind in zip(values, self._kinds, strict=True):
            if not isinstance(value, kind):
                raise TypeError(f"{value!r} is no {kind.__name__}")
        cursor.execute(self._sql, [slot.form(values[slot.place]) if slot.form else slot.always for slot in self._slots])


def _is_same(one: Any, other: Any) -> bool:
    """Some databases have a document wrapped, and what it is wrapped in knows no equality."""
    bare = [(type(value), value.obj) if hasattr(value, "obj") else value for value in (one, other)]
    return bool(bare[0] == bare[1])


def _find_slot(first: Any, second: Any, firsts: Sequence[Any], seconds: Sequence[Any]) -> _Slot:
    if _is_same(first, second):
        return _Slot(-1, None, first)
    for place, (a, b) in enumerate(zip(firsts, seconds, strict=True)):
        for form in _forms():
            if _is_same(form(a), first) and _is_same(form(b), second):
                return _Slot(place, form)
    raise AssertionError(f"no value gives {first!r} and {second!r}")


class Select(_Prepared, Generic[M]):
    """A query set of models, with values of so many kinds.

    Parameters
    ----------
    make : callable
        The query set for such values. What it prefetches is not.
    kinds : types
        int, str, datetime, UUID or dict (for a JSON field), in the order in which `make` takes them.
    """

    def __init__(self, make: Callable[..., QuerySet[M]], *kinds: type) -> None:
        super().__init__(kinds)
        self._queries = make
        self._read: Callable[[list[Any]], list[M]] = lambda rows: []

    def all(self, *values: Any) -> list[M]:
        """All that the query set holds for these values."""
        if any(isinstance(value, int) and abs(value) > LARGEST_KEY for value in values):
            # no row has such a key, and a database need not be able to hold it
            return []
        with connection.cursor() as cursor:
            self._execute(cursor, values)
            rows = cursor.fetchall()
        return self._read(rows) if rows else []

    def first(self, *values: Any) -> M | None:
        """The first of them, or None. The query set is in an order that its makers have chosen."""
        found = self.all(*values)
        return found[0] if found else None

    def _compile(self, values: Sequence[Any]) -> tuple[str, Sequence[Any]]:
        compiler: SQLCompiler = self._queries(*values).query.get_compiler(connection=connection)
        sql, params = compiler.as_sql()
        self._read = _reader(compiler)
        return sql, cast("Sequence[Any]", params)


def _reader(compiler: Any) -> Callable[[list[Any]], list[Any]]:
    """What makes models of rows, as the ORM does for this query."""
    select, about, alias = compiler.select, compiler.klass_info, connection.alias
    assert about is not None and not compiler.annotation_col_map, "only whole models are read"
    start, end = about["select_fields"][0], about["select_fields"][-1] + 1
    names = [column[0].target.attname for column in select[start:end]]
    model, related = about["model"], get_related_populators(about, select, alias)
    converters = [(i, found) for i, found in compiler.get_converters([s[0] for s in select]).items()]

    def read(rows: list[Any]) -> list[Any]:
        made = []
        for row in map(list, rows):
            for i, (convert, expression) in converters:
                for one in convert:
                    row[i] = one(row[i], expression, connection)
            item = model.from_db(alias, names, row[start:end])
            for populator in related:
                populator.populate(row, item)
            made.append(item)
        return made

    return read


class Update(_Prepared):
    """An update of the rows of a query set.

    Parameters
    ----------
    make : callable
        The query set and the fields' new values (by name) for such values.
    kinds : types
        As for `Select`.
    """

    def __init__(self, make: Callable[..., tuple[QuerySet[Any], dict[str, Any]]], *kinds: type) -> None:
        super().__init__(kinds)
        self._updates = make

    def run(self, *values: Any) -> int:
        """Update, and say how many rows that were."""
        with connection.cursor() as cursor:
            self._execute(cursor, values)
            return int(cursor.rowcount)

    def _compile(self, values: Sequence[Any]) -> tuple[str, Sequence[Any]]:
        rows, becomes = self._updates(*values)
        query = rows.query.chain(UpdateQuery)
        query.add_update_values(becomes)
        sql, params = query.get_compiler(connection=connection).as_sql()
        return sql, cast("Sequence[Any]", params)
