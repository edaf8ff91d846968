"""Classes, their lists, benches and doors: the only writers of these. See decision 30."""

from __future__ import annotations

import random
import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import timedelta
from itertools import pairwise
from typing import Literal

from django.db.models import Count
from django.utils import timezone

from hobrel.classes.actions import end_of_day, free_seat
from hobrel.classes.models import Bench, Person, School, SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.labbooks.actions import lay_out_books
from hobrel.plans.models import Practical
from hobrel.plans.sittings import move_seat, seat_newcomers, take_off
from hobrel.school.invitations import SIGNS
from hobrel.school.lists import ListedName, same_name
from hobrel.school.teachers import read_words
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

CODE_LONG = 6
LEAST_OPEN = timedelta(hours=1)
MOST_CLASSES, SMALLEST, LARGEST = 60, 1, 8
Way = Literal["random", "alphabet", "others"]


@dataclass(frozen=True)
class ListDifference:
    """What a list would change: names that are new, gone, at another bench, and those that stay as they are."""

    new: tuple[ListedName, ...]
    same: tuple[Seat, ...]
    moved: tuple[tuple[Seat, str], ...]
    gone: tuple[Seat, ...]


def make_class(teacher: Person, name: str, year: str) -> SchoolClass:
    """Make a class of this teacher, without anybody on its list yet; its door is open for today."""
    if teacher.taught_classes.count() >= MOST_CLASSES:
        raise Problem(422, "bad_field", f"{MOST_CLASSES} classes are as many as one teacher can have here.", {"field": "name"})
    school = School.objects.first()
    written = SchoolClass(
        name=read_words(name, "name", "the name of the class"),
        year=" ".join(year.split())[:20],
        school=school.name if school else "",
        join_code=_new_code(),
        door_until=end_of_day(local_now(), LEAST_OPEN),
    )
    with writing():
        written.save()
        written.teachers.add(teacher)
    return written


def _new_code() -> str:
    while True:
        code = "".join(secrets.choice(SIGNS) for _ in range(CODE_LONG))
        if not SchoolClass.objects.filter(join_code=code).exists():
            return code


def compare_list(school_class: SchoolClass, names: Sequence[ListedName]) -> ListDifference:
    """What a list would change. A name that stands without a bench stays where it sits."""
    seats = {same_name(seat.name): seat for seat in school_class.seats.filter(off=None).select_related("bench")}
    listed = {same_name(one.name): one for one in names}
    both = [(seats[key], one.bench) for key, one in listed.items() if key in seats]

    def is_moved(seat: Seat, bench: str) -> bool:
        return bool(bench) and same_name(bench) != same_name(seat.bench.name if seat.bench else "")

    return ListDifference(
        new=tuple(one for key, one in listed.items() if key not in seats),
        same=tuple(seat for seat, bench in both if not is_moved(seat, bench)),
        moved=tuple((seat, bench) for seat, bench in both if is_moved(seat, bench)),
        gone=tuple(seat for key, seat in seats.items() if key not in listed),
    )


def keep_list(school_class: SchoolClass, names: Sequence[ListedName], without_gone: bool, practicals: Sequence[Practical]) -> None:
    """Bring a class to what a list says. Names that are gone stay unless they are to be taken off; nobody's work is lost either way."""
    with writing():
        difference = compare_list(school_class, names)
        benches = _Benches(school_class)
        # one who was taken off and is listed again is who they were
        taken_off = {same_name(seat.name): seat for seat in school_class.seats.exclude(off=None)}
        for one in difference.new:
            before = taken_off.get(same_name(one.name))
            seat = before or Seat(school_class=school_class, name=one.name)
            seat.off, seat.bench = None, benches.get(one.bench)
            seat.save()
            if before is not None:
                move_seat(seat, seat.bench, practicals)
        for seat, bench in difference.moved:
            move_seat(seat, benches.get(bench), practicals)
        for seat in difference.gone if without_gone else ():
            take_off(seat)
        lay_out_books({*practicals, *seat_newcomers(school_class)})


@dataclass
class _Benches:
    """The benches of a class by name; one that is not there is made."""

    school_class: SchoolClass
    known: dict[str, Bench] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.known = {same_name(bench.name): bench for bench in self.school_class.benches.all()}

    def get(self, name: str) -> Bench | None:
        if not name:
            return None
        if same_name(name) not in self.known:
            self.known[same_name(name)] = Bench.objects.create(school_class=self.school_class, name=name)
        return self.known[same_name(name)]


