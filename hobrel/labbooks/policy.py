"""Who may do what with a lab book."""

from __future__ import annotations

from typing import Literal

from hobrel.classes.models import Person
from hobrel.classes.queries import bench_of, teaches
from hobrel.labbooks.models import Book, Remark
from hobrel.server.problems import Problem, not_found

Need = Literal["see", "edit", "remark"]


def find_book(person: Person, book_id: int, need: Need = "see") -> Book:
    """A lab book that this person may see, edit (its own bench) or remark on (the class's teachers).

    Raises
    ------
    Problem
        404 for who may not even see it; 403 for who may see but not do this.
    """
    books = Book.objects.select_related("practical__school_class", "bench")
    # an edit reads the document again, under its lock
    book = (books.defer("document") if need == "edit" else books).filter(pk=book_id).first()
    if book is None:
        raise not_found()
    teacher = teaches(person, book.practical.school_class)
    own = not teacher and bench_of(person) == book.bench
    if not (teacher or own):
        raise not_found()
    if need == "edit" and not own:
        raise Problem(403, "look_only", "You can look at this lab book and leave remarks; readings are changed by its bench.")
    if need == "remark" and not teacher:
        raise Problem(403, "teacher_only", "Remarks are left by the teacher.")
    return book


def find_remark(person: Person, remark_id: int) -> Remark:
    remark = Remark.objects.filter(pk=remark_id).first()
    if remark is None:
        raise not_found()
    find_book(person, remark.book_id)
    return remark
