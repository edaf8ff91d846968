"""The only writers of lab books: making one, editing, undoing, presence, remarks. Each change is one transaction."""

from __future__ import annotations

import copy
import hashlib
import json
import uuid
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any, TypeVar, get_args

from django.db import IntegrityError, OperationalError, transaction
from django.db.models import F
from django.utils import timezone

from hobrel.classes.models import Bench, Person
from hobrel.classes.queries import name_of, say_when
from hobrel.core.document.lab_book import convention_in, read_lab_book
from hobrel.core.document.plan_part import StageName
from hobrel.core.errors import CoreError
from hobrel.core.presentation.wording import reword_text
from hobrel.labbooks.edits.gates import Gate, check_gate
from hobrel.labbooks.edits.kinds import Edit
from hobrel.labbooks.edits.offers import find_offers
from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches, find_reference, invert, place_of, touches
from hobrel.labbooks.edits.registry import apply_edit
from hobrel.labbooks.edits.withheld import bring_in_what_is_due
from hobrel.labbooks.models import Book, EditRecord, KeptLog, OpenedStage, Presence, new_stamp
from hobrel.labbooks.pictures import hand_pictures_on
from hobrel.labbooks.summaries import note_summary
from hobrel.plans.actions import bench_document
from hobrel.plans.models import Practical, Sitting
from hobrel.server.prepared import Select, Update
from hobrel.server.problems import Problem, not_found
from hobrel.server.writing import SENT_AGAIN, writing

T = TypeVar("T")
PRESENT_FOR = timedelta(seconds=25)
SIGHTING_EVERY = timedelta(seconds=10)
MOST_TURNS = 20
LONGEST_PLACE = 120
Kind = EditRecord.Kind
LogColumns = Mapping[str, list[str]]
_SIGHTINGS = Select(lambda book: Presence.objects.filter(book=book).select_related("person"), int)
_MOVE = Update(
    lambda book, person, place, now: (Presence.objects.filter(book=book, person=person), {"place": place, "seen": now}),
    *(int, int, str, datetime),
)
_WRITE = Update(
    lambda book, was, document, revision, stamp: (
        Book.objects.filter(pk=book, stamp=was),
        {"document": document, "revision": revision, "stamp": stamp},
    ),
    *(int, str, dict, int, str),
)


def open_book(practical: Practical, bench: Bench) -> Book:
    """The bench's lab book of a practical, made from the practical's document when it is opened first."""
    document = bench_document(practical)
    book, made = Book.objects.get_or_create(practical=practical, bench=bench, defaults={"document": document})
    if made:
        hand_pictures_on(document, practical.version, book)
        if any(run["log"] for run in document["runs"]):
            load_document(book, document)
    return book


def lay_out_books(practicals: Iterable[Practical]) -> None:
    """Have a lab book for each bench where somebody sits in these practicals, so that a teacher sees who has not begun. One that nobody
    has opened, of a bench where nobody sits any more, goes.
    """
    for practical in practicals:
        with writing():
            sits = set(Sitting.objects.filter(practical=practical, until=None).values_list("bench", flat=True))
            practical.books.filter(revision=0, opened_stages=None, remarks=None).exclude(bench__in=sits).delete()
            there = set(practical.books.values_list("bench", flat=True))
            for bench in Bench.objects.filter(pk__in=sits - there).order_by("pk"):
                open_book(practical, bench)


def open_books(person: Person, practicals: Iterable[Practical]) -> None:
    """Have the lab books made of the benches where somebody sits in these practicals, as far as there are none yet."""
    of = {practical.pk: practical for practical in practicals}
    opened = set(Book.objects.filter(practical__in=of).values_list("practical", "bench"))
    for sitting in Sitting.objects.filter(practical__in=of, seat__person=person, until=None).select_related("bench"):
        if (sitting.practical_id, sitting.bench_id) not in opened:
            open_book(of[sitting.practical_id], sitting.bench)


@dataclass(frozen=True)
class Steps:
    """What one person can take back, and take back again."""

    undo: EditRecord | None
    redo: EditRecord | None


@dataclass(frozen=True)
class Wanted:
    """A change that somebody wants made. `columns` are those of a log that it brings in."""

    client_id: uuid.UUID
    edit: Edit
    columns: LogColumns | None = None


