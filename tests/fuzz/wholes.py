"""Whole lab books, changed in several ways at once as benches change them, and everything that is made of each: all runs looked at, the
report and its drawings, every file, the working of every number, what the class gets of it, what changed.
"""

from __future__ import annotations

import random
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from functools import cache
from typing import Any, Literal

from hobrel.computing.shelf import OpenBook
from hobrel.core.containment import contain
from hobrel.core.document.choices import ModelNumber, RateStage, StateQuantity, StepModel
from hobrel.core.document.lab_book import Accepted, LabBook, Reading, Run, Setting
from hobrel.core.document.plan_part import ReferenceTable, TableLine, WantedSettings
from hobrel.core.errors import CoreError
from hobrel.core.presentation.shares import share_findings
from hobrel.core.presentation.side_by_side import find_what_runs_differ_in, see_from_every_run
from hobrel.core.presentation.working import explain
from hobrel.core.questions.dry_run import draw_example
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.changes import find_changes
from hobrel.core.reporting.live_values import list_values
from hobrel.core.reporting.tree import Report
from hobrel.interchange.files import take_file_out
from hobrel.reports.document import Sheets, write_document
from hobrel.reports.export import drawings_in
from hobrel.reports.mathematics import maths_in
from hobrel.shelf.plans import SHELF
from tests.fuzz.cases import Case
from tests.fuzz.typing import analyse_to_json, demo_books, in_some_convention

FORMULAS = (
    "pi", "2", "g", "{c}", "{c}^2/{d}", "sqrt({c} {d})", "{a}", "{a}^2", "1/{a}", "ln({b})", "{a} {b} {c}", "{a} - {a}", "{b}/{a} + {c}",
    "exp(-{a})", "rate({b}, {a})", "Delta({b})", "mid({a})", "abs({b} - {a})", "{new}", "0 {a}", "{a}/({a} - {a})",
)  # fmt: skip
TEXTS = ("", "0", "-1", "1e9", "five", "1.20 ± 0.05", "2,5", "25 cm", "<b>", "9" * 40)
_TWICE = re.compile(r"([_^])\{(?:[^{}]|\{[^{}]*\})*\}\1")
SHAPES = ("line", "proportional", "quadratic", "cubic", "power", "exponential", "inverse", "logarithm", "sine", "logistic", "saturation")


@cache
def _books() -> tuple[LabBook, ...]:
    return (*demo_books().values(), *(draw_example(write(), 3) for _, write in SHELF.values()))


def _with_run(book: LabBook, dice: random.Random, change: Callable[[Run], Run]) -> LabBook:
    if not book.runs:
        return book
    at = dice.randrange(len(book.runs))
    return replace(book, runs=(*book.runs[:at], change(book.runs[at]), *book.runs[at + 1 :]))


def _derive(book: LabBook, dice: random.Random) -> LabBook:
    """One more derived quantity: of columns, of constants alone, of nothing, of itself."""
    read = [q.symbol for q in book.quantities if q.kind in ("changed", "measured") and q.holds == "numbers"] or ["x"]
    constants = [q.symbol for q in book.quantities if q.kind == "constant"] or ["c"]
    symbol = f"n_{len(book.quantities)}"
    names = {"a": read[0], "b": dice.choice(read), "c": dice.choice(constants), "d": dice.choice(constants), "new": symbol}
    formula = dice.choice(FORMULAS).format(**names)
    made = replace(
        book.quantities[0], id=f"new{len(book.quantities)}", kind="derived", name=f"made {symbol}", symbol=symbol, holds="numbers",
        unit=dice.choice(("", "", "m", "s^2", "°C")), instrument=None, repeats=1, formula=formula, given=False,
    )  # fmt: skip
    book = replace(book, quantities=(*book.quantities, made))
    if book.graphs and dice.random() < 0.4:
        graph = replace(book.graphs[0], **{dice.choice(("x", "y")): made.id})
        book = replace(book, graphs=(graph, *book.graphs[1:]))
    return book


