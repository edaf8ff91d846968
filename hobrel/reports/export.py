"""Turn a report into files: HTML with mathematics that browsers draw, and PDF; turn a drawing into a picture."""

from __future__ import annotations

import html
import subprocess
import sys
import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Literal

import pypandoc
from django.conf import settings

from hobrel.reports.document import ReportDocument
from hobrel.server.problems import Problem

HERE = Path(__file__).parent
LONGEST_SECONDS = 30


def _pandoc(tree: str, target: str, *options: str) -> str:
    """Run pandoc without access to files or network."""
    done = subprocess.run(
        [pypandoc.get_pandoc_path(), "--sandbox", "--from=json", f"--to={target}", *options],
        input=tree, capture_output=True, text=True, encoding="utf-8", timeout=LONGEST_SECONDS, check=True,
    )  # fmt: skip
    return done.stdout


def export_html(report: ReportDocument) -> str:
    """One self-contained page: figures and style inside, nothing fetched."""
    body = _pandoc(report.tree, "html", "--mathml")
    style = (HERE / "report.css").read_text(encoding="utf-8")
    title = html.escape(report.title)
    return (
        f'<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">\n'
        f"<title>{title}</title>\n<style>\n{style}</style>\n</head>\n<body>\n<main>\n{body}</main>\n</body>\n</html>\n"
    )


def export_pdf(report: ReportDocument) -> bytes:
    """A4 pages, set by typst in a process of its own with a fresh directory as its world.

    Raises
    ------
    Problem
        500 when the page setter fails; the lab book is not touched by that.
    """
    body = _pandoc(report.tree, "typst")
    head = (HERE / "report.typ").read_text(encoding="utf-8")
    return _set_pages(head + body, report.figures, "pdf")


def export_picture(svg: str, ending: Literal["png", "pdf"], clear: bool = False) -> bytes:
    """A drawing as a picture of 300 dots to the inch on white or clear, or alone on an A4 page.

    Raises
    ------
    Problem
        500 when the page setter fails.
    """
    font = '#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"))\n'
    if ending == "pdf":
        page = '#set page(paper: "a4", flipped: true, margin: 15mm)\n'
        page += '#align(center + horizon, image("graph.svg", height: 100%, fit: "contain"))'
    else:
        fill = "none" if clear else "white"
        page = f'#set page(width: auto, height: auto, margin: 0pt, fill: {fill})\n#image("graph.svg", width: 17cm)'
    return _set_pages(font + page, {"graph.svg": svg}, ending)


def _set_pages(source: str, files: Mapping[str, str], ending: Literal["png", "pdf"]) -> bytes:
    """Set pages by typst in a process of its own with a fresh directory as its world."""
    with tempfile.TemporaryDirectory(prefix="hobrel-pages-") as place:
        folder = Path(place)
        for name, text in files.items():
            (folder / name).write_text(text, encoding="utf-8")
        (folder / "report.typ").write_text(source, encoding="utf-8")
        done = subprocess.run(
            [sys.executable, "-I", str(HERE / "set_pages.py"), place, str(settings.DATA / "fonts"), ending],
            capture_output=True, text=True, timeout=LONGEST_SECONDS, check=False,
        )  # fmt: skip
        made = folder / f"report.{ending}"
        if done.returncode != 0 or not made.exists():
            raise Problem(500, "pages_failed", f"The pages could not be set: {done.stderr.strip()[-300:]}")
        return made.read_bytes()