def deal_benches(school_class: SchoolClass, size: int, way: Way, seed: int | None = None) -> list[list[Seat]]:
    """Deal everybody on the list into benches of so many; where it does not come out even, some have one more.

    ``random``; ``alphabet``; ``others``: at random, with as few as can be who share a bench now.
    """
    if not SMALLEST <= size <= LARGEST:
        raise Problem(422, "bad_field", f"A bench is for {SMALLEST} to {LARGEST}.", {"field": "size"})
    # who is absent today is seated when they are back
    seats = list(school_class.seats.filter(off=None).exclude(absent=local_now().date()))
    if not seats:
        raise Problem(422, "bad_field", "There is nobody on the list yet.", {"field": "size"})
    if way == "alphabet":
        return _dealt(seats, size)
    dice = random.Random(seed)
    best: tuple[int, list[list[Seat]]] | None = None
    for _ in range(200 if way == "others" else 1):
        tried = _dealt(dice.sample(seats, len(seats)), size)
        together = sum(_pairs(bench) for bench in tried)
        if best is None or together < best[0]:
            best = together, tried
    assert best is not None
    return best[1]


def sat_last(school_class: SchoolClass) -> dict[str, list[Seat]]:
    """Everybody on the list at the bench where they sat in the newest practical; who sat nowhere is left out.

    Raises
    ------
    Problem
        422 where there has been none.
    """
    last = school_class.practicals.order_by("-given_out", "-pk").first()
    sat = last.sittings.filter(until=None, seat__off=None).select_related("seat", "bench") if last else ()
    found: dict[str, list[Seat]] = {}
    for sitting in sorted(sat, key=lambda s: (s.bench.order, s.seat.order)):
        found.setdefault(sitting.bench.name, []).append(sitting.seat)
    if not found:
        raise Problem(422, "bad_field", "Nobody has sat anywhere yet: no practical was given out to this class.", {"field": "size"})
    return found


def _dealt(seats: Sequence[Seat], size: int) -> list[list[Seat]]:
    count = max(len(seats) // size, 1)
    ends = [round(len(seats) * i / count) for i in range(count + 1)]
    return [list(seats[a:b]) for a, b in pairwise(ends)]


def _pairs(bench: Sequence[Seat]) -> int:
    return sum(a.bench_id is not None and a.bench_id == b.bench_id for i, a in enumerate(bench) for b in bench[:i])


def seat_all(school_class: SchoolClass, at: Mapping[str, Sequence[int]], practicals: Sequence[Practical]) -> None:
    """Seat names (by their keys) at benches (by their names); those that are not named are at none. Benches that nobody has sat at go."""
    keys = [key for seats in at.values() for key in seats]
    if len(keys) != len({*keys}):
        raise Problem(422, "bad_field", "One name cannot sit at two benches.", {"field": "benches"})
    with writing():
        seats = {seat.pk: seat for seat in school_class.seats.filter(off=None)}
        if missing := [key for key in keys if key not in seats]:
            raise Problem(409, "gone", f"{len(missing)} of these names are no longer on the list. Look at it again.")
        benches = _Benches(school_class)
        placed = {key: benches.get(read_words(name, "benches", "a name for the bench")) for name, of in at.items() for key in of}
        for key, seat in seats.items():
            move_seat(seat, placed.get(key), practicals)
        lay_out_books({*practicals, *seat_newcomers(school_class)})
        counted = school_class.benches.annotate(sat=Count("sittings"), held=Count("books"), sits=Count("seats"))
        counted.filter(sat=0, held=0, sits=0).delete()


def move_one(seat: Seat, bench: str, practicals: Sequence[Practical]) -> None:
    """Seat one name at a bench (made where there is none of this name), or at none."""
    with writing():
        move_seat(seat, _Benches(seat.school_class).get(bench and read_words(bench, "bench", "a name for the bench")), practicals)
        lay_out_books({*practicals, *seat_newcomers(seat.school_class)})


def rename_seat(seat: Seat, name: str) -> None:
    """Give a name on a list another spelling; its person is called so wherever they have written."""
    seat.name = read_words(name, "name", "the name")
    if any(same_name(other.name) == same_name(seat.name) for other in seat.school_class.seats.exclude(pk=seat.pk)):
        raise Problem(409, "name_taken", "This name is on the list already. Write something beside it, as in Ada B.", {"field": "name"})
    with writing():
        seat.save()
        if seat.person is not None:
            seat.person.shown_name = seat.name
            seat.person.save(update_fields=["shown_name"])


def forget_pin(seat: Seat) -> None:
    """Let whoever signs in next with this name choose another PIN, today; sessions under the one before end."""
    free_seat(seat)
    open_door(seat.school_class, True)


def open_door(school_class: SchoolClass, is_open: bool) -> None:
    """Let names without a PIN be taken until the end of the day, or not any more."""
    with writing():
        SchoolClass.objects.filter(pk=school_class.pk).update(door_until=end_of_day(local_now(), LEAST_OPEN) if is_open else timezone.now())
