"""Turn a report into files: HTML, PDF, and documents for word processors; turn a drawing into a picture."""

from __future__ import annotations

import base64
import io
import json
import logging
import re
import subprocess
import sys
import tempfile
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import Literal

from django.conf import settings

from hobrel.core.reporting.tree import Drawing, Photo, Report
from hobrel.reports.document import Sheets, write_document
from hobrel.reports.drawing import draw_svg
from hobrel.reports.mathematics import LONGEST_SECONDS, convert_maths, maths_in, run_pandoc
from hobrel.reports.number_line import draw_number_line
from hobrel.reports.papers import TYPST_NAMES, Paper
from hobrel.reports.printable import escape
from hobrel.reports.templates import find_template, rule_tables
from hobrel.reports.typst_pages import Pages, quote, write_typst
from hobrel.server.problems import Problem

HERE = Path(__file__).parent
Ending = Literal["html", "pdf", "docx", "odt"]
MEDIA_TYPES: dict[Ending, str] = {
    "html": "text/html; charset=utf-8",
    "pdf": "application/pdf",
    "docx": "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    "odt": "application/vnd.oasis.opendocument.text",
}
_KINDS = {b"\x89PNG": "png", b"\xff\xd8\xff": "jpg"}
_log = logging.getLogger(__name__)


@dataclass(frozen=True)
class ReportFiles:
    """A report, and the photos that it prints: their bytes by the digest they are kept under."""

    report: Report
    photos: Mapping[str, bytes] = field(default_factory=dict)


def export_report(files: ReportFiles, ending: Ending, paper: Paper) -> bytes:
    """A report as a file.

    Raises
    ------
    Problem
        500 where the file cannot be made; the lab book is not touched by that.
    """
    if ending == "pdf":
        return _export_pdf(files, paper)
    return _export_html(files) if ending == "html" else _export_for_words(files, ending, paper)


def draw_block(drawing: Drawing) -> str:
    """A drawing of a report as SVG."""
    if drawing.figure is not None:
        return draw_svg(drawing.figure, key=drawing.key)
    assert drawing.line is not None
    return draw_number_line(drawing.line, drawing.described)


def drawings_in(report: Report) -> dict[str, str]:
    """All drawings that a report prints, as SVG, by key."""
    return {b.key: draw_block(b) for part in report.printed for b in part.blocks if isinstance(b, Drawing)}


def _photos_in(files: ReportFiles) -> dict[str, bytes]:
    photos = [b for part in files.report.printed for b in part.blocks if isinstance(b, Photo)]
    return {b.key: files.photos[b.picture] for b in photos if b.picture in files.photos}


def _kind_of(content: bytes) -> str:
    return next((kind for start, kind in _KINDS.items() if content.startswith(start)), "png")


def _address(content: bytes, kind: str) -> str:
    return f"data:image/{'jpeg' if kind == 'jpg' else kind};base64,{base64.b64encode(content).decode()}"


def _export_html(files: ReportFiles) -> bytes:
    """One self-contained page: figures, fonts and style inside, nothing fetched."""
    pictures = drawings_in(files.report) | {key: _address(photo, _kind_of(photo)) for key, photo in _photos_in(files).items()}
    style = (HERE / "report.css").read_text(encoding="utf-8")
    body = _through_pandoc(files.report, Sheets("html", pictures, _unset(files.report)), "--mathml").decode()
    # the TeX that mathematics was made from says nothing to who reads or copies it
    body = re.sub(r"<annotation[^>]*>.*?</annotation>", "", body, flags=re.DOTALL)
    return (
        f'<!doctype html>\n<html lang="en-GB">\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">\n'
        f"<title>{escape(files.report.title)}</title>\n<style>\n{_faces(any(map(_is_extended, body)))}{style}</style>\n"
        f"</head>\n<body>\n<main>\n{body}</main>\n</body>\n</html>\n"
    ).encode()


_EXTENDED = ((0x100, 0x2FF), (0x1E00, 0x1EFF))


def _is_extended(sign: str) -> bool:
    """Whether it is a letter of Latin that stands in the second of the two families."""
    return any(first <= ord(sign) <= last for first, last in _EXTENDED)


@lru_cache(maxsize=2)
def _faces(extended: bool) -> str:
    """The print family as faces of a page, where it has been made; with the letters of more languages where some are wanted."""
    out = ""
    ranges = ", ".join(f"U+{first:04X}-{last:04X}" for first, last in _EXTENDED)
    for family, signs in (("hobrel-print", ""), ("hobrel-print-extended", f"unicode-range: {ranges}; "))[: 2 if extended else 1]:
        for style, more in (("400-normal", ""), ("400-italic", "font-style: italic; "), ("700-normal", "font-weight: 700; ")):
            place = settings.DATA / "fonts" / f"{family}-{style}.ttf"
            if place.exists():
                address = base64.b64encode(place.read_bytes()).decode()
                out += f'@font-face {{ font-family: "Hobrel Print"; {more}{signs}src: url(data:font/ttf;base64,{address}) }}\n'
    return out