@dataclass(frozen=True)
class Outcome:
    """What has come of a change: the revision that it made, or why it was refused."""

    revision: int | None
    refused: Problem | None = None


def edit_book(book: Book, author: Person, wanted: Sequence[Wanted], place: str | None = None) -> tuple[list[Outcome], Steps]:
    """Make changes one after the other, each by itself, and bring `book` to what it is afterwards; also what the author can take back then.
    With `place` it is noted that the author is there, if anybody has seen them in the lab book before.

    The same change under the same `client_id` again changes nothing, so that what is sent twice is done once. One that is refused leaves
    the others: as `apply_edit`; 409 ``same_id`` for another change under an id that has been used.
    """

    def make(changing: _Changing) -> tuple[list[Outcome], Steps]:
        if place is not None:
            changing.seen = author, place
        outcomes = [_outcome(changing, author, w) for w in wanted]
        # what has just been made is what can be taken back
        return outcomes, Steps(changing.records[-1], None) if changing.records else steps_of(book, author)

    return _change(book, make, [w.client_id for w in wanted])


def _outcome(changing: _Changing, author: Person, wanted: Wanted) -> Outcome:
    edit = wanted.edit.signed(author.shown_name)
    asked = {"type": edit.type, **edit.model_dump(mode="json", exclude_unset=True)}
    known = changing.known.get(wanted.client_id)
    if known is not None:
        if known.change == asked:
            return Outcome(known.revision)
        return Outcome(None, Problem(409, "same_id", "Another change was sent under this id before. Make this one again."))
    try:
        if (log := edit.brought_log) is not None:
            changing.bring_log(log, wanted.columns)
        applied = apply_edit(changing.document, edit)
        check_gate(gate_of(changing.book), changing.document, applied.patches)
        applied = bring_in_what_is_due(changing.document, applied, changing.version)
        made = {"kind": Kind.DO, "change": asked, "patches": applied.patches}
        record = changing.keep(applied.document, words=applied.words, author=author, client_id=wanted.client_id, **made)
    except Problem as problem:
        return changing.refuse(problem)
    except CoreError as trouble:
        return changing.refuse(Problem(422, trouble.code, trouble.message, trouble.fields))
    return Outcome(record.revision)


class _Changing:
    """A lab book while it is being changed: what it has become so far, and what is to be written of it."""

    def __init__(self, book: Book, known: Mapping[uuid.UUID, EditRecord]) -> None:
        self.book = book
        self.document: dict[str, Any] = book.document
        self.known = dict(known)
        self.is_refused = False
        self.records: list[EditRecord] = []
        self.logs: dict[str, LogColumns] = {}
        self.taken_back: list[EditRecord] = []
        self.seen: tuple[Person, str] | None = None

    def keep(self, document: dict[str, Any], *, words: str, **about: Any) -> EditRecord:
        """Take the document after a change as the next revision."""
        read_lab_book(document)  # refuses anything that would not be a lab book any more
        revision = self.book.revision + len(self.records) + 1
        record = EditRecord(book=self.book, revision=revision, words=words[:300], **about)
        self.document = document
        self.records.append(record)
        self.known[record.client_id] = record
        return record

    def version(self) -> dict[str, Any] | None:
        """The version of the plan that its practical is; none where it has no practical."""
        practical = self.book.practical
        return practical.version.document if practical else None

    def refuse(self, problem: Problem) -> Outcome:
        self.is_refused = True
        words = reword_text(problem.message, convention_in(self.document))
        return Outcome(None, Problem(problem.status, problem.code, words, problem.fields))

    def bring_log(self, key: str, columns: LogColumns | None) -> None:
        if columns is not None:
            self.logs[key] = columns
        elif key not in self.logs and not self.book.logs.filter(key=key).exists():
            raise Problem(409, "gone", "This log is not in the lab book. Bring its file in again.")


