"""Draw a figure description as SVG: ink axes left and bottom, hollow points never joined, bars, line, band, residual strip.

The same look as on screen, for documents. Only attributes and text nodes; text is escaped.
"""

from __future__ import annotations

import math
import textwrap
from dataclasses import replace
from xml.sax.saxutils import escape, quoteattr

from hobrel.computing.shelf import OpenBook
from hobrel.core.formulas.typeset import RichText
from hobrel.core.presentation.figures import Axis, Figure, FigureMoment, FigureNote, FigurePoint
from hobrel.core.sentences import told

INK, QUIET, RULE, PLUM, SAFFRON = "#2B2233", "#6B6272", "#E4DACB", "#5B2A5E", "#C77F00"
# the Okabe–Ito colours, dark ones first, each with a shape of its own
COLOURS = ("#0072B2", "#D55E00", "#009E73", "#CC79A7", "#E69F00", "#56B4E9", "#000000")
SHAPES = ("circle", "square", "triangle", "diamond", "down", "plus", "cross")
FONT = "Atkinson Hyperlegible Next, Noto Sans, DejaVu Sans, sans-serif"
LEFT, RIGHT, TOP, BOTTOM = 78, 16, 14, 52
STRIP, GAP = 92, 14


_LINE_LOOKS = {
    "fit": (PLUM, 2, ""),
    "beyond": (PLUM, 2, "2 5"),
    "steepest": (PLUM, 1.2, "10 5"),
    "shallowest": (PLUM, 1.2, "10 5"),
    "by_eye": (SAFFRON, 2, ""),
    "by_eye_extreme": (SAFFRON, 1.2, "6 4"),
}


def draw_svg(figure: Figure, width: int = 640, height: int = 400, ruled: bool = True) -> str:
    """An SVG document of a figure, `height` for the graph and a strip below it for the residuals if it has any."""
    strip = figure.residual_axis is not None
    total = height + (STRIP + GAP if strip else 0)
    plot = _Plot(figure.x_axis, figure.y_axis, LEFT, TOP, width - LEFT - RIGHT, height - TOP - BOTTOM)
    parts = [*(_rules(plot) if ruled else ()), *_sketch(figure, plot), *_bands(figure, plot), *_lines(figure, plot)]
    for series in figure.series:
        for point in series.points:
            parts += _point(point, series.look, plot)
    parts += _axes(plot, labelled=True)
    if figure.residual_axis is not None:
        below = _Plot(figure.x_axis, figure.residual_axis, LEFT, height + GAP, width - LEFT - RIGHT, STRIP - 12)
        parts += _residuals(figure, below)
    if len([s for s in figure.series if not s.hidden]) > 1:
        parts += _legend(figure)
    parts += [part for moment in figure.moments for part in _moment(moment, plot)]
    parts += _equations(figure, plot)
    for note in figure.notes:
        parts += _note(note, plot)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {total}" width="{width}" height="{total}" '
        f'font-family={quoteattr(FONT)} font-size="13" fill="{INK}"><title>{escape(figure.title)}</title>'
        f"<desc>{escape(told(figure.summary))}</desc>{''.join(parts)}</svg>"
    )


LETTER = 7.4
"""Width of a letter of an axis title, on the average."""
WORDS_BESIDE = 180.0
"""Room for the words beside a point."""


class _Plot:
    """Maps data to places on paper."""

    def __init__(self, x: Axis, y: Axis, left: float, top: float, width: float, height: float) -> None:
        self.x_axis, self.y_axis = x, y
        self.left, self.top, self.width, self.height = left, top, width, height

    def x(self, value: float) -> float:
        return round(self.left + _within(self.x_axis, value) * self.width, 2)

    def y(self, value: float) -> float:
        return round(self.top + (1 - _within(self.y_axis, value)) * self.height, 2)


def _within(axis: Axis, value: float) -> float:
    """The share of an axis; what a logarithmic one has no place for lies well below it."""
    share = float(axis.share(value))
    return share if math.isfinite(share) else -1.0


