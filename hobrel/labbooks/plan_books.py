"""Plans: the lab books that they are written in, the versions that are given out, and what benches begin with. See decision 33."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import date
from typing import Any

from django.db.models import QuerySet
from django.db.models.fields.json import KeyTextTransform

from hobrel.classes.models import Person, SchoolClass
from hobrel.core.document.lab_book import LabBook, Log, read_lab_book, write_lab_book
from hobrel.core.document.plans import freeze_plan
from hobrel.labbooks.actions import lay_out_books, load_document
from hobrel.labbooks.models import Book
from hobrel.labbooks.pictures import MadePicture, hand_pictures_on, keep_picture
from hobrel.plans.actions import begin_practical, keep_version
from hobrel.plans.models import Plan, PlanVersion, Practical
from hobrel.server.writing import writing


def write_plan(owner: Person, draft: LabBook, of: Book | None = None, pictures: Iterable[MadePicture] = ()) -> Plan:
    """Keep a plan in a lab book of its own, which its owner goes on writing. It keeps these pictures, and those that it names of the lab
    book that it was made `of`.
    """
    document = write_lab_book(draft)
    with writing():
        plan = Plan.objects.create(owner=owner)
        book = Book.objects.create(owner=owner, plan=plan, document={})
        load_document(book, document)
        for made in pictures:
            keep_picture(book, made)
        if of is not None:
            hand_pictures_on(document, of, book)
    return plan


def plans_of(person: Person) -> QuerySet[Plan]:
    """The plans that somebody writes, with their titles, by these; those that colleagues share with them are among them."""
    own = Plan.objects.filter(owner=person) | Plan.objects.filter(book__shared_with=person)
    return own.distinct().annotate(title=KeyTextTransform("title", "book__document")).order_by("title", "pk")


def frozen(plan: Plan) -> dict[str, Any]:
    """A plan as it is written now, as the document of a version."""
    book = Book.objects.get(plan=plan)
    document = freeze_plan(read_lab_book(book.document))
    runs = tuple(replace(run, log=_with_columns(book, run.log)) if run.log else run for run in document.runs)
    return write_lab_book(replace(document, runs=runs))


def freeze(plan: Plan) -> PlanVersion:
    """The version of a plan as it is written now."""
    with writing():
        version = keep_version(plan, frozen(plan))
        hand_pictures_on(version.document, plan.book, version)
    return version


def _with_columns(book: Book, log: Log) -> Log:
    """A log that is given holds its columns: a version rests on no other lab book."""
    columns = book.logs.get(key=log.kept).columns if log.kept else log.columns
    return replace(log, columns={key: tuple(texts) for key, texts in columns.items()}, kept="")


def give_out(plan: Plan, school_class: SchoolClass, day: date) -> Practical:
    """Start a practical with a plan as it is written now, with a lab book for each bench."""
    with writing():
        practical = begin_practical(freeze(plan), school_class, day)
        lay_out_books([practical])
    return practical
