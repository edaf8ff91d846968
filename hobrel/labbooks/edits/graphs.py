"""Edits of graphs and of what is fitted to them."""

from __future__ import annotations

from hobrel.core.document.limits import MOST_FITS, MOST_GRAPHS
from hobrel.core.fitting.shapes import SHAPES
from hobrel.labbooks.edits.chosen_kinds import AddFit, AddGraph, PlaceFit, PlaceGraph, RemoveFit, RemoveGraph
from hobrel.labbooks.edits.places import Document, find, write_symbol
from hobrel.server.problems import Problem


def place_graph(document: Document, edit: PlaceGraph) -> str:
    for low, high in ((edit.x_low, edit.x_high), (edit.y_low, edit.y_high)):
        if low is not None and high is not None and not high > low:
            raise Problem(422, "bad_range", "The range ends before it begins. Write the smaller number first.")
    graph = find(document["graphs"], edit.graph, "graph")
    chosen = edit.model_dump(exclude={"type", "graph"})
    for quantity in edit.also:
        find(document["quantities"], quantity, "quantity")
    changed = {k for k, v in chosen.items() if v != graph.get(k, PlaceGraph.model_fields[k].default)}
    words = f"graph: {_say_axes(document, edit.x, edit.y)}"
    said = [words for keys, words in _LOOK_WORDS if keys & changed]
    if said and not changed & {"x", "y"}:
        words += ", " + " and ".join(said)
    graph.update(chosen)
    return words


_LOOK_WORDS = (
    ({"origin"}, "the origin"),
    ({"x_low", "x_high", "y_low", "y_high"}, "its range"),
    ({"runs", "also"}, "what is drawn beside each other"),
    ({"hidden"}, "what is hidden (nothing is deleted)"),
    ({"notes"}, "its notes"),
)


def add_graph(document: Document, edit: AddGraph) -> str:
    graphs = document["graphs"]
    if any(g["id"] == edit.graph for g in graphs):
        raise Problem(409, "gone", "This graph is in the lab book already.")
    if len(graphs) >= MOST_GRAPHS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_GRAPHS} graphs.")
    axes = _say_axes(document, edit.x, edit.y)
    graph = {**edit.look.model_dump(), "id": edit.graph, "x": edit.x, "y": edit.y}
    graphs.insert(len(graphs) if edit.at is None else edit.at, graph)
    return f"added a graph: {axes}"


def remove_graph(document: Document, edit: RemoveGraph) -> str:
    graph = find(document["graphs"], edit.graph, "graph")
    if any(f["graph"] == edit.graph for f in document["fits"]):
        raise Problem(409, "in_use", "A line is fitted on this graph, so it stays.")
    _refuse_in_use(document, {"steepest", "area"}, edit.graph, "This graph")
    document["graphs"].remove(graph)
    return f"removed a graph: {_say_axes(document, graph['x'], graph['y'])}"


def _refuse_in_use(document: Document, kinds: set[str], of: str, what: str) -> None:
    """What a finding uses is not taken from under it."""
    for finding in document["findings"]:
        if finding.get("fit") == of or any(i["kind"] in kinds and i["of"] == of for i in finding.get("uses", ())):
            raise Problem(409, "in_use", f"{what} is used by the finding {finding['name']}. Change or remove that first.")


def add_fit(document: Document, edit: AddFit) -> str:
    fits = document["fits"]
    if any(f["id"] == edit.fit for f in fits):
        raise Problem(409, "gone", "This fit is in the lab book already.")
    if len(fits) >= MOST_FITS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_FITS} fits.")
    graph = find(document["graphs"], edit.graph, "graph")
    fit = {**edit.choice.model_dump(), "id": edit.fit, "graph": edit.graph}
    fits.insert(len(fits) if edit.at is None else edit.at, fit)
    return f"fitted something more: {_say_axes(document, graph['x'], edit.choice.y or graph['y'])}"


def remove_fit(document: Document, edit: RemoveFit) -> str:
    fit = find(document["fits"], edit.fit, "fit")
    _refuse_in_use(document, {"fit", "read_forward", "read_back", "unknown", "tangent"}, edit.fit, "This fit")
    slope = next((q for q in document["quantities"] if q.get("tangent_of") == edit.fit), None)
    if slope:
        raise Problem(409, "in_use", f"{slope['name']} is the slope of this fit. Remove that quantity first.")
    document["fits"].remove(fit)
    return "removed a fit"


def _say_axes(document: Document, x: str, y: str) -> str:
    symbols = [write_symbol(find(document["quantities"], q, "quantity")["symbol"]) for q in (y, x)]
    return " against ".join(symbols)


def place_fit(document: Document, edit: PlaceFit) -> str:
    fit = find(document["fits"], edit.fit, "fit")
    if edit.shape not in ("own", *SHAPES):
        raise Problem(422, "bad_shape", f"There is no shape called {edit.shape}.")
    chosen = edit.model_dump(exclude={"type", "fit"})
    changed = [k for k, v in chosen.items() if v != fit.get(k)]
    fit.update(chosen)
    return _say_fit(edit, changed)


def _say_fit(edit: PlaceFit, changed: list[str]) -> str:
    """What has been chosen anew, in words."""
    weights = {"both_bars": "weighted by both bars", "y_bars": "weighted by the bars in y", "none": "not weighted"}[edit.weights]
    kind = "own formula" if edit.shape == "own" else edit.shape.replace("_", " ")
    words = {
        "weights": weights,
        "through_origin": "through the origin" if edit.through_origin else "with an intercept",
        "shape": kind,
        "formula": f"y = {edit.formula}",
        "low": "all points" if edit.low is None and edit.high is None else f"from {_end(edit.low)} to {_end(edit.high)}",
        "by_eye": "a line by eye" if edit.by_eye else "no line by eye",
        "steepest_by_eye": "steepest by eye" if edit.steepest_by_eye else "no steepest by eye",
        "shallowest_by_eye": "shallowest by eye" if edit.shallowest_by_eye else "no shallowest by eye",
        "run": "another run",
        "y": "another quantity",
        "expected": f"exponent {edit.expected} expected" if edit.expected else "no exponent expected",
        "unknowns": "its unknowns",
        "show_extremes": "steepest and shallowest drawn" if edit.show_extremes else "steepest and shallowest not drawn",
    }
    said = [words[k] for k in words if k in changed or (k == "low" and "high" in changed)]
    return f"fit: {', '.join(said) or weights}"


def _end(value: float | None) -> str:
    return "the end" if value is None else f"{value:.4g}"
