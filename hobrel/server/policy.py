"""Who may do what: every route asks here for what it shows or changes, and every kind of edit names its rule here.

A person has to have to do with a lab book, a practical or a hand-in at all: whoever has not gets the same answer as for what does not
exist. And a bench may change of what its plan has given only what the plan leaves free; what it has added itself is its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from django.db.models import F, Q, QuerySet
from django.utils import timezone

from hobrel.classes.models import Invitation, Person, SchoolClass, Seat
from hobrel.classes.queries import classes_of, is_teacher, local_now, open_invitations, say_weekday, say_when, sharing_classes, teaches
from hobrel.core.document.lab_book import Freedoms
from hobrel.labbooks.models import Book, Remark
from hobrel.labbooks.places import Document, find
from hobrel.plans.models import Plan, Practical
from hobrel.plans.sittings import sits_in
from hobrel.reports.models import HandIn
from hobrel.server.prepared import Select
from hobrel.server.problems import Problem, not_found

Need = Literal["see", "edit", "remark"]


def _books(teacher: bool, whole: bool) -> Select[Book]:
    """Whether a lab book is of somebody's classes, or of a bench where they sit in its practical; to see it, also where they sat.

    A look needs no more of the document than its stamp.
    """
    # whoever writes is asked what of it is open now, and a bench whether it is open to it at all
    books = Book.objects.all() if whole else Book.objects.defer("document")
    if whole or not teacher:
        books = books.select_related("practical")
    if teacher:
        return Select(lambda book, person: books.filter(pk=book, practical__school_class__teachers=person), int, int)
    sitting = {
        "practical__sittings__bench": F("bench"),
        "practical__sittings__seat__off": None,
        "practical__school_class__archived": None,
    }
    if whole:
        sitting.update({"practical__sittings__until": None, "practical__closed": None})
    return Select(lambda book, person: books.filter(pk=book, practical__sittings__seat__person=person, **sitting), int, int)


_BOOKS = {(teacher, whole): _books(teacher, whole) for teacher in (False, True) for whole in (False, True)}


def find_book(person: Person, book_id: int, need: Need = "see") -> Book:
    """A lab book that this person may see, edit (its own bench; one's own) or remark on (the class's teachers).

    Raises
    ------
    Problem
        404 for who may not even see it; 403 for who may see but not do this.
    """
    teacher = is_teacher(person)
    book = _BOOKS[teacher, need == "edit"].first(book_id, person.pk)
    if book is None and (own := _OWN.first(book_id, person.pk, person.pk)) is not None:
        if need == "remark":
            raise Problem(403, "own_book", "This lab book has no class, so nobody leaves remarks in it.")
        return own
    if book is None and need == "edit" and not teacher:
        raise _only_read(_BOOKS[False, False].first(book_id, person.pk))
    if book is None:
        raise not_found()
    if not teacher:
        _check_given_out(book.practical)
    if need == "edit" and teacher:
        raise Problem(403, "look_only", "You can look at this lab book and leave remarks; readings are changed by its bench.")
    if need == "remark" and not teacher:
        raise Problem(403, "teacher_only", "Remarks are left by the teacher.")
    return book


_OWN = Select(lambda book, owner, shared: Book.objects.filter(Q(owner=owner) | Q(shared_with=shared), pk=book).distinct(), *(int, int, int))


def _check_given_out(practical: Practical) -> None:
    """Its benches have their lab books before the day from which they see them."""
    day = practical.given_out
    # wherever the school is, its day is at most one from this
    if day >= timezone.now().date() and day > local_now().date():
        raise Problem(403, "not_yet", f"This practical opens on {say_weekday(day)}.")


def _only_read(book: Book | None) -> Problem:
    """Why somebody may not write in a lab book of a bench, who may perhaps read it."""
    if book is None:
        return not_found()
    if book.practical.closed is not None:
        return Problem(403, "closed", "This practical is closed. It can be read; your teacher can open it again.")
    return Problem(403, "sits_elsewhere", "You sit at another bench now. This lab book can be read; its bench goes on with it.")


def find_own_book(person: Person, book_id: int) -> Book:
    """A lab book that this person has begun.

    Raises
    ------
    Problem
        403 for whom it is only shared with; 404 for everybody else.
    """
    book = _OWN.first(book_id, person.pk, person.pk)
    if book is None:
        raise not_found()
    if book.owner_id != person.pk:
        raise Problem(403, "owner_only", "Only the one who began this lab book can share it or erase it.")
    return book


def need_beginner(person: Person) -> Person:
    """Somebody who may begin lab books of their own: a teacher, or who is in a class that allows it; 403 for others."""
    if not sharing_classes(person).exists() and not is_teacher(person):
        raise Problem(403, "not_allowed", "Your classes do not have lab books of one’s own. Ask your teacher.")
    return person


def find_remark(person: Person, remark_id: int, need: Need = "see") -> Remark:
    """A remark on a lab book with which this person may do what is needed, as `find_book`."""
    found: Remark = _find_beside(Remark, person, remark_id, need)
    return found


def find_hand_in(person: Person, hand_in_id: int, need: Need = "see") -> HandIn:
    """A hand-in of a lab book with which this person may do what is needed, as `find_book`."""
    found: HandIn = _find_beside(HandIn, person, hand_in_id, need)
    return found


def _find_beside(kind: type[Any], person: Person, key: int, need: Need = "see") -> Any:
    found = kind.objects.filter(pk=key).first()
    if found is None:
        raise not_found()
    find_book(person, found.book_id, need)
    return found


def need_teacher(person: Person) -> Person:
    """Somebody who teaches; 404 for everybody else, who need not know that there is anything."""
    if not is_teacher(person):
        raise not_found()
    return person


def need_head(person: Person) -> Person:
    """A head of department; 403 for other teachers, 404 for everybody else."""
    if not need_teacher(person).is_head:
        raise Problem(403, "head_only", "This is for the head of department.")
    return person


def invitations_of(person: Person) -> QuerySet[Invitation]:
    """The open invitations that a teacher may see and call back: their own, and all for a head."""
    found = open_invitations().exclude(kind=Invitation.Kind.FIRST)
    return found if need_teacher(person).is_head else found.filter(made_by=person)


def find_colleague(person: Person, colleague_id: int) -> Person:
    """A teacher of the school, for a teacher."""
    found = Person.objects.filter(pk=colleague_id, role=Person.Role.TEACHER).first() if is_teacher(person) else None
    if found is None:
        raise not_found()
    return found


def find_class(person: Person, class_id: int) -> SchoolClass:
    """A class that this person teaches; 404 for everybody else."""
    found = SchoolClass.objects.filter(pk=class_id, teachers=need_teacher(person)).first()
    if found is None:
        raise not_found()
    return found


def find_seat(person: Person, seat_id: int) -> Seat:
    """A name on the list of a class that this person teaches; 404 for everybody else."""
    found = Seat.objects.filter(pk=seat_id, school_class__teachers=need_teacher(person)).select_related("school_class", "person").first()
    if found is None:
        raise not_found()
    return found


def find_plan(person: Person, plan_id: int) -> Plan:
    """A plan that this teacher writes, alone or with its owner; 404 for everybody else."""
    found = Plan.objects.filter(Q(owner=need_teacher(person)) | Q(book__shared_with=person), pk=plan_id).distinct().first()
    if found is None:
        raise not_found()
    return found


def find_practical(person: Person, practical_id: int, as_teacher: bool = False) -> Practical:
    """A practical of one of the person's classes.

    Raises
    ------
    Problem
        404 for everybody else, and with `as_teacher` for students.
    """
    practical = Practical.objects.filter(pk=practical_id, school_class__in=classes_of(person)).select_related("school_class").first()
    if practical is None or (as_teacher and not teaches(person, practical.school_class)):
        raise not_found()
    return practical


_TAUGHT = Select(
    lambda practical, person: Practical.objects.filter(pk=practical, school_class__teachers=person).select_related("school_class"), int, int
)


def find_taught(person: Person, practical_id: int) -> Practical:
    """A practical of a class that this person teaches, for what is asked every second; 404 for everybody else."""
    practical = _TAUGHT.first(practical_id, person.pk) if is_teacher(person) else None
    if practical is None:
        raise not_found()
    return practical


def find_pool(person: Person, practical_id: int) -> Practical:
    """The practical whose pool this person may see.

    Raises
    ------
    Problem
        404 for other classes; 403 for students as long as the pool is not open.
    """
    practical = find_practical(person, practical_id)
    teacher = teaches(person, practical.school_class)
    if not teacher and not sits_in(person, practical):
        raise Problem(403, "no_bench", "You do not sit at a bench yet. Ask your teacher.")
    if not teacher and not practical.is_pool_open:
        when = f"It opens on {say_when(practical.pool_opens)}." if practical.pool_opens else "Your teacher opens it."
        raise Problem(403, "pool_closed", f"The pool is not open yet. {when}")
    return practical


# rules of the kinds of edits: a bench that may edit its lab book may make this change in it


def left_to_the_bench(document: Document, edit: Any) -> None:
    """Nothing that a plan fixes."""


def readings(document: Document, edit: Any) -> None:
    """What is read off is written; what is worked out or given is not typed over."""
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] not in ("changed", "measured"):
        raise _given(f"{quantity['name']} is worked out or given, so it cannot be typed over.")


def repeats(document: Document, edit: Any) -> None:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "measured":
        raise _given(f"{quantity['name']} has no repeats.")
    if quantity["given"] and not _freedoms(document).repeats:
        raise _given(f"The plan says how often {quantity['name']} is measured.")


def own_formula(document: Document, edit: Any) -> None:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "derived" or quantity["given"]:
        raise _given(f"{quantity['name']} is given by the plan.")


def digits(document: Document, edit: Any) -> None:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "derived":
        raise _given(f"{quantity['name']} is written with the digits of its readings.")


def own_quantities(document: Document, edit: Any) -> None:
    if not _freedoms(document).own_quantities:
        raise _given("The plan of this practical says which quantities there are.")


def own_plan(document: Document, edit: Any) -> None:
    """What only somebody changes who has no plan from a teacher."""
    if not _freedoms(document).plan:
        raise _given("The plan of this practical says this.")


def headings(document: Document, edit: Any) -> None:
    """Any without a teacher's plan; with one, those of the bench's own quantities."""
    if _freedoms(document).plan:
        return
    own_quantities(document, edit)
    if any(q["id"] == edit.quantity for q in document["quantities"]):
        own_quantity(document, edit)


def convention(document: Document, edit: Any) -> None:
    """All of it without a teacher's plan; with one, the spread of repeats where that is left free."""
    free = _freedoms(document)
    if not free.plan and not (free.spread and edit.becomes.model_fields_set <= {"spread", "combine"}):
        raise _given("The class has one convention, which the plan of this practical says.")


