"""Edits of graphs: what is on their axes, what is drawn beside it, the range, and notes pinned to them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.core.document.choices import LOOKS, OF_GRAPH, NoteAnchor
from hobrel.core.document.limits import MOST_GRAPHS
from hobrel.labbooks.edits.changing import PartEdit, change_item
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, End, Finite, Key, check_range
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import Document, call, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem

Look = Annotated[int, Field(ge=0, lt=LOOKS)]
Share = Annotated[float, Field(allow_inf_nan=False, ge=-1, le=1)]


class NoteIn(EditModel):
    id: Key
    text: Annotated[str, Field(min_length=1, max_length=300)]
    anchor: NoteAnchor
    of: Annotated[str, Field(max_length=40)] = ""
    x: Finite = 0.0
    x_high: End = None
    right: Share = 0.06
    up: Share = 0.12


class GraphPart(EditModel):
    """Fields of a graph: what is on its axes, which runs and further quantities are drawn, the range that is shown, its notes."""

    x: Key = "x"
    y: Key = "y"
    title: Annotated[str, Field(max_length=120)] = ""
    origin: bool = False
    x_low: End = None
    x_high: End = None
    y_low: End = None
    y_high: End = None
    x_log: bool = False
    y_log: bool = False
    also: Annotated[list[Key], Field(max_length=5)] = []
    runs: Annotated[list[Key], Field(max_length=11)] = []
    hidden: Annotated[list[Annotated[str, Field(max_length=90)]], Field(max_length=72)] = []
    notes: Annotated[list[NoteIn], Field(max_length=30)] = []
    words_of: Key | Literal[""] = ""


class PlaceGraph(PartEdit):
    """Choose something anew of a graph."""

    type: Literal["place_graph"] = "place_graph"
    graph: Key
    was: GraphPart
    becomes: GraphPart


@kind(policy.left_to_the_bench, in_batch=True)
def place_graph(draft: Draft, edit: PlaceGraph) -> str:
    for quantity in (*edit.becomes.also, *(getattr(edit.becomes, a) for a in ("x", "y") if a in edit.becomes.model_fields_set)):
        find(draft["quantities"], quantity, "quantity")
    find(draft["graphs"], edit.graph, "graph")
    changed = change_item(draft, "graphs", edit, edit.graph, GraphPart(), "this graph")
    graph = {**GraphPart().model_dump(), **find(draft["graphs"], edit.graph, "graph")}
    for low, high in ((graph["x_low"], graph["x_high"]), (graph["y_low"], graph["y_high"])):
        check_range(low, high)
    if len(graph["notes"]) > _MOST_NOTES:
        raise Problem(422, "too_large", f"A graph holds at most {_MOST_NOTES} notes.")
    words = f"graph: {say_axes(draft, graph['x'], graph['y'])}"
    said = [words for keys, words in _LOOK_WORDS if keys & changed.keys()]
    return words + (", " + " and ".join(said) if said and not {"x", "y"} & changed.keys() else "")


_MOST_NOTES = 30
_LOOK_WORDS = (
    ({"title"}, "its title"),
    ({"origin"}, "the origin"),
    ({"x_log", "y_log"}, "how far apart its numbers stand"),
    ({"x_low", "x_high", "y_low", "y_high"}, "its range"),
    ({"runs", "also"}, "what is drawn beside each other"),
    ({"hidden"}, "what is hidden (nothing is deleted)"),
    ({"notes"}, "its notes"),
)


class AddGraph(EditModel):
    """Add a graph."""

    type: Literal["add_graph"] = "add_graph"
    graph: Key
    x: Key
    y: Key


@kind(policy.left_to_the_bench)
def add_graph(draft: Draft, edit: AddGraph) -> str:
    if has(draft["graphs"], edit.graph):
        raise Problem(409, "gone", "This graph is in the lab book already.")
    if len(draft["graphs"]) >= MOST_GRAPHS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_GRAPHS} graphs.")
    axes = say_axes(draft, edit.x, edit.y)
    draft.own("graphs").append({**GraphPart(x=edit.x, y=edit.y).model_dump(), "id": edit.graph})
    return f"added a graph: {axes}"


class ChooseLook(EditModel):
    """Choose colour and shape of a series for all graphs; None leaves them to Hobrel again. `was` is what it replaces."""

    type: Literal["choose_look"] = "choose_look"
    series: Annotated[str, Field(pattern=r"^[^:]{1,40}:[^:]{1,40}$")]
    look: Look | None
    was: Look | None = None


@kind(policy.left_to_the_bench)
def choose_look(draft: Draft, edit: ChooseLook) -> str:
    run, quantity = edit.series.split(":")
    name = find(draft["runs"], run, "run")["name"]
    symbol = call(find(draft["quantities"], quantity, "quantity"))
    looks = draft.get("looks", {})
    if looks.get(edit.series) != edit.was:
        raise Problem(409, "clash", "Somebody else has chosen another look for this series meanwhile.")
    draft["looks"] = {s: look for s, look in {**looks, edit.series: edit.look}.items() if look is not None}
    return f"chose how {symbol} of {name} is drawn"


class RemoveGraph(EditModel):
    type: Literal["remove_graph"] = "remove_graph"
    graph: Key


@kind(policy.left_to_the_bench)
def remove_graph(draft: Draft, edit: RemoveGraph) -> str:
    graph = find(draft["graphs"], edit.graph, "graph")
    if any(f["graph"] == edit.graph for f in draft["fits"]):
        raise Problem(409, "in_use", "A line is fitted on this graph, so it stays.")
    refuse_in_use(draft, OF_GRAPH, edit.graph, "This graph")
    draft.own("graphs").remove(graph)
    return f"removed a graph: {say_axes(draft, graph['x'], graph['y'])}"


def refuse_in_use(document: Document, kinds: frozenset[str], of: str, what: str) -> None:
    """What a finding uses is not taken from under it.

    Raises
    ------
    Problem
        409 ``in_use``.
    """
    for finding in document["findings"]:
        if finding.get("fit") == of or any(i["kind"] in kinds and i["of"] == of for i in finding.get("uses", ())):
            raise Problem(409, "in_use", f"{what} is used by the finding {finding['name']}. Change or remove that first.")


def say_axes(document: Document, x: str, y: str) -> str:
    """T² against L³."""
    return " against ".join(call(find(document["quantities"], q, "quantity")) for q in (y, x))
