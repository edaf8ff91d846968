"""The walkround: every bench of a practical on a tile, and what several have in common; read from what is written."""

from __future__ import annotations

import hashlib
import json
from collections import Counter, defaultdict
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import F
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.core.presentation.needs import BenchFacts, find_needs, gather_common
from hobrel.core.presentation.walk_notes import WalkNote
from hobrel.core.sentences import Sentence, Sentences
from hobrel.handins.models import Answer
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.models import Book, EditRecord, Hand, OpenedStage, Presence, Remark, Reply, Summary
from hobrel.labbooks.overview import describe_trails
from hobrel.labbooks.summaries import HandedIn, read_notes, renew_old
from hobrel.plans.models import Practical, Sitting
from hobrel.pools.queries import find_odd
from hobrel.reports.models import HandIn
from hobrel.server.prepared import Select


class Look(NamedTuple):
    """An answer as it is sent, and its tag."""

    content: bytes
    tag: str


_LOOKS: dict[int, tuple[Hashable, Look]] = {}
"""By practical: what it was when somebody looked last, and the answer."""
_MOST_LOOKS = 64
_AT_LEAST_EVERY = 5.0
"""Seconds after which minutes have gone on, and what the pool points out may be another."""
_STAMPS = Select(lambda practical: Book.objects.filter(practical=practical).only("revision", "news", "stamp").order_by("pk"), int)
_WRITTEN = Select(lambda practical: Summary.objects.filter(book__practical=practical).only("stamp").order_by("pk"), int)
_BOOKS = Select(
    lambda practical: Book.objects.filter(practical=practical).defer("document").select_related("bench").order_by("bench__order"), int
)
_SUMMARIES = Select(lambda practical: Summary.objects.filter(book__practical=practical).defer("share"), int)
_SITTINGS = Select(
    lambda practical: Sitting.objects.filter(practical=practical, until=None).select_related("seat").order_by("seat__order"), int
)
_NEWEST = Select(
    lambda practical: EditRecord.objects.filter(book__practical=practical, revision=F("book__revision")).only("book", "at"), int
)
_HANDED = Select(lambda practical: HandIn.objects.filter(book__practical=practical).only("book", "revision").order_by("number"), int)
_RETURNED = Answer.objects.filter(verdict=Answer.Verdict.RETURNED).only("verdict")
_GIVEN_BACK = Select(lambda practical: _RETURNED.filter(hand_in__book__practical=practical), int)
_NOT_HANDED_IN = HandedIn(), 0
_HANDS = Select(lambda practical: Hand.objects.filter(book__practical=practical), int)
_REMARKS = Select(
    lambda practical: Remark.objects.filter(book__practical=practical, settled=False).only("book", "done").order_by("pk"), int
)
_ANSWERS = Reply.objects.filter(remark__settled=False).only("remark", "by_teacher").order_by("pk")
_REPLIES = Select(lambda practical: _ANSWERS.filter(remark__book__practical=practical), int)
_OPENED = Select(lambda practical: OpenedStage.objects.filter(book__practical=practical).order_by("pk"), int)
_HERE = Select(
    lambda practical, since: (
        Presence.objects.filter(book__practical=practical, seen__gte=since)
        .exclude(person__role=Person.Role.TEACHER)
        .select_related("person")
        .order_by("pk")
    ),
    int,
    datetime,
)