def _line(x1: float, y1: float, x2: float, y2: float, colour: str, width: float = 1, more: str = "") -> str:
    return f'<line x1="{x1}" y1="{y1}" x2="{x2}" y2="{y2}" stroke="{colour}" stroke-width="{width}"{more}/>'


def _rules(plot: _Plot) -> list[str]:
    bottom, right = plot.top + plot.height, plot.left + plot.width
    across = [_line(plot.left, plot.y(t.value), right, plot.y(t.value), RULE) for t in plot.y_axis.ticks]
    return across + [_line(plot.x(t.value), plot.top, plot.x(t.value), bottom, RULE) for t in plot.x_axis.ticks]


def _axes(plot: _Plot, labelled: bool) -> list[str]:
    bottom, right = plot.top + plot.height, plot.left + plot.width
    parts = [_line(plot.left, plot.top, plot.left, bottom, INK, 1.2)]
    if labelled:
        parts.append(_line(plot.left, bottom, right, bottom, INK, 1.2))
        for tick in plot.x_axis.ticks:
            x, text = plot.x(tick.value), _shorten(tick.text, plot.width / len(plot.x_axis.ticks)) if plot.x_axis.named else tick.text
            parts += [
                _line(x, bottom, x, bottom + 5, INK),
                f'<text x="{x}" y="{bottom + 19}" text-anchor="middle">{escape(text)}</text>',
            ]
        parts.append(
            f'<text x="{right}" y="{bottom + 40}" text-anchor="end" font-size="14">{_rich(plot.x_axis.titled(plot.width / LETTER))}</text>'
        )
    for tick in plot.y_axis.ticks:
        y = plot.y(tick.value)
        parts += [
            _line(plot.left - 5, y, plot.left, y, INK),
            f'<text x="{plot.left - 8}" y="{y + 4.5}" text-anchor="end">{escape(tick.text)}</text>',
        ]
    middle = plot.top + plot.height / 2
    along_y = _rich(plot.y_axis.titled(plot.height / LETTER))
    parts.append(f'<text transform="translate(18 {middle}) rotate(-90)" text-anchor="middle" font-size="14">{along_y}</text>')
    return parts


def _shorten(words: str, room: float) -> str:
    """As much of the words as there is room for."""
    most = max(2, int(room / LETTER))
    return words if len(words) <= most else words[: most - 1].rstrip() + "…"


def _rich(label: RichText) -> str:
    """Styled runs as tspans; raised and lowered text by dy, set back by the next run."""
    out, offset = "", 0.0
    for run in label:
        wanted = {"sup": -5.0, "sub": 3.5}.get(run.style, 0.0)
        style = ' font-style="italic"' if run.style == "italic" else ""
        size = ' font-size="10"' if wanted else ""
        out += f'<tspan dy="{wanted - offset}"{style}{size}>{escape(run.text)}</tspan>'
        offset = wanted
    return out


def _bands(figure: Figure, plot: _Plot) -> list[str]:
    parts = []
    for band in figure.bands:
        there = [f"{plot.x(x)},{plot.y(y)}" for x, y in zip(band.x, band.high, strict=True)]
        back = [f"{plot.x(x)},{plot.y(y)}" for x, y in zip(reversed(band.x), reversed(band.low), strict=True)]
        parts.append(f'<polygon points="{" ".join(there + back)}" fill="{PLUM}" fill-opacity="0.10" clip-path="url(#plot)"/>')
    return parts


def _lines(figure: Figure, plot: _Plot) -> list[str]:
    parts = [f'<clipPath id="plot"><rect x="{plot.left}" y="{plot.top}" width="{plot.width}" height="{plot.height}"/></clipPath>']
    for model in figure.lines:
        colour, width, dash = _LINE_LOOKS[model.kind]
        colour = colour if model.look is None else COLOURS[model.look % len(COLOURS)]
        dots = f' stroke-dasharray="{dash}" stroke-linecap="round"' if dash else ""
        points = " ".join(f"{plot.x(x)},{plot.y(y)}" for x, y in zip(model.x, model.y, strict=True))
        parts.append(f'<polyline points="{points}" fill="none" stroke="{colour}" stroke-width="{width}"{dots} clip-path="url(#plot)"/>')
    return parts


