"""Draw a figure description as SVG: ink axes left and bottom, hollow points never joined, bars, line, band, residual strip.

For documents. What stands where, how long and how strong it is, is in `graph_look.json`, for the screen as for paper; only what a pointer
does is the screen's alone. Only attributes and text nodes; text is escaped.
"""

from __future__ import annotations

import math
import textwrap
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from hobrel.computing.shelf import OpenBook
from hobrel.core.formulas.typeset import RichText, rich_sentence
from hobrel.core.presentation.figures import Axis, Figure, FigureMoment, FigureNote, FigurePoint, Tick
from hobrel.core.sentences import told
from hobrel.reports.look import LOOK, PAPER
from hobrel.reports.printable import escape, quoteattr

FONT = "Hobrel Print, Hobrel Print Extended, Atkinson Hyperlegible Next, Noto Sans, DejaVu Sans, sans-serif"


Rules = Literal["none", "ticks", "fine"]
"""What a plot is ruled with: nothing, a line at each tick, or fine squares between these as well."""


def draw_svg(figure: Figure, width: int = 640, height: int = 400, *, rules: Rules = "ticks", key: str = "plot") -> str:
    """An SVG document of a figure, `height` for the graph and a strip below it for the residuals if it has any; `key` tells it from others
    of one page.
    """
    room, strip = LOOK.room, LOOK.strip
    across = width - room.left - room.right
    legend, above = _legend(figure, across)
    total = above + height + (strip.height if figure.residual_axis is not None else 0)
    plot = _Plot(figure.x_axis, figure.y_axis, room.left, room.top + above, across, height - room.top - room.bottom, key)
    parts = [*_rules(plot, rules), *_sketch(figure, plot), *_bands(figure, plot), *_lines(figure, plot)]
    points = [point for series in figure.series for point in series.points]
    many, size = len(points) > LOOK.many.least, _size_of_points(points, plot)
    for series in figure.series:
        for point in series.points:
            parts += _point(point, series.look, plot, size, capped=not many)
    parts += _axes(plot, labelled=True)
    if figure.residual_axis is not None:
        below = _Plot(figure.x_axis, figure.residual_axis, room.left, above + height + strip.gap, across, strip.height - strip.inset)
        parts += _residuals(figure, below, many)
    parts += legend
    parts += [part for moment in figure.moments for part in _moment(moment, plot)]
    parts += _equations(figure, plot)
    for note in figure.notes:
        parts += _note(note, plot)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {total}" width="{width}" height="{total}" '
        f'font-family={quoteattr(FONT)} font-size="{LOOK.text.size}" fill="{PAPER.ink}"><title>{escape(figure.title)}</title>'
        f"<desc>{escape(told(figure.summary))}</desc>{''.join(parts)}</svg>"
    )


class _Plot:
    """Maps data to places on paper."""

    def __init__(self, x: Axis, y: Axis, left: float, top: float, width: float, height: float, key: str = "") -> None:
        self.x_axis, self.y_axis = x, y
        self.left, self.top, self.width, self.height = left, top, width, height
        # the block that a drawing stands in on the page has the key itself
        self.clip = f"{key}-plot"

    def x(self, value: float) -> float:
        return round(self.left + _within(self.x_axis, value) * self.width, 2)

    def y(self, value: float) -> float:
        return round(self.top + (1 - _within(self.y_axis, value)) * self.height, 2)


def _within(axis: Axis, value: float) -> float:
    """The share of an axis; what a logarithmic one has no place for lies well below it."""
    share = float(axis.share(value))
    return share if math.isfinite(share) else -1.0


def straight_line(x1: float, y1: float, x2: float, y2: float, colour: str, width: float = 1, more: str = "") -> str:
    return f'<line x1="{x1}" y1="{y1}" x2="{x2}" y2="{y2}" stroke="{colour}" stroke-width="{width}"{more}/>'


