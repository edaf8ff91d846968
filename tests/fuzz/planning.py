"""Plans of the shelf with a slip in them, put to everything that can be asked of a plan; and what a bench would get of them."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding, Ingredient, LabBook, Quantity, Unknown, read_lab_book, write_lab_book
from hobrel.core.document.plan_part import DryTruth, Picture, ReferenceTable, TableLine, WantedSettings
from hobrel.core.document.plans import begin_plan, bring_in, freeze_plan, open_for_bench, what_is_due
from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.wording import reword
from hobrel.core.questions.dry_run import demonstrate, dry_run
from hobrel.core.questions.dry_words import ShownDryRun, show_dry_run
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.questions.plan_offers import offer_plots
from hobrel.core.readings.instruments import Instrument
from hobrel.shelf.plans import SHELF
from tests.fuzz.cases import Case

RELATIONS = (
    "", "=", "T = ", "T = T", "y = x", "T^2 = -L", "0 = 1", "T = 2 pi sqrt(L/g", "a = b = c", "T = 1/0", "T = ln(0) L",
    "T = exp(L^9)", "T = L^(99)",
    "1 = 1", "T = sin(1e9 L)", "T = abs(L)", "T = sqrt(sqrt(sqrt(L)))", "T = L + t",
    "T = m", "E = E", "T = 1e300 L", "T = 1e-300 L", "L = T", "T = Q_9 L",
)  # fmt: skip
VALUES = ("", "0", "-1", "1e90", "1e-90", "nan", "12.4 GPa", "3 m", "°C", "20 °C", "1 splod", "5 ± 1", "1e5 m^9", "∞", "9" * 59)
FORMULAS = ("", "x", "1/0", "t_10/10", "T", "T + 1 s", "ln(T)", "sqrt(-T)", "Δ(T)/Δ(L)", "q_1", "T^99", "exp(T)")
UNITS = ("", "m", "s", "°C", "%", "km/h", "1/s", "splod", "kg m^2/s^3")


@cache
def _drafts() -> tuple[LabBook, ...]:
    return tuple(write() for _, write in SHELF.values())


def spoiled_plan(dice: random.Random) -> LabBook:
    """A plan of the shelf with one to three things written otherwise."""
    book = dice.choice(_drafts())
    for _ in range(dice.randint(1, 3)):
        book = _spoil(book, dice)
    return book


def _spoil(book: LabBook, dice: random.Random) -> LabBook:
    part = book.plan

    def some(**fields: Any) -> LabBook:
        i = dice.randrange(len(book.quantities))
        return replace(book, quantities=tuple(replace(q, **fields) if n == i else q for n, q in enumerate(book.quantities)))

    key = dice.choice([q.id for q in book.quantities])
    symbol = dice.choice([q.symbol for q in book.quantities] + [f.symbol for f in book.findings])
    match dice.randrange(18):
        case 0:
            return replace(
                book, relation=dice.choice((*RELATIONS, book.relation.replace("=", "= -"), book.relation[:-3], book.relation + "^2"))
            )
        case 1:
            wanted = WantedSettings(dice.choice((0, 1, 2, 8, 200)), dice.choice(VALUES), dice.choice(VALUES))
            return replace(book, plan=replace(part, wanted={**part.wanted, key: wanted}))
        case 2:
            return replace(book, plan=replace(part, dry=replace(part.dry, truths={**part.dry.truths, symbol: dice.choice(VALUES)})))
        case 3:
            return replace(book, plan=replace(part, dry=replace(part.dry, formulas={key: dice.choice(FORMULAS)})))
        case 4:
            return replace(
                book, plan=replace(part, dry=replace(part.dry, scatter={key: dice.choice(VALUES)}, seconds={key: dice.choice(VALUES)}))
            )
        case 5:
            return some(formula=dice.choice(FORMULAS))
        case 6:
            return some(unit=dice.choice(UNITS))
        case 7:
            return some(value=dice.choice(VALUES), u=dice.choice(VALUES))
        case 8:
            kind = dice.choice(("scale", "display", "rectangular", "maker", "counted", "counted_at_random"))
            division = dice.choice(("1", "0.001", "0", "100000", "1e-9", "x"))
            return some(
                instrument=Instrument("thing", kind, division, percent=dice.choice(("0", "5", "900"))), repeats=dice.choice((1, 2, 12))
            )
        case 9:
            return some(symbol=dice.choice(("x", "T", "pi", "e", "", "a_b_c", "T^2", "∑")))
        case 10:
            findings = tuple(
                replace(f, formula=dice.choice(("gradient", "1/intercept", f.formula + "^2", "q", "")), unit=dice.choice(UNITS))
                for f in book.findings
            )
            return replace(book, findings=findings)
        case 11:
            extra = Quantity(
                "extra", dice.choice(("measured", "changed", "derived", "constant")), "extra", "q_x", dice.choice(UNITS), None, 2
            )
            return replace(book, quantities=(*(q for q in book.quantities if q.id != "extra"), extra))
        case 12:
            lines = tuple(TableLine(dice.choice(VALUES), dice.choice(VALUES)) for _ in range(dice.choice((0, 1, 2, 6))))
            names = dice.choice(("rho", "x", "T", "", "sin")), dice.choice(UNITS), "at", dice.choice(UNITS)
            table = ReferenceTable("tt", "listed", *names, lines, dice.choice(VALUES))
            looked_up = dice.choice((f"rho({symbol})", "rho(rho(1))", "rho", f"2 rho({symbol})^2 + 1", "ln(rho(0.3))"))
            book = replace(book, plan=replace(part, tables=(*part.tables[:7], table)))
            return replace(book, quantities=tuple(replace(q, formula=looked_up) if q.id == key else q for q in book.quantities))
        case 13:
            unknown = Unknown("uu", dice.choice(("the parcel", "")), tuple(dice.choice(VALUES) for _ in range(dice.randrange(3))))
            uses = (Ingredient("x_9", "unknown", book.fits[0].id if book.fits else "none", part=dice.choice(("uu", "gone"))),)
            fits = tuple(replace(f, unknowns=(*f.unknowns, unknown)) if n == 0 else f for n, f in enumerate(book.fits))
            dry = replace(part.dry, unknowns={"uu": dice.choice((*VALUES, "0.4", "5"))})
            found = Finding("read", "read back", "w_9", dice.choice(UNITS), dice.choice(("x_9", "1/x_9", "x_9 - x_9")), uses=uses)
            return replace(book, fits=fits, findings=(*book.findings[:20], found), plan=replace(part, dry=dry))
        case 14:
            ways = ("quadrature", "sum", "extremes", "monte_carlo")
            convention = replace(book.convention, propagation=dice.choice(ways), bars=dice.choice(("own", "typical")), slope_word="slope",
                                 decimal_mark="comma", coverage=dice.choice((None, 0.95)),
                                 verdict=dice.choice(("chance", "plain")))  # fmt: skip
            return replace(book, convention=convention, bench_draws=True, bench_rounds=True)
        case 15:
            picture = Picture("pp", dice.choice(("", "0" * 64, "../x")), "", "", dice.choice((0, 10**9)), 3, dice.choice(("", "AAAA", "%")))
            return replace(book, plan=replace(part, pictures={dice.choice(("ask", "fit")): (picture,)}))
        case 16:
            kind, of = dice.choice(("mean", "area", "tangent", "read_back")), dice.choice((key, book.graphs[0].id))
            ends = {"low": dice.choice((None, -1e9, 0.3)), "high": dice.choice((None, 1e9, 0.1))}
            stretch = Ingredient("m_9", kind, of, at=dice.choice(VALUES), **ends)
            return replace(book, findings=(*book.findings[:20], Finding("str", "stretch", "s_9", "", "m_9", uses=(stretch,))))
        case _:
            return replace(book, plan=replace(part, dry=DryTruth(), given_runs=tuple(r.id for r in book.runs)))


def _as_bench(book: LabBook) -> Any:
    """What a bench gets, through the format, with all that it can earn."""
    version = read_lab_book(write_lab_book(freeze_plan(book)))
    bench = open_for_bench(version)
    earned = replace(bench, texts={"expectation": "So."}, findings=tuple(replace(f, rounded="1 ± 1") for f in bench.findings))
    shown = bring_in(earned, version, what_is_due(earned))
    assert not shown.plan.withheld and not shown.plan.notes and not shown.plan.draft
    assert begin_plan(book).plan.draft
    return reword(analyse(shown), shown.convention)


def _dry(book: LabBook) -> ShownDryRun:
    return show_dry_run(book, dry_run(book, 3, 4))


QUESTIONS: tuple[tuple[Callable[..., Any], tuple[Any, ...]], ...] = (
    (check_plan, ()),
    (offer_plots, ()),
    (_dry, ()),
    (demonstrate, (2,)),
    (_as_bench, ()),
)


def plans(dice: random.Random, count: int) -> Iterator[Case]:
    for n in range(count):
        book, (question, given) = spoiled_plan(dice), dice.choice(QUESTIONS)

        def ask(book: LabBook = book, question: Callable[..., Any] = question, given: tuple[Any, ...] = given) -> Any:
            found = contain(question.__name__, question, book, *given)
            if isinstance(found, CoreError):
                raise found
            hints = get_type_hints(question)
            return None if question is _as_bench else TypeAdapter(hints["return"]).dump_json(found)

        yield Case(f"{n}: {question.__name__} of {book.title}", ask)
