"""Tables with one slip of the pen in them, each material: twelve standard deviations off or more; and what of it is noticed."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, replace

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.readings.instruments import Instrument

MATERIAL = 12


@dataclass(frozen=True)
class Practical:
    """What is measured, of what, with which scatter (`sd`, absolute; `relative`, a share of y), and the plot that the plan makes straight.

    x runs evenly from `x_from` to `x_to`, or by factors where `by_factors`.
    """

    name: str
    x_from: float
    x_to: float
    x_decimals: int
    y: Callable[[float], float]
    sd: float
    relative: float
    y_decimals: int
    plot: str
    against: str
    by_factors: bool = False

    def sd_at(self, x: float) -> float:
        return math.hypot(self.sd, self.relative * self.y(x))


PRACTICALS = (
    Practical("pendulum", 0.20, 1.00, 3, lambda v: 20 * math.pi * math.sqrt(v / 9.81), 0.08, 0.0, 2, "(y/10)^2", "x"),
    Practical("spring", 0.1, 0.8, 3, lambda v: 39.24 * v, 0.25, 0.0, 1, "y", "x"),
    Practical("decay", 0.0, 60.0, 1, lambda v: 80 * math.exp(-v / 40), 0.5, 0.0, 1, "ln(y)", "x"),
    Practical("gas in a syringe", 10.0, 40.0, 1, lambda v: 2400 / v, 0.0, 0.008, 1, "1/y", "x"),
    Practical("free fall", 0.2, 1.6, 3, lambda v: math.sqrt(2 * v / 9.81), 0.004, 0.0, 3, "y^2", "x"),
    Practical("wire", 0.1, 1.0, 3, lambda v: 4.7 * v + 0.3, 0.02, 0.005, 2, "y", "x"),
    Practical("light", 0.2, 1.2, 3, lambda v: 90 / v**2, 0.3, 0.01, 1, "y", "1/x^2"),
    Practical("lamp", 1.0, 12.0, 2, lambda v: 0.35 * v**0.6, 0.004, 0.0, 3, "ln(y)", "ln(x)", True),
)


@dataclass(frozen=True)
class Table:
    """The rows as they are written, and what is behind them."""

    practical: Practical
    x: list[str]
    y: list[list[str]]
    repeats: int

    def reading(self, row: int, repeat: int) -> float:
        return float(self.y[row][repeat])

    def sd(self, row: int) -> float:
        return self.practical.sd_at(float(self.x[row]))

    def far(self, row: int, value: float, was: float, n: int = 1) -> bool:
        """Whether a value is so far from what it was that it matters; for the mean of n readings."""
        return abs(value - was) >= MATERIAL * self.sd(row) / math.sqrt(n)


def draw_table(dice: random.Random) -> Table:
    """Five to ten settings; two to five repeats, or one reading in one table of ten."""
    practical, count, repeats = dice.choice(PRACTICALS), dice.randint(5, 10), dice.choice((1, 2, 2, 2, 3, 3, 3, 4, 4, 5))
    xs, ys = [], []
    for i in range(count):
        share = i / (count - 1)
        x = practical.x_from + (practical.x_to - practical.x_from) * share
        if practical.by_factors:
            x = practical.x_from * (practical.x_to / practical.x_from) ** share
        text = f"{x:.{practical.x_decimals}f}"
        xs.append(text)
        value = float(text)
        ys.append([f"{practical.y(value) + dice.gauss(0, practical.sd_at(value)):.{practical.y_decimals}f}" for _ in range(repeats)])
    return Table(practical, xs, ys, repeats)


UNITS = {
    "x": "m",
    "y": "s",
    "(y/10)^2": "s^2",
    "y^2": "s^2",
    "sqrt(y)": "s^(1/2)",
    "1/y": "1/s",
    "1/x^2": "1/m^2",
    "ln(y)": "",
    "ln(x)": "",
}
"""Of what is measured, whatever it is, and of what a plan makes of it: its headings name them."""


def make_book(table: Table, relation: bool = True) -> LabBook:
    """The lab book of a table: y against x as it was measured, and the plot that its plan makes straight (or only the first)."""
    p = table.practical
    derived = [(name, formula) for name, formula in (("Y", p.plot), ("X", p.against)) if formula not in ("x", "y")]
    axes = {"x": "x", "y": "y", **{formula: name for name, formula in derived}}
    settings = tuple(
        Setting(f"s{i}", {"x": (Reading(x) if x else None,), "y": tuple(Reading(t) if t else None for t in y)})
        for i, (x, y) in enumerate(zip(table.x, table.y, strict=True))
    )
    raw, plot = Graph("raw", "", "x", "y"), Graph("g", "", axes[p.against], axes[p.plot])
    return LabBook(
        p.name,
        convention=Convention("standard_error", "quadrature"),
        quantities=(
            Quantity("x", "changed", "x", "x", UNITS["x"], Instrument("scale", "scale", f"{10.0**-p.x_decimals:.{p.x_decimals}f}")),
            Quantity(
                "y",
                "measured",
                "y",
                "y",
                UNITS["y"],
                Instrument("display", "display", f"{10.0**-p.y_decimals:.{p.y_decimals}f}"),
                table.repeats,
            ),
            *(Quantity(name, "derived", name, name, UNITS[formula], formula=formula) for name, formula in derived),
        ),
        runs=(Run("r", "", settings),),
        graphs=(raw, plot) if relation and derived else (raw,),
        fits=(Fit("f", "g" if relation and derived else "raw"),),
        findings=(Finding("F", "F", "F", "", "gradient", "f"),),
    )


Place = tuple[str | None, str | None]
"""Setting and quantity, None for any."""
Slipped = tuple[Table, set[Place]]


def _with(table: Table, row: int, repeat: int, text: str) -> Table:
    y = [list(r) for r in table.y]
    y[row][repeat] = text
    return replace(table, y=y)


def _one(table: Table, dice: random.Random) -> tuple[int, int]:
    return dice.randrange(len(table.y)), dice.randrange(table.repeats)


def times_ten(table: Table, dice: random.Random) -> Slipped | None:
    """The point one place further on."""
    row, repeat = _one(table, dice)
    was = table.reading(row, repeat)
    k, d = dice.choice((1, -1)), table.practical.y_decimals
    text = f"{was * 10.0**k:.{d if dice.random() < 0.5 else max(d - k, 0)}f}"
    return (_with(table, row, repeat, text), {(f"s{row}", "y")}) if table.far(row, float(text), was) else None


def left_out(table: Table, dice: random.Random) -> Slipped | None:
    """A digit, or the point, that was not typed."""
    row, repeat = _one(table, dice)
    text = table.y[row][repeat]
    at = dice.randrange(len(text))
    slipped = text[:at] + text[at + 1 :]
    if slipped in ("", ".") or not table.far(row, float(slipped), float(text)):
        return None
    return _with(table, row, repeat, slipped), {(f"s{row}", "y")}


def letter(table: Table, dice: random.Random) -> Slipped | None:
    row, repeat = _one(table, dice)
    text = table.y[row][repeat]
    at = dice.randrange(len(text))
    return _with(table, row, repeat, text[:at] + dice.choice("qwlOo") + text[at + 1 :]), {(f"s{row}", "y")}


def other_unit(table: Table, dice: random.Random) -> Slipped | None:
    """A setting of x, or a row of y, in another unit than the rest."""
    row = dice.randrange(len(table.y))
    factor, fewer = dice.choice(((100.0, 2), (1000.0, 3), (10.0, 1)))
    if dice.random() < 0.5:
        was = float(table.x[row])
        text = f"{was * factor:.{max(table.practical.x_decimals - fewer, 0)}f}"
        changed = table.practical.y(was)
        if not was or not table.far(row, table.practical.y(float(text)), changed, table.repeats):
            return None
        return replace(table, x=[text if i == row else x for i, x in enumerate(table.x)]), {(f"s{row}", "x"), (f"s{row}", "y")}
    y = [list(r) for r in table.y]
    y[row] = [f"{float(t) * factor:.{max(table.practical.y_decimals - fewer, 0)}f}" for t in y[row]]
    if not table.far(row, float(y[row][0]), table.reading(row, 0)):
        return None
    return replace(table, y=y), {(f"s{row}", "y"), (f"s{row}", "x")}


def direction(table: Table, dice: random.Random) -> Slipped | None:
    """Typed across where it should have gone down."""
    if table.repeats < 2:
        return None
    stream = [table.y[i][k] for k in range(table.repeats) for i in range(len(table.y))]
    y = [stream[i * table.repeats : (i + 1) * table.repeats] for i in range(len(table.y))]
    return replace(table, y=y), {(None, "y")}


def blank(table: Table, dice: random.Random) -> Slipped | None:
    row = dice.choice((dice.randrange(len(table.y)), len(table.y) - 1))
    if dice.random() < 0.2:
        return replace(table, x=["" if i == row else x for i, x in enumerate(table.x)]), {(f"s{row}", "x")}
    if dice.random() < 0.3:
        y = [[""] * table.repeats if i == row else r for i, r in enumerate(table.y)]
        return replace(table, y=y), {(f"s{row}", "y")}
    return _with(table, row, dice.randrange(table.repeats), ""), {(f"s{row}", "y")}


def digits_swapped(table: Table, dice: random.Random) -> Slipped | None:
    row, repeat = _one(table, dice)
    text = table.y[row][repeat]
    at = dice.randrange(len(text) - 1)
    slipped = text[:at] + text[at + 1] + text[at] + text[at + 2 :]
    if not table.far(row, float(slipped), float(text)):
        return None
    return _with(table, row, repeat, slipped), {(f"s{row}", "y")}


def _row_times(table: Table, dice: random.Random, factor: float) -> Slipped | None:
    row = dice.randrange(len(table.y))
    y = [list(r) for r in table.y]
    y[row] = [f"{float(t) * factor:.{table.practical.y_decimals}f}" for t in y[row]]
    was = sum(map(float, table.y[row])) / table.repeats
    if not table.far(row, was * factor, was, table.repeats):
        return None
    return replace(table, y=y), {(f"s{row}", "y"), (f"s{row}", "x")}


def row_30(table: Table, dice: random.Random) -> Slipped | None:
    return _row_times(table, dice, 1.3)


def row_10(table: Table, dice: random.Random) -> Slipped | None:
    return _row_times(table, dice, 1.1)


def exchanged(table: Table, dice: random.Random) -> Slipped | None:
    """The readings of two settings, each at the other's place."""
    a, b = dice.sample(range(len(table.y)), 2)
    if not table.far(a, table.reading(a, 0), table.reading(b, 0), table.repeats):
        return None
    y = [list(r) for r in table.y]
    y[a], y[b] = y[b], y[a]
    return replace(table, y=y), {(f"s{i}", q) for i in (a, b) for q in "xy"}


def squared(table: Table, dice: random.Random) -> Slipped | None:
    """A column squared by hand under its old heading, where the plot that should be straight shows it."""
    if table.practical.plot == "ln(y)":
        return None
    d = table.practical.y_decimals
    return replace(table, y=[[f"{float(t) ** 2:.{d}f}" for t in r] for r in table.y]), {(None, "y")}


KINDS: dict[str, tuple[Callable[[Table, random.Random], Slipped | None], float]] = {
    "×10": (times_ten, 0.95),
    "left out": (left_out, 0.95),
    "letter": (letter, 0.95),
    "unit": (other_unit, 0.95),
    "direction": (direction, 0.95),
    "blank": (blank, 0.97),
    "digits swapped": (digits_swapped, 0.90),
    "row + 30 %": (row_30, 0.92),
    "row + 10 %": (row_10, 0.85),
    "rows exchanged": (exchanged, 0.85),
    "squared by hand": (squared, 0.90),
}


def draw_slip(kind: str, dice: random.Random) -> Slipped:
    """A table with a material slip of a kind."""
    while True:
        found = KINDS[kind][0](draw_table(dice), dice)
        if found is not None:
            return found
