"""A graph on paper is the graph on screen: whatever is drawn stands in the same place, as strong, broken and coloured as there."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from playwright.sync_api import expect

from hobrel.core.document.choices import Moment, Note
from hobrel.core.document.lab_book import SketchPoint, write_lab_book
from hobrel.labbooks.actions import load_document
from hobrel.reports.drawing import draw_svg
from hobrel.reports.look import LOOK
from tests.browser.base import BrowserTest
from tests.school import analysis_of, fill

# all that is drawn, each as its kind, its look and its places within the drawing; what only takes the pointer is left out
DRAWN = """svg => {
  const found = [];
  const at = (element, x, y) => {
    const own = element.getCTM(), whole = svg.getCTM();
    const place = new DOMPoint(x, y).matrixTransform(own).matrixTransform(whole.inverse());
    return [place.x, place.y];
  };
  const number = (element, name) => Number(element.getAttribute(name));
  const stroked = (element) => {
    const style = getComputedStyle(element);
    return [style.stroke, parseFloat(style.strokeWidth), style.strokeDasharray.replace(/px|,/g, '')].join(' ');
  };
  const line = (element, x1, y1, x2, y2) => {
    const ends = [[x1, y1], [x2, y2]].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
    found.push(['line', stroked(element), ...at(element, ...ends[0]), ...at(element, ...ends[1])]);
  };
  for (const element of svg.querySelectorAll('line, polyline, polygon, circle, path, text')) {
    if (element.closest('clipPath') || element.matches('.graph-target, .graph-mark-area')) continue;
    const tag = element.tagName;
    if (tag === 'line') line(element, ...['x1', 'y1', 'x2', 'y2'].map((name) => number(element, name)));
    else if (tag === 'circle') {
      found.push([tag, stroked(element), ...at(element, number(element, 'cx'), number(element, 'cy')), number(element, 'r')]);
    }
    else if (tag === 'text') {
      const style = getComputedStyle(element);
      const first = element.querySelector('tspan[x]') ?? element;
      const place = at(element, number(first, 'x'), Number(element.getAttribute('y') ?? 0));
      found.push([element.textContent, [style.fill, parseFloat(style.fontSize), style.textAnchor].join(' '), ...place]);
    } else if (tag === 'path') {
      let [x, y] = [0, 0];
      for (const [, letter, rest] of element.getAttribute('d').matchAll(/([MLHVvh])([^MLHVvh]*)/g)) {
        const [a, b] = rest.trim().split(/[ ,]+/).map(Number);
        const to = { M: [a, b], L: [a, b], H: [a, y], V: [x, a], h: [x + a, y], v: [x, y + a] }[letter];
        if (letter !== 'M') line(element, x, y, ...to);
        [x, y] = to;
      }
    } else {
      const places = element.getAttribute('points').trim().split(/\\s+/).map((pair) => pair.split(',').map(Number));
      const style = getComputedStyle(element);
      const look = tag === 'polygon' ? `${style.fill} ${stroked(element)}` : stroked(element);
      found.push([tag, look, ...places.flatMap((pair) => at(element, ...pair))]);
    }
  }
  return found;
}"""


class OnPaper(BrowserTest):
    def test_what_is_drawn_is_the_same(self) -> None:
        book = self.school.book
        document = fill(book)
        run = document.runs[0]
        notes = (
            Note("n", "the clamp creaked here, and was tightened", "point", of=run.settings[2].id, right=0.1, up=0.2),
            Note("o", "steady", "stretch", x=0.1, x_high=0.2, right=-0.1, up=0.3),
        )
        graphs = tuple(replace(g, notes=notes) if g.id == "straight" else g for g in document.graphs)
        settings = (replace(run.settings[0], set_aside="the first was a try"), *run.settings[1:])
        changed = replace(
            document,
            graphs=graphs,
            runs=(replace(run, settings=settings), *document.runs[1:]),
            moments=(Moment("m", "clamp tightened", graphs[-1].x, 0.1),),
            sketch=(SketchPoint(0.1, 0.2), SketchPoint(0.5, 0.4), SketchPoint(0.9, 0.9)),
        )
        load_document(book, write_lab_book(changed))
        page = self.open_book(self.school.students[0], "fit")
        svg = page.locator("svg[data-graph]").first
        expect(svg.locator(".graph-stick")).to_have_count(7)
        size = svg.bounding_box()
        assert size is not None
        on_screen = svg.evaluate(DRAWN)
        figure = next(g.figure for g in analysis_of(book).graphs if g.graph == "straight")
        drawn = draw_svg(figure, width=round(size["width"]), height=round(size["height"]) - LOOK.strip.height)
        paper = self.browser.new_page()
        paper.set_content(drawn)
        on_paper = paper.locator("svg").evaluate(DRAWN)
        paper.close()
        self.assertGreater(len(on_screen), 80)
        self.assertEqual(*_unlike(on_screen, on_paper))


def _unlike(one: list[list[Any]], other: list[list[Any]]) -> tuple[list[list[Any]], list[list[Any]]]:
    """What is in one and not in the other, and the other way round."""
    left = list(other)
    alone = []
    for part in one:
        twin = next((p for p in left if _is_like(part, p)), None)
        if twin is None:
            alone.append(part)
        else:
            left.remove(twin)
    return alone, left


def _is_like(one: list[Any], other: list[Any]) -> bool:
    return len(one) == len(other) and all(
        a == b if isinstance(a, str) or isinstance(b, str) else abs(a - b) <= 0.1 for a, b in zip(one, other, strict=True)
    )
