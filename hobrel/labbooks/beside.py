"""What is done beside a lab book and changes nothing in it: hands, stations opened, benches left out of the pool."""

from __future__ import annotations

from hobrel.classes.models import Person
from hobrel.core.document.plan_part import StageName
from hobrel.labbooks.actions import tell_news
from hobrel.labbooks.models import Book, Hand, LeftOut, OpenedStage
from hobrel.server.writing import writing


def leave_out_of_pool(book: Book, person: Person, reason: str) -> None:
    """Leave a bench out of its class's pool, with a reason that everybody reads who sees the pool; with none it is in again."""
    with writing():
        if reason.strip():
            LeftOut.objects.update_or_create(book=book, defaults={"by": person, "reason": reason.strip()})
        else:
            LeftOut.objects.filter(book=book).delete()
        tell_news(book)


def raise_hand(book: Book, person: Person, up: bool) -> None:
    """Somebody of the bench raises a hand, or it is lowered. Raised twice it is up since the first time."""
    with writing():
        if up:
            _, is_new = Hand.objects.get_or_create(book=book, defaults={"by": person})
        else:
            is_new = bool(Hand.objects.filter(book=book).delete()[0])
        if is_new:
            tell_news(book)


def open_stage(book: Book, stage: StageName) -> None:
    """Somebody of its bench has come to a station of a lab book. Once is enough; others are told of the first time alone."""
    with writing():
        _, is_first = OpenedStage.objects.get_or_create(book=book, stage=stage)
        if is_first:
            tell_news(book)