def look_round(practical: Practical) -> Look:
    """The walkround as it is sent. While nothing has happened it is what it was: `revision` and `news` of lab books count all that does."""
    now = timezone.now()
    books, written = _STAMPS.all(practical.pk), _WRITTEN.all(practical.pk)
    here, sitting = _HERE.all(practical.pk, now - PRESENT_FOR), _SITTINGS.all(practical.pk)
    school_class = practical.school_class
    state: Hashable = (
        tuple((b.pk, b.revision, b.news, b.stamp) for b in books),
        tuple((s.pk, s.stamp) for s in written),
        tuple((p.book_id, p.person.shown_name) for p in here),
        # nobody who has been erased or moved stays in an answer
        tuple((s.bench_id, s.seat.name) for s in sitting),
        (practical.closed, practical.is_pool_open, practical.version_id, json.dumps(school_class.room)),
        now.timestamp() // _AT_LEAST_EVERY,
    )
    kept = _LOOKS.get(practical.pk)
    if kept is not None and kept[0] == state:
        return kept[1]
    content = json.dumps(walk_round(practical, here, sitting)).encode()
    look = Look(content, f'"{hashlib.sha256(content).hexdigest()[:32]}"')
    if len(_LOOKS) >= _MOST_LOOKS:
        _LOOKS.clear()
    _LOOKS[practical.pk] = state, look
    return look


def walk_round(practical: Practical, here: Sequence[Presence], sitting: Sequence[Sitting]) -> dict[str, Any]:
    """The fields of a `WalkroundOut`, where these are here now and sit there."""
    books = _BOOKS.all(practical.pk)
    rows = renew_old(books, _SUMMARIES.all(practical.pk))
    notes, odd = read_notes(rows), find_odd(practical, books, {key: row.stamp for key, row in rows.items()})
    seen = _Seen(practical, books, rows, here=here, sitting=sitting)
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

    def __init__(
        self, practical: Practical, books: list[Book], rows: Mapping[int, Summary], *, here: Sequence[Presence], sitting: Sequence[Sitting]
    ) -> None:
        self.now, self.rows = timezone.now(), rows
        self.names: dict[int, list[str]] = defaultdict(list)
        for place in sitting:
            self.names[place.bench_id].append(place.seat.name)
        self.here: dict[int, list[str]] = defaultdict(list)
        for presence in here:
            self.here[presence.book_id].append(presence.person.shown_name)
        self.changed: dict[int, datetime] = {edit.book_id: edit.at for edit in _NEWEST.all(practical.pk)}
        # the last of each comes last
        self.handed_in: dict[int, tuple[HandedIn, int]] = {}
        given_back = {answer.pk for answer in _GIVEN_BACK.all(practical.pk)}
        for handed in _HANDED.all(practical.pk):
            before, _ = self.handed_in.get(handed.book_id, _NOT_HANDED_IN)
            self.handed_in[handed.book_id] = HandedIn(before.times + 1, handed.pk in given_back), handed.revision
        self.hands: dict[int, datetime] = {hand.book_id: hand.at for hand in _HANDS.all(practical.pk)}
        remarks = _REMARKS.all(practical.pk)
        last = {reply.remark_id: reply.by_teacher for reply in _REPLIES.all(practical.pk)}
        self.remarks = Counter(remark.book_id for remark in remarks)
        self.answered = Counter(remark.book_id for remark in remarks if remark.done or last.get(remark.pk) is False)
        opened: dict[int, list[str]] = defaultdict(list)
        for stage in _OPENED.all(practical.pk):
            opened[stage.book_id].append(stage.stage)
        counts = {key: of for key, (of, _) in self.handed_in.items()}
        self.trails = describe_trails({practical.pk: practical}, books, rows, counts, opened)

    def minutes(self, since: datetime | None) -> float | None:
        return None if since is None else max(0.0, (self.now - since).total_seconds() / 60)


def _describe_tile(book: Book, note: WalkNote, odd: Sentences, seen: _Seen) -> dict[str, Any]:
    trail = seen.trails[book.pk]
    handed, last = seen.handed_in.get(book.pk, _NOT_HANDED_IN)
    count = handed.times
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
        answered=seen.answered[book.pk],
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
        "open_remarks": seen.remarks[book.pk],
        "needs": [
            {"kind": need.kind, "text": need.words.text, "stage": need.stage, "run": need.run, "at": need.at}
            for need in find_needs(facts, note)
        ],
        "graph": None if note.graph is None else vars(note.graph),
    }
