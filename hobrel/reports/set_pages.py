"""Compile ``report.typ`` in a folder to ``report.pdf`` or ``report.png``: run as a script of its own, so that it can be stopped.

Usage: python set_pages.py FOLDER FONTS pdf|png
"""

import sys
from pathlib import Path

import typst

DOTS_PER_INCH = 300.0

if __name__ == "__main__":
    folder, ending = Path(sys.argv[1]), sys.argv[3]
    made = typst.compile(
        str(folder / "report.typ"), root=str(folder), font_paths=[sys.argv[2]], ignore_system_fonts=False, format=ending, ppi=DOTS_PER_INCH
    )
    (folder / f"report.{ending}").write_bytes(made)
