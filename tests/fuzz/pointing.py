"""Whatever is pointed at and typed on a film: positions or a named error, and nothing written that is no reading."""

from __future__ import annotations

import random
from collections.abc import Iterator
from functools import partial

from hobrel.core.pointing.marks import Axes, Drawn, KnownLength, Mark, Marks, Place, Thing
from hobrel.core.questions.pointing import measure_marks
from hobrel.core.readings.parsing import parse_written
from tests.fuzz.cases import Case

WORDS = ("1", "1.000", "0", "-1", "1e-9", "1e9", "", "nan", "½", "1,5", "1 cm", "2 ± 1", "x" * 61, "０", "1e400")
UNITS = ("m", "cm", "km", "", "s", "ms", "h", "deg", "rad", "°", "°C", "m/s", "°°", "m^2")


def marks(dice: random.Random, count: int) -> Iterator[Case]:
    """Each all marks on a film, and what is written from them."""
    for i in range(count):
        yield Case(f"marks {i}", partial(_write, _some(dice)))


def _place(dice: random.Random) -> Place:
    usual = dice.random() < 0.999
    x, y = (dice.choice((0.0, 100.0, round(dice.uniform(0, 2000), 1))) for _ in range(2))
    return Place(x, y) if usual else Place(dice.choice((float("nan"), float("inf"), 1e7, -1e7, x)), y)


def _some(dice: random.Random) -> Marks:
    def word(usual: str) -> str:
        return usual if dice.random() < 0.9 else dice.choice(WORDS)

    def unit(usual: str) -> str:
        return usual if dice.random() < 0.85 else dice.choice(UNITS)

    known = KnownLength((_place(dice), _place(dice)), word("1.000"), word("0.002"), unit("m"))
    axes = Axes(_place(dice), dice.choice((None, _place(dice))), dice.random() < 0.5)
    things = tuple(Thing(f"b{n}", f"thing {n}", dice.choice((None, _place(dice)))) for n in range(dice.randint(0, 3)))
    seen = sorted({(thing.id, dice.randint(0, 40), dice.randint(0, 2)) for thing in things for _ in range(dice.randint(0, 30))})
    times = [n * dice.choice((0.04, 1 / 30, 0.0)) for n in range(41)]
    return Marks(
        source="film",
        frames=tuple(range(41)),
        times=tuple(times[: dice.choice((41, 41, 3))]) or (),
        every=word(""),
        start=dice.choice((0, 5, 40, 900)),
        within=word("1"),
        known=dice.choice((None, known, known)),
        axes=dice.choice((None, axes, axes)),
        things=things,
        marks=tuple(Mark(thing, frame, turn, _place(dice)) for thing, frame, turn in seen),
        drawn=tuple(
            Drawn(f"d{n}", dice.choice(("length", "angle", "area")), tuple(_place(dice) for _ in range(dice.randint(0, 6))))
            for n in range(3)
        ),
        length_unit=unit(""),
        time_unit=unit("s"),
        angle_unit=unit("deg"),
    )


def _write(pointed: Marks) -> None:
    view = measure_marks(pointed)
    for track in view.tracks:
        for row in track.rows:
            for text in (row.t, row.x, row.y, row.angle):
                if text:
                    parse_written(text)
    for drawn in view.drawn:
        if drawn.reading:
            parse_written(drawn.reading)
