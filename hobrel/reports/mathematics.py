"""Mathematics for page setters and word processors: TeX of our own, read by pandoc; plain text, never raw, where it cannot be read."""

from __future__ import annotations

import json
import logging
import re
import subprocess
from collections.abc import Iterable, Iterator
from typing import Any

import pypandoc

from hobrel.core.reporting.tree import Equation, Maths, Report, words_in
from hobrel.reports.document import API_VERSION, keep_whole

_log = logging.getLogger(__name__)
LONGEST_SECONDS = 30
_KEPT: dict[tuple[str, str], str] = {}
_MOST_KEPT = 20_000
_SIGN = re.compile(r'((?:^\$|[(=]|times|pm) *[-−]) ("\d+,\d+")')


def run_pandoc(tree: str, target: str, *options: str) -> tuple[bytes, str]:
    """Run pandoc without access to files or network: what it writes, and its warnings."""
    done = subprocess.run(
        [pypandoc.get_pandoc_path(), "--sandbox", "--from=json", f"--to={target}", *options],
        input=tree.encode(), capture_output=True, timeout=LONGEST_SECONDS, check=True,
    )  # fmt: skip
    return done.stdout, done.stderr.decode("utf-8", "replace")


def convert_maths(texs: Iterable[str], target: str) -> dict[str, str]:
    """What formulas are in another grammar: ``typst`` or ``html`` (MathML); empty for one that cannot be read.

    All at once, a paragraph each, for a process takes longer than a formula; what has been converted is remembered.
    """
    wanted = dict.fromkeys(texs)
    new = [tex for tex in wanted if (target, tex) not in _KEPT]
    if len(_KEPT) + len(new) > _MOST_KEPT:
        _KEPT.clear()
        new = list(wanted)
    if new:
        options = ["--mathml", "--wrap=none"] if target == "html" else ["--wrap=none"]
        tree = _document([{"t": "Para", "c": [{"t": "Math", "c": [{"t": "DisplayMath"}, keep_whole(tex)]}]} for tex in new])
        out, warnings = run_pandoc(tree, target, *options)
        written = _split(out.decode(), target)
        failed = {tex for tex in new if keep_whole(tex) in warnings} if warnings else set()
        if warnings:
            _log.error("mathematics that cannot be set, written plainly: %s", warnings.strip())
        if len(written) != len(new):
            raise ValueError(f"{len(new)} formulas became {len(written)}")
        for tex, text in zip(new, written, strict=True):
            _KEPT[target, tex] = "" if tex in failed else text
    return {tex: _KEPT[target, tex] for tex in wanted}


def _split(out: str, target: str) -> list[str]:
    if target == "html":
        return re.findall(r"<p>(.*?)</p>", out, re.DOTALL)
    # a sign stands close to a number that is a name as well
    return [_SIGN.sub(r"\1\2", part.strip()) for part in re.split(r"\n\n+", out.strip())]


def _document(blocks: list[dict[str, Any]]) -> str:
    return json.dumps({"pandoc-api-version": API_VERSION, "meta": {}, "blocks": blocks})


def maths_in(report: Report) -> Iterator[str]:
    """The TeX of everything mathematical that a report prints."""
    for part in report.printed:
        for block in part.blocks:
            if isinstance(block, Equation):
                yield block.tex
            yield from (word.tex for word in words_in(block) if isinstance(word, Maths))
