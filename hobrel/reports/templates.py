"""What a report looks like in a word processor: styles by name, in a document that pandoc takes them from.

Ours are made from pandoc's own once, in the data folder. A school puts `report-template.docx` or `report-template.odt` there, and its
styles count.
"""

from __future__ import annotations

import io
import re
import subprocess
import zipfile
from collections.abc import Callable
from functools import lru_cache, partial
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import quoteattr

import pypandoc
from django.conf import settings

from hobrel.reports.papers import SIZES, Paper

Ending = Literal["docx", "odt"]
INK, PENCIL, PLUM, CLAY = "2B2233", "6B6272", "5B2A5E", "B4552D"
FONT = "Arial"
"""Met on every computer, or one of the same widths."""
_W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_TWIPS = 1440 / 2.54
"""In a centimetre."""
_FOOT = "application/vnd.openxmlformats-officedocument.wordprocessingml.footer+xml"


def find_template(ending: Ending, paper: Paper) -> Path:
    """The document whose styles a report is written with: the school's own where there is one, on its own paper."""
    own = Path(settings.DATA) / f"report-template.{ending}"
    return own if own.exists() else _make_ours(ending, paper)


@lru_cache(maxsize=4)
def _make_ours(ending: Ending, paper: Paper) -> Path:
    place = Path(settings.DATA) / "templates" / f"report-{paper}.{ending}"
    place.parent.mkdir(parents=True, exist_ok=True)
    part = place.with_suffix(f".{ending}.part")
    part.write_bytes(make_template(ending, paper))
    part.replace(place)
    return place


def make_template(ending: Ending, paper: Paper) -> bytes:
    """Pandoc's own document with our styles, on this paper."""
    command = [pypandoc.get_pandoc_path(), f"--print-default-data-file=reference.{ending}"]
    plain = subprocess.run(command, capture_output=True, check=True, timeout=30).stdout
    sized = partial(_change_page_docx if ending == "docx" else _change_styles_odt, *SIZES[paper])
    changes = {**_DOCX, "word/document.xml": sized} if ending == "docx" else {"styles.xml": sized}
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(plain)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            if name in changes:
                content = changes[name](content.decode()).encode()
            # the kind of an ODT stands first, and as it is
            new.writestr(name, content, zipfile.ZIP_STORED if name == "mimetype" else zipfile.ZIP_DEFLATED)
        if ending == "docx":
            new.writestr("word/footer1.xml", _FOOTER)
    return out.getvalue()


def rule_tables(odt: bytes) -> bytes:
    """An ODT with our rules in its tables, and these on the left: pandoc writes their styles into the document itself."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(odt)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            if name == "content.xml":
                text = content.decode()
                for style, rule in (("TableHeaderRowCell", f"1pt solid #{INK}"), ("TableRowCell", "0.5pt solid #E4DACB")):
                    look = f'<style:table-cell-properties fo:border="none" fo:border-bottom="{rule}" fo:padding="0.06cm"/>'
                    text = re.sub(rf'(<style:style style:name="{style}"[^>]*>)\s*<style:table-cell-properties[^>]*/>', rf"\1{look}", text)
                content = text.replace('table:align="center"', 'table:align="left"').encode()
            new.writestr(name, content, zipfile.ZIP_STORED if name == "mimetype" else zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _run(size: float, colour: str = INK, more: str = "") -> str:
    fonts = f'<w:rFonts w:ascii="{FONT}" w:hAnsi="{FONT}" w:cs="{FONT}"/>'
    return f'<w:rPr>{fonts}{more}<w:color w:val="{colour}"/><w:sz w:val="{size * 2:g}"/><w:szCs w:val="{size * 2:g}"/></w:rPr>'


def _paragraph(before: int, after: int, more: str = "", first: str = "") -> str:
    """`first` stands before the spacing and `more` after it: the order is the format's."""
    return f'<w:pPr>{first}<w:spacing w:before="{before * 20}" w:after="{after * 20}"/>{more}</w:pPr>'


