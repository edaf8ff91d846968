"""What is said of a graph beside its drawing: points that are not on it, bars too short to be seen, too few for a line."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hobrel.core.document.lab_book import Graph
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.pipeline.series import Series
from hobrel.core.presentation.figures import Axis, Figure
from hobrel.core.presentation.thinning import MOST_DRAWN
from hobrel.core.sentences import Sentence, Sentences, say
from hobrel.core.uncertainty.traced import Floats

MARKER_SHARE = 0.006
"""Half a marker as a share of the axis: bars shorter than this are hidden by it."""
LEAST_FOR_LINE = 3


@dataclass(frozen=True)
class DrawnSeries:
    """A series with what is to be drawn of it."""

    series: Series
    points: GraphPoints
    ux: Floats
    uy: Floats
    residuals: Floats
    bars: Floats


def remark_points(drawn: Sequence[DrawnSeries], graph: Graph, figure: Figure, counts: Mapping[str, int]) -> list[Sentence]:
    """All that is to be said; `counts` are the points that are drawn of each series (by its key)."""
    x, y = figure.x_axis, figure.y_axis
    nowhere = sum(int(np.count_nonzero(_nowhere(d.points, x, y))) for d in drawn)
    outside = sum(int(np.count_nonzero(find_outside(d.points, x, y))) for d in drawn) - nowhere
    thinned = [r for d in drawn for r in _remark_thinning(d.points, counts[d.series.key])]
    return [
        *thinned,
        *_remark_logarithmic(graph, x, y, nowhere),
        *_remark_outside(outside),
        *_remark_bars(drawn, figure),
        *_remark_few(drawn),
    ]


def _remark_thinning(points: GraphPoints, drawn: int) -> Sentences:
    if len(points.rows) <= MOST_DRAWN:
        return ()
    words = say(
        "thinned", "Of {n} points {drawn} are drawn: the lowest and the highest of each stretch. A fit uses them all.",
        n=len(points.rows), drawn=drawn,
    )  # fmt: skip
    return (words,)


def find_outside(points: GraphPoints, x: Axis, y: Axis) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which points lie outside the range that somebody has chosen."""
    return np.asarray((points.x < x.low) | (points.x > x.high) | (points.y < y.low) | (points.y > y.high))


def _nowhere(points: GraphPoints, x: Axis, y: Axis) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which points a logarithmic axis has no place for."""
    return ~(np.isfinite(x.share(points.x)) & np.isfinite(y.share(points.y)))


def _remark_logarithmic(graph: Graph, x: Axis, y: Axis, nowhere: int) -> Sentences:
    remarks = []
    for axis, wanted, name in ((x, graph.x_log, "x"), (y, graph.y_log, "y")):
        if wanted and not axis.log:
            remarks.append(say("nothing_above_zero", "Nothing along {axis} is above zero, so its numbers stand evenly.", axis=name))
    if nowhere:
        points = "1 point is" if nowhere == 1 else f"{nowhere} points are"
        words = say(
            "not_above_zero", "{points} not above zero, where a logarithmic axis has no place. A fit uses what is there all the same.",
            points=points,
        )  # fmt: skip
        remarks.append(words)
    return tuple(remarks)


def _remark_outside(outside: int) -> Sentences:
    if not outside:
        return ()
    if outside == 1:
        return (say("point_outside", "1 point lies outside what is shown. A fit uses it all the same."),)
    return (say("points_outside", "{n} points lie outside what is shown. A fit uses them all the same.", n=outside),)


def _remark_bars(drawn: Sequence[DrawnSeries], figure: Figure) -> Sentences:
    remarks = []
    total = sum(len(d.points.rows) for d in drawn)
    for name, axis in (("x", figure.x_axis), ("y", figure.y_axis)):
        bars = np.concatenate([d.ux if name == "x" else d.uy for d in drawn]) if drawn else np.zeros(0)
        at = np.concatenate([d.points.x if name == "x" else d.points.y for d in drawn]) if drawn else np.zeros(0)
        with np.errstate(invalid="ignore"):
            hidden = int(np.sum((bars > 0) & (axis.share(at + bars) - axis.share(at) < MARKER_SHARE)))
        if hidden:
            many, verb = ("The error bars", "are") if hidden >= total else (f"{hidden} of the error bars", "is" if hidden == 1 else "are")
            remarks.append(
                say("bars_too_short", "{many} in {axis} {verb} too short to be seen at this scale.", many=many, axis=name, verb=verb)
            )
    return tuple(remarks)


def _remark_few(drawn: Sequence[DrawnSeries]) -> Sentences:
    few = [d for d in drawn if not d.points.x_column.kinds and 0 < int(np.count_nonzero(d.points.used)) < LEAST_FOR_LINE]
    if not few:
        return ()
    where = f" ({', '.join(d.series.name for d in few)})" if len(drawn) > 1 else ""
    words = say(
        "few_for_line", "A line with its uncertainty needs at least {least} points; there are fewer{where}.",
        least=LEAST_FOR_LINE, where=where,
    )  # fmt: skip
    return (words,)
