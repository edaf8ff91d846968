"""Tasks with readings and what is made of them, and with the report."""

from __future__ import annotations

import re

from tests.tasks.hand import Hand
from tests.tasks.task import Task, fill_in, shown, text_in

TABLE = "0.300\t2.31\t2.28\t2.35\n0.350\t2.93\t2.90\t2.97\n0.400\t3.52\t3.60\t3.57\n0.450\t4.27\t4.21\t4.25\n0.500\t4.98\t4.91\t4.95"


def _sketch(hand: Hand) -> None:
    x, y, width, height = hand.box(hand.page.locator(".sketch-paper"))
    for right, down in ((0.1, 0.9), (0.5, 0.6), (0.9, 0.1)):
        hand.page.mouse.click(x + right * width, y + down * height)
        hand.presses += 1


def _each(hand: Hand, texts: tuple[str, ...]) -> None:
    hand.cell(0, 0)
    for text in texts:
        hand.type(text)
        hand.key("Tab")


def _even(hand: Hand) -> None:
    hand.button("Lay out even settings")
    for text in ("0.30", "0.65", "0.05"):
        hand.type(text)
        hand.key("Tab")
    hand.button("Lay them out")


def _aside(hand: Hand) -> None:
    hand.cell(2, 1)
    if hand.device.touch:
        hand.press(hand.page.get_by_role("button", name=re.compile("^set [0-9.]+ aside")))
    else:
        hand.key("Alt+s")
    hand.type("it slipped")
    hand.key("Enter")


def _remove(hand: Hand) -> None:
    hand.cell(1, 1)
    if hand.device.touch:
        hand.button("remove setting")
    else:
        hand.key("Alt+Shift+Delete")


def _undone(hand: Hand) -> None:
    _remove(hand)
    if hand.device.touch:
        hand.press(hand.page.locator(".undo-bar").get_by_role("button", name="Undo"))
    else:
        hand.key("Control+z")


def _run(hand: Hand) -> None:
    hand.button("+ fresh readings")
    hand.type("Wet")
    hand.key("Enter")


def _file(hand: Hand) -> None:
    hand.button("Bring in")
    table = TABLE.replace("\t", ",").encode()
    hand.page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
        {"name": "own.csv", "mimeType": "text/csv", "buffer": b"L (m),t1,t2,t3\n" + table}
    )
    hand.presses += 1


def _own_quantity(hand: Hand) -> None:
    form = hand.page.locator(".derive-more form")
    fill_in(hand, (form.get_by_label("called"), "frequency"), (form.get_by_label("symbol"), "f"), (form.get_by_label("="), "1/T"))


def _digits(hand: Hand) -> None:
    hand.press(hand.page.get_by_label("How the values of period squared are written"))
    hand.press(hand.page.get_by_title("figures, power of ten"))


def _point(hand: Hand) -> None:
    hand.press(hand.page.get_by_role("textbox", name="Discussion", exact=True))
    hand.type("{figure")
    hand.key("Enter")


def _add_section(hand: Hand) -> None:
    hand.write(hand.page.get_by_role("textbox", name="Heading of a new section"), "Sources")
    hand.key("Enter")


def _hand_in(hand: Hand) -> None:
    hand.button("Hand in", exact=True)
    hand.button("Hand in now")


