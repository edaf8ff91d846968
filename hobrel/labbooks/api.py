"""Lab books over HTTP: read, follow, edit, undo, remark. Translates; decides nothing. Questions to one are in `asking_api`."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel

from hobrel.classes import queries as classes
from hobrel.classes.models import Person
from hobrel.labbooks import actions, queries
from hobrel.labbooks.computed import Standing, summary_of, write_view
from hobrel.labbooks.models import Book
from hobrel.labbooks.policy import find_book, find_remark
from hobrel.labbooks.schemas import (
    BenchSummary,
    BookAbout,
    BookChanges,
    BookNews,
    BookProgress,
    BookState,
    BookWork,
    ClassOut,
    EditIn,
    HandInOut,
    HistoryEntry,
    PastBook,
    PracticalOut,
    PresentOut,
    RemarkIn,
    RemarkOut,
    SettleIn,
    StepIn,
)
from hobrel.plans.models import Practical
from hobrel.plans.queries import practicals_of
from hobrel.reports.queries import count_hand_ins, hand_ins_of
from hobrel.server.problems import ProblemOut

router = Router(tags=["lab books"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def _send(answer: bytes) -> HttpResponse:
    return HttpResponse(answer, content_type="application/json")


def _join(*parts: bytes) -> bytes:
    """Objects of JSON as one object. What the computing process has written is not read again here."""
    return b"{" + b",".join(part[1:-1] for part in parts) + b"}"


def _present(book: Book, person: Person) -> list[PresentOut]:
    return [PresentOut(name=p.person.shown_name, place=p.place) for p in queries.present_at(book, person)]


def _remarks(book: Book) -> list[RemarkOut]:
    return [
        RemarkOut(id=r.pk, stage=r.stage, text=r.text, author=r.author.shown_name, at=r.at, settled=r.settled)
        for r in book.remarks.select_related("author")
    ]


def _written(kind: type[BaseModel], **fields: object) -> bytes:
    """Fields of an answer that are right by how they were made."""
    return kind.model_construct(**fields).model_dump_json().encode()


def _work(book: Book, run: str, steps: actions.Steps, handed_in: int) -> bytes:
    """The parts of an answer that an edit changes, seen from one of the runs."""
    # first, for it refuses what is no lab book
    view = write_view(book, run, Standing(book.practical.pool_open, handed_in))
    rest = _written(
        BookProgress,
        revision=book.revision,
        run_order=[r["id"] for r in book.document["runs"]],
        undo=steps.undo.words if steps.undo else "",
        redo=steps.redo.words.removeprefix("undid: ") if steps.redo else "",
    )
    return _join(view, rest)


def _send_work(book: Book, run: str, steps: actions.Steps) -> HttpResponse:
    return _send(_work(book, run, steps, count_hand_ins([book]).get(book.pk, 0)))


def _state(book: Book, person: Person, run: str) -> bytes:
    """A lab book as this person sees it from one of its runs."""
    hand_ins = hand_ins_of(book)
    school_class = book.practical.school_class
    teacher = classes.teaches(person, school_class)
    about = _written(
        BookAbout,
        id=book.pk,
        practical=book.practical_id,
        class_name=school_class.name,
        school=school_class.school,
        bench=book.bench.name,
        names=classes.names_at(book.bench),
        can_edit=not teacher,
        can_remark=teacher,
        present=_present(book, person),
        remarks=_remarks(book),
        prompts=book.practical.prompts,
        pool_open=book.practical.pool_open,
        hand_ins=[HandInOut(id=h.pk, number=h.number, at=h.at, by=h.by.shown_name, revision=h.revision) for h in hand_ins],
    )
    return _join(_work(book, run, actions.steps_of(book, person), len(hand_ins)), about)


def _summary(book: Book, handed_in: int, open_remarks: int) -> BenchSummary:
    found = summary_of(book, Standing(book.practical.pool_open, handed_in))
    return BenchSummary(
        book=book.pk, bench=book.bench.name, names=classes.names_at(book.bench), stages=list(found.stages), finding=found.finding,
        slips=found.slips, handed_in=handed_in, open_remarks=open_remarks, trouble=found.trouble,
    )  # fmt: skip


def _practical(practical: Practical, person: Person) -> PracticalOut:
    bench = None if classes.is_teacher(person) else classes.bench_of(person)
    if bench is not None:
        actions.open_book(practical, bench)
    books = [b for b in queries.books_of(practical) if classes.is_teacher(person) or b.bench == bench]
    handed_in, remarks = count_hand_ins(books), queries.count_open_remarks(books)
    return PracticalOut(
        id=practical.pk, title=practical.title, given_out=practical.given_out, pool_open=practical.pool_open,
        question=practical.document.get("question", ""), benches=[_summary(b, handed_in.get(b.pk, 0), remarks.get(b.pk, 0)) for b in books],
    )  # fmt: skip


@router.get("/classes", response=list[ClassOut])
def list_classes(request: HttpRequest) -> list[ClassOut]:
    person = classes.who(request)
    return [
        ClassOut(
            id=c.pk, name=c.name, school=c.school, year=c.year, join_code=c.join_code if classes.is_teacher(person) else "",
            practicals=[_practical(p, person) for p in practicals_of(c)],
        )
        for c in classes.classes_of(person)
    ]  # fmt: skip


@router.get("/books/{book_id}", response={200: BookState, 404: ProblemOut})
def read_book(request: HttpRequest, book_id: int, run: str = "") -> HttpResponse:
    person = classes.who(request)
    return _send(_state(find_book(person, book_id), person, run))


@router.get("/books/{book_id}/changes", response={200: BookChanges, 404: ProblemOut})
def follow_book(request: HttpRequest, book_id: int, since: int, place: str = "", run: str = "") -> HttpResponse:
    """What is new since a revision; also how others learn that this person is here, and where."""
    person = classes.who(request)
    book = find_book(person, book_id)
    actions.note_presence(book, person, place)
    state = _state(book, person, run) if book.revision != since else b"null"
    rest = _written(BookNews, present=_present(book, person), remarks=_remarks(book), pool_open=book.practical.pool_open)
    return _send(_join(b'{"state":' + state + b"}", rest))


@router.post("/books/{book_id}/edits", response={200: BookWork, **_REFUSALS})
def edit_book(request: HttpRequest, book_id: int, given: EditIn, run: str = "") -> HttpResponse:
    person = classes.who(request)
    book = find_book(person, book_id, "edit")
    return _send_work(book, run, actions.edit_book(book, person, given.edit, given.client_id))


@router.post("/books/{book_id}/undo", response={200: BookWork, **_REFUSALS})
def undo(request: HttpRequest, book_id: int, given: StepIn, run: str = "") -> HttpResponse:
    person = classes.who(request)
    book = find_book(person, book_id, "edit")
    return _send_work(book, run, actions.undo(book, person, given.client_id))


@router.post("/books/{book_id}/redo", response={200: BookWork, **_REFUSALS})
def redo(request: HttpRequest, book_id: int, given: StepIn, run: str = "") -> HttpResponse:
    person = classes.who(request)
    book = find_book(person, book_id, "edit")
    return _send_work(book, run, actions.redo(book, person, given.client_id))


@router.get("/books/{book_id}/history", response={200: list[HistoryEntry], 404: ProblemOut})
def read_history(request: HttpRequest, book_id: int, setting: str = "", quantity: str = "", repeat: int = 0) -> list[HistoryEntry]:
    """Every edit, newest first; with a setting and a quantity only what happened to that cell."""
    book = find_book(classes.who(request), book_id)
    records = queries.edits_of(book, (setting, quantity, repeat) if setting and quantity else None)
    return [HistoryEntry(revision=r.revision, author=r.author.shown_name, at=r.at, words=r.words) for r in records]


@router.get("/books/{book_id}/at/{revision}", response={200: PastBook, 404: ProblemOut})
def read_past(request: HttpRequest, book_id: int, revision: int) -> PastBook:
    """The lab book as it stood after so many edits, to look at."""
    book = find_book(classes.who(request), book_id)
    return PastBook(revision=revision, document=queries.document_at(book, revision))


@router.post("/books/{book_id}/remarks", response={200: list[RemarkOut], **_REFUSALS})
def write_remark(request: HttpRequest, book_id: int, given: RemarkIn) -> list[RemarkOut]:
    person = classes.who(request)
    book = find_book(person, book_id, "remark")
    actions.write_remark(book, person, given.stage[:12], given.text[:2000])
    return _remarks(book)


@router.post("/remarks/{remark_id}/settle", response={200: list[RemarkOut], **_REFUSALS})
def settle_remark(request: HttpRequest, remark_id: int, given: SettleIn) -> list[RemarkOut]:
    remark = find_remark(classes.who(request), remark_id)
    actions.settle_remark(remark, given.settled)
    return _remarks(remark.book)