def with_room(ticks: Sequence[Tick], place: Callable[[float], float]) -> Sequence[Tick]:
    """Of ticks the every so many-th whose numbers stand clear of one another."""
    if len(ticks) < 2:
        return ticks
    apart = abs(place(ticks[1].value) - place(ticks[0].value))
    longest = max(len(tick.text) for tick in ticks) + 1
    return ticks[:: max(1, math.ceil(longest * LOOK.text.letter / apart))]


def _colour(look: int) -> str:
    return str(PAPER.series[look % len(PAPER.series)])


def _rules(plot: _Plot, rules: Rules) -> list[str]:
    return [*(_fine_rules(plot) if rules == "fine" else ()), *(_tick_rules(plot) if rules != "none" else ())]


def _tick_rules(plot: _Plot) -> list[str]:
    bottom, right = plot.top + plot.height, plot.left + plot.width
    across = [straight_line(plot.left, plot.y(t.value), right, plot.y(t.value), PAPER.rule) for t in plot.y_axis.ticks]
    return across + [straight_line(plot.x(t.value), plot.top, plot.x(t.value), bottom, PAPER.rule) for t in plot.x_axis.ticks]


def _fine_rules(plot: _Plot) -> list[str]:
    """Ten squares, or five where these would be too narrow, from one tick to the next and on to the edges. None on a logarithmic axis."""
    bottom, right, of = plot.top + plot.height, plot.left + plot.width, LOOK.fine
    parts = []
    for axis, length in ((plot.x_axis, plot.width), (plot.y_axis, plot.height)):
        if axis.log or axis.named or len(axis.ticks) < 2:
            continue
        step = axis.ticks[1].value - axis.ticks[0].value
        between = 10 if length * step / (axis.high - axis.low) / 10 >= of.least else 5
        first = math.ceil((axis.low - axis.ticks[0].value) / step * between)
        last = math.floor((axis.high - axis.ticks[0].value) / step * between)
        for i in range(first, last + 1):
            value = axis.ticks[0].value + i * step / between
            x, y = plot.x(value), plot.y(value)
            ends = (x, plot.top, x, bottom) if axis is plot.x_axis else (plot.left, y, right, y)
            parts.append(straight_line(*ends, PAPER.rule, of.width))
    return parts


def _axes(plot: _Plot, labelled: bool) -> list[str]:
    bottom, right, ink, axis, title = plot.top + plot.height, plot.left + plot.width, PAPER.ink, LOOK.axis, LOOK.text.title
    parts = [straight_line(plot.left, plot.top, plot.left, bottom, ink, axis.width)]
    if labelled:
        parts.append(straight_line(plot.left, bottom, right, bottom, ink, axis.width))
        named = plot.x_axis.named
        for tick in plot.x_axis.ticks if named else with_room(plot.x_axis.ticks, plot.x):
            x, text = plot.x(tick.value), _shorten(tick.text, plot.width / len(plot.x_axis.ticks)) if named else tick.text
            parts += [
                straight_line(x, bottom, x, bottom + axis.tick, ink, axis.width),
                f'<text x="{x}" y="{bottom + axis.x_words}" text-anchor="middle">{escape(text)}</text>',
            ]
        along_x = _rich(plot.x_axis.titled(plot.width / LOOK.text.letter))
        parts.append(f'<text x="{right}" y="{bottom + axis.x_title}" text-anchor="end" font-size="{title}">{along_x}</text>')
    for tick in plot.y_axis.ticks:
        y = plot.y(tick.value)
        parts += [
            straight_line(plot.left - axis.tick, y, plot.left, y, ink, axis.width),
            f'<text x="{plot.left - axis.y_words}" y="{y + axis.y_sunk}" text-anchor="end">{escape(tick.text)}</text>',
        ]
    middle = plot.top + plot.height / 2
    along_y = _rich(plot.y_axis.titled(plot.height / LOOK.text.letter))
    turned = f'transform="translate({axis.y_title} {middle}) rotate(-90)"'
    parts.append(f'<text {turned} text-anchor="middle" font-size="{title}">{along_y}</text>')
    return parts