def _change(book: Book, make: Callable[[_Changing], T], ids: Sequence[uuid.UUID]) -> T:
    """Work a change out on the document as `book` has it, and write it unless somebody else has written meanwhile; then on the newest.

    Only the writing holds others up. Whether something under one of the `ids` has been done before is looked up where it could be so: when
    something is refused, or the database knows an id already.
    """
    known: dict[uuid.UUID, EditRecord] | None = None
    for _ in range(MOST_TURNS):
        changing = _Changing(book, known or {})
        found = make(changing)
        if known is None and changing.is_refused:
            known = _known(book, ids)
            if known:
                _read_again(book)
                continue
        try:
            if not changing.records or _write(changing):
                return found
        except IntegrityError:
            known = _known(book, ids)
            if not known:
                raise
        _read_again(book)
    raise OperationalError("this lab book is being written in too often")


def _known(book: Book, ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, EditRecord]:
    return {r.client_id: r for r in EditRecord.objects.filter(book=book, client_id__in=ids)}


def _write(changing: _Changing) -> bool:
    """Write what has been worked out. False where the lab book is not as it was read any more."""
    book, last = changing.book, changing.records[-1]
    document, revision, stamp = changing.document, last.revision, new_stamp()
    with writing(SENT_AGAIN):
        if not _WRITE.run(book.pk, book.stamp, document, revision, stamp):
            return False
        EditRecord.objects.bulk_create(changing.records)
        for key, columns in changing.logs.items():
            KeptLog.objects.get_or_create(book=book, key=key, defaults={"columns": columns})
        for record in changing.taken_back:
            EditRecord.objects.filter(pk=record.pk).update(taken_back=True)
        if changing.seen is not None:
            # here it costs no writing of its own
            person, place = changing.seen
            _MOVE.run(book.pk, person.pk, place[:LONGEST_PLACE], timezone.now())
        book.document, book.revision, book.stamp = document, revision, stamp
        transaction.on_commit(lambda: note_summary(book))
    return True


def _read_again(book: Book) -> None:
    try:
        book.refresh_from_db(fields=["document"])
    except Book.DoesNotExist as trouble:
        raise not_found() from trouble


def gate_of(book: Book) -> Gate:
    """What the class has opened of a lab book now."""
    practical = book.practical
    if practical is None:
        return Gate()
    closes = practical.readings_close
    return Gate(practical.open_to, say_when(closes) if closes is not None and closes <= timezone.now() else "")


