"""Lab books that begin with nothing: headings, pasted tables, several of them, and what is done to their columns, in any order."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

from pydantic import ValidationError

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.labbooks.edits.headings import write_heading_text
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.registry import apply_edit
from hobrel.labbooks.own import empty_document
from hobrel.server.problems import Problem
from tests.fuzz.cases import Case
from tests.fuzz.sending import mutated
from tests.fuzz.typing import analyse_to_json

HEADINGS = (
    *("t / s", "time t (s)", "x in cm", "±x", "u(t)", "# L (m)", "T1 (s)", "T2 (s)", "T3 (s)", "T²/s²", "1/T (1/K)", "Temperature (°C)"),
    *(
        "θ / °",
        "N",
        "mass m / g",
        "",
        "λ [nm]",
        "V",
        "V / V",
        "t / s",
        "x",
        "±",
        "12",
        "p / wobbles",
        "ln(N)",
        "colour",
        "T / °F",
        "f / Hz",
    ),
)
CELLS = ("", "0", "1.20", "2,5", "300", "0.0012", "1.2e3", "-4", "five", "1/2", "2.50 ± 0.05", "9" * 40, "1e99", "°", "0,1")

FORMULAS, RELATIONS = ("t^2", "x/t", "ln(T)"), ("x = v t", "T = k sqrt(L)", "(", "")


def _some_table(dice: random.Random) -> tuple[list[str], list[list[str]]]:
    width = dice.randrange(1, 6)
    base, slope = dice.uniform(-5, 50), dice.uniform(-3, 9)

    def cell(row: int, column: int) -> str:
        if dice.random() < 0.1:
            return dice.choice(CELLS)
        return f"{base + slope * row * (column + 1) + dice.gauss(0, 0.05):.{dice.randrange(4)}f}"

    rows = [[cell(row, column) for column in range(dice.randrange(width + 1))] for row in range(dice.randrange(1, 12))]
    return [dice.choice(HEADINGS) for _ in range(width)], rows


def _some_edit(document: dict[str, Any], dice: random.Random) -> dict[str, Any]:
    runs = [run["id"] for run in document["runs"]]
    quantities = [*(q["id"] for q in document["quantities"]), "gone"]
    fresh = {"graph": f"g{dice.randrange(4)}", "fit": f"f{dice.randrange(4)}"}
    run = dice.choice(runs)
    headings, rows = _some_table(dice)
    quantity = dice.choice([*quantities, f"n{dice.randrange(6)}"])
    known = next((q for q in document["quantities"] if q["id"] == quantity), None)
    was = write_heading_text(known) if known else ""
    first = next((s["id"] for s in document["runs"][0]["settings"]), "none")
    return dice.choice((
        {"type": "paste_table", "run": run, "headings": headings, "rows": rows, **fresh},
        {"type": "paste_table", "run": run, "headings": headings, "rows": rows, **fresh},
        {"type": "write_heading", "run": run, "quantity": quantity, "text": dice.choice(HEADINGS), "was": was, **fresh},
        {"type": "add_run", "run": f"r{dice.randrange(4)}", "name": f"table {dice.randrange(5)}", "headings": []},
        {"type": "add_run", "run": f"r{dice.randrange(4)}", "name": f"again {dice.randrange(5)}"},
        {"type": "exchange_columns", "run": run, "quantity": quantity},
        {"type": "remove_quantity", "quantity": quantity},
        {"type": "remove_run", "run": run},
        {"type": "remove_graph", "graph": fresh["graph"]},
        {"type": "remove_fit", "fit": fresh["fit"]},
        {"type": "add_graph", "graph": fresh["graph"], "x": quantity, "y": dice.choice(quantities)},
        {"type": "add_fit", "fit": fresh["fit"], "graph": fresh["graph"], "choice": {"shape": dice.choice(("line", "power", "quadratic"))}},
        {"type": "set_repeats", "quantity": quantity, "repeats": dice.randrange(1, 5)},
        {"type": "set_reading", "run": run, "setting": first, "quantity": quantity, "repeat": 0, "text": dice.choice(CELLS), "was": ""},
        {"type": "add_quantity", "quantity": "d1", "kind": "derived", "name": "d", "symbol": "d_9", "formula": dice.choice(FORMULAS)},
        {"type": "describe_book", "was": {"relation": document["relation"]}, "becomes": {"relation": dice.choice(RELATIONS)}},
    ))  # fmt: skip


def _walk(seed: int) -> Any:
    dice = random.Random(seed)
    document = write_lab_book(empty_document())
    for _ in range(dice.randrange(1, 9)):
        edit = mutated(_some_edit(document, dice), dice, dice.choice((0.0, 0.0, 0.03)))
        try:
            document = apply_edit(document, edit_adapter.validate_python(edit)).document
        except (Problem, ValidationError):
            continue
    book = read_lab_book(document)
    return [analyse_to_json(book.seen_from(run.id)) for run in book.runs]


def beginnings(dice: random.Random, count: int) -> Iterator[Case]:
    for _ in range(count):
        seed = dice.getrandbits(40)
        yield Case(f"beginning {seed}", lambda seed=seed: _walk(seed))
