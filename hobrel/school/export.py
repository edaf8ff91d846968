"""All that a class holds, or a student of it, as one archive: before it is erased, or for those who ask what is kept of them."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator

from hobrel.classes.models import Person, SchoolClass, Seat
from hobrel.classes.queries import name_of
from hobrel.core.errors import CoreError
from hobrel.handins.queries import describe_answer, describe_marks
from hobrel.interchange.files import take_file_out
from hobrel.interchange.taking import harmless
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book, ScaleRead
from hobrel.labbooks.pictures import put_pictures_in
from hobrel.plans.models import Sitting
from hobrel.reports.actions import with_prints
from hobrel.reports.models import HandIn
from hobrel.server.files import file_name


def export_class(school_class: SchoolClass) -> bytes:
    """The list with benches, every lab book with its history, every hand-in; how scales were read."""
    rows = [[s.name, s.bench.name if s.bench else "", "off the list" if s.off else ""] for s in school_class.seats.select_related("bench")]
    return _pack(rows, Book.objects.filter(practical__school_class=school_class))


def export_student(seat: Seat) -> bytes:
    """Where somebody has sat in a class, and the lab books of these benches; those that they have begun by themselves as well."""
    sittings = Sitting.objects.filter(seat=seat).select_related("practical", "bench")
    rows = [[s.practical.title, s.bench.name, f"{s.since:%Y-%m-%d}", f"{s.until:%Y-%m-%d}" if s.until else ""] for s in sittings]
    keys = {b.pk for s in sittings for b in Book.objects.filter(practical=s.practical, bench=s.bench)}
    if seat.person is not None:
        keys |= set(seat.person.own_books.values_list("pk", flat=True))
    return _pack([[seat.name], *rows], Book.objects.filter(pk__in=keys), of=seat.person)


def _pack(rows: Iterable[list[str]], books: Iterable[Book], of: Person | None = None) -> bytes:
    """`of`: how scales were read is told of this person alone."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("list.csv", "\ufeff" + _write_csv(rows))
        for book in books:
            stem = f"{book.pk}-{file_name('', book.document['title'], book.bench.name if book.bench else 'own').rstrip('.')}"
            put_lab_book(packed, book, stem)
            edits = book.edits.select_related("author").order_by("revision")
            history = [[str(r.revision), f"{r.at:%Y-%m-%d %H:%M}", name_of(r.author), r.words] for r in edits]
            packed.writestr(f"lab-books/{stem}-history.csv", "\ufeff" + _write_csv(history))
            read = [[name_of(r.person), f"{r.off:.2f}", "a mark" if r.at_mark else "between marks"] for r in _scales_read(book, of)]
            if read:
                rows_read = [["read by", "off, in divisions", "what was read"], *read]
                packed.writestr(f"lab-books/{stem}-scales.csv", "\ufeff" + _write_csv(rows_read))
            for remark in book.remarks.select_related("author").prefetch_related("replies__author"):
                said = [f"{remark.stage}, {name_of(remark.author)}: {remark.text}"]
                said += [f"{name_of(reply.author)}: {reply.text}" for reply in remark.replies.all()]
                packed.writestr(f"lab-books/{stem}-remark-{remark.pk}.txt", "\n".join(said))
            for hand_in in map(with_prints, book.hand_ins.all()):
                packed.writestr(f"hand-ins/{stem}-{hand_in.number}.html", hand_in.html)
                packed.writestr(f"hand-ins/{stem}-{hand_in.number}.pdf", bytes(hand_in.pdf))
                said = "\n".join(_say_answered(hand_in))
                if said:
                    packed.writestr(f"hand-ins/{stem}-{hand_in.number}-answer.txt", said)
    return out.getvalue()


def _scales_read(book: Book, of: Person | None) -> Iterable[ScaleRead]:
    read = book.scales_read.select_related("person").order_by("pk")
    return read if of is None else read.filter(person=of)


def put_lab_book(packed: zipfile.ZipFile, book: Book, stem: str) -> None:
    """Put the file of a lab book into an archive; in the place of one that cannot be read stands why."""
    try:
        file = ask_about(book, "", take_file_out, "json", "", stem, heavy=True)
        packed.writestr(f"lab-books/{stem}.json", put_pictures_in(file, book))
    except CoreError as trouble:
        packed.writestr(f"lab-books/{stem}.txt", trouble.message)


def _say_answered(hand_in: HandIn) -> Iterator[str]:
    """What teachers have said to a hand-in: the answer, and marks by row and level."""
    answer = describe_answer(hand_in)
    if answer is not None:
        yield f"{answer.verdict}, {answer.by}: {answer.words}".rstrip(": ")
    for mark in describe_marks(hand_in):
        level = "" if mark.level is None else f" level {mark.level + 1}"
        yield f"{mark.row}{level}, {mark.by}: {mark.words}".rstrip(": ")


def _write_csv(rows: Iterable[list[str]]) -> str:
    out = io.StringIO(newline="")
    csv.writer(out).writerows([harmless(cell) for cell in row] for row in rows)
    return out.getvalue()
