"""A lesson of benches at one practical with faults planted in their lab books, each of a kind that people make."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass, replace

from hobrel.classes.models import Bench, Person, Seat
from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Setting, write_lab_book
from hobrel.labbooks.actions import load_document, open_book
from hobrel.labbooks.beside import open_stage
from hobrel.labbooks.models import Book
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.school import School, keep_summaries, make_school

OVERHANGS = tuple(round(0.3 + 0.05 * i, 3) for i in range(8))
BIRDS = (
    *("Godwit", "Redshank", "Avocet", "Curlew", "Dunlin", "Knot", "Plover", "Sanderling", "Turnstone", "Whimbrel", "Oystercatcher", "Ruff"),
    *("Greenshank", "Lapwing", "Snipe", "Phalarope"),
)
Fault = Callable[[LabBook], LabBook]


def with_reading(row: int, quantity: str, repeat: int, text: str | None) -> Fault:
    """Another reading in one cell; None for a blank."""

    def spoil(book: LabBook) -> LabBook:
        setting = book.runs[0].settings[row]
        texts = list(setting.readings[quantity])
        texts[repeat] = None if text is None else Reading(text)
        return with_settings(book, {row: replace(setting, readings={**setting.readings, quantity: tuple(texts)})})

    return spoil


def moved(row: int, repeat: int, change: Callable[[str], str]) -> Fault:
    """A time of ten swings written wrongly."""

    def spoil(book: LabBook) -> LabBook:
        reading = book.runs[0].settings[row].readings["t10"][repeat]
        assert reading is not None
        return with_reading(row, "t10", repeat, change(reading.text))(book)

    return spoil


def with_settings(book: LabBook, instead: dict[int, Setting]) -> LabBook:
    """The lab book with some rows of its table replaced."""
    run = book.runs[0]
    return replace(book, runs=(replace(run, settings=tuple(instead.get(i, s) for i, s in enumerate(run.settings))), *book.runs[1:]))


def exchange(a: int, b: int) -> Fault:
    """The times of two rows have changed places."""

    def spoil(book: LabBook) -> LabBook:
        rows = book.runs[0].settings
        put = {x: replace(rows[x], readings={**rows[x].readings, "t10": rows[y].readings["t10"]}) for x, y in ((a, b), (b, a))}
        return with_settings(book, put)

    return spoil


def with_formula(formula: str) -> Fault:
    """The period worked out otherwise."""

    def change(q: Quantity) -> Quantity:
        return replace(q, formula=formula) if q.id == "T" else q

    return lambda book: replace(book, quantities=tuple(change(q) for q in book.quantities))


def _swap(text: str) -> str:
    """Two digits before the point change places."""
    whole, point, rest = text.partition(".")
    return f"{whole[1]}{whole[0]}{point}{rest}" if len(whole) > 1 else f"{rest[0]}{point}{whole}{rest[1:]}"


PLANTED: dict[str, dict[str, Fault]] = {
    "Godwit": {"factor": with_formula("t_10"), "wrong_decimals": moved(2, 1, lambda t: t[:-1])},
    "Redshank": {
        "lone_repeat": moved(6, 2, lambda t: f"{float(t) + 2.5:.2f}"),
        "factor of ten": moved(1, 0, lambda t: f"{float(t) / 10:.2f}"),
    },
    "Avocet": {
        "blank": with_reading(3, "L", 0, None),
        "missing_repeat": with_reading(5, "t10", 2, None),
        "wrong_decimals": moved(0, 0, lambda t: t[:-1]),
    },
    "Curlew": {
        "exchanged": exchange(2, 5),
        "not_a_number": moved(7, 1, lambda t: f"ca. {t}"),
        "wrong_decimals": moved(0, 2, lambda t: t[:-1]),
    },
    "Dunlin": {
        "failed": with_formula("t_10/10 + L"),
        "missing_repeat": with_reading(4, "t10", 1, None),
        "lone_repeat": moved(1, 1, lambda t: f"{float(t) + 2:.2f}"),
    },
    "Knot": {
        "factor": with_formula("t_10"),
        "duplicate_setting": with_reading(4, "L", 0, "0.450"),
        "not_a_number": moved(6, 0, lambda t: t.replace(".", ":")),
    },
    "Sanderling": {"off_trend": lambda book: _scaled(book, 4, 1.3), "swapped": moved(6, 0, _swap), "blank": with_reading(1, "L", 0, None)},
}
"""By bench: nineteen faults, beside one lab book that nobody opens."""


def _scaled(book: LabBook, row: int, factor: float) -> LabBook:
    """All times of one row too long."""
    for repeat in range(3):
        book = moved(row, repeat, lambda t: f"{float(t) * factor:.2f}")(book)
    return book


@dataclass(frozen=True)
class Lesson:
    """The school, and the lab book of every bench by its name."""

    school: School
    books: dict[str, Book]


def make_lesson(count: int = 8, seed: int = 5) -> Lesson:
    """A class of so many benches. The first have the planted faults, one has not opened its lab book, the others are right."""
    school = make_school("lesson", "CODE33")
    practical, books = school.practical, {"Godwit": school.book}
    for i in range(count):
        name = BIRDS[i % len(BIRDS)] + (f" {i // len(BIRDS) + 1}" if i >= len(BIRDS) else "")
        bench, _ = Bench.objects.get_or_create(school_class=school.school_class, name=name)
        if not bench.seats.exists():
            person = Person.objects.create(username=f"sits-{i}", role=Person.Role.STUDENT, shown_name=f"Student {i}")
            Seat.objects.create(school_class=school.school_class, bench=bench, name=person.shown_name, person=person)
        book = books.setdefault(name, None) or open_book(practical, bench)  # type: ignore[arg-type]
        books[name] = book
        if name == "Plover":
            continue
        document = write_bench(make_plan(), Story(OVERHANGS), random.Random(seed + i))
        for spoil in PLANTED.get(name, {}).values():
            document = spoil(document)
        load_document(book, write_lab_book(document))
        open_stage(book, "read")
    keep_summaries(practical)
    return Lesson(school, {name: Book.objects.get(pk=book.pk) for name, book in books.items()})