def plan_draft(document: Document, edit: Any) -> None:
    """What stands in a plan that is being written, and in no lab book of a bench."""
    if not document.get("plan", {}).get("draft"):
        raise _given("This is written in a plan. A bench’s lab book has it from there.")


def own_quantity(document: Document, edit: Any) -> None:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["given"]:
        raise _given(f"{quantity['name']} is given by the plan.")


def quantity(document: Document, edit: Any) -> None:
    """Of a quantity that the plan has given, its unit and its instrument where the plan leaves them free."""
    known = find(document["quantities"], edit.quantity, "quantity")
    if not known["given"]:
        return
    free, name, changed = _freedoms(document), known["name"], _changed(known, edit.becomes)
    own_value = {"value", "u"} if known["id"] in document.get("plan", {}).get("own_values", ()) else set()
    if changed & ({"name", "symbol", "holds", "value", "u"} - own_value):
        raise _given(f"{name} is given by the plan.")
    if "unit" in changed and not free.units:
        raise _given(f"The plan gives the unit of {name}.")
    if "instrument" in changed and known["kind"] in ("changed", "measured") and not free.instruments:
        raise _given(f"The plan says what {name} is read from.")


def finding(document: Document, edit: Any) -> None:
    """Of a finding that the plan asks for, what it is compared with, and where in the bench's own readings its numbers are taken."""
    known = find(document["findings"], edit.finding, "finding")
    if not known.get("given", True):
        return
    changed = _changed(known, edit.becomes) - {"compare"}
    if "uses" in changed and _without_places(known["uses"]) == _without_places(edit.becomes.model_dump()["uses"]):
        changed -= {"uses"}
    if changed:
        raise _given(f"{known['name']} is given by the plan. What it is compared with is yours to choose, and where it is taken.")


def _without_places(uses: Iterable[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """What a finding uses, but for the ends of its stretches and the places of its read-offs."""
    return [{name: value for name, value in part.items() if name not in ("low", "high", "at")} for part in uses]


def own_finding(document: Document, edit: Any) -> None:
    known = find(document["findings"], edit.finding, "finding")
    if known.get("given", True):
        raise _given(f"{known['name']} is asked for by the plan.")


def _changed(item: Document, becomes: Any) -> set[str]:
    """The fields that an edit would make other than they are."""
    wanted = becomes.model_dump()
    return {field for field in becomes.model_fields_set if wanted[field] != item.get(field)}


def _freedoms(document: Document) -> Freedoms:
    """What the plan lets the bench change."""
    return Freedoms(**document.get("freedoms", {}))


def _given(message: str) -> Problem:
    return Problem(403, "given", message)
