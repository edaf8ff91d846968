"""Erasing a class, a student, a teacher: everything goes that is of them alone, and a receipt stays that names nobody.

What others have part in stays, without the name: a lab book is made of its edits, so those of somebody who has left go on under no name.
See decision 32.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

from django.db.models import Q

from hobrel.classes.models import Person, Receipt, SchoolClass, Seat
from hobrel.labbooks.models import Book, EditRecord, new_stamp
from hobrel.plans.actions import forget_unused_versions
from hobrel.plans.models import Sitting
from hobrel.reports.actions import take_prints_away
from hobrel.reports.models import HandIn
from hobrel.school.lists import same_name
from hobrel.server.problems import Problem
from hobrel.server.writing import writing


def erase_class(school_class: SchoolClass, typed: str, by: Person) -> Receipt:
    """Erase a class with its list, benches, practicals, lab books, edits, remarks and hand-ins; and its students who are in no other.

    Raises
    ------
    Problem
        422 ``other_name`` where `typed` is not its name.
    """
    _check_name(school_class.name, typed)
    with writing():
        people = list(Person.objects.filter(seats__school_class=school_class).distinct())
        books = Book.objects.filter(practical__school_class=school_class)
        counts = {"student": school_class.seats.count(), "practical": school_class.practicals.count(), "lab book": books.count()}
        school_class.delete()
        forget_unused_versions()
        _erase_people(people)
        return _receipt(by, f"a class: {_say(counts)}")


def erase_student(seat: Seat, typed: str, by: Person) -> Receipt:
    """Erase a student from a class: the name, where it sat, the lab books in which nobody else has sat. In those of others what they wrote
    stays under no name, also in what has been handed in. In no other class, the person goes as well, with their own lab books.

    Raises
    ------
    Problem
        422 ``other_name`` where `typed` is not the name.
    """
    _check_name(seat.name, typed)
    person = seat.person
    benches = list(Sitting.objects.filter(seat=seat).values_list("practical", "bench").distinct())
    with writing():
        shared = [(p, b) for p, b in benches if Sitting.objects.filter(practical=p, bench=b).exclude(seat=seat).exists()]
        alone = Q(pk__in=[])
        for practical, bench in set(benches) - set(shared):
            alone |= Q(practical=practical, bench=bench)
        erased = Book.objects.filter(alone).count()
        Book.objects.filter(alone).delete()
        here = Q(book__practical__school_class=seat.school_class)
        EditRecord.objects.filter(here, author=person).update(author=None)
        HandIn.objects.filter(here, by=person).update(by=None)
        seat.delete()
        if person is not None:
            _erase_people([person])
        left = [book for book in (_book_of(practical, bench) for practical, bench in shared) if book is not None]
        for book in left:
            _take_names_out(book)
        take_prints_away(left)
        return _receipt(by, f"a student of a class: {_say({'lab book': erased})}; what they wrote with others stays under no name")


def erase_teacher(colleague: Person, typed: str, by: Person) -> Receipt:
    """Erase a teacher, with plans and lab books of their own; practicals that were given out stay.

    Raises
    ------
    Problem
        422 ``other_name``; 409 ``last_head`` or ``teaches_alone``.
    """
    _check_name(colleague.shown_name, typed)
    with writing():
        others = Person.objects.filter(role=Person.Role.TEACHER).exclude(pk=colleague.pk)
        if not others.filter(is_head=True).exists():
            raise Problem(409, "last_head", "The school needs a head of department. Invite another one first.")
        alone = [c.name for c in colleague.taught_classes.all() if not c.teachers.exclude(pk=colleague.pk).exists()]
        if alone:
            raise Problem(409, "teaches_alone", f"Nobody else teaches {', '.join(alone[:5])}. Let a colleague in there first, or erase it.")
        counts = {"plan": colleague.plans.count(), "lab book": colleague.own_books.filter(plan=None).count()}
        colleague.delete()
        forget_unused_versions()
        return _receipt(by, f"a teacher: {_say(counts)}")


def _check_name(name: str, typed: str) -> None:
    if same_name(typed) != same_name(name):
        raise Problem(422, "other_name", f"Type the name as it is written, {name}, and everything of it goes.", {"field": "name"})


def _erase_people(people: Iterable[Person]) -> None:
    """Those who are in no class any more; their sessions are bound to them, and end."""
    for person in people:
        if person.role == Person.Role.STUDENT and not person.seats.exists():
            person.delete()


def _book_of(practical: int, bench: int) -> Book | None:
    return Book.objects.filter(practical=practical, bench=bench).first()


def _take_names_out(book: Book) -> None:
    """What documents say of whom: who has confirmed a slip. Left are the names of those who have sat there and are on the list still, so
    that one who was once written otherwise goes as well.
    """
    sat = Sitting.objects.filter(practical=book.practical_id, bench=book.bench_id)
    names = set(sat.values_list("seat__name", flat=True))
    # another stamp, for what has been worked out from the document holds the name as well
    Book.objects.filter(pk=book.pk).update(document=_without(book.document, names), stamp=new_stamp())
    for record in book.edits.all():
        change, patches = _without(record.change, names), _without(record.patches, names)
        if (change, patches) != (record.change, record.patches):
            EditRecord.objects.filter(pk=record.pk).update(change=change, patches=patches)
    for handed in book.hand_ins.only("document", "analysis"):
        HandIn.objects.filter(pk=handed.pk).update(document=_without(handed.document, names), analysis=_without(handed.analysis, names))


def _without(value: Any, names: Collection[str]) -> Any:
    """JSON with all but these names taken out wherever it says by whom something was done."""
    if isinstance(value, dict):
        return {key: "" if key == "by" and inner not in names else _without(inner, names) for key, inner in value.items()}
    return [_without(inner, names) for inner in value] if isinstance(value, list) else value


def _say(counts: dict[str, int]) -> str:
    return ", ".join(f"{n} {noun}" if n == 1 else f"{n} {noun}s" for noun, n in counts.items())


def _receipt(by: Person, words: str) -> Receipt:
    return Receipt.objects.create(by=by.shown_name, words=words)