def _shorten(words: str, room: float) -> str:
    """As much of the words as there is room for."""
    most = max(2, int(room / LOOK.text.letter))
    return words if len(words) <= most else words[: most - 1].rstrip() + "…"


def _rich(label: RichText) -> str:
    """Styled runs as tspans; raised and lowered text by dy, set back by the next run."""
    out, offset = "", 0.0
    for run in label:
        wanted = {"sup": LOOK.text.raised_by, "sub": LOOK.text.lowered_by}.get(run.style, 0.0)
        style = ' font-style="italic"' if run.style == "italic" else ""
        size = f' font-size="{LOOK.text.small}"' if wanted else ""
        out += f'<tspan dy="{wanted - offset}"{style}{size}>{escape(run.text)}</tspan>'
        offset = wanted
    return out


def _bands(figure: Figure, plot: _Plot) -> list[str]:
    parts = []
    for band in figure.bands:
        there = [f"{plot.x(x)},{plot.y(y)}" for x, y in zip(band.x, band.high, strict=True)]
        back = [f"{plot.x(x)},{plot.y(y)}" for x, y in zip(reversed(band.x), reversed(band.low), strict=True)]
        style = f'fill="{PAPER.plum}" fill-opacity="{LOOK.band.opacity}" clip-path="url(#{plot.clip})"'
        parts.append(f'<polygon points="{" ".join(there + back)}" {style}/>')
    return parts


def _lines(figure: Figure, plot: _Plot) -> list[str]:
    parts = [f'<clipPath id="{plot.clip}"><rect x="{plot.left}" y="{plot.top}" width="{plot.width}" height="{plot.height}"/></clipPath>']
    for model in figure.lines:
        look = getattr(LOOK.lines, model.kind)
        colour = getattr(PAPER, look.colour) if model.look is None else _colour(model.look)
        dots = f' stroke-dasharray="{look.dash}" stroke-linecap="round"' if look.dash else ""
        style = f'fill="none" stroke="{colour}" stroke-width="{look.width}"{dots} clip-path="url(#{plot.clip})"'
        points = " ".join(f"{plot.x(x)},{plot.y(y)}" for x, y in zip(model.x, model.y, strict=True))
        parts.append(f'<polyline points="{points}" {style}/>')
    return parts


def _size_of_points(points: list[FigurePoint], plot: _Plot) -> float:
    """All points of a graph are of one size: a small one where most of the bars would be hidden."""
    if len(points) > LOOK.many.least:
        return float(LOOK.many.size)
    barred = [p for p in points if not p.set_aside and (p.ux or p.uy)]
    reaches = [max(plot.y(p.y - p.uy) - plot.y(p.y), plot.x(p.x + p.ux) - plot.x(p.x)) for p in barred]
    hidden = sum(reach < LOOK.point.short_bars for reach in reaches)
    return float(LOOK.point.over_short_bars if 2 * hidden > len(reaches) else LOOK.point.size)


def _point(point: FigurePoint, look: int, plot: _Plot, size: float, *, capped: bool) -> list[str]:
    x, y, sizes = plot.x(point.x), plot.y(point.y), LOOK.point
    if point.set_aside:
        s, of = sizes.aside, (PAPER.quiet, sizes.aside_width)
        return [straight_line(x - s, y - s, x + s, y + s, *of), straight_line(x - s, y + s, x + s, y - s, *of)]
    up, down, left, right = plot.y(point.y + point.uy), plot.y(point.y - point.uy), plot.x(point.x - point.ux), plot.x(point.x + point.ux)
    stroke = (_colour(look), sizes.bar)
    parts = _bar(x, up, down, *stroke, upright=True, capped=capped) if point.uy else []
    parts += _bar(y, left, right, *stroke, upright=False, capped=capped) if point.ux else []
    return [*parts, draw_marker(x, y, look, size), *_words(point, x, y, plot)]


