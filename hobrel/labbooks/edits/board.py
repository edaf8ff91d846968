"""Keeping a plot of the board as a graph with its line."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.questions.board import BOARD_FORMS, formed
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.fits import AddFit, FitChoice, add_fit
from hobrel.labbooks.edits.graphs import AddGraph, add_graph
from hobrel.labbooks.edits.parts import EditModel, FormText, Key
from hobrel.labbooks.edits.quantities import AddQuantity, add_quantity
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import find
from hobrel.server import policy
from hobrel.server.problems import Problem


class KeepPlot(EditModel):
    """Make a graph of two quantities of the board, each in its form, and fit a line on it; what the lab book has already is used.

    Findings that rest on the line `instead_of` rest on the new one.
    """

    type: Literal["keep_plot"] = "keep_plot"
    graph: Key
    fit: Key
    x: Key
    y: Key
    x_form: FormText
    y_form: FormText
    x_new: Key
    y_new: Key
    instead_of: Annotated[str, Field(max_length=40)] = ""


@kind(policy.left_to_the_bench)
def keep_plot(draft: Draft, edit: KeepPlot) -> str:
    if not {edit.x_form, edit.y_form} <= set(BOARD_FORMS):
        raise Problem(422, "bad_form", "This form is not on the board.")
    x = _formed_quantity(draft, edit.x, edit.x_form, edit.x_new)
    y = _formed_quantity(draft, edit.y, edit.y_form, edit.y_new)
    graph = next((g["id"] for g in draft["graphs"] if (g["x"], g["y"]) == (x, y)), edit.graph)
    if graph == edit.graph:
        add_graph(draft, AddGraph(graph=graph, x=x, y=y))
    fit = next((f["id"] for f in draft["fits"] if f["graph"] == graph), edit.fit)
    if fit == edit.fit:
        before = next((f for f in draft["fits"] if f["id"] == edit.instead_of), FitChoice().model_dump())
        add_fit(draft, AddFit(fit=fit, graph=graph, choice=FitChoice(weights=before["weights"])))
    following = [f["id"] for f in draft["findings"] if edit.instead_of and f.get("fit") == edit.instead_of != fit]
    for finding in following:
        draft.own("findings", finding)["fit"] = fit
    words = " against ".join(write_symbol(find(draft["quantities"], q, "quantity")["symbol"]) for q in (y, x))
    return f"kept from the board: {words}{', and what is found rests on its line' if following else ''}"


def _formed_quantity(draft: Draft, quantity_id: str, form: str, new: str) -> str:
    """The quantity that stands on the axis; it is added if the lab book does not have it."""
    base = find(draft["quantities"], quantity_id, "quantity")
    symbol, formula, name = formed(base["symbol"], base["name"], form)
    there = next((q["id"] for q in draft["quantities"] if canonical_name(q["symbol"]) == canonical_name(symbol)), None)
    if there is None:
        add_quantity(draft, AddQuantity(quantity=new, kind="derived", name=name[:80], symbol=symbol, formula=formula))
    return there or new
