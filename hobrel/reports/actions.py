"""Handing in: the lab book, its analysis and its report, frozen together."""

from __future__ import annotations

import datetime
import json
import re
import unicodedata
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from django.db.models import Count, Max, Min
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.classes.queries import local_now, name_of, paper_here, say_when
from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import convention_in
from hobrel.core.document.plan_part import StageName
from hobrel.core.document.plans import open_for_bench
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.changes import PartChange, find_changes
from hobrel.core.reporting.class_part import ClassShares
from hobrel.core.reporting.facts import MarkingFact, Writer
from hobrel.core.reporting.facts import gather_facts as see_facts
from hobrel.core.reporting.reading_sheet import build_reading_sheet
from hobrel.core.reporting.tree import Block, Drawing, Part, Photo, Report, Table
from hobrel.handins.queries import was_returned, writers_until
from hobrel.labbooks.actions import tell_news
from hobrel.labbooks.computed import analysis_in, ask_about
from hobrel.labbooks.frames import frame_of
from hobrel.labbooks.models import Book, EditRecord, KeptPicture, new_stamp
from hobrel.labbooks.queries import books_of
from hobrel.labbooks.summaries import shares_of
from hobrel.plans.actions import open_pool, wanted_in
from hobrel.plans.models import Practical, Sitting
from hobrel.reports.export import MEDIA_TYPES, ReportFiles, draw_block, export_report
from hobrel.reports.models import HandIn
from hobrel.server.problems import Problem, not_found
from hobrel.server.writing import writing


def make_report(opened: OpenBook, frame: ReportFrame) -> Report:
    """The report of a lab book."""
    return build_report(opened.computation, opened.analysis, frame)


def look_at_report(opened: OpenBook, frame: ReportFrame) -> Report:
    """The report without its drawings, which are asked for by themselves."""
    report = make_report(opened, frame)

    def without(block: Block) -> Block:
        return replace(block, figure=None, line=None) if isinstance(block, Drawing) else block

    return replace(report, parts=tuple(replace(p, blocks=tuple(without(b) for b in p.blocks)) for p in report.parts))


def draw_in_report(opened: OpenBook, frame: ReportFrame, key: str) -> str | None:
    """A drawing of a report by its key; None where there is none."""
    report = make_report(opened, frame)
    return next((draw_block(b) for p in report.parts for b in p.blocks if isinstance(b, Drawing) and b.key == key), None)


def frame_report(book: Book, day: datetime.date | None = None) -> ReportFrame:
    """What stands around a lab book in its report: bench and names, school, class and day; and who has written in it."""
    of, day = frame_of(book), day or local_now().date()
    who = ": ".join(x for x in (name_bench(of.bench, "Bench"), ", ".join(set_apart(name) for name in of.names)) if x)
    where = ", ".join(x for x in (of.school, of.class_name) if x)
    byline = tuple(x for x in (who, " · ".join(x for x in (where, say_day(day)) if x)) if x)
    return ReportFrame(byline, tuple(_say_writers(book)), _shares_of_class(book))


def _shares_of_class(book: Book) -> ClassShares | None:
    """What the benches of its practical bring to the pool, where it is open to them."""
    if book.practical is None or not book.practical.is_pool_open:
        return None
    version = open_for_bench(wanted_in(book.practical))
    return ClassShares(version.findings, tuple(shares_of(books_of(book.practical)).values()), book.bench.name, version.plan.conditions)


def name_bench(name: str, start: str) -> str:
    """A bench as it is called in a sentence: “bench Knot”, but “Bench 2” where that is its name; empty for none."""
    return name if not name or re.match(r"(bench|table|group|team)\b", name, re.IGNORECASE) else f"{start} {name}"


def set_apart(name: str) -> str:
    """A name for a sentence: one that is written from right to left stands in it as a whole and takes no number along (UAX 9, isolates)."""
    return f"\u2068{name}\u2069" if any(unicodedata.bidirectional(sign) in ("R", "AL") for sign in name or "") else name


def say_day(day: datetime.date) -> str:
    """“29 November 2026”."""
    return f"{day.day} {day:%B %Y}"


def _say_writers(book: Book) -> Iterator[str]:
    """A line for everybody who has written: how much, and when."""
    written = (
        EditRecord.objects.filter(book=book).values("author", "author__shown_name").annotate(n=Count("pk"), first=Min("at"), last=Max("at"))
    )
    here = local_now().tzinfo
    for row in written.order_by("first"):
        first, last = (row[end].astimezone(here).date() for end in ("first", "last"))
        when = f"on {say_day(first)}" if first == last else f"from {say_day(first)} to {say_day(last)}"
        yield f"{set_apart(row['author__shown_name']) or 'Somebody who has left'}: {row['n']} change{'' if row['n'] == 1 else 's'}, {when}"