def _point(point: FigurePoint, look: int, plot: _Plot) -> list[str]:
    x, y = plot.x(point.x), plot.y(point.y)
    if point.set_aside:
        return [_line(x - 4, y - 4, x + 4, y + 4, QUIET, 1.3), _line(x - 4, y + 4, x + 4, y - 4, QUIET, 1.3)]
    colour = COLOURS[look % len(COLOURS)]
    parts = _bar(x, plot.y(point.y + point.uy), plot.y(point.y - point.uy), colour, upright=True) if point.uy else []
    parts += _bar(y, plot.x(point.x - point.ux), plot.x(point.x + point.ux), colour, upright=False) if point.ux else []
    hidden = max(abs(plot.y(point.y + point.uy) - y), abs(plot.x(point.x + point.ux) - x)) < 4 and (point.ux or point.uy)
    return [*parts, draw_marker(x, y, look, 2.0 if hidden else 3.8), *_words(point, x, y, plot)]


def _words(point: FigurePoint, x: float, y: float, plot: _Plot) -> list[str]:
    """What stands beside a point; at the right of the plot on its other side."""
    if not point.words:
        return []
    place, anchor = (x - 8, "end") if x > plot.left + plot.width - WORDS_BESIDE else (x + 8, "start")
    shown = escape(_shorten(point.words, WORDS_BESIDE))
    return [f'<text x="{place}" y="{y - 6}" text-anchor="{anchor}" font-size="11.5">{shown}</text>']


def _bar(at: float, start: float, stop: float, colour: str, upright: bool) -> list[str]:
    def line(a: float, b: float, c: float, d: float) -> str:
        return _line(a, b, c, d, colour, 1.2) if upright else _line(b, a, d, c, colour, 1.2)

    return [line(at, start, at, stop), line(at - 3, start, at + 3, start), line(at - 3, stop, at + 3, stop)]


def draw_marker(x: float, y: float, look: int, size: float) -> str:
    """The shape of a series, hollow."""
    colour, shape, s = COLOURS[look % len(COLOURS)], SHAPES[look % len(SHAPES)], size
    style = f'fill="#FFFFFF" stroke="{colour}" stroke-width="1.6"'
    if shape == "circle":
        return f'<circle cx="{x}" cy="{y}" r="{s}" {style}/>'
    corners = {
        "square": [(-s, -s), (s, -s), (s, s), (-s, s)],
        "triangle": [(0, -1.2 * s), (1.1 * s, 0.9 * s), (-1.1 * s, 0.9 * s)],
        "down": [(0, 1.2 * s), (1.1 * s, -0.9 * s), (-1.1 * s, -0.9 * s)],
        "diamond": [(0, -1.3 * s), (1.3 * s, 0), (0, 1.3 * s), (-1.3 * s, 0)],
    }
    if shape in corners:
        points = " ".join(f"{round(x + a, 2)},{round(y + b, 2)}" for a, b in corners[shape])
        return f'<polygon points="{points}" {style}/>'
    turn = 1.0 if shape == "plus" else 0.0
    arms = [(-s, 0, s, 0), (0, -s, 0, s)] if turn else [(-s, -s, s, s), (-s, s, s, -s)]
    return "".join(_line(x + a, y + b, x + c, y + d, colour, 1.8) for a, b, c, d in arms)


def _residuals(figure: Figure, plot: _Plot) -> list[str]:
    zero = plot.y(0)
    parts = [_line(plot.left, zero, plot.left + plot.width, zero, QUIET)]
    for series in figure.series:
        for p in series.points:
            if p.residual is None:
                continue
            x, y, u = plot.x(p.x), plot.y(p.residual), p.residual_u or 0.0
            parts.append(_line(x, zero, x, y, PLUM, 1.6))
            if u:
                parts += _bar(x, plot.y(p.residual + u), plot.y(p.residual - u), QUIET, upright=True)
            parts.append(draw_marker(x, y, series.look, 2.6))
    return parts + _axes(plot, labelled=False)


