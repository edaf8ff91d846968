"""Tasks with graphs, what is fitted and what is found."""

from __future__ import annotations

from collections.abc import Callable

from tests.tasks.hand import Hand
from tests.tasks.task import Task, fill_in, shown, text_in


def _title(hand: Hand) -> None:
    hand.press(hand.page.locator(".look-title button"))
    hand.type("Longer is slower")
    hand.key("Enter")


def _on_graph(hand: Hand, *acts: str) -> None:
    for act in acts:
        hand.choices()
        hand.press(hand.page.get_by_role("checkbox", name=act))


def _y(hand: Hand, wanted: str) -> None:
    hand.button("T / s along y: put another quantity there")
    hand.press(hand.page.get_by_role("menuitemradio", name=wanted, exact=True))


def _with_choices(hand: Hand, button: str) -> None:
    hand.choices()
    hand.button(button)


def _moment(hand: Hand) -> None:
    _with_choices(hand, "Mark a moment")
    hand.type("moved")
    hand.write(hand.page.get_by_label("at L", exact=False), "0.31")
    hand.key("Enter")


def _range(hand: Hand) -> None:
    hand.choices()
    fill_in(hand, (hand.page.get_by_label("x from"), "0.4"), (hand.page.get_by_label("x to"), "0.6"))


def _look(hand: Hand) -> None:
    hand.choices()
    hand.button("Colour and shape of")
    hand.button("green triangle")


def _pin(hand: Hand) -> None:
    x, y = hand.middle(hand.page.locator(".graph-target"))
    hand.page.mouse.click(x, y)
    hand.presses += 1
    hand.button("Pin a note")
    hand.type("creaked")
    hand.key("Enter")


def _keep(hand: Hand) -> None:
    hand.button("More forms")
    hand.button("ln(T) against ln(L).")
    hand.press(hand.page.get_by_role("region", name="Large").get_by_role("button", name="Keep this one").last)


def _by_eye(hand: Hand) -> None:
    hand.button("Draw a line by eye")
    x, y = hand.middle(hand.page.get_by_role("slider", name="Right handle of the line by eye"))
    hand.drag((x, y), (x, y - 60))
    hand.button("Done")


def _stretch(hand: Hand, then: Callable[[Hand], None], low: float, high: float) -> None:
    x, y, width, _ = hand.box(hand.page.locator(".graph-mark-area"))
    hand.drag((x + low * width, y + 40), (x + high * width, y + 40))
    then(hand)


def _left_out(hand: Hand) -> None:
    hand.write(hand.page.get_by_label("Why is this stretch left out?"), "it slipped")
    hand.key("Enter")


def _shape(hand: Hand, shape: str) -> None:
    hand.choices()
    hand.press(hand.page.get_by_label("What is fitted"))
    hand.press(hand.page.get_by_text(shape))


def _own_shape(hand: Hand) -> None:
    _shape(hand, "A formula of your own …")
    fill_in(hand, (hand.page.get_by_label("T² =", exact=True), "a x + b x^2"), (hand.page.get_by_label("with parameters"), "a b"))


def _read_off(hand: Hand, way: str, label: str, text: str) -> None:
    if way:
        hand.text(way)
    hand.write(hand.page.get_by_label(label), text)
    hand.key("Enter")


def _good(hand: Hand, *more: str) -> None:
    hand.text("How good is it?")
    for words in more:
        hand.text(words)


def _without(hand: Hand) -> None:
    x, y = hand.middle(hand.page.locator(".graph-target").last)
    hand.page.mouse.click(x, y)
    hand.presses += 1
    hand.button("Without it for a moment")


def _finding(hand: Hand) -> None:
    hand.button("Use the intercept in Find")
    hand.go("find")
    form = hand.page.get_by_role("form", name="A finding of your own")
    fill_in(hand, (form.get_by_label("called"), "offset"), (form.get_by_label("symbol", exact=True), "c"))


