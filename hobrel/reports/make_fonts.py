"""Turn the shipped web fonts into the TrueType files that the page setter reads. Run once by the build.

Usage: python -m hobrel.reports.make_fonts NODE_MODULES TARGET
"""

import sys
from pathlib import Path

from fontTools.ttLib import TTFont

FAMILIES = ("atkinson-hyperlegible-next", "atkinson-hyperlegible-mono")
STYLES = ("400-normal", "400-italic", "700-normal")


def make_fonts(modules: Path, target: Path) -> None:
    target.mkdir(parents=True, exist_ok=True)
    for family in FAMILIES:
        for style in STYLES:
            source = modules / "@fontsource" / family / "files" / f"{family}-latin-{style}.woff"
            font = TTFont(source)
            font.flavor = None
            font.save(target / f"{family}-{style}.ttf")


if __name__ == "__main__":
    make_fonts(Path(sys.argv[1]), Path(sys.argv[2]))