def _legend(figure: Figure) -> list[str]:
    parts = []
    for i, series in enumerate(s for s in figure.series if not s.hidden):
        y = TOP + 12 + 19 * i
        parts += [draw_marker(LEFT + 18, y, series.look, 3.8), f'<text x="{LEFT + 30}" y="{y + 4.5}">{escape(series.name)}</text>']
    return parts


def _equations(figure: Figure, plot: _Plot) -> list[str]:
    """In the corner where least is drawn."""
    level, side = figure.corner.split("_")
    x, anchor = (plot.left + plot.width - 12, "end") if side == "right" else (plot.left + 12, "start")
    first = plot.top + 20 if level == "top" else plot.top + plot.height - 12 - EQUATION_LINE * (len(figure.equations) - 1)
    parts = []
    for i, equation in enumerate(figure.equations):
        colour = PLUM if equation.look is None else COLOURS[equation.look % len(COLOURS)]
        place = f'x="{x}" y="{first + EQUATION_LINE * i}" text-anchor="{anchor}"'
        parts.append(f'<text {place} font-size="14" fill="{colour}">{_rich(equation.text)}</text>')
    return parts


def _sketch(figure: Figure, plot: _Plot) -> list[str]:
    if figure.sketch is None:
        return []
    places = zip(figure.sketch.x, figure.sketch.y, strict=True)
    points = " ".join(f"{plot.left + x * plot.width:.1f},{plot.top + (1 - y) * plot.height:.1f}" for x, y in places)
    return [f'<polyline points="{points}" fill="none" stroke="{QUIET}" stroke-opacity="0.5" stroke-width="2" stroke-dasharray="1 6"/>']


def _moment(moment: FigureMoment, plot: _Plot) -> list[str]:
    """An upright line with its name along it, on the side where there is room."""
    x, side = plot.x(moment.x), -5 if moment.x > (plot.x_axis.low + plot.x_axis.high) / 2 else 14
    name = (
        f'<text transform="translate({x + side} {plot.top + 8}) rotate(-90)" text-anchor="end" font-size="12">{escape(moment.name)}</text>'
    )
    return [_line(x, plot.top, x, plot.top + plot.height, INK, 1.2, ' stroke-dasharray="3 3"'), name]


NOTE_WIDTH, NOTE_LINE, EQUATION_LINE = 26, 16, 22


def _note(note: FigureNote, plot: _Plot) -> list[str]:
    """Words with a pointer to their place, or to a bracket over a stretch."""
    to = note.x if note.x_to is None else note.x_to
    x, y = (plot.x(note.x) + plot.x(to)) / 2, plot.y(note.y)
    left, top = x + note.right * plot.width, y - note.up * plot.height
    lines = textwrap.wrap(note.text, NOTE_WIDTH)
    middle = top + (len(lines) - 1) * NOTE_LINE / 2 - 4
    parts = [_line(round(left + (3 if note.right < 0 else -3), 1), round(middle, 1), x, y if note.x_to is None else y - 16, INK)]
    if note.x_to is not None:
        parts.append(f'<path d="M{plot.x(note.x)} {y - 10}v-6H{plot.x(to)}v6" fill="none" stroke="{INK}"/>')
    end = "end" if note.right < 0 else "start"
    words = "".join(f'<tspan x="{left:.1f}" dy="{NOTE_LINE if i else 0}">{escape(line)}</tspan>' for i, line in enumerate(lines))
    return [*parts, f'<text x="{left:.1f}" y="{top:.1f}" text-anchor="{end}">{words}</text>']


def draw_graph(book: OpenBook, graph_id: str, fitted: bool, ruled: bool) -> str | None:
    """A graph of a lab book, with what is fitted and the residual strip if wanted; None where there is no such graph or nothing on it."""
    figure = next((g.figure for g in book.analysis.graphs if g.graph == graph_id), None)
    if figure is None:
        return None
    return draw_svg(figure if fitted else replace(figure, lines=(), bands=(), residual_axis=None, equations=()), ruled=ruled)