TASKS = (
    Task("look", "another quantity along y", lambda h: _y(h, "T² / s²"), text_in(".look-card", "T² against L")),
    Task("look", "let x and y change places", lambda h: _y(h, "L / m"), text_in(".look-card", "L against T")),
    Task(
        "look",
        "give the graph a title",
        _title,
        text_in(".look-card", "Longer is slower"),
    ),
    Task("look", "show the origin", lambda h: _on_graph(h, "show the origin"), text_in(".choice-words", "with the origin")),
    Task("look", "logarithmic y", lambda h: _on_graph(h, "logarithmic y"), shown(".graph [data-point]")),
    Task(
        "look",
        "another graph",
        lambda h: _with_choices(h, "Another graph"),
        lambda p: p.get_by_role("group", name="Graphs of this lab book").get_by_role("button").nth(2),
    ),
    Task(
        "look",
        "all graphs beside each other",
        lambda h: (h.choices(), h.text("all beside each other"))[0],
        lambda p: p.locator(".look-card").nth(1),
    ),
    Task("look", "colour and shape of a series", _look, lambda p: p.locator(".graph [data-point] polygon").nth(7), first="not possible"),
    Task("look", "mark a moment", _moment, shown(".graph-moment"), first="not possible"),
    Task(
        "look",
        "where the points are steepest",
        lambda h: h.text("Where the points are steepest"),
        text_in("main", "there it changes by"),
        first="a line first",
    ),
    Task("look", "choose the range", _range, lambda p: p.get_by_role("button", name="as the points need it")),
    Task("look", "large for the room", lambda h: _on_graph(h, "large, for the room"), shown(".projector")),
    Task("look", "pin a note to a point", _pin, text_in(".graph-note", "creaked")),
    Task("look", "without its rules", lambda h: _on_graph(h, "ruled"), shown(".graph [data-point]")),
    Task(
        "straighten",
        "see what Hobrel makes of the plots",
        lambda h: h.button("Show what Hobrel makes of them all"),
        shown(".straighten-judgement"),
    ),
    Task("straighten", "see more forms", lambda h: h.button("More forms"), lambda p: p.locator(".board-square").nth(70)),
    Task("straighten", "keep another plot with its line", _keep, lambda p: p.get_by_role("link", name="its line is in Fit").last),
    Task("fit", "draw a line by eye", _by_eye, shown(".graph-line.by_eye")),
    Task("fit", "weigh all points the same", lambda h: (h.choices(), h.text("all the same"))[0], text_in(".choice-words", "same")),
    Task("fit", "hold it at the origin", lambda h: _on_graph(h, "through the origin"), text_in(".choice-words", "origin")),
    Task(
        "fit",
        "steepest and shallowest line",
        lambda h: (h.choices(), h.text("draw steepest and shallowest"))[0],
        shown(".graph-line.steepest"),
    ),
    Task(
        "fit", "another shape", lambda h: _shape(h, "Power, y = a xⁿ"), lambda p: p.get_by_role("complementary", name="Card of the curve")
    ),
    Task("fit", "a formula of one’s own", _own_shape, text_in("[aria-label='Card of the curve']", "This formula")),
    Task("fit", "read off y at an x", lambda h: _read_off(h, "", "at L³ / m³ =", "0.15"), text_in("[aria-label='Read off'] li", "0.15")),
    Task(
        "fit", "read off x at a y", lambda h: _read_off(h, "x at a y", "at T² / s² =", "0.6"), text_in("[aria-label='Read off'] li", "0.6")
    ),
    Task(
        "fit",
        "mark a stretch, and fit it alone",
        lambda h: _stretch(h, lambda h: h.button("Fit only here"), 0.02, 0.55),
        text_in(".choice-words", "x from"),
    ),
    Task("fit", "set a stretch aside with a reason", lambda h: _stretch(h, _left_out, 0.9, 0.99), text_in(".undo-bar", "set aside")),
    Task(
        "fit",
        "the equation on the graph",
        lambda h: _on_graph(h, "equation on the graph"),
        shown(".graph-equations text"),
        first="not possible",
    ),
    Task("fit", "how good it is", _good, text_in(".line-card", "points")),
    Task(
        "fit",
        "which points pull the line most",
        lambda h: _good(h, "Which points pull the line most?"),
        lambda p: p.get_by_role("button", name="L = 0.65"),
    ),
    Task(
        "fit",
        "what χ²ν means",
        lambda h: (_good(h), h.button("χ²ν"))[0],
        lambda p: p.get_by_role("note", name="χ²ν, reduced chi squared"),
        first="not possible",
    ),
    Task("fit", "what if a point were not there", _without, text_in(".line-card", "of 7 points")),
    Task("fit", "rise over run", lambda h: _stretch(h, lambda h: None, 0.02, 0.55), text_in("main", "Rise over run of the fit")),
    Task(
        "fit",
        "the working of the gradient",
        lambda h: h.press(h.page.locator('[data-working="fit:line:gradient"]')),
        lambda p: p.get_by_role("dialog"),
    ),
    Task("fit", "a finding of one’s own from the intercept", _finding, lambda p: p.get_by_role("region", name="offset")),
    Task("fit", "see what is found", lambda h: h.go("find"), text_in(".find-statement", "GPa")),
    Task("find", "what would help most", lambda h: h.text("What would help most?"), shown(".find-help li, .find-help")),
    Task(
        "find",
        "the working of the finding",
        lambda h: h.press(h.page.locator(".find-statement button")),
        text_in("[role=dialog]", "With the numbers put in"),
    ),
)
