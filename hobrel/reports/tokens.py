"""Live values in a bench's paragraphs: ``{E}`` stands for what the analysis gives now."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

_TOKEN = re.compile(r"\{([^{}\s]{1,24})\}")


def split_tokens(words: str, tokens: Mapping[str, str]) -> Iterator[tuple[str, bool]]:
    """The text in pieces: (text, is a live value). A name in braces that is no value stays as it was typed."""
    end = 0
    for match in _TOKEN.finditer(words):
        if match[1] in tokens:
            if match.start() > end:
                yield words[end : match.start()], False
            yield tokens[match[1]], True
            end = match.end()
    if end < len(words):
        yield words[end:], False
