"""Lab books of one's own at a simulated apparatus, to practise on."""

from __future__ import annotations

from dataclasses import replace

from hobrel.classes.models import Person
from hobrel.classes.queries import mark_in_classes
from hobrel.core.document.lab_book import LabBook, write_lab_book
from hobrel.core.document.plans import ALL_FREE, freeze_plan, open_for_bench, write_with
from hobrel.labbooks.actions import load_document
from hobrel.labbooks.models import Book
from hobrel.labbooks.own import begin_book
from hobrel.server.problems import not_found
from hobrel.shelf.plans import SHELF


def begin_practising(person: Person, rig: str) -> Book:
    """A lab book of somebody's own, as a bench gets the plan of the shelf with this rig, but all of it free and nothing withheld.

    Raises
    ------
    Problem
        404 where no plan has such a rig; as `begin_book`.
    """
    plan = next((plan for _, write in SHELF.values() if rig and (plan := write()).plan.rig.key == rig), None)
    if plan is None:
        raise not_found()
    book = begin_book(person)
    load_document(book, write_lab_book(write_with(_for_oneself(plan), mark_in_classes(person))))
    return book


def _for_oneself(plan: LabBook) -> LabBook:
    shown = replace(plan.plan, ask_first=False, relation_shown="at_once", accepted_shown="at_once", left_open=(), conditions=())
    opened = open_for_bench(freeze_plan(replace(plan, plan=shown)))
    return replace(
        opened,
        freedoms=ALL_FREE,
        quantities=tuple(replace(q, given=False) for q in opened.quantities),
        findings=tuple(replace(f, given=False) for f in opened.findings),
    )
