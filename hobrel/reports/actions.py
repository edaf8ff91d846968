"""Handing in: the lab book, its analysis and its report, frozen together."""

from __future__ import annotations

import json
from typing import Literal

from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.classes.queries import local_now, say_when
from hobrel.labbooks.actions import tell_news
from hobrel.labbooks.computed import analysis_in, ask_about
from hobrel.labbooks.frames import frame_of
from hobrel.labbooks.models import Book, new_stamp
from hobrel.plans.actions import open_pool
from hobrel.plans.models import Practical, Sitting
from hobrel.reports.document import ReportDocument, ReportFrame, build_report
from hobrel.reports.export import export_html, export_pdf
from hobrel.reports.models import HandIn
from hobrel.server.problems import Problem
from hobrel.server.writing import writing


def write_report(book: Book, pictures: Literal["inside", "beside"]) -> ReportDocument:
    """The report of a lab book as it is now.

    Raises
    ------
    CoreError
        Where the lab book cannot be worked out.
    """
    of = frame_of(book)
    frame = ReportFrame(of.school, of.class_name, of.bench, of.names, local_now().date())
    report: ReportDocument = ask_about(book, "", build_report, frame, pictures)
    return report


def reprint(handed: HandIn) -> None:
    """Print a hand-in anew from its frozen document, with the names that sit there now: for one of whom nothing may stay."""
    of = frame_of(handed.book)
    frame = ReportFrame(of.school, of.class_name, of.bench, of.names, handed.at.astimezone(local_now().tzinfo).date())
    frozen = Book(pk=handed.book_id, document=handed.document, stamp=new_stamp())
    html = export_html(ask_about(frozen, "", build_report, frame, "inside"))
    pdf = export_pdf(ask_about(frozen, "", build_report, frame, "beside"))
    with writing():
        HandIn.objects.filter(pk=handed.pk).update(html=html, pdf=pdf)


def hand_in(book: Book, person: Person) -> HandIn:
    """Freeze the lab book as it is now.

    Raises
    ------
    Problem
        409 when nothing has changed since the last hand-in; 403 ``too_late``.
    """
    practical = book.practical
    if practical is not None and practical.due is not None and not practical.late and practical.due < timezone.now():
        raise Problem(403, "too_late", f"This was due on {say_when(practical.due)}, and cannot be handed in any more. Ask your teacher.")
    document = book.document  # read first, so that all that is frozen is of one revision
    html, pdf = export_html(write_report(book, "inside")), export_pdf(write_report(book, "beside"))
    analysis = json.loads(ask_about(book, "", analysis_in, as_json=True))
    with writing():
        last = HandIn.objects.filter(book=book).order_by("-number").first()
        if last is not None and last.revision == book.revision:
            raise Problem(409, "handed_in", "This is already handed in; nothing has changed since.")
        tell_news(book)
        handed = HandIn.objects.create(
            book=book, number=last.number + 1 if last else 1, revision=book.revision, by=person, document=document,
            analysis=analysis, html=html, pdf=pdf,
        )  # fmt: skip
    if practical is not None and not practical.is_pool_open and _all_are_in(practical):
        open_pool(practical, True)
    return handed


def _all_are_in(practical: Practical) -> bool:
    """Whether the pool opens by itself when all benches have handed in, and they have."""
    if practical.version.document.get("plan", {}).get("pool") != "all_in":
        return False
    benches = set(Sitting.objects.filter(practical=practical, until=None).values_list("bench", flat=True))
    return benches <= set(HandIn.objects.filter(book__practical=practical).values_list("book__bench", flat=True))
