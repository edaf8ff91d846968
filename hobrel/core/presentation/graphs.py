"""Graphs as figure descriptions: series of points with their bars, what is fitted to them, the residual strip, notes, what was expected."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.interpolate import PchipInterpolator

from hobrel.core.document.lab_book import Fit, Graph, Moment, Note, Quantity, Run, SketchPoint
from hobrel.core.errors import CoreError
from hobrel.core.fitting.extreme import ExtremeLines
from hobrel.core.formulas.typeset import RichRun, RichText, write_symbol
from hobrel.core.pipeline.columns import plain_symbol, rich_sign
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.ground import Fitted
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, axis_units
from hobrel.core.pipeline.series import Series
from hobrel.core.pipeline.typed_digits import typed_decimals
from hobrel.core.presentation.equations import find_free_corner, write_equation
from hobrel.core.presentation.figures import (
    Axis,
    Band,
    Ends,
    Figure,
    FigureEquation,
    FigureMoment,
    FigureNote,
    FigurePoint,
    LineKind,
    ModelLine,
    PointSeries,
    SketchCurve,
    axis_label,
    describe_figure,
    make_axis,
    make_log_axis,
    make_named_axis,
)
from hobrel.core.presentation.graph_remarks import DrawnSeries, find_outside, remark_points
from hobrel.core.presentation.line_cards import say_pattern
from hobrel.core.presentation.results import GraphResult
from hobrel.core.presentation.showing import show_trouble, show_value
from hobrel.core.presentation.stepped import SEEN
from hobrel.core.presentation.thinning import thin_points
from hobrel.core.rounding import with_unit, write_to_decimals
from hobrel.core.sentences import Sentence, said_by, say
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import Unit, write_unit

CallRow = Callable[[Run, int], str]
"""What a row of a run is called."""
_SKETCH_STEPS = 61
_STEPPED = 401
_STRIP_LETTERS = 16


@dataclass(frozen=True)
class DrawnFit:
    """A fit to be drawn, the series that it was fitted to, and its equation where that is to stand on the graph."""

    fit: str
    series: str
    fitted: Fitted
    equation: RichText = ()


def prepare_fit(computation: Computation, fit: Fit, fitted: Fitted, points: GraphPoints) -> DrawnFit:
    """A fit as it is drawn, with its equation if that is wanted."""
    equation = write_equation(fit, fitted, points, computation.book.convention) if fit.show_equation else ()
    return DrawnFit(fit.id, computation.series_key(fit), fitted, equation)


def words_beside(computation: Computation, graph: Graph) -> dict[str, tuple[str, ...]]:
    """What stands beside the points of a graph, for every run that has it."""
    columns = ((run, of.columns.get(graph.words_of)) for run, of in computation.columns.items())
    return {run: column.words for run, column in columns if column is not None and column.words is not None}


def draw_points(graph: Graph, points: GraphPoints, fitted: Fitted | None, run: Run, call: CallRow) -> GraphResult:
    """Describe a graph of one series with what is fitted to it."""
    series = Series(key=f"{run.id}:{graph.y}", run=run, name=run.name, look=0, points=points, hidden=False)
    return draw_graph(graph, (series,), (DrawnFit("", series.key, fitted),) if fitted else (), call)


def draw_graph(
    graph: Graph,
    series: Sequence[Series],
    fits: Sequence[DrawnFit],
    call: CallRow,
    *,
    sketch: Sequence[SketchPoint] = (),
    words: Mapping[str, Sequence[str]] | None = None,
    moments: Sequence[Moment] = (),
    several: bool = False,
) -> GraphResult:
    """Describe a graph with its points, bars, models, bands, residual strip and notes. The first series gives it its labels.

    Parameters
    ----------
    graph, series, fits, sketch
    call : callable
        What a row of a run is called, where x does not say it.
    words : mapping of run id to words, one per row, optional
        What stands beside the points.
    moments : sequence of Moment, optional
        Of any quantity; drawn are those of this x that lie on its axis.
    several : bool
        Whether the lab book has other runs, so that a title that nobody has typed names the one that is drawn.
    """
    first = series[0].points
    if isinstance(first, CoreError):
        return GraphResult(graph.id, None, (), show_trouble(first))
    x_unit, y_unit = axis_units(first)
    kinds = first.x_column.kinds
    x_label = rich_sign(first.x_column.quantity) if kinds else axis_label((first.x_column.quantity.symbol,), x_unit)
    y_symbols = _symbols_along_y(series)
    y_label = axis_label(y_symbols, y_unit)
    drawn = [_prepare(s, s.points, fits) for s in series if not s.hidden and isinstance(s.points, GraphPoints) and s.points.rows]
    if not any(isinstance(s.points, GraphPoints) and s.points.rows for s in series):
        trouble = CoreError("too_few_points", "There is nothing to draw yet. Write down the first readings.")
        return GraphResult(graph.id, None, (), show_trouble(trouble))
    if kinds:
        last = max((int(d.points.x.max()) for d in drawn), default=len(kinds))
        x_axis = make_named_axis(x_label, kinds[:last])
    else:
        x_axis = _make_axis(graph, "x", x_label, [(d.points.x, d.ux) for d in drawn])
        x_axis = replace(x_axis, name=_name_beside_symbol(first.x_column.quantity))
    y_axis = _make_axis(graph, "y", y_label, [(d.points.y, d.uy) for d in drawn])
    if len(y_symbols) == 1:
        y_axis = replace(y_axis, name=_name_beside_symbol((drawn[0].points if drawn else first).y_column.quantity))
    spread = max((float(np.max((np.abs(d.residuals) + d.bars)[np.isfinite(d.residuals)], initial=0.0)) for d in drawn), default=0.0)
    shown = {d.series.key: _figure_points(d, x_axis, y_axis, first, (words or {}).get(d.series.run.id, ()), call=call) for d in drawn}
    visible = [f for f in fits if f.series in shown]
    looks = {s.key: s.look for s in series} if len({f.series for f in visible}) > 1 else {}
    lines: list[ModelLine] = []
    bands: list[Band] = []
    for fit in visible:
        points = next(d.points for d in drawn if d.series.key == fit.series)
        pieces, band = _draw_model(fit.fitted, points, x_axis, y_axis, looks.get(fit.series))
        lines += pieces
        bands.append(band)
    residual_axis = _residual_axis(y_unit, spread) if visible and spread > 0 else None
    y_name = ", ".join(write_symbol(s) for s in y_symbols)
    x_name = plain_symbol(first.x_column.quantity)
    notes, lost = _place_notes(graph.notes, shown.get(series[0].key, ()), visible)
    count = sum(len(d.points.rows) for d in drawn)
    equations = tuple(FigureEquation(f.equation, looks.get(f.series)) for f in visible if f.equation)
    every = [p for part in shown.values() for p in part]
    figure = Figure(
        title=graph.title or f"{y_name} against {x_name}{call_drawn_run(series) if several else ''}",
        x_axis=x_axis,
        y_axis=y_axis,
        series=tuple(PointSeries(s.name, s.look, shown.get(s.key, ()), s.key, s.hidden) for s in series if s.hidden or s.key in shown),
        lines=tuple(lines),
        bands=tuple(bands),
        residual_axis=residual_axis,
        summary=describe_figure(x_label, y_label, count, (say_pattern(visible[0].fitted),) if visible else ()),
        notes=notes,
        equations=equations,
        corner=find_free_corner(x_axis, y_axis, every, lines, len(drawn) > 1) if equations else "top_left",
        # it was drawn on even axes
        moments=tuple(FigureMoment(m.id, m.name, m.at) for m in moments if m.of == graph.x and x_axis.low <= m.at <= x_axis.high),
        sketch=None if x_axis.log or y_axis.log or kinds else smooth_sketch(sketch),
    )
    remarks = [*remark_points(drawn, graph, figure, {d.series.key: len(shown[d.series.key]) for d in drawn}), *lost]
    if first.x_column.quantity.tangent_of or first.y_column.quantity.tangent_of:
        remarks.append(
            say(
                "slopes_move_together",
                "The slopes all come from one curve and move together, so their ± is not drawn as bars. A finding has it in full.",
            )
        )
    remarks += [said_by(s.points) for s in series[1:] if isinstance(s.points, CoreError)]
    return GraphResult(graph.id, figure, tuple(remarks), None)


def call_drawn_run(series: Sequence[Series]) -> str:
    """What a title adds where points of one run alone are drawn."""
    names = dict.fromkeys(s.run.name for s in series if not s.hidden)
    return f": {next(iter(names))}" if len(names) == 1 and "" not in names else ""


def _name_beside_symbol(quantity: Quantity) -> str:
    """What a quantity is called, where that says more than its symbol."""
    return "" if quantity.name == quantity.symbol else quantity.name


def _symbols_along_y(series: Sequence[Series]) -> tuple[str, ...]:
    """Whose values the y axis carries, as far as they are drawn; all where everything is hidden."""
    drawn = [s for s in series if not s.hidden and isinstance(s.points, GraphPoints)] or series
    return tuple(dict.fromkeys(s.points.y_column.quantity.symbol for s in drawn if isinstance(s.points, GraphPoints)))


def _residual_axis(unit: Unit, spread: float) -> Axis:
    """Called by the whole word where the strip, which is low, has room for it with its unit."""
    axis = make_axis((RichRun("residual"), *axis_label((), unit)), -spread, spread, 3)
    if sum(len(part.text) for part in axis.label) <= _STRIP_LETTERS:
        return axis
    return replace(axis, label=(RichRun("res."), *axis.label[1:]))


def _prepare(series: Series, points: GraphPoints, fits: Sequence[DrawnFit]) -> DrawnSeries:
    """Bars, and the residuals of whatever is fitted to this series (of a point in two stretches, those of the first fit)."""
    ux, uy = np.nan_to_num(points.ux), np.nan_to_num(points.uy)
    residuals, bars = np.full(points.x.size, np.nan), uy.copy()
    for fit in fits:
        if fit.series != series.key:
            continue
        fresh = fit.fitted.fitted & ~np.isfinite(residuals)
        own = np.full(points.x.size, np.nan)
        own[fit.fitted.fitted] = fit.fitted.residuals.residuals
        residuals[fresh] = own[fresh]
        bars[fresh] = np.hypot(uy, np.nan_to_num(np.abs(fit.fitted.slope_at(points.x))) * ux)[fresh]
    return DrawnSeries(series=series, points=points, ux=ux, uy=uy, residuals=residuals, bars=bars)


def _make_axis(graph: Graph, along: Literal["x", "y"], label: RichText, parts: Sequence[tuple[Floats, Floats]]) -> Axis:
    """An axis for all places with their bars; logarithmic if that is wanted and anything lies above zero."""
    places = np.concatenate([np.concatenate([v - u, v, v + u]) for v, u in parts]) if parts else np.array([0.0, 1.0])
    fixed: Ends = getattr(graph, f"{along}_low"), getattr(graph, f"{along}_high")
    wanted, above = {"x": 7, "y": 6}[along], places[places > 0]
    if getattr(graph, f"{along}_log") and above.size:
        return make_log_axis(label, float(above.min()), float(above.max()), wanted, fixed=fixed)
    return make_axis(label, float(places.min()), float(places.max()), wanted, graph.origin, fixed=fixed)


def _figure_points(
    drawing: DrawnSeries, x_axis: Axis, y_axis: Axis, first: GraphPoints, words: Sequence[str], *, call: CallRow
) -> tuple[FigurePoint, ...]:
    points, run = drawing.points, drawing.series.run
    inside = ~find_outside(points, x_axis, y_axis)
    says_itself = points.x_column.quantity.kind == "changed"
    found = []
    for i in thin_points(points.x, points.y):
        if not inside[i]:
            continue
        beside = words[points.rows[i]] if words else ""
        called = "" if says_itself else call(run, points.rows[i])
        label = _say_point(points, run, i, called, name="" if points is first else drawing.series.name)
        residual = float(drawing.residuals[i]) if np.isfinite(drawing.residuals[i]) else None
        found.append(
            FigurePoint(
                key=run.row_id(points.rows[i]),
                x=float(points.x[i]),
                y=float(points.y[i]),
                ux=float(drawing.ux[i]),
                uy=float(drawing.uy[i]),
                label=f"{label}; {beside}" if beside else label,
                set_aside=not bool(points.used[i]),
                residual=residual,
                residual_u=float(drawing.bars[i]) if residual is not None else None,
                words=beside,
            )
        )
    return tuple(found)


def _say_point(points: GraphPoints, run: Run, i: int, called: str, *, name: str) -> str:
    """A point in words: its two values, one without a ± with the digits that it was written with, and what its setting is called where x
    does not say it.
    """
    parts = []
    for column, unit, value, u in zip(
        (points.x_column, points.y_column), axis_units(points), (points.x[i], points.y[i]), (points.ux[i], points.uy[i]), strict=True
    ):
        typed = None if u else typed_decimals(column.quantity, run, points.rows[i])
        if column.kinds:
            shown = column.kinds[int(value) - 1]
        elif typed is not None:
            shown = with_unit(write_to_decimals(float(value), typed), write_unit(unit))
        else:
            shown = show_value(float(value), float(u), unit, "one_or_two").text
        parts.append(f"{plain_symbol(column.quantity)} = {shown}")
    where = f"{'at' if name else 'At'} {called}" if called else ""
    before = ", ".join(part for part in (name, where) if part)
    return (f"{before}: " if before else "") + ", ".join(parts)


def _draw_model(fitted: Fitted, points: GraphPoints, x: Axis, y: Axis, look: int | None) -> tuple[list[ModelLine], Band]:
    used = points.x[fitted.fitted]
    low, high = x.low, x.high
    start, stop = float(used.min()), float(used.max())
    bent = not isinstance(fitted, FittedLine) or x.log or y.log
    steps = None if isinstance(fitted, FittedLine) else fitted.steps
    if steps is not None:
        # a model has a beginning, and says nothing of what was before it
        low = min(max(low, float(steps.x[0])), start)

    def line(kind: LineKind, a: float, b: float) -> ModelLine | None:
        if x.log and b <= low:
            return None
        xs = x.places(a, b, _STEPPED if steps else 121 if bent else 2)
        ys = fitted.at(xs)
        shown = np.isfinite(y.share(ys))
        return ModelLine(kind, tuple(xs[shown].tolist()), tuple(ys[shown].tolist()), look) if np.count_nonzero(shown) > 1 else None

    pieces = [line("fit", start, stop)]
    if low < start:
        pieces.append(line("beyond", low, start))
    if stop < high:
        pieces.append(line("beyond", stop, high))
    if isinstance(fitted, FittedLine):
        pieces.extend(_other_lines(fitted, x, y))
    if steps is not None and steps.by_halving > SEEN * steps.covers:
        shown = np.isfinite(y.share(steps.halved)) & np.isfinite(x.share(steps.x))
        pieces.append(ModelLine("halved", tuple(steps.x[shown].tolist()), tuple(steps.halved[shown].tolist()), look))
    xs = x.places(start, max(stop, low), 61 if bent else 25)
    ys, us = fitted.at(xs), fitted.u_at(xs)
    known = np.isfinite(us) & np.isfinite(y.share(ys - us))
    band = Band(tuple(xs[known].tolist()), tuple((ys - us)[known].tolist()), tuple((ys + us)[known].tolist()))
    return [p for p in pieces if p is not None], band


def _other_lines(fitted: FittedLine, x: Axis, y: Axis) -> list[ModelLine]:
    """Steepest, shallowest, and the one drawn by eye, over the whole graph."""
    others: list[tuple[LineKind, float, float]] = []
    if fitted.show_extremes and isinstance(fitted.extremes, ExtremeLines):
        others.append(("steepest", fitted.extremes.steepest.gradient, fitted.extremes.steepest.intercept))
        others.append(("shallowest", fitted.extremes.shallowest.gradient, fitted.extremes.shallowest.intercept))
    if fitted.by_eye is not None:
        others.append(("by_eye", fitted.by_eye.gradient, fitted.by_eye.intercept))
    others += [("by_eye_extreme", line.gradient, line.intercept) for line in fitted.by_eye_extremes]
    xs = x.places(x.low, x.high, 121 if x.log or y.log else 2)
    found = []
    for kind, m, c in others:
        ys = m * xs + c
        shown = np.isfinite(y.share(ys))
        found.append(ModelLine(kind, tuple(xs[shown].tolist()), tuple(ys[shown].tolist())))
    return found


def _place_notes(
    notes: Sequence[Note], points: Sequence[FigurePoint], fits: Sequence[DrawnFit]
) -> tuple[tuple[FigureNote, ...], list[Sentence]]:
    """Where notes point to now; those whose point or fit is not on the graph are said in words."""
    placed, lost = [], []
    for note in notes:
        at = _anchor(note, points, fits)
        if at is None:
            lost.append(say("note_lost", "A note points to what is not on the graph now: “{note}”", note=note.text))
        else:
            x_to = note.x_high if note.anchor == "stretch" else None
            placed.append(FigureNote(id=note.id, text=note.text, x=at[0], y=at[1], x_to=x_to, right=note.right, up=note.up))
    return tuple(placed), lost


def _anchor(note: Note, points: Sequence[FigurePoint], fits: Sequence[DrawnFit]) -> tuple[float, float] | None:
    match note.anchor:
        case "point":
            return next(((p.x, p.y) for p in points if p.key == note.of), None)
        case "fit":
            fitted = next((f.fitted for f in fits if f.fit == note.of), None)
            return None if fitted is None else (note.x, float(np.atleast_1d(fitted.at(note.x))[0]))
        case "stretch":
            inside = [p.y for p in points if note.x <= p.x <= (note.x if note.x_high is None else note.x_high)]
            return (note.x, max(inside)) if inside else None


def smooth_sketch(sketch: Sequence[SketchPoint]) -> SketchCurve | None:
    """A curve through the sketched places that rises and falls only where they do."""
    places = {p.x: p.y for p in sketch}
    if len(places) < 2:
        return None
    xs = sorted(places)
    steps = np.linspace(xs[0], xs[-1], _SKETCH_STEPS)
    return SketchCurve(tuple(steps.tolist()), tuple(PchipInterpolator(xs, [places[x] for x in xs])(steps).tolist()))