def _write(book: LabBook, dice: random.Random) -> LabBook:
    def change(run: Run) -> Run:
        if not run.settings:
            return run
        at = dice.randrange(len(run.settings))
        setting = run.settings[at]
        if not setting.readings:
            return run
        quantity = dice.choice(list(setting.readings))
        texts = [Reading(dice.choice(TEXTS)) if dice.random() < 0.5 else r for r in setting.readings[quantity]]
        readings = dict(setting.readings) | {quantity: tuple(r if r is None or r.text else None for r in texts)}
        return replace(run, settings=(*run.settings[:at], replace(setting, readings=readings), *run.settings[at + 1 :]))

    return _with_run(book, dice, change)


def _thin(book: LabBook, dice: random.Random) -> LabBook:
    """A run with fewer settings: none, one, a few; or a column of it that is empty."""
    left = dice.choice((0, 1, 2, 3, 5))

    def without(setting: Setting, quantity: str) -> Setting:
        return replace(setting, readings={k: v for k, v in setting.readings.items() if k != quantity})

    def change(run: Run) -> Run:
        if dice.random() < 0.6 or not run.settings:
            return replace(run, settings=run.settings[:left])
        quantity = dice.choice([q.id for q in book.quantities])
        return replace(run, settings=tuple(without(s, quantity) for s in run.settings))

    return _with_run(book, dice, change)


def _leave_out(book: LabBook, dice: random.Random) -> LabBook:
    share = dice.choice((0.2, 0.9, 1.0))

    def change(run: Run) -> Run:
        return replace(run, settings=tuple(replace(s, set_aside="bent" if dice.random() < share else s.set_aside) for s in run.settings))

    return _with_run(book, dice, change)


def _redefine(book: LabBook, dice: random.Random) -> LabBook:
    at = dice.randrange(len(book.quantities))
    q = book.quantities[at]
    changed = dice.choice((
        replace(q, unit=dice.choice(("", "cm", "°C", "K", "%", "counts"))),
        replace(q, symbol=dice.choice(("x", "T_2", "θ", "E", "V_t_m3"))),
        replace(q, value="", u=""), replace(q, u="0"), replace(q, formula=""), replace(q, instrument=None),
        replace(q, repeats=dice.randrange(1, 5)),
    ))  # fmt: skip
    return replace(book, quantities=(*book.quantities[:at], changed, *book.quantities[at + 1 :]))


def _drop(book: LabBook, dice: random.Random) -> LabBook:
    """Something that others rest on is no longer there."""
    part = dice.choice(("quantities", "graphs", "fits", "findings", "runs"))
    there = list(getattr(book, part))
    if len(there) > (1 if part in ("quantities", "runs") else 0):
        del there[dice.randrange(len(there))]
    return replace(book, **{part: tuple(there)})


def _look_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    if not book.graphs:
        return book
    at = dice.randrange(len(book.graphs))
    graph, ids = book.graphs[at], [q.id for q in book.quantities]
    changed = dice.choice((
        replace(graph, x_log=True), replace(graph, y_log=True), replace(graph, x=dice.choice(ids)), replace(graph, y=dice.choice(ids)),
        replace(graph, x=graph.y, y=graph.x), replace(graph, origin=True), replace(graph, x_low=0.4, x_high=0.5),
        replace(graph, also=tuple(ids[:3])), replace(graph, runs=tuple(r.id for r in book.runs)),
    ))  # fmt: skip
    return replace(book, graphs=(*book.graphs[:at], changed, *book.graphs[at + 1 :]))


def _fit_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    if not book.fits:
        return book
    at = dice.randrange(len(book.fits))
    fit = book.fits[at]
    changed = dice.choice((
        replace(fit, shape=dice.choice(SHAPES)), replace(fit, through_origin=True), replace(fit, low=0.4, high=0.6),
        replace(fit, weights=dice.choice(("none", "y_bars", "both_bars"))), replace(fit, show_extremes=True, show_equation=True),
    ))  # fmt: skip
    return replace(book, fits=(*book.fits[:at], changed, *book.fits[at + 1 :]))


