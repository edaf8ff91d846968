"""Places in a lab book's document: finding them, naming them for people, keeping them tidy."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import FUNCTIONS
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.linearising.algebra import names_in
from hobrel.core.readings.known import parse_known
from hobrel.core.readings.units_behind import find_meant_unit
from hobrel.core.rounding import with_unit
from hobrel.core.units.calculus import parse_unit, tidy_unit
from hobrel.server.problems import Problem

Document = dict[str, Any]
_RESERVED = {"gradient", "intercept", "pi", *FUNCTIONS}


def find(items: list[dict[str, Any]], key: str, what: str) -> dict[str, Any]:
    """The item of this id, to be looked at.

    Raises
    ------
    Problem
        409 ``gone`` where it is no longer there.
    """
    return items[place_of_item(items, key, what)]


def place_of_item(items: list[dict[str, Any]], key: str, what: str = "item") -> int:
    """Where in a list the item of this id is; raises as `find`."""
    for i, item in enumerate(items):
        if item["id"] == key:
            return i
    raise Problem(409, "gone", f"This {what} is no longer in the lab book. Somebody else may have removed it.")


def has(items: list[dict[str, Any]], key: str) -> bool:
    return any(item["id"] == key for item in items)


def find_setting(document: Document, run: str, setting: str) -> dict[str, Any]:
    return find(settings_of(document, run), setting, "setting")


def settings_of(document: Document, run: str) -> list[dict[str, Any]]:
    """The settings of a run that was written down.

    Raises
    ------
    Problem
        409 ``logged`` where it is a log, whose rows are not edited one by one.
    """
    found = find(document["runs"], run, "run")
    if found.get("log"):
        raise Problem(409, "logged", "A logger wrote this run, so its single values stay as they are. Rows of it can be set aside.")
    settings: list[dict[str, Any]] = found["settings"]
    return settings


def write_u(cells: Iterable[dict[str, Any] | None], u: str) -> None:
    """Write a ± with each of the readings of a setting."""
    for cell in cells:
        if cell is not None:
            cell["text"] = f"{cell['text']} ± {u}"


def call(quantity: Document) -> str:
    """A quantity in a sentence: its symbol, or what it is called where it holds words."""
    return quantity["name"] if quantity.get("holds") == "words" else write_symbol(quantity["symbol"])


def table_of(document: Document, run: str) -> list[Document]:
    """The quantities that are read in the table of a run, the changed one first."""
    read = {q["id"]: q for q in document["quantities"] if q["kind"] in ("changed", "measured")}
    headings = find(document["runs"], run, "run").get("headings")
    return list(read.values()) if headings is None else [read[key] for key in headings if key in read]


def changed_in(document: Document, run: str) -> Document | None:
    """The quantity that is set in the table of a run."""
    table = table_of(document, run)
    headed = find(document["runs"], run, "run").get("headings") is not None
    return next((q for q in table if headed or q["kind"] == "changed"), None)


def name_setting(document: Document, run: str, setting: str) -> str:
    """A setting as people call it: L = 0.24 m, or its place where it has no value yet."""
    rows = settings_of(document, run)
    changed = changed_in(document, run)
    row = find(rows, setting, "setting")
    reading = next((r for r in row["readings"].get(changed["id"], []) if r), None) if changed else None
    if changed and reading and reading["text"].strip():
        if changed.get("holds") == "words":
            return str(reading["text"])
        return f"{write_symbol(changed['symbol'])} = {with_unit(reading['text'], tidy_unit(changed['unit']))}"
    return f"setting {rows.index(row) + 1}"


def count(n: int, noun: str) -> str:
    """1 setting, 3 settings."""
    return f"{n} {noun}" if n == 1 else f"{n} {noun}s"


def trim(row: dict[str, Any], quantity: str) -> None:
    """Blanks behind the last reading are not kept, so that equal tables are equal documents."""
    readings = row["readings"].get(quantity, [])
    while readings and readings[-1] is None:
        readings.pop()
    if not readings:
        row["readings"].pop(quantity, None)


_SYMBOL = re.compile(r"[A-Za-z]+[0-9]*(_[A-Za-z0-9]+)*")


def _reads_as_expression(name: str) -> bool:
    try:
        read_formula(name, names_in(name), log_is_ln=True)
    except CoreError:
        return False
    return any(c.isalpha() for c in name)


def check_symbol(others: list[dict[str, Any]], symbol: str, kind: str) -> None:
    """Refuse a symbol that cannot be read in formulas, or stands for something else already.

    Raises
    ------
    Problem
        422 ``bad_symbol``, ``symbol_taken``.
    """
    name = canonical_name(symbol)
    # a derived quantity may be called by an expression: T², 1/L
    if not (_reads_as_expression(name) if kind == "derived" else _SYMBOL.fullmatch(name)):
        raise Problem(
            422, "bad_symbol", "A symbol is a letter or a short name, with an index after an underscore if wanted: t, t_10, theta."
        )
    if name in _RESERVED:
        raise Problem(422, "bad_symbol", f"{symbol} has a meaning of its own in formulas. Choose another symbol.")
    taken = next((q for q in others if canonical_name(q["symbol"]) == name), None)
    if taken:
        raise Problem(422, "symbol_taken", f"{symbol} stands for {taken['name']} already. Choose another symbol.")


def check_unit(unit: str) -> None:
    """Refuse a unit that is not known.

    Raises
    ------
    Problem
        422 ``bad_unit``.
    """
    try:
        parse_unit(unit)
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble


def check_named_unit(name: str, unit: str) -> None:
    """Refuse a unit that is not known, or that a quantity of this name is never measured in.

    Raises
    ------
    Problem
        422 ``bad_unit``.
    """
    check_unit(unit)
    meant = find_meant_unit(name, unit.strip())
    if meant != unit.strip():
        raise Problem(422, "bad_unit", f"{name[:1].upper()}{name[1:]} is not measured in {unit.strip()}. Is it {meant}?")


def check_known(value: str, u: str, unit: str) -> None:
    """Refuse a constant or an accepted value, or its ±, that is none; nothing typed is no value yet.

    Raises
    ------
    Problem
        422 ``bad_number``, ``bad_unit``.
    """
    if not value.strip():
        return
    try:
        parse_known(value, u, unit)
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble
