"""Remarks of teachers on lab books: what they are about, their threads, who settles them (decision 45)."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from typing import Any

from django.db.models import Max

from hobrel.classes.models import Person
from hobrel.classes.queries import is_teacher
from hobrel.labbooks.actions import tell_news
from hobrel.labbooks.models import Book, Remark, Reply
from hobrel.plans.models import Practical
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

PHRASES = 12
_ITEMS = {"graph": "graphs", "fit": "fits", "finding": "findings", "quantity": "quantities"}


def look_up(document: dict[str, Any], place: dict[str, Any]) -> str | None:
    """What stands at a place: the text of a reading (empty for a blank), a digest of anything else; None where it is gone."""
    kind, item = place["kind"], place["item"]
    if kind == "section":
        return _digest(document["texts"].get(item, ""))
    if kind in _ITEMS:
        found = next((i for i in document[_ITEMS[kind]] if i["id"] == item), None)
        return None if found is None else _digest(found)
    run = next((r for r in document["runs"] if r["id"] == place["run"]), None)
    setting = next((s for s in run["settings"] if s["id"] == item), None) if run else None
    if setting is None:
        return None
    if kind == "setting":
        return _digest(setting)
    readings = setting["readings"].get(place["quantity"], [])
    reading = readings[place["repeat"]] if place["repeat"] < len(readings) else None
    return reading["text"] if reading else ""


def _digest(content: object) -> str:
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()[:24]


def stands(remark: Remark, document: dict[str, Any]) -> str:
    """Whether what a remark is about is still as it was: empty, ``changed`` or ``gone``."""
    if remark.place is None:
        return ""
    now = look_up(document, remark.place)
    return "gone" if now is None else "" if now == remark.was else "changed"


def write_remark(book: Book, author: Person, stage: str, text: str, place: dict[str, Any] | None = None) -> Remark:
    """Leave a remark in the margin of a stage, about a place if one is named.

    Raises
    ------
    Problem
        422 ``empty``; 409 ``gone`` where there is nothing at the place.
    """
    was = ""
    if place is not None:
        found = look_up(book.document, place)
        if found is None:
            raise Problem(409, "gone", "What the remark is about is no longer in the lab book.")
        was = found
    return _write([book], Remark(author=author, stage=stage, text=text, place=place, was=was))[0]


def write_remarks(practical: Practical, wanted: Sequence[int], author: Person, stage: str, text: str) -> int:
    """One remark in each of the lab books of a practical that are wanted (by key); how many there were."""
    books = list(Book.objects.filter(practical=practical, pk__in=wanted).defer("document"))
    return len(_write(books, Remark(author=author, stage=stage, text=text)))


def _write(books: list[Book], like: Remark) -> list[Remark]:
    words = _need_words(like.text)
    with writing():
        for book in books:
            tell_news(book)
        fields = {"author": like.author, "stage": like.stage, "text": words, "place": like.place, "was": like.was}
        return [Remark.objects.create(book=book, **fields) for book in books]


def _need_words(text: str) -> str:
    if not text.strip():
        raise Problem(422, "empty", "There are no words in it yet.")
    return text.strip()


def answer_remark(remark: Remark, author: Person, text: str) -> None:
    """A further word under a remark, by the bench or a teacher; a teacher's makes it open again."""
    words = _need_words(text)
    with writing():
        tell_news(remark.book)
        Reply.objects.create(remark=remark, author=author, by_teacher=is_teacher(author), text=words)
        if is_teacher(author):
            Remark.objects.filter(pk=remark.pk).update(done=False, settled=False)


def say_done(remark: Remark, done: bool) -> None:
    """The bench has done what a remark asks for, or takes that back."""
    with writing():
        tell_news(remark.book)
        Remark.objects.filter(pk=remark.pk).update(done=done)


def may_settle(remark: Remark, person: Person) -> bool:
    """Whether somebody who sees a remark settles it: who wrote it, or any teacher where that person has left."""
    return is_teacher(person) and remark.author_id in (None, person.pk)


def settle_remark(remark: Remark, person: Person, settled: bool) -> None:
    """Fold a remark away, or take it up again.

    Raises
    ------
    Problem
        403 for everybody but who wrote it.
    """
    if not may_settle(remark, person):
        raise Problem(403, "author_only", "A remark is settled by who wrote it. You can answer it, or say that it is done.")
    with writing():
        tell_news(remark.book)
        Remark.objects.filter(pk=remark.pk).update(settled=settled)


def phrases_of(person: Person) -> list[str]:
    """What a teacher has written in remarks lately, each once, the newest first."""
    used = Remark.objects.filter(author=person).order_by().values("text").annotate(last=Max("at")).order_by("-last")
    return [row["text"] for row in used[:PHRASES]]
