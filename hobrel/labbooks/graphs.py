"""Edits of graphs and of what is fitted to them."""

from __future__ import annotations

from hobrel.core.fitting.shapes import SHAPES
from hobrel.labbooks.edit_kinds import AddGraph, AnyEdit, GraphLook, PlaceFit, PlaceGraph, RemoveGraph
from hobrel.labbooks.places import Document, find, write_symbol
from hobrel.server.problems import Problem

MOST_GRAPHS = 12


def place_graph(document: Document, edit: PlaceGraph) -> tuple[AnyEdit, str]:
    for low, high in ((edit.x_low, edit.x_high), (edit.y_low, edit.y_high)):
        if low is not None and high is not None and not high > low:
            raise Problem(422, "bad_range", "The range ends before it begins. Write the smaller number first.")
    graph = find(document["graphs"], edit.graph, "graph")
    chosen = edit.model_dump(exclude={"type", "graph"})
    before = PlaceGraph(graph=edit.graph, **{k: graph[k] for k in chosen if k in graph})
    words = f"graph: {_say_axes(document, edit.x, edit.y)}"
    if all(graph.get(k) == v for k, v in chosen.items() if k in ("x", "y")):
        words += ", its range" if graph.get("origin") == edit.origin else ", the origin"
    graph.update(chosen)
    return before, words


def add_graph(document: Document, edit: AddGraph) -> tuple[AnyEdit, str]:
    graphs = document["graphs"]
    if any(g["id"] == edit.graph for g in graphs):
        raise Problem(409, "gone", "This graph is in the lab book already.")
    if len(graphs) >= MOST_GRAPHS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_GRAPHS} graphs.")
    axes = _say_axes(document, edit.x, edit.y)
    graph = {**edit.look.model_dump(), "id": edit.graph, "x": edit.x, "y": edit.y}
    graphs.insert(len(graphs) if edit.at is None else edit.at, graph)
    return RemoveGraph(graph=edit.graph), f"added a graph: {axes}"


def remove_graph(document: Document, edit: RemoveGraph) -> tuple[AnyEdit, str]:
    graph = find(document["graphs"], edit.graph, "graph")
    if any(f["graph"] == edit.graph for f in document["fits"]):
        raise Problem(409, "in_use", "A line is fitted on this graph, so it stays.")
    place = document["graphs"].index(graph)
    document["graphs"].remove(graph)
    look = GraphLook(**{k: v for k, v in graph.items() if k not in ("id", "x", "y")})
    back = AddGraph(graph=edit.graph, x=graph["x"], y=graph["y"], at=place, look=look)
    return back, f"removed a graph: {_say_axes(document, graph['x'], graph['y'])}"


def _say_axes(document: Document, x: str, y: str) -> str:
    symbols = [write_symbol(find(document["quantities"], q, "quantity")["symbol"]) for q in (y, x)]
    return " against ".join(symbols)


def place_fit(document: Document, edit: PlaceFit) -> tuple[AnyEdit, str]:
    fit = find(document["fits"], edit.fit, "fit")
    if edit.shape not in ("own", *SHAPES):
        raise Problem(422, "bad_shape", f"There is no shape called {edit.shape}.")
    chosen = edit.model_dump(exclude={"type", "fit"})
    before = PlaceFit(fit=edit.fit, **{k: fit[k] for k in chosen if k in fit})
    changed = [k for k, v in chosen.items() if v != fit.get(k)]
    fit.update(chosen)
    return before, _say_fit(edit, changed)


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
        "show_extremes": "steepest and shallowest drawn" if edit.show_extremes else "steepest and shallowest not drawn",
    }
    said = [words[k] for k in words if k in changed or (k == "low" and "high" in changed)]
    return f"fit: {', '.join(said) or weights}"


def _end(value: float | None) -> str:
    return "the end" if value is None else f"{value:.4g}"
