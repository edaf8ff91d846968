"""Slips of the finger in every cell, constant and formula of every lab book of the demo, through the whole analysis."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import fields, replace
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import TypeAdapter

from hobrel.core.document.lab_book import Convention, LabBook, Quantity, Reading, Setting
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.results import Analysis
from hobrel.demo.written import write_practicals
from tests.fuzz.cases import Case
from tests.fuzz.slips import slips_of

_writer = TypeAdapter(Analysis)


@cache
def demo_books() -> dict[str, LabBook]:
    """Every lab book of the demo by practical and bench."""
    return {f"{p.draft.title[:14]}/{bench}": book for p in write_practicals() for bench, book in p.books.items()}


def analyse_to_json(book: LabBook) -> Any:
    """The analysis as plain data, as it is sent."""
    return _writer.dump_python(analyse(book))


def with_reading(book: LabBook, run: int, row: int, quantity: str, repeat: int, text: str) -> LabBook:
    """The lab book with one reading typed differently."""
    old = book.runs[run]
    setting = old.settings[row]
    readings = list(setting.readings[quantity])
    readings[repeat] = Reading(text) if text else None
    changed: Setting = replace(setting, readings={**setting.readings, quantity: tuple(readings)})
    settings = (*old.settings[:row], changed, *old.settings[row + 1 :])
    return replace(book, runs=(*book.runs[:run], replace(old, settings=settings), *book.runs[run + 1 :]))


def with_quantity(book: LabBook, quantity: Quantity) -> LabBook:
    return replace(book, quantities=tuple(quantity if q.id == quantity.id else q for q in book.quantities))


def slips_in_readings(book: LabBook) -> Iterator[tuple[str, LabBook]]:
    """Every plausible slip in every reading."""
    units = {q.id: q.unit for q in book.quantities}
    for r, run in enumerate(book.runs):
        for row, setting in enumerate(run.settings):
            for quantity, readings in setting.readings.items():
                beside = run.settings[row - 1 if row else -1].readings.get(quantity, ())
                for repeat, reading in enumerate(readings):
                    if reading is None:
                        continue
                    neighbour = next((n.text for n in beside[repeat:] if n), "")
                    for what, text in slips_of(reading.text, neighbour, units[quantity]):
                        name = f"{quantity} row {row} repeat {repeat}: {reading.text} → {text} ({what})"
                        yield name, with_reading(book, r, row, quantity, repeat, text)


def slips_in_definitions(book: LabBook) -> Iterator[tuple[str, LabBook]]:
    """Slips in constants, their ±, formulas, units and instruments."""
    for quantity in book.quantities:
        for field in ("value", "u"):
            old = getattr(quantity, field)
            if quantity.kind == "constant":
                for what, text in slips_of(old or "0.1", "", quantity.unit):
                    yield f"{field} of {quantity.symbol}: {old} → {text} ({what})", with_quantity(book, replace(quantity, **{field: text}))
        if quantity.formula:
            for text in wrong_formulas(quantity.formula):
                yield f"formula of {quantity.symbol}: {text}", with_quantity(book, replace(quantity, formula=text))
        for unit in ("", "cm", "m^2", "kg", "°C", "K", "rad", "%", "Ω", "furlong", "1/", "m^0.5", "m^400"):
            yield f"unit of {quantity.symbol}: {unit}", with_quantity(book, replace(quantity, unit=unit))
        if quantity.instrument:
            for division in ("0", "1e-300", "100000", "0.0000000000000000000000000000000000001"):
                finer = replace(quantity.instrument, division=division)
                yield f"division of {quantity.symbol}: {division}", with_quantity(book, replace(quantity, instrument=finer))


def wrong_formulas(formula: str) -> Iterator[str]:
    """A formula with letters lost, doubled, exchanged, and functions put round it."""
    for i in range(len(formula)):
        yield formula[:i] + formula[i + 1 :]
        yield formula[: i + 1] + formula[i:]
    for form in ("1/({})", "ln({})", "exp({})", "exp(exp({}))", "sqrt({})", "({})^2", "({})^40", "({})^({})", "asin({})", "-({})", "{}/0",
                 "Delta({})", "mid({})", "1/({} - {})", "({}) e^({})", "tan(({})^9)", "log10({} - {})", "abs({})^0.5"):  # fmt: skip
        yield form.format(*[formula] * form.count("{}"))


@cache
def _all() -> tuple[tuple[str, LabBook], ...]:
    return tuple(
        (f"{title}: {name}", changed)
        for title, book in demo_books().items()
        for slips in (slips_in_readings, slips_in_definitions)
        for name, changed in slips(book)
    )


def some(dice: random.Random, count: int) -> Iterator[Case]:
    """Some of all slips, drawn at random, half of them in another convention."""
    for name, changed in dice.choices(_all(), k=count):
        book = in_some_convention(changed, dice)
        yield Case(f"{name}, {book.convention}", lambda b=book: analyse_to_json(b))


def in_some_convention(book: LabBook, dice: random.Random) -> LabBook:
    """The lab book, every other time with each choice of its convention drawn."""
    if dice.random() < 0.5:
        return book
    kinds = get_type_hints(Convention)
    drawn = {f.name: dice.choice(_choices(kinds[f.name])) for f in fields(Convention)}
    return replace(book, convention=Convention(**drawn))


def _choices(kind: Any) -> tuple[Any, ...]:
    return (False, True) if kind is bool else (None, 0.683, 0.95) if float in get_args(kind) else get_args(kind)