_KEEP = "<w:keepNext/><w:keepLines/>"
_RULE = '<w:pBdr><w:bottom w:val="single" w:sz="4" w:space="2" w:color="E4DACB"/></w:pBdr>'
_SIDE = f'<w:pBdr><w:left w:val="single" w:sz="12" w:space="6" w:color="{CLAY}"/></w:pBdr>'
_STYLES_DOCX: dict[str, Callable[[str], str]] = {
    "BodyText": _paragraph(0, 6),
    "Compact": _paragraph(1, 1),
    "Title": _paragraph(0, 4, '<w:jc w:val="left"/>', _KEEP) + _run(20, PLUM),
    "Author": _paragraph(0, 2, '<w:jc w:val="left"/>', _KEEP) + _run(10, PENCIL),
    "Heading1": _paragraph(16, 5, '<w:outlineLvl w:val="0"/>', _KEEP + _RULE) + _run(12, INK, "<w:b/>"),
    "Heading2": _paragraph(10, 4, '<w:outlineLvl w:val="1"/>', _KEEP) + _run(10.5, INK, "<w:b/>"),
    "Caption": _paragraph(3, 8) + _run(9, PENCIL),
    "TableCaption": _paragraph(8, 3, "", "<w:keepNext/>"),
    "Figure": _paragraph(6, 2, "", "<w:keepNext/>"),
}
_OWN_DOCX: dict[str, Callable[[str], str]] = {
    "Lead": _paragraph(0, 6, "", "<w:keepNext/>"),
    "Quiet": _paragraph(0, 6) + _run(9.5, PENCIL),
    "Note": _paragraph(3, 6, "", _SIDE) + _run(10.5, INK, "<w:i/>"),
}


def _change_styles_docx(xml: str) -> str:
    defaults = _run(10.5).replace("</w:rPr>", '<w:lang w:val="en-GB" w:eastAsia="en-GB" w:bidi="ar-SA"/></w:rPr>')
    xml = re.sub(r"<w:rPrDefault>.*?</w:rPrDefault>", f"<w:rPrDefault>{defaults}</w:rPrDefault>", xml, flags=re.DOTALL)
    xml = re.sub(r"<w:pPrDefault>.*?</w:pPrDefault>", f"<w:pPrDefault>{_paragraph(0, 6)}</w:pPrDefault>", xml, flags=re.DOTALL)
    xml = re.sub(r"\s*<w:rFonts[^>]*Theme[^>]*/>", "", xml)
    for style, look in _STYLES_DOCX.items():
        xml = _with_look(xml, style, look)
    own = "".join(_own_style(name, look) for name, look in _OWN_DOCX.items())
    xml = xml.replace('<w:bottom w:val="single"/>', f'<w:bottom w:val="single" w:sz="8" w:space="0" w:color="{INK}"/>')
    line = 'w:val="single" w:sz="4" w:space="0" w:color="E4DACB"'
    lines = f"<w:tblBorders><w:bottom {line}/><w:insideH {line}/></w:tblBorders>"
    xml = re.sub(r'(w:styleId="Table">.*?<w:tblInd [^>]*/>)', rf"\1{lines}", xml, count=1, flags=re.DOTALL)
    return xml.replace("</w:styles>", own + "</w:styles>")


def _own_style(name: str, look: str) -> str:
    named = f'w:customStyle="1" w:styleId="{name}"><w:name w:val="{name}"/><w:basedOn w:val="BodyText"/><w:qFormat/>'
    return f'<w:style w:type="paragraph" {named}{look}</w:style>'


def _field(name: str) -> tuple[str, ...]:
    """What counts pages, in a footer."""
    begin, end = (f'<w:fldChar w:fldCharType="{kind}"/>' for kind in ("begin", "end"))
    return begin, f'<w:instrText xml:space="preserve"> {name} </w:instrText>', end


def _with_look(xml: str, style: str, look: str) -> str:
    def changed(found: re.Match[str]) -> str:
        body = re.sub(r"<w:pPr>.*?</w:pPr>|<w:rPr>.*?</w:rPr>", "", found[2], flags=re.DOTALL)
        return found[1] + body + look + "</w:style>"

    return re.sub(rf'(<w:style [^>]*w:styleId="{style}">)(.*?)</w:style>', changed, xml, count=1, flags=re.DOTALL)


_COUNTED = (*_field("PAGE"), '<w:t xml:space="preserve"> of </w:t>', *_field("NUMPAGES"))
_FOOTER = (
    f'<?xml version="1.0" encoding="UTF-8" standalone="yes"?><w:ftr xmlns:w="{_W}"><w:p><w:pPr><w:jc w:val="center"/></w:pPr>'
    f"{''.join(f'<w:r>{_run(8.5, PENCIL)}{inner}</w:r>' for inner in _COUNTED)}</w:p></w:ftr>"
)