TASKS = (
    Task(
        "start", "open the lab book", lambda h: h.press(h.page.get_by_role("link", name="Open the lab book")), shown("table.ruled, main h1")
    ),
    Task(
        "ask",
        "write what is expected",
        lambda h: h.write(h.page.get_by_role("textbox", name="What do you expect?"), "longer is slower"),
        text_in("main", ""),
    ),
    Task("ask", "sketch it", _sketch, lambda p: p.locator(".sketch circle").nth(2)),
    Task(
        "read",
        "write the first reading",
        lambda h: (h.cell(0, 0), h.type("0.300"), h.key("Enter"))[0],
        shown('input[data-at]:focus:not([data-at="0:0"])'),
        full=False,
        first="30 Tabs before it",
    ),
    Task(
        "read",
        "write a setting with its three repeats",
        lambda h: _each(h, ("0.300", "2.31", "2.28", "2.35")),
        text_in(".ruled-mean", "2.31"),
        full=False,
    ),
    Task("read", "lay out eight even settings", _even, shown('input[data-at="7:0"]'), full=False),
    Task("read", "paste a table", lambda h: (h.cell(0, 0), h.paste(TABLE))[0], text_in(".ruled-mean", "4.95"), full=False),
    Task(
        "read",
        "bring a file in, as far as the choice of its columns",
        _file,
        lambda p: p.get_by_role("dialog").get_by_role("button", name="Bring").last,
        full=False,
    ),
    Task("read", "set a reading aside with a reason", _aside, shown("td.reading.aside")),
    Task("read", "remove a setting", _remove, text_in(".undo-bar", "was removed")),
    Task("read", "remove a setting and bring it back", _undone, lambda p: p.locator('input[data-at="7:0"]')),
    Task("read", "one repeat more", lambda h: h.button("One repeat more"), lambda p: p.locator('input[data-at="0:4"]')),
    Task("read", "begin a second run", _run, lambda p: p.get_by_role("tab", name="Wet")),
    Task(
        "read",
        "let Enter go across",
        lambda h: h.text("→ across"),
        lambda p: p.locator(".ant-segmented-item-selected").filter(has_text="across").first,
        without=("phone",),
    ),
    Task("read", "see what can be taken out", lambda h: h.button("Take out"), lambda p: p.get_by_role("menuitem", name="XLSX").first),
    Task(
        "read",
        "see its points as one types",
        lambda h: h.button("Peg Look beside this"),
        shown(".book-pegged svg"),
        without=("phone",),
        first="not possible",
    ),
    Task(
        "read",
        "see who changed what",
        lambda h: h.press(h.page.get_by_role("status").filter(has_text="saved").or_(h.page.get_by_role("button", name="History")).last),
        lambda p: p.get_by_role("dialog").first,
    ),
    Task(
        "average",
        "see the working of a number",
        lambda h: h.press(h.page.locator('[data-working="cell:run1:s3:T2"]')),
        text_in("[role=dialog]", "What makes the uncertainty"),
    ),
    Task("average", "another unit of a quantity", lambda h: h.button("b in m", exact=True), text_in(".average-constants", "0.03000")),
    Task("average", "a rate between two settings", lambda h: h.button("between two settings"), text_in(".average-table thead", "Δt10/ΔL")),
    Task(
        "average",
        "a rate at each setting",
        lambda h: h.button("at each setting"),
        text_in(".average-table thead", "dt10/dL"),
        first="not possible",
    ),
    Task("average", "a smoothed rate", lambda h: h.button("smoothed"), text_in(".average-table thead", "smoothed"), first="not possible"),
    Task("average", "a quantity by a formula of one’s own", _own_quantity, text_in(".derived", "s⁻¹")),
    Task("average", "choose how a quantity is written", _digits, text_in(".average-table tbody", "× 10⁻")),
    Task(
        "report",
        "write the conclusion with its number",
        lambda h: h.write(h.page.get_by_role("textbox", name="Conclusion", exact=True), "We found {E}."),
        shown(".own-text-read .live-value"),
    ),
    Task("report", "point to a figure", _point, shown(".own-text-read a"), first="not possible"),
    Task(
        "report",
        "leave a graph out",
        lambda h: h.button("Leave Graph: period against overhang out"),
        text_in(".part-left-out", "period against overhang"),
        first="not possible",
    ),
    Task(
        "report",
        "move a part",
        lambda h: h.button("Move Method up"),
        text_in(".report-part:nth-of-type(2) > h2", "Method"),
        first="not possible",
    ),
    Task("report", "add a section", _add_section, text_in(".report-part > h2", "Sources"), first="not possible"),
    Task(
        "report",
        "see what is missing",
        lambda h: h.press(h.page.locator(".still-missing summary")),
        shown(".still-missing li"),
        first="not possible",
    ),
    Task("report", "hand in", _hand_in, lambda p: p.get_by_label("What has been handed in")),
)