def digest_log(columns: LogColumns) -> str:
    """The key that a log is kept under."""
    return hashlib.sha256(json.dumps(columns, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def steps_of(book: Book, author: Person) -> Steps:
    """The person's own last change that stands, and the last of theirs that they have undone since."""
    standing = undone = None
    since_last_do = True
    own = book.edits.filter(author=author).order_by("-revision").defer("change", "patches")
    for record in own.iterator(chunk_size=20):
        since_last_do = since_last_do and record.kind != Kind.DO
        if record.taken_back:
            continue
        if record.kind != Kind.UNDO:
            standing = standing or record
        elif since_last_do:
            undone = undone or record
        if standing and (undone or not since_last_do):
            break
    return Steps(standing, undone)


def undo(book: Book, author: Person, client_id: uuid.UUID) -> None:
    """Take the person's own last change back, and nothing of anybody else's; refused where something stands on it."""
    _change(book, lambda changing: _step(changing, author, client_id, Kind.UNDO), [client_id])


def redo(book: Book, author: Person, client_id: uuid.UUID) -> None:
    """Make the change again that the person undid last."""
    _change(book, lambda changing: _step(changing, author, client_id, Kind.REDO), [client_id])


def _step(changing: _Changing, author: Person, client_id: uuid.UUID, kind: EditRecord.Kind) -> None:
    book = changing.book
    if client_id in changing.known or _known(book, [client_id]):
        return
    steps = steps_of(book, author)
    target = steps.undo if kind == Kind.UNDO else steps.redo
    if target is None:
        message = "There is nothing of yours to take back." if kind == Kind.UNDO else "There is nothing to do again."
        raise Problem(409, "nothing_to_undo", message)
    back = invert(target.patches)
    check_gate(gate_of(book), book.document, back)
    try:
        document = apply_patches(book.document, back)
    except Stands as trouble:
        raise _built_on(book, target, trouble.patch) from trouble
    if (standing := find_reference(document, back)) is not None:
        raise _built_on(book, target, standing)
    prefix = "undid: " if kind == Kind.UNDO else "did again: "
    words = prefix + target.words.removeprefix("undid: ").removeprefix("did again: ")
    changing.keep(document, words=words, author=author, client_id=client_id, kind=kind, undoes=target, change={"type": kind}, patches=back)
    changing.taken_back.append(target)


def _built_on(book: Book, target: EditRecord, patch: Patch) -> Problem:
    """Somebody's work stands on what would be taken back: whose, which, and what may be wanted instead."""
    place = place_of(patch)
    since = book.edits.filter(revision__gt=target.revision).select_related("author").order_by("-revision")
    other = next((r for r in since if r.author_id != target.author_id and any(touches(p, place) for p in r.patches)), None)
    words = "Something stands on this change by now, so it cannot be taken back by itself."
    if other is not None:
        words = f"{name_of(other.author)} has built on this since ({other.words}), so it cannot be taken back by itself."
    offers = [asdict(offer) for offer in find_offers(book.document, invert(target.patches))]
    what_then = "Choose what should stand." if offers else "Change it by hand, or look at the history."
    return Problem(409, "built_on", f"{words} {what_then}", {"offers": offers})


def amend_book(book: Book, author: Person, client_id: uuid.UUID, patches: Sequence[Patch], words: str) -> None:
    """Change a lab book as its plan has changed, in one edit of the teacher's; once, under one id.

    Raises
    ------
    Stands
        Where somebody has changed one of the places meanwhile.
    """

    def make(changing: _Changing) -> None:
        if client_id in changing.known:
            return
        document = apply_patches(changing.document, patches)
        changing.keep(
            document, words=words, author=author, client_id=client_id, kind=Kind.DO, change={"type": "amend"}, patches=list(patches)
        )

    _change(book, make, [client_id])


def take_amendment_back(book: Book, author: Person, amended: uuid.UUID, client_id: uuid.UUID) -> bool:
    """Take back what `amend_book` has done under an id, as far as nobody has built on it; whether it could be."""
    record = book.edits.filter(client_id=amended, taken_back=False).first()
    if record is None:
        return True
    back = invert(record.patches)

    def make(changing: _Changing) -> None:
        document = apply_patches(changing.document, back)
        words = f"undid: {record.words}"
        about = {"kind": Kind.UNDO, "undoes": record, "change": {"type": Kind.UNDO}, "patches": back}
        changing.keep(document, words=words, author=author, client_id=client_id, **about)
        changing.taken_back.append(record)

    try:
        _change(book, make, [client_id])
    except Stands:
        return False
    return True


def note_presence(book: Book, person: Person, place: str) -> list[Presence]:
    """Note who is here, and say who else is. Written only when something has changed or the last sighting is getting old."""
    now = timezone.now()
    sightings = _SIGHTINGS.all(book.pk)
    own = next((s for s in sightings if s.person_id == person.pk), None)
    if own is None or own.place != place or now - own.seen >= SIGHTING_EVERY:
        try:
            with writing():
                Presence.objects.update_or_create(book=book, person=person, defaults={"seen": now, "place": place[:LONGEST_PLACE]})
        except IntegrityError as trouble:
            raise not_found() from trouble  # the lab book was erased while it was open
    return [s for s in sightings if s is not own and now - s.seen <= PRESENT_FOR]


def tell_news(book: Book) -> None:
    """Let whoever has the lab book open ask what there is beside it."""
    Book.objects.filter(pk=book.pk).update(news=F("news") + 1)


def load_document(book: Book, document: Mapping[str, Any]) -> None:
    """Put a whole document into a new book (the demo's), before anybody has edited it."""
    if book.revision:
        raise Problem(409, "in_use", "This lab book has been written in already.")
    loaded = copy.deepcopy(dict(document))
    for run in loaded["runs"]:
        if run.get("log") and run["log"]["columns"]:
            columns = run["log"].pop("columns")
            run["log"]["kept"] = key = digest_log(columns)
            KeptLog.objects.get_or_create(book=book, key=key, defaults={"columns": columns})
    book.document = loaded
    book.stamp = new_stamp()
    book.save(update_fields=["document", "stamp"])
    # what comes with its content has been worked in
    OpenedStage.objects.bulk_create([OpenedStage(book=book, stage=stage) for stage in get_args(StageName)], ignore_conflicts=True)
    transaction.on_commit(lambda: note_summary(book))
