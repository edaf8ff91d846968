"""Draw results on a number line as SVG: a row each, with its bar, above one axis."""

from __future__ import annotations

from xml.sax.saxutils import escape, quoteattr

from hobrel.core.presentation.results import NumberLine
from hobrel.reports.drawing import FONT, straight_line
from hobrel.reports.look import LOOK, PAPER

WIDTH, LEFT, RIGHT, ROW, BELOW = 560, 150, 24, 26, 44


def draw_number_line(line: NumberLine, described: str) -> str:
    """An SVG document of a number line."""
    foot = len(line.marks) * ROW + 8
    total, ink, axis = foot + BELOW, PAPER.ink, LOOK.axis

    def place(value: float) -> float:
        return round(LEFT + (value - line.axis_low) / (line.axis_high - line.axis_low) * (WIDTH - LEFT - RIGHT), 2)

    parts = [straight_line(LEFT, foot, WIDTH - RIGHT, foot, ink, axis.width)]
    for tick in line.ticks:
        x = place(tick.value)
        parts += [
            straight_line(x, 0, x, foot, PAPER.rule),
            straight_line(x, foot, x, foot + axis.tick, ink, axis.width),
            f'<text x="{x}" y="{foot + axis.x_words}" text-anchor="middle">{escape(tick.text)}</text>',
        ]
    if line.unit:
        parts.append(f'<text x="{WIDTH - RIGHT}" y="{foot + axis.x_title}" text-anchor="end">{escape(line.unit)}</text>')
    for row, mark in enumerate(line.marks):
        y, colour = row * ROW + ROW / 2, PAPER.series[row % len(PAPER.series)]
        low, high = (max(LEFT, min(WIDTH - RIGHT, place(mark.value + side * mark.u))) for side in (-1, 1))
        parts += [
            f'<text x="{LEFT - 10}" y="{y + 4}" text-anchor="end">{escape(_shorten(mark.name))}</text>',
            straight_line(low, y, high, y, colour, 2),
            *(straight_line(end, y - 5, end, y + 5, colour, 2) for end in (low, high) if mark.u),
            f'<circle cx="{place(mark.value)}" cy="{y}" r="4.5" fill="white" stroke="{colour}" stroke-width="2"/>',
        ]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {total}" width="{WIDTH}" height="{total}" '
        f'font-family={quoteattr(FONT)} font-size="{LOOK.text.size}" fill="{ink}"><title>Number line</title>'
        f"<desc>{escape(described)}</desc>{''.join(parts)}</svg>"
    )


def _shorten(name: str, most: int = 22) -> str:
    return name if len(name) <= most else name[: most - 1].rstrip() + "…"
