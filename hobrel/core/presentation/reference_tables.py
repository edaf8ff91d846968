"""A table of reference as people see it: its symbol, why it cannot be used, and its lines drawn with what is looked up between them."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from hobrel.core.document.plan_part import ReferenceTable
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import RichRun, rich_symbol
from hobrel.core.pipeline.tables import read_table, u_of_line
from hobrel.core.presentation.figures import Figure, FigurePoint, ModelLine, PointSeries, axis_label, make_axis
from hobrel.core.presentation.results import TableMark
from hobrel.core.presentation.showing import show_trouble
from hobrel.core.readings.parsing import parse_written
from hobrel.core.rounding import with_unit
from hobrel.core.sentences import say
from hobrel.core.units.calculus import parse_unit, tidy_unit


@lru_cache(maxsize=64)
def mark_table(table: ReferenceTable) -> TableMark:
    """Mark a table; it is drawn where it can be used."""
    trouble = read_table(table).trouble
    symbol = rich_symbol(table.symbol)
    return TableMark(table.id, symbol, show_trouble(trouble)) if trouble else TableMark(table.id, symbol, None, _draw(table))


def _draw(table: ReferenceTable) -> Figure | None:
    """In the units of the table; straight from line to line, as it is looked up. Nothing where no axis holds it."""
    read = [(parse_written(line.at, table.of_unit), parse_written(line.value, table.unit), line) for line in table.lines if line.at.strip()]
    points = tuple(
        FigurePoint(
            key=f"{table.id}:{n}",
            x=float(at.value),
            y=float(value.value),
            ux=0.0,
            uy=float(u_of_line(value, table)),
            label=f"{table.of_name or 'at'} {with_unit(line.at, tidy_unit(table.of_unit))}: {with_unit(line.value, tidy_unit(table.unit))}",
        )
        for n, (at, value, line) in enumerate(sorted(read, key=lambda one: one[0].value))
    )
    x, low, high = [p.x for p in points], min(p.y - p.uy for p in points), max(p.y + p.uy for p in points)
    try:
        x_axis = make_axis((RichRun(table.of_name or "at"), *axis_label((), parse_unit(table.of_unit))), x[0], x[-1])
        y_axis = replace(make_axis(axis_label((table.symbol,), parse_unit(table.unit)), low, high), name=table.name)
    except CoreError:
        return None
    said = say(
        "table_drawn",
        "{name} against {against}: {n} lines, straight between them.",
        name=table.name,
        against=table.of_name or "its places",
        n=len(x),
    )
    return Figure(
        title=table.name,
        x_axis=x_axis,
        y_axis=y_axis,
        series=(PointSeries(table.name, 0, points),),
        lines=(ModelLine("fit", tuple(x), tuple(p.y for p in points)),),
        summary=(said,),
    )
