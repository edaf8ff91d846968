"""The walkround: every bench of a practical on a tile, and what several have in common; read from what is written."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.db.models import Count, F, Max
from django.utils import timezone

from hobrel.core.presentation.needs import BenchFacts, find_needs, gather_common
from hobrel.core.presentation.walk_notes import WalkNote
from hobrel.core.sentences import Sentence, Sentences
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.models import Book, EditRecord, Hand, Presence, Summary
from hobrel.labbooks.overview import describe_trails
from hobrel.labbooks.queries import books_of, count_open_remarks
from hobrel.labbooks.summaries import read_notes, summaries_of
from hobrel.plans.models import Practical, Sitting
from hobrel.pools.queries import find_odd
from hobrel.reports.models import HandIn


def walk_round(practical: Practical) -> dict[str, Any]:
    """The fields of a `WalkroundOut`."""
    books = books_of(practical)
    rows = summaries_of(books)
    notes, odd = read_notes(rows), find_odd(practical, books, {key: row.stamp for key, row in rows.items()})
    seen = _Seen(practical, books, rows)
    tiles = [_describe_tile(book, notes.get(book.pk, WalkNote()), odd.get(book.bench.name, ()), seen) for book in books]
    causes = {book.pk: odd[book.bench.name][0] for book in books if _has_cause(odd.get(book.bench.name, ()))}
    common = [asdict(slip) for slip in gather_common(notes, causes)]
    school_class = practical.school_class
    about = {"title": practical.title, "class_name": school_class.name, "class_id": school_class.pk, "closed": practical.closed is not None}
    return {**about, "room": school_class.room, "tiles": tiles, "common": common}


def _has_cause(said: Sentences) -> bool:
    return bool(said) and said[0].code != "bench_is_far"


class _Seen:
    """What stands beside the lab books of a practical: a fixed number of questions, however many there are."""

    def __init__(self, practical: Practical, books: list[Book], rows: Mapping[int, Summary]) -> None:
        self.now, self.rows = timezone.now(), rows
        self.names: dict[int, list[str]] = defaultdict(list)
        sitting = Sitting.objects.filter(practical=practical, until=None).order_by("seat__order")
        for bench, name in sitting.values_list("bench", "seat__name"):
            self.names[bench].append(name)
        self.here: dict[int, list[str]] = defaultdict(list)
        present = Presence.objects.filter(book__in=books, seen__gte=self.now - PRESENT_FOR).exclude(person__role="teacher")
        for book, name in present.values_list("book", "person__shown_name"):
            self.here[book].append(name)
        edits = EditRecord.objects.filter(book__in=books, revision=F("book__revision"))
        self.changed: dict[int, datetime] = dict(edits.values_list("book", "at"))
        handed = HandIn.objects.filter(book__in=books).order_by().values("book").annotate(n=Count("pk"), last=Max("revision"))
        self.handed_in = {row["book"]: (row["n"], row["last"]) for row in handed}
        self.hands: dict[int, datetime] = dict(Hand.objects.filter(book__in=books).values_list("book", "at"))
        self.remarks = count_open_remarks(books)
        self.trails = describe_trails({practical.pk: practical}, books, rows, {key: n for key, (n, _) in self.handed_in.items()})

    def minutes(self, since: datetime | None) -> float | None:
        return None if since is None else max(0.0, (self.now - since).total_seconds() / 60)


def _describe_tile(book: Book, note: WalkNote, odd: Sentences, seen: _Seen) -> dict[str, Any]:
    trail = seen.trails[book.pk]
    count, last = seen.handed_in.get(book.pk, (0, 0))
    here = seen.here.get(book.pk, [])
    changed = seen.minutes(seen.changed.get(book.pk))
    trouble = tuple(Sentence(**words) for words in trail["trouble"]) if book.pk in seen.rows else ()
    facts = BenchFacts(
        hand_up=seen.minutes(seen.hands.get(book.pk)),
        present=len(here),
        opened=bool(trail["opened"]) or changed is not None,
        changed=changed,
        handed_in=count,
        changed_since_hand_in=count > 0 and book.revision > last,
        trouble=trouble,
        pointed_out=odd,
        has_cause=_has_cause(odd),
    )
    return {
        "book": book.pk,
        "bench": book.bench.name,
        "bench_id": book.bench_id,
        "names": seen.names[book.bench_id],
        "here": here,
        "changed": None if changed is None else int(changed),
        "stages": trail["stages"],
        "opened": trail["opened"],
        "finding": trail["finding"],
        "slips": trail["slips"],
        "open_remarks": seen.remarks.get(book.pk, 0),
        "needs": [asdict(need) for need in find_needs(facts, note)],
        "graph": None if note.graph is None else asdict(note.graph),
    }