WRONG_RATES = ("w", "-a - k w", "u/(u - u)", "exp(u)", "", "k u +", "a sqrt(-u)", "-k x", "9e9 u")


def _model_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    """A step-by-step model in the place of a fit: one that goes, one in other units, one that grows beyond all numbers, half a one."""
    graphs = {g.id: g for g in book.graphs}
    quantities = {q.id: q for q in book.quantities}
    of = [fit for fit in book.fits if fit.graph in graphs]
    if not of:
        return book
    fit = dice.choice(of)
    x, y = (quantities.get(key) for key in (graphs[fit.graph].x, graphs[fit.graph].y))
    along, up = (f"({q.unit})" if q is not None and q.unit else "1" for q in (x, y))
    change, decay = f"{up}/{along}", f"1/{along}"
    rate, a_unit, k_unit = dice.choice((
        ("0", "", ""), ("a", change, ""), ("-k u", "", decay), ("-k u^2", "", f"1/({up} {along})"), ("k u (1 - u/a)", up, decay),
        ("a - k u", change, decay), ("-a k", up, decay),
    ))  # fmt: skip

    def mostly(right: str, *wrong: str) -> str:
        return right if dice.random() < 0.9 else dice.choice(wrong)

    numbers = tuple(
        ModelNumber(s, s, mostly(unit, "", up, "s"), mostly(value, *TEXTS), dice.random() < 0.4)
        for s, unit, value in (("a", a_unit, "2"), ("k", k_unit, "0.1"))
    )
    stages = (RateStage("r1", mostly("u > 1", "u <", "a < 2"), mostly(rate, *WRONG_RATES)),) if dice.random() < 0.2 else ()
    start = mostly(dice.choice(("1", "0.5")), *TEXTS)
    states = [StateQuantity("s1", "u", mostly(up, "s"), start, mostly(rate, *WRONG_RATES), stages, dice.random() < 0.4)]
    if dice.random() < 0.2:
        states.append(StateQuantity("s2", mostly("w", "u", "ln"), "", "0", mostly(decay, *WRONG_RATES)))
    ways: tuple[Literal["simple", "half", "fourth"], ...] = ("simple", "half", "fourth")
    model = StepModel(
        tuple(states), numbers, mostly("u", "", "2 u", "w"), mostly("0", "1", ""), mostly("", "0.1", "0", "1e-9", "five"), dice.choice(ways)
    )
    changed = replace(fit, shape="steps", steps=model)
    return replace(book, fits=tuple(changed if f is fit else f for f in book.fits))


def _find_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    if not book.findings:
        return book
    at = dice.randrange(len(book.findings))
    finding, text = book.findings[at], dice.choice(TEXTS)
    changed = dice.choice((
        replace(finding, formula=dice.choice(("", "pi", "gradient", "1/(gradient - gradient)", "sqrt(-1)", f"{finding.formula} ^2"))),
        replace(finding, unit=dice.choice(("", "m", "°C", "%"))), replace(finding, symbol=dice.choice(("x", "", "E_1", "π"))),
        replace(finding, accepted=Accepted(text, dice.choice(("", "0", text)), "")), replace(finding, accepted=None),
        replace(finding, uses=finding.uses[1:]), replace(finding, compare=tuple(f.id for f in book.findings)),
    ))  # fmt: skip
    return replace(book, findings=(*book.findings[:at], changed, *book.findings[at + 1 :]))


def _list_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    """A table of reference that is still being written, or one that others look things up in."""
    lines = [TableLine(dice.choice(("", "1", "20", *TEXTS)), dice.choice(("", "2", "998.2", *TEXTS))) for _ in range(dice.randrange(5))]
    symbol, unit = dice.choice(("", "rho", "x", "ln")), dice.choice(("", "kg/m^3", "°C"))
    table = ReferenceTable("t1", "density", symbol, unit, "", dice.choice(("", "°C")), tuple(lines), dice.choice(TEXTS))
    return replace(book, plan=replace(book.plan, tables=dice.choice(((table,), (*book.plan.tables, table), ()))))


