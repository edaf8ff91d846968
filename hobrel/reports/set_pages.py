"""Compile ``report.typ`` in a folder to ``report.pdf``: run as a script of its own, so that it can be stopped.

Usage: python set_pages.py FOLDER FONTS
"""

import sys
from pathlib import Path

import typst

if __name__ == "__main__":
    folder = Path(sys.argv[1])
    (folder / "report.pdf").write_bytes(
        typst.compile(str(folder / "report.typ"), root=str(folder), font_paths=[sys.argv[2]], ignore_system_fonts=False)
    )
