"""Who sits where in a practical: the only writers of sittings. See decision 30."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import QuerySet
from django.utils import timezone

from hobrel.classes.models import Bench, Person, SchoolClass, Seat
from hobrel.plans.models import Practical, Sitting
from hobrel.server.writing import writing


def seat_class(practical: Practical) -> None:
    """Let everybody sit in a practical as they sit in the class now."""
    Sitting.objects.bulk_create(
        Sitting(practical=practical, seat=seat, bench=seat.bench)
        for seat in practical.school_class.seats.filter(off=None).exclude(bench=None).select_related("bench")
    )


def seat_late(person: Person, practicals: Iterable[Practical]) -> None:
    """Let somebody sit who was not on the list, or at no bench, when these practicals were given out."""
    _seat_who_never_sat(practicals, person.seats.all())


def seat_newcomers(school_class: SchoolClass) -> list[Practical]:
    """Let everybody of a class who sits at a bench sit there in its practicals that run or come, as far as they have never sat in these.

    Returns
    -------
    list of Practical
        Those practicals.
    """
    practicals = list(school_class.practicals.filter(closed=None))
    _seat_who_never_sat(practicals, school_class.seats.all())
    return practicals


def _seat_who_never_sat(practicals: Iterable[Practical], among: QuerySet[Seat]) -> None:
    seats = list(among.filter(off=None).exclude(bench=None).select_related("bench"))
    sat = set(Sitting.objects.filter(seat__in=seats).values_list("practical", "seat"))
    missing = [
        Sitting(practical=practical, seat=seat, bench=seat.bench)
        for practical in practicals
        for seat in seats
        if seat.school_class_id == practical.school_class_id and (practical.pk, seat.pk) not in sat
    ]
    if missing:
        with writing():
            Sitting.objects.bulk_create(missing, ignore_conflicts=True)


def move_seat(seat: Seat, bench: Bench | None, practicals: Iterable[Practical]) -> None:
    """Let a name sit at another bench, or at none: in these practicals from now on, and in all that come."""
    with writing():
        now = timezone.now()
        Seat.objects.filter(pk=seat.pk).update(bench=bench)
        for practical in practicals:
            sitting = Sitting.objects.filter(practical=practical, seat=seat, until=None).first()
            if (sitting.bench_id if sitting else None) == (bench.pk if bench else None):
                continue
            if sitting is not None:
                Sitting.objects.filter(pk=sitting.pk).update(until=now)
            if bench is not None:
                Sitting.objects.create(practical=practical, seat=seat, bench=bench, since=now)
    seat.bench = bench


def take_off(seat: Seat) -> None:
    """Take a name off the list: it cannot sign in any more; what was written stays."""
    with writing():
        now = timezone.now()
        Seat.objects.filter(pk=seat.pk).update(off=now)
        Sitting.objects.filter(seat=seat, until=None).update(until=now)


def sits_at(person: Person, practical: Practical, bench: Bench) -> bool:
    """Whether somebody sits at this bench in a practical, so that its lab book is theirs to write in."""
    return _sittings_now(person, practical).filter(bench=bench).exists()


def sits_in(person: Person, practical: Practical) -> bool:
    """Whether somebody sits at a bench in a practical."""
    return _sittings_now(person, practical).exists()


def _sittings_now(person: Person, practical: Practical) -> QuerySet[Sitting]:
    return Sitting.objects.filter(practical=practical, seat__person=person, seat__off=None, until=None)


def names_at(practical: Practical, bench: Bench) -> list[str]:
    """The names at a bench in a practical, in their order."""
    sittings = Sitting.objects.filter(practical=practical, bench=bench, until=None).select_related("seat")
    return [sitting.seat.name for sitting in sittings.order_by("seat__order")]
