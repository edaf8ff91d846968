"""Lab books in a few words, for those who watch a class: worked out by the computing process after each change, and kept in a table.

See decision 22.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from django.db import transaction
from pydantic import TypeAdapter

from hobrel.computing.asking import note_book
from hobrel.computing.messages import Subject, Worked
from hobrel.computing.shelf import OpenBook
from hobrel.core.presentation.results import StageMark
from hobrel.core.presentation.shares import BenchShare, leave_out_share, miss_share, share_findings
from hobrel.core.presentation.stages import unmarked_stages
from hobrel.core.presentation.walk_notes import WalkNote, note_analysis
from hobrel.core.sentences import Sentence, Sentences, said_by, say
from hobrel.labbooks.models import Book, KeptLog, LeftOut, SlipSeen, Summary
from hobrel.server.writing import writing


@dataclass(frozen=True)
class BookSummary:
    """A lab book in a few words; `trouble` says why where it could not be worked out, and `note` what a tile of the walkround shows."""

    stages: tuple[StageMark, ...]
    finding: str
    slips: int
    trouble: Sentences
    note: WalkNote = WalkNote()


def _summarise(book: OpenBook) -> BookSummary:
    analysis = book.analysis
    found = next((f.value.text for f in analysis.findings if f.value and f.said), "")
    trouble = (Sentence(analysis.trouble.code, analysis.trouble.message, analysis.trouble.fields),) if analysis.trouble else ()
    return BookSummary(analysis.stages, found, len(analysis.slips), trouble, note_analysis(analysis, book.document))


def summarise_book(book: OpenBook) -> tuple[BookSummary, BenchShare]:
    """The trail as the lab book alone knows it, the first finding, how many slips wait; and what the bench brings to the pool."""
    return _summarise(book), share_findings(book.computation, "")


@dataclass(frozen=True)
class Noted:
    """Which lab book a summary is of."""

    book: int
    stamp: str


def note_summary(book: Book) -> None:
    """Let the computing process work the summary of a lab book out, and write it, when nobody waits for anything."""
    about = Noted(book.pk, book.stamp)
    note_book(
        f"summary:{book.pk}",
        summarise_book,
        Subject(book.stamp),
        {f"book:{book.stamp}": book.document},
        book.pk,
        write_summaries,
        about,
        supply_noted,
    )


def supply_noted(name: str, about: Noted) -> Any:
    """What is lacking for a summary: the columns of a log.

    Raises
    ------
    LookupError
        Where it is gone.
    """
    log = KeptLog.objects.filter(book=about.book, key=name.partition(":")[2]).first()
    if log is None:
        raise LookupError(name)
    return log.columns


_content_writer, _share_writer, _note_reader = TypeAdapter(BookSummary), TypeAdapter(BenchShare), TypeAdapter(WalkNote)


def write_summaries(worked: list[Worked]) -> None:
    """Write summaries, each only while its lab book is still as it was when it was worked out."""
    with writing():
        for one in worked:
            about: Noted = one.about
            if one.trouble is not None:
                found = BookSummary(unmarked_stages(), "", 0, (said_by(one.trouble),)), miss_share("", one.trouble)
            else:
                found = one.result
            content, share = _content_writer.dump_python(found[0], mode="json"), _share_writer.dump_python(found[1], mode="json")
            if Book.objects.filter(pk=about.book, stamp=about.stamp).exists():
                Summary.objects.update_or_create(book_id=about.book, defaults={"stamp": about.stamp, "content": content, "share": share})
                _note_slips(about.book, found[0].note)


_NOT_WRITTEN_YET = ("blank", "missing_repeat")


def _note_slips(book: int, note: WalkNote) -> None:
    """Note which kinds of slips have been seen in a lab book, each once; what is not written yet is none."""
    kinds = {(slip.kind, slip.of[:80]) for slip in note.slips if slip.kind not in _NOT_WRITTEN_YET}
    if kinds:
        SlipSeen.objects.bulk_create([SlipSeen(book_id=book, kind=kind, of=of) for kind, of in sorted(kinds)], ignore_conflicts=True)


def read_notes(rows: Mapping[int, Summary]) -> dict[int, WalkNote]:
    """What tiles show of lab books, by the keys of these."""
    return {key: _note_reader.validate_python(row.content.get("note", {})) for key, row in rows.items()}


def shares_of(books: Sequence[Book]) -> dict[int, BenchShare]:
    """What benches bring to the pool, by the keys of their lab books, as far as that has been worked out; nothing where a teacher has left
    one out.
    """
    rows = summaries_of(books, "content")
    shares = {b.pk: replace(_share_writer.validate_python(rows[b.pk].share), bench=b.bench.name) for b in books if b.pk in rows}
    for key, reason in LeftOut.objects.filter(book__in=list(shares)).values_list("book", "reason"):
        shares[key] = leave_out_share(shares[key], reason)
    return shares


def summaries_of(books: Sequence[Book], needless: str = "share") -> dict[int, Summary]:
    """Summaries by the keys of lab books, as far as they have been written; those that are old are asked for again."""
    return renew_old(books, Summary.objects.filter(book__in=books).defer(needless))


LATE = 15.0
"""Seconds after which a summary that is old is asked for again; while a bench writes it comes every few seconds."""
_late: dict[int, tuple[str, float]] = {}
"""By the key of a lab book: for which stamp its summary is waited for here, and since when."""


def renew_old(books: Sequence[Book], summaries: Iterable[Summary]) -> dict[int, Summary]:
    """Summaries of lab books by the keys of these. One that has not been of its lab book as it is now for long is asked for again: its note
    was lost, or the computing process has ended. One that was never written is asked for at the first look.
    """
    rows = {row.book_id: row for row in summaries}
    now, late = time.monotonic(), []
    for book in books:
        if book.pk in rows and rows[book.pk].stamp == book.stamp:
            _late.pop(book.pk, None)
            continue
        stamp, since = _late.get(book.pk, ("", now))
        first_seen = stamp != book.stamp
        is_late = book.pk not in rows if first_seen else now - since >= LATE
        if first_seen or is_late:
            _late[book.pk] = book.stamp, now
        if is_late:
            late.append(book.pk)
    for book in Book.objects.filter(pk__in=late) if late else ():
        transaction.on_commit(partial(note_summary, book))
    return rows


@dataclass(frozen=True)
class HandedIn:
    """How often a lab book has been handed in, and whether the last of it was given back, to be handed in again."""

    times: int = 0
    returned: bool = False


def placed_marks(pool_open: bool | None, handed_in: HandedIn) -> tuple[StageMark, ...]:
    """The marks of the stations of which the class decides: they stand in the place of what the lab book alone can say."""
    if pool_open is None:
        return ()
    opened = say("pool_open", "open to the class") if pool_open else say("pool_not_open", "not open yet")
    pool = StageMark("pool", "in_progress" if pool_open else "not_opened", 0, (opened,))
    if not handed_in.times:
        return (pool,)
    if handed_in.returned:
        return pool, StageMark("report", "in_progress", 0, (say("given_back", "given back"),))
    handed = say("handed_in", "handed in") if handed_in.times == 1 else say("handed_in_again", "handed in {n} times", n=handed_in.times)
    return pool, StageMark("report", "done", 0, (handed,))
