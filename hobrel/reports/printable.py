"""Text as documents take it: without signs that no document can hold."""

from __future__ import annotations

import re
from xml.sax import saxutils

_NOT_IN_DOCUMENTS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
_ENDS_OF_LINES = re.compile("[\u2028\u2029\r]")


def make_printable(text: str) -> str:
    """Text without signs that steer a machine, and with blanks for ends of lines that are not ours."""
    return _NOT_IN_DOCUMENTS.sub("", _ENDS_OF_LINES.sub(" ", text))


def escape(text: str) -> str:
    """Text as it stands between the tags of a drawing or a page."""
    return saxutils.escape(make_printable(text))


def quoteattr(text: str) -> str:
    """Text as it stands in an attribute, with its quotes."""
    return saxutils.quoteattr(make_printable(text))