def _export_for_words(files: ReportFiles, ending: Literal["docx", "odt"], paper: Paper) -> bytes:
    """A document to go on writing in: native equations, real tables, styles by name, pictures of 300 dots to the inch."""
    drawings = drawings_in(files.report)
    made = dict(zip(drawings, make_pictures(list(drawings.values())), strict=True)) | _photos_in(files)
    sheets = Sheets(ending, {key: _address(content, _kind_of(content)) for key, content in made.items()}, _unset(files.report))
    content = _through_pandoc(files.report, sheets, f"--reference-doc={find_template(ending, paper)}", "--output=-")
    return rule_tables(content) if ending == "odt" else content


def _unset(report: Report) -> frozenset[str]:
    """Mathematics of a report that cannot be read by pandoc."""
    return frozenset(tex for tex, made in convert_maths(maths_in(report), "html").items() if not made)


def _through_pandoc(report: Report, sheets: Sheets, *options: str) -> bytes:
    try:
        content, warnings = run_pandoc(write_document(report, sheets), sheets.target, *options)
    except (subprocess.CalledProcessError, subprocess.TimeoutExpired) as trouble:
        _log.error("a report could not be written: %s", getattr(trouble, "stderr", b"")[-600:])
        raise Problem(500, "pages_failed", "The document could not be written. The lab book is as it was; try again.") from trouble
    if warnings:
        _log.error("a report was written with a warning: %s", warnings.strip())
    return content


def _export_pdf(files: ReportFiles, paper: Paper) -> bytes:
    """Tagged pages, set by typst in a process of its own with a fresh directory as its world."""
    contents: dict[str, str | bytes] = {}
    names: dict[str, str] = {}
    for key, svg in drawings_in(files.report).items():
        names[key] = f"drawing-{len(names)}.svg"
        contents[names[key]] = svg
    for key, photo in _photos_in(files).items():
        names[key] = f"photo-{len(names)}.{_kind_of(photo)}"
        contents[names[key]] = photo
    maths = convert_maths(maths_in(files.report), "typst")
    return _set_pages(write_typst(files.report, Pages(paper, maths, names)), contents, "pdf")[0]


def make_pictures(svgs: list[str], clear: bool = False) -> list[bytes]:
    """Drawings as pictures of 300 dots to the inch, on white or clear.

    Raises
    ------
    Problem
        500 when the page setter fails.
    """
    if not svgs:
        return []
    names = [f"drawing-{number}.svg" for number in range(len(svgs))]
    page = f"#set page(width: auto, height: auto, margin: 0pt, fill: {'none' if clear else 'white'})\n"
    page += "\n#pagebreak()\n".join(f"#image({quote(name)}, width: 17cm)" for name in names)
    return _set_pages(page, dict(zip(names, svgs, strict=True)), "png")


def archive_pictures(files: ReportFiles) -> bytes:
    """All pictures of a report in one archive, named as they are numbered.

    Raises
    ------
    Problem
        500 when the page setter fails.
    """
    drawings = drawings_in(files.report)
    pictures = dict(zip(drawings, make_pictures(list(drawings.values())), strict=True))
    photos, out = _photos_in(files), io.BytesIO()
    numbers = {b.key: b.number for part in files.report.printed for b in part.blocks if isinstance(b, Drawing | Photo)}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for key, svg in drawings.items():
            archive.writestr(f"Figure {numbers[key]}.svg", svg)
            archive.writestr(f"Figure {numbers[key]}.png", pictures[key])
        for key, photo in photos.items():
            archive.writestr(f"Figure {numbers[key]}.{_kind_of(photo)}", photo)
    return out.getvalue()


def print_drawing(svg: str, paper: Paper) -> bytes:
    """A drawing alone on a page.

    Raises
    ------
    Problem
        500 when the page setter fails.
    """
    page = f"#set page(paper: {quote(TYPST_NAMES[paper])}, flipped: true, margin: 15mm)\n"
    page += '#align(center + horizon, image("graph.svg", height: 100%, fit: "contain"))'
    return _set_pages(page, {"graph.svg": svg}, "pdf")[0]


def _set_pages(source: str, files: Mapping[str, str | bytes], ending: Literal["png", "pdf"]) -> list[bytes]:
    """Set pages by typst in a process of its own with a fresh directory as its world: one file, or one for each page."""
    with tempfile.TemporaryDirectory(prefix="hobrel-pages-") as place:
        folder = Path(place)
        for name, content in files.items():
            (folder / name).write_bytes(content.encode() if isinstance(content, str) else content)
        (folder / "report.typ").write_text(source, encoding="utf-8")
        done = subprocess.run(
            [sys.executable, "-I", str(HERE / "set_pages.py"), place, str(settings.DATA / "fonts"), ending],
            capture_output=True, text=True, timeout=LONGEST_SECONDS, check=False,
        )  # fmt: skip
        if done.returncode != 0:
            _log.error("pages could not be set: %s", done.stderr.strip()[-600:])
            raise Problem(500, "pages_failed", "The pages could not be set. The lab book is as it was; try again.")
        return [(folder / name).read_bytes() for name in json.loads(done.stdout)]