def _words(point: FigurePoint, x: float, y: float, plot: _Plot) -> list[str]:
    """What stands beside a point; at the right of the plot on its other side."""
    if not point.words:
        return []
    words = LOOK.words
    place, anchor = (x - words.beside, "end") if x > plot.left + plot.width - words.room else (x + words.beside, "start")
    shown = escape(_shorten(point.words, words.room))
    return [f'<text x="{place}" y="{y - words.up}" text-anchor="{anchor}" font-size="{words.size}">{shown}</text>']


def _bar(at: float, start: float, stop: float, colour: str, width: float, *, upright: bool, capped: bool) -> list[str]:
    def line(a: float, b: float, c: float, d: float) -> str:
        return straight_line(a, b, c, d, colour, width) if upright else straight_line(b, a, d, c, colour, width)

    cap = LOOK.point.cap
    ends = [line(at - cap, start, at + cap, start), line(at - cap, stop, at + cap, stop)] if capped else []
    return [line(at, start, at, stop), *ends]


def draw_marker(x: float, y: float, look: int, size: float) -> str:
    """The shape of a series, hollow."""
    colour, shape = _colour(look), LOOK.shapes[look % len(LOOK.shapes)]
    style = f'fill="{PAPER.sheet}" stroke="{colour}" stroke-width="{LOOK.point.outline}"'
    if shape == "circle":
        return f'<circle cx="{x}" cy="{y}" r="{size}" {style}/>'
    if corners := getattr(LOOK.corners, shape, None):
        points = " ".join(f"{round(x + a * size, 2)},{round(y + b * size, 2)}" for a, b in corners)
        return f'<polygon points="{points}" {style}/>'
    arms = getattr(LOOK.arms, shape)
    return "".join(straight_line(x + a * size, y + b * size, x + c * size, y + d * size, colour, LOOK.point.arms) for a, b, c, d in arms)


def _residuals(figure: Figure, plot: _Plot, many: bool) -> list[str]:
    zero, sizes = plot.y(0), LOOK.residual
    parts = [straight_line(plot.left, zero, plot.left + plot.width, zero, PAPER.quiet)]
    for series in figure.series:
        for p in series.points:
            if p.residual is None:
                continue
            x, y, u = plot.x(p.x), plot.y(p.residual), p.residual_u or 0.0
            parts.append(straight_line(x, zero, x, y, PAPER.plum, sizes.stick))
            if u:
                parts += _bar(x, plot.y(p.residual + u), plot.y(p.residual - u), PAPER.quiet, sizes.bar, upright=True, capped=not many)
            parts.append(draw_marker(x, y, series.look, LOOK.many.residual if many else sizes.size))
    return parts + _axes(plot, labelled=False)


def _legend(figure: Figure, across: float) -> tuple[list[str], float]:
    """What series are called, in rows above the plot, and how high these are; nothing for a series alone."""
    named, of = [s for s in figure.series if not s.hidden], LOOK.legend
    if len(named) < 2:
        return [], 0.0
    parts, x, row = [], 0.0, 0
    for series in named:
        width = of.gap + len(series.name) * LOOK.text.letter + of.between
        if x and x + width > across:
            x, row = 0.0, row + 1
        left, y = LOOK.room.left + x + LOOK.point.size, LOOK.room.top + of.row * (row + 0.4)
        parts += [
            draw_marker(left, y, series.look, LOOK.point.size),
            f'<text x="{left + of.gap}" y="{y + LOOK.axis.y_sunk}">{_rich(rich_sentence(series.name))}</text>',
        ]
        x += width
    return parts, of.row * (row + 1)


