"""Tidewater College: an invented school with one teacher, one class and six benches named after shore birds."""

from __future__ import annotations

import datetime
import random

from django.contrib.auth.hashers import make_password
from django.db import transaction

from hobrel.classes.models import Bench, Person, SchoolClass, Seat
from hobrel.core.document.lab_book import write_lab_book
from hobrel.demo import draining_vessel, growth_in_a_flask, sound_through_felt, warm_bolt
from hobrel.demo.clamped_strip import PROMPTS, Story, make_plan, write_bench
from hobrel.labbooks.actions import load_document, open_book, write_remark
from hobrel.labbooks.models import Book
from hobrel.plans.actions import give_out, open_pool, write_plan
from hobrel.reports.actions import hand_in

TEACHER_NAME, TEACHER_PASSWORD = "thorsby", "low-tide-at-nine"
JOIN_CODE, PIN = "SHORE7", "2468"
SEED = 20260907

BENCHES = {
    "Curlew": ("Ada Wren", "Tomas Lind"),
    "Dunlin": ("Mira Sall", "Joss Aldane", "Peter Quill"),
    "Knot": ("Hanne Voss", "Obi Marsh"),
    "Plover": ("Lena Firth", "Sami Brook"),
    "Sanderling": ("Iris Dune", "Noor Hale"),
    "Turnstone": ("Callum Reed", "Yuki Sands"),
}


EXPECTATION = "The further the strip sticks out the slower it swings, more than in proportion."
METHOD = (
    "We clamped the strip flat side upright, set the overhang with the ruler and timed ten swings three times at each of "
    "{settings} overhangs."
)
SANDERLING = (
    ("expectation", "Longer means slower. We think the time grows faster than the overhang."),
    (
        "method",
        "The strip was clamped flat side upright so that it swings sideways and the load does not bend it down. We pulled the load "
        "3 cm aside, let two swings pass and timed ten, three times at each of {settings} overhangs.",
    ),
    (
        "discussion",
        "T² against L³ is straight within the bars, and the line meets the axis at {intercept}, which is near the zero that the "
        "relation says. Most of the uncertainty of E comes from the thickness, because it enters to the third power. One time was "
        "set aside because the strip touched the table leg.",
    ),
    ("conclusion", "The stiffness modulus of our strip is {E}. The workshop found {accepted}, so the two agree."),
)


def _overhangs(first: float, count: int = 8) -> tuple[float, ...]:
    """Overhangs in m, 5 cm apart."""
    return tuple(round(first + 0.05 * i, 3) for i in range(count))


def _stories() -> dict[str, Story]:
    expect = ("expectation", EXPECTATION)
    return {
        "Curlew": Story(_overhangs(0.300), 12.5e9, texts=(expect, ("method", METHOD))),
        "Dunlin": Story(_overhangs(0.305), 12.3e9, mistyped=(4, 1, "8.73"), texts=(expect,)),
        "Knot": Story(_overhangs(0.310, 7), 12.4e9, formula="t_10", texts=(expect,)),
        "Plover": Story(_overhangs(0.300), 12.6e9, texts=(("expectation", "A longer strip is softer, so it swings more slowly."),)),
        "Sanderling": Story(_overhangs(0.295), 12.2e9, set_aside=(6, 2, "11.62", "the strip touched the table leg"), texts=SANDERLING),
        "Turnstone": Story((0.300, 0.400), formula=""),
    }


@transaction.atomic
def load_tidewater() -> None:
    """Write the school, its people and their lab books. The numbers come from a fixed seed."""
    teacher = Person(username=TEACHER_NAME, role=Person.Role.TEACHER, shown_name="M. Thorsby")
    teacher.set_password(TEACHER_PASSWORD)
    teacher.save()
    school_class = SchoolClass.objects.create(name="Physics 11B", year="2026/27", school="Tidewater College", join_code=JOIN_CODE)
    school_class.teachers.add(teacher)
    plan = make_plan()
    practical = give_out(write_plan(teacher, plan, PROMPTS), school_class, datetime.date(2026, 9, 14))
    pin_hash = make_password(PIN)  # slow on purpose, so made once for all
    dice, stories = random.Random(SEED), _stories()
    books: dict[str, Book] = {}
    benches: dict[str, Bench] = {}
    for name, students in BENCHES.items():
        bench = benches[name] = Bench.objects.create(school_class=school_class, name=name)
        for student in students:
            _seat(school_class, bench, student, pin_hash)
        books[name] = open_book(practical, bench)
        load_document(books[name], write_lab_book(write_bench(plan, stories[name], dice)))
    open_pool(practical, True)
    write_remark(books["Knot"], teacher, "average", "Look at your T again: what did the stopwatch show, ten swings or one?")
    first = Person.objects.get(seat__name=BENCHES["Sanderling"][0])
    hand_in(books["Sanderling"], first)
    write_remark(books["Sanderling"], teacher, "report", "Well argued. Which measurement would you improve first, and by how much?")
    _load_earlier(teacher, school_class, benches)


def _load_earlier(teacher: Person, school_class: SchoolClass, benches: dict[str, Bench]) -> None:
    """Practicals of the weeks before, each done by one or two of the benches."""
    vessel, felt = draining_vessel.make_plan(), sound_through_felt.make_plan()
    bolt, flask = warm_bolt.make_plan(), growth_in_a_flask.make_plan()
    dice = random.Random(SEED + 1)
    reason = "no jet any more: the water left in drops"
    earlier = (
        (vessel, draining_vessel.PROMPTS, datetime.date(2026, 9, 7), {
            "Curlew": draining_vessel.write_bench(vessel, dice, reason, {"expectation": "It falls ever more slowly."}),
            "Dunlin": draining_vessel.write_bench(vessel, dice),
        }),
        (felt, sound_through_felt.PROMPTS, datetime.date(2026, 8, 31), {
            "Curlew": sound_through_felt.write_bench(felt, dice, {"expectation": "Each layer takes the same share of what is left."}),
            "Plover": sound_through_felt.write_bench(felt, dice),
        }),
        (bolt, warm_bolt.PROMPTS, datetime.date(2026, 8, 27), {
            "Curlew": warm_bolt.write_bench(bolt, dice, {"expectation": "The water takes what the bolt gives, less a little."}),
        }),
        (flask, growth_in_a_flask.PROMPTS, datetime.date(2026, 8, 24), {
            "Curlew": growth_in_a_flask.write_bench(flask, dice, {"expectation": "First ever faster, then it stops."}),
        }),
    )  # fmt: skip
    for plan, prompts, day, written in earlier:
        practical = give_out(write_plan(teacher, plan, prompts), school_class, day)
        for name, document in written.items():
            load_document(open_book(practical, benches[name]), write_lab_book(document))


def _seat(school_class: SchoolClass, bench: Bench, name: str, pin_hash: str) -> None:
    person = Person(username=f"student-{name.lower().replace(' ', '-')}", role=Person.Role.STUDENT, shown_name=name)
    person.password = pin_hash
    person.save()
    Seat.objects.create(school_class=school_class, bench=bench, name=name, person=person)
