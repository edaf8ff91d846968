"""Lab books of one's own over HTTP: which there are, beginning one, sharing it, erasing it."""

from __future__ import annotations

from django.db.models.fields.json import KT
from django.http import HttpRequest
from ninja import Router

from hobrel.classes.models import Person
from hobrel.classes.queries import is_teacher, sharing_classes, who
from hobrel.labbooks import own
from hobrel.labbooks.models import Book, Summary
from hobrel.labbooks.schemas import BegunBook, OwnBook, OwnBooks, PersonOut, ShareIn, SharingOut
from hobrel.labbooks.summaries import renew_old
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["lab books of one’s own"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 422: ProblemOut}


def _people(found: list[Person]) -> list[PersonOut]:
    return [PersonOut(id=p.pk, name=p.shown_name) for p in found]


def _sharing(book: Book, owner: Person) -> SharingOut:
    shared = list(book.shared_with.order_by("shown_name", "pk"))
    known = {p.pk for p in shared}
    return SharingOut(shared=_people(shared), others=_people([p for p in own.people_to_share_with(book, owner) if p.pk not in known]))


@router.get("/own-books", response=OwnBooks)
def list_own_books(request: HttpRequest) -> OwnBooks:
    """The lab books that somebody has begun, and those that are shared with them, newest first; and whether they may begin another."""
    person = who(request)
    found = own.books_of_own(person).defer("document").annotate(title=KT("document__title")).prefetch_related("shared_with")
    books = list(found)
    rows = renew_old(books, Summary.objects.filter(book__in=books).defer("share"))
    described = []
    for book in books:
        content = rows[book.pk].content if book.pk in rows else {"finding": "", "trouble": []}
        mine = book.owner_id == person.pk
        names = [p.shown_name for p in book.shared_with.all()] if mine else [book.owner.shown_name]
        last = own.last_written(book)
        described.append(
            OwnBook(
                id=book.pk, title=book.title, mine=mine, names=names, written=last, finding=content["finding"], trouble=content["trouble"]
            )
        )
    return OwnBooks(books=described, may_begin=is_teacher(person) or sharing_classes(person).exists())


@router.post("/own-books", response={200: BegunBook, **_REFUSALS})
def begin_own_book(request: HttpRequest) -> BegunBook:
    owner = policy.need_beginner(who(request))
    return BegunBook(id=(own.find_untouched(owner) or own.begin_book(owner)).pk)


@router.get("/own-books/{book_id}/sharing", response={200: SharingOut, **_REFUSALS})
def look_at_sharing(request: HttpRequest, book_id: int) -> SharingOut:
    """Whom a lab book is shared with, and whom else it could be."""
    person = who(request)
    return _sharing(policy.find_own_book(person, book_id), person)


@router.post("/own-books/{book_id}/sharing", response={200: SharingOut, **_REFUSALS})
def share_own_book(request: HttpRequest, book_id: int, given: ShareIn) -> SharingOut:
    person = who(request)
    book = policy.find_own_book(person, book_id)
    if given.shared:
        own.share_book(book, person, given.person)
    else:
        own.unshare_book(book, given.person)
    return _sharing(book, person)


@router.delete("/own-books/{book_id}", response={200: OwnBooks, **_REFUSALS})
def erase_own_book(request: HttpRequest, book_id: int) -> OwnBooks:
    """Erase it with all that is in it and was; this cannot be undone."""
    own.erase_book(policy.find_own_book(who(request), book_id))
    return list_own_books(request)
