"""Turn a report into files: HTML with mathematics that browsers draw, and PDF."""

from __future__ import annotations

import html
import subprocess
import sys
import tempfile
from pathlib import Path

import pypandoc
from django.conf import settings

from hobrel.reports.document import ReportMatter, build_report
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


def export_html(matter: ReportMatter) -> str:
    """One self-contained page: figures and style inside, nothing fetched."""
    report = build_report(matter, "inside")
    body = _pandoc(report.tree, "html", "--mathml")
    style = (HERE / "report.css").read_text(encoding="utf-8")
    title = html.escape(f"{matter.book.title} – bench {matter.bench}")
    return (
        f'<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">\n'
        f"<title>{title}</title>\n<style>\n{style}</style>\n</head>\n<body>\n<main>\n{body}</main>\n</body>\n</html>\n"
    )


def export_pdf(matter: ReportMatter) -> bytes:
    """A4 pages, set by typst in a process of its own with a fresh directory as its world.

    Raises
    ------
    Problem
        500 when the page setter fails; the lab book is not touched by that.
    """
    report = build_report(matter, "beside")
    body = _pandoc(report.tree, "typst")
    head = (HERE / "report.typ").read_text(encoding="utf-8")
    with tempfile.TemporaryDirectory(prefix="hobrel-report-") as place:
        folder = Path(place)
        for name, svg in report.figures.items():
            (folder / name).write_text(svg, encoding="utf-8")
        (folder / "report.typ").write_text(head + body, encoding="utf-8")
        done = subprocess.run(
            [sys.executable, "-I", str(HERE / "set_pages.py"), place, str(settings.DATA / "fonts")],
            capture_output=True, text=True, timeout=LONGEST_SECONDS, check=False,
        )  # fmt: skip
        made = folder / "report.pdf"
        if done.returncode != 0 or not made.exists():
            raise Problem(500, "pages_failed", f"The pages could not be set: {done.stderr.strip()[-300:]}")
        return made.read_bytes()
