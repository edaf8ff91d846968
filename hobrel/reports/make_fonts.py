"""Turn the shipped web fonts into the TrueType files that the page setter reads. Run once by the build.

On paper a nought is open: a slash through it is a letter of mathematics there. The print family is the text family with its noughts opened,
under a name of its own. Letters of names such as Łukasz and Dvořák are in files of their own, and so in a family of their own, which stands
in for what the first one lacks.

Usage: python -m hobrel.reports.make_fonts NODE_MODULES TARGET
"""

import sys
from pathlib import Path

from fontTools.pens.ttGlyphPen import TTGlyphPointPen
from fontTools.ttLib import TTFont

FAMILIES = ("atkinson-hyperlegible-next", "atkinson-hyperlegible-mono")
STYLES = ("400-normal", "400-italic", "700-normal")
PRINT, PRINT_MORE = "Hobrel Print", "Hobrel Print Extended"
_STYLE_NAMES = {"400-normal": "Regular", "400-italic": "Italic", "700-normal": "Bold"}


def make_fonts(modules: Path, target: Path) -> None:
    target.mkdir(parents=True, exist_ok=True)
    for family in FAMILIES:
        for style in STYLES:
            source = modules / "@fontsource" / family / "files" / f"{family}-latin-{style}.woff"
            font = TTFont(source)
            font.flavor = None
            font.save(target / f"{family}-{style}.ttf")
            if family == FAMILIES[0]:
                name_font(open_noughts(font), PRINT, _STYLE_NAMES[style]).save(target / f"hobrel-print-{style}.ttf")
                more = TTFont(source.with_name(f"{family}-latin-ext-{style}.woff"))
                more.flavor = None
                name_font(more, PRINT_MORE, _STYLE_NAMES[style]).save(target / f"hobrel-print-extended-{style}.ttf")


def name_font(font: TTFont, family: str, style: str) -> TTFont:
    """The font under the name of another family."""
    for record in list(font["name"].names):
        if record.nameID in (1, 16):
            record.string = family
        elif record.nameID in (2, 17):
            record.string = style
        elif record.nameID in (3, 4):
            record.string = f"{family} {style}"
        elif record.nameID == 6:
            record.string = f"{family.replace(' ', '')}-{style}"
    return font


def open_noughts(font: TTFont) -> TTFont:
    for name in ("zero", "zero.tf"):
        if name in font.getGlyphOrder():
            open_nought(font, name)
    return font


def open_nought(font: TTFont, name: str) -> None:
    """Put one counter in the place of the two that a slash has made: the outline itself, as large as both together."""
    glyphs = font["glyf"]
    points, ends, flags = glyphs[name].getCoordinates(glyphs)
    outline = list(zip(points[: ends[0] + 1], flags[: ends[0] + 1], strict=True))
    inner = points[ends[0] + 1 :]

    def bounds(places: list[tuple[int, int]], axis: int) -> tuple[int, int]:
        return min(p[axis] for p in places), max(p[axis] for p in places)

    def moved(point: tuple[int, int]) -> tuple[int, int]:
        place = []
        for axis in (0, 1):
            (low, high), (inner_low, inner_high) = bounds([p for p, _ in outline], axis), bounds(list(inner), axis)
            place.append(round(inner_low + (point[axis] - low) / (high - low) * (inner_high - inner_low)))
        return place[0], place[1]

    pen = TTGlyphPointPen(None)
    for contour in (outline, [(moved(p), flag) for p, flag in reversed(outline)]):
        pen.beginPath()
        for i, (point, flag) in enumerate(contour):
            curved = not contour[i - 1][1] & 1
            pen.addPoint(point, segmentType=("qcurve" if curved else "line") if flag & 1 else None)
        pen.endPath()
    made = pen.glyph()
    made.recalcBounds(glyphs)
    glyphs[name] = made


if __name__ == "__main__":
    make_fonts(Path(sys.argv[1]), Path(sys.argv[2]))
