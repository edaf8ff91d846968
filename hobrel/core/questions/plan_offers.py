"""What the algebra offers to a plan: plots that its relation makes straight, and what is found by their gradients."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import symbols_in
from hobrel.core.formulas.typeset import formula_tex
from hobrel.core.linearising.algebra import known_in, read_relation
from hobrel.core.linearising.relation import RelationPlot, find_straight_plots
from hobrel.core.questions.board import BOARD_FORMS, find_kept, form_of
from hobrel.core.units.constants import constant_symbols

MOST_OFFERED = 4


@dataclass(frozen=True)
class PlotOffer:
    """A plot that is straight by the relation.

    Attributes
    ----------
    x, y : quantity ids
    x_form, y_form : str
        Their forms, with v for the quantity: ``v^2``.
    axes_tex, gradient_tex : str
        The plot, and what its gradient means.
    intercept_tex : str
        What its intercept means, where the unknown is found by that; empty where it is by the gradient.
    unknown : str
        The symbol that can be found by it; empty where there is none.
    formula : str
        What it is found by, over gradient or intercept.
    kept : str
        The fit (by id) of the plan on a graph of it; empty where there is none.
    """

    x: str
    y: str
    x_form: str
    y_form: str
    axes_tex: str
    gradient_tex: str
    intercept_tex: str
    unknown: str
    formula: str
    kept: str


def offer_plots(book: LabBook) -> tuple[PlotOffer, ...]:
    """The plots of what is measured, and of what is derived from it, against what is set; simplest first.

    Raises
    ------
    CoreError
        ``bad_formula`` where the relation cannot be read.
    """
    if not book.relation.strip():
        return ()
    known = known_in(book.relation, [*(q.symbol for q in book.quantities), *(f.symbol for f in book.findings)])
    left, right = read_relation(book.relation, set(known))
    held = symbols_in(left) | symbols_in(right)
    of = {canonical_name(q.symbol): q for q in book.quantities}
    unknowns = _find_unknowns(book, held, of)
    found: list[PlotOffer] = []
    for x in (q for q in of.values() if q.kind == "changed" and canonical_name(q.symbol) in held):
        for y in (q for q in of.values() if q.kind in ("measured", "derived") and canonical_name(q.symbol) in held):
            found += _offers(book, x, y, unknowns, known)
    return tuple(found[:MOST_OFFERED])


def _find_unknowns(book: LabBook, held: Set[str], of: dict[str, Quantity]) -> list[str]:
    """What is to be found: the findings that the relation holds, or what only the relation has."""
    wanted = [f.symbol for f in book.findings if canonical_name(f.symbol) in held]
    return wanted or sorted(held - set(of) - set(constant_symbols()) - {"pi"}) or [""]


def _find_plots(
    book: LabBook, x: Quantity, y: Quantity, unknowns: Sequence[str], known: frozenset[str]
) -> tuple[str, tuple[RelationPlot, ...]]:
    """What is found by the gradient of the simplest plot, or by its intercept where no gradient gives anything; and the plots.

    A gradient says more than an intercept, which may lie far outside of what was measured.
    """
    found = []
    for unknown in unknowns:
        found.append((unknown, find_straight_plots(book.relation, x.symbol, y.symbol, unknown, known)))
        if found[-1][1][0].unknown_from_gradient:
            return found[-1]
    return found[0]


def _offers(book: LabBook, x: Quantity, y: Quantity, unknowns: Sequence[str], known: frozenset[str]) -> list[PlotOffer]:
    try:
        unknown, plots = _find_plots(book, x, y, unknowns, known)
    except CoreError:
        return []

    def tex(text: str) -> str:
        return formula_tex(read_formula(text, known | {"gradient", "intercept"}))

    offers = []
    for plot in plots:
        x_form, y_form = form_of(plot.x_form, x.symbol), form_of(plot.y_form, y.symbol)
        if not {x_form, y_form} <= set(BOARD_FORMS):
            continue
        offers.append(
            PlotOffer(
                x=x.id,
                y=y.id,
                x_form=x_form,
                y_form=y_form,
                axes_tex=rf"{tex(plot.y_form)} \text{{ against }} {tex(plot.x_form)}",
                gradient_tex=tex(plot.gradient_means),
                intercept_tex="" if plot.unknown_from_gradient or not plot.unknown_from_intercept else tex(plot.intercept_means),
                unknown=unknown,
                formula=plot.unknown_from_gradient or plot.unknown_from_intercept,
                kept=find_kept(book, x, y, x_form, y_form),
            )
        )
    return offers
