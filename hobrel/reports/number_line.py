"""Draw results on a number line as SVG: a row each, with its bar, above one axis."""

from __future__ import annotations

from collections.abc import Callable

from hobrel.core.presentation.results import LineMark, NumberLine
from hobrel.reports.drawing import FONT, straight_line, with_room
from hobrel.reports.look import LOOK, PAPER
from hobrel.reports.printable import escape, quoteattr

WIDTH, LEFT, RIGHT, ROW, BELOW = 560, 150, 24, 26, 44


def draw_number_line(line: NumberLine, described: str) -> str:
    """An SVG document of a number line."""
    foot = len(line.marks) * ROW + 8
    total, ink, axis = foot + BELOW, PAPER.ink, LOOK.axis

    def place(value: float) -> float:
        return round(LEFT + (value - line.axis_low) / (line.axis_high - line.axis_low) * (WIDTH - LEFT - RIGHT), 2)

    parts = [straight_line(LEFT, foot, WIDTH - RIGHT, foot, ink, axis.width)]
    for tick in with_room(line.ticks, place):
        x = place(tick.value)
        parts += [
            straight_line(x, 0, x, foot, PAPER.rule),
            straight_line(x, foot, x, foot + axis.tick, ink, axis.width),
            f'<text x="{x}" y="{foot + axis.x_words}" text-anchor="middle">{escape(tick.text)}</text>',
        ]
    if line.unit:
        parts.append(f'<text x="{WIDTH - RIGHT}" y="{foot + axis.x_title}" text-anchor="end">{escape(line.unit)}</text>')
    for row, mark in enumerate(line.marks):
        parts += _mark(mark, row * ROW + ROW / 2, PAPER.series[row % len(PAPER.series)], place)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {total}" width="{WIDTH}" height="{total}" '
        f'font-family={quoteattr(FONT)} font-size="{LOOK.text.size}" fill="{ink}"><title>Number line</title>'
        f"<desc>{escape(described)}</desc>{''.join(parts)}</svg>"
    )


def _mark(mark: LineMark, y: float, colour: str, place: Callable[[float], float]) -> list[str]:
    """A result with its bar; an arrow at the edge where it lies beyond the line."""
    x, (low, high) = place(mark.value), sorted((place(mark.value - mark.u), place(mark.value + mark.u)))
    named = f'<text x="{LEFT - 10}" y="{y + 4}" text-anchor="end">{escape(_shorten(mark.name))}</text>'
    if not LEFT <= x <= WIDTH - RIGHT:
        edge, back = (LEFT, 9) if x < LEFT else (WIDTH - RIGHT, -9)
        return [
            named,
            f'<polyline points="{edge + back},{y - 5} {edge},{y} {edge + back},{y + 5}" fill="none" stroke="{colour}" stroke-width="2"/>',
        ]
    ends = [end for end in (low, high) if mark.u and LEFT <= end <= WIDTH - RIGHT]
    return [
        named,
        straight_line(max(LEFT, low), y, min(WIDTH - RIGHT, high), y, colour, 2),
        *(straight_line(end, y - 5, end, y + 5, colour, 2) for end in ends),
        f'<circle cx="{x}" cy="{y}" r="4.5" fill="white" stroke="{colour}" stroke-width="2"/>',
    ]


def _shorten(name: str, most: int = 22) -> str:
    return name if len(name) <= most else name[: most - 1].rstrip() + "…"
