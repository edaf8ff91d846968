"""Writing plans and giving them out."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from django.db.models import F

from hobrel.classes.models import Person, SchoolClass
from hobrel.core.document.lab_book import LabBook, write_lab_book
from hobrel.plans.models import Plan, Practical
from hobrel.plans.sittings import seat_class
from hobrel.server.writing import writing


def write_plan(owner: Person, document: LabBook, prompts: Mapping[str, str]) -> Plan:
    """Keep a plan. `document` is a lab book without readings."""
    return Plan.objects.create(owner=owner, title=document.title, document=write_lab_book(document), prompts=dict(prompts))


def give_out(plan: Plan, school_class: SchoolClass, day: date) -> Practical:
    """Start a practical: the class gets the plan as it is now, and sits as it sits now: later changes touch no running work."""
    copied = {"title": plan.title, "document": plan.document, "prompts": plan.prompts}
    practical = Practical(school_class=school_class, plan=plan, given_out=day, **copied)
    with writing():
        practical.save()
        seat_class(practical)
    return practical


def open_pool(practical: Practical, is_open: bool) -> None:
    practical.pool_open = is_open
    with writing():
        practical.save(update_fields=["pool_open"])
        practical.books.update(news=F("news") + 1)
