"""Questions about what has been handed in, what was answered, and the marks."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db.models import BooleanField, Count, ExpressionWrapper, Q, QuerySet

from hobrel.classes.models import Person
from hobrel.classes.queries import name_of
from hobrel.handins.models import Answer, Mark
from hobrel.handins.schemas import (
    AnswerOut,
    GivenMark,
    GridRowOut,
    HandInOut,
    MarkOut,
    QueuedBench,
    QueuedHandIn,
    QueueOut,
)
from hobrel.labbooks.models import Book
from hobrel.labbooks.summaries import HandedIn
from hobrel.plans.models import Practical, Sitting
from hobrel.reports.models import HandIn

HEAVY = ("document", "analysis", "html", "pdf", "docx", "odt")


def _answered(found: QuerySet[HandIn]) -> QuerySet[HandIn]:
    return found.select_related("by", "answer__by").defer(*HEAVY)


def hand_ins_of(book: Book) -> list[HandInOut]:
    """All hand-ins of a lab book, first to last, with what teachers have said; marks where they are given back."""
    found = HandIn.objects.filter(book=book).annotate(words=ExpressionWrapper(~Q(docx=b"") | Q(html=""), BooleanField()))
    handed = list(_answered(found))
    practical = book.practical
    if practical is None or not handed:
        return []
    marks: dict[int, list[Mark]] = {}
    if practical.marks_are_back:
        for mark in Mark.objects.filter(hand_in__in=handed):
            marks.setdefault(mark.hand_in_id, []).append(mark)
    grid = grid_of(practical) if marks else []
    return [
        HandInOut(
            id=h.pk,
            number=h.number,
            at=h.at,
            by=name_of(h.by),
            revision=h.revision,
            words=h.words,
            late=is_late(h, practical),
            answer=describe_answer(h),
            marks=_given_marks(marks.get(h.pk, []), grid),
        )
        for h in handed
    ]


def grid_of(practical: Practical) -> list[GridRowOut]:
    """The marking grid of a practical, as its version of today has it."""
    rows: Iterable[dict[str, Any]] = practical.version.document.get("plan", {}).get("grid", ())
    return [GridRowOut(id=r["id"], title=r["title"], levels=r.get("levels", []), facts=r.get("facts", [])) for r in rows]


def _given_marks(marks: Sequence[Mark], grid: Sequence[GridRowOut]) -> list[GivenMark]:
    by_row = {mark.row: mark for mark in marks}
    given = []
    for row in grid:
        mark = by_row.get(row.id)
        if mark is None:
            continue
        level = mark.level if mark.level is not None and mark.level < len(row.levels) else None
        words = row.levels[level] if level is not None else ""
        given.append(GivenMark(title=row.title, level=words, place=0 if level is None else level + 1, of=len(row.levels), words=mark.words))
    return given


def is_late(handed: HandIn, practical: Practical) -> bool:
    """Whether it was handed in after the due date, as that is today."""
    return practical.due is not None and handed.at > practical.due


def describe_answer(handed: HandIn) -> AnswerOut | None:
    """What was said to a hand-in; None where nothing was yet."""
    answer: Answer | None = getattr(handed, "answer", None)
    if answer is None:
        return None
    return AnswerOut(verdict=answer.verdict, words=answer.words, by=name_of(answer.by), at=answer.at)


def describe_marks(handed: HandIn | None) -> list[MarkOut]:
    """The marks of a hand-in, as its teachers have them."""
    marks = handed.marks.select_related("by") if handed is not None else ()
    return [MarkOut(row=m.row, level=m.level, words=m.words, by=name_of(m.by), at=m.at) for m in marks]


def hand_in_before(handed: HandIn) -> HandIn | None:
    """The hand-in of the same lab book before this one."""
    return HandIn.objects.filter(book=handed.book_id, number__lt=handed.number).defer(*HEAVY).order_by("-number").first()


def was_returned(book: Book) -> bool:
    """Whether what a bench has handed in last was given back, to be handed in again."""
    return find_handed_in([book]).get(book.pk, HandedIn()).returned


def sum_up(hand_ins: Sequence[HandInOut]) -> HandedIn:
    """What has become of the hand-ins of a lab book, first to last."""
    last = hand_ins[-1].answer if hand_ins else None
    return HandedIn(len(hand_ins), last is not None and last.verdict == Answer.Verdict.RETURNED)


def find_handed_in(books: Iterable[Book]) -> dict[int, HandedIn]:
    """What has become of the hand-ins of lab books, by their keys; those of which nothing was handed in are left out."""
    found: dict[int, HandedIn] = {}
    for book, verdict in HandIn.objects.filter(book__in=books).order_by("number").values_list("book", "answer__verdict"):
        found[book] = HandedIn(found.get(book, HandedIn()).times + 1, verdict == Answer.Verdict.RETURNED)
    return found


def queue_of(practical: Practical) -> QueueOut:
    """What the benches of a practical have handed in: what waits for an answer comes first, by when; who has handed in nothing last."""
    handed: dict[int, list[QueuedHandIn]] = {}
    revisions: dict[int, int] = {}
    levels = Count("marks", filter=Q(marks__level__isnull=False))
    for h in _answered(HandIn.objects.filter(book__practical=practical).annotate(marked=levels)):
        revisions[h.book_id] = h.revision
        one = QueuedHandIn(
            id=h.pk,
            number=h.number,
            at=h.at,
            by=name_of(h.by),
            late=is_late(h, practical),
            answer=describe_answer(h),
            marked=h.marked,
        )
        handed.setdefault(h.book_id, []).append(one)
    names: dict[int, list[str]] = {}
    for bench, name in Sitting.objects.filter(practical=practical, until=None).order_by("seat__order").values_list("bench", "seat__name"):
        names.setdefault(bench, []).append(name)
    books = Book.objects.filter(practical=practical).only("revision", "bench").select_related("bench").order_by("bench__order")
    benches = [
        QueuedBench(
            book=book.pk,
            bench=book.bench.name,
            names=names.get(book.bench_id, []),
            changed_since=book.pk in revisions and book.revision > revisions[book.pk],
            hand_ins=handed.get(book.pk, []),
        )
        for book in books
    ]
    return QueueOut(
        title=practical.title,
        class_name=practical.school_class.name,
        due=practical.due,
        marks_back=practical.marks_back,
        given_back=practical.marks_are_back,
        grid=grid_of(practical),
        benches=sorted(benches, key=_place_in_queue),
    )


def _place_in_queue(bench: QueuedBench) -> tuple[int, float]:
    last = bench.hand_ins[-1] if bench.hand_ins else None
    if last is None:
        return 2, 0.0
    return (0 if last.answer is None else 1), last.at.timestamp()


def writers_until(handed: HandIn) -> list[tuple[Person | None, int]]:
    """Who has written in a lab book until it was handed in, and how many changes, most first."""
    edits = handed.book.edits.filter(revision__lte=handed.revision).order_by()
    counted = edits.values("author").annotate(n=Count("pk")).order_by("-n").values_list("author", "n")
    people = Person.objects.in_bulk([key for key, _ in counted if key])
    return [(people.get(key), n) for key, n in counted]
