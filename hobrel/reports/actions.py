"""Handing in: the lab book, its analysis and its report, frozen together."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone
from pydantic import TypeAdapter

from hobrel.classes.models import Person
from hobrel.classes.queries import names_at
from hobrel.core.presentation.results import Analysis
from hobrel.labbooks.models import Book
from hobrel.labbooks.queries import analysis_of, document_of
from hobrel.reports.document import ReportMatter
from hobrel.reports.export import export_html, export_pdf
from hobrel.reports.models import HandIn
from hobrel.server.problems import Problem

_analysis_adapter = TypeAdapter(Analysis)


def gather_matter(book: Book) -> ReportMatter:
    """All that the report of a lab book is made from, now."""
    school_class = book.practical.school_class
    return ReportMatter(
        document_of(book), analysis_of(book), school_class.school, school_class.name, book.bench.name, tuple(names_at(book.bench)),
        timezone.localdate(),
    )  # fmt: skip


def hand_in(book: Book, person: Person) -> HandIn:
    """Freeze the lab book as it is now.

    Raises
    ------
    Problem
        409 when nothing has changed since the last hand-in.
    """
    matter = gather_matter(book)
    html, pdf = export_html(matter), export_pdf(matter)
    with transaction.atomic():
        last = HandIn.objects.filter(book=book).order_by("-number").first()
        if last is not None and last.revision == book.revision:
            raise Problem(409, "handed_in", "This is already handed in; nothing has changed since.")
        return HandIn.objects.create(
            book=book, number=last.number + 1 if last else 1, revision=book.revision, by=person, document=book.document,
            analysis=_analysis_adapter.dump_python(matter.analysis, mode="json"), html=html, pdf=pdf,
        )  # fmt: skip