def _equations(figure: Figure, plot: _Plot) -> list[str]:
    """In the corner where least is drawn."""
    level, side = figure.corner.split("_")
    of = LOOK.equation
    x, anchor = (plot.left + plot.width - of.inset, "end") if side == "right" else (plot.left + of.inset, "start")
    first = plot.top + of.inset + of.down if level == "top" else plot.top + plot.height - of.inset - of.line * (len(figure.equations) - 1)
    parts = []
    for i, equation in enumerate(figure.equations):
        colour = PAPER.plum if equation.look is None else _colour(equation.look)
        place = f'x="{x}" y="{first + of.line * i}" text-anchor="{anchor}"'
        parts.append(f'<text {place} font-size="{of.size}" fill="{colour}">{_rich(equation.text)}</text>')
    return parts


def _sketch(figure: Figure, plot: _Plot) -> list[str]:
    if figure.sketch is None:
        return []
    places = zip(figure.sketch.x, figure.sketch.y, strict=True)
    points = " ".join(f"{plot.left + x * plot.width:.1f},{plot.top + (1 - y) * plot.height:.1f}" for x, y in places)
    of = LOOK.sketch
    style = f'stroke="{PAPER.quiet}" stroke-opacity="{of.opacity}" stroke-width="{of.width}" stroke-dasharray="{of.dash}"'
    return [f'<polyline points="{points}" fill="none" stroke-linecap="round" {style}/>']


def _moment(moment: FigureMoment, plot: _Plot) -> list[str]:
    """An upright line with its name along it, on the side where there is room."""
    of, x = LOOK.moment, plot.x(moment.x)
    beside = x + (of.before if x > plot.left + plot.width / 2 else of.behind)
    turned = f'transform="translate({beside} {plot.top + of.down}) rotate(-90)"'
    name = f'<text {turned} text-anchor="end" font-size="{of.size}">{escape(moment.name)}</text>'
    return [straight_line(x, plot.top, x, plot.top + plot.height, PAPER.ink, of.width, f' stroke-dasharray="{of.dash}"'), name]


def _note(note: FigureNote, plot: _Plot) -> list[str]:
    """Words with a pointer to their place, or to a bracket over a stretch."""
    of, ink = LOOK.note, PAPER.ink
    to = note.x if note.x_to is None else note.x_to
    x, y = (plot.x(note.x) + plot.x(to)) / 2, plot.y(note.y)
    left, top = x + note.right * plot.width, y - note.up * plot.height
    lines = textwrap.wrap(note.text, of.letters)
    middle = top + (len(lines) - 1) * of.line / 2 - of.middle
    from_x, to_y = left + (of.beside if note.right < 0 else -of.beside), y if note.x_to is None else y - of.peak
    parts = [straight_line(round(from_x, 1), round(middle, 1), x, to_y, ink)]
    if note.x_to is not None:
        over, peak = y - of.bracket, of.peak - of.bracket
        parts.append(f'<path d="M{plot.x(note.x)} {over}v-{peak}H{plot.x(to)}v{peak}" fill="none" stroke="{ink}"/>')
    end = "end" if note.right < 0 else "start"
    words = "".join(f'<tspan x="{left:.1f}" dy="{of.line if i else 0}">{escape(line)}</tspan>' for i, line in enumerate(lines))
    return [*parts, f'<text x="{left:.1f}" y="{top:.1f}" text-anchor="{end}" font-size="{of.size}">{words}</text>']


@dataclass(frozen=True)
class WantedPicture:
    """How a graph is taken out: with what is fitted and the residual strip or without; how it is ruled; `empty`, to draw on by hand."""

    fitted: bool = False
    rules: Rules = "ticks"
    empty: bool = False


def draw_graph(book: OpenBook, graph_id: str, wanted: WantedPicture) -> str | None:
    """A graph of a lab book; None where there is no such graph or nothing on it."""
    figure = next((g.figure for g in book.analysis.graphs if g.graph == graph_id), None)
    if figure is None:
        return None
    if wanted.empty:
        figure = replace(figure, series=(), notes=(), sketch=None, moments=())
    if not wanted.fitted or wanted.empty:
        figure = replace(figure, lines=(), bands=(), residual_axis=None, equations=())
    return draw_svg(figure, rules=wanted.rules)