def _change_page_docx(width: float, height: float, xml: str) -> str:
    size = f'<w:pgSz w:w="{width * _TWIPS:.0f}" w:h="{height * _TWIPS:.0f}"/>'
    page = (
        f'<w:sectPr><w:footerReference w:type="default" r:id="rIdFoot"/>{size}'
        '<w:pgMar w:top="1247" w:right="1247" w:bottom="1134" w:left="1247" w:header="567" w:footer="567" w:gutter="0"/></w:sectPr>'
    )
    xml = re.sub(r"<w:sectPr.*?</w:sectPr>|<w:sectPr[^>]*/>", "", xml, flags=re.DOTALL)
    return xml.replace("</w:body>", page + "</w:body>")


def _add_relation(xml: str) -> str:
    kind = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/footer"
    return xml.replace("</Relationships>", f'<Relationship Type="{kind}" Id="rIdFoot" Target="footer1.xml"/></Relationships>')


def _add_kind(xml: str) -> str:
    return xml.replace("</Types>", f'<Override PartName="/word/footer1.xml" ContentType="{_FOOT}"/></Types>')


def _look(paragraph: str = "", text: str = "") -> str:
    """A style of an ODT by properties of its paragraphs and of its letters: ``margin-top 4mm; keep-with-next always``."""
    out = ""
    for name, listed in (("paragraph", paragraph), ("text", text)):
        pairs = [one.strip().partition(" ") for one in listed.split(";") if one.strip()]
        if pairs:
            out += f"<style:{name}-properties {' '.join(f'fo:{key}=' + quoteattr(value) for key, _, value in pairs)}/>"
    return out


_SMALL = f"color #{PENCIL}; font-size 9pt; font-style normal"
_STYLES_ODT = {
    "Standard": _look(text=f"font-family {FONT}; font-size 10.5pt; color #{INK}; language en; country GB"),
    "Heading": _look("margin-top 4mm; margin-bottom 1.5mm; keep-with-next always", f"font-family {FONT}; color #{INK}"),
    "Text_20_body": _look("margin-top 0mm; margin-bottom 2mm"),
    "Heading_20_1": _look(
        "margin-top 5.5mm; margin-bottom 2mm; border-bottom 0.5pt solid #E4DACB; padding-bottom 0.8mm", "font-size 12pt; font-weight bold"
    ),
    "Heading_20_2": _look(text="font-size 10.5pt; font-style normal; font-weight bold"),
    "Author": _look("text-align left", f"color #{PENCIL}; font-size 10pt"),
    "Caption": _look("margin-top 1mm; margin-bottom 2.5mm", _SMALL),
    "TableCaption": _look("margin-top 2.5mm; margin-bottom 1mm; keep-with-next always", _SMALL),
    "Table_20_Contents": _look("margin-left 0.5mm; margin-right 0.5mm", "font-size 9.5pt"),
    "Table_20_Heading": _look("margin-left 0.5mm; margin-right 0.5mm", "font-weight normal; font-style normal"),
}
_OWN_ODT = {
    "Title": _look(text=f"font-size 20pt; color #{PLUM}"),
    "Lead": _look("keep-with-next always"),
    "Quiet": _look(text=f"color #{PENCIL}; font-size 9.5pt"),
    "Note": _look(f"border-left 1.5pt solid #{CLAY}; padding-left 2mm", "font-style italic"),
}


def _change_styles_odt(width: float, height: float, xml: str) -> str:
    for style, look in _STYLES_ODT.items():
        whole = re.compile(rf'(<style:style\s+style:name="{style}"\s[^>]*?)(?:/>|>(.*?)</style:style>)', re.DOTALL)
        xml = whole.sub(lambda found, look=look: f"{found[1]}>{look}</style:style>", xml, count=1)
    own = "".join(
        f'<style:style style:name="{name}" style:family="paragraph" style:parent-style-name="Text_20_body">{look}</style:style>'
        for name, look in _OWN_ODT.items()
        if f'style:name="{name}"' not in xml
    )
    xml = xml.replace("</office:styles>", own + "</office:styles>")
    size = f'fo:page-width="{width}cm" fo:page-height="{height}cm"'
    xml = re.sub(r'fo:page-width="8.5in"\s+fo:page-height="11in"', size, xml)
    for side in ("top", "bottom", "left", "right"):
        xml = re.sub(rf'fo:margin-{side}="1in"', f'fo:margin-{side}="2.2cm"', xml, count=1)
    counted = r"\g<0><text:s/>of <text:page-count>1</text:page-count>"
    return re.sub(r"<text:page-number[^>]*>\s*1</text:page-number>", counted, xml)


_DOCX: dict[str, Callable[[str], str]] = {
    "word/styles.xml": _change_styles_docx,
    "word/_rels/document.xml.rels": _add_relation,
    "[Content_Types].xml": _add_kind,
}
