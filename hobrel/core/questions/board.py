"""The board: every form of y against every form of x as a tiny graph, judged alike, with what the expected relation says of each."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

import numpy as np

from hobrel.core.document.lab_book import Fit, Graph, LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import LineFit
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.typeset import RichText, formula_tex, rich_symbol
from hobrel.core.linearising.algebra import known_in
from hobrel.core.linearising.forms import ANGLE_FORMS, STANDARD_FORMS, Form, StraightPlot, try_forms
from hobrel.core.linearising.relation import RelationPlot, find_straight_plots
from hobrel.core.pipeline.columns import RunColumns, compute_columns, plain_symbol
from hobrel.core.pipeline.lines import FittedLine, fit_graph
from hobrel.core.pipeline.points import GraphPoints, axis_units, gather_points, refuse_kinds
from hobrel.core.presentation.graphs import draw_points
from hobrel.core.presentation.line_cards import present_pattern
from hobrel.core.presentation.results import GraphResult, LinePattern
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.thinning import thin_points, thin_signs
from hobrel.core.rounding import write_number
from hobrel.core.sentences import NumberText
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import Unit, convert, parse_unit, same_dimension

Verdict = Literal["straight", "bends", "unclear"]
BOARD_FORMS = (*STANDARD_FORMS[:2], "v^(3/2)", *STANDARD_FORMS[2:], *ANGLE_FORMS)
"""Those of every board, and the power and the functions of an angle that only a relation asks for."""
_RADIAN = parse_unit("rad")
MOST_DOTS = 30
MOST_SQUARE_SIGNS = 16
FORM_NAMES = {
    "v^2": "{} squared", "v^3": "{} cubed", "sqrt(v)": "square root of {}", "1/v": "one over {}", "1/v^2": "one over {} squared",
    "1/sqrt(v)": "one over the root of {}", "ln(v)": "logarithm of {}", "v^(3/2)": "{} to the power of three halves",
    "sin(v)": "sine of {}", "cos(v)": "cosine of {}", "tan(v)": "tangent of {}", "sin(v)^2": "sine of {}, squared",
    "cos(v)^2": "cosine of {}, squared",
}  # fmt: skip


@dataclass(frozen=True)
class Dot:
    """A point, from 0 to 1 along both axes."""

    x: float
    y: float


@dataclass(frozen=True)
class BoardSquare:
    """One pair of forms.

    Attributes
    ----------
    x_form, y_form : str
        With ``v`` for the variable.
    dots : tuple of Dot
    line_from, line_to : float
        Ends of the line along y, in the same measure.
    verdict : {"straight", "bends", "unclear"} or None
        None while the bench is to judge for itself.
    signs : str
        Of the residuals, in order of x.
    curvature_t, reduced_chi2 : str
        Empty where there is none, or while the bench is to judge.
    expected : bool
        Whether the relation of the plan makes it straight.
    """

    x_form: str
    y_form: str
    dots: tuple[Dot, ...]
    line_from: float
    line_to: float
    verdict: Verdict | None
    signs: str
    curvature_t: NumberText
    reduced_chi2: NumberText
    expected: bool


@dataclass(frozen=True)
class Expected:
    """A plot that the relation of the plan makes straight, and what its gradient and intercept then mean (TeX)."""

    x_form: str
    y_form: str
    axes_tex: str
    gradient_tex: str
    intercept_tex: str


@dataclass(frozen=True)
class FormHead:
    """A form as the heading of a row or column."""

    form: str
    symbol: RichText


@dataclass(frozen=True)
class Board:
    """All pairs of forms that have a value at every setting."""

    x: str
    y: str
    x_heads: tuple[FormHead, ...]
    y_heads: tuple[FormHead, ...]
    squares: tuple[BoardSquare, ...]
    expected: tuple[Expected, ...]
    judged: bool


@dataclass(frozen=True)
class BoardPlot:
    """One pair of forms large: the graph with its residual strip, and how straight it is. `kept` is the fit of the lab book on a graph of
    this pair; empty where there is none.
    """

    x_form: str
    y_form: str
    graph: GraphResult
    pattern: LinePattern
    kept: str


def look_at_board(book: LabBook, x_id: str, y_id: str) -> Board:
    """The board of two quantities as its bench may see it: judged once it has judged itself, where the plan wants that.

    Raises
    ------
    CoreError
        As `make_board`.
    """
    return make_board(book, x_id, y_id, not book.bench_judges or bool(book.texts.get("choice", "").strip()))


def make_board(book: LabBook, x_id: str, y_id: str, judged: bool) -> Board:
    """Try all forms of two quantities of the first run.

    Parameters
    ----------
    book : LabBook
    x_id, y_id : str
    judged : bool
        Whether to say how straight each is; a plan may want the bench to say it first.

    Raises
    ------
    CoreError
        As `gather_points`, `refuse_kinds` and `try_forms`.
    """
    columns = compute_columns(book, book.runs[0])
    points = gather_points(columns, Graph("board", "", x_id, y_id))
    refuse_kinds(points)
    used = points.used
    x, y, bars = points.x[used], points.y[used], points.judged.at(used)
    expected = _expect(book, points)
    asked = [_that_can_be(forms, unit) for forms, unit in zip(_asked_for(expected), axis_units(points), strict=True)]
    forms = [[Form(f) for f in BOARD_FORMS if f in STANDARD_FORMS or f in of_axis] for of_axis in asked]
    # forms are tried on bare numbers: an angle is in radians then
    sizes = [
        convert(1.0, unit, _RADIAN) if of_axis & {*ANGLE_FORMS} else 1.0 for unit, of_axis in zip(axis_units(points), asked, strict=True)
    ]
    x, y, bars = x * sizes[0], y * sizes[1], bars.scaled(*sizes)
    plots = try_forms(x, y, bars, *forms)
    straight = {(e.x_form, e.y_form) for e in expected}
    squares = tuple(_square(p, x, y, judged, (p.x_form.text, p.y_form.text) in straight) for p in plots)
    x_forms, y_forms = ({s.x_form for s in squares}, {s.y_form for s in squares})
    symbols = points.x_column.quantity.symbol, points.y_column.quantity.symbol
    return Board(
        x=x_id,
        y=y_id,
        x_heads=_heads(symbols[0], x_forms),
        y_heads=_heads(symbols[1], y_forms),
        squares=squares,
        expected=expected,
        judged=judged,
    )


def _that_can_be(forms: set[str], unit: Unit) -> set[str]:
    """Forms without those of an angle, where an axis has none."""
    return forms if same_dimension(unit, _RADIAN) else forms - {*ANGLE_FORMS}


def _heads(symbol: str, forms: set[str]) -> tuple[FormHead, ...]:
    return tuple(FormHead(form, rich_symbol(form.replace("v", symbol))) for form in BOARD_FORMS if form in forms)


def _asked_for(expected: tuple[Expected, ...]) -> tuple[set[str], set[str]]:
    """Forms of x and of y that only the relation asks for."""
    return {e.x_form for e in expected}, {e.y_form for e in expected}


def _square(plot: StraightPlot, x: Floats, y: Floats, judged: bool, expected: bool) -> BoardSquare:
    formed_x, formed_y = plot.x_form.apply(x), plot.y_form.apply(y)
    assert formed_x is not None and formed_y is not None  # the plot was made of them
    (xs, low_x, high_x), (ys, low_y, high_y) = _scaled(formed_x.values), _scaled(formed_y.values)
    kept = thin_points(xs, ys, MOST_DOTS)
    verdict: Verdict = "unclear" if plot.verdict == "unknown" else plot.verdict
    line_from, line_to = _ends(plot.line, low_x, high_x, low_y, high_y)
    return BoardSquare(
        x_form=plot.x_form.text,
        y_form=plot.y_form.text,
        dots=tuple(Dot(float(xs[i]), float(ys[i])) for i in kept),
        line_from=line_from,
        line_to=line_to,
        verdict=verdict if judged else None,
        signs=thin_signs(plot.residuals.signs, MOST_SQUARE_SIGNS),
        curvature_t=write_number(plot.curvature_t, 2) if judged and plot.curvature_t is not None else "",
        reduced_chi2=write_number(plot.line.reduced_chi2, 2) if judged and plot.line.reduced_chi2 is not None else "",
        expected=expected,
    )


def _scaled(values: Floats) -> tuple[Floats, float, float]:
    low, high = float(values.min()), float(values.max())
    return (values - low) / ((high - low) or 1.0), low, high


def _ends(line: LineFit, low_x: float, high_x: float, low_y: float, high_y: float) -> tuple[float, float]:
    height = (high_y - low_y) or 1.0
    first, last = (float(v) for v in np.asarray(line.at([low_x, high_x])))
    return (first - low_y) / height, (last - low_y) / height


def _expect(book: LabBook, points: GraphPoints) -> tuple[Expected, ...]:
    """What the relation of the plan says of the two; nothing where there is none, or it holds other quantities."""
    if not book.relation:
        return ()
    x, y = points.x_column.quantity.symbol, points.y_column.quantity.symbol
    known = known_in(book.relation, [*(q.symbol for q in book.quantities), *(f.symbol for f in book.findings)])
    try:
        found = find_straight_plots(book.relation, x, y, known=known)
    except CoreError:
        return ()
    explained = (_explain(plot, x, y, known) for plot in found)
    return tuple(e for e in explained if {e.x_form, e.y_form} <= set(BOARD_FORMS))


def _explain(plot: RelationPlot, x: str, y: str, known: frozenset[str]) -> Expected:
    def tex(text: str) -> str:
        return formula_tex(read_formula(text, known))

    x_form, y_form = form_of(plot.x_form, x), form_of(plot.y_form, y)
    axes = rf"{tex(plot.y_form)} \text{{ against }} {tex(plot.x_form)}"
    return Expected(x_form, y_form, axes, tex(plot.gradient_means), tex(plot.intercept_means))


def form_of(text: str, symbol: str) -> str:
    """The form with v for its variable, from the form of a symbol."""
    name = canonical_name(symbol)
    return next((form for form in BOARD_FORMS if form.replace("v", name) == text), text)


def formed(symbol: str, name: str, form: str) -> tuple[str, str, str]:
    """Symbol, formula and name of a quantity in one of the forms; of the quantity itself for ``v``."""
    written = form.replace("v", symbol)
    return written, written, FORM_NAMES.get(form, "{}").format(name)


def same_form(book: LabBook, quantity: Quantity, form: str) -> Quantity | None:
    """The quantity of the lab book that already is this form of another; the quantity itself for v."""
    wanted = canonical_name(form.replace("v", quantity.symbol))
    return next((q for q in book.quantities if canonical_name(q.symbol) == wanted), None)


def find_kept(book: LabBook, x: Quantity, y: Quantity, x_form: str, y_form: str) -> str:
    """The fit (by id) on a graph that has a pair of forms on its axes; empty where there is none."""
    x_formed, y_formed = same_form(book, x, x_form), same_form(book, y, y_form)
    if x_formed is None or y_formed is None:
        return ""
    graphs = {g.id for g in book.graphs if (g.x, g.y) == (x_formed.id, y_formed.id)}
    return next((f.id for f in book.fits if f.graph in graphs), "")


def draw_board_plot(book: LabBook, x_id: str, y_id: str, x_form: str, y_form: str) -> BoardPlot:
    """One pair of forms, large, with bars and units.

    Raises
    ------
    CoreError
        ``bad_job`` for a form that is not on the board; as `gather_points` and `fit_graph`.
    """
    if not {x_form, y_form} <= set(BOARD_FORMS):
        raise CoreError("bad_job", "This form is not on the board.")
    pair, whole = [], book
    for quantity_id, form, key in ((x_id, x_form, "board-x"), (y_id, y_form, "board-y")):
        quantity = book.quantity(quantity_id)
        found = same_form(book, quantity, form)
        if found is None:
            symbol, formula, name = formed(quantity.symbol, quantity.name, form)
            found = Quantity(key, "derived", name, symbol, formula=formula, given=False)
            whole = replace(whole, quantities=(*whole.quantities, found))
        pair.append(found.id)
    columns: RunColumns = compute_columns(whole, whole.runs[0])
    graph = Graph("board", "", pair[0], pair[1])
    points = gather_points(columns, graph)
    if np.count_nonzero(points.used) < 3:
        raise CoreError(
            "too_few_points", "{symbol} has fewer than three points to draw a line through.", symbol=plain_symbol(points.y_column.quantity)
        )
    line: FittedLine = fit_graph(points, Fit("board", "board"))
    return BoardPlot(
        x_form=x_form,
        y_form=y_form,
        graph=draw_points(graph, points, line, whole.runs[0], partial(call_row, whole)),
        pattern=present_pattern("board", line),
        kept=find_kept(book, book.quantity(x_id), book.quantity(y_id), x_form, y_form),
    )