def write_report(book: Book, frame: ReportFrame | None = None) -> ReportFiles:
    """The report of a lab book as it is now, with the photos in it.

    Raises
    ------
    CoreError
        Where the lab book cannot be worked out.
    """
    report: Report = ask_about(book, "", make_report, frame or frame_report(book))
    wanted = {b.picture for part in report.printed for b in part.blocks if isinstance(b, Photo)}
    photos = KeptPicture.objects.filter(key__in=wanted, uses__book=book.pk).values_list("key", "content") if wanted else ()
    return ReportFiles(report, {key: bytes(content) for key, content in photos})


def write_table(book: Book, key: str) -> ReportFiles:
    """A table of the report by its key, alone under the title.

    Raises
    ------
    Problem
        404 where there is none.
    """
    report = write_report(book).report
    tables = [b for part in report.parts for b in part.blocks if isinstance(b, Table) and b.key == key]
    if not tables:
        raise not_found()
    return ReportFiles(Report(report.title, report.byline, (Part("table", "", tuple(tables)),)))


def write_reading_sheet(book: Book) -> ReportFiles:
    """A blank sheet of a lab book or a plan, to write readings on by hand."""
    return ReportFiles(ask_about(book, "", build_reading_sheet))


def compare_hand_ins(before: HandIn, after: HandIn | Book) -> tuple[PartChange, ...]:
    """What has changed from one hand-in of a lab book to a later one, or to the lab book as it is now."""
    now = after.document
    # how numbers and words are written is the class's choice, and no change of the bench's
    convention = convention_in(now)
    wording = {"decimal_mark": convention.decimal_mark, "slope_word": convention.slope_word}
    then = {**before.document, "convention": {**before.document.get("convention", {}), **wording}}
    reports = [write_report(Book(pk=before.book_id, document=d, stamp=new_stamp()), ReportFrame()).report for d in (then, now)]
    return find_changes(*reports)


def gather_facts(handed: HandIn, opened: Sequence[StageName]) -> tuple[MarkingFact, ...]:
    """What can be seen of a hand-in, for who marks it; `opened` are the stations that its bench has opened."""
    writers = tuple(Writer(name_of(person), changes) for person, changes in writers_until(handed))
    frozen = Book(pk=handed.book_id, document=handed.document, stamp=new_stamp())
    facts: tuple[MarkingFact, ...] = ask_about(frozen, "", _see_facts, tuple(opened), writers)
    return facts


def _see_facts(opened: OpenBook, stations: tuple[StageName, ...], writers: tuple[Writer, ...]) -> tuple[MarkingFact, ...]:
    book, analysis = opened.computation.book, opened.analysis
    return see_facts(book, analysis, build_report(opened.computation, analysis, ReportFrame()), stations, writers)


def take_prints_away(books: Iterable[Book]) -> None:
    """Take away the files of what was handed in of these lab books, for they hold a name of which nothing may stay."""
    HandIn.objects.filter(book__in=list(books)).update(html="", pdf=b"", docx=b"", odt=b"")


def with_prints(handed: HandIn) -> HandIn:
    """A hand-in with its files. Where they were taken away they are printed anew from its frozen document, with the names that sit there
    now, for whoever looks first.
    """
    if handed.html:
        return handed
    frame = frame_report(handed.book, handed.at.astimezone(local_now().tzinfo).date())
    frozen = Book(pk=handed.book_id, document=handed.document, stamp=new_stamp())
    made = _write_all(write_report(frozen, frame))
    with writing():
        HandIn.objects.filter(pk=handed.pk, html="").update(**made)
    for ending, content in made.items():
        setattr(handed, ending, content)
    return handed


def _write_all(report: ReportFiles) -> dict[str, Any]:
    """A report in all its files, by the names of a hand-in's columns."""
    paper = paper_here()
    made: dict[str, Any] = {ending: export_report(report, ending, paper) for ending in MEDIA_TYPES}
    return made | {"html": made["html"].decode()}


def hand_in(book: Book, person: Person) -> HandIn:
    """Freeze the lab book as it is now.

    Raises
    ------
    Problem
        409 when nothing has changed since the last hand-in, or ``others_sit_here``; 403 ``too_late``.
    """
    practical = book.practical
    is_over = practical is not None and practical.due is not None and not practical.late and practical.due < timezone.now()
    if is_over and not was_returned(book):
        raise Problem(403, "too_late", f"This was due on {say_when(practical.due)}, and cannot be handed in any more. Ask your teacher.")
    document, names = book.document, frame_of(book).names  # read first, so that all that is frozen is of one revision
    made = _write_all(write_report(book))
    analysis = json.loads(ask_about(book, "", analysis_in, as_json=True))
    with writing():
        last = HandIn.objects.filter(book=book).order_by("-number").first()
        if last is not None and last.revision == book.revision:
            raise Problem(409, "handed_in", "This is already handed in; nothing has changed since.")
        if frame_of(book).names != names:
            # one who was erased meanwhile would stay in what has just been printed
            raise Problem(409, "others_sit_here", "Who sits at this bench has changed this moment. Hand in once more.")
        tell_news(book)
        handed = HandIn.objects.create(
            book=book, number=last.number + 1 if last else 1, revision=book.revision, by=person, document=document,
            analysis=analysis, **made,
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
