"""Using everything once that loads its library at first use; better before anybody waits for it."""

from __future__ import annotations

from hobrel.core.document.lab_book import Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.board import look_at_board
from hobrel.core.readings.instruments import Instrument


def warm_book() -> LabBook:
    """A lab book that has a bit of everything slow to load: units, formulas, a relation, a line, a curve with bars in both axes."""
    rows = tuple(Setting(f"s{i}", {"x": (Reading(str(i)),), "y": (Reading(str(i * i)),)}) for i in range(1, 7))
    ruler = Instrument("ruler", "scale", "1")
    return LabBook(
        "warm",
        relation="y = k x^2",
        quantities=(
            Quantity("x", "changed", "x", "x", "cm", ruler),
            Quantity("y", "measured", "y", "y", "kg m/s^2", ruler),
            Quantity("z", "derived", "z", "z", formula="sqrt(y)/g_n"),
        ),
        runs=(Run("r", "", rows),),
        graphs=(Graph("g", "", "x", "y"),),
        fits=(Fit("line", "g"), Fit("curve", "g", shape="power")),
    )


def warm_up() -> None:
    """Analyse that lab book and look at its board."""
    analyse(warm_book())
    look_at_board(warm_book(), "x", "y")
