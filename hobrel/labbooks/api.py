"""Lab books over HTTP: read, follow, edit, undo, remark. Translates; decides nothing. Questions to one are in `asking_api`."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import BaseModel

from hobrel.classes import queries as classes
from hobrel.classes.models import Person
from hobrel.handins.queries import hand_ins_of, sum_up
from hobrel.labbooks import actions, beside, queries, remarks
from hobrel.labbooks.computed import write_view
from hobrel.labbooks.frames import frame_of, may_write
from hobrel.labbooks.models import Book, Hand, Presence
from hobrel.labbooks.overview import describe_classes
from hobrel.labbooks.pictures import find_picture, take_picture_in
from hobrel.labbooks.schemas import (
    BookAbout,
    BookBeside,
    BookNews,
    BookProgress,
    BookState,
    ClassOut,
    Dates,
    DoneIn,
    EditsIn,
    EditsOut,
    HandIn,
    HistoryEntry,
    OpenedIn,
    PastBook,
    PictureOut,
    PresentOut,
    RemarkIn,
    RemarkOut,
    RemarkPlace,
    ReplyIn,
    ReplyOut,
    SettleIn,
    StepIn,
    TurnDay,
    ViewAnswer,
)
from hobrel.labbooks.summaries import placed_marks
from hobrel.plans.models import Practical, Turn
from hobrel.server import policy
from hobrel.server.problems import ProblemOut, describe_problem

router = Router(tags=["lab books"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def _send(answer: bytes) -> HttpResponse:
    return HttpResponse(answer, content_type="application/json")


def _join(*parts: bytes) -> bytes:
    """Objects of JSON as one object. What the computing process has written is not read again here."""
    return b"{" + b",".join(part[1:-1] for part in parts) + b"}"


def _present(presences: list[Presence]) -> list[PresentOut]:
    return [PresentOut(name=p.person.shown_name, place=p.place) for p in presences]


def _remarks(book: Book, person: Person) -> list[RemarkOut]:
    return [
        RemarkOut(
            id=r.pk,
            stage=r.stage,
            text=r.text,
            author=classes.name_of(r.author),
            at=r.at,
            place=RemarkPlace.model_validate(r.place) if r.place else None,
            was=r.was if r.place and r.place["kind"] == "reading" else "",
            stands=remarks.stands(r, book.document) if r.place else "",  # type: ignore[arg-type]
            done=r.done,
            settled=r.settled,
            own=remarks.may_settle(r, person),
            replies=[ReplyOut(author=classes.name_of(a.author), by_teacher=a.by_teacher, text=a.text, at=a.at) for a in r.replies.all()],
        )
        for r in book.remarks.select_related("author").prefetch_related("replies__author")
    ]


def _written(kind: type[BaseModel], **fields: object) -> bytes:
    """Fields of an answer that are right by how they were made."""
    return kind.model_construct(**fields).model_dump_json().encode()


def _progress(book: Book, steps: actions.Steps) -> dict[str, Any]:
    undo, redo = steps.undo, steps.redo
    return {"revision": book.revision, "undo": undo.words if undo else "", "redo": redo.words.removeprefix("undid: ") if redo else ""}


def _news(book: Book, person: Person, place: str | None) -> dict[str, Any]:
    """What else there is, and who is here, for somebody who is at a place; neither for one who does not ask."""
    if place is None:
        return {"news": None, "present": None}
    return {"news": book.news, "present": [p.dict() for p in _present(actions.note_presence(book, person, place))]}


def _beside(book: Book, person: Person) -> dict[str, Any]:
    """The fields of a `BookBeside`."""
    hand_ins = hand_ins_of(book)
    turns = Turn.objects.filter(practical=book.practical_id, bench=book.bench_id)
    pool_open = book.practical.is_pool_open if book.practical else None
    return {
        "dates": describe_dates(book.practical),
        "turns": [TurnDay(condition=t.condition, day=t.day) for t in turns if t.day],
        "news": book.news,
        "remarks": _remarks(book, person),
        "pool_open": pool_open,
        "hand_ins": hand_ins,
        "placed": list(placed_marks(pool_open, sum_up(hand_ins))),
        "opened": queries.find_opened([book]).get(book.pk, []) if book.practical else None,
        "hand_up": book.practical is not None and Hand.objects.filter(book=book).exists(),
    }


def describe_dates(practical: Practical | None) -> Dates:
    """When what of a practical is open."""
    if practical is None:
        return Dates()
    return Dates(
        open_to=practical.open_to,
        readings_close=practical.readings_close,
        due=practical.due,
        late=practical.late,
        pool_opens=practical.pool_opens,
        marks_back=practical.marks_back,
    )


def _state(book: Book, person: Person, run: str) -> bytes:
    """A lab book as this person sees it from one of its runs."""
    # first, for it refuses what is no lab book
    view = write_view(book, run, "")
    frame = frame_of(book)
    about = _written(
        BookAbout,
        id=book.pk,
        practical=book.practical_id,
        owner=book.owner_id,
        plan=book.plan_id,
        class_name=frame.class_name,
        school=frame.school,
        bench=frame.bench,
        names=list(frame.names),
        can_edit=may_write(book, person),
        can_remark=book.practical is not None and classes.is_teacher(person),
        present=_present(queries.present_at(book, person)),
        **_beside(book, person),
    )
    rest = json.dumps({**_progress(book, actions.steps_of(book, person)), "tag": view.tag}).encode()
    assert view.whole is not None
    return _join(view.whole, rest, about)


@router.get("/classes", response=list[ClassOut])
def list_classes(request: HttpRequest) -> HttpResponse:
    return _send(json.dumps(describe_classes(classes.who(request))).encode())


@router.get("/books/{book_id}", response={200: BookState, 404: ProblemOut})
def read_book(request: HttpRequest, book_id: int, run: str = "") -> HttpResponse:
    person = classes.who(request)
    return _send(_state(policy.find_book(person, book_id), person, run))


@router.get("/books/{book_id}/view", response={200: ViewAnswer, 404: ProblemOut})
def view_book(
    request: HttpRequest, book_id: int, run: str = "", have: str = "", steps: bool = False, table: bool = False, place: str | None = None
) -> HttpResponse:
    """What follows from a lab book as it is now, or what has changed in that since the view of the tag `have`.

    With `steps` also what this person can take back; one whose own edit has just been answered knows. With `table` no more is worked out
    than somebody sees who writes readings; the view is not `complete` then. With `place` also the rest of a `BookNews`.
    """
    person = classes.who(request)
    book = policy.find_book(person, book_id)
    view = write_view(book, run, have, table)
    progress = _progress(book, actions.steps_of(book, person)) if steps else {"revision": book.revision, "undo": None, "redo": None}
    rest = {**progress, "tag": view.tag, "since": have if view.changes is not None else "", **_news(book, person, place)}
    parts = b'{"whole":' + (view.whole or b"null") + b',"changes":' + (view.changes or b"null") + b"}"
    return _send(_join(parts, json.dumps(rest).encode()))


@router.get("/books/{book_id}/changes", response={200: BookNews, 404: ProblemOut})
def follow_book(request: HttpRequest, book_id: int, place: str = "") -> HttpResponse:
    """Whether there is something new; also how others learn that this person is here, and where."""
    person = classes.who(request)
    book = policy.find_book(person, book_id)
    return _send(json.dumps({"revision": book.revision, **_news(book, person, place)}).encode())


@router.get("/books/{book_id}/beside", response={200: BookBeside, 404: ProblemOut})
def look_beside_book(request: HttpRequest, book_id: int) -> HttpResponse:
    """What stands beside a lab book: remarks, hand-ins, and what the class decides."""
    person = classes.who(request)
    return _send(_written(BookBeside, **_beside(policy.find_book(person, book_id), person)))


@router.post("/books/{book_id}/edits", response={200: EditsOut, **_REFUSALS})
def edit_book(request: HttpRequest, book_id: int, given: EditsIn) -> HttpResponse:
    """Make edits, and say of each what has come of it. What follows from them is asked for with `view`."""
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    outcomes, steps = actions.edit_book(book, person, [actions.Wanted(e.client_id, e.edit) for e in given.edits], given.place)
    answers = [
        {"client_id": str(e.client_id), "revision": o.revision, "refused": describe_problem(o.refused) if o.refused else None}
        for e, o in zip(given.edits, outcomes, strict=True)
    ]
    return _send(json.dumps({**_progress(book, steps), "answers": answers}).encode())


@router.post("/books/{book_id}/undo", response={200: BookProgress, **_REFUSALS})
def undo(request: HttpRequest, book_id: int, given: StepIn) -> BookProgress:
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    actions.undo(book, person, given.client_id)
    return BookProgress(**_progress(book, actions.steps_of(book, person)))


@router.post("/books/{book_id}/redo", response={200: BookProgress, **_REFUSALS})
def redo(request: HttpRequest, book_id: int, given: StepIn) -> BookProgress:
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    actions.redo(book, person, given.client_id)
    return BookProgress(**_progress(book, actions.steps_of(book, person)))


@router.get("/books/{book_id}/history", response={200: list[HistoryEntry], 404: ProblemOut})
def read_history(request: HttpRequest, book_id: int, setting: str = "", quantity: str = "", repeat: int = 0) -> list[HistoryEntry]:
    """Every edit, newest first; with a setting and a quantity only what happened to that cell."""
    book = policy.find_book(classes.who(request), book_id)
    records = queries.edits_of(book, (setting, quantity, repeat) if setting and quantity else None)
    return [HistoryEntry(revision=r.revision, author=classes.name_of(r.author), at=r.at, words=r.words) for r in records]


@router.get("/books/{book_id}/at/{revision}", response={200: PastBook, 404: ProblemOut})
def read_past(request: HttpRequest, book_id: int, revision: int) -> PastBook:
    """The lab book as it stood after so many edits, to look at."""
    book = policy.find_book(classes.who(request), book_id)
    return PastBook(revision=revision, document=queries.document_at(book, revision))


@router.get("/books/{book_id}/pictures/{key}", response={200: None, 404: ProblemOut})
def show_picture(request: HttpRequest, book_id: int, key: str) -> HttpResponse:
    """A picture that a lab book keeps. It never changes under its key."""
    found = find_picture(policy.find_book(classes.who(request), book_id), key)
    answer = HttpResponse(bytes(found.content), content_type=f"image/{found.kind}")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@router.post("/books/{book_id}/pictures", response={200: PictureOut, **_REFUSALS})
def bring_picture_in(request: HttpRequest, book_id: int, file: File[UploadedFile]) -> PictureOut:
    """Have a lab book keep a picture for its report. It is shown once an edit names it."""
    return PictureOut.model_validate(take_picture_in(policy.find_book(classes.who(request), book_id, "edit"), file))


@router.post("/books/{book_id}/hand", response={204: None, **_REFUSALS})
def raise_hand(request: HttpRequest, book_id: int, given: HandIn) -> tuple[int, None]:
    """Somebody of the bench raises or lowers a hand; a teacher only lowers it."""
    person = classes.who(request)
    book = policy.find_book(person, book_id, "remark" if classes.is_teacher(person) and not given.up else "edit")
    beside.raise_hand(book, person, given.up)
    return 204, None


@router.post("/books/{book_id}/opened", response={204: None, **_REFUSALS})
def open_stage(request: HttpRequest, book_id: int, given: OpenedIn) -> tuple[int, None]:
    """Somebody of the bench has come to a station."""
    beside.open_stage(policy.find_book(classes.who(request), book_id, "edit"), given.stage)
    return 204, None


@router.post("/books/{book_id}/remarks", response={200: list[RemarkOut], 409: ProblemOut, **_REFUSALS})
def write_remark(request: HttpRequest, book_id: int, given: RemarkIn) -> list[RemarkOut]:
    person = classes.who(request)
    book = policy.find_book(person, book_id, "remark")
    remarks.write_remark(book, person, given.stage, given.text, given.place.model_dump() if given.place else None)
    return _remarks(book, person)


@router.post("/remarks/{remark_id}/settle", response={200: list[RemarkOut], **_REFUSALS})
def settle_remark(request: HttpRequest, remark_id: int, given: SettleIn) -> list[RemarkOut]:
    """Fold a remark away, or take it up again: for who wrote it."""
    person = classes.who(request)
    remark = policy.find_remark(person, remark_id)
    remarks.settle_remark(remark, person, given.settled)
    return _remarks(remark.book, person)


@router.post("/remarks/{remark_id}/replies", response={200: list[RemarkOut], **_REFUSALS})
def answer_remark(request: HttpRequest, remark_id: int, given: ReplyIn) -> list[RemarkOut]:
    """A further word under a remark, by its bench or a teacher."""
    person = classes.who(request)
    remark = policy.find_remark(person, remark_id, "remark" if classes.is_teacher(person) else "edit")
    remarks.answer_remark(remark, person, given.text)
    return _remarks(remark.book, person)


@router.post("/remarks/{remark_id}/done", response={200: list[RemarkOut], **_REFUSALS})
def say_done(request: HttpRequest, remark_id: int, given: DoneIn) -> list[RemarkOut]:
    """The bench has done what a remark asks for."""
    person = classes.who(request)
    remark = policy.find_remark(person, remark_id, "edit")
    remarks.say_done(remark, given.done)
    return _remarks(remark.book, person)


@router.get("/phrases", response={200: list[str], 404: ProblemOut})
def list_phrases(request: HttpRequest) -> list[str]:
    """What a teacher has written in remarks lately."""
    return remarks.phrases_of(policy.need_teacher(classes.who(request)))