def _plan_otherwise(book: LabBook, dice: random.Random) -> LabBook:
    ids, text = [q.id for q in book.quantities], dice.choice(TEXTS)
    dry = replace(book.plan.dry, **{dice.choice(("formulas", "scatter", "seconds")): {dice.choice(ids): text}})
    wanted = WantedSettings(dice.choice((0, 1, 5)), dice.choice(TEXTS), dice.choice(TEXTS))
    plan = dice.choice((
        replace(book.plan, wanted={dice.choice(ids): wanted}), replace(book.plan, dry=dry), replace(book.plan, draft=True),
        replace(book.plan, given_runs=tuple(r.id for r in book.runs)), replace(book.plan, wanted={}),
    ))  # fmt: skip
    relation = dice.choice((book.relation, book.relation, "", "x = ", "T = 2 pi sqrt(L/g)", f"({book.relation})"))
    return replace(book, plan=plan, relation=relation)


CHANGES = (
    _derive, _derive, _write, _thin, _leave_out, _redefine, _drop, _look_otherwise, _fit_otherwise, _find_otherwise, _list_otherwise,
    _plan_otherwise, _model_otherwise,
)  # fmt: skip


def _targets(book: LabBook) -> Iterator[str]:
    for run in book.runs:
        for setting in (*run.settings[:1], *run.settings[-1:]):
            yield from (f"cell:{run.id}:{setting.id}:{q.id}" for q in book.quantities)
    for fit in book.fits:
        yield from (f"fit:{fit.id}:{part}" for part in ("gradient", "intercept", "within", "chi2", "r2"))
    yield from (f"finding:{finding.id}" for finding in book.findings)


def _texs_in(value: Any, name: str = "") -> Iterator[str]:
    """All mathematics of an analysis: what is kept under a name that ends so."""
    if isinstance(value, str) and name.endswith("tex"):
        yield value
    parts = value.items() if isinstance(value, Mapping) else ((name, part) for part in value) if isinstance(value, list | tuple) else ()
    for key, part in parts:
        yield from _texs_in(part, key)


def _report_of(opened: OpenBook) -> Report:
    return build_report(opened.computation, opened.analysis, ReportFrame())


def make_everything(book: LabBook, before: LabBook) -> list[Any]:
    """All that is made of a lab book; what cannot be worked out of it must have been foreseen."""
    made: list[Any] = []
    for run in book.runs or (None,):
        opened = OpenBook(book.seen_from(run.id) if run else book)
        report = _report_of(opened)
        for tex in (*maths_in(report), *_texs_in(analyse_to_json(opened.document))):
            assert not _TWICE.search(tex), f"two subscripts or powers of one sign, which nothing sets: {tex}"
        made.append(write_document(report, Sheets("html", drawings_in(report))))
        for target in _targets(book):
            found = contain(target, explain, opened.computation, target)
            made.append(None if isinstance(found, CoreError) else found.title)
    opened = OpenBook(book)
    list_values(book, opened.analysis, find_what_runs_differ_in(see_from_every_run(opened.computation)))
    check_plan(book)
    share_findings(opened.computation, "Knot")
    for ending in ("zip", "xlsx", "ods", "json"):
        contain(ending, take_file_out, opened, ending, "", "book")
    find_changes(_report_of(OpenBook(before)), _report_of(opened))
    return made


def wholes(dice: random.Random, count: int) -> Iterator[Case]:
    for n in range(count):
        seed = dice.getrandbits(40)

        def make(seed: int = seed) -> Any:
            own = random.Random(seed)
            before = book = own.choice(_books())
            for _ in range(own.randrange(1, 6)):
                book = own.choice(CHANGES)(book, own)
            return make_everything(in_some_convention(book, own), before)

        yield Case(f"{n}: whole {seed}", make)
