"""Compile ``report.typ`` in a folder to ``report.pdf``, or to a ``page-N.png`` for each page: run as a script of its own, to be stopped.

Usage: python set_pages.py FOLDER FONTS pdf|png; writes the names of what it has made.
"""

import json
import sys
from pathlib import Path

import typst

DOTS_PER_INCH = 300.0

if __name__ == "__main__":
    folder, ending = Path(sys.argv[1]), sys.argv[3]
    source = folder / "report.typ"
    # what is set from a report can be read aloud; a drawing alone has no words to be tagged
    standards = ["ua-1"] if ending == "pdf" and "hobrel-title" in source.read_text("utf-8") else []
    made = typst.compile(
        str(source), root=str(folder), font_paths=[sys.argv[2]], ignore_system_fonts=False, format=ending, ppi=DOTS_PER_INCH,
        pdf_standards=standards,
    )  # fmt: skip
    names = []
    for number, content in enumerate(made if isinstance(made, list) else [made], 1):
        names.append("report.pdf" if ending == "pdf" else f"page-{number}.png")
        (folder / names[-1]).write_bytes(content)
    sys.stdout.write(json.dumps(names))
