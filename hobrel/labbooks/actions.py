"""The only writers of lab books: making one, editing, undoing, presence, remarks. Each change is one transaction."""

from __future__ import annotations

import copy
import hashlib
import json
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from hobrel.classes.models import Bench, Person
from hobrel.core.document.lab_book import read_lab_book
from hobrel.labbooks.edits.applying import apply_edit
from hobrel.labbooks.edits.kinds import AddRun, ConfirmSlip, Edit, FillRun
from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches, find_reference, invert, place_of, touches
from hobrel.labbooks.models import Book, EditRecord, KeptLog, Presence, Remark, new_stamp
from hobrel.plans.models import Practical
from hobrel.server.problems import Problem, not_found

PRESENT_FOR = timedelta(seconds=12)
SIGHTING_EVERY = timedelta(seconds=4)
Kind = EditRecord.Kind
LogColumns = Mapping[str, list[str]]


def open_book(practical: Practical, bench: Bench) -> Book:
    """The bench's lab book of a practical, made from the practical's document when it is opened first."""
    book, _ = Book.objects.get_or_create(practical=practical, bench=bench, defaults={"document": practical.document})
    return book


@dataclass(frozen=True)
class Steps:
    """What one person can take back, and take back again."""

    undo: EditRecord | None
    redo: EditRecord | None


def edit_book(book: Book, author: Person, edit: Edit, client_id: uuid.UUID, columns: LogColumns | None = None) -> Steps:
    """Make one change, and bring `book` to what it is afterwards. `columns` are those of a log that it brings in.

    The same edit under the same `client_id` again changes nothing, so that what is sent twice is done once.

    Raises
    ------
    Problem
        As `apply_edit`; 409 ``same_id`` for another edit under an id that has been used.
    """
    if isinstance(edit, ConfirmSlip):
        edit = edit.model_copy(update={"by": author.shown_name})
    with transaction.atomic():
        newest = Book.objects.select_for_update().get(pk=book.pk)
        if isinstance(edit, AddRun | FillRun) and edit.log is not None:
            _keep_log(newest, edit.log.kept, columns)
        known = EditRecord.objects.filter(book=newest, client_id=client_id).first()
        if known is not None and known.change != edit.model_dump(mode="json"):
            raise Problem(409, "same_id", "Another change was sent under this id before. Make this one again.")
        made = None if known else _record(newest, author, edit, client_id)
    book.become(newest)
    return steps_of(book, author) if made is None else Steps(made, None)


