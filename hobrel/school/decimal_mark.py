"""With which decimal mark a class writes: its choice, and the lab books that there are already. See decision 60."""

from __future__ import annotations

import contextlib
import uuid

from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass
from hobrel.core.document.lab_book import DecimalMark, convention_in
from hobrel.labbooks.actions import amend_book
from hobrel.labbooks.edits.patches import Stands, find_patches
from hobrel.labbooks.models import Book
from hobrel.plans.actions import wanted_in
from hobrel.server.writing import writing


def choose_decimal_mark(school_class: SchoolClass, teacher: Person, mark: DecimalMark | None) -> None:
    """Have the numbers of a class's lab books shown with this mark; without one, as each plan has it.

    Every lab book that is shown otherwise now gets one edit of the teacher's. Chosen again, it makes those that are missing.
    """
    with writing():
        SchoolClass.objects.filter(pk=school_class.pk).update(decimal_mark=mark or "")
    school_class.decimal_mark = mark or ""
    at = timezone.now().isoformat()
    for practical in school_class.practicals.select_related("version"):
        practical.school_class = school_class
        wanted = wanted_in(practical).convention.decimal_mark
        for book in Book.objects.filter(practical=practical):
            _show_with(book, teacher, wanted, uuid.uuid5(uuid.NAMESPACE_OID, f"decimal mark:{book.pk}:{at}"))


def _show_with(book: Book, teacher: Person, mark: DecimalMark, client_id: uuid.UUID) -> None:
    if convention_in(book.document).decimal_mark == mark:
        return
    changed = {**book.document, "convention": {**book.document.get("convention", {}), "decimal_mark": mark}}
    # who has chosen otherwise at the same moment has made the edit
    with contextlib.suppress(Stands):
        amend_book(book, teacher, client_id, find_patches(book.document, changed), f"numbers with a {mark}, as the class writes them")
