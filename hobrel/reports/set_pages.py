"""Compile ``report.typ`` in a folder to ``report.pdf``, or to a ``page-N.png`` for each page: run as a script of its own, to be stopped.

Usage: python set_pages.py FOLDER FONTS pdf|png; writes the names of what it has made.
"""

import json
import sys
from pathlib import Path

import typst

DOTS_PER_INCH = 300.0


def set_pages(source: Path, fonts: str, ending: str) -> list[bytes]:
    """Pages that can be read aloud (PDF/UA-1); tagged as well, but without that promise, where a sign has no shape in any font here."""

    def compiled(standards: list[str]) -> bytes | list[bytes]:
        return typst.compile(
            str(source), root=str(source.parent), font_paths=[fonts], ignore_system_fonts=False, format=ending, ppi=DOTS_PER_INCH,
            pdf_standards=standards,
        )  # fmt: skip

    # a drawing alone has no words to be tagged
    wants_standard = ending == "pdf" and "hobrel-title" in source.read_text("utf-8")
    try:
        made = compiled(["ua-1"] if wants_standard else [])
    except typst.TypstError:
        if not wants_standard:
            raise
        made = compiled([])
    return made if isinstance(made, list) else [made]


if __name__ == "__main__":
    folder, ending = Path(sys.argv[1]), sys.argv[3]
    names = []
    for number, content in enumerate(set_pages(folder / "report.typ", sys.argv[2], ending), 1):
        names.append("report.pdf" if ending == "pdf" else f"page-{number}.png")
        (folder / names[-1]).write_bytes(content)
    sys.stdout.write(json.dumps(names))
