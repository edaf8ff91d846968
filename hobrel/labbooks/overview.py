"""What somebody finds when they sign in: their classes, the practicals in these, and each lab book in a few words.

It is asked for every few seconds by everybody who watches a class, so it computes nothing, and asks the database a fixed number of
questions however many lab books there are.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from django.db.models import Count, Exists, F, OuterRef
from django.db.models.fields.json import KeyTextTransform
from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass
from hobrel.classes.queries import is_teacher, local_now
from hobrel.core.presentation.stages import unmarked_stages
from hobrel.core.sentences import say
from hobrel.handins.queries import find_handed_in
from hobrel.labbooks.actions import open_books
from hobrel.labbooks.models import Book, Summary
from hobrel.labbooks.queries import count_open_remarks, find_opened
from hobrel.labbooks.summaries import HandedIn, placed_marks, renew_old
from hobrel.plans.models import Practical, Sitting
from hobrel.plans.sittings import seat_late
from hobrel.reports.models import HandIn
from hobrel.server.prepared import Select

_SEEN = Book.objects.defer("document").select_related("bench").order_by("bench__order")
_SUMMARIES = Summary.objects.defer("share")
# what a teacher's page asks every few seconds, of all classes of a teacher, or of one bench
_CLASSES = {
    True: Select(lambda person: SchoolClass.objects.filter(teachers=person, archived=None), int),
    False: Select(lambda person: SchoolClass.objects.filter(seats__person=person, seats__off=None, archived=None), int),
}
_OWN = Select(lambda person: _SEEN.filter(practical__sittings__bench=F("bench"), practical__sittings__seat__person=person), int)
_OWN_WRITTEN = Select(
    lambda person: _SUMMARIES.filter(book__practical__sittings__bench=F("book__bench"), book__practical__sittings__seat__person=person),
    int,
)
LATELY = timedelta(weeks=3)
"""For so long after it was given out something is to be expected of a practical that is not due on any day."""
_NOT_WORKED_OUT, _NOTHING_WRITTEN = say("not_worked_out", "not worked out yet"), say("not_begun", "nothing written yet")
_NO_MARKS = {"stages": [asdict(mark) for mark in unmarked_stages()], "finding": "", "slips": 0}


def describe_classes(person: Person) -> list[dict[str, Any]]:
    """The fields of a `ClassOut` for each class that somebody teaches, or is on the list of."""
    teacher = is_teacher(person)
    classes = _CLASSES[teacher].all(person.pk)
    practicals = list(
        Practical.objects.filter(school_class__in=classes).annotate(question=KeyTextTransform("question", "version__document"))
    )
    coming: list[Practical] = []
    earlier = _find_earlier(practicals)
    if not teacher:
        today = local_now().date()
        coming = [practical for practical in practicals if practical.given_out > today]
        practicals = [practical for practical in practicals if practical.given_out <= today]
        seat_late(person, practicals)
        open_books(person, practicals)
    # of what is earlier a teacher sees how many have handed in, and no benches
    counts = _count_handed_in(earlier) if teacher else {}
    of_practical = defaultdict(list)
    for described in _describe_books(person, {p.pk: p for p in practicals if p.pk not in counts}):
        of_practical[described.pop("practical")].append(described)
    of_class = defaultdict(list)
    for p in coming:
        p.question = ""  # type: ignore[attr-defined]
        of_class[p.school_class_id].append(_describe_practical(p, []) | {"coming": True})
    for p in practicals:
        described = _describe_practical(p, of_practical[p.pk]) | {"earlier": p.pk in earlier}
        of_class[p.school_class_id].append(described | counts.get(p.pk, {}))
    return [_describe_class(c, teacher, of_class[c.pk]) for c in classes]


def _find_earlier(practicals: Sequence[Practical]) -> set[int]:
    """The keys of those of which nothing is to be expected any more. See decision 65."""
    now = timezone.now()
    latest: dict[int, date] = {}
    for p in practicals:
        latest[p.school_class_id] = max(p.given_out, latest.get(p.school_class_id, p.given_out))

    def is_running(p: Practical) -> bool:
        # by no particular clock: of three weeks some hours more or less are nothing
        return p.closed is None and (p.given_out >= now.date() - LATELY or (p.due is not None and p.due >= now))

    return {p.pk for p in practicals if p.given_out < latest[p.school_class_id] and not is_running(p)}


def _count_handed_in(practicals: Collection[int]) -> dict[int, dict[str, int]]:
    """Of how many lab books of each practical there are hand-ins."""
    handed = Exists(HandIn.objects.filter(book=OuterRef("pk")))
    found = Book.objects.filter(practical__in=practicals).values("practical")
    counted = found.annotate(books=Count("pk"), handed=Count("pk", filter=handed)).order_by()
    none = {"bench_count": 0, "handed_in": 0}
    return dict.fromkeys(practicals, none) | {c["practical"]: {"bench_count": c["books"], "handed_in": c["handed"]} for c in counted}


def _describe_class(school_class: SchoolClass, teacher: bool, practicals: list[dict[str, Any]]) -> dict[str, Any]:
    code = school_class.join_code if teacher else ""
    of = {"id": school_class.pk, "name": school_class.name, "school": school_class.school, "year": school_class.year}
    return {**of, "join_code": code, "practicals": practicals}


def _describe_practical(practical: Practical, benches: list[dict[str, Any]]) -> dict[str, Any]:
    of = {"id": practical.pk, "title": practical.title, "given_out": practical.given_out.isoformat(), "pool_open": practical.is_pool_open}
    of["closed"], of["coming"], of["earlier"] = practical.closed is not None, False, False
    of["bench_count"], of["handed_in"] = len(benches), sum(bench["handed_in"] > 0 for bench in benches)
    return {**of, "question": getattr(practical, "question", None) or "", "benches": benches}


def _who_sits(books: list[Book]) -> Iterable[tuple[int, int, str, int | None]]:
    """Practical, bench, name and person of everybody who sits at a lab book now; as plain rows, for there are many."""
    at = Sitting.objects.filter(practical__in={b.practical_id for b in books}, bench__in={b.bench_id for b in books}, until=None)
    return at.order_by("seat__order").values_list("practical", "bench", "seat__name", "seat__person")


def _describe_books(person: Person, practicals: dict[int, Practical]) -> list[dict[str, Any]]:
    """The lab books of a teacher's classes; or those of the benches where somebody sits or sat, where they sit first."""
    teacher = is_teacher(person)
    if teacher:
        books = list(_SEEN.filter(practical__in=practicals))
        written: Iterable[Summary] = _SUMMARIES.filter(book__practical__in=practicals)
    else:
        # somebody who was moved away and back has sat there twice
        books = list({book.pk: book for book in _OWN.all(person.pk) if book.practical_id in practicals}.values())
        written = _OWN_WRITTEN.all(person.pk)
    names, own = defaultdict(list), set()
    for practical, bench, name, whose in _who_sits(books):
        place = practical, bench
        names[place].append(name)
        if whose == person.pk:
            own.add(place)
    if not teacher:
        books.sort(key=lambda book: (book.practical_id, book.bench_id) not in own)
    handed_in, remarks, rows = find_handed_in(books), count_open_remarks(books), renew_old(books, written)
    trails = describe_trails(practicals, books, rows, handed_in, find_opened(books))
    found = []
    for book in books:
        place = book.practical_id, book.bench_id
        of = {"practical": book.practical_id, "book": book.pk, "bench": book.bench.name, "names": names[place]}
        of["sits_here"] = place in own
        handed = handed_in.get(book.pk, HandedIn())
        counts = {"handed_in": handed.times, "returned": handed.returned, "open_remarks": remarks.get(book.pk, 0)}
        found.append({**of, **trails[book.pk], **counts})
    return found


def describe_trails(
    practicals: Mapping[int, Practical],
    books: Sequence[Book],
    rows: Mapping[int, Summary],
    handed_in: Mapping[int, HandedIn],
    opened: Mapping[int, list[str]],
) -> dict[int, dict[str, Any]]:
    """What is written of lab books in a few words, by their keys: trail, stations opened, finding, slips, trouble."""
    found = {}
    for book in books:
        # what only a tile of the walkround shows is read there
        content = {k: v for k, v in (rows[book.pk].content if book.pk in rows else _without_summary(book)).items() if k != "note"}
        marks = placed_marks(practicals[book.practical_id].is_pool_open, handed_in.get(book.pk, HandedIn()))
        placed = {mark.stage: asdict(mark) for mark in marks}
        stages = [placed.get(mark["stage"], mark) for mark in content["stages"]]
        found[book.pk] = {**content, "stages": stages, "opened": opened.get(book.pk, [])}
    return found


def _without_summary(book: Book) -> dict[str, Any]:
    return {**_NO_MARKS, "trouble": [asdict(_NOT_WORKED_OUT if book.revision else _NOTHING_WRITTEN)]}