def digest_log(columns: LogColumns) -> str:
    """The key that a log is kept under."""
    return hashlib.sha256(json.dumps(columns, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def _keep_log(book: Book, key: str, columns: LogColumns | None) -> None:
    if columns is not None:
        KeptLog.objects.get_or_create(book=book, key=key, defaults={"columns": columns})
    elif not book.logs.filter(key=key).exists():
        raise Problem(409, "gone", "This log is not in the lab book. Bring its file in again.")


def steps_of(book: Book, author: Person) -> Steps:
    """The person's own last change that stands, and the last of theirs that they have undone since."""
    standing = book.edits.filter(author=author, kind__in=(Kind.DO, Kind.REDO), taken_back=False).last()
    last_do = book.edits.filter(author=author, kind=Kind.DO).last()
    undone = book.edits.filter(author=author, kind=Kind.UNDO, taken_back=False, revision__gt=last_do.revision if last_do else 0).last()
    return Steps(standing, undone)


def undo(book: Book, author: Person, client_id: uuid.UUID) -> Steps:
    """Take the person's own last change back, and nothing of anybody else's; refused where something stands on it."""
    return _step(book, author, client_id, Kind.UNDO)


def redo(book: Book, author: Person, client_id: uuid.UUID) -> Steps:
    """Make the change again that the person undid last."""
    return _step(book, author, client_id, Kind.REDO)


def _step(book: Book, author: Person, client_id: uuid.UUID, kind: EditRecord.Kind) -> Steps:
    with transaction.atomic():
        newest = Book.objects.select_for_update().get(pk=book.pk)
        if not EditRecord.objects.filter(book=newest, client_id=client_id).exists():
            _take_step(newest, author, client_id, kind)
    book.become(newest)
    return steps_of(book, author)


def _take_step(book: Book, author: Person, client_id: uuid.UUID, kind: EditRecord.Kind) -> None:
    steps = steps_of(book, author)
    target = steps.undo if kind == Kind.UNDO else steps.redo
    if target is None:
        message = "There is nothing of yours to take back." if kind == Kind.UNDO else "There is nothing to do again."
        raise Problem(409, "nothing_to_undo", message)
    back = invert(target.patches)
    try:
        document = apply_patches(book.document, back)
    except Stands as trouble:
        raise _built_on(book, target, trouble.patch) from trouble
    if (standing := find_reference(document, back)) is not None:
        raise _built_on(book, target, standing)
    prefix = "undid: " if kind == Kind.UNDO else "did again: "
    words = prefix + target.words.removeprefix("undid: ").removeprefix("did again: ")
    _keep(book, document, author=author, client_id=client_id, kind=kind, undoes=target, change={"type": kind}, patches=back, words=words)
    target.taken_back = True
    target.save(update_fields=["taken_back"])


def _built_on(book: Book, target: EditRecord, patch: Patch) -> Problem:
    """Somebody's work stands on what would be taken back: whose, and which."""
    place = place_of(patch)
    since = book.edits.filter(revision__gt=target.revision).select_related("author").order_by("-revision")
    other = next((r for r in since if r.author_id != target.author_id and any(touches(p, place) for p in r.patches)), None)
    if other is None:
        return Problem(
            409, "built_on", "Something stands on this change by now, so it cannot be taken back by itself. Look at the history."
        )
    words = f"{other.author.shown_name} has built on this since ({other.words}), so it cannot be taken back by itself."
    return Problem(409, "built_on", f"{words} Change it by hand, or look at the history.")


def _record(book: Book, author: Person, edit: Edit, client_id: uuid.UUID) -> EditRecord:
    applied = apply_edit(book.document, edit)
    asked = edit.model_dump(mode="json")
    return _keep(
        book, applied.document, author=author, client_id=client_id, kind=Kind.DO, undoes=None, change=asked, patches=applied.patches,
        words=applied.words,
    )  # fmt: skip


def _keep(book: Book, document: dict[str, Any], *, words: str, **about: Any) -> EditRecord:
    """Write the document after a change, and the change, as the next revision."""
    read_lab_book(document)  # refuses anything that would not be a lab book any more
    book.document = document
    book.revision += 1
    book.stamp = new_stamp()
    book.save(update_fields=["document", "revision", "stamp"])
    return EditRecord.objects.create(book=book, revision=book.revision, words=words[:300], **about)


def note_presence(book: Book, person: Person, place: str) -> None:
    """Note who is here. Written only when something has changed or the last sighting is getting old."""
    now = timezone.now()
    known = Presence.objects.filter(book=book, person=person).first()
    if known and known.place == place and now - known.seen < SIGHTING_EVERY:
        return
    try:
        Presence.objects.update_or_create(book=book, person=person, defaults={"seen": now, "place": place[:120]})
    except IntegrityError as trouble:
        raise not_found() from trouble  # the lab book was erased while it was open


def write_remark(book: Book, author: Person, stage: str, text: str) -> Remark:
    if not text.strip():
        raise Problem(422, "empty", "The remark is empty.")
    return Remark.objects.create(book=book, author=author, stage=stage, text=text.strip())


def settle_remark(remark: Remark, settled: bool) -> None:
    remark.settled = settled
    remark.save(update_fields=["settled"])


def load_document(book: Book, document: Mapping[str, Any]) -> None:
    """Put a whole document into a new book (the demo's), before anybody has edited it."""
    if book.revision:
        raise Problem(409, "in_use", "This lab book has been written in already.")
    loaded = copy.deepcopy(dict(document))
    for run in loaded["runs"]:
        if run.get("log") and run["log"]["columns"]:
            columns = run["log"].pop("columns")
            run["log"]["kept"] = digest_log(columns)
            _keep_log(book, run["log"]["kept"], columns)
    book.document = loaded
    book.stamp = new_stamp()
    book.save(update_fields=["document", "stamp"])
