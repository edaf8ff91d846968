"""Practicals: versions of plans that run in classes, and what is decided of them."""

from __future__ import annotations

from datetime import date
from typing import Any, cast

from django.db.models import F

from hobrel.classes.models import SchoolClass
from hobrel.core.document.lab_book import DecimalMark, LabBook, read_lab_book, write_lab_book
from hobrel.core.document.plans import open_for_bench, write_with
from hobrel.plans.models import Amendment, Plan, PlanVersion, Practical
from hobrel.plans.sittings import seat_class
from hobrel.server.writing import writing


def keep_version(plan: Plan, document: dict[str, Any]) -> PlanVersion:
    """A plan as it is now, as a version; the last one where nothing has changed since."""
    with writing():
        last = plan.versions.first()
        if last is not None and last.document == document:
            return last
        return PlanVersion.objects.create(plan=plan, number=last.number + 1 if last else 1, document=document)


def begin_practical(version: PlanVersion, school_class: SchoolClass, day: date) -> Practical:
    """Start a practical: the class gets the version, and sits as it sits now: later changes touch no running work."""
    practical = Practical(school_class=school_class, version=version, title=version.document["title"], given_out=day)
    with writing():
        practical.save()
        seat_class(practical)
    return practical


def bench_document(practical: Practical) -> dict[str, Any]:
    """What the lab book of a bench begins as."""
    return write_lab_book(open_for_bench(wanted_in(practical)))


def wanted_in(practical: Practical) -> LabBook:
    """What a practical asks for, as its class writes numbers."""
    return written_for(practical.school_class, read_lab_book(practical.version.document))


def written_for(school_class: SchoolClass, plan: LabBook) -> LabBook:
    """A plan as a class writes numbers, where it has chosen how."""
    return write_with(plan, cast(DecimalMark, school_class.decimal_mark)) if school_class.decimal_mark else plan


def open_pool(practical: Practical, is_open: bool) -> None:
    practical.pool_open = is_open
    if not is_open:
        # closed by hand, it does not open by itself again
        practical.pool_opens = None
    with writing():
        practical.save(update_fields=["pool_open", "pool_opens"])
        practical.books.update(news=F("news") + 1)


def forget_unused_versions() -> None:
    """Versions of plans that are no more go with the last practical that used them."""
    used = Amendment.objects.values_list("before", "after")
    kept = {key for pair in used for key in pair}
    PlanVersion.objects.filter(plan=None, practicals=None).exclude(pk__in=kept).delete()
